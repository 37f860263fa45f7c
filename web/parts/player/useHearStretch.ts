import { useEffect, useState } from 'react';
import type { Track } from './player';
import { player, usePlayer } from './usePlayer';

/**
 * Hears a stretch of a sound, as it would be after a cut: from its beginning to its end, where it stops.
 * @param stretch in ms of the sound; may move while it is heard
 * @returns `hear` begins it anew; `listen` goes on from where the sound is, past the stretch; `stop`; where the sound is
 * (null while another one is present), and whether it plays
 */
export function useHearStretch(
  track: Track,
  { fromMs, toMs }: { fromMs: number; toMs: number },
): {
  hear: () => void;
  listen: () => void;
  stop: () => void;
  positionMs: number | null;
  playing: boolean;
} {
  const [hearing, setHearing] = useState(false);
  const state = usePlayer();
  const here = state.track?.id === track.id;
  const positionMs = here ? state.positionMs : null;
  useEffect(() => {
    if (!hearing || positionMs === null || positionMs < toMs) return;
    player.pause();
    setHearing(false);
  }, [hearing, positionMs, toMs]);
  return {
    hear() {
      player.load(track);
      player.seek(fromMs);
      setHearing(true);
      void player.play();
    },
    listen() {
      setHearing(false);
      void player.play(track);
    },
    stop() {
      setHearing(false);
      player.pause();
    },
    positionMs,
    playing: state.playing && here,
  };
}
