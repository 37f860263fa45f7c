// ./ecoute bench handin: a class that ends an exam in the same moment; when its takes are looked at, play and are measured.
import { execFile, spawnSync } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { promisify } from 'node:util';
import { randomUUID } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { everybody } from './listening.mjs';
import { nth, visitor } from './visitor.mjs';
import { note } from './notes.mjs';

const STUDENTS = 30;
/** Lengths of an answer, in seconds. */
const LENGTHS = [30, 60];
const HEAD = { 'Tus-Resumable': '1.0.0', 'Content-Type': 'application/offset+octet-stream' };

/** An answer as a browser would record it, of so many seconds; no two are the same. */
function answer(root, scratch, n, seconds) {
  const voice = join(root, 'demo/audio', n % 2 ? 'morning-wake-amara.ogg' : 'market-order-emrys.ogg');
  const path = join(scratch, 'answer.webm');
  const form = ['-t', String(seconds), '-c:a', 'libopus', '-b:a', '64k', '-ar', '48000', path];
  const from = ['-stream_loop', '99', '-ss', String(n / 7), '-i', voice];
  const { status } = spawnSync('ffmpeg', ['-nostdin', '-v', 'error', '-y', ...from, ...form]);
  if (status !== 0) throw new Error('ffmpeg could not make an answer.');
  return readFileSync(path);
}

/**
 * The same answers by ffmpeg alone, as many at a time as there are processors: decoded, and decoded and written as AAC.
 * @returns seconds of both
 */
async function byFfmpeg(scratch, answers) {
  const run = promisify(execFile);
  const paths = answers.map((bytes, n) => {
    const path = join(scratch, `bare-${n}.webm`);
    writeFileSync(path, bytes);
    return path;
  });
  const seconds = [];
  for (const form of [
    ['-f', 'null', '-'],
    ['-c:a', 'aac', '-b:a', '128k', '-f', 'mp4', '-y'],
  ]) {
    const began = performance.now();
    const left = [...paths];
    const one = async () => {
      for (let path = left.pop(); path; path = left.pop())
        await run('ffmpeg', [
          ...['-nostdin', '-v', 'error', '-i', path],
          ...(form.length > 3 ? [...form, `${path}.m4a`] : form),
        ]);
    };
    await Promise.all(Array.from({ length: availableParallelism() }, one));
    seconds.push((performance.now() - began) / 1000);
  }
  return seconds;
}

/** All pieces but the last are there, then the last one of each, and the hand-in. @returns seconds of each take until … */
async function handedIn(base, db, release, students, answers, say) {
  const takes = [];
  for (const [n, student] of students.entries()) {
    const sitting = await student.ask('POST', `/api/releases/${release.id}/sitting`);
    const id = randomUUID();
    const itemId = sitting.content.items[0].id;
    const told = { recordingId: id, itemId, mediaType: 'audio/webm;codecs=opus' };
    await student.ask('POST', `/api/sittings/${sitting.id}/takes`, {
      ...told,
      beganAt: new Date().toISOString(),
    });
    const cut = answers[n].length - 8_000;
    await student.ask('PATCH', `/api/uploads/${id}`, answers[n].subarray(0, cut), {
      ...HEAD,
      'Upload-Offset': '0',
    });
    takes.push({ student, sittingId: sitting.id, id, cut, bytes: answers[n] });
  }
  say('all but the last second is there');
  const began = performance.now();
  const ends = Promise.all(
    takes.map(async ({ student, id, cut, bytes }) => {
      const more = { ...HEAD, 'Upload-Offset': String(cut), 'Upload-Length': String(bytes.length) };
      await student.ask('PATCH', `/api/uploads/${id}`, bytes.subarray(cut), more);
    }),
  );
  const handIns = [];
  const at = { looked: new Map(), playable: new Map(), measured: new Map() };
  while (at.measured.size < takes.length || at.playable.size < takes.length) {
    const [rows] = await db.query(
      `SELECT r.id, r.state, r.playable_at IS NOT NULL AS playable, m.recording_id IS NOT NULL AS measured
       FROM recordings r LEFT JOIN measures m ON m.recording_id = r.id WHERE r.id IN (?)`,
      [takes.map(t => t.id)],
    );
    const now = (performance.now() - began) / 1000;
    for (const { id, state, playable, measured } of rows) {
      if (state === 'refused') throw new Error(`${id} was refused.`);
      if (state === 'stored' && !at.looked.has(id)) {
        at.looked.set(id, now);
        // Its page is told, and hands in.
        const { student, sittingId } = takes.find(t => t.id === id);
        handIns.push(student.ask('POST', `/api/sittings/${sittingId}/hand-in`, { withGaps: true }));
      }
      if (Number(playable) && !at.playable.has(id)) at.playable.set(id, now);
      if (Number(measured) && !at.measured.has(id)) at.measured.set(id, now);
    }
    await new Promise(resolve => setTimeout(resolve, 50));
  }
  await ends;
  await Promise.all(handIns);
  return Object.fromEntries(Object.entries(at).map(([name, all]) => [name, [...all.values()]]));
}

