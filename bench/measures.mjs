// ./ecoute bench measures: how well and how fast recordings are measured, beside aubio's tools on the same files.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { performances } from './performances.mjs';
import { rhythms } from './rhythms.mjs';
import { severalVoices } from './severalVoices.mjs';
import { midiFile, ran, RATE, samplesOf, SOUNDFONT, walk, write } from './sounds.mjs';
import { realSpeakers, syntheticSpeakers, TEXTS } from './speakers.mjs';

/** General MIDI programs, with a low note of each. */
const STRUCK = { piano: [0, 48], guitar: [24, 45], marimba: [12, 48], harpsichord: [6, 48] };
const SUSTAINED = {
  violin: [40, 57],
  cello: [42, 45],
  trumpet: [56, 55],
  oboe: [68, 60],
  clarinet: [71, 52],
  recorder: [74, 67],
  voice: [53, 52],
};

const lines = out =>
  out
    .toString()
    .trim()
    .split('\n')
    .map(l => l.split(/\s+/).map(Number));

const sorted = values => [...values].sort((a, b) => a - b);
const nth = (values, share) =>
  sorted(values)[Math.min(values.length - 1, Math.floor(values.length * share))] ?? NaN;
const percent = share => `${(100 * share).toFixed(2)} %`;

function f1(truth, found, within) {
  const left = [...found];
  let hits = 0;
  for (const t of truth) {
    const near = left.findIndex(f => Math.abs(f - t) <= within);
    if (near < 0) continue;
    left.splice(near, 1);
    hits += 1;
  }
  return (2 * hits) / (truth.length + found.length);
}

