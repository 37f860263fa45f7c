import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import {
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import https from 'node:https';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection, type RowDataPacket } from 'mysql2/promise';
import { blankContent, blankItem } from '@ecoute/contract/blank';
import { PASSWORD, recordTake, send, settled, tone, Visitor } from './testing/ecoute';

/** The built program as people start it: its own database, signals, kills, a taken port, HTTPS. */
describe('the start command', () => {
  jest.setTimeout(120_000);
  const cli = join(__dirname, '../build/server/cli.mjs');
  /** The folder of one that was started and has ended: what others begin from. */
  let begun: string;
  let data: string;
  let port: number;
  const running = new Set<ChildProcess>();

  const freePort = () =>
    new Promise<number>(resolve => {
      const probe = createServer().listen(0, '127.0.0.1', () => {
        const { port: free } = probe.address() as { port: number };
        probe.close(() => resolve(free));
      });
    });
  beforeAll(async () => {
    begun = data = mkdtempSync(join(tmpdir(), 'ecoute-cli-'));
    port = await freePort();
    const { child } = await start();
    await ended(child, 'SIGTERM');
  });
  afterAll(() => rmSync(begun, { recursive: true, force: true }));
  beforeEach(async () => {
    data = mkdtempSync(join(tmpdir(), 'ecoute-cli-'));
    cpSync(begun, data, { recursive: true });
    port = await freePort();
  });
  afterEach(async () => {
    for (const child of running) await ended(child, 'SIGTERM');
    const left = databasePid();
    if (left && alive(left)) process.kill(left, 'SIGKILL');
    rmSync(data, { recursive: true, force: true });
  });

  const databasePid = () => {
    const file = join(data, 'mariadb.pid');
    return existsSync(file) ? Number(readFileSync(file, 'utf8')) : null;
  };
  const alive = (pid: number) => {
    try {
      // A process that nobody has waited for still answers to signals; its state tells.
      process.kill(pid, 0);
      return !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
    } catch {
      return false;
    }
  };

  function start(env: Record<string, string> = {}): Promise<{ child: ChildProcess; out: string }> {
    return new Promise((resolve, reject) => {
      const child = spawn('node', [cli, 'start'], {
        env: { ...process.env, ECOUTE_DATA: data, ECOUTE_PORT: String(port), ...env },
      });
      running.add(child);
      let out = '';
      const read = (chunk: Buffer) => {
        out += chunk.toString();
        if (out.includes('Ecoute is open at')) resolve({ child, out });
      };
      child.stdout.on('data', read);
      child.stderr.on('data', read);
      child.once('exit', code => reject(new Error(`ended with ${code}: ${out}`)));
    });
  }

  function ended(child: ChildProcess, signal: NodeJS.Signals): Promise<void> {
    running.delete(child);
    if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
    return new Promise(resolve => {
      child.removeAllListeners('exit');
      child.once('exit', () => resolve());
      child.kill(signal);
    });
  }

  /** Command lines of the programs that a process started. */
  const commandsUnder = (pid: number) =>
    readdirSync(`/proc/${pid}/task`).flatMap(thread =>
      readFileSync(`/proc/${pid}/task/${thread}/children`, 'utf8')
        .split(' ')
        .flatMap(child => {
          try {
            return child ? [readFileSync(`/proc/${child}/cmdline`, 'utf8')] : [];
          } catch {
            // It has ended meanwhile.
            return [];
          }
        }),
    );

  const health = async () => (await fetch(`http://127.0.0.1:${port}/api/health`)).status;

  /** Another command beside it. Awaited, so that connections of this process do not grow old meanwhile. */
  function command(...words: string[]): Promise<{ status: number | null; out: string }> {
    return new Promise(resolve => {
      const child = spawn('node', [cli, ...words], {
        env: { ...process.env, ECOUTE_DATA: data, ECOUTE_PORT: String(port) },
      });
      let out = '';
      const read = (chunk: Buffer) => (out += chunk.toString());
      child.stdout.on('data', read);
      child.stderr.on('data', read);
      child.once('close', status => resolve({ status, out }));
    });
  }

  it('stops everything on Ctrl-C, and starts again with what was there', async () => {
    const first = await start();
    expect(await health()).toBe(200);
    const origin = `http://127.0.0.1:${port}`;
    const made = await fetch(`${origin}/api/first-teacher`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: origin },
      body: JSON.stringify({ displayName: 'Ana', signInName: 'ana', password: 'a-long-password' }),
    });
    expect(made.status).toBe(200);
    const cookie = made.headers
      .getSetCookie()
      .find(c => c.startsWith('ecoute='))!
      .split(';')[0]!;
    const pid = databasePid()!;
    expect(alive(pid)).toBe(true);
    await ended(first.child, 'SIGINT');
    expect(alive(pid)).toBe(false);
    await expect(health()).rejects.toThrow();

    await start();
    // The session has outlived the restart.
    const state = await fetch(`${origin}/api/session`, { headers: { Cookie: cookie } });
    expect(((await state.json()) as { me: { displayName: string } }).me.displayName).toBe('Ana');
  });

  it('takes over the database that a killed run left behind', async () => {
    const first = await start();
    const pid = databasePid()!;
    await ended(first.child, 'SIGKILL');
    expect(alive(pid)).toBe(true);
    const second = await start();
    expect(databasePid()).toBe(pid);
    expect(await health()).toBe(200);
    await ended(second.child, 'SIGINT');
    expect(alive(pid)).toBe(false);
  });

  it('comes up after its database was killed too', async () => {
    const first = await start();
    const pid = databasePid()!;
    process.kill(pid, 'SIGKILL');
    await ended(first.child, 'SIGKILL');
    await start();
    expect(await health()).toBe(200);
    expect(databasePid()).not.toBe(pid);
  });

  it('answers 503 while the database is away, in words, and 200 when it is back', async () => {
    await start();
    const pid = databasePid()!;
    process.kill(pid, 'SIGKILL');
    let status = await health();
    while (status === 200) status = await health();
    expect(status).toBe(503);
    const answer = await fetch(`http://127.0.0.1:${port}/api/session`);
    expect([answer.status, ((await answer.json()) as { code: string }).code]).toEqual([503, 'away']);
  });

  it('starts the database again when it dies, and what is asked meanwhile is answered at once', async () => {
    await start();
    const pid = databasePid()!;
    process.kill(pid, 'SIGKILL');
    let status = await health();
    while (status === 200) status = await health();
    while (status !== 200) {
      await new Promise(resolve => setTimeout(resolve, 100));
      status = await health();
    }
    expect(databasePid()).not.toBe(pid);
    expect((await fetch(`http://127.0.0.1:${port}/api/session`)).status).toBe(200);
  });

  it('does not wait for a database that hangs', async () => {
    await start();
    const pid = databasePid()!;
    process.kill(pid, 'SIGSTOP');
    try {
      // Health asks a line of its own; requests are told so as soon as that line was not answered.
      let code = '';
      while (code !== 'away') {
        const answer = await fetch(`http://127.0.0.1:${port}/api/session`, {
          signal: AbortSignal.timeout(30_000),
        });
        code = ((await answer.json()) as { code?: string }).code ?? '';
      }
    } finally {
      process.kill(pid, 'SIGCONT');
    }
    while ((await health()) !== 200) await new Promise(resolve => setTimeout(resolve, 100));
  });

  it('doctor finds what is not as it should be, beside the running one, mends what it can, and says what is left', async () => {
    await start();
    const origin = `http://127.0.0.1:${port}`;
    const teacher = new Visitor(origin);
    await teacher.ask('POST', '/api/first-teacher', {
      displayName: 'Ana',
      signInName: 'ana',
      password: PASSWORD,
    });
    expect(await command('doctor')).toMatchObject({
      status: 0,
      out: expect.stringContaining('Everything is as'),
    });

    const item = blankItem(randomUUID(), 'homework', { promptText: 'Say it.' });
    const { body: assessment } = await teacher.ask<{ id: string }>(
      'POST',
      '/api/assessments',
      blankContent('homework', { title: 'Short', items: [item] }),
    );
    const announced = async () => {
      const recordingId = randomUUID();
      const prompt = { recordingId, mediaType: 'audio/wav', source: 'uploaded', fileName: 'a.wav' };
      await teacher.ask('POST', `/api/assessments/${assessment.id}/prompts`, prompt);
      return recordingId;
    };
    const [changed, gone, hanging] = [await announced(), await announced(), await announced()];
    for (const id of [changed, gone]) {
      await send(teacher, id, tone(1));
      expect((await settled(teacher, id)).state).toBe('stored');
    }
    const { port: own, password } = JSON.parse(readFileSync(join(data, 'database.json'), 'utf8')) as {
      port: number;
      password: string;
    };
    const who = { user: 'ecoute', password, database: 'ecoute' };
    const db = await createConnection({ host: '127.0.0.1', port: own, ...who });
    // Its copies are made before anything is broken.
    for (let jobs: unknown[] = [0]; jobs.length > 0;)
      [jobs] = await db.query<RowDataPacket[]>(
        "SELECT 1 FROM jobs WHERE kind IN ('makePlayable', 'measureTake')",
      );
    const sounds = join(data, 'sounds');
    writeFileSync(join(sounds, 'originals', changed), Buffer.alloc(tone(1).length, 7));
    rmSync(join(sounds, 'originals', gone));
    const [nobodys, fresh] = [1, 2].map(() => join(sounds, 'shown', randomUUID()));
    const old = new Date(Date.now() - 2 * 3_600_000);
    for (const file of [nobodys!, fresh!]) writeFileSync(file, 'x');
    utimesSync(nobodys!, old, old);
    await db.query('UPDATE recordings SET created_at = created_at - INTERVAL 3 HOUR WHERE id = ?', [hanging]);
    await db.query(
      "INSERT INTO jobs (kind, payload, state, failures, last_error, run_after, created_at) VALUES ('makePlayable', ?, 'failed', 3, 'no room', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))",
      [JSON.stringify({ id: changed })],
    );
    // Whether or not what was noted has been added up already.
    await db.query(
      "INSERT INTO people_counted (kind, is_closed, people) VALUES ('teacher', 0, 1) ON DUPLICATE KEY UPDATE people = people + 1",
    );
    await db.end();

    const { status, out } = await command('doctor');
    expect(status).toBe(1);
    expect(out).toContain('1 kept sum of people differs from what is there');
    expect(out).toContain(`The file of prompt ${changed} is not the one whose checksum was confirmed`);
    expect(out).toContain(`The file of prompt ${gone} is missing`);
    expect(out).toContain('belongs to nothing that is kept');
    expect(out).toContain(`Nothing has come of prompt ${hanging} for 3 h`);
    expect(out).toMatch(/makePlayable.*was given up after 3 tries: no room/);
    expect(out).toContain('6 found, 0 mended, 6 left');
    expect(existsSync(nobodys!)).toBe(true);
    // What only a copy of the data can bring back is left, and said again; nothing was removed.
    const mended = await command('doctor', '--mend');
    expect(mended.out).toContain('6 found, 3 mended, 3 left');
    const aside = /it was moved to (\S+);/.exec(mended.out)![1]!;
    expect([existsSync(nobodys!), existsSync(aside), existsSync(fresh!), await health()]).toEqual([
      false,
      true,
      true,
      200,
    ]);
    // Nothing is taken from a device that may still come.
    expect((await teacher.ask<{ state: string }>('GET', `/api/recordings/${hanging}`)).body.state).toBe(
      'arriving',
    );
  });

  it('code lets the last administrator in again; a name that is none is said', async () => {
    const first = await start();
    const teacher = new Visitor(`http://127.0.0.1:${port}`);
    const own = { displayName: 'Ana', signInName: 'ana', password: PASSWORD };
    await teacher.ask('POST', '/api/first-teacher', own);
    await ended(first.child, 'SIGTERM');
    expect(await command('code', 'nobody')).toMatchObject({
      status: 1,
      out: expect.stringContaining('Nobody signs in'),
    });
    const { out } = await command('code', 'ana');
    const code = /types this code: (\S+)/.exec(out)![1];
    expect(databasePid() === null || !alive(databasePid()!)).toBe(true);
    await start();
    const again = new Visitor(`http://127.0.0.1:${port}`);
    expect(
      (await again.ask('POST', '/api/first-sign-in', { code, password: `${PASSWORD} again` })).status,
    ).toBe(200);
  });

  it('measures after the next start what it was measuring when it was killed', async () => {
    const first = await start();
    const origin = `http://127.0.0.1:${port}`;
    const teacher = new Visitor(origin);
    const own = { displayName: 'Ana', signInName: 'ana', password: PASSWORD };
    await teacher.ask('POST', '/api/first-teacher', own);
    const { body: made } = await teacher.ask<{ id: string }>('POST', '/api/classes', {
      name: 'Evening',
      subject: 'language',
    });
    const item = blankItem(randomUUID(), 'homework', { promptText: 'Tell it all.', answerLimitMs: 900_000 });
    const { body: assessment } = await teacher.ask<{ id: string }>(
      'POST',
      '/api/assessments',
      blankContent('homework', { title: 'Long', items: [item] }),
    );
    const { body: release } = await teacher.ask<{ id: string }>('POST', '/api/releases', {
      assessmentId: assessment.id,
      classId: made.id,
      dueAt: new Date(Date.now() + 3_600_000).toISOString(),
      lateAccepted: true,
      note: '',
    });
    await teacher.ask('POST', `/api/classes/${made.id}/students`, {
      displayName: 'Rui',
      signInName: 'rui',
      password: PASSWORD,
    });
    const student = await new Visitor(origin).signIn('rui');
    const { body: sitting } = await student.ask<{ id: string }>(
      'POST',
      `/api/releases/${release.id}/sitting`,
    );
    // Four minutes take a second or more to measure: long enough to be killed in the middle of it.
    const file = join(data, 'long.flac');
    spawnSync('ffmpeg', ['-nostdin', '-v', 'error', '-f', 'lavfi', '-i', 'sine=d=240', file]);
    const { recordingId } = await recordTake(student, sitting.id, item.id, readFileSync(file));
    const state = async () =>
      (await teacher.ask<{ state: string }>('GET', `/api/takes/${recordingId}/evidence`)).body.state;
    while (!commandsUnder(first.child.pid!).some(c => c.includes('pcm_f32le')))
      expect(await state()).toBe('measuring');
    await ended(first.child, 'SIGKILL');
    await start();
    expect(await state()).toBe('measuring');
    while ((await state()) === 'measuring') await new Promise(resolve => setTimeout(resolve, 100));
    expect(await state()).toBe('measured');
    // Nobody else of this machine hears what is kept: neither originals nor what is made of them.
    const kept = readdirSync(join(data, 'sounds'), { recursive: true, withFileTypes: true });
    expect(kept.filter(k => k.isFile()).length).toBeGreaterThan(2);
    for (const k of [...kept.map(k => join(k.parentPath, k.name)), data])
      expect([k, statSync(k).mode & 0o077]).toEqual([k, 0]);
  });

  it('says what to do when the port is taken, and leaves no database behind', async () => {
    const other = createServer();
    await new Promise<void>(resolve => other.listen(port, '127.0.0.1', resolve));
    await expect(start()).rejects.toThrow(new RegExp(`Port ${port} is taken.*ECOUTE_PORT=${port + 1}`));
    const pid = databasePid();
    expect(pid !== null && alive(pid)).toBe(false);
    await new Promise(resolve => other.close(resolve));
  });

  it('speaks HTTPS with a certificate from the environment, with cookies for HTTPS only', async () => {
    const [cert, key] = [join(data, 'cert.pem'), join(data, 'key.pem')];
    const made = spawnSync('openssl', [
      'req',
      '-x509',
      '-newkey',
      'rsa:2048',
      '-nodes',
      '-days',
      '2',
      '-subj',
      '/CN=localhost',
      '-keyout',
      key,
      '-out',
      cert,
    ]);
    expect(made.status).toBe(0);
    const { out } = await start({ ECOUTE_TLS_CERT: cert, ECOUTE_TLS_KEY: key });
    expect(out).toContain(`https://127.0.0.1:${port}`);
    const headers = await new Promise<Record<string, unknown>>((resolve, reject) =>
      https
        .get({ port, host: '127.0.0.1', path: '/api/health', rejectUnauthorized: false }, response =>
          resolve(response.headers),
        )
        .on('error', reject),
    );
    expect(headers['strict-transport-security']).toBeDefined();
  });
});
