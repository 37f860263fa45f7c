/**
 * What somebody draws while they speak: strokes whose points keep their time, so that a drawing comes back as it was made. Written
 * out as SVG (to look at) and as InkML, the W3C's open format for ink with times (to go on with).
 */

/** Width of a sheet, in its own units; its height follows from what lies under it. */
export const SHEET_WIDTH = 1000;
/** Of an empty one. */
export const SHEET_HEIGHT = 700;
const TALLEST = 4000;

/** Pens, dark enough on white paper. */
export const PENS = ['#152230', '#0c5a64', '#b5301a', '#9a5b00', '#2f6b2f', '#5b3a8c'] as const;
export const PEN_WIDTH = 8;

/** Points in all of a sheet: about twenty minutes of a pen that never rests. */
export const MOST_POINTS = 40_000;
export const MOST_STROKES = 4_000;
const LONGEST_MS = 4 * 3_600_000;

export interface InkStroke {
  /** Which of the pens. */
  pen: number;
  /** x, y, ms, x, y, ms …: places in units of the sheet, times from the beginning of the answer, pauses left out. */
  points: number[];
  /** When it was taken back; left out where it stands. */
  goneMs?: number;
}

export interface Ink {
  height: number;
  strokes: InkStroke[];
}

/** Why something is no ink; null where it is. */
export function inkProblem({ height, strokes }: Ink): string | null {
  if (!Number.isFinite(height) || height < 50 || height > TALLEST) return 'A sheet is 50 to 4000 high.';
  if (strokes.length > MOST_STROKES) return `A sheet holds ${MOST_STROKES} strokes at most.`;
  let points = 0;
  for (const { pen, points: p, goneMs } of strokes) {
    if (!Number.isInteger(pen) || pen < 0 || pen >= PENS.length) return 'There is no such pen.';
    if (p.length === 0 || p.length % 3 !== 0) return 'A point is x, y and a time.';
    if (!p.every(n => typeof n === 'number' && Number.isFinite(n) && Math.abs(n) <= LONGEST_MS))
      return 'A point is three numbers.';
    for (let i = 5; i < p.length; i += 3) if (p[i]! < p[i - 3]!) return 'Time goes on within a stroke.';
    if (p[2]! < 0) return 'A stroke begins with the answer, not before.';
    if (goneMs !== undefined && (!Number.isFinite(goneMs) || goneMs < p[2]! || goneMs > LONGEST_MS))
      return 'A stroke is taken back after it began.';
    points += p.length / 3;
  }
  return points > MOST_POINTS ? `A sheet holds ${MOST_POINTS} points at most.` : null;
}

/**
 * What is on the sheet at a moment.
 * @param atMs since the beginning of the answer; Infinity for the whole drawing as it was left
 * @returns strokes as x, y, x, y …, in the order in which they were drawn
 */
export function inkAt({ strokes }: Ink, atMs: number): { pen: number; points: number[] }[] {
  const seen: { pen: number; points: number[] }[] = [];
  for (const { pen, points, goneMs } of strokes) {
    if (points[2]! > atMs || (goneMs !== undefined && goneMs <= atMs)) continue;
    const places: number[] = [];
    for (let i = 0; i < points.length && points[i + 2]! <= atMs; i += 3)
      places.push(points[i]!, points[i + 1]!);
    // A touch without a move is a dot.
    if (places.length === 2) places.push(places[0]! + 1, places[1]!);
    seen.push({ pen, points: places });
  }
  return seen;
}

/** When the last stroke ended, in ms since the beginning of the answer; 0 for an empty sheet. */
export function inkEndMs({ strokes }: Ink): number {
  return strokes.reduce((end, s) => Math.max(end, s.points.at(-1) ?? 0, s.goneMs ?? 0), 0);
}

/** A point nearer than this to the one before, in units of the sheet, adds nothing to be seen. */
const FINE = 2;

/** Adds a point to a stroke that is being drawn, where it adds something. */
export function withPoint(stroke: InkStroke, x: number, y: number, atMs: number): InkStroke {
  const { points } = stroke;
  const [lastX, lastY, lastMs] = points.slice(-3) as [number, number, number];
  if (points.length > 0 && Math.hypot(x - lastX, y - lastY) < FINE) return stroke;
  return {
    ...stroke,
    points: [...points, Math.round(x), Math.round(y), Math.round(Math.max(atMs, lastMs ?? 0))],
  };
}

const pairs = (points: readonly number[]) => points.join(' ');

/** The drawing as it was left, as SVG 1.1. */
export function inkSvg(ink: Ink): string {
  const lines = inkAt(ink, Infinity).map(
    ({ pen, points }) => `<polyline points="${pairs(points)}" stroke="${PENS[pen]}"/>`,
  );
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${SHEET_WIDTH} ${ink.height}" width="${SHEET_WIDTH}" height="${ink.height}">`,
    `<rect width="100%" height="100%" fill="#ffffff"/>`,
    `<g fill="none" stroke-width="${PEN_WIDTH}" stroke-linecap="round" stroke-linejoin="round">`,
    ...lines,
    '</g></svg>',
    '',
  ].join('\n');
}

/** All strokes with their times, also those taken back, as InkML (W3C Recommendation of 2011). */
export function inkMl(ink: Ink): string {
  const brushes = PENS.map(
    (color, n) =>
      `<brush xml:id="pen${n}"><brushProperty name="color" value="${color}"/><brushProperty name="width" value="${PEN_WIDTH}"/></brush>`,
  );
  const traces = ink.strokes.map(({ pen, points, goneMs }, n) => {
    const at: string[] = [];
    for (let i = 0; i < points.length; i += 3) at.push(`${points[i]} ${points[i + 1]} ${points[i + 2]}`);
    const gone = goneMs === undefined ? '' : `<annotation type="takenBackAtMs">${goneMs}</annotation>`;
    return `<traceGroup xml:id="stroke${n}">${gone}<trace brushRef="#pen${pen}">${at.join(', ')}</trace></traceGroup>`;
  });
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<ink xmlns="http://www.w3.org/2003/InkML">',
    '<definitions>',
    ...brushes,
    '<traceFormat xml:id="timed"><channel name="X" type="integer"/><channel name="Y" type="integer"/><channel name="T" type="integer" units="ms"/></traceFormat>',
    '</definitions>',
    '<context xml:id="sheet" traceFormatRef="#timed"/>',
    ...traces,
    '</ink>',
    '',
  ].join('\n');
}
