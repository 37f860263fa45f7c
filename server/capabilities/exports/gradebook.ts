import { createHash } from 'node:crypto';
import type { Gradebook, GradebookResult } from '@ecoute/core/formats/gradebook';
import { isBack } from '@ecoute/core/timing/sittingState';
import type { StartingPoint } from '@ecoute/core/timing/startingPoints';
import type { Markbook, MarkbookCell, MarkbookColumn } from '@ecoute/contract/results';
import type { Pool } from '../../platform/database';
import * as store from './store';

const CATEGORIES: Record<StartingPoint, string> = {
  practice: 'Practice',
  homework: 'Homework',
  exam: 'Exams',
  placement: 'Placement',
  discussion: 'Discussions',
};

/** An id that is the same each time for a student and an assessment that have no sitting. */
function idOf(...parts: string[]): string {
  return createHash('sha256').update(parts.join(' ')).digest('hex').slice(0, 32);
}

function resultOf(
  cell: MarkbookCell,
  column: MarkbookColumn,
): Pick<GradebookResult, 'status' | 'score' | 'words'> | null {
  if (cell.excused) return { status: 'exempt', score: null, words: '' };
  if (cell.missing) return { status: 'not submitted', score: null, words: '' };
  // Nothing is told before its student has it.
  if (cell.namesHidden || cell.unseen || !isBack(cell.state)) return null;
  const words =
    cell.level !== null
      ? (column.scale[cell.level] ?? '')
      : cell.done !== null
        ? `${cell.done} of ${column.items} done`
        : '';
  return { status: 'fully graded', score: cell.points, words };
}

/** Who a class and its students are in the school's own system. */
export interface WhoIsWho {
  classId: string;
  /** The school's id by ours. */
  students: ReadonlyMap<string, string>;
}

/**
 * A class's gradebook: what its students have seen, what is missing and what need not be done; ids the school's own.
 * @param who where it is given, nobody else is in it; otherwise ids of a class list, and our own for those who came without
 */
export async function gradebookOf(
  pool: Pool,
  book: Markbook,
  who: WhoIsWho | null = null,
): Promise<Gradebook> {
  const { classId, students } =
    who ??
    (await store.schoolIds(
      pool,
      book.classId,
      book.students.map(s => s.id),
    ));
  const given = await store.feedbackTimes(
    pool,
    book.cells.flatMap(row => row.flatMap(cell => cell?.sittingId ?? [])),
  );
  const results: GradebookResult[] = [];
  for (const [n, student] of book.students.entries()) {
    if (who && !students.has(student.id)) continue;
    for (const [at, column] of book.columns.entries()) {
      const cell = book.cells[n]![at];
      const result = cell && resultOf(cell, column);
      if (!result) continue;
      results.push({
        id: cell.sittingId ?? idOf(column.releaseId, student.id),
        lineItemId: column.releaseId,
        studentId: students.get(student.id) ?? student.id,
        ...result,
        at: result.status === 'fully graded' ? (given.get(cell.sittingId ?? '') ?? null) : null,
        isLate: cell.late,
      });
    }
  }
  const kinds = [...new Set(book.columns.map(c => c.startingPoint))];
  return {
    classId: classId ?? book.classId,
    schoolId: 'school',
    periodId: 'term',
    categories: kinds.map(kind => ({ id: kind, title: CATEGORIES[kind] })),
    lineItems: book.columns.map(c => ({
      id: c.releaseId,
      title: c.title,
      description: c.note,
      assignedAt: new Date(c.opensAt),
      dueAt: new Date(c.dueAt),
      categoryId: c.startingPoint,
      most: c.carries,
    })),
    results,
  };
}
