/** What `./ecoute` starts once packages are installed and the code is built. */
import { randomBytes } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import { availableParallelism } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { demoSignIns, loadDemoWorld } from '../demo/load';
import { demoSchool } from '../demo/world';
import { createEcoute, type Ecoute } from './app';
import { examine } from './capabilities/administration/doctor/service';
import { findBySignInName } from './capabilities/people/store';
import { MAILBOX, dataDir, portOf, proxiesOf, quotasOf, tlsOf, type Config } from './platform/config';
import { migrate, openPool } from './platform/database';
import { startMariaDb } from './platform/mariadb';
import type { Task, Worker } from './worker';

const here = dirname(fileURLToPath(import.meta.url));
const root = resolve(here, '../..');
const say = (text: string) => process.stdout.write(`${text}\n`);

/** A secret that outlives restarts, so that people stay signed in. */
function sessionSecret(folder: string): string {
  const file = join(folder, 'session-secret');
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

/** How this Ecoute is set up, from the environment, over its database. @throws Error with the next step when it is not */
function configOf(folder: string): Omit<Config, 'database'> {
  const [port, tls] = [portOf(), tlsOf()];
  const host = process.env.ECOUTE_HOST ?? '127.0.0.1';
  const from = process.env.ECOUTE_MAIL_FROM ?? 'Ecoute <ecoute@localhost>';
  return {
    port,
    host,
    dataDir: folder,
    tls,
    webDir: join(root, 'build/web'),
    sessionSecret: sessionSecret(folder),
    proxies: proxiesOf(),
    quotas: quotasOf(),
    relaxedLimits: process.env.ECOUTE_RELAXED_LIMITS === '1',
    baseUrl: (process.env.ECOUTE_URL ?? `${tls ? 'https' : 'http'}://${host}:${port}`).replace(/\/+$/, ''),
    mail: process.env.ECOUTE_SMTP_URL ? { url: process.env.ECOUTE_SMTP_URL, from } : null,
    showsMailbox: false,
    simulatedSchool: null,
  };
}

/** Recordings are for nobody else on this machine. */
function ownFolder(): string {
  const folder = dataDir();
  process.umask(0o077);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  chmodSync(folder, 0o700);
  return folder;
}

async function serve(demo: boolean): Promise<void> {
  const folder = ownFolder();
  const settings = configOf(folder);
  const { port, tls } = settings;
  const database = await startMariaDb(folder);
  // What measures is quick once it has run a while: those threads are kept for it, and for some minutes. A film that is copied
  // for half an hour holds one of them, and never one of those that look.
  const threads = (maxThreads: number, minThreads: number) =>
    new Piscina({ filename: join(here, 'worker.mjs'), minThreads, maxThreads, idleTimeout: 5 * 60_000 });
  const processors = Math.max(2, Math.min(8, availableParallelism()));
  // Beside looks: what is cut, drawn, joined or read. Somebody waits for a look: two threads are always there for it.
  const [looking, heavy] = [threads(processors + 4, 2), threads(processors, 0)];
  let ecoute: Ecoute | null = null;
  let server: http.Server | https.Server | null = null;

  let stopping = false;
  const stop = async (code: number) => {
    if (stopping) return;
    stopping = true;
    ecoute?.changes.close();
    ecoute?.rights.close();
    server?.close();
    server?.closeAllConnections();
    // What is under way is waited for a moment; then its worker ends, the programs that it asked with it, and the job
    // is free for the next start.
    await ecoute?.jobs.stop();
    await Promise.all([looking.destroy(), heavy.destroy()]);
    await ecoute?.jobs.letGo();
    await ecoute?.watch.stop();
    await ecoute?.pool.end().catch(() => undefined);
    await database.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop(0));

  try {
    const config: Config = { ...settings, database: database.config };
    await migrate(config.database, join(root, 'server/migrations'));
    const pool = openPool(config.database);
    if (demo && !config.mail) {
      config.mail = { url: MAILBOX, from: 'Ecoute <ecoute@localhost>' };
      config.showsMailbox = true;
    }
    if (demo) config.simulatedSchool = demoSchool();
    const worker = ((task: Task) =>
      (task.kind === 'measureTake' || task.kind === 'makePlayable' ? heavy : looking).run(task)) as Worker;
    ecoute = await createEcoute(config, pool, worker);
    if (demo && (await loadDemoWorld(pool, ecoute.recordings, join(root, 'demo'))))
      say('The demo world is loaded.');
    server = tls ? https.createServer(tls, ecoute.listener) : http.createServer(ecoute.listener);
    // A megabyte on a slow line takes its time; what nobody goes on with is ended.
    server.headersTimeout = 30_000;
    server.requestTimeout = 10 * 60_000;
    server.timeout = 5 * 60_000;
    server.keepAliveTimeout = 20_000;
    await new Promise<void>((done, failed) => {
      server!.once('error', (error: NodeJS.ErrnoException) =>
        failed(
          error.code === 'EADDRINUSE'
            ? new Error(
                `Port ${port} is taken by another program. Choose another: ECOUTE_PORT=${port + 1} ./ecoute …`,
              )
            : error,
        ),
      );
      server!.listen(port, config.host, done);
    });
    ecoute.jobs.start();
    database.watch(words => process.stderr.write(`${words}\n`));
    say(`\nEcoute is open at ${tls ? 'https' : 'http'}://${config.host}:${port}`);
    if (demo) say(`\n${demoSignIns()}`);
    say('\nCtrl-C stops it.');
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`);
    await stop(1);
  }
}

/** Work on an Ecoute from its own machine, beside the running one or while it is stopped. */
async function aside(work: (ecoute: Ecoute, folder: string) => Promise<number>): Promise<void> {
  const folder = dataDir();
  if (!existsSync(folder))
    throw new Error(`There is no Ecoute in ${folder}. ECOUTE_DATA names its data folder.`);
  ownFolder();
  const database = await startMariaDb(folder);
  let code: number;
  try {
    const config: Config = { ...configOf(folder), database: database.config };
    await migrate(config.database, join(root, 'server/migrations'));
    const ecoute = await createEcoute(config, openPool(config.database), () =>
      Promise.reject(new Error('Nothing is measured from here.')),
    );
    try {
      code = await work(ecoute, folder);
    } finally {
      await ecoute.watch.stop();
      await ecoute.pool.end().catch(() => undefined);
    }
  } finally {
    // The running one goes on with its database.
    if (!database.wasRunning) await database.stop();
  }
  process.exit(code);
}

/** `./ecoute doctor [--mend]`: ends with 0 when nothing is (left) to be done. */
function doctor(): Promise<void> {
  const mends = process.argv.includes('--mend');
  return aside(async (ecoute, folder) => {
    const told = process.stderr.isTTY
      ? (words: string) => process.stderr.write(`\r${words} `)
      : () => undefined;
    const { found, left } = await examine({ ...ecoute, dataDir: folder }, mends, say, told);
    say(
      found === 0
        ? '\nEverything is as it should be.'
        : `\n${found} found, ${found - left} mended, ${left} left.`,
    );
    return left === 0 ? 0 : 1;
  });
}

/** `./ecoute code NAME`: a one-time code for whoever cannot sign in any more, also for the last administrator. */
function code(): Promise<void> {
  return aside(async ({ pool, people }) => {
    const name = process.argv.slice(3).join(' ').trim();
    const person = name ? await findBySignInName(pool, name) : null;
    if (!person) {
      process.stderr.write(
        name ? `Nobody signs in here as "${name}".\n` : 'Say for whom, by sign-in name: ./ecoute code NAME\n',
      );
      return 1;
    }
    const { code: made, expiresAt } = await people.codeFromServer(person.id);
    say(`${person.displayName} opens ${people.firstAddress} and types this code: ${made}`);
    say(`It works once, until ${expiresAt.slice(0, 10)}. What they used until now works until then.`);
    return 0;
  });
}

/** A bare database for tests: prints its address as JSON, lives until it is told to stop. */
async function database(): Promise<void> {
  const own = await startMariaDb(dataDir(), { forTests: true });
  say(JSON.stringify(own.config));
  const stop = () => void own.stop().then(() => process.exit(0));
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  setInterval(() => undefined, 60_000);
}

const command = process.argv[2];
const commands: Record<string, () => Promise<void>> = {
  demo: () => serve(true),
  start: () => serve(false),
  doctor,
  code,
  database,
};
const chosen = command ? commands[command] : undefined;
if (!chosen) {
  process.stderr.write('Say one of: demo, start, doctor, code, database.\n');
  process.exit(2);
}
chosen().catch((error: Error) => {
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
});
