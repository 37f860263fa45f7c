/* global document, window, MutationObserver, getComputedStyle */
// ./ecoute bench stage: taps and seconds to the first sound, how much of what is read or played from is in sight, what is
// announced and when, and the beat through a sound card that is looped, with and without a loop that was measured; then the same
// card as a microphone that fails.
import { execFileSync, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { chmodSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { nth, visitor } from './visitor.mjs';
import { weights } from './weight.mjs';

const PASSWORD = 'harbour-lights';
const RATE = 48_000;
export const SIZES = [
  ['320 x 640', 320, 640],
  ['390 x 844', 390, 844],
  ['844 x 390', 844, 390],
  ['768 x 1024', 768, 1024],
  ['1280 x 800', 1280, 800],
  ['1920 x 1080', 1920, 1080],
];
const ARGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-background-networking',
  '--use-fake-ui-for-media-stream',
  '--autoplay-policy=no-user-gesture-required',
];
const CHROMIUM = process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium';

/** A sound card of its own: what is played comes back as the microphone. */
function loopedCard(folder) {
  mkdirSync(folder, { recursive: true });
  chmodSync(folder, 0o700);
  const env = { ...process.env, XDG_RUNTIME_DIR: folder };
  const run = (program, ...args) => spawnSync(program, args, { env, encoding: 'utf8' });
  const up = run(
    'pulseaudio',
    ...['-n', '--daemonize=yes', '--exit-idle-time=-1', '--disallow-exit'],
    ...['-L', 'module-native-protocol-unix'],
    ...['-L', 'module-null-sink sink_name=loop rate=48000'],
    ...['-L', 'module-null-sink sink_name=voice rate=48000'],
    ...[
      '-L',
      'module-remap-source master=loop.monitor source_name=mic source_properties=device.description=Looped',
    ],
  );
  if (up.status !== 0) throw new Error(`the sound card did not start: ${up.stderr}`);
  return {
    env,
    ctl: (...args) => {
      const done = run('pactl', ...args);
      if (done.status !== 0) throw new Error(`pactl ${args.join(' ')}: ${done.stderr}`);
      return done.stdout.trim();
    },
    play: path => run('paplay', '--device=voice', path),
    end: () => run('pulseaudio', '-k'),
  };
}

function samplesOf(path, rateHz) {
  const args = ['-v', 'error', '-i', path, '-ac', '1', '-ar', String(rateHz), '-f', 'f32le', '-'];
  const raw = execFileSync('ffmpeg', args, { maxBuffer: 1 << 28 });
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

/** Where something begins to be loud after 0.2 s of quiet, in ms of a stored take. */
function clicksIn(path) {
  const samples = samplesOf(path, RATE);
  const found = [];
  let last = -Infinity;
  samples.forEach((x, i) => {
    if (Math.abs(x) <= 0.04) return;
    if (i - last > 0.2 * RATE) found.push((1000 * i) / RATE);
    last = i;
  });
  return found;
}

/** @param base of a demo @param made what `bench/stage.ts` gives */
export async function stage(base, data, made, scratch, say) {
  const figures = { taps: {}, seconds: {}, sight: [], said: [], beat: [], failing: [] };
  const teacherOf = async name => {
    const { ask } = visitor(base);
    await ask('POST', '/api/session', { signInName: `${name}@brackwater.example`, password: PASSWORD });
    const classes = await ask('GET', '/api/classes');
    return { ask, classId: classes.sort((a, b) => b.students - a.students)[0].id };
  };
  const language = await teacherOf('ines');
  const music = await teacherOf('tobias');
  const release = async ({ ask, classId }, content) => {
    const { id } = await ask('POST', '/api/assessments', content);
    const dueAt = new Date(Date.now() + 86_400_000).toISOString();
    return (
      await ask('POST', '/api/releases', { assessmentId: id, classId, dueAt, lateAccepted: true, note: '' })
    ).id;
  };
  const signedIn = async (browser, name, size) => {
    const context = await browser.newContext({
      baseURL: base,
      viewport: size,
      locale: 'en-GB',
      permissions: ['microphone'],
    });
    await context.request.post('/api/session', {
      headers: { Origin: base },
      data: { signInName: `${name}@brackwater.example`, password: PASSWORD },
    });
    return context.newPage();
  };
  /** As somebody who goes: the page says that it lets the sitting go, which a browser that is shut at once may not send. */
  const leaves = async page => {
    await page.goto('about:blank');
    await page.waitForTimeout(300);
    await page.context().close();
  };
  const toItem = async (page, { tests = false } = {}) => {
    await page
      .getByRole('button', { name: /Check the microphone|Go on with item|Look at the items/ })
      .click();
    await page.getByRole('img', { name: 'Level of the microphone' }).waitFor();
    if (tests) {
      await page.getByRole('button', { name: 'Record two seconds and hear them' }).click();
      await page.getByRole('button', { name: 'Two seconds again' }).waitFor();
    }
    await page.getByRole('button', { name: /^(Go on|I am heard)/ }).click();
  };

  const voice = join(scratch, 'voice.wav');
  spawnSync('ffmpeg', [
    ...[
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'sine=f=220:d=0.5',
      '-af',
      'apad=pad_dur=0.3,aloop=-1:size=38400',
    ],
    ...['-t', '20', '-ar', String(RATE), '-ac', '1', voice],
  ]);
  const browser = await chromium.launch({
    executablePath: CHROMIUM,
    args: [...ARGS, '--use-fake-device-for-media-stream', `--use-file-for-fake-audio-capture=${voice}`],
  });
  try {
    // Taps, the first time and on the way back.
    const passage = await release(language, made.passage());
    const page = await signedIn(browser, 'farid', { width: 390, height: 844 });
    await page.goto('/');
    const tap = async (locator, to) => {
      await locator.click();
      figures.taps[to] = (figures.taps[to] ?? 0) + 1;
    };
    const card = page.getByRole('listitem').filter({ hasText: 'Four hundred words' }).getByRole('link');
    await tap(card, 'the first time');
    await tap(page.getByRole('button', { name: /Check the microphone/ }), 'the first time');
    await page.getByText('You are heard well.').last().waitFor();
    await tap(page.getByRole('button', { name: 'I am heard: go on' }), 'the first time');
    await tap(page.getByRole('button', { name: 'Answer now' }), 'the first time');
    await page.getByTestId('time-left').waitFor();
    // How much of it is in sight at six sizes, while it records.
    const sight = async what => {
      for (const [name, width, height] of SIZES) {
        await page.setViewportSize({ width, height });
        await page.waitForTimeout(500);
        const [share, lines] = await page.getByRole('group', { name: 'What is asked' }).evaluate(e => {
          const shown = e.querySelector('[data-score], .font-passage');
          const score = shown.dataset.lines ? JSON.parse(shown.dataset.lines) : null;
          const line = score
            ? score[0][1] - score[0][0]
            : Number.parseFloat(getComputedStyle(shown).lineHeight);
          return [Math.min(1, e.clientHeight / shown.scrollHeight), e.clientHeight / line];
        });
        figures.sight.push({ what, name, share, lines });
      }
      await page.setViewportSize({ width: 390, height: 844 });
    };
    await sight('400 words');
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await page.getByText('stored safely').waitFor();
    await page.getByRole('button', { name: /Record again/ }).click();
    await page.getByTestId('time-left').waitFor();
    page.once('dialog', dialog => dialog.accept());
    // Closed in the middle of a recording, and opened the next time from the first page.
    const other = await page.context().newPage();
    await page.close();
    const back = other;
    const again = await release(language, made.timed());
    await back.goto('/');
    const entry = back.getByRole('listitem').filter({ hasText: 'By the clock' }).getByRole('link');
    await entry.click();
    await back.getByRole('button', { name: /Check the microphone/ }).click();
    await back.getByRole('button', { name: /See it and prepare/ }).waitFor();
    await back.goto('/');
    figures.taps['coming back'] = 0;
    const goesOn = async locator => {
      await locator.click();
      figures.taps['coming back'] += 1;
    };
    await goesOn(entry);
    const prepares = back.getByRole('button', { name: /See it and prepare/ });
    const press = back.getByRole('button', {
      name: /Check the microphone|Go on with item|Look at the items/,
    });
    await prepares.or(press).first().waitFor();
    if (await press.isVisible()) await goesOn(press);
    // What is announced, against the clock that is seen.
    await back.evaluate(() => {
      window.heard = [];
      const region = document.querySelector('[data-testid=announced]');
      new MutationObserver(() => {
        const clock = document.querySelector('[data-testid=prepare-left], [data-testid=time-left]');
        window.heard.push([region.textContent, performance.now(), clock?.textContent ?? '']);
      }).observe(region, { characterData: true, childList: true, subtree: true });
      window.phases = {};
      new MutationObserver(() => {
        for (const id of ['prepare-left', 'time-left'])
          if (document.querySelector(`[data-testid=${id}]`)) window.phases[id] ??= performance.now();
      }).observe(document.body, { childList: true, subtree: true });
    });
    await goesOn(prepares);
    await back.getByTestId('time-left').waitFor({ timeout: 30_000 });
    await back.getByText('stored safely').waitFor({ timeout: 40_000 });
    const { heard, phases } = await back.evaluate(() => ({ heard: window.heard, phases: window.phases }));
    const off = (words, from, afterMs) => {
      const line = heard.find(([text]) => words.test(text));
      return { words: String(words), ms: line ? line[1] - from - afterMs : null };
    };
    figures.said.push(
      off(/^Preparing: 0:12/, phases['prepare-left'], 0),
      off(/Preparing: 10 seconds/, phases['prepare-left'], 2_000),
      off(/^Recording/, phases['time-left'], 0),
      off(/Recording: 10 seconds/, phases['time-left'], 4_000),
      off(/time of your answer was over/, phases['time-left'], 14_000),
    );
    say('taps, sight of a passage, announcements');
    const slow = await signedIn(browser, 'jovan', { width: 390, height: 844 });
    figures.weight = await weights(slow, 'Four hundred words');
    await slow.context().close();
    say('weight on a slow phone and line');

    // A score in sight.
    const file = await music.ask('POST', '/api/assessments', { ...made.passage(), title: 'a score' });
    const recordingId = randomUUID();
    await music.ask('POST', `/api/assessments/${file.id}/prompts`, {
      recordingId,
      mediaType: made.score.mimeType,
      source: 'uploaded',
      fileName: made.score.name,
      wanted: 'show',
    });
    await music.ask('PATCH', `/api/uploads/${recordingId}`, new Uint8Array(made.score.buffer), {
      'Tus-Resumable': '1.0.0',
      'Content-Type': 'application/offset+octet-stream',
      'Upload-Offset': '0',
      'Upload-Length': String(made.score.buffer.length),
    });
    while ((await music.ask('GET', `/api/recordings/${recordingId}`)).state !== 'stored')
      await new Promise(resolve => setTimeout(resolve, 100));
    const notation = await release(music, made.notation(recordingId));
    const player = await signedIn(browser, 'nuno', { width: 390, height: 844 });
    await player.goto(`/sit/${notation}`);
    await toItem(player);
    await player.getByRole('button', { name: 'Answer now' }).click();
    await player.getByTestId('time-left').waitFor();
    await player.locator('[data-score] svg').first().waitFor();
    for (const [name, width, height] of SIZES) {
      await player.setViewportSize({ width, height });
      await player.waitForTimeout(1_200);
      const [share, lines] = await player.getByRole('group', { name: 'What is asked' }).evaluate(e => {
        const shown = e.querySelector('[data-score]');
        const each = JSON.parse(shown.dataset.lines);
        const seen = each.filter(([, bottom]) => bottom <= e.clientHeight).length;
        return [seen / each.length, seen];
      });
      figures.sight.push({ what: '40 bars', name, share, lines });
    }
    say('sight of a score');
    void passage;
    void again;
  } finally {
    await browser.close();
  }

  // Through a real card.
  const card = loopedCard(join(scratch, 'card'));
  const real = await chromium.launch({
    executablePath: CHROMIUM,
    ignoreDefaultArgs: ['--mute-audio'],
    args: ARGS,
    env: card.env,
  });
  try {
    const beat = await release(music, made.beat());
    let taken = 0;
    for (const [name, how] of [
      ['loop measured by the check', { tests: true }],
      ['not measured', {}],
      ['measured, and paused', { tests: true, pauses: true }],
    ]) {
      const page = await signedIn(real, 'mireille', { width: 1280, height: 800 });
      await page.goto(`/sit/${beat}`);
      const press = page.getByRole('button', {
        name: /Check the microphone|Go on with item|Look at the items/,
      });
      const now = page.getByRole('button', { name: /Answer now|Record again/ });
      // The page before may have been gone before it could say so.
      const here = page.getByRole('button', { name: /here$/ });
      await press.or(now).or(here).first().waitFor();
      if (await here.isVisible()) await here.click();
      await press.or(now).first().waitFor();
      if (await press.isVisible()) await toItem(page, how);
      await now.click();
      await page.getByTestId('time-left').waitFor();
      await page.waitForTimeout(8_000);
      if (how.pauses) {
        await page.getByRole('button', { name: 'Pause' }).click();
        await page.waitForTimeout(2_500);
        await page.getByRole('button', { name: 'Go on recording' }).click();
        await page.waitForTimeout(5_000);
      }
      await page.getByRole('button', { name: 'I have finished: stop' }).click();
      let takes = [];
      const isStored = () => takes.length > taken && takes.at(-1).recording.state === 'stored';
      while (!isStored()) {
        await page.waitForTimeout(200);
        const answer = await page.request.post(`/api/releases/${beat}/sitting`, {
          headers: { Origin: base },
        });
        ({ takes } = await answer.json());
      }
      taken = takes.length;
      const { id, clock, recording } = takes.at(-1);
      const placed = { clock, gateMs: recording.gateMs };
      const beats = made.beatsIn(placed, 0, recording.durationMs).map(b => b.atMs);
      const file = join(data, 'sounds/originals', id);
      const clicks = clicksIn(file);
      // As the server looks for them in the take itself, whatever the page knew of the loop.
      const pausedAtMs = how.pauses ? 8_000 : null;
      const sent = made.sentBeats(placed, pausedAtMs === null ? recording.durationMs : pausedAtMs);
      const heard = made.hearClicks(samplesOf(file, made.ANALYSIS_HZ), sent);
      const found = heard && sent.map((b, n) => b.atMs + heard.lagsMs[n]);
      const inTake =
        found &&
        clicks.filter(at => at <= found.at(-1)).map(at => Math.min(...found.map(b => Math.abs(b - at))));
      const errors = clicks.map(at => Math.min(...beats.map(b => Math.abs(b - at))));
      const said = made.knownBeats(placed, recording.durationMs, pausedAtMs);
      const judged = said.atMs.length;
      figures.beat.push({
        name,
        clicks: clicks.length,
        p95: nth(errors, 0.95),
        most: Math.max(...errors),
        judged,
        unknown: said.unknown,
        inTake,
      });
      await leaves(page);
    }
    say('the beat through a looped card');

    // The card as a microphone that fails: what the page says, and after how long.
    card.ctl(
      'load-module',
      'module-remap-source',
      'master=voice.monitor',
      'source_name=person',
      'source_properties=device.description=Person',
    );
    card.ctl('set-default-source', 'person');
    const loud = join(scratch, 'loud.wav');
    const soft = join(scratch, 'soft.wav');
    for (const [path, gain] of [
      [loud, 30],
      [soft, -22],
    ])
      spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', voice, '-af', `volume=${gain}dB`, path]);
    const { spawn } = await import('node:child_process');
    const checks = async (name, path, expected) => {
      const page = await signedIn(real, 'umeko', { width: 390, height: 844 });
      const speaking = path && spawn('paplay', ['--device=voice', path], { env: card.env });
      await page.goto(`/sit/${beat}`);
      const begins = page.getByRole('button', {
        name: /Check the microphone|Go on with item|Look at the items/,
      });
      // A browser that was shut a moment ago may not have said that it let the sitting go.
      const here = page.getByRole('button', { name: /here$/ });
      await begins.or(here).first().waitFor();
      if (await here.isVisible()) await here.click();
      await begins.click();
      const from = performance.now();
      const told = await page
        .getByText(expected)
        .first()
        .waitFor({ timeout: 9_000 })
        .then(
          () => (performance.now() - from) / 1000,
          () => null,
        );
      figures.failing.push({ name, sec: told });
      speaking?.kill();
      await leaves(page);
    };
    await checks('good', voice, 'You are heard well.');
    await checks('silent', null, 'We heard nothing.');
    await checks('faint', soft, 'That was very soft.');
    await checks('too loud', loud, 'That was too loud');
    // Cut off by its own switch while it records; another one in its place on the next visit; and pulled out in mid-take.
    const page = await signedIn(real, 'umeko', { width: 390, height: 844 });
    const speaking = spawn('paplay', ['--device=voice', voice], { env: card.env });
    const waits = async (name, words) => {
      const from = performance.now();
      const told = await page
        .getByText(words)
        .first()
        .waitFor({ timeout: 15_000 })
        .then(
          () => (performance.now() - from) / 1000,
          () => null,
        );
      figures.failing.push({ name, sec: told });
    };
    const unload = which => {
      const modules = card.ctl('list', 'short', 'modules').split('\n');
      for (const line of modules.filter(l => which.test(l))) card.ctl('unload-module', line.split('\t')[0]);
    };
    const chosen = page.getByLabel('Microphone', { exact: true });
    const begins = page.getByRole('button', {
      name: /Check the microphone|Go on with item|Look at the items/,
    });
    const here = page.getByRole('button', { name: /here$/ });
    const toCheck = async () => {
      await page.goto(`/sit/${beat}`);
      await begins.or(here).first().waitFor();
      if (await here.isVisible()) await here.click();
      await begins.click();
    };
    const records = async () => {
      await page.getByRole('button', { name: /^(Go on|I am heard)/ }).click();
      await page.getByRole('button', { name: /Answer now|Record again/ }).click();
      await page.getByTestId('time-left').waitFor();
      await page.waitForTimeout(3_000);
    };
    await toCheck();
    // By its own name: behind "default" a browser on this system does not tell one device from another.
    await chosen.waitFor();
    const own = await chosen.locator('option').last().getAttribute('value');
    await chosen.selectOption(own);
    await page.getByText('You are heard well.').first().waitFor();
    await records();
    card.ctl('set-source-mute', 'person', '1');
    await waits('muted in mid-take', 'The device has muted the microphone');
    card.ctl('set-source-mute', 'person', '0');
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await page.getByText('stored safely').first().waitFor();
    unload(/source_name=person/);
    await toCheck();
    await waits('a second one', 'This is another microphone than last time.');
    await records();
    unload(/sink_name=/);
    await waits('pulled out in mid-take', 'The microphone was unplugged or taken away.');
    speaking.kill();
  } finally {
    await real.close();
    card.end();
  }
  return figures;
}

export function printStage({ taps, sight, said, beat, failing, weight }) {
  const line = (what, value, ratio) =>
    console.log(`${what.padEnd(58)}${String(value).padStart(22)}   ${ratio}`);
  line('what', 'figure', 'as a ratio');
  line(
    'taps to the first second, the first time',
    taps['the first time'],
    `${(taps['the first time'] / 4).toFixed(2)} of 4`,
  );
  line(
    'taps to the first second, coming back',
    taps['coming back'],
    `${(taps['coming back'] / 2).toFixed(2)} of 2`,
  );
  for (const { what, sec, mostSec } of weight.found)
    line(
      `${what}, 400 kbit/s and 4 x slower`,
      `${sec.toFixed(1)} s`,
      `${(sec / mostSec).toFixed(2)} of ${mostSec} s`,
    );
  line(
    'main thread while recording, 4 x slower',
    `${(100 * weight.share).toFixed(0)} %`,
    `${(weight.share / 0.15).toFixed(2)} of 15 %`,
  );
  for (const { what, name, share, lines } of sight)
    line(
      `${what} in sight while recording at ${name}`,
      `${lines.toFixed(1)} lines`,
      `${share.toFixed(2)} of all of it`,
    );
  for (const { words, ms } of said)
    line(
      `announced ${words}`,
      ms === null ? 'never' : `${ms.toFixed(0)} ms late`,
      ms === null ? '' : `${(Math.abs(ms) / 300).toFixed(2)} of 0.3 s`,
    );
  for (const { name, clicks, p95, most, judged, unknown, inTake } of beat) {
    line(
      `beat through the card, ${name} (${clicks} clicks)`,
      `${p95.toFixed(1)} ms`,
      `${(p95 / 20).toFixed(2)} of 20 ms`,
    );
    line(`  most; beats that something is said against`, `${most.toFixed(1)} ms; ${judged}`, unknown ?? '');
    const taken = inTake && nth(inTake, 0.95);
    line(
      '  its clicks found in the take itself',
      inTake ? `${taken.toFixed(1)} ms` : 'not heard',
      inTake ? `${(taken / 20).toFixed(2)} of 20 ms` : '',
    );
  }
  for (const { name, sec } of failing)
    line(
      `microphone ${name}: said after`,
      sec === null ? 'never' : `${sec.toFixed(1)} s`,
      sec === null ? '' : `${(sec / 6).toFixed(2)} of 6 s`,
    );
}
