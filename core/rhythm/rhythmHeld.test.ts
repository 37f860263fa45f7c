import { describe, expect, it } from '@jest/globals';
import { Measurer } from '../audio/measure';
import { scoreOf } from '../testing/scores';
import { overNoise, strokesAt } from '../testing/sounds';
import { rhythmHeld } from './rhythmHeld';
import type { Stroke } from './strokes';

const RATE = 16_000;
/** Two bars: quarters, eighths, a dotted one, a rest. */
const QUARTERS = [0, 1, 1.5, 2, 3, 4, 5.5, 6, 6.5, 7, 8, 9, 9.5, 10, 12];
const WRITTEN = {
  ...scoreOf(
    QUARTERS.map(q => ({ midi: 71, startQuarters: q, quarters: 0.5 })),
    { bpm: 100 },
  ),
  isUnpitched: true,
};
const BEAT_SEC = 0.6;
const at = (quarters: number) => 0.7 + quarters * BEAT_SEC;

function clapped(secs: readonly number[], { echo = 0, floorDbfs = -60 } = {}) {
  const loud = secs.map((sec, i) => ({ sec, loud: 0.3 + 0.1 * (i % 3) }));
  const echoes = echo === 0 ? [] : loud.map(s => ({ sec: s.sec + 0.09, loud: echo * s.loud }));
  const samples = overNoise(strokesAt([...loud, ...echoes], (secs.at(-1) ?? 0) + 1.5), floorDbfs);
  const measurer = new Measurer(RATE, 1);
  measurer.pushRaw([samples]);
  measurer.push(samples);
  return measurer.finish('music', { score: WRITTEN });
}
const missedIn = (m: ReturnType<typeof clapped>) =>
  m.target!.notes.filter(n => n.status === 'missed').map(n => n.index);

describe('a rhythm beside what is written', () => {
  it('has a time for each stroke and how early or late it is, and neither pitch nor length', () => {
    const secs = QUARTERS.map((q, i) => at(q) + (i === 7 ? 0.07 : 0));
    const { target, notes, onsets, tempo, remarks } = clapped(secs);
    expect(target).toMatchObject({ isRhythm: true, extra: 0, tuningCents: null });
    for (const { index, startSec, centsOff, durationRatio, onsetOffSec } of target!.notes) {
      expect(Math.abs(startSec! - secs[index]!)).toBeLessThan(0.015);
      expect([centsOff, durationRatio]).toEqual([null, null]);
      expect(Math.abs(onsetOffSec! - (index === 7 ? 0.07 : 0))).toBeLessThan(0.02);
    }
    expect(target!.bpm).toBeCloseTo(100, -0.5);
    expect(tempo!.stabilityPercent).toBeGreaterThan(90);
    expect(notes).toBeNull();
    expect(onsets).toHaveLength(QUARTERS.length);
    // That it has no pitch is what was asked for.
    expect(remarks).toEqual([]);
  });

  it.each([0.7, 1, 1.6])('is known at another tempo: %s times as fast', times => {
    const m = clapped(QUARTERS.map(q => 0.5 + (q * BEAT_SEC) / times));
    expect(missedIn(m)).toEqual([]);
    expect(m.target!.extra).toBe(0);
    expect(m.target!.tempoRatio! / times).toBeCloseTo(1, 1);
  });

  it('says which stroke was left out, and how many were put in', () => {
    const m = clapped([...QUARTERS.filter((_, i) => i !== 5).map(at), at(11)].sort((a, b) => a - b));
    expect(missedIn(m)).toEqual([5]);
    expect(m.target!.extra).toBe(1);
  });

  it('hears neither the room nor an echo as strokes, and may become slower on the way', () => {
    const slower = QUARTERS.map(q => at(q) + 0.005 * q * q);
    for (const how of [{ echo: 0.12 }, { floorDbfs: -40 }]) {
      const m = clapped(slower, how);
      expect([missedIn(m), m.target!.extra]).toEqual([[], 0]);
    }
  });

  it('of silence all is missed; of one stroke nothing is said but that', () => {
    const silence = clapped([]);
    expect(missedIn(silence)).toHaveLength(QUARTERS.length);
    expect(silence.target!.bpm).toBeNull();
    const stroke: Stroke = { sec: 1, riseDb: 8, mostDb: -20 };
    const one = rhythmHeld(WRITTEN.notes, [stroke], null);
    expect(one.notes.filter(n => n.status === 'played')).toHaveLength(1);
    expect([one.bpm, one.tempoRatio, one.extra]).toEqual([null, null, 0]);
  });
});
