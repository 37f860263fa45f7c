import { useSyncExternalStore } from 'react';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { ownKey, pagePerson } from '../../../base/own';
import { serverNow } from '../../../base/clock';
import { allKept } from '../../../base/kept/useKept';
import { deviceShelf } from '../../../base/kept/shelf';
import { refusalOf, type Refusal } from '../../../base/refusal';
import { store } from '../../../base/store';
import { desk } from '../../../parts/recorder/delivery';
import { soundsOf } from '../../../parts/recorder/soundStore';
import { deviceId } from '../device/device';
import { sitApi } from '../endpoints';
import { togetherApi } from '../together/endpoints';
import { TICKED, type Ticked } from '../together/useCompanions';
import { sendAccount } from '../useAccount';
import { HandInWishes, type HandInWish } from './wishes';

const NAME = 'ecoute-hand-in-wishes';
const AWAY: Refusal = { status: 0, code: 'unfinished', message: '' };

/** What is left on the device of words that no page shows: `[item, text]` of names that begin so. */
function leftOver<T>(start: string): [itemId: string, name: string, value: T, revision: number][] {
  const end = ownKey('');
  return Object.keys(localStorage)
    .filter(key => key.startsWith(start) && key.endsWith(end))
    .flatMap(key => {
      const name = key.slice(0, -end.length);
      const left = deviceShelf<T>(name).get();
      return left ? [[name.slice(start.length), name, left.value, left.revision]] : [];
    });
}

async function sendWords(sittingId: string): Promise<void> {
  await sendTicked(sittingId);
  // What a page shows sends itself. What stays after that cannot be sent just now, or not as it is: asking says which.
  await allKept();
  for (const [itemId, name, text, revision] of leftOver<string>(`ecoute-written-${sittingId}-`)) {
    await store
      .dispatch(sitApi.endpoints.writeAnswer.initiate({ sittingId, itemId, text, revision }))
      .unwrap();
    deviceShelf(name).put(null);
  }
  for (const [itemId, name, judgement] of leftOver<never>(`ecoute-judgement-${sittingId}-`)) {
    await store.dispatch(sitApi.endpoints.judge.initiate({ sittingId, itemId, judgement })).unwrap();
    deviceShelf(name).put(null);
  }
}

/** Who was ticked as being heard in a recording, faster than that could be told. */
async function sendTicked(sittingId: string): Promise<void> {
  for (const [itemId, name, ticked, revision] of leftOver<Ticked>(`${TICKED}${sittingId}-`)) {
    if (!ticked.isUntold) continue;
    const { takes } = await store
      .dispatch(sitApi.endpoints.sitting.initiate(sittingId, { subscribe: false, forceRefetch: true }))
      .unwrap();
    const own = takes.filter(t => t.itemId === itemId && (t.together?.isLead ?? true));
    const counts = countingTake(
      own.map(t => ({
        ...t,
        chosenAtMs: t.chosenAt ? Date.parse(t.chosenAt) : null,
        stands: t.recording.state === 'stored',
      })),
    );
    if (counts)
      await store
        .dispatch(
          togetherApi.endpoints.setCompanions.initiate({
            sittingId,
            takeId: counts.id,
            personIds: [...ticked.ids],
          }),
        )
        .unwrap()
        .catch((error: unknown) => {
          // Handed in elsewhere, or no longer to be told: it stands in nobody's way.
          const status = refusalOf(error)?.status ?? 0;
          if (status < 400 || status >= 500 || [401, 408, 423, 429].includes(status)) throw error;
        });
    deviceShelf<Ticked>(name).put({ value: { ...ticked, isUntold: false }, revision });
  }
}

/** The hand-ins that this device still owes the person whose page it is. */
export const handInDesk = new HandInWishes({
  shelf: {
    get: () => {
      try {
        const found: unknown = JSON.parse(localStorage.getItem(ownKey(NAME)) ?? '[]');
        return Array.isArray(found) ? (found as HandInWish[]) : [];
      } catch {
        return [];
      }
    },
    put: wishes => {
      try {
        if (wishes.length > 0) localStorage.setItem(ownKey(NAME), JSON.stringify(wishes));
        else localStorage.removeItem(ownKey(NAME));
      } catch {
        // A full device keeps it as long as the page is open, and the page says which it is.
      }
    },
  },
  soundsOf: async sittingId => {
    // What another tab sends is in the device's store, what the device had no room for is on this page.
    const kept = (await soundsOf(pagePerson()).catch(() => [])).filter(
      s => s.place.sittingId === sittingId && s.place.itemId !== undefined && !s.letGo,
    );
    const here = desk.all().filter(d => d.sound.place.sittingId === sittingId);
    const refusedIds = [
      ...new Set([
        ...kept.filter(s => s.refusal !== null).map(s => s.id),
        ...here.filter(d => d.state === 'kept').map(d => d.sound.id),
      ]),
    ];
    const coming = new Set([
      ...kept.map(s => s.id),
      ...here.filter(d => d.state !== 'delivered' && d.state !== 'rehearsed').map(d => d.sound.id),
    ]);
    for (const id of refusedIds) coming.delete(id);
    return { coming: coming.size, refusedIds };
  },
  sendRest: async sittingId => {
    await sendWords(sittingId);
    if ((await sendAccount(sittingId)) === 'later') throw AWAY;
  },
  handIn: ({ sittingId, withGaps, asTheyCame, at }) =>
    store
      .dispatch(
        sitApi.endpoints.handIn.initiate({
          sittingId,
          withGaps,
          ...(asTheyCame && { asTheyCame }),
          wish: { at, deviceId: deviceId() },
        }),
      )
      .unwrap(),
  now: serverNow,
});
/** The wish of this device for a sitting, live; null when there is none. */
export function useHandInWish(sittingId: string): HandInWish | null {
  const { wishes } = useSyncExternalStore(handInDesk.subscribe, handInDesk.now);
  return wishes.find(w => w.sittingId === sittingId) ?? null;
}
