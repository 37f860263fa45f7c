import { phaseAt } from '@ecoute/core/timing/itemRun';
import type { SittingView } from '@ecoute/contract/sittings';
import { serverNow } from '../../base/clock';
import type { Delivery } from '../../parts/recorder/delivery';
import { counting, takesOf } from './takes/takesOf';
import type { Account } from './useAccount';

/** True for an item that is not to be recorded again, where others are. */
export function stands({ openItemIds }: Pick<SittingView, 'openItemIds'>, itemId: string): boolean {
  return openItemIds !== null && !openItemIds.includes(itemId);
}

/** Items with an answer, wherever it is by now: with the server, or still on this device. A pass counts. */
export function answeredIds(
  sitting: SittingView,
  deliveries: readonly Delivery[],
  account: Account,
): Set<string> {
  return new Set(
    sitting.content.items
      .filter(item => {
        // It stands as it was, with or without an answer.
        if (stands(sitting, item.id)) return true;
        if (sitting.written.some(w => w.itemId === item.id)) return true;
        const state = phaseAt(item, account.ofItem(item.id), serverNow());
        if (state.passed || state.studied) return true;
        const takes = takesOf(item.id, sitting, deliveries);
        // Also one that this page has not taken up yet: after a crash the server may know of it first.
        return (
          counting(takes) !== null ||
          takes.some(t => t.local || t.status === 'onItsWay' || t.status === 'checking')
        );
      })
      .map(i => i.id),
  );
}

/** Items of which there are takes, and none that the server took: what looks like an answer is on this device alone. */
export function notTakenIds(sitting: SittingView, deliveries: readonly Delivery[]): Set<string> {
  return new Set(
    sitting.content.items
      .filter(item => {
        const takes = takesOf(item.id, sitting, deliveries);
        return !stands(sitting, item.id) && takes.length > 0 && takes.every(t => t.status === 'refused');
      })
      .map(i => i.id),
  );
}
