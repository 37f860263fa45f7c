// Makes the demo world's audio: voices by espeak-ng, performances by fluidsynth, mixed and encoded by sox and
// ffmpeg. Only needed to make demo/audio anew:
//   apt-get install espeak-ng fluidsynth fluid-soundfont-gm sox ffmpeg && node demo/generate.mjs
// With names of sounds only those are made, and the others stay as they are.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, rmSync, statSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const here = dirname(fileURLToPath(import.meta.url));
const out = join(here, 'audio');
const only = process.argv.slice(2);
const wants = name => only.length === 0 || only.includes(name);
const work = mkdtempSync(join(tmpdir(), 'ecoute-demo-'));

await build({
  entryPoints: [join(here, 'world.ts')],
  outfile: join(work, 'world.mjs'),
  bundle: true,
  format: 'esm',
  logLevel: 'error',
});
const world = await import(pathToFileURL(join(work, 'world.mjs')).href);

function run(program, args, input) {
  const done = spawnSync(program, args, { input, encoding: 'utf8', maxBuffer: 1 << 26 });
  if (done.error || done.status !== 0)
    throw new Error(`${program} ${args.join(' ')}: ${done.error ?? done.stderr}`);
}

/** Repeatable randomness: the same world gives the same slips. */
function randomFrom(text) {
  let state = [...text].reduce((h, c) => Math.imul(h ^ c.codePointAt(0), 16_777_619) >>> 0, 2_166_136_261);
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

function encode(wav, name) {
  if (!wants(name)) return;
  run('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    wav,
    '-ac',
    '1',
    '-ar',
    '48000',
    '-c:a',
    'libopus',
    '-b:a',
    '24k',
    '-application',
    'voip',
    join(out, name),
  ]);
}

/** A room: some noise under everything, and the level this person's microphone gives. */
function room(wav, target, { noiseDb, gainDb }, seed) {
  const noise = join(work, `noise-${seed}.wav`);
  const length = spawnSync('soxi', ['-D', wav], { encoding: 'utf8' }).stdout.trim();
  run('sox', [
    '-R',
    '-n',
    '-r',
    '48000',
    '-c',
    '1',
    noise,
    'synth',
    length,
    'pinknoise',
    'gain',
    String(noiseDb),
  ]);
  run('sox', ['-m', '-v', '1', wav, '-v', '1', noise, target, 'gain', String(gainDb)]);
}

function speak(text, speaker, target, rate = 1) {
  const { voice, wordsPerMinute, pitch } = speaker;
  const raw = `${target}.raw.wav`;
  run('espeak-ng', [
    '-v',
    voice,
    '-s',
    String(Math.round(wordsPerMinute * rate)),
    '-p',
    String(pitch),
    '-w',
    raw,
    text,
  ]);
  run('sox', [raw, '-r', '48000', '-c', '1', target, 'gain', '-n', '-6']);
}

function silence(seconds, target) {
  run('sox', ['-n', '-r', '48000', '-c', '1', target, 'trim', '0', seconds.toFixed(3)]);
}

