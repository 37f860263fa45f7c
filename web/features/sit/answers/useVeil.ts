import { useEffect, useRef } from 'react';
import { phaseAt } from '@ecoute/core/timing/itemRun';
import type { Item } from '@ecoute/contract/assessments';
import { isTimed } from '@ecoute/contract/assessment/forStudents';
import type { SittingView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../../base/api';
import { serverNow } from '../../../base/clock';
import { useIsPhone } from '../device/device';
import { useShowItemMutation, useShowOnPhoneMutation } from '../endpoints';
import type { Account } from '../useAccount';
import type { Veil } from './frame';
import type { useItemRun } from './useItemRun';

/**
 * Nothing of an item whose time is part of what is asked before that time begins: the server keeps it back, and once it has
 * shown it, the page covers it until its clock runs.
 */
export function useVeil(
  sitting: SittingView,
  item: Item,
  account: Account,
  hasMicrophone: boolean,
): Veil | null {
  const isPhone = useIsPhone();
  const state = phaseAt(item, account.ofItem(item.id), serverNow());
  const kept = sitting.hidden.find(h => h.itemId === item.id) ?? null;
  const isVeiled =
    kept !== null ||
    (hasMicrophone &&
      isTimed(item) &&
      state.phase === 'ready' &&
      !state.passed &&
      !sitting.takes.some(take => take.itemId === item.id));
  const [showItem, showing] = useShowItemMutation();
  const [showOnPhone, showingOnPhone] = useShowOnPhoneMutation();
  const veil: Veil | null = isVeiled
    ? {
        isVoiced: kept?.isVoiced ?? item.promptRecordingId !== null,
        isHere: kept === null,
        show: () => void (isPhone ? showOnPhone() : showItem({ sittingId: sitting.id, itemId: item.id })),
        isShowing: showing.isLoading || showingOnPhone.isLoading,
        trouble: refusalOf(showing.error) ?? refusalOf(showingOnPhone.error),
      }
    : null;

  // Its clock runs, and it is not here (begun on another device, or the line broke just then): it is fetched.
  const isOverdue = kept !== null && !['ready', 'review'].includes(state.phase);
  useEffect(() => {
    if (isOverdue) veil?.show();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each time
  }, [isOverdue]);
  return veil;
}

/** What begins an item: its prompt, or its time to prepare, as soon as what is asked is here. */
export function useBegin(run: ReturnType<typeof useItemRun>, item: Item, veil: Veil | null): () => void {
  const begins = useRef(false);
  const start = () => (item.promptRecordingId ? void run.hearPrompt() : run.beginPrepare());
  // Its time begins as soon as it is here, and not before.
  const isHere = veil?.isHere ?? true;
  useEffect(() => {
    if (!isHere || !begins.current) return;
    begins.current = false;
    start();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when it has come
  }, [isHere]);
  // What could not be had is begun by another press, and not when it comes.
  const notShown = veil?.trouble ?? null;
  useEffect(() => {
    if (notShown) begins.current = false;
  }, [notShown]);
  return () => {
    if (!veil || veil.isHere) return start();
    begins.current = true;
    veil.show();
  };
}
