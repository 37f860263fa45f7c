import { describe, expect, it } from '@jest/globals';
import type { ScoreNote } from '../formats/scoreNotes';
import { byDegree, byRegister, vibratoOf } from './intonation';
import type { Note } from './notes';
import type { Pitch } from './pitch';
import { MOST_PARTIALS } from './partials';
import { heldAgainst } from './target';
import { againstBeats, driftPercent, scoreAgainstBeats, tempoCurve } from './tempo';
import { pitchRange, speechInGaps } from './turns';

const pitchOf = (sec: number, hz: (t: number) => number): Pitch => ({
  hopSec: 0.01,
  hz: Float32Array.from({ length: sec * 100 }, (_, i) => hz(i / 100)),
  confidence: new Float32Array(sec * 100).fill(1),
  partials: new Uint8Array(sec * 100 * MOST_PARTIALS),
});
const bent = (cents: number) => 440 * 2 ** (cents / 1_200);

describe('vibrato', () => {
  it.each([
    [5.5, 40],
    [6.8, 15],
    [4.2, 90],
  ])('of %d Hz and %d cents is read from the pitch, a slide beneath it or not', (rate, extent) => {
    for (const slide of [0, 60]) {
      const pitch = pitchOf(1, t => bent(extent * Math.sin(2 * Math.PI * rate * t) + slide * t));
      const found = vibratoOf(pitch, { startSec: 0, endSec: 1 })!;
      expect(Math.abs(found.rateHz - rate)).toBeLessThan(0.25);
      expect(Math.abs(found.extentCents / extent - 1)).toBeLessThan(0.1);
    }
  });

  it('is none in a straight tone, in a slide, in a step and in a short note', () => {
    const straight = pitchOf(1, t => bent(3 * Math.sin(2 * Math.PI * 5 * t)));
    expect(vibratoOf(straight, { startSec: 0, endSec: 1 })).toBeNull();
    expect(
      vibratoOf(
        pitchOf(1, t => bent(80 * t)),
        { startSec: 0, endSec: 1 },
      ),
    ).toBeNull();
    const wavy = pitchOf(1, t => bent(40 * Math.sin(2 * Math.PI * 5.5 * t)));
    expect(vibratoOf(wavy, { startSec: 0.2, endSec: 0.5 })).toBeNull();
    expect(
      vibratoOf(
        pitchOf(1, () => 0),
        { startSec: 0, endSec: 1 },
      ),
    ).toBeNull();
  });
});

const score: ScoreNote[] = [60, 62, 64, 65, 67, 69, 71, 72, 74, 76, 77, 79, 81, 83, 84, 72].map(
  (midi, i) => ({
    midi,
    startQuarters: i,
    quarters: 1,
    atQuarters: 0,
    measure: '1',
  }),
);
const played = (secondsOf: (quarters: number) => number, centsOf = (_: number) => 0): Note[] =>
  score.map(n => ({
    startSec: secondsOf(n.startQuarters),
    endSec: secondsOf(n.startQuarters) + 0.4,
    midi: n.midi,
    cents: centsOf(n.midi),
  }));

describe('where a performance tends to be off', () => {
  it('is said by degree of the scale and by register', () => {
    // Leading notes 20 cents low; the upper octave 12 high.
    const notes = played(
      q => 1 + q / 2,
      midi => (midi % 12 === 11 ? -20 : 0) + (midi >= 72 ? 6 : -6),
    );
    const target = heldAgainst(score, notes, 120);
    const degrees = byDegree(target, score, 0);
    expect(degrees.map(d => d.at)).toEqual([1, 2, 3, 4, 5, 6, 7]);
    const seventh = degrees.find(d => d.at === 7)!;
    expect(seventh.notes).toBe(2);
    expect(seventh.centsOff - degrees.find(d => d.at === 4)!.centsOff).toBeCloseTo(-20);
    // The same notes as degrees of G major.
    expect(byDegree(target, score, 1).map(d => d.at)).toEqual([1, 2, 3, 4, 5, 6, 6.5]);
    const [low, high] = byRegister(target, score);
    expect([low!.at, high!.at]).toEqual([4, 5]);
    expect(high!.centsOff - low!.centsOff).toBeCloseTo(12);
  });

  it('leaves out what was missed', () => {
    const target = heldAgainst(score, [], 120);
    expect(byDegree(target, score, 0)).toEqual([]);
    expect(tempoCurve(target, score)).toEqual([]);
    expect(driftPercent([])).toBeNull();
  });
});

