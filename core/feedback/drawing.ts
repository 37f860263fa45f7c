/**
 * Drawing and text on a picture, a score or a passage. Places are in a layout of a fixed width, so that what is drawn stays
 * where it was put on every screen and on paper.
 */

/** Width of the layout in which things are drawn; heights follow from what is drawn on. */
export const DRAWING_WIDTH = 900;

export type Shape =
  /** A stroke: x, y, x, y … */
  { kind: 'stroke'; points: number[] } | { kind: 'text'; x: number; y: number; text: string };

export interface Drawing {
  /** Height of the layout, in the same units as its width. */
  height: number;
  shapes: Shape[];
  /** Lines of a passage as they lay under the strokes, so that paper can show both. */
  underlay?: { x: number; y: number; size: number; text: string }[];
  /** The ink of a score as it lay under the strokes, for paper as well. */
  score?: ScoreInk;
}

/** Engraved notation as outlines: at x, y of the layout, `scale` times as large as its own units. */
export interface ScoreInk {
  x: number;
  y: number;
  scale: number;
  /** SVG path data; drawn as a line of that width, or filled without one. */
  ink: { d: string; width?: number }[];
}

export const MOST_SHAPES = 400;
export const MOST_NUMBERS = 40_000;
/** Letters of path data of a score; about twenty lines of music. More is not kept for paper. */
export const MOST_INK = 600_000;
/** Path data and nothing else: commands of SVG 1.1 paths and numbers. */
export const PATH_DATA = /^[MmLlHhVvCcSsQqTtAaZz0-9 ,.eE+-]*$/;
const LONGEST_TEXT = 300;

/** Points further than this off the straight line of their neighbours are kept. */
const FINE = 0.7;

/**
 * A stroke without the points that nobody would miss (Ramer–Douglas–Peucker), in tenths.
 * @param points x, y, x, y …
 */
export function simplified(points: readonly number[]): number[] {
  const n = points.length / 2;
  const keep = new Uint8Array(n);
  if (n > 0) keep[0] = keep[n - 1] = 1;
  const stack: [number, number][] = [[0, n - 1]];
  while (stack.length > 0) {
    const [a, b] = stack.pop()!;
    const [ax, ay] = [points[2 * a]!, points[2 * a + 1]!];
    const [dx, dy] = [points[2 * b]! - ax, points[2 * b + 1]! - ay];
    const length = Math.hypot(dx, dy);
    let far = 0;
    let at = -1;
    for (let i = a + 1; i < b; i++) {
      const [px, py] = [points[2 * i]! - ax, points[2 * i + 1]! - ay];
      const off = length === 0 ? Math.hypot(px, py) : Math.abs(dx * py - dy * px) / length;
      if (off > far) {
        far = off;
        at = i;
      }
    }
    if (at >= 0 && far > FINE) {
      keep[at] = 1;
      stack.push([a, at], [at, b]);
    }
  }
  const out: number[] = [];
  for (let i = 0; i < n; i++)
    if (keep[i]) out.push(Math.round(points[2 * i]! * 10) / 10, Math.round(points[2 * i + 1]! * 10) / 10);
  return out;
}

/** What is wrong with a drawing; null when it stands. */
export function drawingProblem(drawing: Drawing): string | null {
  const { height, shapes } = drawing;
  if (!(height > 0 && height <= 20_000))
    return 'What is drawn on has no size. Reload the page, then draw again.';
  if (shapes.length > MOST_SHAPES) return `A drawing holds ${MOST_SHAPES} strokes at most. Take some away.`;
  let numbers = 0;
  for (const shape of shapes) {
    const places = shape.kind === 'stroke' ? (shape.points ?? []) : [shape.x, shape.y];
    numbers += places.length;
    if (
      places.length < 2 ||
      places.length % 2 !== 0 ||
      !places.every(p => Number.isFinite(p) && Math.abs(p) <= 30_000)
    )
      return 'A stroke of this drawing has no place. Undo it and draw it again.';
    if (shape.kind === 'text' && (!shape.text?.trim() || shape.text.length > LONGEST_TEXT))
      return `A text on a drawing has words, at most ${LONGEST_TEXT} characters.`;
  }
  return numbers > MOST_NUMBERS ? 'This drawing is too fine to keep. Take some strokes away.' : null;
}
