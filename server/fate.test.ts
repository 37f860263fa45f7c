/**
 * A take is broken off between any two of its steps, on either side, and in every way: in the end it is stored, once, and
 * handed in, or said to be missing and its student may record again. The server is the built one, killed like a machine
 * that lost its power; the device is scripted step by step.
 */
import { type ChildProcess, spawn } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { blankContent } from '@ecoute/contract/blank';
import type { ListenView } from '@ecoute/contract/marking';
import type { Receipt, SittingAccount, SittingView, TakeView } from '@ecoute/contract/sittings';
import { openPool, rows } from './platform/database';
import { spokenItem, tone, Visitor } from './testing/ecoute';

const PASSWORD = 'tide-and-lantern';
const SOUND = tone(2);
const SHA = createHash('sha256').update(SOUND).digest('hex');
const HALF = Math.floor(SOUND.length / 2);

/** Where a device is cut off. */
const BREAKS = [
  'before it is announced',
  'after it is announced',
  'after the first piece',
  'after the last byte but one',
  'after the last byte',
  'while it is looked at',
  'after it was looked at',
] as const;
type Break = (typeof BREAKS)[number];
/** What happens then. */
const HAPPENS = [
  'the device comes back',
  'the device is gone for good',
  'the server is killed and started again',
] as const;