describe('the tempo as it goes', () => {
  it('is even, or gets faster', () => {
    const even = tempoCurve(
      heldAgainst(
        score,
        played(q => 1 + q / 2),
        120,
      ),
      score,
    );
    expect(even).toHaveLength(score.length);
    for (const { bpm } of even) expect(bpm).toBeCloseTo(120, 3);
    expect(driftPercent(even)).toBeCloseTo(0, 3);
    // From 120 to about 150.
    const rushed = played(q => 1 + q / 2 - 0.0035 * q * q);
    const curve = tempoCurve(heldAgainst(score, rushed, 120), score);
    expect(curve.at(-1)!.bpm).toBeGreaterThan(curve[0]!.bpm + 20);
    expect(driftPercent(curve)).toBeGreaterThan(15);
  });

  it('is held against a metronome where one ran', () => {
    const beats = [1, 1.5, 2, 2.5, 3];
    const found = againstBeats([0.2, 0.98, 1.52, 1.77, 2.5, 3.4], beats);
    expect(found.map(f => Math.round(1_000 * f.offSec))).toEqual([-20, 20, 20, 0]);
    expect(found.map(f => f.atSec)).toEqual([0.98, 1.52, 1.77, 2.5]);
    expect(againstBeats([1], [])).toEqual([]);
    // One beat a note, played late: not taken for early quarters of a beat.
    const late = Array.from({ length: 8 }, (_, i) => 1 + 0.5 * i + 0.1 + 0.02 * (i % 3));
    const grid = Array.from({ length: 12 }, (_, i) => 1 + 0.5 * i);
    for (const { offSec } of againstBeats(late, grid)) expect(offSec).toBeGreaterThan(0.08);
  });

  it('is held against the score and the metronome together, wherever the piece begins', () => {
    const performance = played(q => 4.03 + 0.75 * q);
    const target = heldAgainst(score, performance, 80);
    // A beat each 0.75 s from 1.03 s on: the piece begins on the fifth.
    const beats = Array.from({ length: 40 }, (_, i) => 1 + 0.75 * i);
    for (const { offSec } of scoreAgainstBeats(target, score, beats)) expect(offSec).toBeCloseTo(0.03, 3);
    expect(scoreAgainstBeats(target, score, [1])).toEqual([]);
  });
});

describe('answers in gaps', () => {
  it('have a latency and a length', () => {
    const stretches = [
      { startSec: 2.4, endSec: 5 },
      { startSec: 6, endSec: 7 },
      { startSec: 9, endSec: 13 },
    ];
    const gaps = [
      { startSec: 2, endSec: 8 },
      { startSec: 10, endSec: 12 },
      { startSec: 14, endSec: 20 },
    ];
    expect(speechInGaps(stretches, gaps)).toEqual([
      { latencySec: expect.closeTo(0.4), speakingSec: expect.closeTo(3.6) },
      { latencySec: 0, speakingSec: 2 },
      { latencySec: null, speakingSec: 0 },
    ]);
  });

  it('are spoken in a range', () => {
    const lively = pitchRange(pitchOf(2, t => 150 * 2 ** (0.5 * Math.sin(2 * Math.PI * t))))!;
    expect(lively.semitones).toBeGreaterThan(11);
    expect(lively.middleHz).toBeCloseTo(150, 0);
    expect(pitchRange(pitchOf(2, () => 120))!.semitones).toBe(0);
    expect(pitchRange(pitchOf(2, () => 0))).toBeNull();
  });
});
