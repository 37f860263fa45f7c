/** What `./ecoute` starts once packages are installed and the code is built. */
import { randomBytes } from 'node:crypto';
import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { demoSignIns, loadDemoWorld } from '../demo/load';
import { createEcoute, type Ecoute } from './app';
import type { Worker } from './capabilities/recordings/service';
import type { Task } from './capabilities/recordings/worker';
import { dataDir, portOf, proxiesOf, quotasOf, tlsOf, type Config } from './platform/config';
import { migrate, openPool } from './platform/database';
import { openMailbox } from './platform/mail/mailbox';
import { startMariaDb } from './platform/mariadb';

const here = dirname(fileURLToPath(import.meta.url));
const root = resolve(here, '../..');
const say = (text: string) => process.stdout.write(`${text}\n`);

/** A secret that outlives restarts, so that people stay signed in. */
function sessionSecret(folder: string): string {
  const file = join(folder, 'session-secret');
  if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
  return readFileSync(file, 'utf8');
}

async function serve(demo: boolean): Promise<void> {
  const folder = dataDir();
  const port = portOf();
  const tls = tlsOf();
  const host = process.env.ECOUTE_HOST ?? '127.0.0.1';
  const from = process.env.ECOUTE_MAIL_FROM ?? 'Ecoute <ecoute@localhost>';
  let mailbox: Awaited<ReturnType<typeof openMailbox>> | null = null;
  const proxies = proxiesOf();
  const quotas = quotasOf();
  // Recordings are for nobody else on this machine.
  process.umask(0o077);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  chmodSync(folder, 0o700);
  const database = await startMariaDb(folder);
  const piscina = new Piscina({ filename: join(here, 'worker.mjs'), maxThreads: 4, idleTimeout: 30_000 });
  let ecoute: Ecoute | null = null;
  let server: http.Server | https.Server | null = null;

  let stopping = false;
  const stop = async (code: number) => {
    if (stopping) return;
    stopping = true;
    ecoute?.changes.close();
    server?.close();
    server?.closeAllConnections();
    // What is under way is waited for a moment; then its worker ends, the programs that it asked with it, and the job
    // is free for the next start.
    await ecoute?.jobs.stop();
    await mailbox?.close();
    await piscina.destroy();
    await ecoute?.jobs.letGo();
    await ecoute?.watch.stop();
    await ecoute?.pool.end().catch(() => undefined);
    await database.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop(0));

  try {
    const config: Config = {
      port,
      host,
      dataDir: folder,
      database: database.config,
      tls,
      webDir: join(root, 'build/web'),
      sessionSecret: sessionSecret(folder),
      proxies,
      quotas,
      relaxedLimits: process.env.ECOUTE_RELAXED_LIMITS === '1',
      baseUrl: (process.env.ECOUTE_URL ?? `${tls ? 'https' : 'http'}://${host}:${port}`).replace(/\/+$/, ''),
      mail: process.env.ECOUTE_SMTP_URL ? { url: process.env.ECOUTE_SMTP_URL, from } : null,
      showsMailbox: false,
    };
    await migrate(config.database, join(root, 'server/migrations'));
    const pool = openPool(config.database);
    if (demo && !config.mail) {
      mailbox = await openMailbox(pool);
      config.mail = { url: mailbox.url, from };
      config.showsMailbox = true;
    }
    const worker = ((task: Task) => piscina.run(task)) as Worker;
    ecoute = await createEcoute(config, pool, worker);
    if (demo && (await loadDemoWorld(pool, ecoute.recordings, join(root, 'demo'))))
      say('The demo world is loaded.');
    server = tls ? https.createServer(tls, ecoute.app) : http.createServer(ecoute.app);
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

/** A bare database for tests: prints its address as JSON, lives until it is told to stop. */
async function database(): Promise<void> {
  const own = await startMariaDb(dataDir());
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
  database,
};
const chosen = command ? commands[command] : undefined;
if (!chosen) {
  process.stderr.write('Say one of: demo, start, database.\n');
  process.exit(2);
}
chosen().catch((error: Error) => {
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
});
