/** Turns of those who speak one after the other, and whom an item can be answered with. */
import type { Companion } from '@ecoute/contract/together';
import type { RecordingState } from '@ecoute/contract/recordings';
import { row, rows, execute, type Queryable } from '../../platform/database';

/** Everybody else whom a release is for, by name; guests are with guests of the same link alone, and nobody else with them. */
export async function companionsOf(db: Queryable, releaseId: string, personId: string): Promise<Companion[]> {
  const found = await rows<Omit<Companion, 'handedIn'> & { handedIn: number }>(
    db,
    `SELECT n.id, n.display_name AS displayName,
       EXISTS (SELECT 1 FROM sittings s WHERE s.release_id = p.release_id AND s.student_id = p.person_id
         AND s.handed_in_at IS NOT NULL AND s.asked_again_at IS NULL AND s.set_aside_at IS NULL)
       AND NOT EXISTS (SELECT 1 FROM sittings s WHERE s.release_id = p.release_id AND s.student_id = p.person_id
         AND s.handed_in_at IS NULL AND s.set_aside_at IS NULL) AS handedIn
     FROM participants p JOIN people n ON n.id = p.person_id AND n.closed_at IS NULL
       JOIN people l ON l.id = :personId AND n.guest_link_id <=> l.guest_link_id
     WHERE p.release_id = :releaseId AND p.person_id <> :personId ORDER BY n.display_name, n.id LIMIT 500`,
    { releaseId, personId },
  );
  return found.map(f => ({ ...f, handedIn: Boolean(f.handedIn) }));
}

export interface TurnRow {
  id: string;
  jointId: string;
  personId: string;
  number: number;
  durationMs: number | null;
  state: RecordingState;
}

export async function turnsOf(db: Queryable, jointIds: readonly string[]): Promise<TurnRow[]> {
  if (jointIds.length === 0) return [];
  return rows<TurnRow>(
    db,
    `SELECT t.id, t.joint_id AS jointId, t.person_id AS personId, t.number, r.duration_ms AS durationMs, r.state
     FROM joint_turns t JOIN recordings r ON r.id = t.id WHERE t.joint_id IN (:jointIds) ORDER BY t.joint_id, t.number`,
    { jointIds },
  );
}

export async function jointOfTurn(db: Queryable, recordingId: string): Promise<string | null> {
  const found = await row<{ id: string }>(
    db,
    'SELECT joint_id AS id FROM joint_turns WHERE id = :recordingId',
    { recordingId },
  );
  return found?.id ?? null;
}

/** The joint answer whose lead's recording this is. */
export async function jointLedBy(db: Queryable, takeId: string): Promise<string | null> {
  const found = await row<{ id: string }>(
    db,
    `SELECT j.id FROM joint_answers j JOIN joint_people p ON p.joint_id = j.id AND p.person_id = j.lead_id
     WHERE p.take_id = :takeId`,
    { takeId },
  );
  return found?.id ?? null;
}

export async function insertTurn(
  db: Queryable,
  turn: { id: string; jointId: string; personId: string; number: number },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO joint_turns (id, joint_id, person_id, number, given_at)
     VALUES (:id, :jointId, :personId, :number, UTC_TIMESTAMP(3))`,
    turn,
  );
}

/** A turn whose sound could not be heard is spoken again. */
export async function removeTurn(db: Queryable, id: string): Promise<void> {
  await execute(db, 'DELETE FROM joint_turns WHERE id = :id', { id });
}

/** Nobody speaks any more, or goes on. */
export async function setEnded(db: Queryable, id: string, ended: boolean): Promise<void> {
  await execute(
    db,
    'UPDATE joint_answers SET ended_at = IF(:ended, COALESCE(ended_at, UTC_TIMESTAMP(3)), NULL) WHERE id = :id',
    { id, ended },
  );
}

/** Its turns are one recording. @param stretches who speaks from when to when */
export async function setJoined(
  db: Queryable,
  id: string,
  stretches: readonly { personId: string; fromMs: number; toMs: number }[],
): Promise<void> {
  await execute(
    db,
    'UPDATE joint_answers SET joined_at = UTC_TIMESTAMP(3), stretches = :stretches WHERE id = :id',
    { id, stretches: JSON.stringify(stretches) },
  );
}

/** Begun by mistake: nobody has spoken. */
export async function removeJoint(db: Queryable, id: string): Promise<void> {
  await execute(
    db,
    `DELETE FROM joint_answers WHERE id = :id AND way = 'turns'
       AND NOT EXISTS (SELECT 1 FROM joint_turns t WHERE t.joint_id = :id)`,
    { id },
  );
}

/** Runs of turns with one release that somebody speaks in, oldest first. */
export async function runsWith(db: Queryable, releaseId: string, personId: string): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT j.id FROM joint_answers j JOIN joint_people p ON p.joint_id = j.id
     WHERE j.release_id = :releaseId AND p.person_id = :personId AND p.left_at IS NULL AND j.way = 'turns'
     ORDER BY j.made_at, j.id LIMIT 200`,
    { releaseId, personId },
  );
  return found.map(f => f.id);
}