/** An answer as learners give it: some sentences, hesitations, a word begun twice, now and then a clipped start. */
function spokenAnswer(studentKey, assessment, item, limitMs) {
  const name = `${assessment.key}-${item.key}-${studentKey}.ogg`;
  if (!wants(name)) return;
  const random = randomFrom(name);
  const speaker = world.voices[studentKey];
  const reading = assessment.key === 'bell' && item.key === 'read';
  const count = reading ? item.sentences.length : 2 + Math.floor(random() * (item.sentences.length - 2));
  const chosen = new Set();
  while (chosen.size < count) chosen.add(Math.floor(random() * item.sentences.length));
  const parts = [];
  let n = 0;
  const add = (make, ...args) => {
    const part = join(work, `${name}-${n++}.wav`);
    make(...args, part);
    parts.push(part);
  };
  add(silence, 0.3 + random() * 1.6);
  const known = world.reading;
  if (known.assessment === assessment.key && known.item === item.key && known.student === studentKey)
    known.said.forEach((line, i) => {
      if (i > 0) add(silence, 0.45 + random() * 0.8);
      add((t, p) => speak(t, speaker, p), line);
    });
  else
    [...chosen]
      .sort((a, b) => a - b)
      .forEach((s, i) => {
        if (i > 0) add(silence, 0.35 + random() * 1.3);
        const sentence = item.sentences[s];
        const rate = 0.92 + random() * 0.16;
        if (random() < 0.3) {
          add((t, p) => speak(t, speaker, p, rate * 0.8), ['hmm,', 'ahm,', 'eh,'][Math.floor(random() * 3)]);
          add(silence, 0.3 + random() * 0.6);
        }
        if (random() < 0.25) {
          add((t, p) => speak(t, speaker, p, rate), sentence.split(' ').slice(0, 2).join(' '));
          add(silence, 0.25 + random() * 0.5);
        }
        add((t, p) => speak(t, speaker, p, rate), sentence);
      });
  add(silence, 0.4 + random() * 0.8);
  const joined = join(work, `${name}-joined.wav`);
  run('sox', [...parts, joined, 'trim', random() < 0.1 ? '0.5' : '0', (limitMs / 1000 - 0.5).toFixed(2)]);
  const mixed = join(work, `${name}-mixed.wav`);
  room(joined, mixed, speaker, name);
  encode(mixed, name);
}

/** A standard MIDI file, one track, with pitch bends for intonation. Times in ticks of 1/480 quarter note. */
function midi(events, bpm, program = 74) {
  const bytes = [];
  const variable = value => {
    const parts = [value & 0x7f];
    while ((value >>= 7)) parts.unshift((value & 0x7f) | 0x80);
    return parts;
  };
  let at = 0;
  bytes.push(0, 0xff, 0x51, 3, ...[16, 8, 0].map(s => (Math.round(60e6 / bpm) >> s) & 0xff));
  bytes.push(0, 0xc0, program);
  for (const { tick, data } of [...events].sort((a, b) => a.tick - b.tick)) {
    bytes.push(...variable(Math.max(0, tick - at)), ...data);
    at = Math.max(at, tick);
  }
  bytes.push(...variable(480), 0xff, 0x2f, 0);
  const word = v => [24, 16, 8, 0].map(s => (v >> s) & 0xff);
  return Buffer.from([
    ...Buffer.from('MThd'),
    ...word(6),
    0,
    0,
    0,
    1,
    1,
    0xe0,
    ...Buffer.from('MTrk'),
    ...word(bytes.length),
    ...bytes,
  ]);
}

/** Lines of a dialogue, one after the other, with the time between them that another voice would take. */
function lines(studentKey, assessment, item) {
  const name = `${assessment.key}-${item.key}-${studentKey}.ogg`;
  if (!wants(name)) return;
  const random = randomFrom(name);
  const parts = item.speaks[studentKey].flatMap((line, i) => {
    const [pause, said] = ['pause', 'said'].map(part => join(work, `${name}-${i}-${part}.wav`));
    silence(0.6 + random() * 0.8, pause);
    speak(line, world.voices[studentKey], said);
    return [pause, said];
  });
  const [end, joined, mixed] = ['end', 'joined', 'mixed'].map(part => join(work, `${name}-${part}.wav`));
  silence(0.6, end);
  run('sox', [...parts, end, joined]);
  room(joined, mixed, world.voices[studentKey], name);
  encode(mixed, name);
}

