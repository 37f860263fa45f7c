import fc from 'fast-check';
import { stretchesOf, turnsInAll, whoseTurn } from './together';

describe('turns', () => {
  it('go round in the order of people, each as often as every other', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 1, max: 10 }), (people, each) => {
        const names = Array.from({ length: people }, (_, i) => i);
        const turns = Array.from({ length: turnsInAll(people, each) }, (_, n) => whoseTurn(names, n));
        for (const name of names) expect(turns.filter(t => t === name)).toHaveLength(each);
        expect(turns.slice(0, people)).toEqual(names);
      }),
    );
    expect(() => whoseTurn([], 0)).toThrow(RangeError);
  });

  it('lie end to end in the run', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 100_000 })), lengths => {
        const run = stretchesOf(lengths.map(durationMs => ({ durationMs })));
        run.forEach((s, i) => {
          expect(s.toMs - s.fromMs).toBe(lengths[i]);
          expect(s.fromMs).toBe(run[i - 1]?.toMs ?? 0);
        });
      }),
    );
  });
});
