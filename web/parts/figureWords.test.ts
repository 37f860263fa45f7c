import { FIGURES } from '@ecoute/core/audio/evidence';
import { FIGURE_WORDS, figureWords, firstFigures } from './figureWords';

describe('figures in words', () => {
  it('have a name each, and read as people read them', () => {
    for (const name of FIGURES) expect(FIGURE_WORDS[name].name()).not.toBe('');
    expect(figureWords('longestPauseSec', 1.249)).toBe('1.2 s');
    expect(figureWords('pauseCount', 3)).toBe('3');
    expect(figureWords('tuningCents', 14)).toBe('+14 cents');
    // Less than can be shown is nothing, without a sign.
    expect(figureWords('tuningCents', -0.2)).toBe('0 cents');
    expect(figureWords('driftPercent', -8.4)).toBe('−8 %');
  });

  it('are a few at first, in the order in which they are read', () => {
    const all = Object.fromEntries(FIGURES.map(name => [name, 1]));
    expect(firstFigures(all)).toHaveLength(6);
    expect(firstFigures({ pauseCount: 2, speakingSec: 9, speechRate: 3 })).toEqual([
      'speakingSec',
      'pauseCount',
    ]);
    expect(firstFigures({})).toEqual([]);
  });
});