/** A performance with slips: flat notes, a rushed bar, a note missed, breath between phrases. */
function performed(studentKey, assessment, item) {
  const name = `${assessment.key}-${item.key}-${studentKey}.ogg`;
  if (!wants(name)) return;
  const random = randomFrom(name);
  const bpm = item.tune.bpm * (0.86 + random() * 0.26);
  const offset = (random() - 0.6) * 30;
  const rushed = Math.floor(random() * item.tune.notes.length);
  const events = [];
  let tick = 480 * (0.6 + random());
  item.tune.notes.forEach(([note, quarters], i) => {
    const hurry = Math.abs(i - rushed) < 3 ? 0.86 : 1;
    const length = quarters * 480 * hurry * (0.97 + random() * 0.06);
    const cents = offset + (random() - 0.5) * 16 + (random() < 0.08 ? -45 : 0);
    if (random() > 0.025) {
      const bend = Math.max(0, Math.min(16_383, Math.round(8_192 + (cents / 200) * 8_192)));
      const start = Math.round(tick + (random() - 0.5) * 26);
      events.push({ tick: start, data: [0xe0, bend & 0x7f, bend >> 7] });
      events.push({ tick: start, data: [0x90, note, 78 + Math.floor(random() * 30)] });
      events.push({ tick: Math.round(start + length * (0.8 + random() * 0.14)), data: [0x80, note, 0] });
    }
    tick += length + (random() < 0.06 ? 260 : 0);
  });
  rendered(name, midi(events, bpm), random);
}

/** A MIDI file in a room, as a telephone hears it. */
function rendered(name, bytes, random) {
  const file = join(work, `${name}.mid`);
  writeFileSync(file, bytes);
  const raw = join(work, `${name}-raw.wav`);
  const font = ['/usr/share/sounds/sf2/FluidR3_GM.sf2', '/usr/share/sounds/sf2/default-GM.sf2'].find(
    existsSync,
  );
  run('fluidsynth', ['-ni', '-q', '-g', '0.8', '-r', '48000', '-F', raw, font, file]);
  const mono = join(work, `${name}-mono.wav`);
  run('sox', [
    raw,
    '-c',
    '1',
    mono,
    'gain',
    '-n',
    '-7',
    'silence',
    '1',
    '0.02',
    '0.2%',
    'reverse',
    'silence',
    '1',
    '0.1',
    '0.3%',
    'reverse',
    'pad',
    (0.3 + random()).toFixed(2),
    '0.4',
  ]);
  const mixed = join(work, `${name}-mixed.wav`);
  room(mono, mixed, { noiseDb: -50 + random() * 8, gainDb: -random() * 9 }, name);
  encode(mixed, name);
}

/** Two hands at a keyboard: hands not quite together, a tempo that breathes, now and then a stop to go back. */
function playedHands(studentKey, assessment, item) {
  const name = `${assessment.key}-${item.key}-${studentKey}.ogg`;
  if (!wants(name)) return;
  const random = randomFrom(name);
  const { beats, right, left, stops } = item.hands;
  const bpm = item.hands.bpm * (0.8 + random() * 0.2);
  const notes = [];
  for (const hand of [right.map(([m, q]) => [[m], q]), left]) {
    let at = 0;
    for (const [midis, quarters] of hand) {
      for (const note of midis) notes.push({ at, quarters, note });
      at += quarters;
    }
  }
  const end = Math.max(...notes.map(n => n.at + n.quarters));
  const stop = stops[studentKey];
  // Stops behind the second beat of a measure.
  const legs = stop
    ? [
        [0, (stop.in - 1) * beats + 2],
        [(stop.backTo - 1) * beats, end],
      ]
    : [[0, end]];
  const events = [];
  let tick = 480 * 0.8;
  for (const [n, [from, to]] of legs.entries()) {
    const pace = q => 480 * (1 + 0.02 * Math.sin(q / 5));
    for (const { at, quarters, note } of notes.filter(x => x.at >= from && x.at < to)) {
      const start = Math.round(tick + (at - from) * pace(at) + (random() - 0.5) * 22);
      events.push({ tick: start, data: [0x90, note, (note > 62 ? 82 : 62) + Math.floor(random() * 18)] });
      const length = Math.min(quarters, to - at) * pace(at) * (0.85 + random() * 0.1);
      events.push({ tick: Math.round(start + length), data: [0x80, note, 0] });
    }
    tick += (to - from) * pace(to) + (n < legs.length - 1 ? (stop.sec * 480 * bpm) / 60 : 0);
  }
  rendered(name, midi(events, bpm, 0), random);
}

