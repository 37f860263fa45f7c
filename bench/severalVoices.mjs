// Pieces of several notes at once, played as people play, with stops to go back: how well they are followed through their score.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { midiFile, ran, RATE, samplesOf, SOUNDFONT } from './sounds.mjs';

const CHORDS = [
  [0, 4, 7],
  [5, 9, 12],
  [7, 11, 14],
  [9, 12, 16],
  [2, 5, 9],
];
const SCALE = [0, 2, 4, 5, 7, 9, 11];
const BARS = 14;
const BEATS = 4;
/** How much later than the one before each string of a chord is struck, and how far a hand is from the beat, in seconds. */
const STRUM_SEC = 0.015;
const JITTER_SEC = 0.02;

const pick = (random, list) => list[Math.floor(random() * list.length)];
const tune = (random, base, bar) => {
  let degree = 2 + Math.floor(random() * 6);
  let at = 0;
  return pick(random, [
    [1, 1, 1, 1],
    [1.5, 0.5, 1, 1],
    [0.5, 0.5, 1, 2],
    [2, 1, 1],
  ]).map(quarters => {
    degree = Math.max(0, Math.min(11, degree + Math.round((random() - 0.5) * 5)));
    const midi = base + SCALE[degree % 7] + 12 * Math.floor(degree / 7);
    at += quarters;
    return { startQuarters: bar * BEATS + at - quarters, quarters, midi };
  });
};
const at = (bar, beat, quarters, midis) =>
  midis.map(midi => ({ startQuarters: bar * BEATS + beat, quarters, midi }));

/** One measure of each kind of music, over a chord. */
const KINDS = {
  'two hands at a piano': {
    programs: [0, 1],
    bar: (random, bar, chord) => [
      ...tune(random, 72, bar),
      ...[0, 1, 2, 3].flatMap(q => at(bar, q, 1, q % 2 ? chord.slice(1) : chord.slice(0, 1))),
    ],
  },
  'chords of a guitar': {
    programs: [24, 25],
    bar: (random, bar, chord) =>
      pick(random, [
        [0, 1, 2, 3],
        [0, 1.5, 2, 3],
      ]).flatMap((q, i, all) =>
        at(bar, q, (all[i + 1] ?? BEATS) - q, [chord[0] - 7, ...chord.slice(1), chord[0] + 5, chord[1] + 5]),
      ),
  },
  'two bowed, two blown': {
    programs: [40, 73],
    bar: (random, bar) => [...tune(random, 72, bar), ...tune(random, 50, bar)],
  },
  'voices of a choir': {
    programs: [52, 53],
    bar: (random, bar) =>
      [0, 1, 2, 3].flatMap(q =>
        at(
          bar,
          q,
          1,
          pick(random, CHORDS).flatMap((c, i) => [48 + c + (i === 0 ? 12 : 0), 60 + c]),
        ),
      ),
  },
};

function piece(kind, random) {
  const notes = Array.from({ length: BARS }, (_, bar) =>
    kind.bar(
      random,
      bar,
      pick(random, CHORDS).map(c => 48 + c),
    ),
  ).flat();
  const seen = new Set();
  return notes
    .filter(n => !seen.has(`${n.startQuarters} ${n.midi}`) && seen.add(`${n.startQuarters} ${n.midi}`))
    .sort((a, b) => a.startQuarters - b.startQuarters || a.midi - b.midi);
}

