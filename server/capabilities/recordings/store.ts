import type {
  MediaDetails,
  Medium,
  RecordingProblem,
  RecordingState,
  Wanted,
} from '@ecoute/contract/recordings';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface RecordingRow {
  id: string;
  ownerId: string;
  purpose: 'prompt' | 'take' | 'note' | 'reply' | 'clip' | 'portfolio' | 'message' | 'turn';
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
  createdAt: Date;
  /** When all that came was here. */
  arrivedAt: Date | null;
  /** When it was ended although not all of it had come; null where it was not. */
  endedEarlyAt: Date | null;
}

/** What a list says of a recording that it lets hear. */
export type HeardRow = Pick<
  RecordingRow,
  | 'id'
  | 'medium'
  | 'details'
  | 'fileName'
  | 'state'
  | 'problem'
  | 'durationMs'
  | 'peakDbfs'
  | 'gateMs'
  | 'wholeMs'
  | 'arrivedAt'
  | 'endedEarlyAt'
>;

const GATE = `CAST(COALESCE(r.gate_ms, IF(r.trim_from_ms IS NULL, NULL, 0)) AS DOUBLE) - COALESCE(r.trim_from_ms, 0) AS gateMs`;

/** The columns of a `HeardRow`, from a table or alias `r`: half of them, of thousands. */
export const HEARD_COLUMNS = `r.id, r.medium, r.details, r.file_name AS fileName, r.state, r.problem,
  r.duration_ms AS durationMs, r.peak_dbfs AS peakDbfs, ${GATE}, r.whole_ms AS wholeMs, r.arrived_at AS arrivedAt,
  r.ended_early_at AS endedEarlyAt`;

/** The columns of a `RecordingRow`, from a table or alias `r`. */
export const RECORDING_COLUMNS = `r.id, r.owner_id AS ownerId, r.purpose, r.wanted, r.medium, r.details,
  r.assessment_id AS assessmentId, r.file_name AS fileName, r.state, r.problem, r.media_type AS mediaType,
  r.size_bytes AS sizeBytes, r.sha256, r.duration_ms AS durationMs, r.limit_ms AS limitMs, r.peak_dbfs AS peakDbfs,
  ${GATE},
  r.trim_from_ms AS trimFromMs, r.trim_to_ms AS trimToMs, r.whole_ms AS wholeMs, r.playable_at AS playableAt,
  r.created_at AS createdAt, r.arrived_at AS arrivedAt, r.ended_early_at AS endedEarlyAt`;

export async function insertRecording(
  db: Queryable,
  recording: {
    id: string;
    ownerId: string;
    purpose: 'prompt' | 'take' | 'note' | 'reply' | 'clip' | 'portfolio' | 'message' | 'turn';
    /** A sound where nothing else is said. */
    wanted?: Wanted;
    assessmentId: string | null;
    announcedType: string;
    fileName: string | null;
    limitMs: number;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO recordings
       (id, owner_id, purpose, wanted, assessment_id, state, file_name, announced_type, limit_ms, created_at)
     VALUES (:id, :ownerId, :purpose, :wanted, :assessmentId, 'arriving', :fileName, :announcedType, :limitMs,
       UTC_TIMESTAMP(3))`,
    { wanted: 'sound', ...recording },
  );
}

/** @param lock holds the row until the transaction ends */
export async function findRecording(db: Queryable, id: string, lock = false): Promise<RecordingRow | null> {
  const found = await row<RecordingRow>(
    db,
    `SELECT ${RECORDING_COLUMNS} FROM recordings r WHERE r.id = :id ${lock ? 'FOR UPDATE' : ''}`,
    { id },
  );
  return found && withDetails(found);
}

/** Recordings by their ids, in one question; those that there are not are left out. */
export async function findRecordings(db: Queryable, ids: readonly string[]): Promise<RecordingRow[]> {
  if (ids.length === 0) return [];
  const found = await rows<RecordingRow>(
    db,
    `SELECT ${RECORDING_COLUMNS} FROM recordings r WHERE r.id IN (:ids)`,
    { ids },
  );
  return found.map(withDetails);
}

/** JSON columns come as text. @returns the same row: copying thousands of the driver's takes longer than fetching them */
export function withDetails<T extends { details: unknown }>(found: T): T & { details: MediaDetails | null } {
  const { details } = found;
  found.details = typeof details === 'string' ? (JSON.parse(details) as MediaDetails) : null;
  return found as T & { details: MediaDetails | null };
}

/**
 * Ends what is under way with a file. What stands already stays.
 * @param bytes what had come by then; null to leave it open
 * @returns false when there was nothing to end
 */
export async function cancel(db: Queryable, id: string, bytes: number | null): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE recordings SET state = 'refused', problem = 'cancelled', size_bytes = COALESCE(:bytes, size_bytes)
       WHERE id = :id AND state IN ('arriving', 'checking')`,
      { id, bytes },
    )) === 1
  );
}

