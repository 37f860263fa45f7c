import fc from 'fast-check';
import { HALF_AGAIN, ORDINARY } from './arrangements';
import { breaksIn, brokenMs, timeUpAt, withinSitting } from './sittingClock';

describe('the clock of a whole sitting', () => {
  it('runs from the first sight of the items, and only where there is a limit', () => {
    expect(timeUpAt(null, 600_000, ORDINARY)).toBeNull();
    expect(timeUpAt(1_000, null, ORDINARY)).toBeNull();
    expect(timeUpAt(1_000, 600_000, ORDINARY)).toBe(601_000);
    expect(timeUpAt(1_000, 600_000, HALF_AGAIN)).toBe(901_000);
  });

  it('takes what began in time', () => {
    expect(withinSitting(5, null)).toBe(true);
    expect(withinSitting(5, 5)).toBe(true);
    expect(withinSitting(6, 5)).toBe(false);
  });
});

describe('breaks', () => {
  const granted = { ...ORDINARY, breakMs: 60_000 };
  const event = (kind: string, atMs: number) => ({ kind, atMs });

  it('are read from the account in whatever order it comes', () => {
    expect(
      breaksIn([
        event('breakEnded', 30),
        event('breakBegan', 10),
        event('promptBegan', 20),
        event('breakBegan', 50),
      ]),
    ).toEqual([
      { fromMs: 10, toMs: 30 },
      { fromMs: 50, toMs: null },
    ]);
  });

  it('begin and end once each', () => {
    const twice = [
      event('breakEnded', 5),
      event('breakBegan', 10),
      event('breakBegan', 12),
      event('breakEnded', 20),
      event('breakEnded', 25),
    ];
    expect(breaksIn(twice)).toEqual([{ fromMs: 10, toMs: 20 }]);
  });

  it('put the end off by as long as they last, also while one lasts', () => {
    const begun = 1_000_000;
    const up = (nowMs: number, ...breaks: { fromMs: number; toMs: number | null }[]) =>
      timeUpAt(begun, 600_000, granted, breaks, nowMs);
    expect(up(0)).toBe(begun + 600_000);
    expect(up(0, { fromMs: begun + 10, toMs: begun + 20_010 })).toBe(begun + 620_000);
    expect(up(begun + 15_000, { fromMs: begun + 10_000, toMs: null })).toBe(begun + 605_000);
  });

  it('are granted as far as the arrangement says, and to nobody without one', () => {
    const long = [{ fromMs: 0, toMs: 500_000 }];
    expect(brokenMs(long, granted, 0)).toBe(60_000);
    expect(brokenMs(long, ORDINARY, 0)).toBe(0);
    expect(timeUpAt(0, 600_000, ORDINARY, long, 0)).toBe(600_000);
  });

  it('never bring the end nearer, and never put it off by more than was granted', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ kind: fc.constantFrom('breakBegan', 'breakEnded'), atMs: fc.nat(200_000) })),
        fc.nat(200_000),
        (events, nowMs) => {
          const up = timeUpAt(0, 300_000, granted, breaksIn(events), nowMs)!;
          expect(up).toBeGreaterThanOrEqual(300_000);
          expect(up).toBeLessThanOrEqual(360_000);
        },
      ),
    );
  });
});