/** @param stops how often it is broken off to go back */
function performance(notes, bpm, stops, isStrummed, random) {
  const moments = [...new Set(notes.map(n => n.startQuarters))];
  const legs = [];
  let from = 0;
  for (let k = 0; k < stops; k++) {
    const stop = Math.floor(moments.length * ((k + 0.3 + 0.5 * random()) / stops));
    const bar = Math.max(0, Math.floor(moments[stop] / BEATS) - Math.floor(random() * 3));
    const back = moments.indexOf(bar * BEATS);
    if (back < 0 || back > stop || stop <= from) continue;
    legs.push([from, stop]);
    from = back;
  }
  legs.push([from, moments.length - 1]);
  let sec = 0.6;
  const first = new Map();
  const restarts = [];
  const played = [];
  const turn = random() * 6;
  legs.forEach(([a, b], leg) => {
    if (leg > 0) {
      sec += 0.3 + 1.5 * random();
      restarts.push({ atSec: sec, backToIndex: a });
    }
    for (let i = a; i <= b; i++) {
      const beat = (60 / bpm) * (1 + 0.08 * Math.sin(moments[i] / 5 + turn) + 0.03 * (random() - 0.5));
      if (!first.has(i)) first.set(i, sec);
      const isStop = i === b && leg < legs.length - 1;
      notes
        .filter(n => n.startQuarters === moments[i])
        .forEach((n, k) => {
          if (k > 0 && random() < 0.03) return;
          const late = (isStrummed ? k * STRUM_SEC : 0) + (random() - 0.5) * 2 * JITTER_SEC;
          const lasts = n.quarters * beat * (0.75 + 0.25 * random());
          played.push({
            startSec: Math.max(0, sec + late),
            sec: isStop ? Math.min(0.5, lasts) : lasts,
            midi: random() < 0.02 ? n.midi + 1 : n.midi,
          });
        });
      const until = (moments[i + 1] ?? BARS * BEATS) - moments[i];
      sec += isStop ? 0.3 : until * beat;
    }
  });
  return { played, first: moments.map((_, i) => first.get(i) ?? null), restarts };
}

/** @param row prints one row: what, here, as a ratio */
export function severalVoices(core, scratch, row, say) {
  const [midi, wav] = ['s.mid', 's.wav'].map(name => join(scratch, name));
  const all = { off: [], found: 0, restarts: 0, falsely: 0, performances: 0, ms: 0, sec: 0 };
  for (const [name, kind] of Object.entries(KINDS)) {
    const own = [];
    for (const program of kind.programs)
      for (const stops of [0, 2, 3]) {
        const random = core.randomFrom(program * 10 + stops + 5);
        const notes = piece(kind, random);
        const told = performance(notes, 70 + 50 * random(), stops, program === 24 || program === 25, random);
        writeFileSync(midi, midiFile(told.played, program));
        ran('fluidsynth', ['-ni', '-g', '0.5', '-r', '44100', '-F', wav, SOUNDFONT, midi]);
        const samples = core.withNoise(samplesOf(wav), 30, program);
        const from = globalThis.performance.now();
        const m = new core.Measurer(RATE, 1, { forScore: true });
        m.pushRaw([samples]);
        m.push(samples);
        const { events, restarts } = m.finish('music', { score: core.scoreOf(notes) }).target.followed;
        all.ms += globalThis.performance.now() - from;
        all.sec += samples.length / RATE;
        // A moment that was not found is a second off.
        events.forEach((e, i) => {
          if (told.first[i] !== null)
            own.push(e.startSec === null ? 1 : Math.abs(e.startSec - told.first[i]));
        });
        const left = [...restarts];
        for (const truth of told.restarts) {
          const k = left.findIndex(
            r => r.backToIndex === truth.backToIndex && Math.abs(r.atSec - truth.atSec) < 0.5,
          );
          if (k >= 0) left.splice(k, 1);
          all.found += k >= 0 ? 1 : 0;
        }
        all.restarts += told.restarts.length;
        all.falsely += left.length;
        all.performances += 1;
      }
    own.sort((a, b) => a - b);
    all.off.push(...own);
    const nth = share => `${(1000 * own[Math.floor(share * own.length)]).toFixed(0)} ms`;
    row(
      `moments of a score, ${name}: median`,
      nth(0.5),
      `${(own[own.length >> 1] / 0.04).toFixed(2)} of 40 ms`,
    );
    row('  95 %', nth(0.95), '');
    say(`several notes at once: ${name}`);
  }
  row(
    'stopped and begun again: found',
    `${all.found} of ${all.restarts}`,
    `${(all.found / all.restarts / 0.9).toFixed(2)} of 9 in 10`,
  );
  row('  said where nobody did', `${all.falsely} in ${all.performances} pieces`, '');
  row('a minute of several notes at once', `${((60 * all.ms) / all.sec).toFixed(0)} ms`, '');
}
