import { blankContent, blankItem } from '@ecoute/contract/blank';
import type { Lane, ListenView, Mark } from '@ecoute/contract/marking';
import { groupsOf, laneKey, nextWaiting, returnable, waitingMs } from './order';

const mark = (finished: boolean): Mark => ({
  revision: 1,
  points: 3,
  comment: '',
  choices: [],
  finished,
  authorName: 'Inês',
  updatedAt: '',
});
const lane = (sittingId: string, itemId: string, over: Partial<Lane> = {}): Lane => ({
  sittingId,
  itemId,
  studentId: sittingId,
  studentName: `Student ${sittingId}`,
  state: 'handedIn',
  late: false,
  takeId: `${sittingId}${itemId}`,
  durationMs: 10_000,
  silent: false,
  medium: 'sound',
  fileName: null,
  placed: { clock: null, gateMs: null },
  source: 'recorded',
  wholeMs: null,
  title: '',
  note: '',
  pictureId: null,
  judgement: null,
  overallJudgement: null,
  takes: 1,
  notes: [],
  used: { hearings: 0, hints: 0, readAlouds: 0 },
  written: null,
  passed: false,
  level: null,
  mark: null,
  ...over,
});
const view = (lanes: Lane[]): ListenView => ({
  releaseId: 'r',
  title: '',
  className: '',
  dueAt: '',
  missing: [],
  lanes,
  content: blankContent('homework', { items: [blankItem('i'), blankItem('j')] }),
});
const lanes = [
  lane('a', 'i', { mark: mark(true) }),
  lane('b', 'i'),
  lane('c', 'i', { takeId: null }),
  lane('a', 'j'),
  lane('b', 'j', { mark: mark(false) }),
  lane('c', 'j', { mark: mark(true) }),
];

describe('the order of listening', () => {
  it('lays lanes by item across students, or by student across items', () => {
    expect(groupsOf(view(lanes), 'item').map(g => g.lanes.map(laneKey))).toEqual([
      ['a i', 'b i', 'c i'],
      ['a j', 'b j', 'c j'],
    ]);
    expect(groupsOf(view(lanes), 'student').map(g => g.name)).toEqual([
      'Student a',
      'Student b',
      'Student c',
    ]);
  });

  it('goes on to the next that waits: past the finished and the empty, into the next item, round to the first', () => {
    const groups = groupsOf(view(lanes), 'item');
    expect(laneKey(nextWaiting(groups, 'a i')!)).toBe('b i');
    expect(laneKey(nextWaiting(groups, 'b i')!)).toBe('a j');
    expect(laneKey(nextWaiting(groups, 'b j')!)).toBe('b i');
    const done = lanes.map(l => ({ ...l, mark: mark(true) }));
    expect(nextWaiting(groupsOf(view(done), 'item'), 'a i')).toBeNull();
  });

  it('returns only what is finished, and nothing twice', () => {
    expect(returnable(lanes)).toEqual(['c']);
    expect(returnable(lanes.map(l => ({ ...l, mark: mark(true) })))).toEqual(['a', 'b', 'c']);
    expect(returnable(lanes.map(l => ({ ...l, mark: mark(true), state: 'returned' as const })))).toEqual([]);
  });

  it('counts the listening that is left', () => {
    expect(waitingMs(lanes)).toBe(30_000);
  });
});
