import fc from 'fast-check';
import { allMovedByDays } from './series';
import {
  closingMs,
  countingSitting,
  isBack,
  mayBegin,
  NO_EXCEPTION,
  openSitting,
  opennessAt,
  standingAt as standing,
  takesRecordingBegunAt,
  timesFor,
  type Exception,
  type ReleaseTimes,
  type SittingFacts,
} from './sittingState';
import { instantOf, wallOf } from './wallTime';

const standingAt = (
  times: ReleaseTimes,
  sitting: SittingFacts | null,
  now: number,
  given: Exception = NO_EXCEPTION,
) => standing(times, given, sitting, now);

const release: ReleaseTimes = {
  opensAtMs: 1_000,
  dueAtMs: 10_000,
  closesAtMs: null,
  lateAccepted: true,
  hidden: false,
};
const facts = { handedInAtMs: null as number | null, feedbackAtMs: null as number | null, marked: false };

describe('where a student stands', () => {
  it('names each state', () => {
    expect(standingAt(release, null, 5_000)).toEqual({
      state: 'notOpened',
      late: false,
      missing: false,
      excused: false,
      askedAgain: false,
    });
    expect(standingAt(release, facts, 5_000).state).toBe('underWay');
    expect(standingAt(release, { ...facts, handedInAtMs: 9_000 }, 9_500).state).toBe('handedIn');
    expect(standingAt(release, { ...facts, handedInAtMs: 9_000, marked: true }, 9_500).state).toBe('marked');
    const returned = { handedInAtMs: 9_000, feedbackAtMs: 12_000, marked: true };
    expect(standingAt(release, returned, 12_000).state).toBe('feedbackGiven');
    const asked = { ...returned, asked: 2, replied: 1 };
    expect(standingAt(release, asked, 12_000).state).toBe('feedbackGiven');
    expect(standingAt(release, { ...asked, replied: 2 }, 12_000).state).toBe('answered');
    expect(standingAt(release, { ...asked, replied: 2 }, 11_999).state).toBe('marked');
    expect([isBack('answered'), isBack('feedbackGiven'), isBack('marked')]).toEqual([true, true, false]);
    expect(standingAt(release, returned, 11_999).state).toBe('marked');
  });

  it('flags late and missing at the due instant exactly', () => {
    expect(standingAt(release, { ...facts, handedInAtMs: 10_000 }, 11_000).late).toBe(false);
    expect(standingAt(release, { ...facts, handedInAtMs: 10_001 }, 11_000).late).toBe(true);
    expect(standingAt(release, { ...facts, handedInAtMs: 10_001, lateAccepted: true }, 11_000).late).toBe(
      false,
    );
    expect(standingAt(release, null, 10_000).missing).toBe(false);
    expect(standingAt(release, null, 10_001).missing).toBe(true);
    expect(standingAt(release, facts, 10_001)).toMatchObject({ state: 'underWay', missing: true });
  });

  it('opens, and closes unless late work is taken', () => {
    expect(opennessAt(release, 999)).toBe('notYet');
    expect(opennessAt(release, 10_000)).toBe('open');
    expect(opennessAt(release, 10_001)).toBe('lateOpen');
    expect(opennessAt({ ...release, lateAccepted: false }, 10_001)).toBe('closed');
  });

  it('takes what began before closing, with a little grace, however late it arrives', () => {
    const strict = { ...release, lateAccepted: false };
    expect(takesRecordingBegunAt(strict, 9_000)).toBe(true);
    expect(takesRecordingBegunAt(strict, 15_000)).toBe(true);
    expect(takesRecordingBegunAt(strict, 15_001)).toBe(false);
    expect(takesRecordingBegunAt(release, 99_000)).toBe(true);
  });

  it('is never late and missing at once', () => {
    fc.assert(
      fc.property(fc.option(fc.nat(30_000)), fc.nat(30_000), (handedInAtMs, now) => {
        const standing = standingAt(release, { ...facts, handedInAtMs }, now);
        expect(standing.late && standing.missing).toBe(false);
      }),
    );
  });

  it('is hidden until it is shown by hand, whatever the clock says', () => {
    expect(opennessAt({ ...release, hidden: true }, 5_000)).toBe('notYet');
  });

  it('closes for late work where a closing is set, never before it is due', () => {
    const closing = { ...release, closesAtMs: 20_000 };
    expect(opennessAt(closing, 20_000)).toBe('lateOpen');
    expect(opennessAt(closing, 20_001)).toBe('closed');
    expect(takesRecordingBegunAt(closing, 25_001)).toBe(false);
    expect(closingMs({ ...closing, closesAtMs: 4_000 })).toBe(10_000);
    expect(closingMs({ ...closing, lateAccepted: false })).toBe(10_000);
    expect(closingMs(release)).toBe(Infinity);
  });

  it('moves due and closing for one student by an extension, and flags nobody who is excused', () => {
    const extended = { ...NO_EXCEPTION, dueAtMs: 30_000 };
    const strict = { ...release, lateAccepted: false };
    expect(opennessAt(timesFor(strict, extended), 29_000)).toBe('open');
    expect(opennessAt(timesFor({ ...release, closesAtMs: 20_000 }, extended), 30_001)).toBe('closed');
    expect(standingAt(release, null, 20_000, extended).missing).toBe(false);
    expect(standingAt(release, { ...facts, handedInAtMs: 25_000 }, 26_000, extended).late).toBe(false);
    expect(standingAt(release, null, 20_000, { ...NO_EXCEPTION, excused: true })).toEqual({
      state: 'notOpened',
      late: false,
      missing: false,
      excused: true,
      askedAgain: false,
    });
  });

  it('never closes somebody out by an extension that everybody has since overtaken', () => {
    const given = { ...NO_EXCEPTION, dueAtMs: 12_000 };
    const moved = { ...release, dueAtMs: 20_000, lateAccepted: false };
    expect(timesFor(moved, given).dueAtMs).toBe(20_000);
    expect(opennessAt(timesFor(moved, given), 15_000)).toBe('open');
    expect(standingAt(moved, null, 15_000, given).missing).toBe(false);
  });

  it('follows the clocks on the wall in every zone, over every change of the clocks', () => {
    const zones = ['Europe/Lisbon', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Tokyo', 'Pacific/Apia'];
    fc.assert(
      fc.property(
        fc.constantFrom(...zones),
        fc.integer({ min: 0, max: 2_000 }),
        fc.integer({ min: 0, max: 23 }),
        fc.integer({ min: 1, max: 30 }),
        fc.integer({ min: -40 * 1_440, max: 80 * 1_440 }),
        (zone, day, hour, weeks, minutes) => {
          const first = new Date(Date.UTC(2024, 0, 1 + day)).toISOString().slice(0, 10);
          const opens = instantOf(`${first}T08:00`, zone)!.atMs;
          const [opensAtMs, dueAtMs] = allMovedByDays(
            [opens, instantOf(`${first}T${String(hour).padStart(2, '0')}:30`, zone)!.atMs + 7 * 86_400_000],
            weeks * 7,
            zone,
          ) as [number, number];
          const times = { opensAtMs, dueAtMs, closesAtMs: null, lateAccepted: false, hidden: false };
          const now = dueAtMs + minutes * 60_000;
          // What a person would say who compares what the clock shows with what was written down.
          const [shown, due, open] = [now, dueAtMs, opensAtMs].map(at => wallOf(at, zone)) as [
            string,
            string,
            string,
          ];
          const openness = opennessAt(times, now);
          // Within an hour of a change, two instants may show the same: nothing is claimed there.
          if (Math.abs(now - dueAtMs) > 3_600_000 && Math.abs(now - opensAtMs) > 3_600_000)
            expect(openness).toBe(shown < open ? 'notYet' : shown <= due ? 'open' : 'closed');
          expect(standingAt(times, null, now).missing).toBe(now > dueAtMs);
        },
      ),
    );
  });
});

describe('several sittings', () => {
  const sat = (number: number, handedInAtMs: number | null) => ({ number, handedInAtMs });

  it('let the last one handed in count, and go on with the open one', () => {
    const three = [sat(3, null), sat(1, 5), sat(2, 9)];
    expect(countingSitting(three)!.number).toBe(2);
    expect(openSitting(three)!.number).toBe(3);
    expect(countingSitting([sat(1, null)])!.number).toBe(1);
    expect(countingSitting([])).toBeNull();
    // What was set aside counts for nothing, and nobody goes on with it.
    expect(countingSitting([sat(1, 5), { ...sat(2, 6), setAside: true }])!.number).toBe(1);
    expect(openSitting([{ ...sat(1, null), setAside: true }])).toBeNull();
    expect(openSitting([sat(1, 5)])).toBeNull();
  });

  it('may be begun as often as the release and the exception allow, one at a time', () => {
    expect(mayBegin([], 1, NO_EXCEPTION)).toBe(true);
    expect(mayBegin([sat(1, null)], 3, NO_EXCEPTION)).toBe(false);
    expect(mayBegin([sat(1, 5)], 1, NO_EXCEPTION)).toBe(false);
    expect(mayBegin([sat(1, 5)], 1, { ...NO_EXCEPTION, extraSittings: 1 })).toBe(true);
    expect(mayBegin([sat(1, 5), sat(2, 6)], 0, NO_EXCEPTION)).toBe(true);
  });
});
