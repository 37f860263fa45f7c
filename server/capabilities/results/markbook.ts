import { fromHundredths } from '@ecoute/core/scoring/points';
import { reachable } from '@ecoute/core/scoring/scheme';
import { averageOf } from '@ecoute/core/statistics/averages';
import { isBack } from '@ecoute/core/timing/sittingState';
import { carriedPoints } from '@ecoute/contract/assessment/points';
import type { Me } from '@ecoute/contract/people';
import { outlineOf } from '@ecoute/contract/releases';
import { averaged, type Markbook, type MarkbookCell, type MarkbookColumn } from '@ecoute/contract/results';
import { sameTag, type Tag } from '@ecoute/contract/tags';
import { teachesClass } from '../../platform/access/store';
import type { Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { studentsFrom, type StudentStanding } from '../releases/standing';
import { releasesWith, timesOf, type ReleaseRow } from '../releases/store';
import { standingsToCount, type StandingRow } from '../releases/standings.store';
import * as store from './store';
import { groupViews, studentViews } from './students';

/** More columns than these, and more cells, are asked for by term: a page of hundreds of students has fewer columns. */
const MOST_COLUMNS = 240;
const MOST_CELLS = 30_000;
const LEAST_COLUMNS = 24;
/** So many releases are asked about together: of a school's year not everything is in memory at once. */
const AT_ONCE = 60;
/** Of fewer students the figures of a class would tell what one of them has. */
export const LEAST_TOGETHER = 5;

/** Instants between which releases are due; null for no limit. */
export interface Between {
  from: Date | null;
  to: Date | null;
}

/**
 * Everybody of a class against everything released to it.
 * @param wantedColumns at most; left out: as many as a page takes
 * @throws Trouble notAllowed for a coordinator to whom the class's teachers have not opened its figures
 */
export async function markbookOf(
  pool: Pool,
  viewer: Me,
  classId: string,
  between: Between,
  wantedColumns: number | null = null,
): Promise<Markbook> {
  const room = await store.findClass(pool, classId);
  if (!room) throw notFound();
  const teaches = await teachesClass(pool, viewer.id, classId);
  if (!teaches && room.figuresFor === 'nobody') throw notOpened(room.name);
  const mostColumns =
    wantedColumns ??
    Math.min(
      MOST_COLUMNS,
      Math.max(LEAST_COLUMNS, Math.floor(MOST_CELLS / Math.max(1, await store.countStudents(pool, classId)))),
    );
  const latest = await store.releasesOfClass(pool, classId, between, mostColumns + 1);
  const ids = latest.slice(0, mostColumns).reverse();
  const releases = await releasesWith(pool, ids);
  const columns = ids.map(id => releases.get(id)!);
  const now = Date.now();
  /** By student: a cell for each column. */
  const found = new Map<string, (MarkbookCell | null)[]>();
  for (let from = 0; from < ids.length; from += AT_ONCE) {
    const part = columns.slice(from, from + AT_ONCE);
    for (const [at, cells] of (await cellsOf(pool, part, now)).entries())
      for (const [studentId, cell] of cells) {
        const own = found.get(studentId) ?? columns.map(() => null);
        found.set(studentId, own);
        own[from + at] = teaches ? cell : { ...cell, sittingId: null };
      }
  }
  const groups = await store.groupsOf(pool, classId);
  const students = await store.studentsOf(pool, classId, [...found.keys()]);
  const cells = students.map(s => found.get(s.id) ?? columns.map(() => null));
  const heads = columns.map(columnOf);
  const asWhole = !teaches && room.figuresFor === 'class';
  return {
    classId,
    className: room.name,
    teaches,
    missingCounts: room.missingCounts,
    figuresFor: room.figuresFor,
    groups: asWhole ? [] : groupViews(groups),
    columns: heads,
    students: asWhole ? [] : studentViews(students, groups),
    cells: asWhole ? [] : cells,
    averages: asWhole
      ? heads.map((head, at) => {
          const average = averageOf(
            cells.flatMap(row => (row[at] ? [averaged(row[at], head)] : [])),
            room,
          );
          return average && average.count >= LEAST_TOGETHER
            ? {
                given: fromHundredths(average.given),
                most: fromHundredths(average.most),
                count: average.count,
              }
            : null;
        })
      : null,
    more: latest.length > mostColumns,
  };
}

/** Cells by student of each of some releases. */
async function cellsOf(
  pool: Pool,
  releases: readonly ReleaseRow[],
  nowMs: number,
): Promise<Map<string, MarkbookCell>[]> {
  const ids = releases.map(r => r.id);
  const [standings, sums] = await Promise.all([standingsToCount(pool, ids), store.sumsOf(pool, ids)]);
  const byRelease = new Map<string, StandingRow[]>(ids.map(id => [id, []]));
  for (const row of standings) byRelease.get(row.releaseId)!.push(row);
  const sumOf = new Map(sums.map(s => [s.sittingId, s]));
  return releases.map(
    release =>
      new Map(
        studentsFrom(timesOf(release), byRelease.get(release.id)!, nowMs).map(standing => [
          standing.studentId,
          cellOf(release, standing, standing.counting ? sumOf.get(standing.counting.id) : undefined),
        ]),
      ),
  );
}

export function notOpened(className: string): Trouble {
  return new Trouble(
    'notAllowed',
    `The teachers of “${className}” have not opened its figures to coordinators. Ask one of them to choose so on its markbook, under “How it adds up”.`,
  );
}

function cellOf(
  release: ReleaseRow,
  { standing, counting, sittings }: StudentStanding,
  sum: store.SumRow | undefined,
): MarkbookCell {
  // Whose voice it is must not be known: nothing of what was heard is told by name.
  const namesHidden = release.namesHidden && !isBack(standing.state) && sittings.length > 0;
  if (namesHidden)
    return {
      sittingId: null,
      state: 'underWay',
      late: false,
      missing: false,
      excused: standing.excused,
      askedAgain: false,
      namesHidden,
      points: null,
      done: null,
      level: null,
      answered: 0,
      finished: 0,
      unseen: true,
    };
  const { kind } = release.content.scoring;
  const numbered = kind === 'points' || kind === 'rubric';
  return {
    sittingId: counting?.id ?? null,
    ...standing,
    namesHidden,
    points: numbered && sum?.points != null ? fromHundredths(Number(sum.points)) : null,
    done: kind === 'done' && sum?.points != null ? Number(sum.done) : null,
    level: kind === 'level' ? (sum?.level ?? null) : null,
    answered: counting?.answered ?? 0,
    finished: counting?.finished ?? 0,
    unseen: release.scoresHeld || !isBack(standing.state),
  };
}

function columnOf(release: ReleaseRow): MarkbookColumn {
  const { content } = release;
  const answered = content.items.filter(i => i.answerBy !== 'nothing');
  const carries = reachable(content.scoring.kind, carriedPoints(content));
  const tags: Tag[] = [];
  for (const tag of [...content.tags, ...content.items.flatMap(i => i.tags)])
    if (!tags.some(t => sameTag(t, tag))) tags.push(tag);
  return {
    releaseId: release.id,
    assessmentId: release.assessmentId,
    title: content.title,
    note: release.note,
    opensAt: release.opensAt.toISOString(),
    dueAt: release.dueAt.toISOString(),
    hidden: release.hidden,
    startingPoint: content.startingPoint,
    scheme: content.scoring.kind,
    carries: carries === null ? null : fromHundredths(carries),
    scale: content.scoring.kind === 'level' ? content.scoring.scale.map(l => l.name) : [],
    items: answered.length,
    tags,
    outline: outlineOf(content),
  };
}
