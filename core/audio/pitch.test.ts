import { describe, expect, it } from '@jest/globals';
import { ANALYSIS_HZ, HalfSplitter } from './halves';
import { HOP_SEC, PitchTracker, type Pitch } from './pitch';
import { melody, tone, TONES, withNoise, type ToneKind } from '../testing/sounds';

function follow(samples: Float32Array, piece = 4_096): Pitch {
  const splitter = new HalfSplitter();
  const tracker = new PitchTracker();
  for (let i = 0; i < samples.length; i += piece)
    tracker.push(splitter.push(samples.subarray(i, i + piece)).low);
  tracker.push(splitter.finish().low);
  return tracker.finish();
}

const PITCHES = [62, 98, 147, 233, 415, 831, 1_960];

/** Errors in cents, and the share of hops that are off by more than 50 or have no pitch. */
function errors(kind: ToneKind, snrDb: number) {
  const cents: number[] = [];
  let gross = 0;
  let all = 0;
  // Above 1 kHz the overtones lie beyond what is listened to, and a weak fundamental has nobody to speak for it.
  const pitches = PITCHES.filter(hz => hz < 1_000 || kind.partial(1) === 1);
  pitches.forEach((hz, k) => {
    const { samples, truth } = tone(hz * 1.013, 0.5, kind);
    const { hz: found } = follow(snrDb === Infinity ? samples : withNoise(samples, snrDb, k + 1));
    for (let i = 6; i < 44; i++) {
      const off = found[i]! > 0 ? Math.abs(1_200 * Math.log2(found[i]! / truth(i * HOP_SEC))) : Infinity;
      all += 1;
      if (off > 50) gross += 1;
      else cents.push(off);
    }
  });
  cents.sort((a, b) => a - b);
  return { median: cents[cents.length >> 1]!, gross: gross / all };
}

describe('the pitch of one voice', () => {
  it.each(Object.entries(TONES))('is right to a cent, clean and over noise: %s', (_, kind) => {
    const clean = errors(kind, Infinity);
    expect(clean.median).toBeLessThan(1);
    expect(clean.gross).toBeLessThan(0.007);
    const at20 = errors(kind, 20);
    expect(at20.median).toBeLessThan(1);
    expect(at20.gross).toBeLessThan(0.008);
    expect(errors(kind, 10).gross).toBeLessThan(0.03);
  });

  it('is that of the first partial where a stiff string stretches the others', () => {
    const { samples, truth } = tone(131, 1, { partial: n => 1 / n, stiffness: 1.2e-3 });
    const off = follow(samples)
      .hz.slice(20, 80)
      .map(hz => 1_200 * Math.log2(hz / truth(0)));
    // By its period alone it would be about 5 cents sharp.
    for (const cents of off) expect(Math.abs(cents)).toBeLessThan(2);
  });

  it('is none in silence and in noise', () => {
    expect(follow(new Float32Array(ANALYSIS_HZ)).hz.every(hz => hz === 0)).toBe(true);
    const noise = withNoise(new Float32Array(2 * ANALYSIS_HZ).fill(0.1), 0).map(x => x - 0.1);
    const voiced = follow(noise).hz.filter(hz => hz > 0).length;
    expect(voiced).toBeLessThan(10);
  });

  it('does not depend on the pieces in which the sound comes', () => {
    const { samples } = tone(220, 3, TONES.sung!);
    const whole = follow(samples, samples.length);
    for (const piece of [77, 1_000, 16_384])
      expect(Array.from(follow(samples, piece).hz)).toEqual(Array.from(whole.hz));
  });

  it('follows an octave up and down where it happens, within three hops', () => {
    const low = tone(220, 0.5, TONES.rich!).samples;
    const high = tone(440, 0.5, TONES.rich!).samples;
    const samples = new Float32Array(low.length + high.length);
    samples.set(low);
    samples.set(high, low.length);
    const { hz } = follow(samples);
    expect(hz[45]).toBeCloseTo(220, 0);
    expect(hz[54]).toBeCloseTo(440, 0);
    expect(hz.length).toBe(100);
  });

  it('is right for a tone followed by its lower octave, after a third one still rings', () => {
    const bowed: ToneKind = { partial: n => 1 / n, attackSec: 0.03 };
    const notes = [62, 72, 60, 72, 60].map((midi, i) => ({ startSec: 0.2 + 0.36 * i, sec: 0.38, midi }));
    const { hz } = follow(melody(notes, bowed));
    for (const { startSec, midi } of notes)
      for (let sec = startSec + 0.12; sec < startSec + 0.28; sec += HOP_SEC)
        expect(69 + 12 * Math.log2(hz[Math.round(sec / HOP_SEC)]! / 440)).toBeCloseTo(midi, 0);
  });

  it('has a hop for each hundredth of a second, also for almost nothing', () => {
    expect(follow(new Float32Array(0)).hz.length).toBe(0);
    expect(follow(new Float32Array(40)).hz.length).toBe(1);
    expect(follow(tone(300, 0.1, TONES.rich!).samples).hz.length).toBe(10);
  });
});
