import { useEffect, useState, useSyncExternalStore } from 'react';
import { ownKey } from '../own';
import type { Kept, KeptView, Shelf } from './kept';
import { deviceShelf, pageShelf } from './shelf';

/** Whatever is built around something kept. */
export interface Keeps<T, A extends string> {
  kept: Kept<T, A>;
}

/** What pages show or have left unsent, by its name on the device: who comes back finds the one that still tries. */
const alive = new Map<string, Keeps<unknown, string>>();

/** Sends what any page of this tab left unsent. @returns whether all of it is with the server */
export async function allKept(): Promise<boolean> {
  const sent = await Promise.all([...alive.values()].map(k => k.kept.flush()));
  return sent.every(Boolean);
}

function enter<T, A extends string, K extends Keeps<T, A>>(
  name: string | null,
  make: (shelf: Shelf<T>) => K,
): { name: string | null; key: string; keeps: K } {
  if (name === null) return { name, key: '', keeps: make(pageShelf()) };
  const key = ownKey(name);
  const there = alive.get(key) as K | undefined;
  return { name, key, keeps: there?.kept.isUnsent ? there : make(deviceShelf(name)) };
}

/** Something typed on this page, where nothing is built around it. See `useKeeper`. */
export function useKept<T>(name: string | null, make: (shelf: Shelf<T>) => Kept<T>): [KeptView<T>, Kept<T>] {
  const [view, { kept }] = useKeeper<T, never, Keeps<T, never>>(name, shelf => ({ kept: make(shelf) }));
  return [view, kept];
}

/**
 * Something typed on this page, kept and sent as `Kept` does. It goes out when the page is left, when it is put aside, and
 * when the network is back; what cannot go out goes on trying after the page was left.
 * @param name where it is kept on the device; null for what is not to outlive the page
 * @param make makes it, once for each name
 */
export function useKeeper<T, A extends string, K extends Keeps<T, A>>(
  name: string | null,
  make: (shelf: Shelf<T>) => K,
): [KeptView<T>, K] {
  const [entered, setEntered] = useState(() => enter<T, A, K>(name, make));
  let current = entered;
  if (entered.name !== name) {
    current = enter<T, A, K>(name, make);
    setEntered(current);
  }
  const { key, keeps } = current;
  const { kept } = keeps;
  useEffect(() => {
    const nudge = () => kept.nudge();
    if (key) alive.set(key, keeps as unknown as Keeps<unknown, string>);
    nudge();
    document.addEventListener('visibilitychange', nudge);
    window.addEventListener('online', nudge);
    return () => {
      document.removeEventListener('visibilitychange', nudge);
      window.removeEventListener('online', nudge);
      nudge();
      if (!kept.isUnsent) alive.delete(key);
    };
  }, [key, keeps, kept]);
  return [useSyncExternalStore(kept.subscribe, kept.now), keeps];
}
