// All tests in one run: the quick checks side by side, then Jest, then the journeys, each with the whole machine (side by
// side they only take each other's time). Ends with the slowest tests and one line, `N passed, N failed`, and an exit code to match.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { createInterface } from 'node:readline';
import { stripVTControlCharacters } from 'node:util';
import { scratchFolder } from '../../server/testing/scratch.mjs';

const SLOWEST = 20;
const root = join(import.meta.dirname, '../..');
const scratch = scratchFolder('ecoute-test-');
const results = join(root, 'test-results');
rmSync(results, { recursive: true, force: true });
mkdirSync(results, { recursive: true });

let passed = 0;
let failed = 0;
/** What was begun and has not ended. */
const children = new Set();
/** [seconds, what] of each test. */
const times = [];
/** The journeys that went well only when they were tried again. */
const again = [];
/** What failed, with the first lines of why: said last, where a long output is still read. */
const failures = [];
const WHY_LINES = 12;

/** @param why as the test runner says it, with colours */
function fail(what, why = '') {
  failed += 1;
  const lines = stripVTControlCharacters(why)
    .split('\n')
    .filter(line => line.trim());
  failures.push([what, ...lines.slice(0, WHY_LINES).map(line => `    ${line}`)].join('\n'));
}

const bin = name => join(root, 'node_modules/.bin', name);

function freePort() {
  return new Promise((resolve, reject) => {
    const probe = createServer().once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}

/** Starts a program; what it says is shown line by line, with whose line it is. */
function begin(name, program, args, { env = {} } = {}) {
  const child = spawn(program, args, {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  children.add(child);
  child.once('exit', () => children.delete(child));
  for (const stream of [child.stdout, child.stderr])
    createInterface({ input: stream }).on('line', line => {
      if (line.trim()) process.stdout.write(`${name.padEnd(10)} ${line}\n`);
    });
  return child;
}

/** Runs a program to its end. @returns whether it went well */
async function run(name, program, args, options) {
  const began = Date.now();
  const child = begin(name, program, args, options);
  const code = await new Promise(resolve => {
    child.once('error', resolve);
    child.once('exit', resolve);
  });
  process.stdout.write(`── ${name}: ${code === 0 ? 'good' : 'FAILED'}, ${since(began)}\n`);
  return code === 0;
}

const since = began => `${Math.round((Date.now() - began) / 1000)} s`;

async function check(name, program, args) {
  if (await run(name, program, args)) passed += 1;
  else fail(name);
}

/** Starts a part of Ecoute that stays; resolves with the first output that matches. */
function start(args, env, pattern) {
  return new Promise((resolve, reject) => {
    const child = begin(args[0], 'node', ['--enable-source-maps', 'build/server/cli.mjs', ...args], {
      env,
    });
    let out = '';
    const read = chunk => {
      out += chunk;
      const match = pattern.exec(out);
      if (match) resolve({ child, match });
    };
    child.stdout.on('data', read);
    child.once('exit', code => reject(new Error(`It ended with ${code}:\n${out}`)));
  });
}

function end(child) {
  return new Promise(resolve => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('exit', resolve);
    child.kill('SIGTERM');
  });
}

async function checks() {
  const types = async () => {
    await check('types', 'npm', ['run', '--silent', 'types']);
    await check('rooms', 'npm', ['run', '--silent', 'rooms']);
    await check('weight', 'node', ['web/budget.mjs']);
    await check('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
  };
  await Promise.all([types(), check('lint', bin('eslint'), ['.', '--max-warnings', '0'])]);
}

async function jest() {
  const database = await start(['database'], { ECOUTE_DATA: join(scratch, 'jest') }, /(\{.*\})\s/);
  const report = join(results, 'jest.json');
  const files = join(scratch, 'files');
  mkdirSync(files);
  await run(
    'jest',
    bin('jest'),
    ['--json', `--outputFile=${report}`, '--maxWorkers=2', '--forceExit', '--colors=false'],
    { env: { ECOUTE_TEST_DATABASE: database.match[1], TMPDIR: files } },
  );
  await end(database.child);
  if (!existsSync(report)) return fail('jest: it left no report');
  const told = JSON.parse(readFileSync(report, 'utf8'));
  passed += told.numPassedTests;
  for (const file of told.testResults) {
    const name = file.name.replace(`${root}/`, '');
    for (const test of file.assertionResults) {
      times.push([(test.duration ?? 0) / 1000, `${name}: ${test.title}`]);
      if (test.status === 'failed') fail(`${name}: ${test.fullName}`, test.failureMessages.join('\n'));
    }
    // A file that ended before or beside its tests.
    if (file.status === 'failed' && !file.assertionResults.some(test => test.status === 'failed'))
      fail(name, file.message);
  }
}

async function journeys() {
  const port = await freePort();
  const data = join(scratch, 'e2e');
  const settings = { ECOUTE_DATA: data, ECOUTE_PORT: String(port), ECOUTE_RELAXED_LIMITS: '1' };
  const demo = await start(['demo'], settings, /Ecoute is open at (\S+)/);
  const env = { ECOUTE_URL: `http://127.0.0.1:${port}`, ECOUTE_E2E_DATA: data };
  // What needs a quiet machine has it to itself.
  const parts = { together: ['--grep-invert', '@alone'], alone: ['--grep', '@alone', '--workers', '1'] };
  for (const [part, args] of Object.entries(parts)) {
    const ECOUTE_JOURNEY_RESULTS = join(results, part);
    await run('journeys', bin('playwright'), ['test', ...args], { env: { ...env, ECOUTE_JOURNEY_RESULTS } });
    countJourneys(`${ECOUTE_JOURNEY_RESULTS}.json`);
  }
  await end(demo.child);
}

/** Adds up what one run of journeys reported. */
function countJourneys(report) {
  if (!existsSync(report)) return fail(`journeys: they left no report at ${report}`);
  const { stats, suites, errors } = JSON.parse(readFileSync(report, 'utf8'));
  passed += stats.expected + stats.flaky;
  const before = failed;
  const walk = (suite, file) => {
    for (const spec of suite.specs ?? [])
      for (const { status, results: tries } of spec.tests) {
        times.push([tries.reduce((sum, r) => sum + r.duration, 0) / 1000, `e2e/${file}: ${spec.title}`]);
        if (status === 'flaky') again.push(`e2e/${file}: ${spec.title}`);
        if (status === 'unexpected') fail(`e2e/${file}: ${spec.title}`, tries.at(-1)?.error?.message);
      }
    for (const inner of suite.suites ?? []) walk(inner, file);
  };
  for (const suite of suites) walk(suite, suite.file);
  // What ended outside of every journey.
  const others = stats.unexpected - (failed - before);
  if (others > 0 || errors?.length) fail('journeys', errors?.map(e => e.message).join('\n'));
}

const began = Date.now();
for (const part of [checks, jest, journeys])
  try {
    await part();
  } catch (error) {
    process.stderr.write(`${error.message}\n`);
    fail(part.name, error.message);
  }
await Promise.all([...children].map(end));
rmSync(scratch, { recursive: true, force: true });

process.stdout.write(`\nThe slowest of ${times.length}, in seconds:\n`);
for (const [seconds, what] of times.sort((a, b) => b[0] - a[0]).slice(0, SLOWEST))
  process.stdout.write(`${seconds.toFixed(1).padStart(7)}  ${what}\n`);
for (const what of again) process.stdout.write(`Went well only at the second try, look into it: ${what}\n`);
for (const what of failures) process.stdout.write(`\nFAILED: ${what}\n`);
process.stdout.write(`All in ${since(began)}.\n\n${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
