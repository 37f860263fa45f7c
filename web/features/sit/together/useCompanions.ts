import { useCallback, useMemo, useState } from 'react';
import { deviceShelf, pageShelf } from '../../../base/kept/shelf';

/** Where it is kept on the device, before the sitting and the item: what is untold is told with the hand-in. */
export const TICKED = 'ecoute-ticked-';

/** Who is ticked as being here, and whether the server is still to be told. */
export interface Ticked {
  ids: readonly string[];
  isUntold: boolean;
}

/**
 * Who is ticked at an item, also after a reload; at the next item those of the last. Kept on this device, of this person.
 * @param sittingId null where nobody is asked
 */
export function useCompanions(sittingId: string | null, itemId: string): [Ticked, (next: Ticked) => void] {
  const [own, last] = useMemo(
    () =>
      sittingId === null
        ? [pageShelf<Ticked>(), pageShelf<Ticked>()]
        : [
            deviceShelf<Ticked>(`${TICKED}${sittingId}-${itemId}`),
            deviceShelf<Ticked>(`ecoute-last-ticked-${sittingId}`),
          ],
    [sittingId, itemId],
  );
  const [ticked, setTicked] = useState<Ticked>(
    () => own.get()?.value ?? { ids: last.get()?.value.ids ?? [], isUntold: false },
  );
  const change = useCallback(
    (next: Ticked) => {
      setTicked(next);
      for (const shelf of [own, last]) shelf.put({ value: next, revision: 0 });
    },
    [own, last],
  );
  return [ticked, change];
}
