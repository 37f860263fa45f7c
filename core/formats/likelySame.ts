/** Which names are probably the same person’s: people type their own names differently from day to day. */
import { distance } from 'fastest-levenshtein';
import { nameKey } from './roster';

/**
 * Whether two names are probably one person’s: the same but for case, accents and order; a slip of the pen; or one
 * being a part of the other (a given name alone, or with an initial).
 */
export function likelySame(a: string, b: string): boolean {
  const [first, second] = [nameKey(a), nameKey(b)];
  if (first === '' || second === '') return false;
  if (first === second) return true;
  const longest = Math.max(first.length, second.length);
  // One slip in five letters, two in ten; in the shortest names every letter tells people apart.
  if (distance(first, second) <= Math.floor(longest / 5)) return true;
  const [fewer, more] = [first.split(' '), second.split(' ')].sort((x, y) => x.length - y.length) as [
    string[],
    string[],
  ];
  const rest = [...more];
  return (
    fewer.every(word => {
      const at = rest.findIndex(
        w =>
          w === word || (word.length === 1 && w.startsWith(word)) || (w.length === 1 && word.startsWith(w)),
      );
      if (at < 0) return false;
      rest.splice(at, 1);
      return true;
    }) && fewer.some(word => word.length > 1)
  );
}
