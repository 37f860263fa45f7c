import type { Peaks } from '@ecoute/core/audio/peaks';
import { joinWithNext, movedTurn, splitTurn, turnsOnTrack, USUAL_GAP_MS, wholeTurn } from './turns';

/** Peaks of a track by seconds: loud where true. */
function track(...seconds: boolean[]): Peaks {
  const values = seconds.flatMap(loud =>
    Array.from({ length: 100 }, () => (loud ? [-80, 80] : [0, 0])).flat(),
  );
  return { perSecond: 100, durationMs: seconds.length * 1000, values };
}

describe('turns', () => {
  const silence = (n: number) => Array.from({ length: n }, () => false);

  it('are found on a track; silences left to speak in keep their length, short ones are widened', () => {
    const turns = turnsOnTrack('r', track(true, true, ...silence(8), true, ...silence(2), true), 1_000);
    expect(turns.map(t => [t.fromMs, t.toMs, t.gapMs])).toEqual([
      [0, 2_120, 8_000],
      [9_880, 11_120, USUAL_GAP_MS],
      [12_880, 14_000, USUAL_GAP_MS],
    ]);
    expect(new Set(turns.map(t => t.id)).size).toBe(3);
  });

  it('are split at the quietest moment and joined again without losing a sound', () => {
    const peaks = track(true, true, false, true, true);
    const [first, second] = splitTurn([wholeTurn('r', 5_000, 9_000)], 'none', peaks);
    expect(second).toBeUndefined();
    const halves = splitTurn([first!], first!.id, peaks);
    expect(halves[0]!.toMs).toBe(halves[1]!.fromMs);
    expect(halves[0]!.toMs).toBeGreaterThan(2_000);
    expect(halves[0]!.toMs).toBeLessThan(3_000);
    expect(joinWithNext(halves, halves[0]!.id)).toEqual([
      expect.objectContaining({ fromMs: 0, toMs: 5_000, gapMs: 9_000 }),
    ]);
  });

  it('of different recordings are not joined; turns move by one place', () => {
    const two = [wholeTurn('a', 1_000), wholeTurn('b', 2_000)];
    expect(joinWithNext(two, two[0]!.id)).toEqual(two);
    expect(movedTurn(two, two[1]!.id, -1).map(t => t.recordingId)).toEqual(['b', 'a']);
    expect(movedTurn(two, two[1]!.id, 1)).toEqual(two);
  });
});
