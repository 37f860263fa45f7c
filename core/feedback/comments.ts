/** Finding, filling in and exchanging the comments of a comment bank. */

export interface Findable {
  id: string;
  words: string;
  topic: string;
  used: number;
}

/** Letters without their accents and case, so that “pronunciation” finds “Pronúnciation”. */
function plain(text: string): string {
  return text.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase();
}

/**
 * Comments that hold every word typed, at the beginning of a word of theirs or of their topic; those that begin with what
 * was typed first, then those used most. Nothing typed finds all, in the order given.
 */
export function findComments<T extends Findable>(comments: readonly T[], typed: string, most = 8): T[] {
  const wanted = plain(typed).split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return comments.slice(0, most);
  return comments
    .map(comment => {
      const words = plain(comment.words);
      const parts = `${words} ${plain(comment.topic)}`.split(/[^\p{L}\p{N}]+/u);
      const holds = wanted.every(w => parts.some(p => p.startsWith(w)));
      return { comment, holds, begins: words.startsWith(wanted.join(' ')) };
    })
    .filter(f => f.holds)
    .sort((a, b) => Number(b.begins) - Number(a.begins) || b.comment.used - a.comment.used)
    .slice(0, most)
    .map(f => f.comment);
}

/**
 * Fills in what stands in braces.
 * @param values by placeholder; null leaves it as it is (a name that is hidden for now)
 */
export function filledIn(words: string, values: Record<'name' | 'time', string | null>): string {
  return words.replace(/\{(name|time)\}/gi, (whole, key: string) => {
    return values[key.toLowerCase() as 'name' | 'time'] ?? whole;
  });
}

/** Scripts in which the family name comes first: the first word alone would be rude. */
const FAMILY_FIRST = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]/u;

/**
 * What somebody is called in a comment.
 * @param called as they wish, or as their teacher put it; without it the first of their names, or the whole name where it is
 *   written with the family name first. No rule finds the given name in every language, hence the wish.
 */
export function calledName(displayName: string, called: string | null): string {
  const name = displayName.trim();
  if (called?.trim()) return called.trim();
  return FAMILY_FIRST.test(name) ? name : (name.split(/\s+/)[0] ?? '');
}

/** A comment as it goes into the bank: what its student is called is a placeholder again, wherever it is a word of its own. */
export function forBank(words: string, called: string | null): string {
  const said = words.trim();
  if (!called) return said;
  const literal = called.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  return said.replace(new RegExp(`(?<![\\p{L}\\p{N}])${literal}(?![\\p{L}\\p{N}])`, 'gu'), '{name}');
}

/** A comment put behind what is written already: on a line of its own. */
export function putBehind(written: string, comment: string): string {
  const before = written.trimEnd();
  return before === '' ? comment : `${before}\n${comment}`;
}

/** Whether a link can be followed: https or http, nothing else (a script in a link is a hole). */
export function isLink(text: string): boolean {
  try {
    return ['http:', 'https:'].includes(new URL(text).protocol);
  } catch {
    return false;
  }
}

/** A text cut at its links, for showing them as such: nothing in it is ever read as markup. */
export function linksIn(text: string): { text: string; isLink: boolean }[] {
  const parts: { text: string; isLink: boolean }[] = [];
  let at = 0;
  for (const match of text.matchAll(/https?:\/\/[^\s<>"“”]+[^\s<>"“”.,;:!?)\]]/gi)) {
    if (!isLink(match[0])) continue;
    if (match.index > at) parts.push({ text: text.slice(at, match.index), isLink: false });
    parts.push({ text: match[0], isLink: true });
    at = match.index + match[0].length;
  }
  if (at < text.length) parts.push({ text: text.slice(at), isLink: false });
  return parts;
}
