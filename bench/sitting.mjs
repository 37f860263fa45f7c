// ./ecoute bench sitting: a school that streams its answers at once, next to a bare sink for the same bytes.
import { createHash, randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { bare } from './bare.mjs';
import { memoryOf, nth, visitor, wire } from './visitor.mjs';
import { note } from './notes.mjs';

export const STUDENTS = 1_000;
/** Those who send as fast as it goes. */
const FAST = 200;
/** One second of Opus at 96 kbit/s. */
const PIECE_BYTES = 12_000;
const PACED_PIECES = 60;
const FAST_PIECES = 12;

/** A class of students who have begun a sitting, each with a session. */
async function school(base, db, content, say) {
  const { ask: teacher } = visitor(base);
  await teacher('POST', '/api/first-teacher', {
    displayName: 'Bench',
    signInName: 'bench',
    password: 'a-long-password',
  });
  const made = await teacher('POST', '/api/classes', { name: 'Everybody', subject: 'language' });
  // All of them have the teacher's password: making 200 of them by hand would measure argon2.
  await db.query(
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, created_at)
     SELECT UUID(), CONCAT('s', seq), CONCAT('Student ', seq), 'student', (SELECT password_hash FROM people WHERE sign_in_name = 'bench'),
       UTC_TIMESTAMP(3) FROM seq_1_to_${STUDENTS}`,
  );
  await db.query(
    `INSERT INTO class_members (class_id, person_id, role) SELECT ?, id, 'student' FROM people WHERE role = 'student'`,
    [made.id],
  );
  const assessment = await teacher('POST', '/api/assessments', content);
  const release = await teacher('POST', '/api/releases', {
    assessmentId: assessment.id,
    classId: made.id,
    dueAt: new Date(Date.now() + 86_400_000).toISOString(),
    lateAccepted: true,
    note: '',
  });
  const students = [];
  for (let n = 1; n <= STUDENTS; n += 10) {
    await Promise.all(
      Array.from({ length: 10 }, async (_, k) => {
        const { ask, headers } = visitor(base);
        await ask('POST', '/api/session', { signInName: `s${n + k}`, password: 'a-long-password' });
        // In a discussion nothing is sat: each speaks where they are.
        if (content.startingPoint === 'discussion')
          return void students.push({
            ask,
            headers: () => ({ Origin: base, ...headers() }),
            talkId: release.id,
          });
        const sitting = await ask('POST', `/api/releases/${release.id}/sitting`);
        students.push({
          ask,
          headers: () => ({ Origin: base, ...headers() }),
          sittingId: sitting.id,
          itemId: sitting.content.items[0].id,
        });
      }),
    );
    say(`${Math.min(n + 9, STUDENTS)} students signed in`);
  }
  return students;
}

async function announce({ ask, sittingId, itemId, talkId }) {
  const recordingId = randomUUID();
  const told = { recordingId, mediaType: 'audio/webm;codecs=opus', beganAt: new Date().toISOString() };
  if (talkId) await ask('POST', `/api/releases/${talkId}/discussion/voices`, { ...told, place: {} });
  else await ask('POST', `/api/sittings/${sittingId}/takes`, { ...told, itemId });
  return recordingId;
}

/** Bytes that no two takes share. */
const pieceOf = (id, n) => Buffer.alloc(PIECE_BYTES, createHash('sha256').update(`${id} ${n}`).digest());

/** One piece over a connection of one's own. @throws where it is not acknowledged */
async function sendPiece(line, headers, id, n, last) {
  const status = await line.ask(
    'PATCH',
    `/api/uploads/${id}`,
    {
      ...headers,
      'Tus-Resumable': '1.0.0',
      'Content-Type': 'application/offset+octet-stream',
      'Upload-Offset': n * PIECE_BYTES,
      ...(last && { 'Upload-Length': (n + 1) * PIECE_BYTES }),
    },
    pieceOf(id, n),
  );
  if (status !== 204) throw new Error(`piece ${n} of ${id}: ${status}`);
}

/** The same bytes to something that only writes them. @returns pieces a second */
async function sinkRate(dataDir, ...how) {
  const folder = join(dataDir, 'sink');
  mkdirSync(folder, { recursive: true });
  const { address, end } = await bare('sink', folder, ...how);
  const ids = Array.from({ length: FAST }, () => randomUUID());
  const began = performance.now();
  await Promise.all(
    ids.map(async id => {
      const line = await wire(address);
      for (let n = 0; n < FAST_PIECES; n++)
        await line.ask('PATCH', `/${id}`, { 'Upload-Offset': n * PIECE_BYTES }, pieceOf(id, n));
      line.end();
    }),
  );
  const rate = (FAST * FAST_PIECES * 1000) / (performance.now() - began);
  end();
  rmSync(folder, { recursive: true });
  return rate;
}

/** As fast as it goes. @returns pieces a second */
async function fastRate(base, students) {
  const fast = [];
  for (const student of students) fast.push({ student, id: await announce(student) });
  const began = performance.now();
  await Promise.all(
    fast.map(async ({ student, id }) => {
      const line = await wire(base);
      for (let n = 0; n < FAST_PIECES; n++) await sendPiece(line, student.headers(), id, n, false);
      line.end();
    }),
  );
  const rate = (FAST * FAST_PIECES * 1000) / (performance.now() - began);
  // What is looked at when it is whole is another figure.
  for (const { student, id } of fast) await student.ask('POST', `/api/recordings/${id}/cancel`);
  return rate;
}

/** Waits until nothing that was handed over is looked at any more. */
async function untilQuiet(db) {
  for (;;) {
    const [[{ n }]] = await db.query('SELECT COUNT(*) AS n FROM jobs WHERE run_after <= UTC_TIMESTAMP(3)');
    if (Number(n) === 0) return;
    await new Promise(resolve => setTimeout(resolve, 500));
  }
}

/**
 * @param pid of the server, whose memory is watched
 * @returns figures, to be printed as ratios
 */
export async function streaming(base, pid, db, dataDir, content, say) {
  const students = await school(base, db, content, say);
  // One piece a second from each, not all in the same millisecond.
  const takes = [];
  for (const student of students) takes.push({ student, id: await announce(student) });
  const memory = [];
  const watch = setInterval(() => memory.push(memoryOf(pid)), 200);
  const acknowledged = [];
  await Promise.all(
    takes.map(async ({ student, id }, k) => {
      await new Promise(resolve => setTimeout(resolve, (k * 1000) / STUDENTS));
      const line = await wire(base);
      const headers = student.headers();
      let next = performance.now();
      for (let n = 0; n < PACED_PIECES; n++) {
        const began = performance.now();
        await sendPiece(line, headers, id, n, n === PACED_PIECES - 1);
        acknowledged.push(performance.now() - began);
        next += 1000;
        await new Promise(resolve => setTimeout(resolve, Math.max(0, next - performance.now())));
      }
      line.end();
    }),
  );
  clearInterval(watch);
  let lost = 0;
  for (const { id } of takes) {
    const stored = readFileSync(join(dataDir, 'sounds/originals', id));
    const sent = Buffer.concat(Array.from({ length: PACED_PIECES }, (_, n) => pieceOf(id, n)));
    if (!stored.equals(sent)) lost += 1;
  }
  say('what came is looked at');
  await untilQuiet(db);
  say('and now as fast as it goes');
  const some = students.slice(0, FAST);
  const rounds = [];
  for (let n = 0; n < 3; n++) {
    const [sink, unsynced] = [await sinkRate(dataDir, 'sync'), await sinkRate(dataDir)];
    rounds.push({ sink, unsynced, own: await fastRate(base, some) });
  }
  rounds.sort((a, b) => a.own / a.sink - b.own / b.sink);
  return {
    lost,
    takes: takes.length,
    medianMs: nth(acknowledged, 0.5),
    p99Ms: nth(acknowledged, 0.99),
    mostMs: nth(acknowledged, 1),
    // Once it has warmed up, and at the end: what stays the same was not kept.
    earlyMb: nth(memory.slice(memory.length >> 2, memory.length >> 1), 0.5),
    lateMb: nth(memory.slice(-(memory.length >> 2)), 0.5),
    rate: rounds[1].own,
    sinkRate: rounds[1].sink,
    unsyncedRate: rounds[1].unsynced,
  };
}

export function printPieces(s) {
  note('pieces', s.rate, s.sinkRate);
  note('thousand.most99', s.p99Ms);
  note('thousand.median', s.medianMs);
  note('thousand.lost', s.lost);
  note('thousand.memory', s.lateMb / s.earlyMb);
  const line = (name, value, ratio) => console.log(`${name.padEnd(66)}${value.padStart(22)}   ${ratio}`);
  line(
    `${STUDENTS} students, one piece a second: acknowledged, 99th percentile`,
    `${s.p99Ms.toFixed(1)} ms`,
    `${(s.p99Ms / 1000).toFixed(3)} of 1 s`,
  );
  line('  median, most', `${s.medianMs.toFixed(1)}, ${s.mostMs.toFixed(1)} ms`, '');
  line('  takes whose bytes differ from what was sent', `${s.lost} of ${s.takes}`, '');
  line(
    '  memory of the server, second and last quarter of the time',
    `${s.earlyMb.toFixed(0)}, ${s.lateMb.toFixed(0)} MB`,
    `${(s.lateMb / s.earlyMb).toFixed(2)} of the second quarter`,
  );
  line(
    'pieces a second, as fast as it goes',
    s.rate.toFixed(0),
    `${(s.rate / s.sinkRate).toFixed(3)} of a bare sink that writes and syncs (${s.sinkRate.toFixed(0)})`,
  );
  line(
    '  a bare sink that writes and does not sync',
    s.unsyncedRate.toFixed(0),
    `syncing costs ${(1000 / s.sinkRate - 1000 / s.unsyncedRate).toFixed(3)} ms a piece`,
  );
}
