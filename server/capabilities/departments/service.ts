import { randomUUID } from 'node:crypto';
import type {
  Department,
  KeepAsTemplate,
  NewColleague,
  NewDepartment,
  Share,
  SharedAssessment,
  Shares,
} from '@ecoute/contract/departments';
import type { Me } from '@ecoute/contract/people';
import { memberOf } from '../../platform/access/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { Trouble } from '../../platform/trouble';
import { sharedWith } from '../assessments/store';
import { insertInvitation, knownTo, type InvitationRow } from '../invitations/store';
import { findBySignInName } from '../people/store';
import * as store from './store';

/** Teachers who share a shelf, and what stands on it. */
export class Departments {
  constructor(private readonly pool: Pool) {}

  /** Somebody said yes; it holds where whoever asked is still a member. */
  async accepted(db: Queryable, { departmentId, personId, madeBy }: InvitationRow): Promise<void> {
    if (departmentId && (await memberOf(db, madeBy, departmentId)))
      await store.addMember(db, departmentId, personId);
  }

  list(teacher: Me): Promise<Department[]> {
    return store.departmentsOf(this.pool, teacher.id);
  }

  /** A new department with its maker as the first member. */
  async make(teacher: Me, { name }: NewDepartment): Promise<Department[]> {
    const id = randomUUID();
    await transaction(this.pool, async db => {
      await store.insertDepartment(db, { id, name: name.trim() });
      await store.addMember(db, id, teacher.id);
    });
    return this.list(teacher);
  }

  /**
   * Asks a colleague to join; one whom the teacher knows from a class joins at once.
   * @throws Trouble invalid when nobody who teaches signs in with that name
   */
  async add(
    by: Me,
    departmentId: string,
    { signInName }: NewColleague,
  ): Promise<{ displayName: string; asked: boolean }> {
    const found = await findBySignInName(this.pool, signInName.trim());
    if (found?.role !== 'teacher') {
      const message = 'No teacher here signs in with this name. Ask your colleague how theirs is spelt.';
      throw new Trouble('invalid', message, { fields: { signInName: message } });
    }
    if ((await knownTo(this.pool, by.id, [found.id])).has(found.id)) {
      await store.addMember(this.pool, departmentId, found.id);
      return { displayName: found.displayName, asked: false };
    }
    const invitation = { id: randomUUID(), departmentId, personId: found.id, role: 'teacher' as const };
    await insertInvitation(this.pool, { ...invitation, madeBy: by.id });
    return { displayName: signInName.trim(), asked: true };
  }

  /** What the teacher had shared with the department leaves with them. */
  async leave(teacher: Me, departmentId: string): Promise<Department[]> {
    await transaction(this.pool, db => store.removeMember(db, departmentId, teacher.id));
    return this.list(teacher);
  }

  shelf(teacher: Me): Promise<SharedAssessment[]> {
    return sharedWith(this.pool, teacher.id);
  }

  shares(assessmentId: string): Promise<Share[]> {
    return store.sharesOf(this.pool, assessmentId);
  }

  /** Only with departments that the teacher belongs to. */
  async share(teacher: Me, assessmentId: string, { shares }: Shares): Promise<Share[]> {
    const own = new Set((await this.list(teacher)).map(d => d.id));
    await transaction(this.pool, db =>
      store.replaceShares(
        db,
        assessmentId,
        shares.filter(s => own.has(s.departmentId)),
      ),
    );
    return this.shares(assessmentId);
  }

  async keepAsTemplate(
    assessmentId: string,
    { isTemplate }: KeepAsTemplate,
  ): Promise<{ isTemplate: boolean }> {
    await store.setTemplate(this.pool, assessmentId, isTemplate);
    return { isTemplate };
  }
}
