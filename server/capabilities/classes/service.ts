import { randomUUID } from 'node:crypto';
import type { ClassDetail, ClassSummary, NewClass, NewStudent } from '@ecoute/contract/classes';
import type { Me } from '@ecoute/contract/people';
import { transaction, type Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import type { People } from '../people/service';
import * as store from './store';

export class Classes {
  constructor(
    private readonly pool: Pool,
    private readonly people: People,
  ) {}

  list(teacher: Me): Promise<ClassSummary[]> {
    return store.classesOf(this.pool, teacher.id);
  }

  async detail(id: string): Promise<ClassDetail> {
    const found = await store.findClass(this.pool, id);
    if (!found) throw notFound();
    return { ...found, members: await store.membersOf(this.pool, id) };
  }

  /** A new class, with the teacher who makes it as its first member. */
  async make(teacher: Me, { name, subject }: NewClass): Promise<ClassDetail> {
    const id = randomUUID();
    await transaction(this.pool, async db => {
      await store.insertClass(db, { id, name: name.trim(), subject });
      await store.addMember(db, { classId: id, personId: teacher.id, role: 'teacher' });
    });
    return this.detail(id);
  }

  /** A new student straight into a class. */
  async addStudent(classId: string, wanted: NewStudent): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      const student = await this.people.add(db, { ...wanted, role: 'student' });
      await store.addMember(db, { classId, personId: student.id, role: 'student' });
    });
    return this.detail(classId);
  }
}
