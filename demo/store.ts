import { execute, type Queryable } from '../server/platform/database';

/** The only statements that the demo world needs beyond the capabilities' own: they place things in the past. */

export async function placeRelease(db: Queryable, id: string, opensAt: Date, dueAt: Date): Promise<void> {
  await execute(
    db,
    'UPDATE releases SET opens_at = :opensAt, due_at = :dueAt, created_at = :opensAt WHERE id = :id',
    { id, opensAt, dueAt },
  );
}

export async function placeSitting(
  db: Queryable,
  id: string,
  times: {
    beganAt: Date;
    handedInAt: Date | null;
    receipt: string | null;
    feedbackAt: Date | null;
    feedbackBy: string | null;
  },
): Promise<void> {
  await execute(
    db,
    `UPDATE sittings SET began_at = :beganAt, handed_in_at = :handedInAt, receipt = :receipt, feedback_at = :feedbackAt,
       feedback_by = :feedbackBy WHERE id = :id`,
    { id, ...times },
  );
}

export async function placeRecording(db: Queryable, id: string, createdAt: Date): Promise<void> {
  await execute(db, 'UPDATE recordings SET created_at = :createdAt WHERE id = :id', { id, createdAt });
}

export async function placeContribution(db: Queryable, id: string, at: Date): Promise<void> {
  await execute(
    db,
    'UPDATE contributions SET made_at = :at, put_in_at = :at, let_in_at = :at WHERE id = :id',
    { id, at },
  );
}

/** Moves what was said to a class to the time at which it was said. */
export async function placeMessage(db: Queryable, id: string, at: Date): Promise<void> {
  await execute(db, 'UPDATE spoken_messages SET made_at = :at, sent_at = :at WHERE id = :id', { id, at });
}
