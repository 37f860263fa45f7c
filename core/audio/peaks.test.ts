import fc from 'fast-check';
import {
  silence,
  silencesOf,
  columnsOf,
  dbfs,
  isSilent,
  nextSpeechMs,
  PeakMeter,
  peaksBetween,
  matchingGainDb,
  quietestMs,
  soundingLevelDbfs,
  soundingSpan,
} from './peaks';

const sine = (hz: number, rate: number, seconds: number, amplitude = 0.5) =>
  Float32Array.from(
    { length: Math.round(rate * seconds) },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / rate),
  );

describe('peaks', () => {
  it('measures a sine of known level', () => {
    const meter = new PeakMeter(16_000);
    meter.push(sine(440, 16_000, 2));
    const m = meter.finish();
    expect(m.durationMs).toBe(2_000);
    expect(m.peaks.values).toHaveLength(400);
    expect(m.peakDbfs).toBeCloseTo(dbfs(0.5), 1);
    expect(m.rmsDbfs).toBeCloseTo(dbfs(0.5 / Math.SQRT2), 1);
  });

  it('is the same however the sound is cut into pieces', () => {
    const sound = sine(200, 11_025, 0.7);
    const whole = new PeakMeter(11_025);
    whole.push(sound);
    const expected = whole.finish();
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 3_000 }), { maxLength: 8 }), cuts => {
        const meter = new PeakMeter(11_025);
        let at = 0;
        for (const cut of cuts) {
          meter.push(sound.subarray(at, at + cut));
          at = Math.min(sound.length, at + cut);
        }
        meter.push(sound.subarray(at));
        expect(meter.finish()).toEqual(expected);
      }),
    );
  });

  it('tells silence from a soft voice', () => {
    expect(isSilent(-Infinity)).toBe(true);
    expect(isSilent(dbfs(0.001))).toBe(true);
    expect(isSilent(dbfs(0.02))).toBe(false);
  });

  it('gathers columns without losing the loudest moment', () => {
    const sound = new Float32Array(16_000);
    sound[12_345] = 0.9;
    const meter = new PeakMeter(16_000);
    meter.push(sound);
    const columns = columnsOf(meter.finish().peaks, 37);
    expect(columns).toHaveLength(37);
    expect(Math.max(...columns.map(c => c[1]))).toBeCloseTo(0.9, 1);
  });

  it('steps to the next stretch of speech', () => {
    const rate = 8_000;
    const sound = new Float32Array(rate * 3);
    sound.set(sine(300, rate, 0.5), 0);
    sound.set(sine(300, rate, 0.5), rate * 2);
    const meter = new PeakMeter(rate);
    meter.push(sound);
    const { peaks } = meter.finish();
    expect(nextSpeechMs(peaks, 0)).toBeGreaterThanOrEqual(1_990);
    expect(nextSpeechMs(peaks, 0)).toBeLessThanOrEqual(2_010);
    expect(nextSpeechMs(peaks, 2_100)).toBeNull();
  });

  it('refuses a rate that cannot be', () => {
    expect(() => new PeakMeter(0)).toThrow(RangeError);
  });

  it('gives a closer look at a stretch, held inside the recording', () => {
    const peaks = {
      perSecond: 100,
      durationMs: 1_000,
      values: Array.from({ length: 200 }, (_, i) => i % 127),
    };
    const part = peaksBetween(peaks, 250, 500);
    expect([part.durationMs, part.values.length, part.values[0]]).toEqual([250, 50, 50]);
    expect(peaksBetween(peaks, -100, 9_000).values).toHaveLength(200);
    expect(peaksBetween(peaks, 900, 100).values).toHaveLength(0);
  });

  it('finds where a cut is heard least, and is not fooled by a zero crossing', () => {
    const loud = (n: number) => Array.from({ length: n }, () => [-90, 90]).flat();
    const values = [...loud(50), 0, 0, ...loud(49), ...Array.from({ length: 40 }, () => 0), ...loud(80)];
    const at = quietestMs({ perSecond: 100, durationMs: 2_000, values }, 0, 2_000);
    expect(at).toBeGreaterThan(1_000);
    expect(at).toBeLessThan(1_200);
  });

  it('measure a film without sound as silence of its length', () => {
    for (const ms of [1, 999, 2_500]) {
      const { durationMs, peakDbfs, peaks } = silence(ms);
      expect([durationMs, peakDbfs, peaks.durationMs]).toEqual([ms, -Infinity, ms]);
      expect(peaks.values.every(v => v === 0)).toBe(true);
    }
  });
});