/** @param core what `bench/measuring.ts` hands on */
export function measures(core, scratch, root, say) {
  const wav = join(scratch, 'sound.wav');
  const measure = (samples, as) => {
    const m = new core.Measurer(RATE, 1);
    m.pushRaw([samples]);
    m.push(samples);
    return m.finish(as);
  };
  const rows = [];
  const row = (...cells) => rows.push(cells);

  for (const snr of [Infinity, 20, 10]) {
    const own = { cents: [], gross: 0, all: 0 };
    const theirs = Object.fromEntries(
      ['yin', 'yinfft', 'yinfast'].map(m => [m, { cents: [], gross: 0, all: 0 }]),
    );
    const count = (into, hz, truth) => {
      into.all += 1;
      const off = hz > 0 ? Math.abs(1200 * Math.log2(hz / truth)) : Infinity;
      if (off > 50) into.gross += 1;
      else into.cents.push(off);
    };
    for (const [name, kind] of Object.entries(core.TONES))
      for (const hz of [63, 82, 110, 147, 196, 294, 440, 659, 988]) {
        const { samples, truth } = core.tone(hz * 1.01, 1, kind);
        const sound = snr === Infinity ? samples : core.withNoise(samples, snr, hz);
        const { pitch } = measure(sound, 'music');
        for (let i = 8; i < 92; i++) count(own, pitch.hz[i] ?? 0, truth(i * pitch.hopSec));
        write(wav, sound);
        for (const [method, into] of Object.entries(theirs))
          for (const [sec, found] of lines(
            ran('aubiopitch', ['-i', wav, '-B', '1024', '-H', '160', '-p', method]),
          )) {
            // The middle of what it looked at.
            const at = sec + 0.01 - 0.032;
            if (at > 0.08 && at < 0.92) count(into, found, truth(at));
          }
        if (hz === 988) say(`pitch: ${name}, ${snr} dB`);
      }
    const best = Object.values(theirs).sort(
      (a, b) => a.gross - b.gross || nth(a.cents, 0.5) - nth(b.cents, 0.5),
    )[0];
    const level = snr === Infinity ? 'clean' : `at ${snr} dB`;
    row(
      `pitch of tones ${level}, median error`,
      `${nth(own.cents, 0.5).toFixed(2)} cents`,
      `${nth(best.cents, 0.5).toFixed(2)} cents`,
    );
    row('  over 50 cents, or none', percent(own.gross / own.all), percent(best.gross / best.all));
  }

  for (const [group, instruments] of Object.entries({
    'plucked and struck': STRUCK,
    'bowed, blown and sung': SUSTAINED,
  })) {
    const [own, theirs, tempi, theirTempi] = [[], [], [], []];
    for (const [name, [program, low]] of Object.entries(instruments)) {
      const random = core.randomFrom(program + 1);
      for (const bpm of [76, 100, 124]) {
        const notes = walk(low, 22, bpm, random);
        writeFileSync(join(scratch, 'm.mid'), midiFile(notes, program));
        ran('fluidsynth', [
          '-ni',
          '-R',
          '0',
          '-C',
          '0',
          '-g',
          '0.6',
          '-r',
          '44100',
          '-F',
          join(scratch, 'm.wav'),
          SOUNDFONT,
          join(scratch, 'm.mid'),
        ]);
        const sound = core.withNoise(samplesOf(join(scratch, 'm.wav')), 20, bpm);
        const found = measure(sound, 'music');
        const truth = notes.map(n => n.startSec);
        own.push(f1(truth, found.onsets, 0.05));
        tempi.push(Math.abs((found.tempo?.bpm ?? 0) / bpm - 1));
        write(wav, sound);
        theirs.push(
          f1(
            truth,
            lines(ran('aubioonset', ['-i', wav]))
              .flat()
              .filter(Number.isFinite),
            0.05,
          ),
        );
        const beats = lines(ran('aubiotrack', ['-i', wav]))
          .flat()
          .filter(Number.isFinite);
        const gaps = beats.slice(1).map((b, i) => b - beats[i]);
        theirTempi.push(gaps.length ? Math.abs(60 / nth(gaps, 0.5) / bpm - 1) : 1);
      }
      say(`notes: ${name}`);
    }
    const mean = values => values.reduce((a, b) => a + b, 0) / values.length;
    const near = values => `${values.filter(v => v < 0.04).length} of ${values.length}`;
    row(`onsets of notes ${group} at 20 dB, mean F1`, mean(own).toFixed(3), mean(theirs).toFixed(3));
    row('  quarter-note tempo within 4 %', near(tempi), near(theirTempi));
  }

  performances(core, scratch, row, say);
  severalVoices(core, scratch, row, say);
  rhythms(core, scratch, row, say);

  for (const floor of [-60, -45, -35]) {
    const [own, theirs, edges] = [[], [], []];
    for (let seed = 1; seed <= 6; seed++) {
      const { samples, spans } = core.babble([5, 3, 7, 2, 4, 6], seed, 0.3 + 0.15 * seed);
      const sound = core.overNoise(samples, floor, seed);
      const truth = spans.slice(0, -1).map(s => s.endSec);
      const { pauses } = measure(sound, 'speech');
      own.push(
        f1(
          truth,
          pauses.map(p => p.startSec),
          0.1,
        ),
      );
      for (const t of truth) edges.push(Math.min(...pauses.map(p => Math.abs(p.startSec - t))));
      write(wav, sound);
      const tried = [-70, -50, -40, -30].map(silence => {
        const quiet = ran('aubioquiet', ['-i', wav, '-s', String(silence)])
          .toString()
          .trim()
          .split('\n');
        const starts = quiet.filter(l => l.startsWith('QUIET')).map(l => Number(l.split(/\s+/)[1]));
        return f1(truth, starts, 0.1);
      });
      theirs.push(Math.max(...tried));
    }
    const mean = values => values.reduce((a, b) => a + b, 0) / values.length;
    row(
      `pauses over a room of ${floor} dBFS, mean F1 within 100 ms`,
      mean(own).toFixed(3),
      `${mean(theirs).toFixed(3)} (its best threshold)`,
    );
    row('  edges, median', `${(1000 * nth(edges, 0.5)).toFixed(1)} ms`, '');
  }

  const correlation = (list, one, other) => core.correlationOf(list.map(one), list.map(other)).toFixed(3);
  const counts = (speakers, name) => {
    const list = [];
    for (const { syllables, samples } of speakers) {
      const { speech } = measure(samples, 'speech');
      list.push({ truth: syllables, counted: speech.syllables, sec: speech.speakingSec });
    }
    const usual = list.reduce((sum, s) => sum + s.truth, 0) / list.reduce((sum, s) => sum + s.sec, 0);
    const off = count =>
      percent(list.reduce((sum, s) => sum + Math.abs(count(s) / s.truth - 1), 0) / list.length);
    const all = count => list.reduce((sum, s) => sum + count(s), 0);
    row(
      `syllables of ${list.length} recordings of ${name}, mean error`,
      off(s => s.counted),
      `${off(s => s.sec * usual)} (time × usual rate)`,
    );
    row('  all together', percent(all(s => s.counted) / all(s => s.truth) - 1), '');
    row(
      '  correlation of counts',
      correlation(
        list,
        s => s.truth,
        s => s.counted,
      ),
      `${correlation(
        list,
        s => s.truth,
        s => s.sec,
      )} (time alone)`,
    );
    return list;
  };
  const noisy = function* (speakers) {
    for (const s of speakers) yield { ...s, samples: core.overNoise(s.samples, -60) };
  };
  const synthetic = counts(noisy(syntheticSpeakers(TEXTS, wav)), 'synthetic speakers');
  // Recordings of people are nobody's to ship: whoever has some names a list of them.
  const list = process.env.ECOUTE_VOICES;
  if (list) {
    const people = [...realSpeakers(list)];
    const each = [...new Set(people.map(p => p.language))].flatMap(language =>
      counts(
        people.filter(p => p.language === language),
        `one who speaks ${language}`,
      ),
    );
    const rates = speakers =>
      correlation(
        speakers,
        s => s.truth / s.sec,
        s => s.counted / s.sec,
      );
    row(
      '  correlation of rates, over all of them',
      rates(each),
      `${rates([...each, ...synthetic])} (and synthetic ones)`,
    );
  } else row('syllables of people', 'no list named', 'ECOUTE_VOICES=LIST.json');

  const minute = join(scratch, 'minute.ogg');
  const voice = join(root, 'demo/audio/morning-wake-amara.ogg');
  const looped = (sec, path) =>
    ran('ffmpeg', [
      '-nostdin',
      '-v',
      'error',
      '-y',
      '-stream_loop',
      '200',
      '-i',
      voice,
      '-t',
      String(sec),
      '-c:a',
      'libopus',
      '-b:a',
      '24k',
      path,
    ]);
  looped(60, minute);
  const sound = samplesOf(minute);
  const times = Array.from({ length: 7 }, () => {
    const from = performance.now();
    measure(sound, 'speech');
    return performance.now() - from;
  });
  const decodes = Array.from({ length: 5 }, () => {
    const from = performance.now();
    ran('ffmpeg', ['-nostdin', '-v', 'error', '-i', minute, '-f', 'null', '-']);
    return performance.now() - from;
  });
  row(
    'a minute of speech, after decoding, median',
    `${nth(times, 0.5).toFixed(0)} ms`,
    `${(60_000 / nth(times, 0.5)).toFixed(0)} times real time, ${(nth(times, 0.5) / 600).toFixed(2)} of 0.6 s`,
  );
  row(
    '  beside ffmpeg’s decoding of the same file',
    `${nth(decodes, 0.5).toFixed(0)} ms`,
    `${(nth(times, 0.5) / nth(decodes, 0.5)).toFixed(2)} of it`,
  );
  const peak = sec => {
    const path = join(scratch, 'long.ogg');
    looped(sec, path);
    // By its own pages: what usage says of a process begins with those of the one that started it.
    const note = `import { readFileSync, writeFileSync } from 'node:fs'; process.on('exit', () => writeFileSync(${JSON.stringify(join(scratch, 'rss'))}, /VmHWM:\\s*(\\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))[1]))`;
    const program = join(root, 'build/server/measure.mjs');
    const watched = `data:text/javascript,${encodeURIComponent(note)}`;
    // As `./ecoute measure` starts it.
    const started = ['--max-semi-space-size=2', '--expose-gc', '--import', watched, program];
    ran('node', [...started, path, '--as', 'speech', '--json']);
    return Number(readFileSync(join(scratch, 'rss'), 'utf8')) / 1024;
  };
  const [short, long] = [peak(600), peak(3_600)];
  row(
    'memory at most, 10 and 60 minutes',
    `${short.toFixed(0)}, ${long.toFixed(0)} MB`,
    `${(long / short).toFixed(2)} of the shorter`,
  );
  return rows;
}

export function printMeasures(rows) {
  console.log(`${'what'.padEnd(64)}${'here'.padStart(18)}   aubio, or as a ratio`);
  for (const [name, here, there] of rows) console.log(`${name.padEnd(64)}${here.padStart(18)}   ${there}`);
}
