/**
 * Ecoute's own MariaDB: its own data folder, port and socket on loopback, never the system's instance.
 * A server left over from a killed run is found by its pid file and taken over.
 */
import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import type { Config } from './config';

const DATABASE = 'ecoute';

export interface OwnDatabase {
  config: Config['database'];
  /** It was running already: another program of this data folder uses it. */
  wasRunning: boolean;
  pid: number;
  /** Starts the server again whenever its process is gone, until `stop`. @param told called with what happened */
  watch(told: (words: string) => void): void;
  /** Shuts the server down and waits until its process is gone. */
  stop(): Promise<void>;
}

/** Looked after the process this often. */
const WATCH_MS = 500;
/** A server that ends again and again is started again more and more slowly. */
const LONGEST_PAUSE_MS = 30_000;

interface Settings {
  port: number;
  password: string;
  /** Its accounts may come by its socket; a server that an older Ecoute started knows none of that. */
  bySocket?: boolean;
}

function program(...names: string[]): string {
  for (const name of names)
    for (const folder of [...(process.env.PATH ?? '').split(':'), '/usr/sbin', '/usr/bin'])
      if (folder && existsSync(join(folder, name))) return join(folder, name);
  throw new Error(`${names[0]} is not installed. Install it with: apt-get install mariadb-server`);
}

async function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });
}

function alive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** The pid of a database server that runs on this very folder, or null. */
function runningPid(pidFile: string, dbDir: string): number | null {
  if (!existsSync(pidFile)) return null;
  const pid = Number(readFileSync(pidFile, 'utf8').trim());
  if (!pid || !alive(pid)) return null;
  try {
    // Another program may have been given the same number since.
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(dbDir) ? pid : null;
  } catch {
    return null;
  }
}

/**
 * Starts (or takes over) the database server of a data folder.
 * @param dataDir Ecoute's data folder; the database lives in `db` beneath it
 * @param forTests fast instead of safe, and with as many schemas as there are processes that test
 * @throws Error with the tail of the server's own log when it does not come up
 */
