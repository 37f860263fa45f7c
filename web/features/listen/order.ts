import { isBack } from '@ecoute/core/timing/sittingState';
import type { Lane, ListenView } from '@ecoute/contract/marking';

export type Arrangement = 'item' | 'student';

export const laneKey = (lane: Pick<Lane, 'sittingId' | 'itemId'>) => `${lane.sittingId} ${lane.itemId}`;

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
  const at = all.findIndex(l => laneKey(l) === from);
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
}

/** The check before feedback is given: each sitting that is handed in and not back yet, with what in it is unfinished. */
export function checkFeedback(view: Pick<ListenView, 'content' | 'lanes'>): ToGive[] {
  const needsLevel = view.content.scoring.kind === 'level';
  const bySitting = new Map<string, Lane[]>();
  for (const lane of view.lanes)
    if (!isBack(lane.state) && lane.state !== 'underWay' && !lane.askedAgain)
      bySitting.set(lane.sittingId, [...(bySitting.get(lane.sittingId) ?? []), lane]);
  return [...bySitting].map(([sittingId, own]) => ({
    sittingId,
    studentName: own[0]!.studentName,
    items: own
      .filter(waits)
      .map(l => view.content.items.findIndex(i => i.id === l.itemId) + 1)
      .sort((a, b) => a - b),
    level: needsLevel && own[0]!.level === null,
    feedbackComesAt: own[0]!.feedbackComesAt,
  }));
}

/** Whether nothing in a sitting is unfinished. */
export const isReady = ({ items, level }: ToGive) => items.length === 0 && !level;

/** Length of the answers that still wait. */
export function waitingMs(lanes: readonly Lane[]): number {
  return lanes.filter(waits).reduce((sum, l) => sum + (l.durationMs ?? 0), 0);
}
