import { barsPlayed } from './barsPlayed';
import type { Followed } from './followed';

/** Two moments in each of five measures, at a second each. */
const events = Array.from({ length: 10 }, (_, index) => ({
  index,
  scoreQuarters: index,
  startSec: index as number | null,
  measure: String(Math.floor(index / 2) + 1),
}));
const way = (over: Partial<Followed> = {}): Followed => ({
  ...{ fits: true, events, restarts: [], waits: [], leftOut: [], tempoCurve: [] },
  ...{ bpm: 60, steadyPercent: 95, semitones: 0 },
  ...over,
});
const curve = (...indices: number[]) =>
  indices.map((index, k) => ({ index, atSec: k, bpm: 60 + 10 * (index % 2) }));
const all = curve(0, 1, 2, 3, 4, 5, 6, 7, 8, 9);

describe('the bars of a performance', () => {
  it('come in the order in which they were played, each with its mean tempo', () => {
    expect(barsPlayed(way(), all).map(b => 'measure' in b && [b.measure, b.atSec, b.bpm])).toEqual([
      ['1', 0, 65],
      ['2', 2, 65],
      ['3', 4, 65],
      ['4', 6, 65],
      ['5', 8, 65],
    ]);
    expect(barsPlayed(way({ events: [] }), [])).toEqual([]);
  });

  it('are begun again where it went back, also within the same bar', () => {
    const again = barsPlayed(way(), curve(0, 1, 2, 3, 2, 3, 4));
    expect(again.map(b => 'measure' in b && [b.measure, b.isAgain])).toEqual([
      ['1', false],
      ['2', false],
      ['2', true],
      ['3', false],
    ]);
    const same = barsPlayed(way(), curve(0, 1, 1));
    expect(same.map(b => 'measure' in b && b.isAgain)).toEqual([false, true]);
  });

  it('say what was left out, how long it was waited, and what is surely not as written', () => {
    const bars = barsPlayed(
      way({
        leftOut: [{ fromIndex: 4, toIndex: 7 }],
        waits: [{ index: 3, atSec: 3, lateSec: 0.8 }],
        events: events.map(e => (e.index === 9 ? { ...e, startSec: null } : e)),
      }),
      curve(0, 1, 2, 3, 8, 9),
    );
    expect(bars).toEqual([
      { measure: '1', atSec: 0, bpm: 65, isAgain: false, waitedSec: 0, missed: 0 },
      { measure: '2', atSec: 2, bpm: 65, isAgain: false, waitedSec: 0.8, missed: 0 },
      { leftOut: { from: '3', to: '4' } },
      { measure: '5', atSec: 4, bpm: 65, isAgain: false, waitedSec: 0, missed: 1 },
    ]);
  });
});
