/** Sums over many marks, takes and hearings: what results are made of. */
import type { Figures } from '@ecoute/core/audio/evidence';
import type { TakeInLine } from '@ecoute/core/timing/itemRun';
import type { TakeClock } from '@ecoute/core/timing/takeClock';
import type { Subject } from '@ecoute/contract/classes';
import type { Medium } from '@ecoute/contract/recordings';
import type { FiguresFor } from '@ecoute/contract/results';
import { TAKE_IS_IN } from '../../platform/access/contributions.store';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface ClassRow {
  id: string;
  name: string;
  subject: Subject;
  missingCounts: boolean;
  figuresFor: FiguresFor;
}

export async function findClass(db: Queryable, classId: string): Promise<ClassRow | null> {
  const found = await row<Omit<ClassRow, 'missingCounts'> & { missingCounts: number }>(
    db,
    `SELECT id, name, subject, missing_counts AS missingCounts, figures_for AS figuresFor FROM classes WHERE id = :classId`,
    { classId },
  );
  return found && { ...found, missingCounts: Boolean(found.missingCounts) };
}

export async function keepRule(
  db: Queryable,
  kept: { classId: string; missingCounts: boolean; figuresFor: FiguresFor },
): Promise<void> {
  await execute(
    db,
    'UPDATE classes SET missing_counts = :missingCounts, figures_for = :figuresFor WHERE id = :classId',
    kept,
  );
}

/** Classes that somebody teaches or coordinates, with how much there is to add up. */
export async function classesOf(db: Queryable, personId: string) {
  return rows<{
    id: string;
    name: string;
    subject: Subject;
    figuresFor: FiguresFor;
    teaches: number;
    students: number;
    releases: number;
  }>(
    db,
    `SELECT c.id, c.name, c.subject, c.figures_for AS figuresFor, MAX(m.role = 'teacher') AS teaches,
       (SELECT COUNT(*) FROM class_members x WHERE x.class_id = c.id AND x.role = 'student') AS students,
       (SELECT COUNT(*) FROM releases r WHERE r.class_id = c.id AND r.hidden = 0 AND r.opens_at <= UTC_TIMESTAMP(3)) AS releases
     FROM class_members m JOIN classes c ON c.id = m.class_id
     WHERE m.person_id = :personId AND m.role IN ('teacher', 'coordinator') AND c.put_away_at IS NULL
     GROUP BY c.id ORDER BY c.name, c.id LIMIT 500`,
    { personId },
  );
}

/**
 * Releases of a class that have begun, latest due first.
 * @param between instants; due within them, where they are given
 */
