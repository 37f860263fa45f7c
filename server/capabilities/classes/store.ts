import type { ClassRole, ClassSummary, Member, Subject } from '@ecoute/contract/classes';
import { ORDINARY, type Arrangement } from '@ecoute/core/timing/arrangements';
import { row, rows, execute, type Queryable } from '../../platform/database';

/** @param isAway those that were put away instead of those in use */
export async function classesOf(db: Queryable, teacherId: string, isAway = false): Promise<ClassSummary[]> {
  const found = await rows<
    Omit<ClassSummary, 'teachers' | 'groups' | 'putAwayAt'> & {
      teachers: string | null;
      putAwayAt: Date | null;
    }
  >(
    db,
    `SELECT c.id, c.name, c.subject, c.put_away_at AS putAwayAt,
       (SELECT COUNT(*) FROM class_members s WHERE s.class_id = c.id AND s.role = 'student') AS students,
       (SELECT GROUP_CONCAT(p.display_name ORDER BY p.display_name SEPARATOR '\\n') FROM class_members t
          JOIN people p ON p.id = t.person_id WHERE t.class_id = c.id AND t.role = 'teacher') AS teachers
     FROM class_members m JOIN classes c ON c.id = m.class_id
     WHERE m.person_id = :teacherId AND m.role IN ('teacher', 'coordinator')
       AND (c.put_away_at IS NOT NULL) = :isAway
     ORDER BY c.name LIMIT 1000`,
    { teacherId, isAway },
  );
  const groups = await groupsOf(
    db,
    found.map(c => c.id),
  );
  return found.map(c => ({
    ...c,
    putAwayAt: c.putAwayAt?.toISOString() ?? null,
    students: Number(c.students),
    teachers: c.teachers?.split('\n') ?? [],
    groups: groups
      .filter(g => g.classId === c.id)
      .map(({ id, name, students }) => ({ id, name, students: Number(students) })),
  }));
}

export interface GroupRow {
  id: string;
  classId: string;
  name: string;
  students: number;
}

export async function groupsOf(db: Queryable, classIds: readonly string[]): Promise<GroupRow[]> {
  if (classIds.length === 0) return [];
  return rows<GroupRow>(
    db,
    `SELECT g.id, g.class_id AS classId, g.name,
       (SELECT COUNT(*) FROM class_group_members m WHERE m.group_id = g.id) AS students
     FROM class_groups g WHERE g.class_id IN (:classIds) ORDER BY g.name`,
    { classIds },
  );
}

export async function findClass(db: Queryable, id: string) {
  return row<{ id: string; name: string; subject: Subject; putAwayAt: Date | null }>(
    db,
    'SELECT id, name, subject, put_away_at AS putAwayAt FROM classes WHERE id = :id',
    { id },
  );
}

export async function putClassAway(db: Queryable, id: string, away: boolean): Promise<void> {
  await execute(
    db,
    'UPDATE classes SET put_away_at = IF(:away, COALESCE(put_away_at, UTC_TIMESTAMP(3)), NULL) WHERE id = :id',
    { id, away },
  );
}

export async function membersOf(db: Queryable, classId: string): Promise<Member[]> {
  const found = await rows<
    Omit<Member, 'hasSignIn' | 'hasSlip' | 'codeUntil' | 'groupIds' | 'arrangement'> & {
      hasSignIn: number;
      hasSlip: number;
      codeUntil: Date | null;
      arrangement: string | null;
    }
  >(
    db,
    `SELECT p.id, p.display_name AS displayName, COALESCE(p.called, '') AS called, p.sign_in_name AS signInName, p.email, m.role,
       p.password_hash IS NOT NULL AS hasSignIn, IF(f.expires_at > UTC_TIMESTAMP(3), f.expires_at, NULL) AS codeUntil,
       l.person_id IS NOT NULL AS hasSlip, a.arrangement,
       (SELECT COUNT(*) FROM family_addresses y WHERE y.student_id = p.id AND y.ended_at IS NULL) AS families
     FROM class_members m JOIN people p ON p.id = m.person_id
       LEFT JOIN first_codes f ON f.person_id = p.id LEFT JOIN arrangements a ON a.person_id = p.id
       LEFT JOIN sign_in_slips l ON l.person_id = p.id
     WHERE m.class_id = :classId ORDER BY m.role, p.display_name, p.id`,
    { classId },
  );
  const inGroups = await rows<{ groupId: string; personId: string }>(
    db,
    `SELECT m.group_id AS groupId, m.person_id AS personId FROM class_groups g
       JOIN class_group_members m ON m.group_id = g.id WHERE g.class_id = :classId`,
    { classId },
  );
  const groups = new Map<string, string[]>();
  for (const { groupId, personId } of inGroups)
    groups.set(personId, [...(groups.get(personId) ?? []), groupId]);
  return found.map(m => ({
    ...m,
    hasSignIn: Boolean(m.hasSignIn),
    hasSlip: Boolean(m.hasSlip),
    families: Number(m.families),
    codeUntil: m.codeUntil?.toISOString() ?? null,
    groupIds: groups.get(m.id) ?? [],
    arrangement: { ...ORDINARY, ...(m.arrangement ? (JSON.parse(m.arrangement) as Arrangement) : {}) },
  }));
}

