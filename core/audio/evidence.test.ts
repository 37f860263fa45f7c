import { describe, expect, it } from '@jest/globals';
import { babble, overNoise } from '../testing/sounds';
import { evidenceOf, expectedNotes, figuresOf } from './evidence';
import { ANALYSIS_HZ } from './halves';
import { Measurer, type HeardAs, type HeardWith } from './measure';
import { passageWords } from './reading';
import { scoreOf } from '../testing/scores';

function measured(samples: Float32Array, as: HeardAs, known?: HeardWith) {
  const measurer = new Measurer(ANALYSIS_HZ, 1);
  measurer.pushRaw([samples]);
  measurer.push(samples);
  return measurer.finish(as, known);
}

/** Plain tones with soft edges, each at its second. */
function tones(sung: readonly { midi: number; atSec: number; sec: number }[], lengthSec: number) {
  const samples = new Float32Array(lengthSec * ANALYSIS_HZ);
  for (const { midi, atSec, sec } of sung) {
    const step = (2 * Math.PI * 440 * 2 ** ((midi - 69) / 12)) / ANALYSIS_HZ;
    const count = Math.round(sec * ANALYSIS_HZ);
    for (let i = 0; i < count; i++) {
      const edge = Math.min(1, i / 200, (count - i) / 200);
      samples[Math.round(atSec * ANALYSIS_HZ) + i] =
        edge * (0.2 * Math.sin(step * i) + 0.08 * Math.sin(2 * step * i));
    }
  }
  return samples;
}

const note = (midi: number, startQuarters: number) => ({
  midi,
  startQuarters,
  quarters: 1,
  atQuarters: 0,
  measure: '1',
});

describe('what is kept of a take', () => {
  it('lies at its seconds of the whole recording, though measured from the beginning of the answer', () => {
    const { samples } = babble([5, 4], 2, 0.8);
    const measures = measured(overNoise(samples, -60), 'speech');
    const evidence = evidenceOf(measures, { as: 'speech', fromSec: 3 });
    expect(evidence.pauses).toEqual(
      measures.pauses.map(p => ({ startSec: p.startSec + 3, endSec: p.endSec + 3 })),
    );
    expect(evidence.pitch).toMatchObject({ fromSec: 3, hopSec: 0.01 });
    expect(evidence.durationSec).toBeCloseTo(samples.length / ANALYSIS_HZ + 3, 6);
    const voiced = evidence.pitch.cents.filter(c => c > 0);
    expect(voiced.every(c => Number.isInteger(c) && c > 2_000 && c < 9_000)).toBe(true);
    expect(figuresOf(evidence)).toMatchObject({ pauseCount: 1 });
    // What has no meaning here is not there, and not 0.
    for (const name of ['wordsPerMinute', 'bpm', 'offCents', 'latencySec'])
      expect(figuresOf(evidence)).not.toHaveProperty(name);
  });

  it('of a melody is each note against the score and against the metronome', () => {
    const line = [60, 62, 64, 65, 67, 65, 64, 62].map(note);
    // A quarter is 0.5 s; the third note is 30 cents flat, the sixth comes 80 ms late.
    const played = line.map((n, i) => ({
      midi: n.midi - (i === 2 ? 0.3 : 0),
      atSec: 0.5 + 0.5 * i + (i === 5 ? 0.08 : 0),
      sec: i === 5 ? 0.38 : 0.45,
    }));
    const measures = measured(overNoise(tones(played, 5), -70), 'music', {
      score: scoreOf(line, { bpm: 120 }),
    });
    const beatsSec = Array.from({ length: 10 }, (_, i) => 2 + 0.5 * i);
    const evidence = evidenceOf(measures, { as: 'music', fromSec: 2, line, beatsSec });
    const { notes } = evidence.target!;
    expect(notes.every(n => n.status === 'played')).toBe(true);
    expect(notes[2]!.centsOff).toBeCloseTo(-30, 0);
    expect(notes[5]!.onsetOffSec).toBeGreaterThan(0.06);
    expect(notes[0]!.startSec).toBeCloseTo(2.5, 1);
    expect(evidence.line).toHaveLength(8);
    expect(evidence.beats).toHaveLength(8);
    expect(evidence.beats![5]!.offSec).toBeGreaterThan(0.05);
    // The line lies where it was played, but for what was late.
    const expected = expectedNotes(evidence);
    expect(expected).toHaveLength(8);
    expect(expected[4]!.startSec).toBeCloseTo(notes[4]!.startSec! - notes[4]!.onsetOffSec!, 3);
    expect(expected[4]!.endSec - expected[4]!.startSec).toBeCloseTo(0.5, 1);
    expect(expected[0]!.cents).toBeCloseTo(6_000 + evidence.target!.tuningCents!, 6);
    expect(expectedNotes({ target: null, line: null })).toEqual([]);
    const figures = figuresOf(evidence);
    expect(figures).toMatchObject({ playedPercent: 100, extraNotes: 0 });
    expect(figures.bpm).toBeGreaterThan(116);
    expect(figures.beatMs).toBeLessThan(25);
  });

  it('of a conversation is each answer, and not the turns between', () => {
    const { samples, spans } = babble([6, 5, 7], 4, 1.2);
    const gaps = [spans[0]!, spans[2]!].map(s => ({ startSec: s.startSec - 0.3, endSec: s.endSec + 0.3 }));
    const all = measured(overNoise(samples, -60), 'speech');
    const measures = measured(overNoise(samples, -60), 'speech', { gaps });
    expect(all.pauses).toHaveLength(2);
    expect(measures.pauses).toHaveLength(0);
    expect(measures.turns).toHaveLength(2);
    expect(measures.turns![0]!.latencySec).toBeGreaterThan(0.2);
    expect(measures.speech!.syllables).toBeLessThan(all.speech!.syllables);
    const figures = figuresOf(evidenceOf(measures, { as: 'speech', fromSec: 0 }));
    expect(figures).toHaveProperty('latencySec');
    expect(figures).not.toHaveProperty('initialSilenceSec');
  });

  it('of a passage that was not read says so, and gives no words a minute', () => {
    const { samples } = babble([5, 4], 6, 0.6);
    const measures = measured(overNoise(samples, -60), 'speech');
    const passage = passageWords('One word after another, and so on for ever and ever. '.repeat(6));
    const evidence = evidenceOf(measures, { as: 'speech', fromSec: 0, passage });
    expect(evidence.remarks.at(-1)).toMatch(/does not fit the passage/);
    expect(figuresOf(evidence)).not.toHaveProperty('insidePauses');
  });
});
