import type { Invitation } from '@ecoute/contract/invitations';
import type { Me } from '@ecoute/contract/people';
import { memberOf, managesClass, teachesClass } from '../../platform/access/store';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { addMember, roleIn } from '../classes/store';
import { addMember as addToDepartment } from '../departments/store';
import { joinReleases } from '../releases/store';
import * as store from './store';

/** What somebody is asked to join. Nothing of it holds before they say yes, and whoever asked may still ask then. */
export class Invitations {
  constructor(private readonly pool: Pool) {}

  list(person: Me): Promise<Invitation[]> {
    return store.invitationsOf(this.pool, person.id);
  }

  /** @throws Trouble closed when whoever asked may not ask for it any more */
  async accept(person: Me, id: string): Promise<Invitation[]> {
    await transaction(this.pool, async db => {
      const found = await store.findInvitation(db, id);
      if (found?.personId !== person.id) throw notFound();
      await store.removeInvitation(db, id);
      const { classId, departmentId, role, madeBy } = found;
      if (departmentId) {
        if (!(await memberOf(db, madeBy, departmentId))) return;
        await addToDepartment(db, departmentId, person.id);
        return;
      }
      if (!classId) return;
      // Asked again now: a right is good when it takes effect.
      const may = role === 'student' ? managesClass : teachesClass;
      if (!(await may(db, madeBy, classId)))
        throw new Trouble('closed', 'Whoever asked you is no longer with this class. Ask to be asked again.');
      if (await roleIn(db, classId, person.id)) return;
      await addMember(db, { classId, personId: person.id, role });
      if (role === 'student') await joinReleases(db, { classId }, [person.id]);
      await insertChange(db, { kind: 'class', subjectId: classId, classId, personId: person.id });
      await insertChange(db, { kind: 'todo', subjectId: null, classId: null, personId: person.id });
    });
    return this.list(person);
  }

  async decline(person: Me, id: string): Promise<Invitation[]> {
    await transaction(this.pool, async db => {
      const found = await store.findInvitation(db, id);
      if (found?.personId !== person.id) throw notFound();
      await store.removeInvitation(db, id);
      if (found.classId)
        await insertChange(db, {
          kind: 'class',
          subjectId: found.classId,
          classId: found.classId,
          personId: null,
        });
    });
    return this.list(person);
  }

  /** Whoever teaches the class takes back what was asked. */
  async takeBack(classId: string, id: string): Promise<void> {
    await transaction(this.pool, async db => {
      const found = await store.findInvitation(db, id);
      if (found?.classId !== classId) throw notFound();
      await store.removeInvitation(db, id);
      await insertChange(db, { kind: 'class', subjectId: classId, classId, personId: found.personId });
    });
  }
}
