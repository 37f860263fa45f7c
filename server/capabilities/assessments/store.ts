import {
  soundsOf,
  type AssessmentContent,
  type AssessmentDraft,
  type AssessmentSummary,
} from '@ecoute/contract/assessments';
import { row, rows, run, type Queryable } from '../../platform/database';

type Row<T> = Omit<T, 'content' | 'updatedAt'> & { content: string; updatedAt: Date };

function read<T extends AssessmentSummary>(found: Row<T>): T {
  return {
    ...found,
    content: JSON.parse(found.content) as AssessmentContent,
    updatedAt: found.updatedAt.toISOString(),
    releases: Number(found.releases),
  } as T;
}

const RELEASES = '(SELECT COUNT(*) FROM releases r WHERE r.assessment_id = a.id) AS releases';

export async function assessmentsOf(db: Queryable, ownerId: string): Promise<AssessmentSummary[]> {
  const found = await rows<Row<AssessmentSummary>>(
    db,
    `SELECT a.id, a.content, a.updated_at AS updatedAt, ${RELEASES} FROM assessments a
     WHERE a.owner_id = :ownerId ORDER BY a.updated_at DESC LIMIT 200`,
    { ownerId },
  );
  return found.map(read<AssessmentSummary>);
}

/** One draft; `lock` holds its row until the transaction ends. */
export async function findAssessment(
  db: Queryable,
  id: string,
  lock = false,
): Promise<AssessmentDraft | null> {
  const found = await row<Row<AssessmentDraft>>(
    db,
    `SELECT a.id, a.revision, a.content, a.updated_at AS updatedAt, ${RELEASES} FROM assessments a
     WHERE a.id = :id ${lock ? 'FOR UPDATE' : ''}`,
    { id },
  );
  return found && read<AssessmentDraft>(found);
}

export async function insertAssessment(
  db: Queryable,
  made: { id: string; ownerId: string; content: AssessmentContent },
): Promise<void> {
  await run(
    db,
    `INSERT INTO assessments (id, owner_id, revision, content, created_at, updated_at)
     VALUES (:id, :ownerId, 1, :content, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    { ...made, content: JSON.stringify(made.content) },
  );
}

/** Stores a draft if nobody stored another since `revision`. False when somebody did. */
export async function saveAssessment(
  db: Queryable,
  saved: { id: string; revision: number; content: AssessmentContent },
): Promise<boolean> {
  const touched = await run(
    db,
    `UPDATE assessments SET content = :content, revision = revision + 1, updated_at = UTC_TIMESTAMP(3)
     WHERE id = :id AND revision = :revision`,
    { ...saved, content: JSON.stringify(saved.content) },
  );
  return touched === 1;
}

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
  await run(
    db,
    `INSERT INTO assessment_versions (id, assessment_id, revision, content, frozen_at)
     VALUES (:id, :assessmentId, :revision, :content, UTC_TIMESTAMP(3))`,
    { ...version, content: JSON.stringify(version.content) },
  );
  // A sound that stands in several places opens with the earliest of them.
  const opens = new Map<string, string>();
  for (const { recordingId, path } of soundsOf(version.content)) {
    const isModel = path.endsWith('modelVoice');
    if (!isModel || !opens.has(recordingId))
      opens.set(recordingId, isModel ? version.content.modelOpens : 'atOnce');
  }
  for (const [recordingId, when] of opens)
    await run(
      db,
      'INSERT INTO version_prompts (version_id, recording_id, opens) VALUES (:id, :recordingId, :when)',
      { id: version.id, recordingId, when },
    );
  return version.id;
}
