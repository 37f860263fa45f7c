import fc from 'fast-check';
import { addDays, dayOf, daysBetween, instantOf, isTimeZone, movedByDays, wallOf } from './wallTime';

const ZONES = [
  'Europe/Lisbon',
  'Europe/Berlin',
  'America/New_York',
  'America/Sao_Paulo',
  'Asia/Tokyo',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
  'Pacific/Apia',
  'UTC',
];
const zone = fc.constantFrom(...ZONES);
const instant = fc
  .integer({ min: Date.UTC(2020, 0, 1) / 60_000, max: Date.UTC(2035, 0, 1) / 60_000 })
  .map(minutes => minutes * 60_000);

describe('clock times', () => {
  it('find their instant in the zone', () => {
    expect(instantOf('2026-11-25T18:00', 'Europe/Lisbon')).toEqual({
      atMs: Date.UTC(2026, 10, 25, 18),
      kind: 'once',
    });
    expect(instantOf('2026-07-25T18:00', 'Europe/Lisbon')!.atMs).toBe(Date.UTC(2026, 6, 25, 17));
    expect(instantOf('2026-11-25T18:00', 'Asia/Kathmandu')!.atMs).toBe(Date.UTC(2026, 10, 25, 12, 15));
  });

  it('say when the clocks leave them out, and move on with the clocks', () => {
    // Lisbon: on 28 March 2027 one o'clock is followed by two.
    const skipped = instantOf('2027-03-28T01:30', 'Europe/Lisbon')!;
    expect(skipped).toEqual({ atMs: Date.UTC(2027, 2, 28, 1, 30), kind: 'skipped' });
    expect(wallOf(skipped.atMs, 'Europe/Lisbon')).toBe('2027-03-28T02:30');
    expect(instantOf('2027-03-28T00:59', 'Europe/Lisbon')!.kind).toBe('once');
    expect(instantOf('2027-03-28T02:00', 'Europe/Lisbon')!.kind).toBe('once');
    // Half an hour only.
    expect(instantOf('2026-10-04T02:15', 'Australia/Lord_Howe')!.kind).toBe('skipped');
  });

  it('mean the later one where they come twice', () => {
    expect(instantOf('2026-10-25T01:30', 'Europe/Lisbon')).toEqual({
      atMs: Date.UTC(2026, 9, 25, 1, 30),
      kind: 'twice',
    });
  });

  it('are not read from what is none', () => {
    for (const wall of ['', '2026-02-30T10:00', '2026-13-01T10:00', '2026-01-01T24:00', '2026-01-01', 'soon'])
      expect(instantOf(wall, 'Europe/Lisbon')).toBeNull();
    expect(instantOf('2026-01-01T10:00', 'Mars/Olympus')).toBeNull();
    expect(isTimeZone('Europe/Lisbon')).toBe(true);
    expect(isTimeZone('Mars/Olympus')).toBe(false);
    expect(isTimeZone('')).toBe(false);
  });

  it('come back from any instant in any zone, but for the first of two', () => {
    fc.assert(
      fc.property(instant, zone, (atMs, z) => {
        const back = instantOf(wallOf(atMs, z), z)!;
        expect(back.kind).not.toBe('skipped');
        if (back.kind === 'once') expect(back.atMs).toBe(atMs);
        else expect([0, 30 * 60_000, 60 * 60_000]).toContain(back.atMs - atMs);
      }),
    );
  });

  it('stay when days pass, whatever the clocks do', () => {
    fc.assert(
      fc.property(instant, zone, fc.integer({ min: -400, max: 400 }), (atMs, z, days) => {
        const moved = movedByDays(atMs, days, z);
        const [from, to] = [wallOf(atMs, z), wallOf(moved, z)];
        const wanted = instantOf(`${addDays(from.slice(0, 10), days)}T${from.slice(11)}`, z)!;
        if (wanted.kind !== 'skipped') {
          expect(to.slice(11)).toBe(from.slice(11));
          expect(daysBetween(dayOf(atMs, z), dayOf(moved, z))).toBe(days);
        } else expect(moved).toBe(wanted.atMs);
      }),
    );
  });

  it('count days over months and leap years', () => {
    expect(addDays('2028-02-28', 1)).toBe('2028-02-29');
    expect(addDays('2026-12-31', 1)).toBe('2027-01-01');
    expect(addDays('2026-03-01', -1)).toBe('2026-02-28');
    expect(daysBetween('2026-11-25', '2027-01-06')).toBe(42);
  });
});