/**
 * Runs that nobody has ended, of releases that are over for everybody who speaks in them: closed, or late for a week without
 * another turn.
 */
export async function leftOpen(db: Queryable): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT j.id FROM joint_answers j JOIN releases r ON r.id = j.release_id
     WHERE j.way = 'turns' AND j.ended_at IS NULL AND r.due_at < UTC_TIMESTAMP(3)
       AND NOT EXISTS (SELECT 1 FROM joint_people p JOIN participants x ON x.release_id = j.release_id AND x.person_id = p.person_id
         WHERE p.joint_id = j.id AND x.due_at > UTC_TIMESTAMP(3))
       AND (r.late_accepted = 0 OR r.closes_at < UTC_TIMESTAMP(3) OR GREATEST(j.made_at, r.due_at, COALESCE(
         (SELECT MAX(t.given_at) FROM joint_turns t WHERE t.joint_id = j.id), j.made_at)) < UTC_TIMESTAMP(3) - INTERVAL 7 DAY)
     LIMIT 200`,
  );
  return found.map(f => f.id);
}

/** Who of some people speaks in a run of an item that goes on. */
export async function busyWith(
  db: Queryable,
  { releaseId, itemId, personIds }: { releaseId: string; itemId: string; personIds: readonly string[] },
): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT DISTINCT p.person_id AS id FROM joint_answers j JOIN joint_people p ON p.joint_id = j.id
     WHERE j.release_id = :releaseId AND j.item_id = :itemId AND j.way = 'turns' AND j.ended_at IS NULL
       AND p.left_at IS NULL AND p.person_id IN (:personIds)`,
    { releaseId, itemId, personIds },
  );
  return found.map(f => f.id);
}

/** Holds some people's places in a release until the transaction ends, so that two who begin at once see each other. */
export async function holdParticipants(
  db: Queryable,
  releaseId: string,
  personIds: readonly string[],
): Promise<void> {
  await rows(
    db,
    'SELECT person_id FROM participants WHERE release_id = :releaseId AND person_id IN (:personIds) ORDER BY person_id FOR UPDATE',
    { releaseId, personIds },
  );
}

/** Runs that are over, and are not one recording yet, without anything to wait for; and answers of one device that some lack. */
export async function unfinished(db: Queryable): Promise<{ id: string; way: 'oneDevice' | 'turns' }[]> {
  return rows(
    db,
    `SELECT j.id, j.way FROM joint_answers j WHERE j.made_at > UTC_TIMESTAMP(3) - INTERVAL 30 DAY AND (
       (j.way = 'turns' AND j.ended_at IS NOT NULL AND (j.joined_at IS NULL OR EXISTS (
         SELECT 1 FROM joint_people p WHERE p.joint_id = j.id AND p.take_id IS NULL AND p.left_at IS NULL AND p.missed IS NULL)))
       OR (j.way = 'oneDevice' AND EXISTS (
         SELECT 1 FROM joint_people l JOIN takes t ON t.id = l.take_id JOIN sittings s ON s.id = t.sitting_id
         WHERE l.joint_id = j.id AND l.person_id = j.lead_id AND LOCATE(CAST(t.id AS CHAR(36)), s.receipt) > 0)
         AND EXISTS (SELECT 1 FROM joint_people p LEFT JOIN recordings r ON r.id = p.take_id
           WHERE p.joint_id = j.id AND p.left_at IS NULL AND p.missed IS NULL
             AND (p.take_id IS NULL OR r.state = 'arriving')))) LIMIT 200`,
  );
}
