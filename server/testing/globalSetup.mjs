import { spawn } from 'node:child_process';
import { scratchFolder } from './scratch.mjs';

/** Server tests need a real MariaDB: the one that `./ecoute test` started, or one of their own for a lone `jest`. */
export default async function setup() {
  if (process.env.ECOUTE_TEST_DATABASE) return;
  const data = scratchFolder('ecoute-jest-');
  const child = spawn('node', ['build/server/cli.mjs', 'database'], {
    env: { ...process.env, ECOUTE_DATA: data },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  process.env.ECOUTE_TEST_DATABASE = await new Promise((resolve, reject) => {
    child.stdout.once('data', chunk => resolve(String(chunk).trim()));
    child.once('exit', code =>
      reject(new Error(`The test database ended with ${code}. Run ./ecoute test once first.`)),
    );
  });
  globalThis.ecouteTestDatabase = child;
}
