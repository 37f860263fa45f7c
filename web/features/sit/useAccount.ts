import { useCallback, useEffect, useRef, useState } from 'react';
import type { ItemEvent } from '@ecoute/core/timing/itemRun';
import { breaksIn } from '@ecoute/core/timing/sittingClock';
import { engineEvents, type SittingEvent, type SittingEventKind } from '@ecoute/contract/sittings';
import { serverNow } from '../../base/clock';
import { useSittingUrl } from './device/device';
import { useRehearsal } from './rehearsal/rehearsal';

const MOST_AT_ONCE = 200;
const key = (sittingId: string) => `ecoute-events-${sittingId}`;

/** What the server has been told of, kept as well: without a network a page knows of the sitting only what it was before. */
const toldKey = (sittingId: string) => `ecoute-told-${sittingId}`;

function kept(name: string): SittingEvent[] {
  try {
    return JSON.parse(localStorage.getItem(name) ?? '[]') as SittingEvent[];
  } catch {
    return [];
  }
}
const unsent = (sittingId: string) => kept(key(sittingId));

/** Marks events as told, so that a reload without a network does not begin them again. */
function nowTold(sittingId: string, sent: readonly SittingEvent[]): void {
  const ids = new Set(sent.map(e => e.id));
  try {
    localStorage.setItem(toldKey(sittingId), JSON.stringify([...kept(toldKey(sittingId)), ...sent]));
  } catch {
    // A full device: the server knows it.
  }
  localStorage.setItem(key(sittingId), JSON.stringify(unsent(sittingId).filter(e => !ids.has(e.id))));
}

/**
 * Sends what this device still has of a sitting's account; of what a page shows just now it sends a part twice, at worst.
 * @returns `later` where nobody answers just now; `refused` where asking again changes nothing
 */
export async function sendAccount(sittingId: string): Promise<'sent' | 'later' | 'refused'> {
  for (let rest = unsent(sittingId); rest.length > 0; rest = unsent(sittingId)) {
    const batch = rest.slice(0, MOST_AT_ONCE);
    const response = await fetch(`/api/sittings/${sittingId}/events`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ events: batch }),
    }).catch(() => null);
    if (!response || response.status >= 500 || [401, 408, 429].includes(response.status)) return 'later';
    if (!response.ok) return 'refused';
    nowTold(sittingId, batch);
  }
  return 'sent';
}

/** The account of a sitting: what happened when. Kept on this device until the server has it; sending twice is harmless. */
export function useAccount(sittingId: string, stored: readonly SittingEvent[]) {
  const rehearsal = useRehearsal();
  const url = useSittingUrl(sittingId);
  const [local, setLocal] = useState<SittingEvent[]>(() =>
    rehearsal
      ? []
      : // One that a crash left in both places happened once.
        [...new Map([...kept(toldKey(sittingId)), ...unsent(sittingId)].map(e => [e.id, e])).values()],
  );
  const pending = useRef<SittingEvent[]>([]);
  const isFirst = useRef(true);
  if (isFirst.current) {
    isFirst.current = false;
    pending.current = rehearsal ? [] : unsent(sittingId);
  }
  const sending = useRef(false);

  const send = useCallback(async () => {
    if (rehearsal || sending.current || pending.current.length === 0) return;
    sending.current = true;
    const batch = pending.current.slice(0, MOST_AT_ONCE);
    try {
      const response = await fetch(`${url}/events`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ events: batch }),
        keepalive: true,
      });
      if (response.ok) {
        pending.current = pending.current.filter(e => !batch.includes(e));
        nowTold(sittingId, batch);
      }
    } catch {
      // No network: the next event, or the network's return, tries again.
    } finally {
      sending.current = false;
    }
  }, [rehearsal, sittingId, url]);

  const add = useCallback(
    (kind: SittingEventKind, itemId: string | null = null, atMs = serverNow()) => {
      const event: SittingEvent = { id: crypto.randomUUID(), itemId, kind, at: new Date(atMs).toISOString() };
      pending.current = [...pending.current, event];
      try {
        if (!rehearsal) localStorage.setItem(key(sittingId), JSON.stringify(pending.current));
      } catch {
        // A full device keeps no account of its own; the server's is the one that counts.
      }
      setLocal(events => [...events, event]);
      void send();
    },
    [rehearsal, send, sittingId],
  );

  useEffect(() => {
    void send();
    const visibility = () => add(document.hidden ? 'pageHidden' : 'pageShown');
    const off = () => add('connectionLost');
    const on = () => {
      add('connectionBack');
      void send();
    };
    document.addEventListener('visibilitychange', visibility);
    window.addEventListener('offline', off);
    window.addEventListener('online', on);
    const timer = setInterval(() => void send(), 5_000);
    return () => {
      document.removeEventListener('visibilitychange', visibility);
      window.removeEventListener('offline', off);
      window.removeEventListener('online', on);
      clearInterval(timer);
    };
  }, [add, send]);

  const known = new Set(stored.map(e => e.id));
  // What the server says itself need not be remembered here.
  const isAllKnown = local.every(e => known.has(e.id));
  useEffect(() => {
    if (isAllKnown) localStorage.removeItem(toldKey(sittingId));
  }, [isAllKnown, sittingId]);
  const all = [...stored, ...local.filter(e => !known.has(e.id))];
  const opened = all.find(e => e.kind === 'itemsOpened');
  return {
    add,
    /** When the items first came into sight, ms since 1970; null before that. */
    openedAtMs: opened ? Date.parse(opened.at) : null,
    /** Breaks of the whole sitting, the last one perhaps still under way. */
    breaks: breaksIn(all.map(e => ({ kind: e.kind, atMs: Date.parse(e.at) }))),
    /** The microphone was taken away in the middle of a recording of this item. */
    deviceFailed: (itemId: string): boolean =>
      all.some(e => e.kind === 'microphoneLost' && e.itemId === itemId),
    /** The item at which a phone records for this sitting; null where none does. */
    phoneAt: phoneAt(all),
    /** A phone has opened this item. */
    isOnPhone: (itemId: string): boolean => all.some(e => e.kind === 'phoneOpened' && e.itemId === itemId),
    /** What the engine needs of one item. */
    ofItem: (itemId: string): ItemEvent[] => engineEvents(all, itemId),
  };
}

/** A phone that has not said for so long where it is has gone. As the server holds it. */
const PHONE_MS = 3 * 3_600_000;

/** Where the phone is by what the account says; null where there is none (any more). */
export function phoneAt(account: readonly SittingEvent[], nowMs = serverNow()): string | null {
  const last = account
    .filter(e => e.kind === 'phoneOpened' || e.kind === 'phoneLeft')
    .reduce<SittingEvent | null>((a, b) => (a && a.at >= b.at ? a : b), null);
  return last?.kind === 'phoneOpened' && nowMs - Date.parse(last.at) < PHONE_MS ? last.itemId : null;
}

export type Account = ReturnType<typeof useAccount>;
