import type { RecordingProblem, RecordingState } from '@ecoute/contract/recordings';
import { row, rows, run, type Queryable } from '../../platform/database';

export interface RecordingRow {
  id: string;
  ownerId: string;
  purpose: 'prompt' | 'take';
  state: RecordingState;
  problem: RecordingProblem | null;
  mediaType: string | null;
  sizeBytes: number | null;
  sha256: string | null;
  durationMs: number | null;
  limitMs: number;
  peakDbfs: number | null;
  playableAt: Date | null;
}

/** The columns of a `RecordingRow`, from a table or alias `r`. */
export const RECORDING_COLUMNS = `r.id, r.owner_id AS ownerId, r.purpose, r.state, r.problem, r.media_type AS mediaType,
  r.size_bytes AS sizeBytes, r.sha256, r.duration_ms AS durationMs, r.limit_ms AS limitMs, r.peak_dbfs AS peakDbfs,
  r.playable_at AS playableAt`;

export async function insertRecording(
  db: Queryable,
  recording: {
    id: string;
    ownerId: string;
    purpose: 'prompt' | 'take';
    assessmentId: string | null;
    announcedType: string;
    fileName: string | null;
    limitMs: number;
  },
): Promise<void> {
  await run(
    db,
    `INSERT INTO recordings (id, owner_id, purpose, assessment_id, state, file_name, announced_type, limit_ms, created_at)
     VALUES (:id, :ownerId, :purpose, :assessmentId, 'arriving', :fileName, :announcedType, :limitMs, UTC_TIMESTAMP(3))`,
    recording,
  );
}

export async function findRecording(db: Queryable, id: string): Promise<RecordingRow | null> {
  return row<RecordingRow>(db, `SELECT ${RECORDING_COLUMNS} FROM recordings r WHERE r.id = :id`, { id });
}

/** All bytes are here. False when that was known before. */
export async function markArrived(db: Queryable, id: string): Promise<boolean> {
  return (
    (await run(db, "UPDATE recordings SET state = 'checking' WHERE id = :id AND state = 'arriving'", {
      id,
    })) === 1
  );
}

export async function settle(
  db: Queryable,
  id: string,
  result: {
    state: 'stored' | 'refused';
    problem: RecordingProblem | null;
    mediaType: string | null;
    sizeBytes: number;
    sha256: string;
    durationMs: number | null;
    peakDbfs: number | null;
  },
): Promise<void> {
  await run(
    db,
    `UPDATE recordings SET state = :state, problem = :problem, media_type = :mediaType, size_bytes = :sizeBytes,
       sha256 = :sha256, duration_ms = :durationMs, peak_dbfs = :peakDbfs WHERE id = :id`,
    { id, ...result },
  );
}

export async function markPlayable(db: Queryable, id: string): Promise<void> {
  await run(db, 'UPDATE recordings SET playable_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
}

/** Lengths in ms by id, of those sounds for assessments that stand and belong to this teacher. */
export async function promptDurations(
  db: Queryable,
  ids: readonly string[],
  ownerId: string,
): Promise<Map<string, number>> {
  if (ids.length === 0) return new Map();
  const found = await rows<{ id: string; durationMs: number }>(
    db,
    `SELECT id, duration_ms AS durationMs FROM recordings
     WHERE id IN (:ids) AND owner_id = :ownerId AND purpose = 'prompt' AND state = 'stored'`,
    { ids, ownerId },
  );
  return new Map(found.map(f => [f.id, f.durationMs]));
}
