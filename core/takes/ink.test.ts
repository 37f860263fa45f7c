import { XMLParser } from 'fast-xml-parser';
import { inkAt, inkEndMs, inkMl, inkProblem, inkSvg, withPoint, type Ink } from './ink';

/** A line from 0 to 1 s, one from 2 to 3 s that is taken back at 4 s, a dot at 5 s. */
const ink: Ink = {
  height: 700,
  strokes: [
    { pen: 0, points: [0, 0, 0, 100, 0, 500, 200, 0, 1000] },
    { pen: 2, points: [0, 50, 2000, 200, 50, 3000], goneMs: 4000 },
    { pen: 1, points: [500, 500, 5000] },
  ],
};

test('a drawing comes back as it was made', () => {
  const places = (ms: number) => inkAt(ink, ms).map(s => s.points);
  expect(places(-1)).toEqual([]);
  expect(places(600)).toEqual([[0, 0, 100, 0]]);
  expect(places(3000)).toEqual([
    [0, 0, 100, 0, 200, 0],
    [0, 50, 200, 50],
  ]);
  expect(places(4000)).toHaveLength(1);
  expect(inkAt(ink, Infinity)).toEqual([
    { pen: 0, points: [0, 0, 100, 0, 200, 0] },
    { pen: 1, points: [500, 500, 501, 500] },
  ]);
  expect(inkEndMs(ink)).toBe(5000);
});

test('a point too near to be seen is not kept, and time never goes back', () => {
  const begun = withPoint({ pen: 0, points: [] }, 10.4, 10.6, 100);
  expect(begun.points).toEqual([10, 11, 100]);
  expect(withPoint(begun, 11, 11, 120)).toBe(begun);
  expect(withPoint(begun, 40, 11, 90).points).toEqual([10, 11, 100, 40, 11, 100]);
});

test('what is no ink is told', () => {
  expect(inkProblem(ink)).toBeNull();
  const bad = (change: Partial<Ink>) => inkProblem({ ...ink, ...change });
  const stroke = (points: number[], more = {}) => bad({ strokes: [{ pen: 0, points, ...more }] });
  expect(bad({ height: NaN })).not.toBeNull();
  expect(bad({ height: 1e9 })).not.toBeNull();
  expect(stroke([])).not.toBeNull();
  expect(stroke([1, 2])).not.toBeNull();
  expect(stroke([0, 0, 10, 0, 9, 5])).not.toBeNull();
  expect(stroke([0, 0, -1])).not.toBeNull();
  expect(stroke([0, 0, Infinity])).not.toBeNull();
  expect(stroke(['<svg onload=x>' as never, 0, 0])).not.toBeNull();
  expect(stroke([0, 0, 5], { goneMs: 1 })).not.toBeNull();
  expect(stroke([0, 0, 5], { pen: 99 })).not.toBeNull();
  expect(
    bad({ strokes: Array.from({ length: 5000 }, () => ({ pen: 0, points: [0, 0, 0] })) }),
  ).not.toBeNull();
  expect(stroke(Array.from({ length: 3 * 40_001 }, () => 0))).not.toBeNull();
});

test('SVG shows what was left, InkML keeps every stroke with its times', () => {
  const xml = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' });
  const svg = xml.parse(inkSvg(ink)) as { svg: { g: { polyline: { points: string }[] } } };
  expect(svg.svg.g.polyline.map(p => p.points)).toEqual(['0 0 100 0 200 0', '500 500 501 500']);
  const { ink: ml } = xml.parse(inkMl(ink)) as {
    ink: { traceGroup: { trace: { '#text': string; brushRef: string }; annotation?: { '#text': number } }[] };
  };
  expect(ml.traceGroup.map(g => g.trace['#text'])).toEqual([
    '0 0 0, 100 0 500, 200 0 1000',
    '0 50 2000, 200 50 3000',
    '500 500 5000',
  ]);
  expect(ml.traceGroup[1]!.annotation!['#text']).toBe(4000);
});
