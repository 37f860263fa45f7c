// ./ecoute bench hostile: a class at one door, somebody who guesses, a file made to exhaust, requests that make no sense.
import { spawnSync } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { memoryOf, nth, visitor } from './visitor.mjs';

const CLASS = 40;
const CODES = 30;
const GUESSES_A_SECOND = 100;
const GUESSING_SECONDS = 60;
const ODD = 10_000;
const PASSWORD = 'a-long-password';

const pause = ms => new Promise(resolve => setTimeout(resolve, ms));

/** A take from the announcement until it was looked at. @returns ms from the last byte, and the state */
async function take(ask, sittingId, itemId, bytes) {
  const recordingId = randomUUID();
  await ask('POST', `/api/sittings/${sittingId}/takes`, {
    recordingId,
    itemId,
    mediaType: 'audio/wav',
    beganAt: new Date().toISOString(),
  });
  await ask('PATCH', `/api/uploads/${recordingId}`, bytes, {
    'Tus-Resumable': '1.0.0',
    'Content-Type': 'application/offset+octet-stream',
    'Upload-Offset': '0',
    'Upload-Length': String(bytes.length),
  });
  const began = performance.now();
  for (;;) {
    const { state } = await ask('GET', `/api/recordings/${recordingId}`);
    if (state === 'stored' || state === 'refused') return { ms: performance.now() - began, state };
    await pause(20);
  }
}

/** Requests that make no sense, of many kinds. */
function odd(n, ids) {
  const words = [
    '',
    ' ',
    '\ud800',
    'x'.repeat(5_000),
    '../../etc',
    '%00',
    "' OR 1=1 --",
    '__proto__',
    '[]',
    '2026-W53-7',
  ];
  const values = [null, true, -1, 1e308, [], {}, [[]], { a: { b: { c: {} } } }, '2026-366', ...words];
  const pick = (list, salt) => list[(n * 31 + salt * 17 + (n >> 3)) % list.length];
  const id = pick([...ids, randomUUID(), 'no-id', 'ZZZZ'], 1);
  const paths = [
    ['POST', '/api/session'],
    ['POST', '/api/first-sign-in'],
    ['POST', '/api/classes'],
    ['POST', '/api/releases'],
    ['POST', `/api/sittings/${id}/events`],
    ['POST', `/api/sittings/${id}/takes`],
    ['POST', `/api/sittings/${id}/hand-in`],
    ['PUT', `/api/sittings/${id}/items/${id}/text`],
    ['PUT', `/api/assessments/${id}`],
    ['GET', `/api/releases/${id}`],
    ['GET', `/api/recordings/${id}/sound`],
    ['PATCH', `/api/uploads/${id}`],
    ['PUT', `/api/takes/${id}/trim`],
    ['POST', `/api/links/${encodeURIComponent(pick(['x', 'aaaa-bbbb-cccc', '%'], 4))}/guests`],
  ];
  const [method, path] = paths[n % paths.length];
  const names = [
    'signInName',
    'password',
    'name',
    'subject',
    'events',
    'at',
    'itemId',
    'content',
    'revision',
    'text',
    'code',
  ];
  const body = Object.fromEntries(
    names.map((name, k) => [pick(names, k), pick(values, k + n)]).filter((_, k) => (n >> k) & 1),
  );
  const text =
    n % 7 === 0
      ? '{"a":'.repeat(2_000)
      : n % 11 === 0
        ? randomBytes(200).toString('latin1')
        : JSON.stringify(body);
  return { method, path, body: method === 'GET' ? undefined : text };
}

