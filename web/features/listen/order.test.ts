import { blankContent, blankItem } from '@ecoute/contract/blank';
import type { Lane, ListenView, Mark } from '@ecoute/contract/marking';
import {
  groupsOf,
  laneKey,
  nextWaiting,
  checkFeedback,
  isReady,
  waitingMs,
  totalWords,
  waits,
} from './order';

const mark = (finished: boolean): Mark => ({
  revision: 1,
  points: 3,
  comment: '',
  choices: [],
  finished,
  reason: '',
  authorName: 'Inês',
  updatedAt: '',
});
const lane = (sittingId: string, itemId: string, over: Partial<Lane> = {}): Lane => ({
  sittingId,
  itemId,
  studentId: sittingId,
  studentName: `Student ${sittingId}`,
  studentCalled: `Student ${sittingId}`,
  state: 'handedIn',
  late: false,
  askedAgain: false,
  excused: false,
  again: null,
  marked: [],
  feedbackOpened: false,
  sittingNumber: 1,
  isAllowed: false,
  againFor: null,
  holes: [],
  asks: [],
  praise: [],
  replies: [],
  heardAt: null,
  feedbackComesAt: null,
  levelRevision: 0,
  takeId: `${sittingId}${itemId}`,
  durationMs: 10_000,
  silent: false,
  medium: 'sound',
  fileName: null,
  placed: { clock: null, gateMs: null },
  source: 'recorded',
  cutShort: false,
  lost: false,
  saidMs: null,
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
  namesHidden: false,
  namesChanges: [],
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
    // Among some: of this student, or where no colleague is. Who is excused waits for nobody.
    expect(laneKey(nextWaiting(groups, 'b i', l => l.sittingId === 'b')!)).toBe('b j');
    expect(nextWaiting(groups, 'b i', l => l.sittingId === 'c')).toBeNull();
    const excused = lanes.map(l => ({ ...l, excused: l.sittingId === 'b' }));
    expect(laneKey(nextWaiting(groupsOf(view(excused), 'item'), 'a i')!)).toBe('a j');
  });

  it('shows only some lanes where that is wanted, without groups of nobody', () => {
    const groups = groupsOf(view(lanes), 'student', waits);
    expect(groups.map(g => [g.name, g.lanes.length])).toEqual([
      ['Student b', 2],
      ['Student a', 1],
    ]);
  });

  it('checks before feedback is given what is unfinished; what is back or under way is left out', () => {
    const ready = (of: Lane[]) =>
      checkFeedback(view(of))
        .filter(isReady)
        .map(c => c.sittingId);
    expect(checkFeedback(view(lanes)).map(c => [c.sittingId, c.items])).toEqual([
      ['a', [2]],
      ['b', [1, 2]],
      ['c', []],
    ]);
    const done = lanes.map(l => ({ ...l, mark: mark(true) }));
    expect(ready(done)).toEqual(['a', 'b', 'c']);
    for (const state of ['feedbackGiven', 'answered', 'underWay'] as const)
      expect(ready(done.map(l => ({ ...l, state })))).toEqual([]);
    expect(ready(done.map(l => ({ ...l, askedAgain: true })))).toEqual([]);
  });

  it('adds up what a sitting has: of what is finished, a missing answer none, nothing where nothing is given', () => {
    const { content } = view([]);
    const items = content.items.map(i => ({ ...i, points: 5 }));
    const of = (own: Lane[], over: object = {}) => totalWords({ ...content, items, ...over }, own);
    const given = (itemId: string, points: number | null) =>
      lane('a', itemId, { mark: { ...mark(true), points } });
    expect(of([given('i', 4.5), given('j', 3)])).toBe('7.5 / 10');
    expect(of([given('i', 4.5), lane('a', 'j')])).toBe('4.5 / 10 so far');
    expect(of([given('i', 4.5), lane('a', 'j', { takeId: null })])).toBe('4.5 / 10');
    expect(of([lane('a', 'i'), lane('a', 'j')])).toBe('');
    const scoring = { ...content.scoring, kind: 'level' as const, scale: [{ name: 'B1', descriptor: '' }] };
    expect(of([lane('a', 'i', { level: 0 })], { scoring })).toBe('B1');
    expect(of([lane('a', 'i', { level: null })], { scoring })).toBe('');
  });

  it('asks for an overall level where the scheme gives one', () => {
    const content = { ...view([]).content, scoring: { ...view([]).content.scoring, kind: 'level' as const } };
    const check = (level: number | null) =>
      checkFeedback({ content, lanes: [lane('a', 'i', { mark: mark(true), level })] }).map(c => c.level);
    expect([check(null), check(0)]).toEqual([[true], [false]]);
  });

  it('counts the listening that is left', () => {
    expect(waitingMs(lanes)).toBe(30_000);
  });
});
