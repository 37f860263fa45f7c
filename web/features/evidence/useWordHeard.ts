import type { Stretch } from '@ecoute/core/audio/activity';
import { usePlayed } from '../../parts/player/usePlayer';

/** The word that is heard now, by its number in the passage; −1 while another sound plays, or none of them is heard. */
export function useWordHeard(takeId: string | null, words: readonly (Stretch | null)[] | null): number {
  return usePlayed(({ track, positionMs }) =>
    track?.id === takeId && words
      ? words.findIndex(w => w && positionMs >= 1000 * w.startSec && positionMs < 1000 * w.endSec)
      : -1,
  );
}
