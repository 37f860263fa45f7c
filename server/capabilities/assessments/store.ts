import type {
  AssessmentContent,
  AssessmentDraft,
  AssessmentSummary,
  Away,
  EarlierVoice,
} from '@ecoute/contract/assessments';
import { filesOf } from '@ecoute/contract/assessment/files';
import { completed } from '@ecoute/contract/blank';
import { outlineOf } from '@ecoute/contract/releases';
import type { SharedAssessment } from '@ecoute/contract/departments';
import { row, rows, execute, type Queryable } from '../../platform/database';

type Row<T> = Omit<T, 'content' | 'updatedAt' | 'awayAt'> & {
  content: string;
  updatedAt: Date;
  awayAt: Date | null;
};

function read<T extends AssessmentSummary>(found: Row<T>): T {
  return {
    ...found,
    content: completed(JSON.parse(found.content) as AssessmentContent),
    updatedAt: found.updatedAt.toISOString(),
    releases: Number(found.releases),
    following: Number(found.following),
    isTemplate: Boolean(found.isTemplate),
    awayAt: found.awayAt?.toISOString() ?? null,
  } as T;
}

const COLUMNS = `a.id, a.revision, a.content, a.updated_at AS updatedAt, a.is_template AS isTemplate, a.away, a.away_at AS awayAt,
  a.owner_id AS ownerId, o.display_name AS ownerName, b.display_name AS savedBy,
  (SELECT COUNT(*) FROM releases r WHERE r.assessment_id = a.id) AS releases,
  (SELECT COUNT(*) FROM releases r WHERE r.assessment_id = a.id AND r.follows = 1
     AND (r.hidden = 1 OR r.opens_at > UTC_TIMESTAMP(3))
     AND NOT EXISTS (SELECT 1 FROM sittings s WHERE s.release_id = r.id)) AS following`;
const TABLES = `assessments a JOIN people o ON o.id = a.owner_id LEFT JOIN people b ON b.id = a.saved_by`;

/**
 * A teacher's own, the last changed first.
 * @param find  words that the title or a prompt holds, in any case and without regard to accents; empty for all
 * @param isAway those that were put away instead of those on the shelf
 */
export async function assessmentsOf(
  db: Queryable,
  ownerId: string,
  find = '',
  isAway = false,
): Promise<AssessmentSummary[]> {
  const found = await rows<Row<AssessmentSummary>>(
    db,
    `SELECT ${COLUMNS} FROM ${TABLES}
     WHERE a.owner_id = :ownerId AND (a.away IS NOT NULL) = :isAway
       AND (:find = '' OR CONCAT_WS(' ', JSON_VALUE(a.content, '$.title'), JSON_EXTRACT(a.content, '$.items[*].promptText'))
         COLLATE utf8mb4_unicode_ci LIKE :like)
     ORDER BY a.updated_at DESC LIMIT 200`,
    { ownerId, isAway, find, like: `%${find.replace(/[\\%_]/g, '\\$&')}%` },
  );
  return found.map(read<AssessmentSummary>);
}

/** Sounds that a teacher recorded or brought for an assessment, the newest first. */
export async function voicesFor(db: Queryable, id: string, ownerId: string): Promise<EarlierVoice[]> {
  const found = await rows<{
    recordingId: string;
    durationMs: number | null;
    medium: string;
    at: Date;
    fileName: string | null;
  }>(
    db,
    `SELECT id AS recordingId, duration_ms AS durationMs, medium, created_at AS at, file_name AS fileName FROM recordings
     WHERE owner_id = :ownerId AND assessment_id = :id AND purpose = 'prompt' AND wanted = 'voice' AND state = 'stored'
     ORDER BY created_at DESC LIMIT 60`,
    { id, ownerId },
  );
  return found.map(({ medium, durationMs, at, ...rest }) => ({
    ...rest,
    durationMs: durationMs ?? 0,
    isVideo: medium === 'video',
    at: at.toISOString(),
  }));
}

/** @returns false where it was released, and is to be thrown away: that is not done */
export async function putAway(db: Queryable, id: string, away: Away | null): Promise<boolean> {
  await row(db, 'SELECT 1 FROM assessments WHERE id = :id FOR UPDATE', { id });
  const touched = await execute(
    db,
    `UPDATE assessments SET away_at = IF(:away IS NULL, NULL, UTC_TIMESTAMP(3)), away = :away
     WHERE id = :id AND (COALESCE(:away, '') <> 'thrown'
       OR NOT EXISTS (SELECT 1 FROM releases r WHERE r.assessment_id = :id))`,
    { id, away },
  );
  return touched > 0;
}

/** Drafts that were thrown away so many days ago go for good; what was recorded for them stays with its teacher. */
export async function forgetThrown(db: Queryable, days: number): Promise<void> {
  const gone = await rows<{ id: string }>(
    db,
    `SELECT id FROM assessments WHERE away = 'thrown' AND away_at < UTC_TIMESTAMP(3) - INTERVAL :days DAY
       AND NOT EXISTS (SELECT 1 FROM releases r WHERE r.assessment_id = assessments.id)
     LIMIT 100 FOR UPDATE`,
    { days },
  );
  const ids = gone.map(g => g.id);
  if (ids.length === 0) return;
  // Of a release that was taken back before.
  await execute(
    db,
    `DELETE p FROM version_prompts p JOIN assessment_versions v ON v.id = p.version_id
     WHERE v.assessment_id IN (:ids)`,
    { ids },
  );
  for (const table of ['assessment_versions', 'assessment_files', 'assessment_shares'])
    await execute(db, `DELETE FROM ${table} WHERE assessment_id IN (:ids)`, { ids });
  await execute(db, 'DELETE FROM assessments WHERE id IN (:ids)', { ids });
}

