import { phaseAt, type ItemPolicy } from '@ecoute/core/timing/itemRun';
import { engineEvents, type SittingEvent } from '@ecoute/contract/sittings';
import type { LiveView } from '@ecoute/contract/releases';

/** Without a word from the page for so long, somebody counts as away. Recordings of this length are rare. */
const SILENT_MS = 20 * 60_000;

/**
 * What a student does just now.
 * @param items  of the version that is sat
 * @param events the account of the sitting that is under way, in order of time
 */
export function liveFrom(
  items: readonly (ItemPolicy & { id: string })[],
  events: readonly SittingEvent[],
  nowMs: number,
): LiveView | null {
  const last = events.at(-1);
  if (!last) return null;
  const current = [...events].reverse().find(e => e.itemId && items.some(i => i.id === e.itemId));
  const index = current ? items.findIndex(i => i.id === current.itemId) : -1;
  const item = items[index];
  const page = [...events]
    .reverse()
    .find(e => e.kind === 'pageHidden' || e.kind === 'pageShown' || e.kind === 'resumed');
  return {
    itemNumber: item ? index + 1 : null,
    phase: item ? phaseAt(item, engineEvents(events, item.id), nowMs).phase : null,
    sinceAt: last.at,
    here: page?.kind !== 'pageHidden' && nowMs - Date.parse(last.at) < SILENT_MS,
  };
}
