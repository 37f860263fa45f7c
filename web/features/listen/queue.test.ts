import type { ReleaseSummary, StateCounts } from '@ecoute/contract/releases';
import { handedInOf } from '@ecoute/core/timing/sittingState';
import { byUrgency, QUEUE_COUNTS } from './queue';

const counts = (over: Partial<StateCounts> = {}): StateCounts => ({
  students: 10,
  notOpened: 0,
  underWay: 0,
  handedIn: 0,
  marked: 0,
  feedbackGiven: 0,
  answered: 0,
  repliesWait: 0,
  askedAgain: 0,
  late: 0,
  missing: 0,
  excused: 0,
  ...over,
});
const release = (over: Partial<ReleaseSummary>) =>
  ({ dueAt: '2026-11-20T18:00:00Z', waitingSittings: 0, counts: counts(), ...over }) as ReleaseSummary;

describe('the queue of releases', () => {
  it('begins with what waits, what was due longest ago before the rest', () => {
    const rows = [
      release({ id: 'done, old', dueAt: '2026-11-01T18:00:00Z' }),
      release({ id: 'waits, new', dueAt: '2026-11-25T18:00:00Z', waitingSittings: 1 }),
      release({ id: 'waits, old', dueAt: '2026-11-10T18:00:00Z', waitingSittings: 9 }),
      release({ id: 'done, new', dueAt: '2026-11-24T18:00:00Z' }),
    ];
    expect([...rows].sort(byUrgency).map(r => r.id)).toEqual([
      'waits, old',
      'waits, new',
      'done, old',
      'done, new',
    ]);
  });

  it('counts each student once among what is handed in, whatever came of it', () => {
    expect(handedInOf(counts({ handedIn: 1, marked: 2, feedbackGiven: 3, answered: 4, underWay: 9 }))).toBe(
      10,
    );
  });

  it('has a word for each count, the teacher’s own work first', () => {
    const one = release({
      waitingSittings: 3,
      counts: counts({
        marked: 1,
        late: 2,
        missing: 4,
        underWay: 5,
        askedAgain: 6,
        feedbackGiven: 7,
        answered: 8,
        repliesWait: 9,
      }),
    });
    expect(QUEUE_COUNTS.map(c => [c.words, c.of(one)])).toEqual([
      ['to mark', 3],
      ['waiting for your reply', 9],
      ['feedback to give', 1],
      ['late', 2],
      ['missing', 4],
      ['under way', 5],
      ['to record again', 6],
      ['feedback given', 7],
      ['answered', 8],
    ]);
  });
});
