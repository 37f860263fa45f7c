import type {
  MediaDetails,
  Medium,
  RecordingProblem,
  RecordingState,
  Wanted,
} from '@ecoute/contract/recordings';
import { row, rows, run, type Queryable } from '../../platform/database';

export interface RecordingRow {
  id: string;
  ownerId: string;
  purpose: 'prompt' | 'take' | 'note' | 'reply' | 'clip';
  wanted: Wanted;
  medium: Medium | null;
  details: MediaDetails | null;
  assessmentId: string | null;
  fileName: string | null;
  state: RecordingState;
  problem: RecordingProblem | null;
  mediaType: string | null;
  sizeBytes: number | null;
  sha256: string | null;
  durationMs: number | null;
  limitMs: number;
  peakDbfs: number | null;
  /** Where the recorder's gate opens in what is heard, in ms; null where none was found. */
  gateMs: number | null;
  trimFromMs: number | null;
  trimToMs: number | null;
  /** Length before it was cut; null where it was not. */
  wholeMs: number | null;
  playableAt: Date | null;
}

/** The columns of a `RecordingRow`, from a table or alias `r`. */
export const RECORDING_COLUMNS = `r.id, r.owner_id AS ownerId, r.purpose, r.wanted, r.medium, r.details,
  r.assessment_id AS assessmentId, r.file_name AS fileName, r.state, r.problem, r.media_type AS mediaType,
  r.size_bytes AS sizeBytes, r.sha256, r.duration_ms AS durationMs, r.limit_ms AS limitMs, r.peak_dbfs AS peakDbfs,
  CAST(COALESCE(r.gate_ms, IF(r.trim_from_ms IS NULL, NULL, 0)) AS DOUBLE) - COALESCE(r.trim_from_ms, 0) AS gateMs,
  r.trim_from_ms AS trimFromMs, r.trim_to_ms AS trimToMs, r.whole_ms AS wholeMs, r.playable_at AS playableAt`;

export async function insertRecording(
  db: Queryable,
  recording: {
    id: string;
    ownerId: string;
    purpose: 'prompt' | 'take' | 'note' | 'reply' | 'clip';
    /** A sound where nothing else is said. */
    wanted?: Wanted;
    assessmentId: string | null;
    announcedType: string;
    fileName: string | null;
    limitMs: number;
  },
): Promise<void> {
  await run(
    db,
    `INSERT INTO recordings
       (id, owner_id, purpose, wanted, assessment_id, state, file_name, announced_type, limit_ms, created_at)
     VALUES (:id, :ownerId, :purpose, :wanted, :assessmentId, 'arriving', :fileName, :announcedType, :limitMs,
       UTC_TIMESTAMP(3))`,
    { wanted: 'sound', ...recording },
  );
}

export async function findRecording(db: Queryable, id: string): Promise<RecordingRow | null> {
  const found = await row<RecordingRow>(
    db,
    `SELECT ${RECORDING_COLUMNS} FROM recordings r WHERE r.id = :id`,
    {
      id,
    },
  );
  return found && withDetails(found);
}

/** JSON columns come as text. */
export function withDetails<T extends { details: unknown }>(found: T): T & { details: MediaDetails | null } {
  const { details } = found;
  return { ...found, details: typeof details === 'string' ? (JSON.parse(details) as MediaDetails) : null };
}

/** Ends what is under way with a file. What stands already stays. */
export async function cancel(db: Queryable, id: string): Promise<void> {
  await run(
    db,
    `UPDATE recordings SET state = 'refused', problem = 'cancelled'
     WHERE id = :id AND state IN ('arriving', 'checking')`,
    { id },
  );
}

export async function saveDetails(db: Queryable, id: string, details: MediaDetails): Promise<void> {
  await run(db, 'UPDATE recordings SET details = :details WHERE id = :id', {
    id,
    details: JSON.stringify(details),
  });
}

/** Every page is drawn: the file stands, unless it was let go meanwhile. */
export async function pagesDone(db: Queryable, id: string): Promise<void> {
  await run(db, "UPDATE recordings SET state = 'stored' WHERE id = :id AND state = 'checking'", { id });
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
    state: 'checking' | 'stored' | 'refused';
    problem: RecordingProblem | null;
    medium: Medium | null;
    details: MediaDetails | null;
    mediaType: string | null;
    sizeBytes: number;
    sha256: string;
    durationMs: number | null;
    peakDbfs: number | null;
    gateMs: number | null;
  },
): Promise<void> {
  await run(
    db,
    `UPDATE recordings SET state = :state, problem = :problem, medium = :medium, details = :details, media_type = :mediaType, size_bytes = :sizeBytes,
       sha256 = :sha256, duration_ms = :durationMs, peak_dbfs = :peakDbfs, gate_ms = :gateMs
     WHERE id = :id AND state = 'checking'`,
    { id, ...result, details: result.details && JSON.stringify(result.details) },
  );
}

/** What is heard of a sound from now on: a stretch of it, or the whole again (null). A playable copy is to be made anew. */
export async function keepTrim(
  db: Queryable,
  id: string,
  trim: { fromMs: number; toMs: number; wholeMs: number } | null,
  heard: { durationMs: number; peakDbfs: number },
): Promise<void> {
  await run(
    db,
    `UPDATE recordings SET trim_from_ms = :fromMs, trim_to_ms = :toMs, whole_ms = :wholeMs, duration_ms = :durationMs,
       peak_dbfs = :peakDbfs, playable_at = NULL WHERE id = :id`,
    { id, ...(trim ?? { fromMs: null, toMs: null, wholeMs: null }), ...heard },
  );
}

export async function markPlayable(db: Queryable, id: string): Promise<void> {
  await run(db, 'UPDATE recordings SET playable_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
}

/** A stored file that an assessment may use. */
export interface PromptFile {
  id: string;
  durationMs: number | null;
  medium: Medium;
}

/**
 * Those of the files that stand and that this teacher may use: their own, and what an assessment uses that a
 * colleague shares with them.
 */
export async function promptFiles(
  db: Queryable,
  ids: readonly string[],
  teacherId: string,
): Promise<Map<string, PromptFile>> {
  if (ids.length === 0) return new Map();
  const found = await rows<PromptFile>(
    db,
    `SELECT r.id, r.duration_ms AS durationMs, r.medium FROM recordings r
     WHERE r.id IN (:ids) AND r.purpose = 'prompt' AND r.state = 'stored'
       AND (r.owner_id = :teacherId OR EXISTS (
         SELECT 1 FROM assessment_files f JOIN assessments a ON a.id = f.assessment_id
           LEFT JOIN assessment_shares s ON s.assessment_id = a.id
           LEFT JOIN department_members m ON m.department_id = s.department_id
         WHERE f.recording_id = r.id AND (a.owner_id = :teacherId OR m.person_id = :teacherId)))`,
    { ids, teacherId },
  );
  return new Map(found.map(f => [f.id, f]));
}
