// ./ecoute bench sitting: a school that streams its answers at once, next to a bare sink for the same bytes.
import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import express from 'express';
import { memoryOf, nth, visitor } from './visitor.mjs';

export const STUDENTS = 200;
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
        const { ask } = visitor(base);
        await ask('POST', '/api/session', { signInName: `s${n + k}`, password: 'a-long-password' });
        // In a discussion nothing is sat: each speaks where they are.
        if (content.startingPoint === 'discussion') return void students.push({ ask, talkId: release.id });
        const sitting = await ask('POST', `/api/releases/${release.id}/sitting`);
        students.push({ ask, sittingId: sitting.id, itemId: sitting.content.items[0].id });
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
function pieceOf(id, n) {
  const piece = Buffer.alloc(PIECE_BYTES);
  const seed = createHash('sha256').update(`${id} ${n}`).digest();
  for (let i = 0; i < PIECE_BYTES; i++) piece[i] = seed[i % 32] ^ (i >> 5);
  return piece;
}

const sendPiece = (ask, id, n, last) =>
  ask('PATCH', `/api/uploads/${id}`, pieceOf(id, n), {
    'Tus-Resumable': '1.0.0',
    'Content-Type': 'application/offset+octet-stream',
    'Upload-Offset': String(n * PIECE_BYTES),
    ...(last && { 'Upload-Length': String((n + 1) * PIECE_BYTES) }),
  });

/** The same bytes to something that does nothing with them. @returns pieces a second */
async function sinkRate() {
  const app = express();
  app.patch('/:id', (req, res) => {
    req.on('data', () => undefined);
    req.on('end', () => res.status(204).end());
  });
  const server = await new Promise(resolve => {
    const s = app.listen(0, '127.0.0.1', () => resolve(s));
  });
  const base = `http://127.0.0.1:${server.address().port}`;
  const ids = Array.from({ length: STUDENTS }, () => randomUUID());
  const began = performance.now();
  await Promise.all(
    ids.map(async id => {
      for (let n = 0; n < FAST_PIECES; n++) {
        const response = await fetch(`${base}/${id}`, { method: 'PATCH', body: pieceOf(id, n) });
        await response.arrayBuffer();
      }
    }),
  );
  const rate = (STUDENTS * FAST_PIECES * 1000) / (performance.now() - began);
  server.closeAllConnections();
  server.close();
  return rate;
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
      let next = performance.now();
      for (let n = 0; n < PACED_PIECES; n++) {
        const began = performance.now();
        await sendPiece(student.ask, id, n, n === PACED_PIECES - 1);
        acknowledged.push(performance.now() - began);
        next += 1000;
        await new Promise(resolve => setTimeout(resolve, Math.max(0, next - performance.now())));
      }
    }),
  );
  clearInterval(watch);
  let lost = 0;
  for (const { id } of takes) {
    const stored = readFileSync(join(dataDir, 'sounds/originals', id));
    const sent = Buffer.concat(Array.from({ length: PACED_PIECES }, (_, n) => pieceOf(id, n)));
    if (!stored.equals(sent)) lost += 1;
  }
  say('and now as fast as it goes');
  const fast = [];
  for (const student of students) fast.push({ student, id: await announce(student) });
  const began = performance.now();
  await Promise.all(
    fast.map(async ({ student, id }) => {
      for (let n = 0; n < FAST_PIECES; n++) await sendPiece(student.ask, id, n, n === FAST_PIECES - 1);
    }),
  );
  const rate = (STUDENTS * FAST_PIECES * 1000) / (performance.now() - began);
  return {
    lost,
    takes: takes.length,
    medianMs: nth(acknowledged, 0.5),
    p99Ms: nth(acknowledged, 0.99),
    mostMs: nth(acknowledged, 1),
    // Once it has warmed up, and at the end: what stays the same was not kept.
    earlyMb: nth(memory.slice(memory.length >> 2, memory.length >> 1), 0.5),
    lateMb: nth(memory.slice(-(memory.length >> 2)), 0.5),
    rate,
    sinkRate: await sinkRate(),
  };
}
