import type { Stretch } from '../audio/activity';

/** Words at their times, and what was said besides, as `textHeard` finds them. */
interface Said {
  words: readonly (Stretch | null)[];
  extra: readonly (Stretch & { kind: 'repeat' | 'inserted' })[];
}

/** How far words and sound are the same: of the words, those that were said; of the sound, what is not put in. 0…1 */
export function shareSaid({ words, extra }: Said): number {
  const length = (s: Stretch) => s.endSec - s.startSec;
  const said = words.filter(w => w !== null);
  const saidSec = said.reduce((sum, w) => sum + length(w), 0);
  const putInSec = extra.reduce((sum, e) => sum + (e.kind === 'inserted' ? length(e) : 0), 0);
  return said.length === 0 ? 0 : ((said.length / words.length) * saidSec) / (saidSec + putInSec);
}
