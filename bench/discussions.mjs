// ./ecoute bench discussions: opening a long one, hearing what is new, and a school that speaks at once.
import { randomUUID } from 'node:crypto';
import { performance } from 'node:perf_hooks';
import { nth, visitor } from './visitor.mjs';

const PEOPLE = 30;
const EACH = 20;
const OPENED = 40;
const NEW = 8;

/** A class whose members have said so much; the rows of what was said are written by hand, as finished recordings leave them. */
async function spoken(base, db, content, say) {
  const teacher = visitor(base);
  const again = { signInName: 'bench', password: 'a-long-password' };
  await teacher
    .ask('POST', '/api/first-teacher', { displayName: 'Bench', ...again })
    .catch(() => teacher.ask('POST', '/api/session', again));
  const made = await teacher.ask('POST', '/api/classes', { name: 'Those who talk', subject: 'language' });
  await db.query(
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, created_at)
     SELECT UUID(), CONCAT('t', seq), CONCAT('Talker ', seq), 'student', (SELECT password_hash FROM people WHERE sign_in_name = 'bench'),
       UTC_TIMESTAMP(3) FROM seq_1_to_${PEOPLE}`,
  );
  await db.query(
    `INSERT INTO class_members (class_id, person_id, role) SELECT ?, id, 'student' FROM people WHERE sign_in_name REGEXP '^t[0-9]+$'`,
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
  const people = [];
  for (let n = 1; n <= PEOPLE; n++) {
    const one = visitor(base);
    const { me } = await one.ask('POST', '/api/session', { signInName: `t${n}`, password: again.password });
    people.push({ ...one, id: me.id, sittingId: randomUUID() });
  }
  const [talk, page] = content.items;
  for (const { id, sittingId } of people)
    await db.query(
      `INSERT INTO sittings (id, release_id, student_id, number, began_at, answered, finished, waiting_ms)
       VALUES (?, ?, ?, 1, UTC_TIMESTAMP(3), 0, 0, 0)`,
      [sittingId, release.id, id],
    );
  const said = [];
  for (let round = 0; round < EACH; round++)
    for (const { id, sittingId } of people) {
      const own = randomUUID();
      // A third begins threads; the others answer somebody of before.
      const parent = said.length > 10 && said.length % 3 ? said[(said.length * 7919) % said.length] : null;
      await db.query(
        `INSERT INTO recordings (id, owner_id, purpose, wanted, state, announced_type, media_type, medium, size_bytes, duration_ms, limit_ms, peak_dbfs, playable_at, created_at, sha256)
         VALUES (?, ?, 'take', 'sound', 'stored', 'audio/webm', 'audio/webm', 'sound', 90000, 30000, 120000, -6, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3), ?)`,
        [own, id, own.replaceAll('-', '').repeat(2)],
      );
      await db.query(
        'INSERT INTO takes (id, sitting_id, item_id, number, began_at) VALUES (?, ?, ?, ?, UTC_TIMESTAMP(3))',
        [own, sittingId, talk.id, round + 1],
      );
      await db.query(
        `INSERT INTO contributions (id, release_id, circle, sitting_id, item_id, author_id, topic_id, parent_id, voice_id, title, words, made_at, put_in_at, let_in_at)
         VALUES (?, ?, 0, ?, ?, ?, ?, ?, ?, '', 'A reference beside it.', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
        [own, release.id, sittingId, talk.id, id, round % 2 ? page.id : null, parent, own],
      );
      said.push(own);
    }
  say(`${said.length} contributions of ${PEOPLE} people are there`);
  return { teacher, people, releaseId: release.id };
}

/** How long an answer takes, in ms, over and over. */
async function timed(ask, path) {
  const times = [];
  for (let n = 0; n < OPENED + 3; n++) {
    const began = performance.now();
    await ask('GET', path);
    // The first ones warm what every server has warm.
    if (n >= 3) times.push(performance.now() - began);
  }
  return times;
}

