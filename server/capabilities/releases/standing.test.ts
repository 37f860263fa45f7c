import { NO_EXCEPTION, type ReleaseTimes } from '@ecoute/core/timing/sittingState';
import { studentsFrom } from './standing';
import type { StandingRow } from './standings.store';

const times: ReleaseTimes = {
  opensAtMs: 1_000,
  dueAtMs: 10_000,
  closesAtMs: null,
  lateAccepted: true,
  hidden: false,
};

const row = (over: Partial<StandingRow>): StandingRow => ({
  releaseId: 'r',
  studentId: 'ana',
  called: null,
  dueWas: null,
  againFor: null,
  replyWaits: 0,
  lacksLevel: 0,
  opened: 0,
  displayName: 'Ana',
  signInName: 'ana',
  email: null,
  remindedAt: null,
  exception: NO_EXCEPTION,
  sittingId: null,
  number: null,
  handedInAt: null,
  feedbackAt: null,
  setAside: null,
  askedAgain: null,
  lateAccepted: null,
  notesShown: null,
  asked: null,
  replied: null,
  answered: 0,
  finished: 0,
  waitingMs: 0,
  ...over,
});
const sat = (number: number, handedInMs: number | null, over: Partial<StandingRow> = {}) =>
  row({
    sittingId: `s${number}`,
    number,
    handedInAt: handedInMs === null ? null : new Date(handedInMs),
    answered: 2,
    ...over,
  });

describe('students from the rows of a release', () => {
  it('are one each, in the order of the rows, whoever has sat how often', () => {
    const rows = [row({}), row({ studentId: 'bo', displayName: 'Bo' }), sat(1, null, { studentId: 'cy' })];
    const students = studentsFrom(times, rows, 5_000);
    expect(students.map(s => [s.studentId, s.standing.state, s.sittings.length])).toEqual([
      ['ana', 'notOpened', 0],
      ['bo', 'notOpened', 0],
      ['cy', 'underWay', 1],
    ]);
  });

  it('keep what was handed in while they go through it once more', () => {
    const [ana] = studentsFrom(times, [sat(1, 5_000), sat(2, null)], 6_000);
    expect([ana!.counting!.id, ana!.open!.id, ana!.standing.state]).toEqual(['s1', 's2', 'handedIn']);
  });

  it('are marked when every answer is finished, and have feedback when the time has come', () => {
    const state = (over: Partial<StandingRow>, now = 9_000) =>
      studentsFrom(times, [sat(1, 5_000, over)], now)[0]!.standing.state;
    expect(state({ finished: 1 })).toBe('handedIn');
    expect(state({ finished: 2 })).toBe('marked');
    expect(state({ finished: 2, feedbackAt: new Date(9_500) })).toBe('marked');
    expect(state({ finished: 2, feedbackAt: new Date(9_500) }, 9_500)).toBe('feedbackGiven');
  });

  it('have their own times', () => {
    const extended = { ...NO_EXCEPTION, dueAtMs: 20_000 };
    const [ana, bo] = studentsFrom(times, [row({ exception: extended }), row({ studentId: 'bo' })], 15_000);
    expect([ana!.times.dueAtMs, ana!.standing.missing]).toEqual([20_000, false]);
    expect([bo!.times.dueAtMs, bo!.standing.missing]).toEqual([10_000, true]);
  });

  it('read numbers that the database gives as text', () => {
    const [ana] = studentsFrom(
      times,
      [sat(1, 5_000, { answered: '3' as never, finished: '3' as never })],
      6_000,
    );
    expect(ana!.standing.state).toBe('marked');
  });
});
