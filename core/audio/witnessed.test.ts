import { describe, expect, it } from '@jest/globals';
import { SemitoneMeter } from '../polyphony/semitones';
import { scoreOf } from '../testing/scores';
import { melody, TONES, withNoise, type PlayedNote, type ToneKind } from '../testing/sounds';
import type { Performed } from './alignNotes';
import { HalfSplitter } from './halves';
import { isListenedTo, riseAt, sureRise } from './risingTones';
import { heldAgainst } from './target';

function levelsOf(samples: Float32Array) {
  const splitter = new HalfSplitter();
  const meter = new SemitoneMeter();
  meter.push(splitter.push(samples).low);
  meter.push(splitter.finish().low);
  return meter.finish();
}

/** Strings that nobody damps. */
const harp: ToneKind = { partial: n => 0.6 ** (n - 1), decay: 0.25 };
const PITCHES = [52, 57, 61, 56, 52, 59, 54, 61];
const BEAT_SEC = 0.5;
const FIRST_SEC = 0.4;
const beginsAt = (i: number) => FIRST_SEC + i * BEAT_SEC;
const { notes: SCORE } = scoreOf(
  PITCHES.map((midi, i) => ({ midi, startQuarters: i, quarters: 1 })),
  { bpm: 120 },
);

/** @param midis the pitch played at each place; null for none */
const plucked = (midis: readonly (number | null)[], kind = harp): Float32Array =>
  melody(
    midis.flatMap((midi, i): PlayedNote[] =>
      midi === null ? [] : [{ startSec: beginsAt(i), sec: 2, midi }],
    ),
    kind,
  );

/** With another note at the fourth place, or none. */
const changed = (midi: number | null) => PITCHES.map((own, i) => (i === 3 ? midi : own));

/** As followed: all notes but those that something else was followed for. */
const followed = (instead: Record<number, Partial<Performed> | null>): Performed[] =>
  PITCHES.flatMap((midi, i) => {
    const other = instead[i];
    if (other === null) return [];
    const note = { startSec: beginsAt(i), endSec: beginsAt(i + 1), midi, cents: 0, beganDb: 8, mostDb: -20 };
    return [{ ...note, partials: [0.6, 0.3, 0.1, 0, 0, 0], ...other }];
  });

/** What is followed where two tones have a pitch in common: no first partial. */
const common = (midi: number) => ({ midi, partials: [0, 0.1, 0.1, 0.5, 0, 0.3] });

describe('a note begins', () => {
  const at = 3;
  const rise = (samples: Float32Array, midi: number) =>
    riseAt(levelsOf(samples), midi, beginsAt(at), beginsAt(at + 1));

  it('where its own partials rise over what still rings, and no other pitch does', () => {
    for (const samples of [plucked(PITCHES), withNoise(plucked(PITCHES), 20)]) {
      expect(rise(samples, 56)).toMatchObject({ isSure: true });
      // Half tones and octaves beside it, the pitches that it shares with what rings, and what rings.
      for (const other of [55, 57, 44, 68, 37, 61, 52])
        expect(rise(samples, other)?.isSure ?? false).toBe(false);
    }
  });

  it('not where it was left out, nor where another was played', () => {
    for (const other of [null, 55, 57, 44, 68, 63])
      expect(rise(plucked(changed(other)), 56)?.isSure ?? false).toBe(false);
  });

  it('although little of its first partial sounds; but not the octave below it', () => {
    const faint: ToneKind = { partial: n => [0.1, 1, 0.2, 0.3][n - 1] ?? 0, decay: 0.25 };
    expect(rise(plucked(PITCHES, faint), 56)).toMatchObject({ isSure: true });
    expect(rise(plucked(PITCHES.with(at, 68), faint), 56)?.isSure ?? false).toBe(false);
  });

  it('at the moment at which it rises most', () => {
    const found = sureRise(
      levelsOf(plucked(PITCHES)),
      56,
      beginsAt(at) - 0.12,
      beginsAt(at) + 0.12,
      beginsAt(at + 1),
    );
    expect(Math.abs(found!.sec - beginsAt(at))).toBeLessThan(0.05);
  });

  it('nowhere in silence, nor in a tone that goes on; and is not listened for below the half tones', () => {
    expect(rise(new Float32Array(48_000), 56)).toBeNull();
    const long = melody([{ startSec: 0, sec: 4, midi: 56 }], TONES.rich!);
    expect(rise(long, 56)).toBeNull();
    const levels = levelsOf(long);
    expect(isListenedTo(levels, 56)).toBe(true);
    expect(isListenedTo(levels, 33)).toBe(false);
    expect(riseAt(levels, 33, 1, 2)).toBeNull();
  });
});

describe('a performance among ringing strings', () => {
  const held = (samples: Float32Array, heard: readonly Performed[]) =>
    heldAgainst(SCORE, heard, 120, levelsOf(samples));
  const missed = (target: ReturnType<typeof held>) =>
    target.notes.filter(n => n.status === 'missed').map(n => n.index);

  it('has the note for which the follower heard what it has in common with others, and no note more', () => {
    const target = held(plucked(PITCHES), followed({ 3: common(37) }));
    expect(missed(target)).toEqual([]);
    expect(target.extra).toBe(0);
    expect(target.notes[3]).toMatchObject({ centsOff: null, durationRatio: null, startSec: beginsAt(3) });
    expect(target.notes[3]!.onsetOffSec).toBeCloseTo(0, 2);
  });

  it('has the note for which nothing was followed; when it began is not told', () => {
    const target = held(plucked(PITCHES), followed({ 3: null }));
    expect(missed(target)).toEqual([]);
    expect(target.notes[3]!.onsetOffSec).toBeNull();
    expect(target.notes[3]!.startSec).toBeCloseTo(beginsAt(3), 2);
  });

  it('has not the note that was left out, nor the one for which another was played', () => {
    expect(missed(held(plucked(changed(null)), followed({ 3: null })))).toEqual([3]);
    for (const other of [55, 57, 44, 68]) {
      const target = held(plucked(changed(other)), followed({ 3: { midi: other } }));
      expect(missed(target)).toEqual([3]);
      expect(target.extra).toBe(1);
    }
  });

  it('is accused of a note more only where one rises', () => {
    const between = { ...followed({})[3]!, startSec: beginsAt(3) + 0.25, midi: 64 };
    const heard = followed({ 3: { endSec: between.startSec } }).toSpliced(4, 0, between);
    expect(held(plucked(PITCHES), heard).extra).toBe(0);
    const both = plucked(PITCHES).slice();
    melody([{ startSec: between.startSec, sec: 1, midi: 64 }], harp).forEach((x, i) => (both[i]! += x));
    expect(held(both, heard).extra).toBe(1);
    // As before where the half tones are not known.
    expect(heldAgainst(SCORE, heard, 120).extra).toBe(1);
  });

  it('is not looked for where hardly anything was followed', () => {
    const target = held(plucked(PITCHES), followed(Object.fromEntries([1, 2, 3, 4, 5].map(i => [i, null]))));
    expect(missed(target)).toEqual([1, 2, 3, 4, 5]);
  });
});
