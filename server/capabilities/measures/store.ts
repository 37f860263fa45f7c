import type { Figures } from '@ecoute/core/audio/evidence';
import { TAKE_IS_IN } from '../../platform/access/contributions.store';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface MeasuresRow {
  recordingId: string;
  revision: number;
  problem: string | null;
  figures: Figures;
  pauses: number[];
}

export async function keepMeasures(db: Queryable, kept: MeasuresRow): Promise<void> {
  await execute(
    db,
    `REPLACE INTO measures (recording_id, revision, problem, figures, pauses, measured_at)
     VALUES (:recordingId, :revision, :problem, :figures, :pauses, UTC_TIMESTAMP(3))`,
    { ...kept, figures: JSON.stringify(kept.figures), pauses: JSON.stringify(kept.pauses) },
  );
}

/** What was measured no longer fits what is heard. */
export async function forgetMeasures(db: Queryable, recordingId: string): Promise<void> {
  await execute(db, 'DELETE FROM measures WHERE recording_id = :recordingId', { recordingId });
}

/** Whether a take was measured, and what hindered it. */
export async function measuredState(
  db: Queryable,
  recordingId: string,
): Promise<{ problem: string | null } | null> {
  return row(db, 'SELECT problem FROM measures WHERE recording_id = :recordingId', { recordingId });
}

/** Where a take belongs; null for a recording that is none (yet). */
export async function takePlace(
  db: Queryable,
  id: string,
): Promise<{ sittingId: string; itemId: string } | null> {
  return row(db, 'SELECT sitting_id AS sittingId, item_id AS itemId FROM takes WHERE id = :id', { id });
}

/** When students see what is measured of a take; null where it belongs to no release. */
export async function evidenceOpensFor(db: Queryable, takeId: string): Promise<string | null> {
  const found = await row<{ opens: string | null }>(
    db,
    `SELECT JSON_VALUE(v.content, '$.evidenceOpens') AS opens FROM takes t JOIN sittings s ON s.id = t.sitting_id
       JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
     WHERE t.id = :takeId`,
    { takeId },
  );
  return found?.opens ?? null;
}

/** All measured takes of a release, with what says which of several counts. */
export async function measuresOfRelease(
  db: Queryable,
  releaseId: string,
): Promise<
  (MeasuresRow & { sittingId: string; itemId: string; number: number; chosenAtMs: number | null })[]
> {
  const found = await rows<{
    recordingId: string;
    revision: number;
    problem: string | null;
    figures: string;
    pauses: string;
    sittingId: string;
    itemId: string;
    number: number;
    chosenAt: Date | null;
  }>(
    db,
    `SELECT m.recording_id AS recordingId, m.revision, m.problem, m.figures, m.pauses,
       t.sitting_id AS sittingId, t.item_id AS itemId, t.number, t.chosen_at AS chosenAt
     FROM sittings s JOIN takes t ON t.sitting_id = s.id JOIN measures m ON m.recording_id = t.id
     WHERE s.release_id = :releaseId AND m.problem IS NULL AND ${TAKE_IS_IN} ORDER BY t.sitting_id, t.item_id, t.number`,
    { releaseId },
  );
  return found.map(({ figures, pauses, chosenAt, ...rest }) => ({
    ...rest,
    figures: JSON.parse(figures) as Figures,
    pauses: JSON.parse(pauses) as number[],
    chosenAtMs: chosenAt?.getTime() ?? null,
  }));
}

/** So many recordings are looked through in one step. */
const STEP = 5_000;

/** A recording by its place among all that are stored, the newest first. */
export interface Place {
  id: string;
  createdAt: Date;
}

/**
 * Stored takes that were not measured, or in an older way, and have no job for it: those from before there were
 * measures. One whose job was given up is left alone; it is seen on the administrator's page. Not all that is kept is looked through, only
 * the next step of it.
 * @param before the newest where nothing is given
 * @returns where the next step begins; null at the end
 */
export async function takesNotMeasured(
  db: Queryable,
  revision: number,
  before: Place | null = null,
  step = STEP,
): Promise<{ missing: { id: string; ownerId: string }[]; next: Place | null }> {
  const found = await rows<Place & { ownerId: string; isMissing: 0 | 1 }>(
    db,
    `SELECT r.id, r.owner_id AS ownerId, r.created_at AS createdAt,
       r.medium IN ('sound', 'video') AND m.recording_id IS NULL AND t.id IS NOT NULL
         AND NOT EXISTS (SELECT 1 FROM jobs j WHERE j.kind = 'measureTake' AND j.subject_id = r.id) AS isMissing
     FROM (
       SELECT id, owner_id, medium, created_at FROM recordings
       WHERE state = 'stored' ${before ? 'AND created_at <= :createdAt AND (created_at < :createdAt OR id < :id)' : ''}
       ORDER BY created_at DESC, id DESC LIMIT ${step}
     ) r
     LEFT JOIN takes t ON t.id = r.id LEFT JOIN measures m ON m.recording_id = r.id AND m.revision >= :revision
     ORDER BY r.created_at DESC, r.id DESC`,
    { revision, ...before },
  );
  const last = found.at(-1);
  return {
    missing: found.flatMap(({ id, ownerId, isMissing }) => (isMissing ? [{ id, ownerId }] : [])),
    next: last && found.length === step ? { id: last.id, createdAt: last.createdAt } : null,
  };
}