export async function releasesOfClass(
  db: Queryable,
  classId: string,
  { from, to }: { from: Date | null; to: Date | null },
  most: number,
): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT id FROM releases WHERE class_id = :classId AND opens_at <= UTC_TIMESTAMP(3)
       ${from ? 'AND due_at >= :from' : ''} ${to ? 'AND due_at < :to' : ''}
     ORDER BY due_at DESC, id DESC LIMIT ${most}`,
    { classId, from, to },
  );
  return found.map(f => f.id);
}

export async function countStudents(db: Queryable, classId: string): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    `SELECT COUNT(*) AS n FROM class_members WHERE class_id = :classId AND role = 'student'`,
    { classId },
  );
  return Number(found?.n ?? 0);
}

export interface NamedStudent {
  id: string;
  displayName: string;
  called: string | null;
  isMember: boolean;
  isGuest: number;
}

/**
 * Students of a class, and some others, by name.
 * @param others ids of whoever has one of its releases; those of its students among them cost nothing
 */
export async function studentsOf(
  db: Queryable,
  classId: string,
  others: readonly string[],
): Promise<NamedStudent[]> {
  const members = await rows<{ id: string }>(
    db,
    `SELECT person_id AS id FROM class_members WHERE class_id = :classId AND role = 'student'`,
    { classId },
  );
  const own = new Set(members.map(m => m.id));
  const ids = [...new Set([...own, ...others])];
  if (ids.length === 0) return [];
  const found = await rows<Omit<NamedStudent, 'isMember'>>(
    db,
    `SELECT id, display_name AS displayName, called, guest_link_id IS NOT NULL AS isGuest
     FROM people WHERE id IN (:ids) ORDER BY display_name, id`,
    { ids },
  );
  return found.map(p => ({ ...p, isMember: own.has(p.id) }));
}

export async function groupsOf(db: Queryable, classId: string) {
  return rows<{ id: string; name: string; personId: string | null }>(
    db,
    `SELECT g.id, g.name, m.person_id AS personId FROM class_groups g LEFT JOIN class_group_members m ON m.group_id = g.id
     WHERE g.class_id = :classId ORDER BY g.name, g.id`,
    { classId },
  );
}

/** What the finished marks of each sitting add up to, and its overall level: facts that are kept with each mark. */
export interface SumRow {
  sittingId: string;
  /** Null where no finished mark has points. */
  points: number | null;
  done: number;
  level: number | null;
}

/** Sums of all sittings of some releases; of one student, where one is named. */
export async function sumsOf(
  db: Queryable,
  releaseIds: readonly string[],
  studentId: string | null = null,
): Promise<SumRow[]> {
  if (releaseIds.length === 0) return [];
  return rows<SumRow>(
    db,
    `SELECT id AS sittingId, points_hundredths AS points, done_items AS done, level FROM sittings
     WHERE release_id IN (:releaseIds) AND handed_in_at IS NOT NULL ${studentId ? 'AND student_id = :studentId' : ''}`,
    { releaseIds, studentId },
  );
}

export interface LightTake extends TakeInLine {
  sittingId: string;
  itemId: string;
  durationMs: number | null;
  medium: Medium | null;
  clock: TakeClock | null;
  gateMs: number | null;
}

const LIGHT = `t.id, t.sitting_id AS sittingId, t.item_id AS itemId, t.number, t.chosen_at AS chosenAt,
  x.state = 'stored' AS stands, x.duration_ms AS durationMs, x.medium`;

interface RawTake {
  id: string;
  sittingId: string;
  itemId: string;
  number: number;
  chosenAt: Date | null;
  stands: number;
  durationMs: number | null;
  medium: Medium | null;
}

const lightTake = (t: RawTake): LightTake => ({
  id: t.id,
  sittingId: t.sittingId,
  itemId: t.itemId,
  number: t.number,
  chosenAtMs: t.chosenAt?.getTime() ?? null,
  stands: Boolean(t.stands),
  durationMs: t.durationMs,
  medium: t.medium,
  clock: null,
  gateMs: null,
});

/** Takes of one release, without what only a lane needs. */
export async function takesOfRelease(db: Queryable, releaseId: string): Promise<LightTake[]> {
  const found = await rows<RawTake>(
    db,
    `SELECT ${LIGHT} FROM sittings s JOIN takes t ON t.sitting_id = s.id JOIN recordings x ON x.id = t.id
     WHERE s.release_id = :releaseId AND ${TAKE_IS_IN}`,
    { releaseId },
  );
  return found.map(lightTake);
}

/** Takes of some sittings, without what only a lane needs. */
export async function lightTakesOf(db: Queryable, sittingIds: readonly string[]): Promise<LightTake[]> {
  if (sittingIds.length === 0) return [];
  const found = await rows<RawTake>(
    db,
    `SELECT ${LIGHT} FROM takes t JOIN recordings x ON x.id = t.id
     WHERE t.sitting_id IN (:sittingIds) AND ${TAKE_IS_IN}`,
    { sittingIds },
  );
  return found.map(lightTake);
}

export interface LightMark {
  sittingId: string;
  itemId: string;
  pointsHundredths: number | null;
  choices: string | null;
}

/** Finished marks of one release. */
export async function marksOfRelease(db: Queryable, releaseId: string): Promise<LightMark[]> {
  return rows<LightMark>(
    db,
    `SELECT k.sitting_id AS sittingId, k.item_id AS itemId, k.points_hundredths AS pointsHundredths, k.choices
     FROM sittings s JOIN marks k ON k.sitting_id = s.id AND k.in_force = 1
     WHERE s.release_id = :releaseId AND k.finished_at IS NOT NULL`,
    { releaseId },
  );
}

/** Finished marks of some sittings, with what was said; those of everybody who marked. */
export async function marksWithWords(db: Queryable, sittingIds: readonly string[]) {
  if (sittingIds.length === 0) return [];
  return rows<LightMark & { comment: string; finishedAt: Date }>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, points_hundredths AS pointsHundredths, choices, comment, finished_at AS finishedAt
     FROM marks WHERE in_force = 1 AND finished_at IS NOT NULL AND sitting_id IN (:sittingIds)`,
    { sittingIds },
  );
}

