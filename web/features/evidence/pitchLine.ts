/** The geometry of a pitch line over time, apart from the page. */
import { noteName } from '@ecoute/core/formats/musicXml';
import type { Evidence, ExpectedNote } from '@ecoute/core/audio/evidence';

/** What of time and pitch a drawing shows. */
export interface PitchFrame {
  widthPx: number;
  heightPx: number;
  spanMs: number;
  lowCents: number;
  highCents: number;
}

export const xOf = (frame: PitchFrame, sec: number) => (1000 * sec * frame.widthPx) / frame.spanMs;
export const yOf = (frame: PitchFrame, cents: number) =>
  frame.heightPx * (1 - (cents - frame.lowCents) / (frame.highCents - frame.lowCents));

/** A step that no voice makes within one column: the line is not drawn across it. */
const LEAP_CENTS = 400;
/** Columns without a pitch that the line is still drawn across. */
const BRIDGE_COLUMNS = 2;
const LEAST_SPAN_CENTS = 700;

const middleOf = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;

/**
 * The lowest and highest cents that are worth drawing: all of the target, and the middle nine tenths of what was heard
 * around it.
 */
export function centsShown(
  { pitch }: Pick<Evidence, 'pitch'>,
  expected: readonly ExpectedNote[],
): [number, number] {
  const heard = pitch.cents.filter(c => c > 0).sort((a, b) => a - b);
  const at = (share: number) => heard[Math.min(heard.length - 1, Math.floor(share * heard.length))]!;
  const all = [
    ...expected.map(n => n.cents),
    ...(heard.length > 0 ? (expected.length > 0 ? [at(0.1), at(0.9)] : [at(0.02), at(0.98)]) : []),
  ];
  if (all.length === 0) return [5_500, 6_700];
  const low = Math.min(...all) - 150;
  const high = Math.max(...all) + 150;
  const wider = Math.max(0, LEAST_SPAN_CENTS - (high - low)) / 2;
  return [low - wider, high + wider];
}

/**
 * The line as SVG path data: a point each column, the middle one of the pitches in it; broken where nothing has a pitch.
 */
export function pitchPath(pitch: Evidence['pitch'], frame: PitchFrame): string {
  const { cents, hopSec, fromSec } = pitch;
  const columns: number[][] = [];
  cents.forEach((c, i) => {
    if (c <= 0 || c < frame.lowCents || c > frame.highCents) return;
    const column = Math.round(xOf(frame, fromSec + i * hopSec) / 2);
    (columns[column] ??= []).push(c);
  });
  let path = '';
  let last: { column: number; cents: number } | null = null;
  columns.forEach((values, column) => {
    const middle = middleOf(values);
    const joins =
      last !== null &&
      column - last.column <= 1 + BRIDGE_COLUMNS &&
      Math.abs(middle - last.cents) < LEAP_CENTS;
    path += `${joins ? 'L' : 'M'}${2 * column} ${yOf(frame, middle).toFixed(1)}`;
    // A place of its own is a dot.
    if (!joins) path += 'h1';
    last = { column, cents: middle };
  });
  return path;
}

/** Names of pitches at the edge: those of the target, or of the octaves that are shown; not closer than they can be read. */
export function pitchNames(
  frame: PitchFrame,
  expected: readonly ExpectedNote[],
  leastPx = 14,
): { cents: number; name: string }[] {
  const wanted = new Set<number>();
  if (expected.length > 0) for (const n of expected) wanted.add(n.cents);
  else
    for (let c = Math.ceil(frame.lowCents / 1_200) * 1_200; c <= frame.highCents; c += 1_200) wanted.add(c);
  const names: { cents: number; name: string }[] = [];
  for (const cents of [...wanted].sort((a, b) => a - b)) {
    const last = names.at(-1);
    if (last && Math.abs(yOf(frame, last.cents) - yOf(frame, cents)) < leastPx) continue;
    names.push({ cents, name: noteName(Math.round(cents / 100)) });
  }
  return names;
}
