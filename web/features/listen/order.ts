import type { Lane, ListenView } from '@ecoute/contract/marking';

export type Arrangement = 'item' | 'student';

export const laneKey = (lane: Pick<Lane, 'sittingId' | 'itemId'>) => `${lane.sittingId} ${lane.itemId}`;

/** Whether there is anything to hear or read on a lane. */
export function isAnswered(lane: Pick<Lane, 'takeId' | 'written'>): boolean {
  return lane.takeId !== null || lane.written !== null;
}

/** Whether an answer still asks for the teacher: it is there and its mark is not finished. */
export function waits(lane: Lane): boolean {
  return isAnswered(lane) && !lane.mark?.finished;
}

/** The groups that lanes lie in: one an item (a lane per student), or one a student (a lane per item). */
export function groupsOf(
  view: ListenView,
  arrangement: Arrangement,
): { id: string; name: string; lanes: Lane[] }[] {
  if (arrangement === 'item')
    return view.content.items.flatMap((item, i) =>
      item.answerBy === 'nothing'
        ? []
        : [
            {
              id: item.id,
              name: `Item ${i + 1}`,
              lanes: view.lanes.filter(l => l.itemId === item.id),
            },
          ],
    );
  const sittings = [...new Map(view.lanes.map(l => [l.sittingId, l.studentName]))];
  return sittings.map(([id, name]) => ({ id, name, lanes: view.lanes.filter(l => l.sittingId === id) }));
}

/**
 * The lane to go to when one is finished: the next that waits in the same group, then in the groups after it,
 * then from the beginning; null when nothing waits any more.
 */
export function nextWaiting(groups: { lanes: Lane[] }[], from: string): Lane | null {
  const all = groups.flatMap(g => g.lanes);
  const at = all.findIndex(l => laneKey(l) === from);
  return [...all.slice(at + 1), ...all.slice(0, Math.max(0, at))].find(waits) ?? null;
}

/** Sittings that can go back: handed in, not returned, every answer finished, and a level given where one is due. */
export function returnable(lanes: readonly Lane[], needsLevel = false): string[] {
  const bySitting = new Map<string, Lane[]>();
  for (const lane of lanes) bySitting.set(lane.sittingId, [...(bySitting.get(lane.sittingId) ?? []), lane]);
  return [...bySitting]
    .filter(([, own]) =>
      own.every(l => !waits(l) && l.state !== 'returned' && !(needsLevel && l.level === null)),
    )
    .map(([id]) => id);
}

/** Length of the answers that still wait. */
export function waitingMs(lanes: readonly Lane[]): number {
  return lanes.filter(waits).reduce((sum, l) => sum + (l.durationMs ?? 0), 0);
}
