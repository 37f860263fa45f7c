// A developer's day: server and interface from their sources, each again when a file changes. Ctrl-C ends both.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { createServer } from 'vite';
import { buildAlways } from './build.mjs';

const root = join(import.meta.dirname, '..');
const port = process.env.ECOUTE_PORT ?? '4310';
let server = null;
let ending = false;

/** Starts the server, or starts it again with what was built last; the database is taken over. */
async function serve() {
  const before = server;
  server = null;
  if (before) await ended(before);
  if (ending) return;
  const child = spawn(process.execPath, ['--enable-source-maps', 'build/server/cli.mjs', 'demo'], {
    cwd: root,
    env: { ...process.env, ECOUTE_PORT: port },
    stdio: 'inherit',
  });
  server = child;
  child.once('exit', code => {
    if (server === child && !ending)
      process.stdout.write(`The server ended (${code}). It starts again with the next change.\n`);
  });
}

function ended(child) {
  return new Promise(resolve => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('exit', resolve);
    child.kill('SIGTERM');
  });
}

let turn = Promise.resolve();
await buildAlways(() => (turn = turn.then(serve)));

const vite = await createServer({
  root: join(root, 'web'),
  configFile: join(root, 'web/vite.config.ts'),
  server: { port: 4311, proxy: { '/api': { target: `http://127.0.0.1:${port}` } } },
});
await vite.listen();
process.stdout.write(
  '\nWork at http://localhost:4311: pages change as you save, the server starts again.\n\n',
);

for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, async () => {
    ending = true;
    await vite.close();
    if (server) await ended(server);
    process.exit(0);
  });
