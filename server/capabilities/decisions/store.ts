import type { DecisionKind } from '@ecoute/contract/decisions';
import type { Exception } from '@ecoute/core/timing/sittingState';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface DecisionRow {
  id: string;
  releaseId: string;
  personId: string;
  sittingId: string | null;
  kind: DecisionKind;
  reason: string;
  before: Exception;
  after: Exception;
  studentName: string;
  madeBy: string;
  madeAt: Date;
  undoneBy: string | null;
  undoneAt: Date | null;
}

type Raw = Omit<DecisionRow, 'before' | 'after'> & { before: string; after: string };

const DECISION = `SELECT d.id, d.release_id AS releaseId, d.person_id AS personId, d.sitting_id AS sittingId, d.kind, d.reason,
    d.exception_before AS \`before\`, d.exception_after AS \`after\`, s.display_name AS studentName, m.display_name AS madeBy,
    d.made_at AS madeAt, u.display_name AS undoneBy, d.undone_at AS undoneAt
  FROM decisions d JOIN people s ON s.id = d.person_id JOIN people m ON m.id = d.made_by
    LEFT JOIN people u ON u.id = d.undone_by`;

const read = (raw: Raw): DecisionRow => ({
  ...raw,
  before: JSON.parse(raw.before) as Exception,
  after: JSON.parse(raw.after) as Exception,
});

/** The decisions of a release, newest first. */
export async function decisionsOf(db: Queryable, releaseId: string): Promise<DecisionRow[]> {
  const found = await rows<Raw>(
    db,
    `${DECISION} WHERE d.release_id = :releaseId ORDER BY d.made_at DESC, d.id LIMIT 500`,
    { releaseId },
  );
  return found.map(read);
}

export async function findDecision(db: Queryable, id: string): Promise<DecisionRow | null> {
  const found = await row<Raw>(db, `${DECISION} WHERE d.id = :id FOR UPDATE`, { id });
  return found && read(found);
}

/** Why sittings are to be recorded again, or are set aside, by sitting; only what was not undone. */
export async function reasonsOf(
  db: Queryable,
  kind: 'askAgain' | 'setAside',
  sittingIds: readonly string[],
): Promise<Map<string, string>> {
  if (sittingIds.length === 0) return new Map();
  const found = await rows<{ sittingId: string; reason: string }>(
    db,
    `SELECT sitting_id AS sittingId, reason FROM decisions
     WHERE kind = :kind AND undone_at IS NULL AND sitting_id IN (:sittingIds) ORDER BY made_at`,
    { kind, sittingIds },
  );
  return new Map(found.map(f => [f.sittingId, f.reason]));
}

export async function insertDecision(
  db: Queryable,
  made: Pick<DecisionRow, 'id' | 'releaseId' | 'personId' | 'sittingId' | 'kind' | 'reason'> & {
    before: Exception;
    after: Exception;
    by: string;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO decisions (id, release_id, person_id, sitting_id, kind, reason, exception_before, exception_after, made_by, made_at)
     VALUES (:id, :releaseId, :personId, :sittingId, :kind, :reason, :before, :after, :by, UTC_TIMESTAMP(3))`,
    { ...made, before: JSON.stringify(made.before), after: JSON.stringify(made.after) },
  );
}

export async function undo(db: Queryable, id: string, by: string): Promise<void> {
  await execute(db, 'UPDATE decisions SET undone_at = UTC_TIMESTAMP(3), undone_by = :by WHERE id = :id', {
    id,
    by,
  });
}

/** What is handed in keeps the time that it was due at; what comes later has a later one. */
export async function keepDueWas(
  db: Queryable,
  of: { releaseId: string; personId: string },
  dueAtMs: number,
): Promise<void> {
  await execute(
    db,
    `UPDATE sittings SET due_was = :dueAt WHERE release_id = :releaseId AND student_id = :personId
       AND handed_in_at IS NOT NULL AND due_was IS NULL`,
    { ...of, dueAt: new Date(dueAtMs) },
  );
}

/** The same again once the later time is taken back. */
export async function forgetDueWas(
  db: Queryable,
  of: { releaseId: string; personId: string },
  dueAtMs: number,
): Promise<void> {
  await execute(
    db,
    `UPDATE sittings SET due_was = NULL WHERE release_id = :releaseId AND student_id = :personId AND due_was = :dueAt`,
    { ...of, dueAt: new Date(dueAtMs) },
  );
}

const FLAG = {
  askAgain: 'asked_again_at',
  setAside: 'set_aside_at',
  acceptLate: 'late_accepted_at',
  showNotes: 'notes_shown_at',
} as const;

/** Flags a sitting, or takes the flag away. */
export async function flagSitting(
  db: Queryable,
  sittingId: string,
  kind: keyof typeof FLAG,
  on: boolean,
): Promise<void> {
  await execute(
    db,
    `UPDATE sittings SET ${FLAG[kind]} = ${on ? 'UTC_TIMESTAMP(3)' : 'NULL'} WHERE id = :sittingId`,
    { sittingId },
  );
}

/** What of a sitting is to be recorded again, and why; null for all of it. */
export async function keepAsked(
  db: Queryable,
  sittingId: string,
  itemIds: readonly string[] | null,
  reason: string,
): Promise<void> {
  await execute(db, 'UPDATE sittings SET asked_items = :items, asked_for = :reason WHERE id = :sittingId', {
    sittingId,
    items: itemIds && JSON.stringify(itemIds),
    reason,
  });
}

/** Who sat a sitting of a release; null for one that is none of it. */
export async function studentOf(db: Queryable, releaseId: string, sittingId: string): Promise<string | null> {
  const found = await row<{ studentId: string }>(
    db,
    'SELECT student_id AS studentId FROM sittings WHERE id = :sittingId AND release_id = :releaseId',
    { releaseId, sittingId },
  );
  return found?.studentId ?? null;
}
