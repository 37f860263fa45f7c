/* global document, location, HTMLInputElement */
// ./ecoute test engines: the whole way of a student in the other two families of engines, from signing in to the feedback, through
// a sound card of its own. What was recorded is decoded and held against the clock.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { visitor } from '../../bench/visitor.mjs';
import { firefox } from './firefox.mjs';
import { webkit } from './webkit.mjs';

const root = join(import.meta.dirname, '../..');
const PASSWORD = 'harbour-lights';
const SPOKEN_MS = 10_000;
/** So much of an answer may be missing in its recording. In ms. */
const MAY_MISS_MS = 150;
/** The engines' own microphones beep once a second. */
const BEEPS_MS = 1_200;

const scratch = mkdtempSync(join(tmpdir(), 'ecoute-engines-'));
const data = join(scratch, 'data');
const card = join(scratch, 'card');
mkdirSync(card);
chmodSync(card, 0o700);
const env = { ...process.env, XDG_RUNTIME_DIR: card, DISPLAY: ':78' };
const base = `http://127.0.0.1:${20_001 + (process.pid % 20_000)}`;
const failures = [];
let passed = 0;
const check = (name, holds, found = '') => {
  if (holds) passed += 1;
  else failures.push(`${name} ${found}`);
  console.log(`  ${holds ? 'passed' : 'FAILED'}  ${name} ${found}`);
};

const outfile = join(scratch, 'blank.mjs');
await build({
  entryPoints: [join(root, 'contract/blank.ts')],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
});
const { blankContent, blankItem, blankMusic } = await import(outfile);

async function started() {
  const server = spawn('node', ['build/server/cli.mjs', 'demo'], {
    cwd: root,
    env: { ...env, ECOUTE_DATA: data, ECOUTE_PORT: new URL(base).port, ECOUTE_RELAXED_LIMITS: '1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve, reject) => {
    server.stdout.on('data', chunk => String(chunk).includes('is open') && resolve());
    server.once('exit', code => reject(new Error(`Ecoute ended with ${code}.`)));
  });
  return server;
}

/** A teacher of the demo, by the API. */
async function teacher(name) {
  const { ask } = visitor(base);
  await ask('POST', '/api/session', { signInName: `${name}@brackwater.example`, password: PASSWORD });
  return ask;
}

async function released(ask, title, items) {
  const content = blankContent('homework', {
    title,
    directions: 'Answer each item.',
    items: items.map(over =>
      blankItem(crypto.randomUUID(), 'homework', {
        prepareMs: 0,
        startsBy: 'student',
        answerLimitMs: 30_000,
        takesAllowed: 0,
        ...over,
      }),
    ),
  });
  const { id } = await ask('POST', '/api/assessments', content);
  const [{ id: classId }] = (await ask('GET', '/api/classes')).sort((a, b) => b.students - a.students);
  const dueAt = new Date(Date.now() + 86_400_000).toISOString();
  return (
    await ask('POST', '/api/releases', { assessmentId: id, classId, dueAt, lateAccepted: true, note: '' })
  ).id;
}

const wait = ms => new Promise(resolve => setTimeout(resolve, ms));

/** Presses what is called so; waits for it. */
async function press(tab, name) {
  for (let tries = 0; tries < 160; tries++) {
    const find = name => {
      const called = new RegExp(name);
      const all = [...document.querySelectorAll('button, a')];
      return all.find(
        e => called.test((e.getAttribute('aria-label') || e.textContent).trim()) && !e.disabled,
      );
    };
    const done = await tab.click(find, name).catch(() => false);
    if (done) return;
    await wait(250);
  }
  throw new Error(
    `nothing called ${name} on ${await tab.run(() => `${location.pathname}: ${document.body.innerText.slice(0, 400)}`)}`,
  );
}

async function sees(tab, words, seconds = 40) {
  for (let tries = 0; tries < seconds * 4; tries++) {
    if (await tab.run(words => new RegExp(words).test(document.body.innerText), words)) return true;
    await wait(250);
  }
  return false;
}

/** How long a stored file is as it decodes, and the last moment at which something is heard in it. In ms */
function heardIn(id) {
  const raw = execFileSync(
    'ffmpeg',
    ['-v', 'quiet', '-i', join(data, 'sounds/originals', id), '-ac', '1', '-ar', '16000', '-f', 's16le', '-'],
    { maxBuffer: 1 << 28 },
  );
  const samples = new Int16Array(
    raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length - (raw.length % 2)),
  );
  const last = samples.findLastIndex(x => Math.abs(x) > 100);
  return { lengthMs: samples.length / 16, untilMs: last / 16 };
}

/** Plays something to its end: the button says so while it sounds, and no longer when it is over. */
async function plays(tab, name) {
  const isCalled = called =>
    tab.run(
      called =>
        [...document.querySelectorAll('button')].some(b =>
          new RegExp(called).test(b.getAttribute('aria-label') ?? ''),
        ),
      called,
    );
  const comes = async (called, seconds) => {
    for (let tries = 0; tries < seconds * 4; tries++) {
      if (await isCalled(called)) return true;
      await wait(250);
    }
    return false;
  };
  await press(tab, `^Play ${name}`);
  return (await comes(`^Pause ${name}`, 10)) && (await comes(`^Play ${name}`, 30));
}