describe('silences that a listener may skip', () => {
  /** Loud or quiet, in tenths of a second. */
  const peaksOf = (...tenths: [number, boolean][]) => {
    const values = tenths.flatMap(([n, loud]) =>
      Array.from({ length: n * 10 }, () => (loud ? [-100, 100] : [-3, 3])).flat(),
    );
    return { perSecond: 100, durationMs: values.length * 5, values };
  };

  it('are the long ones, with a little left on both sides', () => {
    const peaks = peaksOf([10, true], [20, false], [5, true], [6, false], [10, true]);
    expect(silencesOf(peaks)).toEqual([{ fromMs: 1_150, toMs: 2_850 }]);
    expect(silencesOf(peaks, 500).map(s => s.fromMs)).toEqual([1_150, 3_650]);
  });

  it('reach to the very beginning and end', () => {
    const peaks = peaksOf([20, false], [10, true], [20, false]);
    expect(silencesOf(peaks)).toEqual([
      { fromMs: 0, toMs: 1_850 },
      { fromMs: 3_150, toMs: 5_000 },
    ]);
  });

  it('are none where nothing is loud, or nothing quiet', () => {
    expect(silencesOf(silence(3_000).peaks)).toEqual([]);
    expect(silencesOf(peaksOf([50, true]))).toEqual([]);
  });

  it('lie apart, in order, inside the recording', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 20 }), fc.boolean()), { maxLength: 20 }),
        runs => {
          const peaks = peaksOf(...runs);
          let before = -1;
          for (const { fromMs, toMs } of silencesOf(peaks)) {
            expect(fromMs).toBeGreaterThan(before);
            expect(toMs).toBeGreaterThan(fromMs);
            expect(toMs).toBeLessThanOrEqual(peaks.durationMs);
            before = toMs;
          }
        },
      ),
    );
  });
});

describe('the level of what sounds', () => {
  /** A tone with pauses, in peaks. */
  const peaksOf = (amplitude: number, soundingShare = 0.5) => {
    const meter = new PeakMeter(16_000);
    const samples = new Float32Array(16_000 * 4);
    for (let i = 0; i < samples.length; i++)
      if ((i % 16_000) / 16_000 < soundingShare) samples[i] = amplitude * Math.sin(i / 4);
    meter.push(samples);
    return meter.finish().peaks;
  };

  it('is that of the voice, however long its pauses', () => {
    for (const share of [0.2, 0.5, 1]) expect(soundingLevelDbfs(peaksOf(0.25, share))).toBeCloseTo(-12, 0);
    // Coarse by then: the peaks are kept in steps of 1/127.
    expect(Math.abs(soundingLevelDbfs(peaksOf(0.05))! + 26)).toBeLessThan(1);
    expect(soundingLevelDbfs(peaksOf(0))).toBeNull();
    expect(soundingLevelDbfs({ perSecond: 100, durationMs: 0, values: [] })).toBeNull();
  });

  it('has a span, from where it begins to where it ends; all of it where nothing is silent', () => {
    const whole = peaksOf(0.25, 0.5);
    const { fromMs, toMs } = soundingSpan(whole);
    expect(fromMs).toBe(0);
    // Four times half a second of tone, each with a pause behind it: the last tone ends at 3.5 s, and silences begin a little behind a sound.
    expect(toMs).toBeGreaterThanOrEqual(3_500);
    expect(toMs).toBeLessThanOrEqual(3_650);
    expect(soundingSpan(peaksOf(0.25, 1))).toEqual({ fromMs: 0, toMs: 4_000 });
  });

  it('brings quiet and loud recordings together, and no room to the loudness of a voice', () => {
    const brought = (amplitude: number) => {
      const level = soundingLevelDbfs(peaksOf(amplitude))!;
      return level + matchingGainDb(level);
    };
    for (const amplitude of [0.03, 0.1, 0.3, 0.9]) expect(brought(amplitude)).toBeCloseTo(-12, 1);
    expect(matchingGainDb(-60)).toBe(24);
    expect(matchingGainDb(6)).toBe(-12);
    expect(matchingGainDb(null)).toBe(0);
  });
});
