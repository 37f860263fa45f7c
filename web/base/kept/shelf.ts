import { ownKey } from '../own';
import type { Shelf, Stored } from './kept';

const isStored = (found: unknown): found is Stored<unknown> =>
  typeof found === 'object' &&
  found !== null &&
  'value' in found &&
  'revision' in found &&
  typeof found.revision === 'number';

/**
 * A place in this device's own storage, of the person whose page this is: the next at the same browser does not find it.
 * A device that is full or forbids it keeps nothing; what is on the page stays on the page.
 */
export function deviceShelf<T>(name: string): Shelf<T> {
  const key = ownKey(name);
  return {
    get() {
      try {
        const found: unknown = JSON.parse(localStorage.getItem(key) ?? 'null');
        return isStored(found) ? (found as Stored<T>) : null;
      } catch {
        return null;
      }
    },
    put(kept) {
      try {
        if (kept) localStorage.setItem(key, JSON.stringify(kept));
        else localStorage.removeItem(key);
      } catch {
        // Said above: nothing to be done about it here.
      }
    },
  };
}

/** A place that lasts as long as the page: for what is not to be kept, such as a rehearsal. */
export function pageShelf<T>(): Shelf<T> {
  let kept: Stored<T> | null = null;
  return { get: () => kept, put: next => void (kept = next) };
}
