import type { ClassSummary, Member, Subject } from '@ecoute/contract/classes';
import { row, rows, run, type Queryable } from '../../platform/database';

export async function classesOf(db: Queryable, teacherId: string): Promise<ClassSummary[]> {
  const found = await rows<Omit<ClassSummary, 'teachers'> & { teachers: string | null }>(
    db,
    `SELECT c.id, c.name, c.subject,
       (SELECT COUNT(*) FROM class_members s WHERE s.class_id = c.id AND s.role = 'student') AS students,
       (SELECT GROUP_CONCAT(p.display_name ORDER BY p.display_name SEPARATOR '\\n') FROM class_members t
          JOIN people p ON p.id = t.person_id WHERE t.class_id = c.id AND t.role = 'teacher') AS teachers
     FROM class_members m JOIN classes c ON c.id = m.class_id
     WHERE m.person_id = :teacherId AND m.role = 'teacher' ORDER BY c.name`,
    { teacherId },
  );
  return found.map(c => ({ ...c, students: Number(c.students), teachers: c.teachers?.split('\n') ?? [] }));
}

export async function findClass(db: Queryable, id: string) {
  return row<{ id: string; name: string; subject: Subject }>(
    db,
    'SELECT id, name, subject FROM classes WHERE id = :id',
    { id },
  );
}

export async function membersOf(db: Queryable, classId: string): Promise<Member[]> {
  return rows<Member>(
    db,
    `SELECT p.id, p.display_name AS displayName, p.sign_in_name AS signInName, m.role
     FROM class_members m JOIN people p ON p.id = m.person_id
     WHERE m.class_id = :classId ORDER BY m.role, p.display_name, p.id`,
    { classId },
  );
}

export async function insertClass(
  db: Queryable,
  made: { id: string; name: string; subject: Subject },
): Promise<void> {
  await run(
    db,
    'INSERT INTO classes (id, name, subject, created_at) VALUES (:id, :name, :subject, UTC_TIMESTAMP(3))',
    made,
  );
}

export async function addMember(
  db: Queryable,
  member: { classId: string; personId: string; role: 'teacher' | 'student' },
): Promise<void> {
  await run(
    db,
    'INSERT INTO class_members (class_id, person_id, role) VALUES (:classId, :personId, :role)',
    member,
  );
}