/** Where a recording is in its course; null for one that is not. */
export async function stateOf(db: Queryable, id: string): Promise<RecordingState | null> {
  const found = await row<{ state: RecordingState }>(db, 'SELECT state FROM recordings WHERE id = :id', {
    id,
  });
  return found?.state ?? null;
}

/** Ends a recording whose rest does not come. False when it was no longer coming. */
export async function endEarly(db: Queryable, id: string, as: 'lookedAt' | 'lost'): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE recordings SET ended_early_at = UTC_TIMESTAMP(3), arrived_at = UTC_TIMESTAMP(3), ${
        as === 'lost' ? "state = 'refused', problem = 'lost', size_bytes = 0" : "state = 'checking'"
      } WHERE id = :id AND state = 'arriving'`,
      { id },
    )) === 1
  );
}

/** Its device has come with the rest: bytes are taken again, and it is looked at anew when they are all here. */
export async function openAgain(db: Queryable, id: string): Promise<void> {
  await execute(
    db,
    `UPDATE recordings SET state = 'arriving', problem = NULL, ended_early_at = NULL, arrived_at = NULL, size_bytes = NULL,
       sha256 = NULL, duration_ms = NULL, playable_at = NULL, medium = NULL
     WHERE id = :id AND ended_early_at IS NOT NULL`,
    { id },
  );
}

/** Gives up looking at a recording: it is kept as it came and does not stand. False when it was settled meanwhile. */
export async function settleUnseen(db: Queryable, id: string, sizeBytes: number | null): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE recordings SET state = 'refused', problem = 'damaged', size_bytes = :sizeBytes
       WHERE id = :id AND state = 'checking'`,
      { id, sizeBytes },
    )) === 1
  );
}

/** What a sweep looks at in one go: more than that waits for the next one. */
const MOST_SWEPT = 2_000;

/** Recordings whose bytes are under way, the oldest first. */
export async function recordingsArriving(db: Queryable): Promise<RecordingRow[]> {
  const found = await rows<RecordingRow>(
    db,
    `SELECT ${RECORDING_COLUMNS} FROM recordings r WHERE r.state = 'arriving' ORDER BY r.created_at LIMIT ${MOST_SWEPT}`,
  );
  return found.map(withDetails);
}

type Swept = Pick<RecordingRow, 'id' | 'ownerId'>;

/** Whatever of a state has no living job of a kind. */
function withoutJob(db: Queryable, where: string, kind: string, also = ''): Promise<Swept[]> {
  return rows<Swept>(
    db,
    `SELECT r.id, r.owner_id AS ownerId FROM recordings r
     WHERE ${where} AND NOT EXISTS (SELECT 1 FROM jobs j WHERE j.kind = :kind AND j.subject_id = r.id ${also})
     ORDER BY r.created_at LIMIT ${MOST_SWEPT}`,
    { kind },
  );
}

/** All bytes are here, nobody looks at them, and nothing was found in them yet. */
export const waitingWithoutJob = (db: Queryable) =>
  withoutJob(db, "r.state = 'checking' AND r.medium IS NULL", 'inspectRecording', "AND j.state <> 'failed'");

/** Pages that are being drawn by nobody. */
export const pagesWithoutJob = (db: Queryable) =>
  withoutJob(db, "r.state = 'checking' AND r.medium = 'pages'", 'makePages', "AND j.state <> 'failed'");

/** Sounds and films of the last weeks that nobody makes the copy of that plays everywhere; one whose job was given up is left alone. */
export const withoutPlayable = (db: Queryable) =>
  withoutJob(
    db,
    `r.state = 'stored' AND r.medium IN ('sound', 'video') AND r.playable_at IS NULL
       AND r.created_at > UTC_TIMESTAMP(3) - INTERVAL 30 DAY
       AND NOT EXISTS (SELECT 1 FROM jobs m WHERE m.kind = 'measureTake' AND m.subject_id = r.id AND m.state <> 'failed')`,
    'makePlayable',
  );

/** Takes that were cut, for moving their files. */
export async function cutRecordings(
  db: Queryable,
): Promise<Pick<RecordingRow, 'id' | 'trimFromMs' | 'trimToMs'>[]> {
  return rows(
    db,
    'SELECT id, trim_from_ms AS trimFromMs, trim_to_ms AS trimToMs FROM recordings WHERE trim_from_ms IS NOT NULL',
  );
}

/** Removes a picture that lay beside a take. False where something else refers to it, or a teacher drew on it. */
export async function removeUnused(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      `DELETE FROM recordings WHERE id = :id AND (purpose = 'portfolio' OR (purpose = 'take' AND wanted = 'picture'))
         AND NOT EXISTS (SELECT 1 FROM takes t WHERE t.picture_id = :id OR t.id = :id)
         AND NOT EXISTS (SELECT 1 FROM markups m WHERE m.target_id = :id)`,
      { id },
    )) === 1
  );
}

/** Removes somebody's copy of a recording that others have. False where something refers to it. */
export async function removeCopy(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      `DELETE FROM recordings WHERE id = :id AND purpose = 'take'
         AND NOT EXISTS (SELECT 1 FROM takes t WHERE t.picture_id = :id OR t.id = :id)`,
      { id },
    )) === 1
  );
}