/** Hands that clap: a stroke left out here and there, a little early or late. */
function clapped(studentKey, assessment, item) {
  const name = `${assessment.key}-${item.key}-${studentKey}.ogg`;
  if (!wants(name)) return;
  const random = randomFrom(name);
  const { lengths, leftOut } = item.rhythm;
  const bpm = item.rhythm.bpm * (0.88 + random() * 0.2);
  const events = [];
  let tick = 480 * 0.8;
  let stroke = 0;
  for (const length of lengths) {
    if (length > 0 && ++stroke !== leftOut[studentKey]) {
      const start = Math.round(tick + (random() - 0.5) * 30);
      events.push({ tick: start, data: [0x99, 39, 88 + Math.floor(random() * 30)] });
      events.push({ tick: start + 100, data: [0x89, 39, 0] });
    }
    tick += Math.abs(length) * 480;
  }
  rendered(name, midi(events, bpm), random);
}

/** What the prompt said, said again. */
function repeated(studentKey, assessment, item) {
  const name = `${assessment.key}-${item.key}-${studentKey}.ogg`;
  if (!wants(name)) return;
  const random = randomFrom(name);
  const parts = ['before', 'said', 'after'].map(part => join(work, `${name}-${part}.wav`));
  silence(0.5 + random() * 0.8, parts[0]);
  speak(item.repeats[studentKey] ?? item.promptVoice, world.voices[studentKey], parts[1]);
  silence(0.6, parts[2]);
  const joined = join(work, `${name}-joined.wav`);
  run('sox', [...parts, joined]);
  const mixed = join(work, `${name}-mixed.wav`);
  room(joined, mixed, world.voices[studentKey], name);
  encode(mixed, name);
}

mkdirSync(out, { recursive: true });
for (const file of readdirSync(out)) if (wants(file)) rmSync(join(out, file));
for (const assessment of world.assessments)
  for (const item of assessment.items)
    if (item.promptVoice) {
      const raw = join(work, `prompt-${assessment.key}-${item.key}.wav`);
      speak(item.promptVoice, world.voices[assessment.teacher], raw);
      const mixed = raw.replace('.wav', '-mixed.wav');
      room(raw, mixed, world.voices[assessment.teacher], item.key);
      encode(mixed, `prompt-${assessment.key}-${item.key}.ogg`);
    }
const talk = world.discussion;
for (const { key, who, says } of [{ key: 'welcome', who: talk.teacher, says: talk.welcome }, ...talk.said]) {
  const raw = join(work, `talk-${key}.wav`);
  speak(says, world.voices[who], raw);
  const mixed = raw.replace('.wav', '-mixed.wav');
  room(raw, mixed, world.voices[who], key);
  encode(mixed, `talk-${key}.ogg`);
}
{
  const raw = join(work, 'message.wav');
  speak(world.message.says, world.voices[world.message.teacher], raw);
  room(raw, join(work, 'message-mixed.wav'), world.voices[world.message.teacher], 'message');
  encode(join(work, 'message-mixed.wav'), 'message.ogg');
}
// A release that is heard with sounds of others has none of its own.
for (const release of world.releases.filter(r => !r.sounds)) {
  const assessment = world.assessments.find(a => a.key === release.assessment);
  const answers = [
    ...release.answers.flatMap(a =>
      assessment.items.filter(i => !a.skips?.includes(i.key)).map(i => [a.student, i]),
    ),
    ...release.underWay.map(s => [s, assessment.items[0]]),
  ];
  for (const [student, item] of answers)
    if (item.tune) performed(student, assessment, item);
    else if (item.hands) playedHands(student, assessment, item);
    else if (item.rhythm) clapped(student, assessment, item);
    else if (item.speaks) lines(student, assessment, item);
    else if (item.repeats) repeated(student, assessment, item);
    else spokenAnswer(student, assessment, item, item.answerLimitMs);
}
rmSync(work, { recursive: true });
const files = readdirSync(out);
const bytes = files.reduce((sum, f) => sum + statSync(join(out, f)).size, 0);
console.log(`${files.length} sounds, ${(bytes / 1e6).toFixed(1)} MB`);
