import { centsShown, pitchNames, pitchPath, xOf, yOf, type PitchFrame } from './pitchLine';

const frame: PitchFrame = { widthPx: 400, heightPx: 100, spanMs: 4_000, lowCents: 5_000, highCents: 7_000 };
const pitch = (cents: number[], fromSec = 0) => ({ fromSec, hopSec: 0.01, cents, range: null });
const expected = (cents: number[]) =>
  cents.map((c, index) => ({ index, startSec: index, endSec: index + 1, cents: c }));

describe('a pitch line', () => {
  it('lies at its seconds and cents, higher up for a higher pitch', () => {
    expect(xOf(frame, 1)).toBe(100);
    expect([yOf(frame, 5_000), yOf(frame, 6_000), yOf(frame, 7_000)]).toEqual([100, 50, 0]);
    expect(pitchPath(pitch([0, 0, 6_000], 1), frame)).toBe('M102 50.0h1');
  });

  it('is one line through what sounds, broken by silence and by leaps', () => {
    const moves = (path: string) => path.match(/M/g)?.length ?? 0;
    const steady = Array.from({ length: 100 }, () => 6_000);
    expect(moves(pitchPath(pitch(steady), frame))).toBe(1);
    // A moment without a pitch does not break it; a tenth of a second does.
    const gap = (hops: number) => [...steady, ...Array.from({ length: hops }, () => 0), ...steady];
    expect(moves(pitchPath(pitch(gap(3)), frame))).toBe(1);
    expect(moves(pitchPath(pitch(gap(12)), frame))).toBe(2);
    expect(moves(pitchPath(pitch([...steady, ...steady.map(c => c + 700)]), frame))).toBe(2);
    // What lies outside is left out, and nothing is not a number.
    expect(pitchPath(pitch([9_999, 100, 0]), frame)).toBe('');
    expect(pitchPath(pitch(gap(5)), frame)).not.toMatch(/NaN|Infinity/);
  });

  it('shows all of the target, and at least half an octave', () => {
    const [low, high] = centsShown({ pitch: pitch([6_000, 6_010, 9_000]) }, expected([6_000, 6_400]));
    expect(low).toBeLessThan(6_000);
    expect(high).toBeGreaterThan(6_400);
    const [narrowLow, narrowHigh] = centsShown({ pitch: pitch([6_000]) }, []);
    expect(narrowHigh - narrowLow).toBeGreaterThanOrEqual(700);
    for (const c of centsShown({ pitch: pitch([]) }, [])) expect(Number.isFinite(c)).toBe(true);
  });

  it('names the pitches of the target that can be read beside each other', () => {
    expect(pitchNames(frame, expected([6_000, 6_200, 6_000, 6_700])).map(n => n.name)).toEqual(['C4', 'G4']);
    expect(pitchNames({ ...frame, heightPx: 400 }, expected([6_000, 6_200, 6_700]))).toHaveLength(3);
    expect(pitchNames(frame, []).map(n => n.cents)).toEqual([6_000]);
  });
});
