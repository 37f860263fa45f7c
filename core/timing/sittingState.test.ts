import fc from 'fast-check';
import { opennessAt, standingAt, takesRecordingBegunAt } from './sittingState';

const release = { opensAtMs: 1_000, dueAtMs: 10_000, lateAccepted: true };
const facts = { handedInAtMs: null as number | null, returnedAtMs: null as number | null, marked: false };

describe('where a student stands', () => {
  it('names each state', () => {
    expect(standingAt(release, null, 5_000)).toEqual({ state: 'notOpened', late: false, missing: false });
    expect(standingAt(release, facts, 5_000).state).toBe('underWay');
    expect(standingAt(release, { ...facts, handedInAtMs: 9_000 }, 9_500).state).toBe('handedIn');
    expect(standingAt(release, { ...facts, handedInAtMs: 9_000, marked: true }, 9_500).state).toBe('marked');
    const returned = { handedInAtMs: 9_000, returnedAtMs: 12_000, marked: true };
    expect(standingAt(release, returned, 12_000).state).toBe('returned');
    expect(standingAt(release, returned, 11_999).state).toBe('marked');
  });

  it('flags late and missing at the due instant exactly', () => {
    expect(standingAt(release, { ...facts, handedInAtMs: 10_000 }, 11_000).late).toBe(false);
    expect(standingAt(release, { ...facts, handedInAtMs: 10_001 }, 11_000).late).toBe(true);
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
});