/** Somebody whose page is open: told of what is new, they look, and fetch the beginning of its sound. */
async function listening(base, person, releaseId) {
  const heard = new Map();
  const stop = new AbortController();
  const response = await fetch(`${base}/api/changes`, { headers: person.headers(), signal: stop.signal });
  const look = async id => {
    const { contribution: c } = await person.ask(
      'GET',
      `/api/releases/${releaseId}/discussion/contributions/${id}`,
    );
    if (c?.voiceState !== 'stored' || c.state !== 'here') return;
    const sound = await fetch(`${base}/api/recordings/${c.voiceId}/sound`, {
      headers: { ...person.headers(), Range: 'bytes=0-20000' },
    });
    await sound.arrayBuffer();
    if (sound.ok) heard.set(c.id, performance.now());
  };
  void (async () => {
    for await (const piece of response.body.pipeThrough(new TextDecoderStream()))
      for (const [, id] of piece.matchAll(/"kind":"said","id":"([^"]+)"/g))
        await look(id).catch(() => undefined);
  })().catch(() => undefined);
  return { heard, stop: () => stop.abort() };
}

/** @param sound bytes of something spoken @returns figures */
export async function discussions(base, db, content, sound, say) {
  const { teacher, people, releaseId } = await spoken(base, db, content, say);
  const part = `/api/releases/${releaseId}/discussion`;
  const opened = await timed(people[0].ask, part);
  const led = await timed(teacher.ask, `/api/releases/${releaseId}/lead`);
  const lanes = await timed(teacher.ask, `/api/releases/${releaseId}/lanes`);
  const [speaker, ...others] = people;
  const ears = [];
  for (const person of others) ears.push(await listening(base, person, releaseId));
  const until = [];
  for (let n = 0; n < NEW; n++) {
    const id = randomUUID();
    await speaker.ask('POST', `${part}/voices`, {
      recordingId: id,
      mediaType: 'audio/ogg',
      beganAt: new Date().toISOString(),
      place: {},
    });
    await speaker.ask('PUT', `${part}/contributions/${id}`, {
      place: {},
      title: '',
      words: '',
      isSpoken: true,
    });
    await speaker.ask('PATCH', `/api/uploads/${id}`, sound, {
      'Tus-Resumable': '1.0.0',
      'Content-Type': 'application/offset+octet-stream',
      'Upload-Offset': '0',
      'Upload-Length': String(sound.length),
    });
    for (;;) {
      if ((await speaker.ask('GET', `/api/recordings/${id}`)).state === 'stored') break;
      await new Promise(resolve => setTimeout(resolve, 10));
    }
    const storedAt = performance.now();
    for (;;) {
      if (ears.every(e => e.heard.get(id))) break;
      if (performance.now() - storedAt > 20_000) throw new Error('Somebody never heard what was new.');
      await new Promise(resolve => setTimeout(resolve, 10));
    }
    until.push(...ears.map(e => Math.max(0, e.heard.get(id) - storedAt)));
  }
  ears.forEach(e => e.stop());
  return { opened, led, lanes, until };
}

export function printDiscussions({ opened, led, lanes, until }, s, students) {
  const line = (name, value, ratio) => console.log(`${name.padEnd(70)}${value.padStart(24)}   ${ratio}`);
  const row = (name, values, share, budgetMs) =>
    line(
      name,
      `${nth(values, share).toFixed(1)} (${nth(values, 0).toFixed(1)}–${nth(values, 1).toFixed(1)}) ms`,
      `${(nth(values, share) / budgetMs).toFixed(3)} of ${budgetMs} ms`,
    );
  line('what', 'figure', 'as a ratio');
  row(`${PEOPLE * EACH} contributions of ${PEOPLE}: opened by one of them, median`, opened, 0.5, 100);
  row('  by their teacher', led, 0.5, 100);
  row('  as lanes, to be scored', lanes, 0.5, 100);
  row(`something new, from stored to heard by the ${PEOPLE - 1} others, 95th percentile`, until, 0.95, 2_000);
  line(
    `${students} speaking at once, one piece a second: acknowledged, 99th percentile`,
    `${s.p99Ms.toFixed(1)} ms`,
    `${(s.p99Ms / 1000).toFixed(3)} of 1 s`,
  );
  line('  takes whose bytes differ from what was sent', `${s.lost} of ${s.takes}`, '');
  line(
    '  memory of the server, second and last quarter of the time',
    `${s.earlyMb.toFixed(0)}, ${s.lateMb.toFixed(0)} MB`,
    `${(s.lateMb / s.earlyMb).toFixed(2)} of the second quarter`,
  );
}
