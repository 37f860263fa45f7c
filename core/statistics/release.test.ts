import fc from 'fast-check';
import type { Scheme } from '../scoring/scheme';
import { releaseFigures, type AnalysedAnswer, type AnalysedScheme } from './release';

const items = [
  { id: 'i', carries: 500, answerLimitMs: 40_000 },
  { id: 'j', carries: 1_000, answerLimitMs: 0 },
];
const scheme = (kind: Scheme, over: Partial<AnalysedScheme> = {}): AnalysedScheme => ({
  kind,
  levels: 0,
  rubric: null,
  ...over,
});
const answer = (sittingId: string, itemId: string, over: Partial<AnalysedAnswer> = {}): AnalysedAnswer => ({
  sittingId,
  itemId,
  points: null,
  choices: [],
  durationMs: 20_000,
  takes: 1,
  hearings: 2,
  passed: false,
  ...over,
});
const sat = (...ids: string[]) => ids.map(id => ({ id, isMarked: true, level: null }));
/** Nothing that a page could show as NaN or Infinity. */
function expectFinite(value: unknown): void {
  JSON.stringify(value, (_, v: unknown) => {
    if (typeof v === 'number') expect(Number.isFinite(v)).toBe(true);
    return v;
  });
}

describe('a release in numbers', () => {
  it('counts what was not answered as none of its points, and says how it was answered', () => {
    const figures = releaseFigures(scheme('points'), items, sat('a', 'b'), [
      answer('a', 'i', { points: 500, takes: 3 }),
      answer('a', 'j', { points: 800 }),
      answer('b', 'i', { points: 250, passed: false, durationMs: 60_000 }),
    ]);
    expect(figures).toMatchObject({ handedIn: 2, marked: 2, mean: 775, middle: 775, reliability: null });
    const [i, j] = figures.items;
    expect(i).toMatchObject({
      answered: 2,
      unanswered: 0,
      share: 0.75,
      takes: 2,
      timeMs: 40_000,
      timeShare: 0.75,
    });
    expect(j).toMatchObject({ answered: 1, unanswered: 1, share: 0.4, timeShare: null, tells: null });
    expect(figures.bars.flatMap(b => b.sittingIds).sort()).toEqual(['a', 'b']);
  });

  it('leaves out who is not wholly marked, and counts passes as such', () => {
    const figures = releaseFigures(
      scheme('points'),
      items,
      [...sat('a'), { id: 'b', isMarked: false, level: null }],
      [
        answer('a', 'i', { points: 100 }),
        answer('b', 'i', { points: 500 }),
        answer('b', 'j', { passed: true, durationMs: null, takes: 0 }),
      ],
    );
    expect(figures.items[0]).toMatchObject({ answered: 2, share: 0.2 });
    expect(figures.items[1]).toMatchObject({ answered: 0, passed: 1, takes: null, timeMs: null });
  });

  it('shows no number where the scheme has none', () => {
    const level = releaseFigures(
      scheme('level', { levels: 3 }),
      items,
      [
        { id: 'a', isMarked: true, level: 2 },
        { id: 'b', isMarked: false, level: null },
      ],
      [answer('a', 'i'), answer('b', 'i')],
    );
    expect(level).toMatchObject({ bars: [], mean: null, spread: null, reliability: null });
    expect(level.levels!.map(l => l.count)).toEqual([0, 0, 1]);
    expect(level.items[0]).toMatchObject({ share: null, spread: null, tells: null, bars: [] });
    const done = releaseFigures(scheme('done'), items, sat('a', 'b'), [
      answer('a', 'i', { points: 100 }),
      answer('b', 'i', { points: 0 }),
    ]);
    expect(done.items.map(i => [i.done, i.share])).toEqual([
      [1, null],
      [0, null],
    ]);
  });

  it('says of a rubric how often each level was given', () => {
    const rubric = {
      levels: [{ points: 0 }, { points: 2 }, { points: 4 }],
      criteria: [{ id: 'flow' }, { id: 'sound' }],
    };
    const figures = releaseFigures(scheme('rubric', { rubric }), items, sat('a', 'b'), [
      answer('a', 'i', {
        points: 500,
        choices: [
          { criterionId: 'flow', level: 2 },
          { criterionId: 'sound', level: 1 },
        ],
      }),
      answer('b', 'i', { points: 200, choices: [{ criterionId: 'flow', level: 1 }] }),
      // Begun and not finished: not said yet.
      answer('b', 'j', { points: null, choices: [{ criterionId: 'flow', level: 0 }] }),
    ]);
    expect(figures.criteria[0]).toMatchObject({ counts: [0, 1, 1], share: 0.75, tells: null });
    expect(figures.criteria[1]).toMatchObject({ counts: [0, 1, 0], share: 0.5, spread: null });
  });

  it('tells strong from weak and how far the sum can be trusted as soon as there are ten', () => {
    const ids = Array.from({ length: 12 }, (_, n) => String(n));
    const answers = ids.flatMap((id, n) => [
      answer(id, 'i', { points: (n % 6) * 100 }),
      answer(id, 'j', { points: (n % 6) * 150 + (n % 2) * 50 }),
    ]);
    const many = releaseFigures(scheme('points'), items, sat(...ids), answers);
    expect(many.items[0]!.tells!).toBeGreaterThan(0.9);
    expect(many.reliability).toMatchObject({ students: 12, items: 2 });
    const few = releaseFigures(scheme('points'), items, sat(...ids.slice(0, 9)), answers);
    expect([few.items[0]!.tells, few.reliability]).toEqual([null, null]);
  });

  it('is empty of nothing, and finite of everything', () => {
    expectFinite(releaseFigures(scheme('points'), [], [], []));
    expect(releaseFigures(scheme('points'), items, [], []).bars).toEqual([]);
    fc.assert(
      fc.property(fc.array(fc.constantFrom(null, 0, 100, 500), { maxLength: 30 }), points => {
        const ids = points.map((_, n) => String(n));
        expectFinite(
          releaseFigures(
            scheme('points'),
            items,
            sat(...ids),
            points.map((p, n) => answer(String(n), n % 2 ? 'i' : 'j', { points: p })),
          ),
        );
      }),
    );
  });
});