export async function insertClass(
  db: Queryable,
  made: { id: string; name: string; subject: Subject; externalId?: string | null },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO classes (id, name, subject, external_id, created_at)
     VALUES (:id, :name, :subject, :externalId, UTC_TIMESTAMP(3))`,
    { externalId: null, ...made },
  );
}

export async function changeClass(
  db: Queryable,
  changed: { id: string; name: string; subject: Subject },
): Promise<void> {
  await execute(db, 'UPDATE classes SET name = :name, subject = :subject WHERE id = :id', changed);
}

export async function addMember(
  db: Queryable,
  member: { classId: string; personId: string; role: ClassRole },
): Promise<void> {
  await execute(
    db,
    'INSERT INTO class_members (class_id, person_id, role) VALUES (:classId, :personId, :role)',
    member,
  );
}

export async function roleIn(db: Queryable, classId: string, personId: string): Promise<ClassRole | null> {
  const found = await row<{ role: ClassRole }>(
    db,
    'SELECT role FROM class_members WHERE class_id = :classId AND person_id = :personId',
    { classId, personId },
  );
  return found?.role ?? null;
}

export async function countTeachers(db: Queryable, classId: string): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    "SELECT COUNT(*) AS n FROM class_members WHERE class_id = :classId AND role = 'teacher'",
    { classId },
  );
  return Number(found!.n);
}

export async function removeMember(db: Queryable, classId: string, personId: string): Promise<void> {
  await execute(
    db,
    `DELETE m FROM class_group_members m JOIN class_groups g ON g.id = m.group_id
     WHERE g.class_id = :classId AND m.person_id = :personId`,
    { classId, personId },
  );
  await execute(db, 'DELETE FROM class_members WHERE class_id = :classId AND person_id = :personId', {
    classId,
    personId,
  });
}

export async function insertGroup(
  db: Queryable,
  made: { id: string; classId: string; name: string },
): Promise<void> {
  await execute(
    db,
    'INSERT INTO class_groups (id, class_id, name, created_at) VALUES (:id, :classId, :name, UTC_TIMESTAMP(3))',
    made,
  );
}

export async function renameGroup(db: Queryable, id: string, name: string): Promise<void> {
  await execute(db, 'UPDATE class_groups SET name = :name WHERE id = :id', { id, name });
}

/** Whether anything was ever released to a group: such a group stays. */
export async function groupHasReleases(db: Queryable, id: string): Promise<boolean> {
  return (await row(db, 'SELECT 1 FROM releases WHERE group_id = :id LIMIT 1', { id })) !== null;
}

export async function removeGroup(db: Queryable, id: string): Promise<void> {
  await execute(db, 'DELETE FROM class_groups WHERE id = :id', { id });
}

export async function groupMembers(db: Queryable, groupId: string): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    'SELECT person_id AS id FROM class_group_members WHERE group_id = :groupId',
    { groupId },
  );
  return found.map(f => f.id);
}

/** Puts students of the class into a group. */
export async function addToGroup(
  db: Queryable,
  groupId: string,
  classId: string,
  personIds: readonly string[],
): Promise<void> {
  if (personIds.length === 0) return;
  await execute(
    db,
    `INSERT IGNORE INTO class_group_members (group_id, person_id)
     SELECT :groupId, person_id FROM class_members WHERE class_id = :classId AND role = 'student' AND person_id IN (:personIds)`,
    { groupId, classId, personIds },
  );
}

export async function removeFromGroup(
  db: Queryable,
  groupId: string,
  personIds: readonly string[],
): Promise<void> {
  if (personIds.length === 0) return;
  await execute(
    db,
    'DELETE FROM class_group_members WHERE group_id = :groupId AND person_id IN (:personIds)',
    {
      groupId,
      personIds,
    },
  );
}

export async function setArrangement(
  db: Queryable,
  set: { personId: string; arrangement: Arrangement; by: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO arrangements (person_id, arrangement, set_by, set_at)
     VALUES (:personId, :arrangement, :by, UTC_TIMESTAMP(3))
     ON DUPLICATE KEY UPDATE arrangement = VALUES(arrangement), set_by = VALUES(set_by), set_at = VALUES(set_at)`,
    { ...set, arrangement: JSON.stringify(set.arrangement) },
  );
}
