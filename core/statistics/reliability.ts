/** How far a sum over several items can be trusted, from one sitting of each student. */
// Read from the interface, too, where the folder’s own declarations are not looked for.
// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./jstat.d.ts" />
import { jStat } from 'jstat';
import { LEAST_STUDENTS } from './enough';
import { correlationOf, isFlat, spreadOf, varianceOf } from './spread';

export interface Reliability {
  /** Cronbach's alpha: 1 where the items tell the same of everybody, 0 or below where each tells something else. */
  alpha: number;
  /** Its interval of 95 %. */
  low: number;
  high: number;
  /** The standard error of one student's sum, in the unit of the values. */
  errorOf: number;
  students: number;
  items: number;
}

/**
 * Cronbach's alpha (L. J. Cronbach, Psychometrika 16, 1951) with Feldt's interval (L. S. Feldt, Psychometrika 30, 1965),
 * and the standard error of measurement, s √(1 − alpha).
 * @param table a row a student, a value an item; only of students who have all of them
 * @param least students at which something is said
 * @returns null where there are too few students or items, or everybody has the same
 */
export function reliabilityOf(
  table: readonly (readonly number[])[],
  least: number = LEAST_STUDENTS,
): Reliability | null {
  const n = table.length;
  const k = table[0]?.length ?? 0;
  if (n < Math.max(2, least) || k < 2) return null;
  const sums = table.map(row => row.reduce((sum, v) => sum + v, 0));
  const whole = varianceOf(sums)!;
  const parts = Array.from({ length: k }, (_, i) => varianceOf(table.map(row => row[i]!))!);
  if (isFlat(sums)) return null;
  const alpha = (k / (k - 1)) * (1 - parts.reduce((sum, v) => sum + v, 0) / whole);
  const quantile = (share: number) => jStat.centralF.inv(share, n - 1, (n - 1) * (k - 1));
  return {
    alpha,
    low: 1 - (1 - alpha) * quantile(0.975),
    high: 1 - (1 - alpha) * quantile(0.025),
    // An alpha below 0 comes about by chance; an error greater than the spread does not.
    errorOf: spreadOf(sums)! * Math.sqrt(1 - Math.max(0, Math.min(1, alpha))),
    students: n,
    items: k,
  };
}

/**
 * How well each item tells strong from weak: its correlation with the sum of the others (the corrected item–total
 * correlation; S. Henrysson, Psychometrika 28, 1963), so that it does not agree with itself.
 * @param table a row a student, a value an item
 * @returns by item; null where there are too few to say, or where an item or the rest of them is the same for everybody
 */
export function itemRestCorrelations(
  table: readonly (readonly number[])[],
  least: number = LEAST_STUDENTS,
): (number | null)[] {
  const k = table[0]?.length ?? 0;
  return Array.from({ length: k }, (_, i) => {
    if (table.length < least || k < 2) return null;
    const own = table.map(row => row[i]!);
    const rest = table.map(row => row.reduce((sum, v, at) => (at === i ? sum : sum + v), 0));
    return correlationOf(own, rest);
  });
}
