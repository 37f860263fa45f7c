/** A class's marks as tables: real numbers and dates, one row a student or an answer. */
import { FIGURES, type Figure } from '@ecoute/core/audio/evidence';
import { averageOf } from '@ecoute/core/statistics/averages';
import { fromHundredths } from '@ecoute/core/scoring/points';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isBack } from '@ecoute/core/timing/sittingState';
import { averaged, type Markbook, type MarkbookCell, type MarkbookColumn } from '@ecoute/contract/results';
import type { Pool } from '../../platform/database';
import { findRelease } from '../releases/store';
import * as results from '../results/store';

/** A cell: a number or an instant stays one; null is empty. */
export type Value = string | number | Date | null;

export interface TableColumn {
  title: string;
  /** How numbers and instants are shown; text where left out. */
  shows?: 'number' | 'percent' | 'day' | 'instant';
  /** In characters. */
  width: number;
}

/** One table. Its rows are made while they are written: a school's are never in memory together. */
export interface Table {
  name: string;
  columns: TableColumn[];
  /** How many steps it takes to make it: what progress counts. */
  steps: number;
  /** Groups of rows, a step each. */
  rows: () => AsyncIterable<Value[][]> | Iterable<Value[][]>;
}

/** So many students are one step. */
const STEP = 25;

/** What stands in a cell without a score, so that it is not taken for one that was forgotten. */
function wordOf(cell: MarkbookCell): string | null {
  if (cell.namesHidden) return 'heard without names';
  if (cell.excused) return 'excused';
  return cell.missing ? 'missing' : null;
}

const isMarked = ({ state }: MarkbookCell) => state === 'marked' || isBack(state);

function headed({ title, note }: MarkbookColumn): string {
  return note ? `${title} (${note})` : title;
}

/** A row a student, some columns of the markbook with it. */
function byStudent(
  book: Markbook,
  name: string,
  places: readonly number[],
  shows: TableColumn['shows'],
  second: { words: string; of: (column: MarkbookColumn) => Value },
  valueOf: (cell: MarkbookCell, column: MarkbookColumn) => Value,
): Table {
  const columns = places.map(i => book.columns[i]!);
  const row = (n: number): Value[] => {
    const student = book.students[n]!;
    const cells = book.cells[n]!;
    const average = averageOf(
      cells.flatMap((cell, i) => (cell ? [averaged(cell, book.columns[i]!)] : [])),
      book,
    );
    return [
      student.displayName,
      book.groups
        .filter(g => student.groupIds.includes(g.id))
        .map(g => g.name)
        .join(', '),
      average && average.given / average.most,
      average?.count ?? 0,
      ...places.map(i => (cells[i] ? valueOf(cells[i], book.columns[i]!) : null)),
    ];
  };
  return {
    name,
    columns: [
      { title: 'Student', width: 28 },
      { title: 'Groups', width: 18 },
      { title: 'Average', shows: 'percent', width: 10 },
      { title: 'of so many', shows: 'number', width: 10 },
      ...columns.map((c): TableColumn => ({ title: headed(c), shows, width: 14 })),
    ],
    steps: 1 + Math.ceil(book.students.length / STEP),
    *rows() {
      yield [
        ['due', null, null, null, ...columns.map(c => new Date(c.dueAt))],
        [second.words, null, null, null, ...columns.map(second.of)],
      ];
      for (let from = 0; from < book.students.length; from += STEP)
        yield Array.from({ length: Math.min(STEP, book.students.length - from) }, (_, i) => row(from + i));
    },
  };
}

/** Points by student and assessment, or how many answers are done; assessments without numbers are left out. */
export function scoresTable(book: Markbook): Table {
  const places = book.columns.flatMap((c, i) => (c.carries !== null || c.scheme === 'done' ? [i] : []));
  return byStudent(
    book,
    'Scores',
    places,
    'number',
    { words: 'carries', of: c => (c.scheme === 'done' ? c.items : c.carries) },
    cell => (isMarked(cell) ? (cell.points ?? cell.done) : null) ?? wordOf(cell),
  );
}

/** Overall levels by student and assessment, each in its word. */
export function levelsTable(book: Markbook): Table {
  return byStudent(
    book,
    'Levels',
    book.columns.flatMap((c, i) => (c.scheme === 'level' ? [i] : [])),
    undefined,
    { words: 'scale', of: c => c.scale.join(' < ') },
    (cell, column) => (cell.level === null ? wordOf(cell) : (column.scale[cell.level] ?? null)),
  );
}

