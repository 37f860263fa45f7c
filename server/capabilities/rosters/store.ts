import { signInKey } from '@ecoute/core/formats/roster';
import type { ImportChoices, ImportView, Subject } from '@ecoute/contract/classes';
import { row, rows, execute, type Queryable } from '../../platform/database';
import type { Read } from './read';

export interface ImportRecord {
  id: string;
  ownerId: string;
  classId: string | null;
  kind: 'list' | 'oneRoster';
  fileName: string;
  read: Read;
  choices: ImportChoices;
  state: ImportView['state'];
  done: number;
  total: number;
  report: Pick<ImportView, 'counts' | 'rows' | 'classes'> | null;
}

export async function insertImport(
  db: Queryable,
  made: Pick<ImportRecord, 'id' | 'ownerId' | 'classId' | 'fileName' | 'read' | 'choices'>,
): Promise<void> {
  const { read, choices, ...rest } = made;
  await execute(
    db,
    `INSERT INTO imports (id, owner_id, class_id, kind, file_name, content, choices, state, created_at)
     VALUES (:id, :ownerId, :classId, :kind, :fileName, :content, :choices, 'planned', UTC_TIMESTAMP(3))`,
    { ...rest, kind: read.kind, content: JSON.stringify(read), choices: JSON.stringify(choices) },
  );
}

export async function findImport(db: Queryable, id: string): Promise<ImportRecord | null> {
  const found = await row<
    Omit<ImportRecord, 'read' | 'choices' | 'report'> & {
      content: string;
      choices: string;
      report: string | null;
    }
  >(
    db,
    `SELECT id, owner_id AS ownerId, class_id AS classId, kind, file_name AS fileName, content, choices, state, done,
       total, report FROM imports WHERE id = :id`,
    { id },
  );
  if (!found) return null;
  const { content, choices, report, ...rest } = found;
  return {
    ...rest,
    read: JSON.parse(content) as Read,
    choices: JSON.parse(choices) as ImportChoices,
    report: report ? (JSON.parse(report) as ImportRecord['report']) : null,
  };
}

export async function changeChoices(db: Queryable, id: string, choices: ImportChoices): Promise<void> {
  await execute(db, "UPDATE imports SET choices = :choices WHERE id = :id AND state = 'planned'", {
    id,
    choices: JSON.stringify(choices),
  });
}

/** Moves an import from one state to the next; false when it was not in that state any more. */
export async function move(
  db: Queryable,
  id: string,
  from: ImportView['state'][],
  to: ImportView['state'],
): Promise<boolean> {
  return (
    (await execute(db, 'UPDATE imports SET state = :to WHERE id = :id AND state IN (:from)', {
      id,
      from,
      to,
    })) === 1
  );
}

export async function stateOf(db: Queryable, id: string): Promise<ImportView['state'] | null> {
  return (
    (await row<{ state: ImportView['state'] }>(db, 'SELECT state FROM imports WHERE id = :id', { id }))
      ?.state ?? null
  );
}

export async function progress(db: Queryable, id: string, done: number, total: number): Promise<void> {
  await execute(db, 'UPDATE imports SET done = :done, total = :total WHERE id = :id', { id, done, total });
}

/** Keeps what came of it, and forgets the file. */
export async function keepReport(
  db: Queryable,
  id: string,
  report: NonNullable<ImportRecord['report']>,
): Promise<void> {
  await execute(
    db,
    `UPDATE imports SET report = :report, content = '{"kind":"list","rows":[]}' WHERE id = :id`,
    {
      id,
      report: JSON.stringify(report),
    },
  );
}

/** Lists that nobody confirmed are kept for a week. */
export async function forgetOld(db: Queryable): Promise<void> {
  await execute(db, 'DELETE FROM imports WHERE created_at < UTC_TIMESTAMP(3) - INTERVAL 7 DAY');
}

export interface KnownPerson {
  id: string;
  displayName: string;
  signInName: string;
  email: string | null;
  externalId: string | null;
  role: 'teacher' | 'student';
}

const AT_ONCE = 1_000;

/** Those who are here already, by any of what tells people apart. */
export async function knownPeople(
  db: Queryable,
  by: { externalIds: string[]; signInNames: string[]; emails: string[] },
): Promise<KnownPerson[]> {
  const found: KnownPerson[] = [];
  for (const [column, values] of [
    ['external_id', by.externalIds],
    ['sign_in_name', by.signInNames],
    ['email', by.emails],
  ] as const)
    for (let i = 0; i < values.length; i += AT_ONCE)
      found.push(
        ...(await rows<KnownPerson>(
          db,
          `SELECT id, display_name AS displayName, sign_in_name AS signInName, email, external_id AS externalId, role
           FROM people WHERE ${column} IN (:values)`,
          { values: values.slice(i, i + AT_ONCE) },
        )),
      );
  return found;
}

export async function allSignInNames(db: Queryable): Promise<Set<string>> {
  return new Set(
    (await rows<{ name: string }>(db, 'SELECT sign_in_name AS name FROM people')).map(p => p.name),
  );
}

