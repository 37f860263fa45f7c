import type { Shown } from '@ecoute/contract/results';
import { shownWords, togetherWords } from './canDo';

const shown = (over: Partial<Shown>): Shown => ({
  releaseId: 'r',
  sittingId: 's',
  itemId: 'i',
  takeId: 't',
  durationMs: 1_000,
  title: 'T',
  at: '2026-11-03T09:00:00.000Z',
  scheme: 'points',
  points: null,
  carries: 10,
  level: null,
  levelPlace: null,
  ...over,
});
const level = (levelPlace: number, name: string) =>
  shown({ scheme: 'level', carries: 0, level: name, levelPlace });

describe('what recordings show of a statement', () => {
  it('is a share, a level or done, and no number where there is none', () => {
    expect(shownWords(shown({ points: 7 }))).toBe('70 %');
    expect(shownWords(level(2, 'A2'))).toBe('A2');
    expect(shownWords(shown({ scheme: 'done', points: 1, carries: 0 }))).toBe('done');
    expect(shownWords(shown({ scheme: 'none', carries: 0 }))).toBe('heard');
  });

  it('is put together kind by kind', () => {
    expect(togetherWords([])).toBe('');
    expect(togetherWords([shown({ points: 5 }), shown({ points: 10, carries: 30 })])).toBe('38 %');
    expect(togetherWords([level(3, 'B1'), level(2, 'A2')])).toBe('B1');
    expect(togetherWords([level(3, 'B1'), level(3, 'three')])).toBe('three');
    const done = (points: number) => shown({ scheme: 'done', points, carries: 0 });
    expect(togetherWords([done(1), done(0)])).toBe('1 of 2 done');
    expect(togetherWords([shown({ points: 5 }), level(2, 'A2')])).toBe('A2 · 50 %');
    expect(togetherWords([shown({ scheme: 'none', carries: 0 })])).toBe('heard');
  });
});
