import fc from 'fast-check';
import type { ReleaseEntry } from '@ecoute/contract/releases';
import { barsOf, mondayOf, paged, weeksOf } from './grid';

const zone = 'Europe/Lisbon';
const release = (id: string, opensAt: string, dueAt: string) => ({ id, opensAt, dueAt }) as ReleaseEntry;

describe('the calendar', () => {
  it('begins its weeks on Mondays and shows all that touch the month', () => {
    expect(mondayOf('2026-11-25')).toBe('2026-11-23');
    expect(mondayOf('2026-11-29')).toBe('2026-11-23');
    expect(mondayOf('2026-11-30')).toBe('2026-11-30');
    expect(weeksOf('2026-11-25', 'month')).toEqual([
      '2026-10-26',
      '2026-11-02',
      '2026-11-09',
      '2026-11-16',
      '2026-11-23',
      '2026-11-30',
    ]);
    expect(weeksOf('2026-11-25', 'week')).toEqual(['2026-11-23']);
    expect(paged('2027-01-31', 'month', 1)).toBe('2027-02-01');
    expect(paged('2026-01-15', 'month', -1)).toBe('2025-12-01');
    expect(paged('2026-11-25', 'week', 1)).toBe('2026-12-02');
  });

  it('draws a release from the day it opens to the day it is due, week by week', () => {
    const long = release('a', '2026-11-25T08:00:00Z', '2026-12-02T18:00:00Z');
    expect(barsOf([long], '2026-11-23', zone)).toEqual([
      expect.objectContaining({ from: 2, to: 6, opensHere: true, dueHere: false }),
    ]);
    expect(barsOf([long], '2026-11-30', zone)).toEqual([
      expect.objectContaining({ from: 0, to: 2, opensHere: false, dueHere: true }),
    ]);
    expect(barsOf([long], '2026-12-07', zone)).toEqual([]);
    // By the days of the zone, not of Greenwich; midnight is the end of the day before.
    const late = release('b', '2026-07-06T23:30:00Z', '2026-07-07T23:00:00Z');
    expect(barsOf([late], '2026-07-06', zone)[0]).toMatchObject({ from: 1, to: 1 });
  });

  it('never lays one bar over another', () => {
    const day = fc.integer({ min: 0, max: 13 });
    fc.assert(
      fc.property(fc.array(fc.tuple(day, day), { maxLength: 20 }), spans => {
        const releases = spans.map(([a, b], i) =>
          release(
            String(i),
            new Date(Date.UTC(2026, 10, 16 + Math.min(a, b), 8)).toISOString(),
            new Date(Date.UTC(2026, 10, 16 + Math.max(a, b), 18)).toISOString(),
          ),
        );
        const bars = barsOf(releases, '2026-11-16', zone);
        for (const a of bars)
          for (const b of bars)
            if (a !== b && a.lane === b.lane) expect(a.to < b.from || b.to < a.from).toBe(true);
      }),
    );
  });
});
