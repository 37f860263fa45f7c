import { useEffect, useRef } from 'react';
import type { Contribution } from '@ecoute/contract/discussions';
import { player } from '../../parts/player/usePlayer';
import type { Door } from './endpoints';
import { useContributionsHeardMutation } from './endpoints';

/** Whoever has heard so much of a contribution has heard it. */
const HEARD_SHARE = 0.9;

/** Remembers what is heard, wherever on the page it was begun. */
export function useHearing(
  door: Door,
  releaseId: string,
  contributions: readonly Contribution[],
): (ids: string[]) => void {
  const [tell] = useContributionsHeardMutation();
  const latest = useRef(contributions);
  const told = useRef(new Set<string>());
  useEffect(() => {
    latest.current = contributions;
  });
  const heard = useRef((ids: string[]) => {
    const fresh = ids.filter(id => !told.current.has(id));
    if (fresh.length === 0) return;
    for (const id of fresh) told.current.add(id);
    // Not heard of: asked about again the next time, and until then counted as new.
    void tell({ door, releaseId, ids: fresh })
      .unwrap()
      .catch(() => fresh.forEach(id => told.current.delete(id)));
  });
  useEffect(() => {
    const unheardOf = (voiceId: string | undefined) =>
      latest.current.find(c => voiceId !== undefined && c.voiceId === voiceId && !c.heard);
    const ended = player.onEnd(id => {
      const c = unheardOf(id);
      if (c) heard.current([c.id]);
    });
    const looked = player.subscribe(() => {
      const { track, playing, positionMs } = player.now();
      if (!playing) return;
      const c = unheardOf(track?.id);
      if (c?.durationMs && positionMs >= HEARD_SHARE * c.durationMs) heard.current([c.id]);
    });
    return () => {
      ended();
      looked();
    };
  }, []);
  return heard.current;
}
