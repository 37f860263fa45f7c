// All tests in one run: lint and types, Jest on its own database, Playwright on its own Ecoute. Ends with one
// line, `N passed, N failed`, and an exit code to match.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const root = join(import.meta.dirname, '../..');
const scratch = mkdtempSync(join(tmpdir(), 'ecoute-test-'));
const results = join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

let passed = 0;
let failed = 0;
const children = new Set();

function freePort() {
  return new Promise((resolve, reject) => {
    const probe = createServer().once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}

/** Runs a program to its end, its output shown as it comes. */
function run(name, program, args, env = {}) {
  process.stdout.write(`\n── ${name}\n`);
  const began = Date.now();
  const done = spawnSync(program, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
  process.stdout.write(`   ${name}: ${Math.round((Date.now() - began) / 1000)} s\n`);
  return done.status === 0;
}

function count(ok) {
  if (ok) passed += 1;
  else failed += 1;
}

/** Starts a part of Ecoute that stays; resolves with the first output that matches. */
function start(args, env, pattern) {
  return new Promise((resolve, reject) => {
    const child = spawn('node', ['--enable-source-maps', 'build/server/cli.mjs', ...args], {
      cwd: root,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    children.add(child);
    let out = '';
    const read = chunk => {
      out += chunk;
      const match = pattern.exec(out);
      if (match) resolve({ child, match });
    };
    child.stdout.on('data', read);
    child.stderr.on('data', chunk => {
      process.stderr.write(chunk);
      read(chunk);
    });
    child.once('exit', code => {
      children.delete(child);
      reject(new Error(`It ended with ${code}:\n${out}`));
    });
  });
}

function end(child) {
  return new Promise(resolve => {
    if (child.exitCode !== null) return resolve();
    child.removeAllListeners('exit');
    child.once('exit', resolve);
    child.kill('SIGTERM');
  });
}

try {
  const bin = name => join(root, 'node_modules/.bin', name);
  for (const project of ['core/tsconfig.json', 'tsconfig.json', 'web/tsconfig.json'])
    count(run(`types: ${project}`, bin('tsc'), ['-p', project]));
  count(run('lint', bin('eslint'), ['.', '--max-warnings', '0']));
  count(run('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']));

  const database = await start(['database'], { ECOUTE_DATA: join(scratch, 'jest') }, /(\{.*\})\s/);
  const jestFile = join(results, 'jest.json');
  run('Jest', bin('jest'), ['--json', `--outputFile=${jestFile}`, '--runInBand', '--forceExit'], {
    ECOUTE_TEST_DATABASE: database.match[1],
  });
  await end(database.child);
  if (existsSync(jestFile)) {
    const jest = JSON.parse(readFileSync(jestFile, 'utf8'));
    passed += jest.numPassedTests;
    failed += jest.numFailedTests + jest.numRuntimeErrorTestSuites;
  } else failed += 1;

  const port = await freePort();
  const data = join(scratch, 'e2e');
  await start(
    ['demo'],
    { ECOUTE_DATA: data, ECOUTE_PORT: String(port), ECOUTE_RELAXED_LIMITS: '1' },
    /Ecoute is open at (\S+)/,
  );
  run('Playwright', bin('playwright'), ['test'], {
    ECOUTE_URL: `http://127.0.0.1:${port}`,
    ECOUTE_E2E_DATA: data,
  });
  const report = join(results, 'playwright.json');
  if (existsSync(report)) {
    const { stats } = JSON.parse(readFileSync(report, 'utf8'));
    passed += stats.expected;
    failed += stats.unexpected + stats.flaky;
  } else failed += 1;
} catch (error) {
  process.stderr.write(`${error.message}\n`);
  failed += 1;
} finally {
  await Promise.all([...children].map(end));
  rmSync(scratch, { recursive: true, force: true });
}

process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
