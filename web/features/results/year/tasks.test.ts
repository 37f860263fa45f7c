import type { YearAnswer, YearSitting } from '@ecoute/contract/results';
import { answerWords, figuresOf, sittingWords, tagLines, tasksOf, within } from './tasks';

const answer = (itemId: string, over: Partial<YearAnswer> = {}): YearAnswer => ({
  itemId,
  prompt: `Prompt of ${itemId}`,
  kind: 'speaking',
  tags: [],
  takeId: 't',
  durationMs: 1_000,
  points: null,
  carries: 0,
  shows: null,
  figures: {},
  ...over,
});
const sitting = (day: number, answers: YearAnswer[], over: Partial<YearSitting> = {}) =>
  ({
    sittingId: String(day),
    at: `2026-11-${String(day).padStart(2, '0')}T09:00:00.000Z`,
    level: null,
    points: null,
    carries: null,
    answers,
    ...over,
  }) as YearSitting;

describe('what of a year can be held against each other', () => {
  const year = [
    sitting(3, [answer('a', { figures: { pauseCount: 4 } }), answer('b', { kind: 'reading' })]),
    sitting(10, [answer('a', { figures: { pauseCount: 2 } })]),
    sitting(17, [answer('c'), answer('d', { takeId: null }), answer('e', { kind: 'other' })]),
  ];

  it('is an item at several dates, and then a kind; not what was answered once', () => {
    expect(tasksOf(year).map(t => [t.key, t.prompt, t.answers.map(d => d.sitting.sittingId)])).toEqual([
      ['item a', 'Prompt of a', ['3', '10']],
      ['kind speaking', null, ['3', '10', '17']],
    ]);
    expect(tasksOf([])).toEqual([]);
    expect(figuresOf(tasksOf(year)[0]!)).toEqual(['pauseCount']);
  });

  it('lies in a term', () => {
    expect(within(year, { from: '2026-11-10', to: '2026-11-10' }).map(s => s.sittingId)).toEqual(['10']);
    expect(within(year, { from: '', to: '' })).toHaveLength(3);
  });

  it('came to a level or a share, and to nothing where neither is given', () => {
    expect(answerWords(answer('a', { points: 3, carries: 4 }))).toBe('75 %');
    expect(answerWords(answer('a', { shows: 'A2', points: 3, carries: 4 }))).toBe('A2');
    expect(answerWords(answer('a'))).toBeNull();
    expect(sittingWords(sitting(3, [], { points: 9, carries: 10 }))).toBe('90 %');
    expect(sittingWords(sitting(3, [], { carries: 10 }))).toBeNull();
  });

  it('is gathered by statement, each answer once, a level of the whole for each of its answers', () => {
    const tag = { code: 'BW-1', words: 'I can' };
    const lines = tagLines({
      sittings: [
        sitting(3, [answer('a', { tags: [tag, tag], points: 1, carries: 2 })]),
        sitting(10, [answer('a', { tags: [tag] })], { level: 'A2' }),
        sitting(17, [answer('a', { tags: [tag] })]),
      ],
    });
    expect(lines.map(l => l.answers.map(d => answerWords(d.answer)))).toEqual([['50 %', 'A2']]);
  });
});