/** How each figure is called in a table, with its unit. */
const FIGURE_TITLES: Record<Figure, string> = {
  speakingSec: 'speaking, s',
  initialSilenceSec: 'before the first word, s',
  latencySec: 'until an answer begins, s',
  wordsPerMinute: 'words a minute',
  articulationRate: 'syllables a second while speaking',
  speechRate: 'syllables a second with pauses',
  pauseCount: 'pauses',
  longestPauseSec: 'longest pause, s',
  meanRunSec: 'without a pause, s',
  sentencePauses: 'sentence ends paused at',
  insidePauses: 'pauses inside a sentence',
  rangeSemitones: 'range of the voice, half tones',
  playedPercent: 'of the target heard, %',
  extraNotes: 'notes not in the target',
  restarts: 'times begun again',
  waits: 'times waited',
  noteCount: 'notes heard',
  offCents: 'out of tune, cents',
  tuningCents: 'all of it higher or lower, cents',
  offMs: 'early or late, ms',
  beatMs: 'beside the beat, ms',
  bpm: 'quarter notes a minute',
  driftPercent: 'faster or slower at the end, %',
  steadyPercent: 'evenness of the beat, %',
};

/** A row an answer that was recorded and counts, with what was measured of it. Names hidden from the markbook are hidden here. */
export function measuresTable(book: Markbook, pool: Pool): Table {
  return {
    name: 'Measures',
    columns: [
      { title: 'Student', width: 28 },
      { title: 'Assessment', width: 28 },
      { title: 'due', shows: 'day', width: 12 },
      { title: 'item', shows: 'number', width: 7 },
      { title: 'prompt', width: 36 },
      { title: 'length, s', shows: 'number', width: 10 },
      { title: 'takes', shows: 'number', width: 7 },
      { title: 'points', shows: 'number', width: 9 },
      ...FIGURES.map((f): TableColumn => ({ title: FIGURE_TITLES[f], shows: 'number', width: 14 })),
    ],
    steps: book.columns.length,
    async *rows() {
      for (const [at, column] of book.columns.entries()) yield measured(book, at, column, pool);
    },
  };
}

async function measured(book: Markbook, at: number, column: MarkbookColumn, pool: Pool): Promise<Value[][]> {
  const release = await findRelease(pool, column.releaseId);
  // Taken back while this is being made.
  if (!release) return [];
  const names = new Map(
    book.students.flatMap((student, n) => {
      const sittingId = book.cells[n]![at]?.sittingId;
      return sittingId ? [[sittingId, student.displayName]] : [];
    }),
  );
  const byAnswer = new Map<string, results.LightTake[]>();
  for (const take of await results.takesOfRelease(pool, column.releaseId)) {
    const key = `${take.sittingId} ${take.itemId}`;
    const own = byAnswer.get(key);
    if (own) own.push(take);
    else byAnswer.set(key, [take]);
  }
  const marks = new Map(
    (await results.marksOfRelease(pool, column.releaseId)).map(m => [`${m.sittingId} ${m.itemId}`, m]),
  );
  const counting = [...byAnswer].flatMap(([key, own]) => {
    const take = countingTake<results.LightTake>(own);
    return take && names.has(take.sittingId) ? [{ key, take, takes: own.filter(t => t.stands).length }] : [];
  });
  const figures = await results.figuresOf(
    pool,
    counting.map(c => c.take.id),
  );
  const places = new Map(release.content.items.map((item, i) => [item.id, i]));
  return counting
    .sort(
      (a, b) =>
        names.get(a.take.sittingId)!.localeCompare(names.get(b.take.sittingId)!) ||
        places.get(a.take.itemId)! - places.get(b.take.itemId)!,
    )
    .map(({ key, take, takes }): Value[] => {
      const place = places.get(take.itemId)!;
      const points = column.carries === null ? null : (marks.get(key)?.pointsHundredths ?? null);
      const own = figures.get(take.id) ?? {};
      return [
        names.get(take.sittingId)!,
        headed(column),
        new Date(column.dueAt),
        place + 1,
        release.content.items[place]!.promptText,
        take.durationMs === null ? null : take.durationMs / 1000,
        takes,
        points === null ? null : fromHundredths(points),
        ...FIGURES.map(f => own[f] ?? null),
      ];
    });
}
