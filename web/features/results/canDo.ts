/** What recordings show of a statement, in a few words. */
import { percentOf } from '@ecoute/core/scoring/shares';
import { toHundredths } from '@ecoute/core/scoring/points';
import type { Shown } from '@ecoute/contract/results';

/** What one answer shows: its share of points, its level, done or not. */
export function shownWords(one: Shown): string {
  if (one.level !== null) return one.level;
  if (one.scheme === 'done') return one.points ? 'done' : 'not done';
  if (one.points !== null && one.carries > 0)
    return `${percentOf(toHundredths(one.points), toHundredths(one.carries))} %`;
  return 'heard';
}

/**
 * What several show together, each kind by itself: the highest level, for whoever reached it once can; the share of all
 * points; how often it was done. Where levels are of several scales, the latest stands for them.
 */
export function togetherWords(all: readonly Shown[]): string {
  const parts: string[] = [];
  const levels = all.filter(s => s.levelPlace !== null);
  if (levels.length > 0) {
    const highest = levels.reduce((best, s) => (s.levelPlace! > best.levelPlace! ? s : best));
    const isOneScale = levels.every(s => s.levelPlace !== highest.levelPlace || s.level === highest.level);
    parts.push((isOneScale ? highest : levels.at(-1)!).level ?? '');
  }
  const scored = all.filter(s => s.points !== null && s.carries > 0);
  if (scored.length > 0) {
    const sum = (of: (s: Shown) => number) => scored.reduce((total, s) => total + toHundredths(of(s)), 0);
    parts.push(
      `${percentOf(
        sum(s => s.points!),
        sum(s => s.carries),
      )} %`,
    );
  }
  const done = all.filter(s => s.scheme === 'done');
  if (done.length > 0) parts.push(`${done.filter(s => s.points).length} of ${done.length} done`);
  return parts.length > 0 ? parts.join(' · ') : all.length > 0 ? 'heard' : '';
}