/** Classes that somebody plans for, by name; those brought from the school's system by its id as well. */
export async function classesFor(
  db: Queryable,
  personId: string,
): Promise<{ id: string; name: string; externalId: string | null }[]> {
  return rows(
    db,
    `SELECT c.id, c.name, c.external_id AS externalId FROM class_members m JOIN classes c ON c.id = m.class_id
     WHERE m.person_id = :personId AND m.role IN ('teacher', 'coordinator')`,
    { personId },
  );
}

/** Ids of classes by what the school's system calls them, whoever teaches them. */
export async function classesByExternalId(
  db: Queryable,
  ids: readonly string[],
): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const found = await rows<{ id: string; externalId: string }>(
    db,
    'SELECT id, external_id AS externalId FROM classes WHERE external_id IN (:ids)',
    { ids },
  );
  return new Map(found.map(f => [f.externalId, f.id]));
}

export async function membersIn(
  db: Queryable,
  classIds: readonly string[],
): Promise<{ classId: string; personId: string; displayName: string }[]> {
  if (classIds.length === 0) return [];
  return rows(
    db,
    `SELECT m.class_id AS classId, m.person_id AS personId, p.display_name AS displayName
     FROM class_members m JOIN people p ON p.id = m.person_id WHERE m.class_id IN (:classIds)`,
    { classIds },
  );
}

export async function insertPeople(
  db: Queryable,
  people: readonly (Omit<KnownPerson, 'externalId'> & { externalId: string | null })[],
  madeBy: string,
): Promise<void> {
  if (people.length === 0) return;
  const now = new Date();
  await db.query(
    'INSERT INTO people (id, sign_in_name, display_name, role, password_hash, email, external_id, made_by, created_at) VALUES ?',
    [
      people.map(p => [
        p.id,
        signInKey(p.signInName),
        p.displayName,
        p.role,
        null,
        p.email,
        p.externalId,
        madeBy,
        now,
      ]),
    ],
  );
}

/** Those of some classes that somebody teaches. */
export async function taughtOf(
  db: Queryable,
  personId: string,
  classIds: readonly string[],
): Promise<string[]> {
  if (classIds.length === 0) return [];
  const found = await rows<{ id: string }>(
    db,
    "SELECT class_id AS id FROM class_members WHERE person_id = :personId AND role = 'teacher' AND class_id IN (:classIds)",
    { personId, classIds },
  );
  return found.map(f => f.id);
}

/** Whose list it is, and which class it is for. */
export async function ownerAndClassOf(
  db: Queryable,
  id: string,
): Promise<{ ownerId: string; classId: string | null } | null> {
  return row(db, 'SELECT owner_id AS ownerId, class_id AS classId FROM imports WHERE id = :id', {
    id,
  });
}

export async function insertMembers(
  db: Queryable,
  members: readonly { classId: string; personId: string; role: string }[],
): Promise<void> {
  if (members.length === 0) return;
  await db.query('INSERT IGNORE INTO class_members (class_id, person_id, role) VALUES ?', [
    members.map(m => [m.classId, m.personId, m.role]),
  ]);
}

/** A group of a class by its name; made where there is none. */
export async function ensureGroup(db: Queryable, id: string, classId: string, name: string): Promise<string> {
  await execute(
    db,
    `INSERT IGNORE INTO class_groups (id, class_id, name, created_at) VALUES (:id, :classId, :name, UTC_TIMESTAMP(3))`,
    { id, classId, name },
  );
  return (await row<{ id: string }>(
    db,
    'SELECT id FROM class_groups WHERE class_id = :classId AND name = :name',
    {
      classId,
      name,
    },
  ))!.id;
}

export interface ExportRow {
  classId: string;
  className: string;
  subject: Subject;
  id: string;
  displayName: string;
  signInName: string;
  email: string | null;
  externalId: string | null;
  role: 'teacher' | 'student' | 'coordinator';
  groups: string | null;
  arrangement: string | null;
}

/** Everybody of some classes, for a list that goes out. */
export async function peopleOf(db: Queryable, classIds: readonly string[]): Promise<ExportRow[]> {
  if (classIds.length === 0) return [];
  return rows<ExportRow>(
    db,
    `SELECT c.id AS classId, c.name AS className, c.subject, p.id, p.display_name AS displayName,
       p.sign_in_name AS signInName, p.email, p.external_id AS externalId, m.role, a.arrangement,
       (SELECT GROUP_CONCAT(g.name ORDER BY g.name SEPARATOR ', ') FROM class_groups g
          JOIN class_group_members x ON x.group_id = g.id WHERE g.class_id = c.id AND x.person_id = p.id) AS \`groups\`
     FROM classes c JOIN class_members m ON m.class_id = c.id JOIN people p ON p.id = m.person_id
       LEFT JOIN arrangements a ON a.person_id = p.id
     WHERE c.id IN (:classIds) ORDER BY c.name, m.role, p.display_name, p.id`,
    { classIds },
  );
}
