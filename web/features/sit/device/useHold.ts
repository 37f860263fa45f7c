import { useCallback, useEffect, useRef, useState } from 'react';
import type { Hold } from '@ecoute/contract/sittings';
import { deviceId } from './device';

/** As the server expects it: a device that is silent for three of these is taken for gone. */
const SAY_EVERY_MS = 20_000;

export type Held =
  | { state: 'asking' }
  | { state: 'mine' }
  /** Open in another tab of this browser. */
  | { state: 'otherTab' }
  /** Open on another device, last seen at an instant. */
  | { state: 'otherDevice'; seenAt: string };

/**
 * Keeps a sitting on one device and in one tab. Whoever comes second is told, and may take it over; the first then
 * learns of it. Without network this browser goes on: nothing of it can be lost.
 * @param begun what the server said of this browser when the sitting was begun; null where it was not asked
 */
export function useHold(
  sittingId: string,
  isOpen: boolean,
  begun: Hold | null,
): { held: Held; takeOver: () => void } {
  const [held, setHeld] = useState<Held>({ state: 'asking' });
  /** Counts up with each wish to take over. */
  const [wish, setWish] = useState(0);
  /** Said once: it is asked anew from then on. */
  const said = useRef(begun);

  useEffect(() => {
    if (!isOpen) return;
    let over = false;
    let free: (() => void) | null = null;
    let timer: ReturnType<typeof setInterval> | null = null;
    let mine = false;
    // Whoever goes on elsewhere in a minute need not be told of a page that is closed.
    const leave = () => {
      if (!mine) return;
      mine = false;
      void fetch(`/api/sittings/${sittingId}/hold`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ deviceId: deviceId(), takeOver: false, leaves: true }),
        keepalive: true,
      }).catch(() => undefined);
    };
    window.addEventListener('pagehide', leave);
    const learn = (hold: Hold | null) => {
      mine = hold?.held ?? false;
      if (hold && !hold.held) setHeld({ state: 'otherDevice', seenAt: hold.otherSeenAt! });
      else setHeld({ state: 'mine' });
    };
    const say = async (takeOver: boolean) => {
      try {
        const response = await fetch(`/api/sittings/${sittingId}/hold`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ deviceId: deviceId(), takeOver }),
        });
        if (!over) learn(response.ok ? ((await response.json()) as Hold) : null);
      } catch {
        if (!over) setHeld({ state: 'mine' });
      }
    };
    void navigator.locks
      .request(`ecoute-sitting-${sittingId}`, wish > 0 ? { steal: true } : { ifAvailable: true }, lock => {
        if (over) return undefined;
        if (!lock) {
          setHeld({ state: 'otherTab' });
          return undefined;
        }
        if (said.current) learn(said.current);
        else void say(wish > 0);
        said.current = null;
        timer = setInterval(() => void say(false), SAY_EVERY_MS);
        return new Promise<void>(resolve => (free = resolve));
      })
      // Taken over by another tab of this browser.
      .catch(() => {
        // The other tab of this browser holds it now, by the same device's id.
        mine = false;
        if (timer) clearInterval(timer);
        if (!over) setHeld({ state: 'otherTab' });
      });
    return () => {
      over = true;
      if (timer) clearInterval(timer);
      window.removeEventListener('pagehide', leave);
      leave();
      free?.();
    };
  }, [isOpen, sittingId, wish]);

  const takeOver = useCallback(() => {
    setHeld({ state: 'asking' });
    setWish(n => n + 1);
  }, []);
  return { held, takeOver };
}