/** What is under way counts as this much in sums of what is kept. */
const UNDER_WAY_BYTES = 1024 ** 2;
const BYTES = `COALESCE(SUM(COALESCE(r.size_bytes, ${UNDER_WAY_BYTES})), 0)`;

/** Who keeps recordings, by which door they came, and how many bytes they keep. */
export async function keeperOf(
  db: Queryable,
  personId: string,
): Promise<{ role: 'teacher' | 'student'; doorId: string | null; usedBytes: number } | null> {
  return row(
    db,
    `SELECT p.role, p.guest_link_id AS doorId,
       (SELECT ${BYTES} FROM recordings r WHERE r.owner_id = p.id AND NOT (r.state = 'refused' AND r.problem = 'cancelled')) AS usedBytes
     FROM people p WHERE p.id = :personId`,
    { personId },
  );
}

export async function bytesOfDoor(db: Queryable, doorId: string): Promise<number> {
  const found = await row<{ bytes: number }>(
    db,
    `SELECT ${BYTES} AS bytes FROM people p JOIN recordings r ON r.owner_id = p.id WHERE p.guest_link_id = :doorId`,
    { doorId },
  );
  return Number(found?.bytes ?? 0);
}

export async function bytesOfRelease(db: Queryable, releaseId: string): Promise<number> {
  const found = await row<{ bytes: number }>(
    db,
    `SELECT ${BYTES} AS bytes FROM sittings s JOIN takes t ON t.sitting_id = s.id JOIN recordings r ON r.id = t.id
     WHERE s.release_id = :releaseId`,
    { releaseId },
  );
  return Number(found?.bytes ?? 0);
}

/** Remembers files to be removed once this transaction stands. */
export async function keepToRemove(db: Queryable, keys: readonly string[]): Promise<void> {
  await db.query('INSERT IGNORE INTO files_to_remove (file_key, since) VALUES ?', [
    keys.map(key => [key, new Date()]),
  ]);
}

export async function filesToRemove(db: Queryable, most: number): Promise<string[]> {
  const found = await rows<{ key: string }>(
    db,
    'SELECT file_key AS `key` FROM files_to_remove ORDER BY since LIMIT :most',
    { most },
  );
  return found.map(f => f.key);
}

export async function filesRemoved(db: Queryable, keys: readonly string[]): Promise<void> {
  await execute(db, 'DELETE FROM files_to_remove WHERE file_key IN (:keys)', { keys });
}

export async function filesWait(db: Queryable): Promise<boolean> {
  return (await row(db, 'SELECT 1 FROM files_to_remove LIMIT 1')) !== null;
}

export async function saveDetails(db: Queryable, id: string, details: MediaDetails): Promise<void> {
  await execute(db, 'UPDATE recordings SET details = :details WHERE id = :id', {
    id,
    details: JSON.stringify(details),
  });
}

/** Every page is drawn: the file stands, unless it was let go meanwhile. */
export async function pagesDone(db: Queryable, id: string): Promise<void> {
  await execute(db, "UPDATE recordings SET state = 'stored' WHERE id = :id AND state = 'checking'", { id });
}

/** All bytes are here. False when that was known before. */
export async function markArrived(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      "UPDATE recordings SET state = 'checking', arrived_at = UTC_TIMESTAMP(3) WHERE id = :id AND state = 'arriving'",
      { id },
    )) === 1
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
    /** When all of what was looked at was here; bytes that came later are looked at anew. */
    arrivedAt: Date | null;
  },
): Promise<boolean> {
  const changed = await execute(
    db,
    `UPDATE recordings SET state = :state, problem = :problem, medium = :medium, details = :details, media_type = :mediaType, size_bytes = :sizeBytes,
       sha256 = :sha256, duration_ms = :durationMs, peak_dbfs = :peakDbfs, gate_ms = :gateMs
     WHERE id = :id AND state = 'checking' AND arrived_at <=> :arrivedAt`,
    { id, ...result, details: result.details && JSON.stringify(result.details) },
  );
  return changed === 1;
}

/** What is heard of a sound from now on: a stretch of it, or the whole again (null). A playable copy is to be made anew. */
export async function keepTrim(
  db: Queryable,
  id: string,
  trim: { fromMs: number; toMs: number; wholeMs: number } | null,
  heard: { durationMs: number; peakDbfs: number },
): Promise<void> {
  await execute(
    db,
    `UPDATE recordings SET trim_from_ms = :fromMs, trim_to_ms = :toMs, whole_ms = :wholeMs, duration_ms = :durationMs,
       peak_dbfs = :peakDbfs, playable_at = NULL WHERE id = :id`,
    { id, ...(trim ?? { fromMs: null, toMs: null, wholeMs: null }), ...heard },
  );
}

export async function markPlayable(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE recordings SET playable_at = UTC_TIMESTAMP(3) WHERE id = :id', { id });
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