async function walk(tab, student, releaseId, askTeacher) {
  await tab.goto(`${base}/sign-in`);
  await tab.run(() => fetch('/api/session', { method: 'DELETE' }).then(r => r.status));
  await tab.goto(`${base}/sign-in`);
  await sees(tab, 'Sign-in name');
  // Into whichever form is there: the one that came with the page, or the application's, which takes over what was typed.
  await tab.run(
    (signInName, password) => {
      for (const [name, value] of Object.entries({ signInName, password })) {
        const field = document.querySelector(`[name=${name}]`);
        Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, value);
        field.dispatchEvent(new Event('input', { bubbles: true }));
      }
    },
    `${student}@brackwater.example`,
    PASSWORD,
  );
  await press(tab, '^Sign in');
  check('signed in', await sees(tab, 'My recordings'));
  await tab.goto(`${base}/sit/${releaseId}`);
  await press(tab, 'Check the microphone');
  check('the microphone is heard', await sees(tab, 'You are heard well|too loud|very soft|noisy'));
  await press(tab, '^(Go on|I am heard)');
  await press(tab, '^Answer now');
  check('a recording runs', await sees(tab, 'of 0:30'));
  await wait(SPOKEN_MS);
  await press(tab, 'finished: stop$');
  check('stored safely', await sees(tab, 'stored safely', 60));
  check('it plays to its end', await plays(tab, 'take 1'));
  await press(tab, '^To the hand-in');
  await press(tab, '^Hand in$');
  check('handed in', await sees(tab, 'Handed in\\. Everything is with your teacher\\.'));
  const view = await tab.run(
    id => fetch(`/api/releases/${id}/sitting`, { method: 'POST' }).then(r => r.json()),
    releaseId,
  );
  const [take] = view.takes;
  const at = kind => Date.parse(view.events.find(e => e.kind === kind).at);
  const spokenMs = at('recordingEnded') - at('recordingBegan');
  const { clock, recording } = take;
  const fromMs = (recording.gateMs ?? 0) + clock.answerFromMs;
  const { lengthMs, untilMs } = heardIn(take.id);
  const [wholeMs, heardMs] = [lengthMs - fromMs, untilMs - fromMs];
  check(
    'all of the answer is in the recording',
    spokenMs - wholeMs <= MAY_MISS_MS && spokenMs - heardMs <= BEEPS_MS && take.missingMs === null,
    `spoken ${(spokenMs / 1000).toFixed(2)} s, in it ${(wholeMs / 1000).toFixed(2)} s, heard until ${(heardMs / 1000).toFixed(2)} s`,
  );
  const { lanes } = await askTeacher('GET', `/api/releases/${releaseId}/lanes`);
  check(
    'on the teacher’s lane',
    lanes.some(l => l.takeId === take.id),
  );
  await askTeacher('PUT', `/api/sittings/${view.id}/marks/${take.itemId}`, {
    revision: 0,
    points: 1,
    comment: 'Heard from beginning to end.',
    finished: true,
  });
  await askTeacher('POST', `/api/releases/${releaseId}/feedback`, { sittingIds: [view.id] });
  await tab.goto(`${base}/feedback/${view.id}`);
  check('the teacher’s words come back', await sees(tab, 'Heard from beginning to end\\.'));
  check('one’s own answer plays in the feedback', await plays(tab, 'your answer'));
}

const screen = spawn('Xvfb', [':78', '-screen', '0', '1280x900x24'], { stdio: 'ignore' });
let server = null;
try {
  const up = spawnSync(
    'pulseaudio',
    [
      ...[
        '-n',
        '--daemonize=yes',
        '--exit-idle-time=-1',
        '--disallow-exit',
        '-L',
        'module-native-protocol-unix',
      ],
      ...[
        '-L',
        'module-null-sink sink_name=loop rate=48000',
        '-L',
        'module-remap-source master=loop.monitor source_name=mic',
      ],
    ],
    { env },
  );
  if (up.status !== 0) throw new Error('the sound card did not start');
  server = await started();
  const [language, music] = [await teacher('ines'), await teacher('tobias')];
  const spoken = await released(language, 'Spoken elsewhere', [{ promptText: 'Say what you see.' }]);
  const metronome = { bpm: 120, beats: 4, countInBars: 1, heard: false };
  const played = await released(music, 'Played elsewhere', [
    { promptText: 'Play.', music: { ...blankMusic(), metronome } },
  ]);
  for (const [engine, students] of [
    [webkit, ['bram', 'mireille']],
    [firefox, ['farid', 'nuno']],
  ]) {
    let tab = null;
    try {
      tab = await engine(env);
      console.log(tab.name);
      await walk(tab, students[0], spoken, language);
      console.log(`${tab.name}, music`);
      await walk(tab, students[1], played, music);
    } catch (error) {
      check(engine.name, false, error.message);
    } finally {
      await tab?.close();
    }
  }
} finally {
  if (server && server.exitCode === null) {
    const gone = new Promise(resolve => server.once('exit', resolve));
    server.kill('SIGTERM');
    await gone;
  }
  spawnSync('pulseaudio', ['-k'], { env });
  screen.kill();
  rmSync(scratch, { recursive: true, force: true });
}
console.log(`${passed} passed, ${failures.length} failed`);
process.exit(failures.length > 0 ? 1 : 0);
