/** All answers of an item, in an order of one's own; apart from the table that shows them. */
import type { Figure } from '@ecoute/core/audio/evidence';
import type { MeasuredTake } from '@ecoute/contract/evidence';
import type { NumbersAnswer, ReleaseNumbers } from '@ecoute/contract/results';

/** What answers can be sorted by: besides these, any measured figure. */
export const SORTS = ['name', 'points', 'length', 'takes', 'hearings', 'handedIn'] as const;
export type Sort = (typeof SORTS)[number] | Figure;

export interface AnswerRow extends NumbersAnswer {
  studentName: string;
  /** Of the figure that is shown; null where it was not measured. */
  figure: number | null;
}

/** The answers to an item with their students, as far as these are among some. */
export function answerRows(
  { sittings, answers }: Pick<ReleaseNumbers, 'sittings' | 'answers'>,
  itemId: string,
  figure: Figure | null,
  measured: Readonly<Record<string, MeasuredTake>>,
  only: ReadonlySet<string> | null,
): AnswerRow[] {
  const names = new Map(sittings.map(s => [s.id, s.studentName]));
  return answers
    .filter(a => a.itemId === itemId && (only === null || only.has(a.sittingId)))
    .map(a => ({
      ...a,
      studentName: names.get(a.sittingId) ?? '',
      figure: figure && a.takeId ? (measured[a.takeId]?.figures[figure] ?? null) : null,
    }));
}

function valueOf(row: AnswerRow, sort: Sort): number | string | null {
  switch (sort) {
    case 'name':
      return row.studentName;
    case 'points':
      return row.points;
    case 'length':
      return row.durationMs;
    case 'takes':
      return row.takes;
    case 'hearings':
      return row.hearings;
    case 'handedIn':
      return row.handedInAt;
    default:
      return row.figure;
  }
}

/** In order; what has no value comes last whichever way, and like ones lie by name. */
export function sorted(rows: readonly AnswerRow[], sort: Sort, down: boolean): AnswerRow[] {
  const way = down ? -1 : 1;
  return rows.toSorted((a, b) => {
    const [x, y] = [valueOf(a, sort), valueOf(b, sort)];
    if (x === null || y === null) {
      if (x !== y) return x === null ? 1 : -1;
    } else if (typeof x === 'string' || typeof y === 'string') {
      const order = String(x).localeCompare(String(y));
      if (order !== 0) return way * order;
    } else if (x !== y) return way * (x - y);
    return a.studentName.localeCompare(b.studentName);
  });
}
