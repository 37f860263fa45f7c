import type { Contribution, Place } from '@ecoute/contract/discussions';
import type { Delivery } from '../../../parts/recorder/delivery';
import type { Going } from './puttingIn';

/** Something recorded for a discussion that is not in it yet, wherever it is: on this device, on its way, at the server. */
export interface DraftSaid {
  id: string;
  place: Place;
  /** Of this page, or this device: its sound is here. */
  delivery: Delivery | null;
  contribution: Contribution | null;
  /** It is to be put in, and goes as soon as it can. */
  going: Going | null;
}

/**
 * Everything that somebody has recorded for a discussion and not put in, oldest first. What the server shows as put in is
 * none any more, whatever this device still thinks of it.
 * @param runningId what is being recorded just now: it has a place of its own on the page
 */
export function draftsOf(
  releaseId: string,
  contributions: readonly Contribution[],
  deliveries: readonly Delivery[],
  going: readonly Going[],
  runningId: string | null,
): DraftSaid[] {
  const isIn = new Set(contributions.filter(c => c.state !== 'draft').map(c => c.id));
  const drafts = new Map<string, DraftSaid>();
  const at = (id: string, place: Place): DraftSaid => {
    const known = drafts.get(id) ?? { id, place, delivery: null, contribution: null, going: null };
    drafts.set(id, known);
    return known;
  };
  for (const c of contributions)
    if (c.state === 'draft' && c.isMine) {
      const { topicId, parentId, fromMs, toMs, correctsId } = c;
      at(c.id, { topicId, parentId, fromMs, toMs, correctsId }).contribution = c;
    }
  for (const d of deliveries) {
    const where = d.sound.place.discussion;
    if (where?.releaseId === releaseId && d.sound.id !== runningId && !d.sound.letGo && !isIn.has(d.sound.id))
      at(d.sound.id, where.place).delivery = d;
  }
  for (const g of going) if (g.releaseId === releaseId && !isIn.has(g.id)) at(g.id, g.said.place).going = g;
  return [...drafts.values()];
}