export async function startMariaDb(
  dataDir: string,
  { forTests = false }: { forTests?: boolean } = {},
): Promise<OwnDatabase> {
  const dbDir = join(dataDir, 'db');
  const logFile = join(dataDir, 'mariadb.log');
  const pidFile = join(dataDir, 'mariadb.pid');
  const settingsFile = join(dataDir, 'database.json');
  // Socket paths may not exceed 107 characters, data folders may.
  const socketDir = join(
    tmpdir(),
    `ecoute-${userInfo().uid}-${createHash('sha256').update(dbDir).digest('hex').slice(0, 12)}`,
  );
  mkdirSync(socketDir, { recursive: true, mode: 0o700 });
  mkdirSync(dataDir, { recursive: true });
  const asRoot = userInfo().uid === 0 ? ['--user=root'] : [];

  if (!existsSync(join(dbDir, 'mysql'))) {
    rmSync(dbDir, { recursive: true, force: true });
    const made = spawnSync(
      program('mariadb-install-db', 'mysql_install_db'),
      [
        '--no-defaults',
        `--datadir=${dbDir}`,
        '--skip-test-db',
        '--auth-root-authentication-method=socket',
        `--auth-root-socket-user=${userInfo().username}`,
        ...asRoot,
      ],
      { encoding: 'utf8' },
    );
    if (made.status !== 0)
      throw new Error(`The database folder ${dbDir} could not be made:\n${made.stdout}\n${made.stderr}`);
  }

  let settings: Settings = existsSync(settingsFile)
    ? (JSON.parse(readFileSync(settingsFile, 'utf8')) as Settings)
    : { port: 0, password: randomBytes(24).toString('hex') };
  const configOf = (s: Settings): Config['database'] => ({
    host: '127.0.0.1',
    port: s.port,
    // On one machine the network is a way round: every question by its socket costs both sides less.
    ...(s.bySocket && { socketPath: join(socketDir, 'db.sock') }),
    user: DATABASE,
    password: s.password,
    database: DATABASE,
  });

  const launch = (): number | null => {
    const initFile = join(dataDir, 'database-init.sql');
    const accounts = ['127.0.0.1', 'localhost'].map(host => `'${DATABASE}'@'${host}'`);
    writeFileSync(
      initFile,
      [
        `CREATE DATABASE IF NOT EXISTS ${DATABASE} CHARACTER SET utf8mb4;`,
        ...accounts.flatMap(account => [
          `CREATE USER IF NOT EXISTS ${account} IDENTIFIED BY '${settings.password}';`,
          `ALTER USER ${account} IDENTIFIED BY '${settings.password}';`,
          `GRANT ALL ON ${DATABASE}.* TO ${account};`,
          ...(forTests ? [`GRANT ALL ON \`${DATABASE}\\_%\`.* TO ${account};`] : []),
        ]),
      ].join('\n') + '\n',
      { mode: 0o600 },
    );
    const out = openSync(logFile, 'a');
    // A group of its own: Ctrl-C reaches Ecoute first, which ends the database after its last write.
    const child = spawn(
      program('mariadbd', 'mysqld'),
      [
        '--no-defaults',
        `--datadir=${dbDir}`,
        `--socket=${join(socketDir, 'db.sock')}`,
        `--pid-file=${pidFile}`,
        `--port=${settings.port}`,
        '--bind-address=127.0.0.1',
        '--skip-name-resolve',
        '--skip-log-bin',
        '--character-set-server=utf8mb4',
        '--collation-server=utf8mb4_unicode_ci',
        ...(forTests
          ? ['--innodb-flush-log-at-trx-commit=0', '--skip-innodb-doublewrite']
          : ['--innodb-flush-log-at-trx-commit=1']),
        '--innodb-buffer-pool-size=256M',
        // A list of people of 20 MB is one value.
        '--max-allowed-packet=128M',
        `--init-file=${initFile}`,
        ...asRoot,
      ],
      { detached: true, stdio: ['ignore', out, out] },
    );
    child.unref();
    return child.pid ?? null;
  };

  let pid = runningPid(pidFile, dbDir);
  const wasRunning = pid !== null;
  if (pid === null) {
    settings = { ...settings, port: await freePort(), bySocket: true };
    writeFileSync(settingsFile, JSON.stringify(settings), { mode: 0o600 });
    pid = launch();
  }
  if (pid === null) throw new Error('The database server could not be started.');
  let ownPid = pid;
  await untilAnswering(configOf(settings), ownPid, logFile);

  let stopping = false;
  let watching: NodeJS.Timeout | null = null;
  return {
    config: configOf(settings),
    wasRunning,
    get pid() {
      return ownPid;
    },
    watch(told) {
      let failures = 0;
      const checkAlive = async () => {
        if (stopping) return;
        let nextMs = WATCH_MS;
        if (!alive(ownPid)) {
          told('The database ended. It is started again; nothing that was confirmed is lost.');
          try {
            // On the same port: everybody who is connected to it comes back by themselves.
            ownPid = runningPid(pidFile, dbDir) ?? launch() ?? ownPid;
            await untilAnswering(configOf(settings), ownPid, logFile);
            failures = 0;
            told('The database is back.');
          } catch (error) {
            failures += 1;
            nextMs = Math.min(LONGEST_PAUSE_MS, 1_000 * 2 ** failures);
            told((error as Error).message);
          }
        }
        if (!stopping) watching = setTimeout(() => void checkAlive(), nextMs);
      };
      void checkAlive();
    },
    async stop() {
      stopping = true;
      if (watching) clearTimeout(watching);
      if (!alive(ownPid)) return;
      process.kill(ownPid, 'SIGTERM');
      for (let i = 0; i < 300 && alive(ownPid); i++) await pause(100);
    },
  };
}

function pause(ms: number): Promise<void> {
  return new Promise(resolve => setTimeout(resolve, ms));
}

async function untilAnswering(config: Config['database'], pid: number, logFile: string): Promise<void> {
  const deadline = Date.now() + 60_000;
  for (;;) {
    try {
      const connection = await mysql.createConnection({ ...config, connectTimeout: 1_000 });
      await connection.query('SELECT 1');
      await connection.end();
      return;
    } catch (error) {
      if (!alive(pid) || Date.now() > deadline) {
        const tail = existsSync(logFile)
          ? readFileSync(logFile, 'utf8').split('\n').slice(-15).join('\n')
          : '';
        throw new Error(
          `The database did not start (${(error as Error).message}). Its log, ${logFile}, ends:\n${tail}`,
          { cause: error },
        );
      }
      await pause(100);
    }
  }
}