/** @param pid of the server, whose memory is watched; @returns figures, to be printed */
export async function hostile(base, pid, db, content, scratch, say) {
  const teacher = visitor(base);
  await teacher.ask('POST', '/api/first-teacher', {
    displayName: 'Bench',
    signInName: 'bench',
    password: PASSWORD,
  });
  const made = await teacher.ask('POST', '/api/classes', { name: 'Everybody', subject: 'language' });
  await db.query(
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, made_by, created_at)
     SELECT UUID(), CONCAT('s', seq), CONCAT('Student ', seq), 'student', IF(seq <= ${CLASS}, (SELECT p.password_hash FROM people p WHERE p.sign_in_name = 'bench'), NULL),
       (SELECT p.id FROM people p WHERE p.sign_in_name = 'bench'), UTC_TIMESTAMP(3) FROM seq_1_to_${CLASS + CODES}`,
  );
  await db.query(
    `INSERT INTO class_members (class_id, person_id, role) SELECT ?, id, 'student' FROM people WHERE role = 'student'`,
    [made.id],
  );
  const assessment = await teacher.ask('POST', '/api/assessments', content);
  const release = await teacher.ask('POST', '/api/releases', {
    assessmentId: assessment.id,
    classId: made.id,
    dueAt: new Date(Date.now() + 86_400_000).toISOString(),
    lateAccepted: true,
    note: '',
  });
  const [{ code: door }] = await teacher.ask('POST', `/api/releases/${release.id}/links`, { keepDays: 1 });

  say(`${CLASS} sign in, and ${CLASS} guests come, within a second`);
  const [signedIn, guests] = await Promise.all(
    [
      n => visitor(base).answer('POST', '/api/session', { signInName: `s${n + 1}`, password: PASSWORD }),
      n => visitor(base).answer('POST', `/api/links/${door}/guests`, { name: `Guest ${n}` }),
    ].map(come =>
      Promise.all(
        Array.from({ length: CLASS }, async (_, n) => {
          await pause((n * 1_000) / CLASS);
          return (await come(n)).status === 200;
        }),
      ),
    ),
  );

  say(`${CODES} codes, each mistyped once`);
  const [fresh] = await db.query(
    "SELECT id FROM people WHERE password_hash IS NULL AND role = 'student' AND guest_link_id IS NULL",
  );
  const codes = await teacher.ask('POST', `/api/classes/${made.id}/codes`, {
    personIds: fresh.map(f => f.id),
  });
  const list = codes.codes ?? codes;
  const begun = await Promise.all(
    list.map(async ({ code }, n) => {
      const { answer } = visitor(base);
      const wrong = code.slice(0, -1) + (code.at(-1) === 'A' ? 'B' : 'A');
      const own = `harbour lantern ${n} at dusk`;
      const first = await answer('POST', '/api/first-sign-in', { code: wrong, password: own });
      const second = await answer('POST', '/api/first-sign-in', { code, password: own });
      return first.status >= 400 && second.status === 200;
    }),
  );

  say(`somebody guesses ${GUESSES_A_SECOND} times a second for ${GUESSING_SECONDS} s`);
  const student = visitor(base);
  await student.ask('POST', '/api/session', { signInName: 's1', password: PASSWORD });
  const quick = async ms => {
    const times = [];
    for (const end = performance.now() + ms; performance.now() < end; await pause(50)) {
      const began = performance.now();
      await student.ask('GET', '/api/todo');
      times.push(performance.now() - began);
    }
    return times;
  };
  const alone = await quick(5_000);
  let [guessed, heard] = [0, 0];
  const guesses = [];
  const guessing = setInterval(() => {
    for (let k = 0; k < GUESSES_A_SECOND / 10; k++) {
      const n = guesses.length;
      const body = { signInName: `s${2 + (n % 5)}`, password: `guess ${n} of many` };
      guesses.push(
        visitor(base)
          .answer('POST', '/api/session', body)
          .then(
            ({ status }) => {
              if (status === 200) guessed += 1;
              if (status === 401 || status === 422) heard += 1;
            },
            () => undefined,
          ),
      );
    }
  }, 100);
  const beside = await quick(GUESSING_SECONDS * 1_000);
  clearInterval(guessing);
  await Promise.all(guesses);
  // Whoever has signed in before from this browser is not shut out by what others try.
  const again =
    (await visitor(base).answer('POST', '/api/session', { signInName: 's20', password: PASSWORD })).status ===
    200;

  say('a file made to exhaust, beside a take');
  const tone = join(scratch, 'tone.wav');
  const bombFile = join(scratch, 'bomb.flac');
  spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=d=10', tone]);
  spawnSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-t',
    '21600',
    '-i',
    'anullsrc=r=8000:cl=mono',
    bombFile,
  ]);
  const [sound, bomb] = [readFileSync(tone), readFileSync(bombFile)];
  const sitting = async n => {
    const { ask, answer } = visitor(base);
    await ask('POST', '/api/session', { signInName: `s${n}`, password: PASSWORD });
    const { id, content: items } = await ask('POST', `/api/releases/${release.id}/sitting`);
    return { ask, answer, id, itemId: items.items[0].id };
  };
  const [one, two] = [await sitting(10), await sitting(11)];
  const before = memoryOf(pid);
  let most = before;
  const watch = setInterval(() => (most = Math.max(most, memoryOf(pid))), 100);
  const settles = [];
  for (let n = 0; n < 5; n++) settles.push((await take(one.ask, one.id, one.itemId, sound)).ms);
  const bombs = Promise.all(Array.from({ length: 4 }, () => take(two.ask, two.id, two.itemId, bomb)));
  const besideBomb = [];
  for (let n = 0; n < 5; n++) besideBomb.push((await take(one.ask, one.id, one.itemId, sound)).ms);
  const refused = (await bombs).every(b => b.state === 'refused');
  clearInterval(watch);

  say(`${ODD} requests that make no sense`);
  const statuses = new Map();
  const ids = [release.id, assessment.id, one.id, one.itemId, made.id];
  for (let n = 0; n < ODD; n += 20)
    await Promise.all(
      Array.from({ length: 20 }, async (_, k) => {
        const { method, path, body } = odd(n + k, ids);
        const ask = [teacher, student, one][(n + k) % 3].answer;
        const headers = path.includes('uploads')
          ? {
              'Tus-Resumable': '1.0.0',
              'Content-Type': 'application/offset+octet-stream',
              'Upload-Offset': String(n % 9),
            }
          : { 'Content-Type': 'application/json' };
        const { status } = await ask(method, path, body, headers).catch(() => ({ status: 0 }));
        statuses.set(status, (statuses.get(status) ?? 0) + 1);
      }),
    );
  return {
    signedIn: signedIn.filter(Boolean).length,
    guests: guests.filter(Boolean).length,
    codes: begun.filter(Boolean).length,
    ofCodes: list.length,
    guesses: guesses.length,
    guessed,
    heard,
    again,
    alone: nth(alone, 0.95),
    beside: nth(beside, 0.95),
    settlesMs: nth(settles, 0.5),
    besideMs: nth(besideBomb, 0.5),
    refused,
    memory: [before, most],
    statuses,
  };
}

export function printHostile(f) {
  const line = (name, value, ratio = '') => console.log(`${name.padEnd(62)}${value.padStart(22)}   ${ratio}`);
  line('what', 'figure', 'as a ratio');
  line(
    'sign-ins within a second from one address: in',
    `${f.signedIn} of ${CLASS}`,
    (f.signedIn / CLASS).toFixed(2),
  );
  line(
    'guests within a second from one address: in',
    `${f.guests} of ${CLASS}`,
    (f.guests / CLASS).toFixed(2),
  );
  line('codes mistyped once: in', `${f.codes} of ${f.ofCodes}`, (f.codes / f.ofCodes).toFixed(2));
  line('guesses that came in', `${f.guessed} of ${f.guesses}`);
  line('  that were looked at as passwords', String(f.heard), (f.heard / f.guesses).toFixed(4));
  line('  somebody else signs in from there afterwards', f.again ? 'yes' : 'no');
  line(
    '  a student’s list meanwhile, 95th percentile',
    `${f.beside.toFixed(1)} ms`,
    `${(f.beside / f.alone).toFixed(2)} of without (${f.alone.toFixed(1)} ms)`,
  );
  line(
    'a take looked at beside four six-hour files, median',
    `${f.besideMs.toFixed(0)} ms`,
    `${(f.besideMs / f.settlesMs).toFixed(2)} of alone (${f.settlesMs.toFixed(0)} ms), budget 2`,
  );
  line('  the four files', f.refused ? 'refused' : 'NOT refused');
  line(
    '  memory of the server, before and most',
    f.memory.map(m => `${m.toFixed(0)} MB`).join(', '),
    (f.memory[1] / f.memory[0]).toFixed(2),
  );
  const all = [...f.statuses.values()].reduce((a, b) => a + b, 0);
  const broken = [...f.statuses].filter(([s]) => s >= 500 || s === 0).reduce((sum, [, n]) => sum + n, 0);
  line('answers of 500 to requests that make no sense', `${broken} of ${all}`, (broken / all).toFixed(5));
  line(
    '  all answers',
    [...f.statuses]
      .sort((a, b) => b[1] - a[1])
      .map(([s, n]) => `${s}: ${n}`)
      .join(', '),
  );
}