/** Words of the notes that hold on the takes of some sittings. */
export async function notedWords(db: Queryable, sittingIds: readonly string[]) {
  if (sittingIds.length === 0) return [];
  return rows<{ sittingId: string; words: string; at: Date }>(
    db,
    `SELECT t.sitting_id AS sittingId, n.words, n.created_at AS at FROM takes t JOIN notes n ON n.take_id = t.id
     WHERE n.in_force = 1 AND n.words <> '' AND t.sitting_id IN (:sittingIds)`,
    { sittingIds },
  );
}

/** `sitting item` of what was written in one release. */
export async function writtenIn(db: Queryable, releaseId: string): Promise<Set<string>> {
  const found = await rows<{ sittingId: string; itemId: string }>(
    db,
    `SELECT w.sitting_id AS sittingId, w.item_id AS itemId FROM sittings s JOIN written_answers w ON w.sitting_id = s.id
     WHERE s.release_id = :releaseId AND w.text <> ''`,
    { releaseId },
  );
  return new Set(found.map(f => `${f.sittingId} ${f.itemId}`));
}

/** What was measured, of some takes. */
export async function figuresOf(db: Queryable, takeIds: readonly string[]): Promise<Map<string, Figures>> {
  if (takeIds.length === 0) return new Map();
  const found = await rows<{ id: string; figures: string }>(
    db,
    `SELECT recording_id AS id, figures FROM measures WHERE recording_id IN (:takeIds) AND problem IS NULL`,
    { takeIds },
  );
  return new Map(found.map(f => [f.id, JSON.parse(f.figures) as Figures]));
}

/** Every sitting of one student that was handed in: in one class, or in all of them. */
export async function handedInBy(
  db: Queryable,
  studentId: string,
  classId: string | null,
): Promise<{ id: string; releaseId: string; classId: string; className: string }[]> {
  return rows(
    db,
    `SELECT s.id, s.release_id AS releaseId, r.class_id AS classId, c.name AS className
     FROM sittings s JOIN releases r ON r.id = s.release_id JOIN classes c ON c.id = r.class_id
     WHERE s.student_id = :studentId AND s.handed_in_at IS NOT NULL ${classId ? 'AND r.class_id = :classId' : ''}
     ORDER BY s.handed_in_at DESC, s.id LIMIT 600`,
    { studentId, classId },
  );
}

/** The name of somebody who is or was in a class, or has one of its releases; null for anybody else. */
export async function studentIn(
  db: Queryable,
  classId: string,
  studentId: string,
): Promise<{ displayName: string; called: string | null } | null> {
  return row(
    db,
    `SELECT display_name AS displayName, called FROM people WHERE id = :studentId AND (
       EXISTS (SELECT 1 FROM class_members m WHERE m.class_id = :classId AND m.person_id = :studentId AND m.role = 'student')
       OR EXISTS (SELECT 1 FROM participants p JOIN releases r ON r.id = p.release_id
         WHERE p.person_id = :studentId AND r.class_id = :classId))`,
    { classId, studentId },
  );
}

/** What comments call somebody, where that was set. */
export async function calledOf(db: Queryable, personId: string): Promise<string | null> {
  const found = await row<{ called: string | null }>(db, 'SELECT called FROM people WHERE id = :personId', {
    personId,
  });
  return found?.called ?? null;
}

/** Every release of a class that one student has, handed in or not, that has opened. */
export async function releasesFor(
  db: Queryable,
  studentId: string,
  classId: string | null,
): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT r.id FROM participants p JOIN releases r ON r.id = p.release_id
     WHERE p.person_id = :studentId AND r.hidden = 0 AND r.opens_at <= UTC_TIMESTAMP(3) ${classId ? 'AND r.class_id = :classId' : ''}
     ORDER BY r.due_at DESC, r.id LIMIT 600`,
    { studentId, classId },
  );
  return found.map(f => f.id);
}
