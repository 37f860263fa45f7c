import { LIMITS } from '@ecoute/contract/limits';

/** The stretches whose length a teacher sets. */
export type Sized = 'prepare' | 'answer';

export const LEAST_MS: Record<Sized, number> = { prepare: 0, answer: LIMITS.shortestAnswerLimitMs };
export const MOST_MS: Record<Sized, number> = { prepare: LIMITS.prepareMs, answer: LIMITS.answerMs };

/** A length under the pointer, rounded to what a pixel can tell, at least a second, and held inside its limits. */
export function snapped(kind: Sized, ms: number, msPerPixel: number): number {
  const step = [1_000, 5_000, 10_000, 15_000, 30_000].find(s => s >= msPerPixel * 2) ?? 60_000;
  const rounded = Math.round(ms / step) * step;
  return Math.max(LEAST_MS[kind], Math.min(MOST_MS[kind], rounded));
}
