/** A student's part in a discussion on one lane: which contribution the lane shows, and what is heard before it. */
import type { Lane, SaidInTalk } from '@ecoute/contract/marking';
import { trackOf } from '../../../parts/player/PlayButton';
import type { InLine } from '../../../parts/player/inTurn';

/** The contribution that a lane shows: the chosen one, or else the first that can be heard, or read. */
export function partOf({ talk }: Pick<Lane, 'talk'>, chosen: string | undefined): SaidInTalk | null {
  if (!talk) return null;
  const { contributions } = talk;
  return (
    contributions.find(c => c.id === chosen) ??
    contributions.find(c => c.takeId !== null) ??
    contributions[0] ??
    null
  );
}

/** A lane as one of its contributions: its sound, words, picture and notes. Others stay as they are. */
export function withPart(lane: Lane, chosen: string | undefined): Lane {
  const part = partOf(lane, chosen);
  if (!part) return lane;
  const isSpoken = part.takeId !== null;
  return {
    ...lane,
    takeId: part.takeId,
    durationMs: part.durationMs,
    medium: part.medium,
    silent: part.silent,
    placed: part.placed,
    title: part.title,
    note: isSpoken ? part.words : '',
    written: isSpoken ? null : part.words,
    pictureId: part.pictureId,
    notes: part.notes,
  };
}

/** The contribution so many further on; null at either end. */
export function nextPart(lane: Lane, chosen: string | undefined, by: number): SaidInTalk | null {
  const all = lane.talk?.contributions ?? [];
  const at = all.findIndex(c => c.id === partOf(lane, chosen)?.id);
  return all[at + by] ?? null;
}

/** What is heard of a contribution in its place: what it replies to (the moment alone, where it names one), then it. */
export function inContext(part: SaidInTalk, studentName: string): InLine[] {
  const { to } = part;
  const before =
    to?.takeId != null
      ? [
          {
            ...trackOf(to.takeId, to.authorName, 'student' as const, to.durationMs),
            ...(to.fromMs !== null && to.toMs !== null && { stretch: { fromMs: to.fromMs, toMs: to.toMs } }),
          },
        ]
      : [];
  const own = part.takeId ? [trackOf(part.takeId, studentName, 'student' as const, part.durationMs)] : [];
  return [...before, ...own];
}
