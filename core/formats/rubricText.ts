/**
 * Rubrics from text: a table copied from a spreadsheet (tab-separated, level names in its first row) or a list
 * (a line a criterion, a bullet a level). What cannot be read is said, nothing is guessed away.
 */
import type { RubricLevel } from '../scoring/scheme';

export interface ReadRubric {
  levels: RubricLevel[];
  criteria: { name: string; weight: number; descriptors: string[] }[];
}

export type RubricReading = { rubric: ReadRubric; problem: null } | { rubric: null; problem: string };

const number = (text: string) => Number(text.replace(',', '.'));

/** `Good (3)`, `3 – Good`, `Good: 3 points` → name and points; points by position where none are written. */
function levelIn(text: string, position: number): RubricLevel {
  const t = text.trim();
  const behind = /^(.*?)[\s:]*[([]?\s*(\d+(?:[.,]\d{1,2})?)\s*(?:p|pt|pts|points?)?\s*[)\]]?$/i.exec(t);
  if (behind?.[1]) return { name: behind[1].replace(/[\s:–-]+$/, ''), points: number(behind[2]!) };
  const before = /^(\d+(?:[.,]\d{1,2})?)\s*[.:)–-]?\s+(.*)$/.exec(t);
  if (before) return { name: before[2]!, points: number(before[1]!) };
  if (/^\d+(?:[.,]\d{1,2})?$/.test(t)) return { name: t, points: number(t) };
  return { name: t, points: position + 1 };
}

/** `Fluency ×2`, `Fluency (20 %)`, `Fluency x 1.5` → name and weight; 1 where none is written. */
function criterionIn(text: string): { name: string; weight: number } {
  const t = text.trim().replace(/:$/, '');
  const times = /^(.*?)\s*[(]?\s*[×x*]\s*(\d+(?:[.,]\d{1,2})?)\s*[)]?$/i.exec(t);
  if (times?.[1]) return { name: times[1], weight: number(times[2]!) };
  const percent = /^(.*?)\s*[(]?\s*(\d+(?:[.,]\d{1,2})?)\s*%\s*[)]?$/.exec(t);
  if (percent?.[1]) return { name: percent[1], weight: number(percent[2]!) };
  return { name: t, weight: 1 };
}

/** Rows and cells of tab-separated text as spreadsheets copy it: quoted cells may hold tabs and line breaks. */
export function cellsOf(text: string): string[][] {
  const rows: string[][] = [[]];
  let cell = '';
  let quoted = false;
  const t = text.replace(/\r\n?/g, '\n');
  for (let i = 0; i < t.length; i++) {
    const c = t[i]!;
    if (quoted) {
      if (c === '"' && t[i + 1] === '"') {
        cell += '"';
        i++;
      } else if (c === '"') quoted = false;
      else cell += c;
    } else if (c === '"' && cell === '') quoted = true;
    else if (c === '\t' || c === '\n') {
      rows.at(-1)!.push(cell.trim());
      cell = '';
      if (c === '\n') rows.push([]);
    } else cell += c;
  }
  rows.at(-1)!.push(cell.trim());
  return rows.filter(r => r.some(c => c !== ''));
}

/** Levels rise from left to right; a table that begins with the best is turned round. */
function rising(rubric: ReadRubric): ReadRubric {
  const falls = rubric.levels.every((l, i) => i === 0 || l.points < rubric.levels[i - 1]!.points);
  if (!falls || rubric.levels.length < 2) return rubric;
  return {
    levels: [...rubric.levels].reverse(),
    criteria: rubric.criteria.map(c => ({ ...c, descriptors: [...c.descriptors].reverse() })),
  };
}

function fromTable(text: string): RubricReading {
  const [head, ...body] = cellsOf(text);
  if (!head || head.length < 3 || body.length === 0)
    return {
      rubric: null,
      problem:
        'A table needs the levels in its first row and a criterion in each row below. Copy it with its head.',
    };
  const levels = head.slice(1).map(levelIn);
  const long = body.find(r => r.length > head.length);
  if (long)
    return {
      rubric: null,
      problem: `The row “${long[0]}” has more cells than there are levels. Check the table’s first row.`,
    };
  const criteria = body.map(row => ({
    ...criterionIn(row[0] ?? ''),
    descriptors: levels.map((_, i) => row[i + 1] ?? ''),
  }));
  return { rubric: rising({ levels, criteria }), problem: null };
}

const BULLET = /^\s*(?:[-–•*·▪◦]|\d+[.)])\s+/;

function fromList(text: string): RubricReading {
  const blocks: { name: string; bullets: string[] }[] = [];
  for (const line of text.split(/\r?\n/)) {
    if (!line.trim()) continue;
    if (!BULLET.test(line)) blocks.push({ name: line, bullets: [] });
    else if (blocks.length === 0)
      return {
        rubric: null,
        problem: 'The list begins with a level. Put the criterion’s name on a line above it.',
      };
    else blocks.at(-1)!.bullets.push(line.replace(BULLET, ''));
  }
  const first = blocks[0];
  if (!first || first.bullets.length < 2)
    return {
      rubric: null,
      problem: 'We found no levels. Write each criterion on a line and its levels as bullets beneath it.',
    };
  const uneven = blocks.find(b => b.bullets.length !== first.bullets.length);
  if (uneven)
    return {
      rubric: null,
      problem: `“${uneven.name.trim()}” has ${uneven.bullets.length} levels, “${first.name.trim()}” has ${first.bullets.length}. Every criterion needs the same number.`,
    };
  const split = (bullet: string) => {
    const colon = bullet.indexOf(':');
    return colon > 0 && colon < 40
      ? { level: bullet.slice(0, colon), words: bullet.slice(colon + 1).trim() }
      : { level: '', words: bullet.trim() };
  };
  const levels = first.bullets.map((b, i) => {
    const { level } = split(b);
    return level ? levelIn(level, i) : { name: `Level ${i + 1}`, points: i + 1 };
  });
  const criteria = blocks.map(b => ({
    ...criterionIn(b.name),
    descriptors: b.bullets.map(x => split(x).words),
  }));
  return { rubric: rising({ levels, criteria }), problem: null };
}

/** Reads a pasted rubric. @returns the rubric, or what is wrong with the next step */
export function rubricFromText(text: string): RubricReading {
  if (!text.trim()) return { rubric: null, problem: 'There is nothing here yet. Paste a table or a list.' };
  return text.includes('\t') ? fromTable(text) : fromList(text);
}
