import type { ReleaseFigures } from '@ecoute/core/statistics/release';
import { noTrustWords, percent, pointFigure, tellsWord, trustWords } from './numberWords';

const figures = (over: Partial<ReleaseFigures>) =>
  ({ marked: 12, items: [], spread: 100, ...over }) as ReleaseFigures;
const item = { share: 0.5, bars: [] } as unknown as ReleaseFigures['items'][number];

describe('what figures say', () => {
  it('is a number people read, and a word beside it', () => {
    expect([pointFigure(775), pointFigure(800), pointFigure(1_204)]).toEqual(['7.8', '8', '12']);
    expect([percent(0.285), percent(1.2), percent(0)]).toEqual(['29 %', '100 %', '0 %']);
    expect([0.6, 0.3, 0.1, -0.4].map(tellsWord)).toEqual([
      'well',
      'somewhat',
      'hardly',
      'the other way round',
    ]);
  });

  it('is how far a score can be trusted, or plainly why that cannot be said', () => {
    const words = trustWords({ alpha: 0.91, low: 0.68, high: 0.99, errorOf: 120, students: 12, items: 4 });
    expect(words).toContain('between 0.68 and 0.99');
    expect(words).toContain('within 1.2 of');
    expect(noTrustWords(figures({ marked: 1 }))).toContain('10 students must be wholly marked, and 1 is.');
    expect(noTrustWords(figures({ items: [item] }))).toContain('nothing to hold it against');
    expect(noTrustWords(figures({ items: [item, item], spread: 0 }))).toContain('the same points');
  });
});
