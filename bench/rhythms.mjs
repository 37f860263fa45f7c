// Rhythms clapped, drummed and spoken: how many are judged wholly right.
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { midiFile, ran, RATE, samplesOf, SOUNDFONT } from './sounds.mjs';

const CELLS = [
  [1],
  [0.5, 0.5],
  [1.5, 0.5],
  [2],
  [0.25, 0.25, 0.5],
  [0.75, 0.25],
  [-1],
  [0.5, -0.5],
  [1 / 3, 1 / 3, 1 / 3],
];
const SYLLABLES = ['ta', 'ti', 'pa', 'da'];
/** Hand clap, snare, side stick, wood block: keys of the percussion channel. */
const DRUMS = [39, 38, 37, 76];
const JITTER_SEC = 0.02;

function rhythm(random) {
  const starts = [];
  for (let at = 0; at < 16;)
    for (const length of CELLS[Math.floor(random() * CELLS.length)]) {
      if (length > 0) starts.push(at);
      at += Math.abs(length);
    }
  return starts;
}

/** @param row prints one row: what, here, as a ratio */
export function rhythms(core, scratch, row, say) {
  const [midi, wav] = ['r.mid', 'r.wav'].map(name => join(scratch, name));
  const syllables = SYLLABLES.map(syllable => {
    ran('espeak-ng', ['-v', 'es', '-s', '260', '-w', wav, syllable]);
    const samples = samplesOf(wav, 'silenceremove=start_periods=1:start_threshold=0.02');
    return samples.subarray(0, samples.findLastIndex(x => Math.abs(x) > 0.01) + 1);
  });
  const sounds = {
    clapped: (hits, sec, random) =>
      core.strokesAt(
        hits.map(h => ({ sec: h, loud: 0.25 + 0.3 * random() })),
        sec,
      ),
    drummed: (hits, sec, random) => {
      const key = DRUMS[Math.floor(random() * DRUMS.length)];
      const notes = hits.map(startSec => ({ startSec, sec: 0.1, midi: key }));
      writeFileSync(midi, midiFile(notes, 0, 9));
      ran('fluidsynth', ['-ni', '-g', '0.8', '-r', '44100', '-F', wav, SOUNDFONT, midi]);
      return samplesOf(wav);
    },
    spoken: (hits, sec, random) => {
      const out = new Float32Array(Math.ceil(sec * RATE));
      hits.forEach((h, i) => {
        const one = syllables[Math.floor(random() * syllables.length)];
        const room = Math.floor(((hits[i + 1] ?? h + 1) - h - 0.02) * RATE);
        const length = Math.max(RATE / 20, Math.min(one.length, room));
        for (let k = 0; k < length && k < one.length; k++)
          out[Math.round(h * RATE) + k] += 0.7 * one[k] * Math.min(1, (length - k) / 200);
      });
      return out;
    },
  };
  const opus = samples => {
    const raw = ['-f', 'f32le', '-ar', String(RATE), '-ac', '1'];
    const path = join(scratch, 'r.ogg');
    const how = ['-nostdin', '-v', 'error', '-y', ...raw, '-i', '-', '-c:a', 'libopus', '-b:a', '24k', path];
    const done = spawnSync('ffmpeg', how, {
      input: Buffer.from(samples.buffer, samples.byteOffset, samples.byteLength),
    });
    if (done.status !== 0) throw new Error(String(done.stderr));
    return samplesOf(path);
  };
  for (const [name, make] of Object.entries(sounds)) {
    const told = { 'as it is': [], 'at 20 dB': [], 'by Opus': [] };
    for (let n = 0; n < 20; n++) {
      const random = core.randomFrom(100 + n);
      const starts = rhythm(random);
      const beat = 60 / (60 + 60 * random());
      const secs = starts.map(q => 0.6 + q * beat * (1 + 0.004 * q) + (random() - 0.5) * 2 * JITTER_SEC);
      // Every second one leaves one or two out.
      const out = new Set(n % 2 ? [2, 2 + Math.floor(random() * (starts.length - 4))] : []);
      const sound = make(
        secs.filter((_, i) => !out.has(i)),
        secs.at(-1) + 1.2,
        random,
      );
      const score = {
        ...core.scoreOf(starts.map(q => ({ midi: 71, startQuarters: q, quarters: 0.25 }))),
        isUnpitched: true,
      };
      const forms = { 'as it is': sound, 'at 20 dB': core.withNoise(sound, 20, n), 'by Opus': opus(sound) };
      for (const [form, samples] of Object.entries(forms)) {
        const m = new core.Measurer(RATE, 1);
        m.pushRaw([samples]);
        m.push(samples);
        const { target } = m.finish('music', { score });
        const isRight = target.notes.every(note => (note.status === 'missed') === out.has(note.index));
        told[form].push(isRight && target.extra === 0);
      }
    }
    for (const [form, list] of Object.entries(told)) {
      const right = list.filter(Boolean).length;
      row(
        `rhythms ${name} ${form}, wholly right`,
        `${right} of ${list.length}`,
        `${(right / list.length / 0.95).toFixed(3)} of 19 in 20`,
      );
    }
    say(`rhythms: ${name}`);
  }
}
