/**
 * A whole server over the real MariaDB, for tests: own schema, own files. Files are looked at in this process; what is mostly
 * arithmetic is done by the built worker, for it is slow in a test's own context.
 */
import { createHash, createHmac, randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { copyFile, readFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Piscina } from 'piscina';
import type { MediaDetails } from '@ecoute/contract/recordings';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { blankContent, blankItem } from '@ecoute/contract/blank';
import type { Me } from '@ecoute/contract/people';
import { createEcoute, type Ecoute } from '../app';
import type { Inspection } from '../capabilities/recordings/inspect';
import { NOTED, wrongSums } from '../capabilities/administration/sums.store';
import { addMember, insertClass } from '../capabilities/classes/store';
import { hashPassword } from '../capabilities/people/passwords';
import { insertPerson } from '../capabilities/people/store';
import work, { type Task, type Worker } from '../worker';
import { MAILBOX, quotasOf, type Config } from '../platform/config';
import { openPool, execute, type Pool } from '../platform/database';
import { emptyDatabase } from './database';

export const PASSWORD = 'a-long-password';
const SECRET = 'test';
const BESIDES: readonly Task['kind'][] = ['measureTake', 'readList'];
let passwordHash: string | null = null;

export interface Answer<T = unknown> {
  status: number;
  body: T;
  headers: Headers;
}

/** Somebody with a session: asks as a browser does. */
export class Visitor {
  private readonly jar = new Map<string, string>();
  id = '';

  constructor(readonly base: string) {}

  async ask<T = Record<string, unknown>>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await fetch(this.base + path, {
      method,
      headers: {
        Origin: this.base,
        ...(this.jar.size > 0 && this.cookies()),
        ...(body !== undefined && !(body instanceof Uint8Array) && { 'Content-Type': 'application/json' }),
        ...headers,
      },
      body:
        body === undefined
          ? undefined
          : body instanceof Uint8Array
            ? (body as BodyInit)
            : JSON.stringify(body),
    });
    for (const cookie of response.headers.getSetCookie()) {
      const [name, value] = cookie.split(';')[0]!.split('=', 2) as [string, string];
      this.jar.set(name, value);
    }
    const text = await response.text();
    let parsed: unknown = text;
    try {
      parsed = text ? JSON.parse(text) : null;
    } catch {
      // Not JSON: a sound, a page.
    }
    return { status: response.status, body: parsed as T, headers: response.headers };
  }

  /** What a browser sends along, for a request of one's own. */
  cookies(): Record<string, string> {
    return { Cookie: [...this.jar].map(([name, value]) => `${name}=${value}`).join('; ') };
  }

  /** Keeps the line of changes open. @returns what ends it */
  async listen(told: (message: unknown) => void): Promise<() => void> {
    const stop = new AbortController();
    const response = await fetch(`${this.base}/api/changes`, {
      headers: this.cookies(),
      signal: stop.signal,
    });
    void (async () => {
      let rest = '';
      for await (const piece of response.body!.pipeThrough(new TextDecoderStream())) {
        const messages = (rest + piece).split('\n\n');
        rest = messages.pop()!;
        for (const m of messages) if (m.startsWith('data: ')) told(JSON.parse(m.slice(6)));
      }
    })().catch(() => undefined);
    return () => stop.abort();
  }

  /** Says yes to whatever one is asked to join. */
  async acceptAll(): Promise<void> {
    const { body } = await this.ask<{ id: string }[]>('GET', '/api/invitations');
    for (const { id } of body) await this.ask('POST', `/api/invitations/${id}`);
  }

  /** Comes with the cookie of a session that there is. */
  withSession(personId: string, cookie: string): this {
    this.id = personId;
    this.jar.set('ecoute', encodeURIComponent(cookie));
    return this;
  }

  async signIn(signInName: string): Promise<this> {
    const answer = await this.ask<{ me: { id: string } }>('POST', '/api/session', {
      signInName,
      password: PASSWORD,
    });
    this.id = answer.body.me.id;
    return this;
  }
}

/** What was found in the sounds of a test so far: the same tone is sent twenty times, and looked at once. */
const found = new Map<string, Inspection>();

/** Looks at a file; at a sound whose very bytes were looked at before, as then. Only that writes nothing beside. */
async function looked(task: Task & { kind: 'inspect' }): Promise<Inspection> {
  const hash = createHash('sha256')
    .update(await readFile(task.path))
    .digest('hex');
  const key = `${hash} ${task.wanted} ${task.mostMs}`;
  const known = found.get(key) ?? ((await work(task)) as Inspection);
  if (known.medium === 'sound' && known.problem === null) found.set(key, known);
  return structuredClone(known);
}

export class TestEcoute {
  private constructor(
    readonly ecoute: Ecoute,
    readonly base: string,
    readonly config: Config,
    private readonly server: Server,
    private readonly worker: Piscina,
  ) {}