/** What colleagues have put on the shelves of a teacher's departments, once each, with the widest permission. */
export async function sharedWith(db: Queryable, teacherId: string): Promise<SharedAssessment[]> {
  const found = await rows<Row<SharedAssessment>>(
    db,
    `SELECT ${COLUMNS}, MIN(d.name) AS departmentName, MAX(s.edits) AS edits
     FROM department_members m JOIN departments d ON d.id = m.department_id
       JOIN assessment_shares s ON s.department_id = d.id JOIN ${TABLES} ON a.id = s.assessment_id
     WHERE m.person_id = :teacherId AND a.owner_id <> :teacherId AND a.away IS NULL
     GROUP BY a.id ORDER BY a.updated_at DESC LIMIT 200`,
    { teacherId },
  );
  return found.map(f => ({ ...read<SharedAssessment>(f), edits: Boolean(f.edits) }));
}

/** One draft; `lock` holds its row until the transaction ends. */
export async function findAssessment(
  db: Queryable,
  id: string,
  lock = false,
): Promise<AssessmentDraft | null> {
  if (lock) await row(db, 'SELECT 1 FROM assessments WHERE id = :id FOR UPDATE', { id });
  const found = await row<Row<AssessmentDraft>>(db, `SELECT ${COLUMNS} FROM ${TABLES} WHERE a.id = :id`, {
    id,
  });
  return found && read<AssessmentDraft>(found);
}

export async function insertAssessment(
  db: Queryable,
  made: { id: string; ownerId: string; content: AssessmentContent },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO assessments (id, owner_id, revision, content, saved_by, created_at, updated_at)
     VALUES (:id, :ownerId, 1, :content, :ownerId, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    { ...made, content: JSON.stringify(made.content) },
  );
  await noteFiles(db, made.id, made.content);
}

/** Which files the draft uses from now on. */
async function noteFiles(db: Queryable, id: string, content: AssessmentContent): Promise<void> {
  await execute(db, 'DELETE FROM assessment_files WHERE assessment_id = :id', { id });
  for (const recordingId of new Set(filesOf(content).map(f => f.recordingId)))
    await execute(
      db,
      'INSERT INTO assessment_files (assessment_id, recording_id) VALUES (:id, :recordingId)',
      {
        id,
        recordingId,
      },
    );
}

/** Stores a draft if nobody stored another since `revision`. False when somebody did. */
export async function saveAssessment(
  db: Queryable,
  saved: { id: string; revision: number; content: AssessmentContent; savedBy: string },
): Promise<boolean> {
  const touched = await execute(
    db,
    `UPDATE assessments SET content = :content, revision = revision + 1, saved_by = :savedBy, updated_at = UTC_TIMESTAMP(3)
     WHERE id = :id AND revision = :revision`,
    { ...saved, content: JSON.stringify(saved.content) },
  );
  if (touched !== 1) return false;
  await noteFiles(db, saved.id, saved.content);
  return true;
}

type Opens = 'atOnce' | 'withItems' | 'afterHandIn' | 'afterReturn';
const EARLIEST: readonly Opens[] = ['atOnce', 'withItems', 'afterHandIn', 'afterReturn'];

/** Freezes a draft as it stands. The same revision is frozen once, however often it is released. */
export async function freezeVersion(
  db: Queryable,
  version: { id: string; assessmentId: string; revision: number; content: AssessmentContent },
): Promise<string> {
  const known = await row<{ id: string }>(
    db,
    'SELECT id FROM assessment_versions WHERE assessment_id = :assessmentId AND revision = :revision',
    { assessmentId: version.assessmentId, revision: version.revision },
  );
  if (known) return known.id;
  await execute(
    db,
    `INSERT INTO assessment_versions (id, assessment_id, revision, content, outline, frozen_at)
     VALUES (:id, :assessmentId, :revision, :content, :outline, UTC_TIMESTAMP(3))`,
    {
      ...version,
      content: JSON.stringify(version.content),
      outline: JSON.stringify(outlineOf(version.content)),
    },
  );
  // A file that stands in several places opens with the earliest of them.
  const opens = new Map<string, Opens>();
  for (const { recordingId, path } of filesOf(version.content)) {
    const isModel = path.endsWith('modelVoice');
    // What is asked in a limited sitting is heard once its clock runs; directions before.
    const isAsked = path.startsWith('items.') && version.content.sittingLimitMs !== null;
    const when = isModel ? version.content.modelOpens : isAsked ? 'withItems' : 'atOnce';
    const known = opens.get(recordingId);
    if (!known || EARLIEST.indexOf(when) < EARLIEST.indexOf(known)) opens.set(recordingId, when);
  }
  for (const [recordingId, when] of opens)
    await execute(
      db,
      'INSERT INTO version_prompts (version_id, recording_id, opens) VALUES (:id, :recordingId, :when)',
      { id: version.id, recordingId, when },
    );
  return version.id;
}

/** Outlines for versions that an earlier Ecoute froze without one. */
export async function fillOutlines(db: Queryable): Promise<void> {
  for (;;) {
    const found = await rows<{ id: string; content: string }>(
      db,
      'SELECT id, content FROM assessment_versions WHERE outline IS NULL LIMIT 50',
    );
    if (found.length === 0) return;
    for (const { id, content } of found)
      await execute(db, 'UPDATE assessment_versions SET outline = :outline WHERE id = :id', {
        id,
        outline: JSON.stringify(outlineOf(completed(JSON.parse(content) as AssessmentContent))),
      });
  }
}
