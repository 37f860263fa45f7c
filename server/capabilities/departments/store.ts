import type { Department, Share } from '@ecoute/contract/departments';
import { rows, execute, type Queryable } from '../../platform/database';

export async function departmentsOf(db: Queryable, personId: string): Promise<Department[]> {
  const found = await rows<{ id: string; name: string; personId: string; displayName: string }>(
    db,
    `SELECT d.id, d.name, p.id AS personId, p.display_name AS displayName
     FROM department_members own JOIN departments d ON d.id = own.department_id
       JOIN department_members m ON m.department_id = d.id JOIN people p ON p.id = m.person_id
     WHERE own.person_id = :personId ORDER BY d.name, d.id, p.display_name`,
    { personId },
  );
  const departments = new Map<string, Department>();
  for (const { id, name, personId: memberId, displayName } of found) {
    const department = departments.get(id) ?? { id, name, members: [] };
    department.members.push({ id: memberId, displayName });
    departments.set(id, department);
  }
  return [...departments.values()];
}

export async function insertDepartment(db: Queryable, made: { id: string; name: string }): Promise<void> {
  await execute(
    db,
    'INSERT INTO departments (id, name, created_at) VALUES (:id, :name, UTC_TIMESTAMP(3))',
    made,
  );
}

/** Adding somebody who is there already changes nothing. */
export async function addMember(db: Queryable, departmentId: string, personId: string): Promise<void> {
  await execute(
    db,
    'INSERT IGNORE INTO department_members (department_id, person_id) VALUES (:departmentId, :personId)',
    { departmentId, personId },
  );
}

export async function removeMember(db: Queryable, departmentId: string, personId: string): Promise<void> {
  await execute(
    db,
    `DELETE s FROM assessment_shares s JOIN assessments a ON a.id = s.assessment_id
     WHERE s.department_id = :departmentId AND a.owner_id = :personId`,
    { departmentId, personId },
  );
  await execute(
    db,
    'DELETE FROM department_members WHERE department_id = :departmentId AND person_id = :personId',
    { departmentId, personId },
  );
}

export async function sharesOf(db: Queryable, assessmentId: string): Promise<Share[]> {
  const found = await rows<{ departmentId: string; edits: number }>(
    db,
    `SELECT department_id AS departmentId, edits FROM assessment_shares
     WHERE assessment_id = :assessmentId ORDER BY department_id`,
    { assessmentId },
  );
  return found.map(s => ({ departmentId: s.departmentId, edits: Boolean(s.edits) }));
}

export async function replaceShares(
  db: Queryable,
  assessmentId: string,
  shares: readonly Share[],
): Promise<void> {
  await execute(db, 'DELETE FROM assessment_shares WHERE assessment_id = :assessmentId', { assessmentId });
  for (const { departmentId, edits } of shares)
    await execute(
      db,
      `INSERT INTO assessment_shares (assessment_id, department_id, edits, created_at)
       VALUES (:assessmentId, :departmentId, :edits, UTC_TIMESTAMP(3))
       ON DUPLICATE KEY UPDATE edits = VALUES(edits)`,
      { assessmentId, departmentId, edits },
    );
}

export async function setTemplate(db: Queryable, id: string, isTemplate: boolean): Promise<void> {
  await execute(db, 'UPDATE assessments SET is_template = :isTemplate WHERE id = :id', { id, isTemplate });
}
