// Performances held against their scores: how many faultless ones are judged wholly right, how many are accused of a note more, and
// how many mistakes are found in others.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { midiFile, ran, RATE, samplesOf, SOUNDFONT, walk } from './sounds.mjs';

/** General MIDI programs by how they are played, with a low note of each. */
const FAMILIES = {
  plucked: { guitar: [24, 45], 'steel guitar': [25, 45], harp: [46, 52], harpsichord: [6, 48] },
  struck: { piano: [0, 48], marimba: [12, 48], vibraphone: [11, 60] },
  bowed: { violin: [40, 60], viola: [41, 53], cello: [42, 41] },
  blown: { trumpet: [56, 57], oboe: [68, 62], clarinet: [71, 55], flute: [73, 65], bassoon: [70, 38] },
  sung: { ah: [52, 55], oh: [53, 55] },
};
const BPMS = [76, 100, 124];
/** Somebody who plays is late and early by so much. */
const JITTER_SEC = 0.03;

/** @param row prints one row: what, here, as a ratio */
export function performances(core, scratch, row, say) {
  const [midi, wav] = ['p.mid', 'p.wav'].map(name => join(scratch, name));
  const coded = (codec, ending, rate) => {
    const path = join(scratch, `p.${ending}`);
    const how = ['-i', wav, '-ac', '1', '-c:a', codec, '-b:a', rate, path];
    ran('ffmpeg', ['-nostdin', '-v', 'error', '-y', ...how]);
    return samplesOf(path);
  };
  const conditions = {
    'as they are': () => samplesOf(wav),
    'at 20 dB': bpm => core.withNoise(samplesOf(wav), 20, bpm),
    'by Opus, 32 kbit/s': () => coded('libopus', 'ogg', '32k'),
    'by AAC, 64 kbit/s': () => coded('aac', 'm4a', '64k'),
  };
  const judged = (score, bpm, played, program, samplesBy) => {
    writeFileSync(midi, midiFile(played, program));
    ran('fluidsynth', ['-ni', '-g', '0.6', '-r', '44100', '-F', wav, SOUNDFONT, midi]);
    return Object.entries(samplesBy).map(([condition, samplesOfIt]) => {
      const samples = samplesOfIt(bpm);
      const m = new core.Measurer(RATE, 1, { forScore: true });
      m.pushRaw([samples]);
      m.push(samples);
      const { target } = m.finish('music', { score: core.scoreOf(score, { bpm }) });
      const missed = target.notes.flatMap((n, i) => (n.status === 'missed' ? [i] : []));
      return { condition, missed, extra: target.extra };
    });
  };
  const told = Object.fromEntries(Object.keys(conditions).map(c => [c, []]));
  const mistakes = [];
  for (const [family, instruments] of Object.entries(FAMILIES))
    for (const [name, [program, low]] of Object.entries(instruments)) {
      const random = core.randomFrom(program + 31);
      const chance = core.randomFrom(program + 9);
      for (const bpm of BPMS) {
        const notes = walk(low, 24, bpm, random);
        const score = notes.map(n => ({
          midi: n.midi,
          startQuarters: ((n.startSec - notes[0].startSec) * bpm) / 60,
          quarters: (n.sec * bpm) / 60 / 0.9,
        }));
        const played = notes.map(n => ({
          ...n,
          startSec: n.startSec + JITTER_SEC * (random() - 0.5),
          sec: n.sec * (0.85 + 0.2 * random()),
        }));
        for (const { condition, missed, extra } of judged(score, bpm, played, program, conditions))
          told[condition].push({ family, missed: missed.length, extra });
        const planted = plant(score, chance);
        const wrong = played.flatMap((n, i) => {
          if (!planted.has(i)) return [n];
          const by = planted.get(i);
          return by === null ? [] : [{ ...n, midi: n.midi + by }];
        });
        const [{ missed }] = judged(score, bpm, wrong, program, { 'as they are': conditions['as they are'] });
        for (const [i, by] of planted) mistakes.push({ by, isFound: missed.includes(i) });
      }
      say(`performances: ${name}`);
    }
  const share = (list, test) => `${list.filter(test).length} of ${list.length}`;
  const isRight = p => p.missed === 0 && p.extra === 0;
  for (const [condition, list] of Object.entries(told)) {
    row(
      `performances ${condition}, wholly right`,
      share(list, isRight),
      `${(list.filter(isRight).length / list.length / 0.95).toFixed(3)} of 19 in 20`,
    );
    row(
      '  accused of a note that nobody played',
      share(list, p => p.extra > 0),
      '',
    );
    for (const family of Object.keys(FAMILIES))
      row(
        `  ${family}`,
        share(
          list.filter(p => p.family === family),
          isRight,
        ),
        '',
      );
  }
  const isFound = m => m.isFound;
  for (const [what, test] of [
    ['notes left out, found', m => m.by === null],
    ['  another half tone or two, found', m => m.by !== null && Math.abs(m.by) <= 2],
    ['  other intervals, found', m => m.by !== null && Math.abs(m.by) > 2],
  ])
    row(what, share(mistakes.filter(test), isFound), '');
}

/** Mistakes of a performance, by place: half tones from what is written, null for a note left out. Never beside a like note. */
function plant(score, random) {
  const planted = new Map();
  for (const by of [
    null,
    null,
    [-2, -1, 1, 2][Math.floor(4 * random())],
    [-12, -5, 4, 7][Math.floor(4 * random())],
  ])
    for (let tries = 0; tries < 50; tries++) {
      const i = 2 + Math.floor(random() * (score.length - 4));
      const midi = score[i].midi + (by ?? 0);
      const isNear = [...planted.keys()].some(k => Math.abs(k - i) < 3);
      if (isNear || midi === score[i - 1].midi || midi === score[i + 1].midi) continue;
      planted.set(i, by);
      break;
    }
  return planted;
}
