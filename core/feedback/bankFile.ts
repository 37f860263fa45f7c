/** A comment bank as CSV: writing it, reading it, and what reading it into a bank does. */
import { isLink } from './comments';

/** A comment of a file. */
export interface BankRow {
  topic: string;
  words: string;
  link: string;
  /** Small praise, and not a comment. */
  praise: boolean;
  /** Name of the department it belongs to; empty for one’s own. */
  department: string;
  /** Id of the clip that goes with it; empty without one. */
  clip: string;
  /** How often it was put in. */
  used: number;
}

/** What the columns of a comment bank's CSV are called, in the order in which they are written. */
export const BANK_COLUMNS = ['topic', 'comment', 'link', 'kind', 'department', 'clip', 'used'] as const;

/** What a spreadsheet would reckon out, or take for so written: it goes out behind an apostrophe, which reading takes off. */
export const RECKONED = /^(?:[=+\-@]|'(?=[=+\-@'])).*$/s;

/** A row as it is written, in the order of `BANK_COLUMNS`. */
export function cellsOf(row: BankRow): (string | number)[] {
  const kind = row.praise ? 'praise' : 'comment';
  return [row.topic, row.words, row.link, kind, row.department, row.clip, row.used];
}

function plain(text: string): string {
  return text.trim().normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
}

/**
 * Comments from the rows of a CSV. A first row that names the columns is read as such, in any order; without one the
 * columns are topic, comment, link.
 * @param longest most characters of a comment, and of praise
 * @returns the comments and what could not be read, by row number from 1
 */
export function bankRows(
  rows: readonly (readonly string[])[],
  longest: { comment: number; praise: number },
): { rows: BankRow[]; problems: { row: number; problem: string }[] } {
  const head = rows[0]?.map(plain) ?? [];
  const named = head.includes('comment');
  const places = named ? BANK_COLUMNS.map(c => head.indexOf(c)) : [0, 1, 2, -1, -1, -1, -1];
  const found: BankRow[] = [];
  const problems: { row: number; problem: string }[] = [];
  rows.slice(named ? 1 : 0).forEach((cells, i) => {
    const row = i + (named ? 2 : 1);
    if (cells.every(c => c.trim() === '')) return;
    const [topic, words, link, kind, department, clip, used] = places.map(n =>
      (n < 0 ? '' : (cells[n] ?? '')).trim().replace(/^'(?=[=+\-@'])/, ''),
    ) as [string, string, string, string, string, string, string];
    const isPraise = plain(kind) === 'praise';
    const most = isPraise ? longest.praise : longest.comment;
    const problem =
      words === ''
        ? 'There is no comment in this row.'
        : words.length > most
          ? `This ${isPraise ? 'praise' : 'comment'} has more than ${most} characters.`
          : link !== '' && !isLink(link)
            ? `“${link}” is not the address of a page (https://…).`
            : null;
    if (problem) problems.push({ row, problem });
    else
      found.push({
        topic: topic || 'Comments',
        words,
        link,
        praise: isPraise,
        department,
        clip: /^[0-9a-f-]{36}$/i.test(clip) ? clip : '',
        used: /^\d{1,6}$/.test(used) ? Number(used) : 0,
      });
  });
  return { rows: found, problems };
}

/** A topic that is there already. */
export interface KnownTopic {
  id: string;
  name: string;
  praise: boolean;
  departmentId: string | null;
  comments: readonly { words: string; link: string }[];
}

/** What a file does to one topic. */
export interface ImportPart {
  name: string;
  praise: boolean;
  departmentId: string | null;
  /** The topic that it joins; null for a new one. */
  topicId: string | null;
  /** What comes in, in the order of the file. */
  comes: BankRow[];
  /** How many are there already, or twice in the file, and do not come again. */
  known: number;
  /** How many the topic has no room for. */
  over: number;
}

/** What is the same for a reader is the same here, however it is spaced. */
export function same(text: string): string {
  return text.normalize('NFC').replace(/\s+/g, ' ').trim();
}

/**
 * What comes into a bank from a file: topics of the same name, kind and department are joined, comments of the same words
 * and link come once. Reading a bank's own file back changes nothing.
 * @param departments those of whoever reads it in; comments of others become their own
 * @param most comments that a topic holds
 */
export function importPlan(
  topics: readonly KnownTopic[],
  departments: readonly { id: string; name: string }[],
  rows: readonly BankRow[],
  most: number,
): ImportPart[] {
  const keyOf = (name: string, praise: boolean, departmentId: string | null) =>
    JSON.stringify([same(name).toLocaleLowerCase(), praise, departmentId]);
  const commentOf = (c: { words: string; link: string }) => JSON.stringify([same(c.words), c.link.trim()]);
  const parts = new Map<string, ImportPart & { here: Set<string>; held: number }>();
  for (const row of rows) {
    const departmentId = departments.find(d => same(d.name) === same(row.department))?.id ?? null;
    const key = keyOf(row.topic, row.praise, departmentId);
    let part = parts.get(key);
    if (!part) {
      // Two topics may have one name: what either holds is there.
      const alike = topics.filter(t => keyOf(t.name, t.praise, t.departmentId) === key);
      const topic = alike[0];
      part = {
        name: topic?.name ?? row.topic,
        praise: row.praise,
        departmentId,
        topicId: topic?.id ?? null,
        comes: [],
        known: 0,
        over: 0,
        held: topic?.comments.length ?? 0,
        here: new Set(alike.flatMap(t => t.comments).map(commentOf)),
      };
      parts.set(key, part);
    }
    const comment = commentOf(row);
    if (part.here.has(comment)) part.known++;
    else if (part.held + part.comes.length >= most) part.over++;
    else {
      part.here.add(comment);
      part.comes.push(row);
    }
  }
  return [...parts.values()].map(({ here: _here, held: _held, ...part }) => part);
}
