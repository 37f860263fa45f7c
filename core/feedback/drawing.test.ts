import fc from 'fast-check';
import { drawingProblem, MOST_SHAPES, simplified, type Shape } from './drawing';

describe('strokes', () => {
  it('lose the points on a straight line, and keep corners', () => {
    const line = Array.from({ length: 50 }, (_, i) => [i, i * 2]).flat();
    expect(simplified(line)).toEqual([0, 0, 49, 98]);
    expect(simplified([0, 0, 5, 0, 10, 0, 10, 5, 10, 10])).toEqual([0, 0, 10, 0, 10, 10]);
    expect(simplified([3.14159, 2.71828])).toEqual([3.1, 2.7]);
    expect(simplified([])).toEqual([]);
  });

  it('begin and end where they were drawn, and never gain a point', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 0, max: 900 })), {
          minLength: 1,
        }),
        pairs => {
          const points = pairs.flat();
          const fine = simplified(points);
          expect(fine.slice(0, 2)).toEqual(points.slice(0, 2));
          expect(fine.slice(-2)).toEqual(points.slice(-2));
          expect(fine.length).toBeLessThanOrEqual(points.length);
        },
      ),
    );
  });
});

describe('a drawing', () => {
  const of = (...shapes: Shape[]) => ({ height: 600, shapes });
  it('stands with strokes and text, in any script', () => {
    expect(
      drawingProblem(
        of({ kind: 'stroke', points: [0, 0, 5, 5] }, { kind: 'text', x: 1, y: 1, text: 'هنا 🙂' }),
      ),
    ).toBeNull();
  });
  it('is refused without places, without words, without size, or beyond all measure', () => {
    for (const bad of [
      of({ kind: 'stroke', points: [1] }),
      of({ kind: 'stroke', points: [] }),
      of({ kind: 'stroke', points: [NaN, 1] }),
      of({ kind: 'text', x: 1, y: Infinity, text: 'a' }),
      of({ kind: 'text', x: 1, y: 1, text: ' ' }),
      of({ kind: 'text', x: 1, y: 1, text: 'x'.repeat(301) }),
      { height: 0, shapes: [] },
      of(...Array.from({ length: MOST_SHAPES + 1 }, (): Shape => ({ kind: 'stroke', points: [0, 0] }))),
      of({ kind: 'stroke', points: new Array(50_000).fill(1) }),
    ])
      expect(drawingProblem(bad)).not.toBeNull();
  });
});
