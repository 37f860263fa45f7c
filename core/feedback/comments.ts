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

/** What somebody is called in a comment: the first of their names. */
export function firstName(displayName: string): string {
  return displayName.trim().split(/\s+/)[0] ?? '';
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

export interface BankRow {
  topic: string;
  words: string;
  link: string;
}

/** What the columns of a comment bank's CSV are called, in the order in which they are written. */
export const BANK_COLUMNS = ['topic', 'comment', 'link', 'used'] as const;

/**
 * Comments from the rows of a CSV. A first row that names the columns is read as such, in any order; without one the
 * columns are topic, comment, link.
 * @returns the comments and what could not be read, by row number from 1
 */
export function bankRows(
  rows: readonly (readonly string[])[],
  longest: number,
): { rows: BankRow[]; problems: { row: number; problem: string }[] } {
  const head = rows[0]?.map(c => plain(c.trim())) ?? [];
  const named = head.includes('comment');
  const at = (name: 'topic' | 'comment' | 'link', place: number) => (named ? head.indexOf(name) : place);
  const [topic, words, link] = [at('topic', 0), at('comment', 1), at('link', 2)];
  const found: BankRow[] = [];
  const problems: { row: number; problem: string }[] = [];
  rows.slice(named ? 1 : 0).forEach((cells, i) => {
    const row = i + (named ? 2 : 1);
    // What was written so that no spreadsheet reckons it out is read as it was.
    const cell = (n: number) => (n < 0 ? '' : (cells[n] ?? '').trim().replace(/^'(?=[=+\-@])/, ''));
    if (cells.every(c => c.trim() === '')) return;
    if (cell(words) === '') problems.push({ row, problem: 'There is no comment in this row.' });
    else if (cell(words).length > longest)
      problems.push({ row, problem: `This comment has more than ${longest} characters.` });
    else if (cell(link) !== '' && !isLink(cell(link)))
      problems.push({ row, problem: `“${cell(link)}” is not the address of a page (https://…).` });
    else found.push({ topic: cell(topic) || 'Comments', words: cell(words), link: cell(link) });
  });
  return { rows: found, problems };
}
