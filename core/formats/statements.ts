/** Can-do statements or standards from the rows of a table (CSV): which column is which, and what each row says. */

export interface Statement {
  code: string;
  words: string;
}

export interface StatementRows {
  statements: Statement[];
  /** Rows that are not taken, by their number in the table from 1, and why. */
  left: { row: number; why: string }[];
  /** True when the first row named the columns. */
  hasHeader: boolean;
}

const CODE = /^(code|id|nr|no|number|ref|reference|short|key|código|codigo|kürzel|numéro|numero)\.?$/i;
const WORDS =
  /^(statement|words|text|descriptor|description|can[- ]?do|standard|descritor|descriptor|beschreibung|descripteur|enunciado)s?$/i;

/**
 * Reads a table of statements.
 * @param rows     cells by row, as a CSV reader gives them
 * @param mostCode characters that a code may have; `mostWords` the same for a statement
 */
export function statementsIn(
  rows: readonly (readonly string[])[],
  mostCode: number,
  mostWords: number,
): StatementRows {
  const first = (rows[0] ?? []).map(c => c.trim());
  const named = first.findIndex(c => WORDS.test(c));
  const hasHeader = named >= 0 || first.some(c => CODE.test(c));
  const wide = rows.some(r => r.filter(c => c.trim()).length > 1);
  const codeAt = hasHeader ? first.findIndex(c => CODE.test(c)) : wide ? 0 : -1;
  const wordsAt = named >= 0 ? named : codeAt === 0 ? 1 : 0;
  const result: StatementRows = { statements: [], left: [], hasHeader };
  const known = new Set<string>();
  rows.forEach((cells, i) => {
    if (i === 0 && hasHeader) return;
    if (cells.every(c => !c.trim())) return;
    const code = (codeAt < 0 ? '' : (cells[codeAt] ?? '')).trim();
    const words = (cells[wordsAt] ?? '').trim();
    const key = `${code}\n${words}`;
    const why = !/\p{L}/u.test(words)
      ? 'has no statement'
      : words.length > mostWords
        ? `is longer than ${mostWords} characters`
        : code.length > mostCode
          ? `has a code of more than ${mostCode} characters`
          : known.has(key)
            ? 'is there already'
            : null;
    if (why) result.left.push({ row: i + 1, why });
    else {
      known.add(key);
      result.statements.push({ code, words });
    }
  });
  return result;
}
