import { useEffect, useState, useSyncExternalStore } from 'react';
import type { Peaks } from '@ecoute/core/audio/peaks';
import { Player, type PlayerState } from './player';

/** What sounds, and what films are seen on: one element that moves to where its film is shown. */
export const playing = document.createElement('video');
playing.playsInline = true;
playing.className = 'size-full bg-[#000] object-contain';

/** Where the element is while no film is shown: in the page, for taking it out would pause it. */
const parked = document.body.appendChild(document.createElement('div'));
parked.hidden = true;

/** Takes the element out of the place of a film; what sounds goes on. */
export function park(): void {
  parked.appendChild(playing);
}
park();

export const player = new Player(playing);

export function usePlayer(): PlayerState {
  return useSyncExternalStore(player.subscribe, player.now);
}

/** The position in one sound, at the screen's rate while it plays; null while another is the present one. */
export function usePositionOf(id: string | null): number | null {
  const state = usePlayer();
  return id !== null && state.track?.id === id ? state.positionMs : null;
}

const known = new Map<string, Promise<Peaks>>();

/**
 * The stored peaks of a recording; asked for once. They may not be there yet: then it is tried again.
 * @param lengthMs of what is heard of it: a take that was cut has other peaks than before
 */
export function fetchPeaks(id: string, lengthMs: number | null = null): Promise<Peaks> {
  const url = `/api/recordings/${id}/peaks${lengthMs === null ? '' : `?ms=${Math.round(lengthMs)}`}`;
  const asked =
    known.get(url) ??
    fetch(url).then(async response => {
      if (!response.ok) throw new Error(`HTTP ${response.status}`);
      return (await response.json()) as Peaks;
    });
  known.set(url, asked);
  asked.catch(() => known.delete(url));
  return asked;
}

export function usePeaks(id: string | null, lengthMs: number | null = null): Peaks | null {
  const [loaded, setLoaded] = useState<{ id: string; peaks: Peaks } | null>(null);
  useEffect(() => {
    if (!id) return;
    let current = true;
    let timer: ReturnType<typeof setTimeout>;
    const ask = (n: number) =>
      fetchPeaks(id, lengthMs)
        .then(peaks => current && setLoaded({ id, peaks }))
        .catch(() => {
          if (current && n < 20) timer = setTimeout(() => ask(n + 1), 1_500);
        });
    ask(0);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [id, lengthMs]);
  return loaded && loaded.id === id ? loaded.peaks : null;
}
