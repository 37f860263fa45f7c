/**
 * Scoring schemes: what a student can reach, what a rubric gives, and what in a scheme contradicts itself.
 * Points and weights come as decimals with at most two places and are reckoned as integers of hundredths.
 */
import { pointsText, toHundredths, type Hundredths } from './points';

export const SCHEMES = ['none', 'done', 'points', 'rubric', 'level'] as const;
export type Scheme = (typeof SCHEMES)[number];

export interface RubricLevel {
  name: string;
  points: number;
}

export interface Criterion {
  id: string;
  name: string;
  /** How much the criterion weighs beside the others; 0 leaves it out of the number. */
  weight: number;
  /** One text a level, in their order. */
  descriptors: string[];
}

export interface Rubric {
  levels: RubricLevel[];
  criteria: Criterion[];
}

/** The level chosen on one criterion. */
export interface Choice {
  criterionId: string;
  /** Index into the rubric's levels. */
  level: number;
}

export interface Scoring {
  kind: Scheme;
  rubric: Rubric | null;
  /** The scale of an overall level, lowest first. */
  scale: { name: string; descriptor: string }[];
  /** Points of the whole that count as enough; null for none. */
  passMark: number | null;
}

/** Whether a scheme gives numbers that are added up and shown. */
export function isNumbered(kind: Scheme): boolean {
  return kind === 'points' || kind === 'rubric';
}

/** Whether each answer is given points (also where students read words instead of them). */
export function givesPoints(kind: Scheme): boolean {
  return isNumbered(kind) || kind === 'done';
}

/**
 * What the choices on a rubric give an item that carries some points: the weighted share of the highest level,
 * exactly, rounded half up to the hundredth.
 * @returns hundredths, or null while a criterion that weighs anything has no choice
 */
export function rubricScore(
  rubric: Rubric,
  choices: readonly Choice[],
  carries: Hundredths,
): Hundredths | null {
  const highest = Math.max(0, ...rubric.levels.map(l => toHundredths(l.points)));
  let given = 0n;
  let most = 0n;
  for (const criterion of rubric.criteria) {
    const weight = BigInt(toHundredths(criterion.weight));
    if (weight === 0n) continue;
    const chosen = choices.find(c => c.criterionId === criterion.id);
    const level = chosen && rubric.levels[chosen.level];
    if (!level) return null;
    given += weight * BigInt(toHundredths(level.points));
    most += weight * BigInt(highest);
  }
  if (most === 0n) return null;
  return Number((given * BigInt(carries) * 2n + most) / (most * 2n));
}

/** The points of a rubric by itself: weights times the highest level. In hundredths. */
export function rubricMaximum(rubric: Rubric): Hundredths {
  const highest = Math.max(0, ...rubric.levels.map(l => toHundredths(l.points)));
  const weights = rubric.criteria.reduce((sum, c) => sum + toHundredths(c.weight), 0);
  return Math.round((weights * highest) / 100);
}

/** What is wrong with a rubric, each with the part to mend; empty when it stands. */
export function rubricProblems(rubric: Rubric): string[] {
  const problems: string[] = [];
  if (rubric.criteria.length === 0) problems.push('The rubric has no criterion yet.');
  if (rubric.levels.length < 2) problems.push('A rubric needs at least two levels to choose between.');
  const points = rubric.levels.map(l => toHundredths(l.points));
  for (let i = 1; i < points.length; i++)
    if (points[i]! <= points[i - 1]!) {
      problems.push(
        `The levels are out of order: “${rubric.levels[i]!.name}” gives ${pointsText(points[i]!)}, the one before it ${pointsText(points[i - 1]!)}. Points rise from left to right.`,
      );
      break;
    }
  rubric.criteria.forEach((criterion, i) => {
    if (!criterion.name.trim()) problems.push(`Criterion ${i + 1} has no name.`);
  });
  if (rubric.criteria.length > 0 && rubric.criteria.every(c => toHundredths(c.weight) === 0))
    problems.push('All weights are zero, so the rubric gives nothing. Give at least one criterion a weight.');
  return problems;
}

/**
 * What a student can reach.
 * @param carried points of the items that are answered
 * @returns hundredths, or null where the scheme adds nothing up
 */
export function reachable(kind: Scheme, carried: readonly number[]): Hundredths | null {
  return isNumbered(kind) ? carried.reduce((sum, p) => sum + toHundredths(p), 0) : null;
}

/** What in a scheme contradicts itself or the items; said while it is edited. Empty when it agrees. */
export function schemeProblems(scoring: Scoring, carried: readonly number[]): string[] {
  const problems: string[] = [];
  if (scoring.kind === 'rubric')
    problems.push(...(scoring.rubric ? rubricProblems(scoring.rubric) : ['Choose or write a rubric.']));
  if (scoring.kind === 'level') {
    if (scoring.scale.length < 2) problems.push('The scale needs at least two levels.');
    if (scoring.scale.some(l => !l.name.trim())) problems.push('A level of the scale has no name.');
  }
  const most = reachable(scoring.kind, carried);
  if (most === 0 && carried.length > 0)
    problems.push(
      'No item carries points, so there is nothing to reach. Give an item points, or do not score.',
    );
  if (most !== null && most > 0 && scoring.passMark !== null && toHundredths(scoring.passMark) > most)
    problems.push(
      `The pass mark of ${pointsText(toHundredths(scoring.passMark))} is more than the ${pointsText(most)} points a student can reach.`,
    );
  return problems;
}
