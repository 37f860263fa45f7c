/**
 * Points, exactly. A teacher types 2.5 or 0.1; sums of those must not drift, so inside the core points are
 * integers of hundredths and are turned to decimals only at the edge.
 */
export type Hundredths = number;

/** The largest number of points one item may carry. */
export const MAX_ITEM_POINTS = 1000;

/**
 * Points as typed (at most two decimals, `.` or `,`) to hundredths.
 * @returns integer hundredths, or null when the text is not such a number.
 */
export function parsePoints(text: string): Hundredths | null {
  const match = /^\s*(\d{1,6})(?:[.,](\d{1,2}))?\s*$/.exec(text);
  if (!match) return null;
  return Number(match[1]) * 100 + Number((match[2] ?? '').padEnd(2, '0') || 0);
}

/** Decimal points (as JSON carries them) to hundredths; rounds away binary noise such as 0.1 + 0.2. */
export function toHundredths(points: number): Hundredths {
  return Math.round(points * 100);
}

/** Hundredths as a decimal number for JSON. */
export function fromHundredths(hundredths: Hundredths): number {
  return hundredths / 100;
}

/** Hundredths as people write them: `250` → `"2.5"`, `300` → `"3"`. */
export function pointsText(hundredths: Hundredths): string {
  const whole = Math.trunc(hundredths / 100);
  const rest = Math.abs(hundredths % 100);
  if (rest === 0) return String(whole);
  return `${whole}.${String(rest).padStart(2, '0').replace(/0$/, '')}`;
}

/** What is wrong with a score on an item of `maximum` points; null when it stands. */
export function scoreProblem(score: Hundredths, maximum: Hundredths): string | null {
  if (!Number.isInteger(score)) return 'Points have at most two decimals.';
  if (score < 0) return 'Points cannot be below zero.';
  if (score > maximum) return `This item carries at most ${pointsText(maximum)} points.`;
  return null;
}

export interface ItemScore {
  /** What the item carries. */
  maximum: Hundredths;
  /** What was given; null while unmarked. */
  given: Hundredths | null;
}

export interface Total {
  given: Hundredths;
  maximum: Hundredths;
  unmarked: number;
  /** False when nothing carries points: then no number is shown to anybody. */
  scored: boolean;
}

/** Adds up a sitting. Items that carry no points count neither as unmarked nor in the total. */
export function totalOf(scores: readonly ItemScore[]): Total {
  const total: Total = { given: 0, maximum: 0, unmarked: 0, scored: false };
  for (const { maximum, given } of scores) {
    if (maximum === 0) continue;
    total.scored = true;
    total.maximum += maximum;
    if (given === null) total.unmarked += 1;
    else total.given += given;
  }
  return total;
}
