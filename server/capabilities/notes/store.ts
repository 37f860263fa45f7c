import type { Note } from '@ecoute/contract/notes';
import { row, rows, execute, type Queryable } from '../../platform/database';
import { among, type WhichSittings } from '../sittings/which.store';

const COLUMNS = `n.id, n.take_id AS takeId, n.from_ms AS fromMs, n.to_ms AS toMs, n.words, n.revision,
  p.display_name AS authorName, n.voice_id AS voiceId, v.duration_ms AS voiceMs, v.state AS voiceState`;
const NOTES = 'FROM notes n JOIN people p ON p.id = n.author_id LEFT JOIN recordings v ON v.id = n.voice_id';

const IN_ORDER = 'n.in_force = 1 ORDER BY n.from_ms, n.created_at, n.id';

/**
 * The notes that hold on some takes, in the order of their places. What was noted on a recording of several people stands on
 * the one whose device it was, and is of everybody's, unless each is scored apart.
 */
export async function notesOf(db: Queryable, takeIds: readonly string[]): Promise<Note[]> {
  if (takeIds.length === 0) return [];
  const own = await rows<Note>(
    db,
    `SELECT ${COLUMNS} ${NOTES} WHERE n.take_id IN (:takeIds) AND ${IN_ORDER}`,
    { takeIds },
  );
  return inPlace(own, await sharedNotesOf(db, takeIds));
}

/** Those of all takes of some sittings that were noted on these takes themselves: asked while the takes are. */
export async function ownNotesIn(db: Queryable, which: WhichSittings): Promise<Note[]> {
  const these = among('t.sitting_id', which);
  if (!these) return [];
  return rows<Note>(
    db,
    `SELECT ${COLUMNS} ${NOTES} JOIN takes t ON t.id = n.take_id WHERE ${these.sql} AND ${IN_ORDER}`,
    these.values,
  );
}

/** What was noted on the recordings that some takes were given as one with. @param jointIds of such takes */
export async function sharedNotesOf(db: Queryable, jointIds: readonly string[]): Promise<Note[]> {
  if (jointIds.length === 0) return [];
  return rows<Note>(
    db,
    `SELECT ${COLUMNS.replace('n.take_id AS takeId', 't.id AS takeId')} ${NOTES}
       JOIN joint_people l ON l.take_id = n.take_id
       JOIN joint_answers j ON j.id = l.joint_id AND j.lead_id = l.person_id AND j.apart = 0
       JOIN takes t ON t.joint_id = j.id AND t.id <> n.take_id
     WHERE t.id IN (:jointIds) AND ${IN_ORDER}`,
    { jointIds },
  );
}

/** One's own and shared notes, by their places. */
export function inPlace(own: readonly Note[], shared: readonly Note[]): Note[] {
  return shared.length === 0 ? [...own] : [...own, ...shared].sort((a, b) => a.fromMs - b.fromMs);
}

/** The newest wording of a note, also one that was taken away. */
export async function newestOf(
  db: Queryable,
  id: string,
): Promise<(Note & { inForce: number | null }) | null> {
  return row<Note & { inForce: number | null }>(
    db,
    `SELECT ${COLUMNS}, n.in_force AS inForce ${NOTES} WHERE n.id = :id ORDER BY n.revision DESC LIMIT 1`,
    { id },
  );
}

export async function supersede(db: Queryable, id: string): Promise<void> {
  await execute(db, 'UPDATE notes SET superseded_at = UTC_TIMESTAMP(3) WHERE id = :id AND in_force = 1', {
    id,
  });
}

export async function insertNote(
  db: Queryable,
  note: Omit<Note, 'authorName' | 'voiceMs' | 'voiceState'> & { authorId: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO notes (id, revision, take_id, from_ms, to_ms, words, voice_id, author_id, created_at)
     VALUES (:id, :revision, :takeId, :fromMs, :toMs, :words, :voiceId, :authorId, UTC_TIMESTAMP(3))`,
    note,
  );
}

/** The take that a spoken note is about, by the note's recording. */
export async function takeOfVoice(db: Queryable, recordingId: string): Promise<string | null> {
  const found = await row<{ takeId: string }>(
    db,
    'SELECT take_id AS takeId FROM notes WHERE voice_id = :recordingId LIMIT 1',
    { recordingId },
  );
  return found?.takeId ?? null;
}
