/** Averages over several assessments, only of what can be averaged. */
import type { Hundredths } from '../scoring/points';

/** One assessment of one student, as far as an average asks. */
export interface Averaged {
  /** Points given for it so far. */
  given: Hundredths;
  /** Points that it carries; null where its scheme adds nothing up. */
  carries: Hundredths | null;
  /** Every answer has its finished mark. */
  isMarked: boolean;
  isMissing: boolean;
  isExcused: boolean;
}

export interface AverageRule {
  /** What is missing counts as none of its points; else it is left out. */
  missingCounts: boolean;
}

export interface Average {
  given: Hundredths;
  most: Hundredths;
  /** How many assessments it is made of. */
  count: number;
}

/** Whether an assessment counts in an average: it carries points, and is marked, or missing where that counts. */
export function isAveraged(one: Averaged, { missingCounts }: AverageRule): boolean {
  if (one.carries === null || one.carries === 0 || one.isExcused) return false;
  return one.isMissing ? missingCounts : one.isMarked;
}

/**
 * Points reached over points carried, of all that counts: so each assessment weighs as much as it carries.
 * @returns null where nothing counts
 */
export function averageOf(all: readonly Averaged[], rule: AverageRule): Average | null {
  const average: Average = { given: 0, most: 0, count: 0 };
  for (const one of all) {
    if (!isAveraged(one, rule)) continue;
    average.given += one.isMissing ? 0 : one.given;
    average.most += one.carries!;
    average.count += 1;
  }
  return average.count === 0 ? null : average;
}
