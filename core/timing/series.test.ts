import fc from 'fast-check';
import { allMovedByDays, changedAlike, holidayOn, spanFrom, weekly } from './series';
import { addDays, daysBetween, instantOf, wallOf } from './wallTime';

const winter = { name: 'Winter break', firstOn: '2026-12-19', lastOn: '2027-01-03' };

describe('a weekly series', () => {
  it('takes place as often as wanted, past the holidays', () => {
    const days = weekly('2026-12-08', 4, [winter]);
    expect(days).toEqual([
      { day: '2026-12-08', leftOut: null },
      { day: '2026-12-15', leftOut: null },
      { day: '2026-12-22', leftOut: 'Winter break' },
      { day: '2026-12-29', leftOut: 'Winter break' },
      { day: '2027-01-05', leftOut: null },
      { day: '2027-01-12', leftOut: null },
    ]);
  });

  it('counts the first and the last day of a holiday to it', () => {
    expect(holidayOn('2026-12-19', [winter])).toBe(winter);
    expect(holidayOn('2027-01-03', [winter])).toBe(winter);
    expect(holidayOn('2027-01-04', [winter])).toBeNull();
  });

  it('keeps the weekday, leaves out nothing else, and ends', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 3_000 }),
        fc.integer({ min: 1, max: 20 }),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 3_200 }), fc.integer({ min: 0, max: 40 })), {
          maxLength: 5,
        }),
        (start, count, breaks) => {
          const first = addDays('2026-01-01', start);
          const holidays = breaks.map(([from, length]) => ({
            name: 'off',
            firstOn: addDays('2026-01-01', from),
            lastOn: addDays('2026-01-01', from + length),
          }));
          const days = weekly(first, count, holidays);
          expect(days.filter(d => d.leftOut === null)).toHaveLength(count);
          days.forEach((d, i) => {
            expect(daysBetween(first, d.day)).toBe(7 * i);
            expect(d.leftOut === null).toBe(holidayOn(d.day, holidays) === null);
          });
        },
      ),
    );
  });

  it('stops looking when everything is holiday', () => {
    const always = { name: 'closed', firstOn: '2000-01-01', lastOn: '2100-01-01' };
    expect(weekly('2026-01-01', 3, [always]).length).toBeLessThan(100);
  });

  it('keeps clock times over a change of the clocks', () => {
    const zone = 'Europe/Lisbon';
    const span = spanFrom('2027-03-22', { opensAt: '08:00', dueDays: 7, dueAt: '18:00' }, zone);
    expect(wallOf(span.opensAtMs, zone)).toBe('2027-03-22T08:00');
    expect(wallOf(span.dueAtMs, zone)).toBe('2027-03-29T18:00');
    expect(span.dueAtMs - span.opensAtMs).toBe((7 * 24 + 10 - 1) * 3_600_000);
    const [opens, due, closes] = allMovedByDays([span.opensAtMs, span.dueAtMs, null], 7, zone);
    expect([wallOf(opens!, zone), wallOf(due!, zone), closes]).toEqual([
      '2027-03-29T08:00',
      '2027-04-05T18:00',
      null,
    ]);
  });

  describe('one changed as another of its series', () => {
    const zone = 'Europe/Lisbon';
    const ms = (wall: string) => instantOf(wall, zone)!.atMs;
    const span = (opens: string, due: string, closes: string | null = null) => ({
      opensAtMs: ms(opens),
      dueAtMs: ms(due),
      closesAtMs: closes === null ? null : ms(closes),
    });
    const walls = (s: ReturnType<typeof span>) =>
      [s.opensAtMs, s.dueAtMs, s.closesAtMs].map(at => (at === null ? null : wallOf(at, zone)));
    const first = span('2027-03-15T08:00', '2027-03-20T18:00');
    // Behind the change of the clocks, and with a due day of its own.
    const later = span('2027-03-29T09:30', '2027-04-01T12:00');
    const alike = (after: ReturnType<typeof span>, other = later, before = first) =>
      walls(changedAlike(before, after, other, zone));

    it('takes over what was changed, and keeps what was not', () => {
      expect(alike(first)).toEqual(walls(later));
      expect(alike(span('2027-03-15T08:00', '2027-03-20T22:15'))).toEqual([
        '2027-03-29T09:30',
        '2027-04-01T22:15',
        null,
      ]);
      expect(alike(span('2027-03-15T08:00', '2027-03-22T18:00'))).toEqual([
        '2027-03-29T09:30',
        '2027-04-05T12:00',
        null,
      ]);
      expect(alike(span('2027-03-16T07:00', '2027-03-21T18:00'))).toEqual([
        '2027-03-30T07:00',
        '2027-04-02T12:00',
        null,
      ]);
    });

    it('closes as long after the due time, or never more', () => {
      const closing = span('2027-03-15T08:00', '2027-03-20T18:00', '2027-03-22T18:00');
      expect(alike(closing)).toEqual(['2027-03-29T09:30', '2027-04-01T12:00', '2027-04-03T12:00']);
      expect(
        alike(first, span('2027-03-29T09:30', '2027-04-01T12:00', '2027-04-09T12:00'), closing)[2],
      ).toBeNull();
    });

    it('keeps days apart by whole days, whatever the day, and is taken back by the opposite', () => {
      fc.assert(
        fc.property(fc.integer({ min: -200, max: 200 }), fc.integer({ min: 0, max: 60 }), (days, gap) => {
          const moved = (s: typeof first, by: number) => {
            const [opensAtMs, dueAtMs] = allMovedByDays([s.opensAtMs, s.dueAtMs], by, zone) as [
              number,
              number,
            ];
            return { opensAtMs, dueAtMs, closesAtMs: null };
          };
          const other = moved(first, gap);
          const there = changedAlike(first, moved(first, days), other, zone);
          expect(walls(there)).toEqual(walls(moved(other, days)));
          expect(walls(changedAlike(moved(first, days), first, there, zone))).toEqual(walls(other));
        }),
      );
    });
  });
});
