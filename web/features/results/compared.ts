/** What became of a group between two measurements, in words. */
import { percentOf } from '@ecoute/core/scoring/shares';
import { toHundredths } from '@ecoute/core/scoring/points';
import type { Compared, ComparedSide, ComparedSitting } from '@ecoute/contract/results';
import { counted } from '../../parts/counted';

/** So seldom would chance alone bring about as uneven a change. */
const SURE = 0.05;

/** What one sitting came to: its level, its share of points, or that it waits. */
export function cameTo(side: ComparedSide, sitting: ComparedSitting): string {
  if (side.scheme === 'level')
    return sitting.level === null ? 'no level yet' : (side.scale[sitting.level] ?? '');
  if (side.carries === null) return sitting.isMarked ? 'marked' : 'not marked yet';
  return sitting.points === null
    ? 'not marked yet'
    : `${percentOf(toHundredths(sitting.points), toHundredths(side.carries))} %`;
}

/** Probability in words people use; with the figure for whoever wants it. */
function chanceWords(p: number): string {
  if (p < 0.001) return 'less than once in a thousand times';
  const times = Math.round(1 / p);
  return times <= 1 ? 'every time' : `about once in ${times} times`;
}

/** How the group moved, and whether chance alone would do as much. */
export function shiftWords({ shift, before, after }: Compared): string[] {
  if (!shift) {
    return before.scheme === 'level' && after.scheme === 'level'
      ? ['The two have different scales, so levels of one cannot be held against levels of the other.']
      : [
          'The two are scored in different ways, so there is no shift to speak of. Their recordings can be held against each other.',
        ];
  }
  const what = shift.by === 'levels' ? 'level' : 'share of points';
  const measured = shift.up + shift.down + shift.same;
  if (measured === 0) return [`Nobody has a ${what} in both yet.`];
  const moved = `Of ${counted(measured, 'student')} with a ${what} in both, ${shift.up} rose, ${shift.down} fell and ${shift.same} stayed.`;
  if (shift.p === null) return [moved, 'Nobody moved, so there is nothing to test.'];
  const direction =
    shift.rankUp > shift.rankDown ? 'upwards' : shift.rankUp < shift.rankDown ? 'downwards' : null;
  const p = shift.p < 0.001 ? 'p < 0.001' : `p = ${shift.p.toFixed(3)}`;
  const chance = `As uneven a change would come about by chance alone ${chanceWords(shift.p)} (signed ranks, ${p}${shift.isExact ? ', exact' : ''}).`;
  if (shift.p > SURE || direction === null)
    return [
      moved,
      chance,
      `So it cannot be told from chance whether the group as a whole moved${measured < 6 ? '; with fewer than six students it never can' : ''}.`,
    ];
  return [moved, chance, `So the group as a whole very likely moved ${direction}.`];
}

/** Two releases of which the later one measures the same again: by one assessment, a placement first. */
export function likelyPair(
  columns: readonly { releaseId: string; assessmentId: string; startingPoint: string; dueAt: string }[],
): { before: string; after: string } | null {
  const pairs = columns.flatMap((before, i) =>
    columns
      .slice(i + 1)
      .flatMap(after => (after.assessmentId === before.assessmentId ? [{ before, after }] : [])),
  );
  const best = pairs.findLast(p => p.before.startingPoint === 'placement') ?? pairs.at(-1);
  return best ? { before: best.before.releaseId, after: best.after.releaseId } : null;
}
