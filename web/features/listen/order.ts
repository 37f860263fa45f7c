import { isBack } from '@ecoute/core/timing/sittingState';
import { pointsText, toHundredths, totalOf } from '@ecoute/core/scoring/points';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { Lane, ListenView } from '@ecoute/contract/marking';

export type Arrangement = 'item' | 'student';

export const laneKey = (lane: Pick<Lane, 'sittingId' | 'itemId'>) => `${lane.sittingId} ${lane.itemId}`;

/** Tells the lane with a key from others, thousands of them: without a key of each. */
export function isLaneOf(key: string | null): (lane: Lane) => boolean {
  const [sittingId, itemId] = (key ?? '').split(' ');
  return lane => lane.sittingId === sittingId && lane.itemId === itemId;
}

/** Whether there is anything to hear or read on a lane. */
export function isAnswered(lane: Pick<Lane, 'takeId' | 'written'>): boolean {
  return lane.takeId !== null || lane.written !== null;
}

/**
 * Whether an answer still asks for the teacher: it is handed in and its mark is not finished. What is to be recorded again waits
 * for its student; who is excused need not have done it.
 */
export function waits(lane: Lane): boolean {
  return (
    isAnswered(lane) && !lane.mark?.finished && lane.state !== 'underWay' && !lane.askedAgain && !lane.excused
  );
}

/** The groups that lanes lie in: one an item (a lane per student), or one a student (a lane per item). */
export function groupsOf(
  view: ListenView,
  arrangement: Arrangement,
  shows: (lane: Lane) => boolean = () => true,
): { id: string; name: string; lanes: Lane[] }[] {
  const shown = view.lanes.filter(shows);
  if (arrangement === 'item')
    return view.content.items.flatMap((item, i) =>
      item.answerBy === 'nothing'
        ? []
        : [
            {
              id: item.id,
              name: `Item ${i + 1}`,
              lanes: shown.filter(l => l.itemId === item.id),
            },
          ],
    );
  const sittings = [...new Map(shown.map(l => [l.sittingId, l.studentName]))];
  return sittings.map(([id, name]) => ({ id, name, lanes: shown.filter(l => l.sittingId === id) }));
}

/**
 * The lane to go to when one is finished: the next that waits in the same group, then in the groups after it,
 * then from the beginning; null when nothing waits any more.
 * @param isOne which of them it may be
 */
export function nextWaiting(
  groups: { lanes: Lane[] }[],
  from: string,
  isOne: (lane: Lane) => boolean = () => true,
): Lane | null {
  const all = groups.flatMap(g => g.lanes);
  const at = all.findIndex(isLaneOf(from));
  return [...all.slice(at + 1), ...all.slice(0, Math.max(0, at))].find(l => waits(l) && isOne(l)) ?? null;
}

/** What there is to say of a sitting before its feedback is given. */
export interface ToGive {
  sittingId: string;
  studentName: string;
  /** Numbers of the items that are not finished, from 1. */
  items: number[];
  /** No overall level yet, where one is due. */
  level: boolean;
  /** When it has its feedback automatically. */
  feedbackComesAt: string | null;
  /** What it adds up to, or its level; empty where it adds up to nothing. */
  total: string;
}

/** The check before feedback is given: each sitting that is handed in and not back yet, with what in it is unfinished. */
export function checkFeedback(view: Pick<ListenView, 'content' | 'lanes'>): ToGive[] {
  const needsLevel = view.content.scoring.kind === 'level';
  const bySitting = new Map<string, Lane[]>();
  for (const lane of view.lanes) {
    if (isBack(lane.state) || lane.state === 'underWay' || lane.askedAgain) continue;
    const own = bySitting.get(lane.sittingId);
    if (own) own.push(lane);
    else bySitting.set(lane.sittingId, [lane]);
  }
  return [...bySitting].map(([sittingId, own]) => ({
    sittingId,
    studentName: own[0]!.studentName,
    items: own
      .filter(waits)
      .map(l => view.content.items.findIndex(i => i.id === l.itemId) + 1)
      .sort((a, b) => a - b),
    level: needsLevel && own[0]!.level === null,
    feedbackComesAt: own[0]!.feedbackComesAt,
    total: totalWords(view.content, own),
  }));
}

/**
 * What a sitting adds up to: points of what is finished, of those that can be had; or its level.
 * @param own its lanes
 * @returns in words; empty where items carry nothing, or nothing is given yet
 */
export function totalWords(content: AssessmentContent, own: readonly Lane[]): string {
  const { kind, scale } = content.scoring;
  if (kind === 'level') return scale[own[0]?.level ?? -1]?.name ?? '';
  if (!isNumbered(kind)) return '';
  const total = totalOf(
    content.items.map(item => {
      const lane = own.find(l => l.itemId === item.id);
      const points = lane?.mark?.finished ? lane.mark.points : null;
      return {
        maximum: toHundredths(carriedBy(content, item)),
        // Without an answer it is none of its points.
        given: points !== null ? toHundredths(points) : lane && waits(lane) ? null : 0,
      };
    }),
  );
  if (!total.scored || total.unmarked === own.length) return '';
  const words = `${pointsText(total.given)} / ${pointsText(total.maximum)}`;
  return total.unmarked === 0 ? words : `${words} so far`;
}

/** Whether nothing in a sitting is unfinished. */
export const isReady = ({ items, level }: ToGive) => items.length === 0 && !level;

/** Length of the answers that still wait. */
export function waitingMs(lanes: readonly Lane[]): number {
  return lanes.filter(waits).reduce((sum, l) => sum + (l.talk?.given.spokenMs ?? l.durationMs ?? 0), 0);
}
