import { rows, execute, type Queryable } from '../database';

/** What concerns safety and is remembered for a year. */
export type SafetyKind =
  | 'signedIn'
  | 'passwordChanged'
  | 'codeMade'
  | 'nameCorrected'
  | 'addressCorrected'
  | 'codeUsed'
  | 'sessionsEnded'
  | 'adminNamed'
  | 'adminUnnamed'
  | 'accountMade'
  | 'accountClosed'
  | 'accountOpened'
  | 'recordingsTakenOut'
  | 'familyAddressAdded'
  | 'namedAdult'
  | 'unnamedAdult';

/** Notes what happened to whom, and by whom where it was somebody else. @param detail no names, answers or passwords */
export async function noteSafety(
  db: Queryable,
  {
    kind,
    personId,
    byId = null,
    detail = '',
  }: { kind: SafetyKind; personId: string | null; byId?: string | null; detail?: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO security_log (at, kind, person_id, by_id, detail) VALUES (UTC_TIMESTAMP(3), :kind, :personId, :byId, :detail)`,
    { kind, personId, byId, detail: detail.slice(0, 300) },
  );
}

export interface SafetyRow {
  id: number;
  at: Date;
  kind: SafetyKind;
  person: string | null;
  by: string | null;
  detail: string;
}

/** What happened, newest first. @param before only what is older than this id */
export async function safetyLog(db: Queryable, before: number | null, most = 100): Promise<SafetyRow[]> {
  return rows(
    db,
    `SELECT l.id, l.at, l.kind, p.display_name AS person, b.display_name AS \`by\`, l.detail
     FROM security_log l LEFT JOIN people p ON p.id = l.person_id LEFT JOIN people b ON b.id = l.by_id
     WHERE (:before IS NULL OR l.id < :before) ORDER BY l.id DESC LIMIT :most`,
    { before, most },
  );
}

/** What concerns one person since an instant, by others. */
export async function doneTo(db: Queryable, personId: string, since: Date): Promise<SafetyRow[]> {
  return rows(
    db,
    `SELECT l.id, l.at, l.kind, NULL AS person, b.display_name AS \`by\`, l.detail
     FROM security_log l LEFT JOIN people b ON b.id = l.by_id
     WHERE l.person_id = :personId AND l.at > :since AND l.by_id IS NOT NULL AND l.by_id <> :personId
     ORDER BY l.id DESC LIMIT 20`,
    { personId, since },
  );
}

/** Lets go of what is older than a year. */
export async function forgetSafety(db: Queryable): Promise<void> {
  await execute(db, 'DELETE FROM security_log WHERE at < UTC_TIMESTAMP(3) - INTERVAL 366 DAY LIMIT 10000');
}