describe('a take that is broken off', () => {
  jest.setTimeout(240_000);
  const data = mkdtempSync(join(tmpdir(), 'ecoute-fate-'));
  let server: ChildProcess;
  let port = 0;
  let base = '';
  let teacher: Visitor;
  let classId = '';
  let itemId = '';
  let assessmentId = '';
  let students: Visitor[] = [];

  async function start(): Promise<void> {
    server = spawn('node', ['build/server/cli.mjs', 'start'], {
      env: {
        ...process.env,
        ECOUTE_DATA: data,
        ECOUTE_PORT: String(port),
        ECOUTE_RELAXED_LIMITS: '1',
        ECOUTE_LOG: 'silent',
      },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    await new Promise<void>((resolve, reject) => {
      server.stdout!.on('data', chunk => String(chunk).includes('is open') && resolve());
      server.once('exit', code => reject(new Error(`It ended with ${code}.`)));
    });
  }
  async function kill(signal: NodeJS.Signals): Promise<void> {
    const over = new Promise(resolve => server.once('exit', resolve));
    server.kill(signal);
    await over;
  }
  async function sql<T>(text: string, values: unknown[] = []): Promise<T[]> {
    const { readFileSync } = await import('node:fs');
    const { port: own, password } = JSON.parse(readFileSync(join(data, 'database.json'), 'utf8')) as {
      port: number;
      password: string;
    };
    const pool = openPool({ host: '127.0.0.1', port: own, user: 'ecoute', password, database: 'ecoute' });
    try {
      return await rows<T>(pool, text, values);
    } finally {
      await pool.end();
    }
  }

  beforeAll(async () => {
    const probe = createServer().listen(0, '127.0.0.1');
    await new Promise(resolve => probe.once('listening', resolve));
    ({ port } = probe.address() as { port: number });
    await new Promise(resolve => probe.close(resolve));
    base = `http://127.0.0.1:${port}`;
    await start();
    teacher = new Visitor(base);
    await teacher.ask('POST', '/api/first-teacher', {
      displayName: 'T',
      signInName: 'teacher',
      password: PASSWORD,
    });
    classId = (await teacher.ask<{ id: string }>('POST', '/api/classes', { name: 'C', subject: 'language' }))
      .body.id;
    students = [];
    for (let n = 0; n < 4; n++) {
      const name = `student${n}`;
      await teacher.ask('POST', `/api/classes/${classId}/students`, {
        displayName: name,
        signInName: name,
        password: PASSWORD,
      });
      const student = new Visitor(base);
      await student.ask('POST', '/api/session', { signInName: name, password: PASSWORD });
      students.push(student);
    }
    const item = spokenItem({ takesAllowed: 1, answerLimitMs: 10_000 });
    itemId = item.id;
    const made = await teacher.ask<{ id: string }>(
      'POST',
      '/api/assessments',
      blankContent('exam', { title: 'One take', items: [item] }),
    );
    assessmentId = made.body.id;
  });
  afterAll(async () => {
    await kill('SIGTERM');
    rmSync(data, { recursive: true, force: true });
  });

  const begin = async (student: Visitor) => {
    const release = await teacher.ask<{ id: string }>('POST', '/api/releases', {
      assessmentId,
      classId,
      dueAt: new Date(Date.now() + 3_600_000).toISOString(),
      lateAccepted: true,
      note: '',
    });
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.body.id}/sitting`);
    return { releaseId: release.body.id, sittingId: body.id };
  };
  const announce = (student: Visitor, sittingId: string, recordingId: string) =>
    student.ask<TakeView>('POST', `/api/sittings/${sittingId}/takes`, {
      recordingId,
      itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    });
  /** As a device sends what is missing: asks how far it came, and goes on from there to some byte. */
  const send = async (student: Visitor, id: string, to = SOUND.length) => {
    const head = await student.ask('HEAD', `/api/uploads/${id}`, undefined, { 'Tus-Resumable': '1.0.0' });
    const from = Number(head.headers.get('upload-offset'));
    if (head.status !== 200 || from >= to) return head.status;
    const { status } = await student.ask('PATCH', `/api/uploads/${id}`, SOUND.subarray(from, to), {
      'Tus-Resumable': '1.0.0',
      'Content-Type': 'application/offset+octet-stream',
      'Upload-Offset': String(from),
      ...(to === SOUND.length && { 'Upload-Length': String(SOUND.length) }),
    });
    return status;
  };
  const settled = async (student: Visitor, id: string) => {
    for (;;) {
      const { body } = await student.ask<{ state: string }>('GET', `/api/recordings/${id}`);
      if (body.state !== 'checking') return body.state;
      await new Promise(resolve => setTimeout(resolve, 60));
    }
  };
  /** Goes as far as to the break. */
  const upTo = async (where: Break, student: Visitor, sittingId: string, id: string) => {
    const at = BREAKS.indexOf(where);
    if (at >= 1) expect((await announce(student, sittingId, id)).status).toBe(200);
    if (at >= 2) await send(student, id, at === 2 ? HALF : SOUND.length - 1);
    if (at >= 4) await send(student, id);
    // Nothing is looked at while the job for it is held by somebody else.
    if (at === 4)
      await sql(
        "UPDATE jobs SET run_after = UTC_TIMESTAMP(3) + INTERVAL 1 DAY WHERE kind = 'inspectRecording'",
      );
    if (at >= 6) await settled(student, id);
  };
  /** Time passes: whoever sends nothing has been quiet for a while. */
  const later = async (id: string) => {
    await sql('UPDATE recordings SET created_at = created_at - INTERVAL 10 MINUTE WHERE id = ?', [id]);
    const { utimes } = await import('node:fs/promises');
    const past = new Date(Date.now() - 600_000);
    await utimes(join(data, 'sounds', 'originals', id), past, past).catch(() => undefined);
    await sql("UPDATE jobs SET run_after = UTC_TIMESTAMP(3) WHERE kind = 'inspectRecording'");
  };
  const handIn = async (student: Visitor, sittingId: string) => {
    const ask = (body: object) =>
      student.ask<Receipt & { code: string }>('POST', `/api/sittings/${sittingId}/hand-in`, body);
    for (let tries = 0; tries < 60; tries++) {
      const answer = await ask({ withGaps: true });
      if (answer.status === 200) return answer.body;
      // The student is told, and says to go on with what has come.
      if (answer.body.code === 'recordingsAway') {
        const without = await ask({ withGaps: true, asTheyCame: true });
        if (without.status === 200) return without.body;
      }
      await new Promise(resolve => setTimeout(resolve, 150));
    }
    throw new Error('It was never handed in.');
  };

  let walked = 0;
  const cases = HAPPENS.flatMap(what => BREAKS.map(where => [where, what] as const));
  it.each(cases)('%s: %s', async (where, what) => {
    const student = students[walked++ % students.length]!;
    const { sittingId, releaseId } = await begin(student);
    const id = randomUUID();
    await upTo(where, student, sittingId, id);
    if (what === 'the server is killed and started again') {
      await kill('SIGKILL');
      await start();
      await sql("UPDATE jobs SET run_after = UTC_TIMESTAMP(3) WHERE kind = 'inspectRecording'");
    }
    const comesBack = what !== 'the device is gone for good';
    if (comesBack) {
      if (where === 'after the last byte')
        await sql("UPDATE jobs SET run_after = UTC_TIMESTAMP(3) WHERE kind = 'inspectRecording'");
      expect((await announce(student, sittingId, id)).status).toBe(200);
      await send(student, id);
      expect(await settled(student, id)).toBe('stored');
    } else await later(id);
    const receipt = await handIn(student, sittingId);
    const [line] = receipt.lines;
    const cameWhole = comesBack || BREAKS.indexOf(where) >= 4;
    const cameInPart = !comesBack && ['after the first piece', 'after the last byte but one'].includes(where);
    if (cameWhole) expect(line).toMatchObject({ takeId: id, sha256: SHA });
    else if (cameInPart) expect(line).toMatchObject({ takeId: id, cutShort: true });
    else expect(line!.takeId).toBeNull();
    // The teacher hears what came, once, and is told of what did not.
    const lanes = (await teacher.ask<ListenView>('GET', `/api/releases/${releaseId}/lanes`)).body.lanes;
    const lane = lanes.find(l => l.sittingId === sittingId);
    expect([lane?.takeId ?? null, lane?.takes ?? 0]).toEqual(cameWhole || cameInPart ? [id, 1] : [null, 0]);
    const account = (await teacher.ask<SittingAccount>('GET', `/api/sittings/${sittingId}/account`)).body;
    if (!cameWhole && where !== 'before it is announced')
      expect(account.events.map(e => e.kind)).toContain(cameInPart ? 'takeCutShort' : 'takeLost');
    expect(account.events.filter(e => e.kind === 'takeCutShort').length).toBe(cameInPart ? 1 : 0);
  });

  it('that nothing came of is given back: on another device the one take may be recorded', async () => {
    const [student] = students as [Visitor];
    const { sittingId } = await begin(student);
    const [lost, second] = [randomUUID(), randomUUID()];
    await announce(student, sittingId, lost);
    // Just announced it holds its place; when nothing comes for a while it does not.
    expect((await announce(student, sittingId, second)).status).toBe(409);
    await later(lost);
    expect((await announce(student, sittingId, second)).status).toBe(200);
    await send(student, second);
    expect(await settled(student, second)).toBe('stored');
    // Ended by its student; the device that has it comes back, and finds that its one take was recorded elsewhere.
    expect((await student.ask('POST', `/api/takes/${lost}/end`)).status).toBe(200);
    expect((await announce(student, sittingId, lost)).status).toBe(409);
    expect((await handIn(student, sittingId)).lines[0]).toMatchObject({ takeId: second, sha256: SHA });
  });

  it('and was ended as far as it came takes the rest when its device comes back before the hand-in', async () => {
    const [student] = students as [Visitor];
    const { sittingId } = await begin(student);
    const id = randomUUID();
    await announce(student, sittingId, id);
    await send(student, id, HALF);
    await later(id);
    const ended = await student.ask<SittingView>('POST', `/api/takes/${id}/end`);
    expect(ended.body.takes[0]!.recording).toMatchObject({ state: 'stored', cutShort: true });
    // Bytes are taken once it says that it is back, and not before.
    expect(await send(student, id)).toBe(410);
    expect((await announce(student, sittingId, id)).body.recording.state).toBe('arriving');
    await send(student, id);
    expect(await settled(student, id)).toBe('stored');
    expect((await handIn(student, sittingId)).lines[0]).toMatchObject({ takeId: id, sha256: SHA });
    // After the hand-in nothing of it changes.
    expect((await announce(student, sittingId, id)).body.recording.state).toBe('stored');
    expect((await student.ask('POST', `/api/takes/${id}/end`)).status).toBe(409);
  });

  it('whose job was given up is looked at by the sweep of the next start', async () => {
    const [student] = students as [Visitor];
    const { sittingId } = await begin(student);
    const id = randomUUID();
    await announce(student, sittingId, id);
    await send(student, id, SOUND.length - 1);
    await kill('SIGTERM');
    // As an earlier Ecoute left it: all there, and nobody to look; and one whose last byte nobody noticed.
    const { appendFileSync, readFileSync, writeFileSync } = await import('node:fs');
    const file = join(data, 'sounds', 'originals', id);
    appendFileSync(file, SOUND.subarray(SOUND.length - 1));
    const about = JSON.parse(readFileSync(`${file}.json`, 'utf8')) as object;
    writeFileSync(`${file}.json`, JSON.stringify({ ...about, size: SOUND.length }));
    await start();
    while ((await settled(student, id)) !== 'stored') await new Promise(resolve => setTimeout(resolve, 100));
    expect((await handIn(student, sittingId)).lines[0]).toMatchObject({ takeId: id, sha256: SHA });
  });

  it('was walked at every break, in every way', () => {
    process.stdout.write(`   ${walked} breaks walked, and three ways back\n`);
    expect(walked).toBe(BREAKS.length * HAPPENS.length);
  });
});