  /**
   * @param withMailbox mail goes out, to the simulated mailbox
   * @param withJobs what is queued is done; left out: yes
   * @param withCopies copies that play everywhere are made; otherwise what came stands for them, without any arithmetic
   */
  static async open({
    withMailbox = false,
    withJobs = true,
    withCopies = false,
    ...change
  }: Partial<Config> & {
    withMailbox?: boolean;
    withJobs?: boolean;
    withCopies?: boolean;
  } = {}): Promise<TestEcoute> {
    const config: Config = {
      port: 0,
      host: '127.0.0.1',
      dataDir: mkdtempSync(join(tmpdir(), 'ecoute-server-')),
      database: await emptyDatabase(),
      tls: null,
      webDir: '/nowhere',
      sessionSecret: SECRET,
      relaxedLimits: true,
      baseUrl: 'https://ecoute.example',
      mail: null,
      showsMailbox: true,
      simulatedSchool: null,
      proxies: null,
      quotas: quotasOf({}),
      ...change,
    };
    const pool = openPool(config.database);
    if (withMailbox) config.mail = { url: MAILBOX, from: 'ecoute@b.example' };
    const worker = new Piscina({
      filename: join(__dirname, '../../build/server/worker.mjs'),
      minThreads: 0,
      maxThreads: 1,
      // A thread takes longer to begin than most of what it does.
      idleTimeout: 60_000,
    });
    const does = async (task: Task) => {
      if (task.kind === 'measureTake' && task.copy && !withCopies) {
        await copyFile(task.path, task.copy.output);
        return { ...(await worker.run({ ...task, copy: null })), isCopied: true };
      }
      if (BESIDES.includes(task.kind)) return worker.run(task);
      if (task.kind === 'inspect') return looked(task);
      if (task.kind === 'inspectMany')
        return Promise.all(task.tasks.map(one => looked({ kind: 'inspect', ...one })));
      if (task.kind !== 'makePlayable' || withCopies) return work(task);
      await copyFile(task.input, task.output);
      return null;
    };
    const ecoute = await createEcoute(config, pool, does as Worker);
    if (withJobs) ecoute.jobs.start();
    const server = await new Promise<Server>(resolve => {
      const listening = createServer((req, res) => ecoute.listener(req, res));
      listening.listen(0, '127.0.0.1', () => resolve(listening));
    });
    return new TestEcoute(
      ecoute,
      `http://127.0.0.1:${(server.address() as { port: number }).port}`,
      config,
      server,
      worker,
    );
  }

  async close(): Promise<void> {
    this.ecoute.changes.close();
    this.ecoute.rights.close();
    this.server.closeAllConnections();
    await new Promise(resolve => this.server.close(resolve));
    await this.ecoute.jobs.stop();
    await this.worker.destroy();
    await this.ecoute.watch.stop();
    // Whatever was done: what the database keeps beside it adds up to what is there.
    const wrong = await Promise.all(NOTED.map(noted => wrongSums(this.ecoute.pool, noted)));
    await this.ecoute.pool.end();
    rmSync(this.config.dataDir, { recursive: true, force: true });
    expect(wrong).toEqual(NOTED.map(() => 0));
  }

  visitor(): Visitor {
    return new Visitor(this.base);
  }

  /** A person with a session. */
  async person(role: 'teacher' | 'student', classes: string[] = []): Promise<Visitor> {
    passwordHash ??= await hashPassword(PASSWORD);
    const id = randomUUID();
    const signInName = `${role}-${id}`;
    await insertPerson(this.ecoute.pool, {
      id,
      signInName,
      displayName: `Name of ${signInName}`,
      role,
      passwordHash,
    });
    for (const classId of classes) await addMember(this.ecoute.pool, { classId, personId: id, role });
    return this.signedIn({ id, role, displayName: `Name of ${signInName}` });
  }

  /** Somebody who has signed in already, without the arithmetic of a password. */
  private async signedIn(me: Me): Promise<Visitor> {
    const sessionId = randomUUID();
    const expires = new Date(Date.now() + 3_600_000);
    const data = {
      cookie: { originalMaxAge: 3_600_000, expires, httpOnly: true, path: '/', sameSite: 'lax' },
      me,
      key: randomUUID(),
      signedInAtMs: Date.now(),
      usedAtMs: Date.now(),
      browser: 'A browser',
    };
    await execute(
      this.ecoute.pool,
      'INSERT INTO sessions (session_id, expires, data) VALUES (:sessionId, :expires, :data)',
      { sessionId, expires: Math.floor(expires.getTime() / 1000), data: JSON.stringify(data) },
    );
    const signature = createHmac('sha256', SECRET).update(sessionId).digest('base64').replace(/=+$/, '');
    return this.visitor().withSession(me.id, `s:${sessionId}.${signature}`);
  }

  /** A teacher who plans for a class without hearing its students. */
  async coordinator(classId: string): Promise<Visitor> {
    const person = await this.person('teacher');
    await addMember(this.ecoute.pool, { classId, personId: person.id, role: 'coordinator' });
    return person;
  }

  async class(): Promise<string> {
    const id = randomUUID();
    await insertClass(this.ecoute.pool, { id, name: `Class ${id.slice(0, 4)}`, subject: 'language' });
    return id;
  }

