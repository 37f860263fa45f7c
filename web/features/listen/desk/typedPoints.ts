import { parsePoints, pointsText } from '@ecoute/core/scoring/points';

/**
 * Points typed digit by digit.
 * @param before what a digit may join; empty where too long ago
 * @param carries the most points
 * @returns the points, and whether one more digit could still join them
 */
export function joinedPoints(
  before: string,
  digit: string,
  carries: number,
): { points: string; mayGoOn: boolean } {
  const joined = /^\d+$/.test(before) && before !== '0' ? `${before}${digit}` : digit;
  const points = Number(joined) <= carries ? joined : digit;
  return { points, mayGoOn: points !== '0' && Number(points) * 10 <= carries };
}

/** Half a point more; less again where there is half a point already. Never above what the item carries. */
export function withHalf(points: string, carries: number): string {
  const now = parsePoints(points) ?? 0;
  const isHalf = now % 100 === 50;
  return pointsText(isHalf ? now - 50 : Math.min(100 * carries, now + 50));
}
