import { useEffect } from 'react';
import { player, usePlayed } from './usePlayer';

const MATCHES = 'ecoute-level-matched';

/** Quiet recordings are brought to the level of the others while somebody listens here, unless they say otherwise. */
export function useMatchedLevels(): [boolean, (matches: boolean) => void] {
  const matches = usePlayed(state => state.matches);
  useEffect(() => {
    player.setMatches(localStorage.getItem(MATCHES) !== 'no');
    return () => player.setMatches(false);
  }, []);
  return [
    matches,
    next => {
      localStorage.setItem(MATCHES, next ? 'yes' : 'no');
      player.setMatches(next);
    },
  ];
}