  /** An assessment with one item, released to a class. */
  async release(
    teacher: Visitor,
    classId: string,
    over: Partial<Item> = {},
    dueInMs = 3_600_000,
    content: Partial<AssessmentContent> = {},
  ): Promise<{ id: string; assessmentId: string; itemId: string }> {
    const item = spokenItem(over);
    const made = await teacher.ask<{ id: string }>('POST', '/api/assessments', {
      ...blankContent('homework', { title: 'Test', items: [item], ...content }),
    });
    const released = await teacher.ask<{ id: string }>('POST', '/api/releases', {
      assessmentId: made.body.id,
      classId,
      dueAt: new Date(Date.now() + dueInMs).toISOString(),
      lateAccepted: true,
      note: '',
    });
    return { id: released.body.id, assessmentId: made.body.id, itemId: item.id };
  }
}

/** Makes jobs due now: of a kind, or all. The queue works meanwhile, and either may have to try again. */
export async function hurry(pool: Pool, kind?: string): Promise<void> {
  await execute(
    pool,
    `UPDATE jobs SET run_after = UTC_TIMESTAMP(3)${kind === undefined ? '' : ' WHERE kind = :kind'}`,
    { kind },
  );
}

export function spokenItem(over: Partial<Item> = {}): Item {
  return blankItem(randomUUID(), 'homework', {
    promptText: 'Say your name.',
    prepareMs: 0,
    answerLimitMs: 5_000,
    ...over,
  });
}

const tones = new Map<string, Uint8Array>();

/** A tone as WAV, 16 kHz mono; the same bytes each time. */
export function tone(seconds: number, amplitude = 0.4): Uint8Array {
  const name = `${seconds} ${amplitude}`;
  const made = tones.get(name) ?? toneOf(seconds, amplitude);
  tones.set(name, made);
  return Uint8Array.from(made);
}

function toneOf(seconds: number, amplitude: number): Uint8Array {
  const samples = Math.round(16_000 * seconds);
  const data = Buffer.alloc(44 + samples * 2);
  data.write('RIFF', 0);
  data.writeUInt32LE(36 + samples * 2, 4);
  data.write('WAVEfmt ', 8);
  data.writeUInt32LE(16, 16);
  data.writeUInt16LE(1, 20);
  data.writeUInt16LE(1, 22);
  data.writeUInt32LE(16_000, 24);
  data.writeUInt32LE(32_000, 28);
  data.writeUInt16LE(2, 32);
  data.writeUInt16LE(16, 34);
  data.write('data', 36);
  data.writeUInt32LE(samples * 2, 40);
  for (let i = 0; i < samples; i++)
    data.writeInt16LE(Math.round(32_767 * amplitude * Math.sin(i / 8)), 44 + i * 2);
  return data;
}

/** Sends a sound by tus in pieces, as the browser does: the length is told with the last. */
export async function send(visitor: Visitor, id: string, bytes: Uint8Array, pieces = 3): Promise<Answer> {
  const step = Math.ceil(bytes.length / pieces) || 1;
  let answer: Answer | null = null;
  for (let at = 0; at === 0 || at < bytes.length; at += step) {
    const piece = bytes.subarray(at, at + step);
    const last = at + step >= bytes.length;
    answer = await visitor.ask('PATCH', `/api/uploads/${id}`, piece, {
      'Tus-Resumable': '1.0.0',
      'Content-Type': 'application/offset+octet-stream',
      'Upload-Offset': String(at),
      ...(last && { 'Upload-Length': String(bytes.length) }),
    });
    if (answer.status !== 204) break;
  }
  return answer!;
}

/** Waits until a recording was looked at. */
export async function settled(visitor: Visitor, id: string) {
  for (;;) {
    const { body } = await visitor.ask<{
      state: string;
      problem: string | null;
      durationMs: number;
      sha256: string;
      message: string | null;
      silent: boolean;
      details: MediaDetails | null;
      medium: string | null;
    }>('GET', `/api/recordings/${id}`);
    if (body.state === 'stored' || body.state === 'refused') return body;
    await new Promise(resolve => setTimeout(resolve, 15));
  }
}

/** A student's take, from the announcement to the check. */
export async function recordTake(
  student: Visitor,
  sittingId: string,
  itemId: string,
  bytes = tone(2),
  fileName: string | null = null,
) {
  const recordingId = randomUUID();
  const announced = await student.ask('POST', `/api/sittings/${sittingId}/takes`, {
    recordingId,
    itemId,
    mediaType: 'audio/wav',
    beganAt: new Date().toISOString(),
    fileName,
  });
  if (announced.status !== 200) return { recordingId, announced, recording: null };
  await send(student, recordingId, bytes);
  return { recordingId, announced, recording: await settled(student, recordingId) };
}

/** Sits an assessment of one item (once more where it was sat), records a take, and hands in. */
export async function handInOne(student: Visitor, release: { id: string; itemId: string }, seconds = 2) {
  const sitting = await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/another-sitting`);
  const take = await recordTake(student, sitting.body.id, release.itemId, tone(seconds));
  await student.ask('POST', `/api/sittings/${sitting.body.id}/hand-in`, { withGaps: false });
  return { id: sitting.body.id, takeId: take.recordingId };
}