/** One take from a quiet server, as the first figure beside which thirty are told. */
export async function handin(base, db, root, scratch, content, say) {
  // Before anybody comes: connections do not wait while ffmpeg works here.
  const answers = new Map(
    LENGTHS.map(seconds => [
      seconds,
      Array.from({ length: STUDENTS }, (_, n) => answer(root, scratch, n, seconds)),
    ]),
  );
  const bare = new Map();
  for (const [seconds, all] of answers) bare.set(seconds, await byFfmpeg(scratch, all));
  const { teacher, classId } = await everybody(base, db, STUDENTS);
  const students = [];
  for (let n = 1; n <= STUDENTS; n++) {
    const student = visitor(base);
    await student.ask('POST', '/api/session', { signInName: `s${n}`, password: 'a-long-password' });
    students.push(student);
  }
  const one = { ...content, items: [{ ...content.items[0], answerLimitMs: 90_000 }] };
  const figures = [];
  for (const seconds of LENGTHS) {
    const assessment = await teacher.ask('POST', '/api/assessments', one);
    const release = async () =>
      teacher.ask('POST', '/api/releases', {
        assessmentId: assessment.id,
        classId,
        dueAt: new Date(Date.now() + 86_400_000).toISOString(),
        lateAccepted: true,
        note: '',
      });
    const alone = await handedIn(base, db, await release(), students.slice(0, 1), answers.get(seconds), say);
    const all = await handedIn(base, db, await release(), students, answers.get(seconds), say);
    figures.push({ seconds, alone, all, bare: bare.get(seconds) });
    say(`${STUDENTS} answers of ${seconds} s done`);
  }
  return figures;
}

export function printHandin(figures) {
  const line = (name, value, ratio) => console.log(`${name.padEnd(62)}${value.padStart(24)}   ${ratio}`);
  line(`a class of ${STUDENTS} hands in at once, after the hand-in`, 'median, last', 'as a ratio');
  for (const { seconds, alone, all, bare } of figures)
    for (const [name, words, most, beside, of] of [
      ['looked', 'looked at', 3, bare[0], 'decoding them all by ffmpeg alone'],
      ['playable', 'playable', 20, bare[1], 'writing them all as AAC by ffmpeg alone'],
      ['measured', 'measured', 30, bare[1], 'the same'],
    ]) {
      const last = nth(all[name], 1);
      if (seconds === LENGTHS[0]) note(`handin.${name}`, last, beside);
      line(
        `  answers of ${seconds} s ${words} (one alone: ${alone[name][0].toFixed(1)} s)`,
        `${nth(all[name], 0.5).toFixed(1)}, ${last.toFixed(1)} s`,
        `${(last / most).toFixed(2)} of ${most} s, ${(last / beside).toFixed(2)} of ${of} (${beside.toFixed(1)} s)`,
      );
    }
}
