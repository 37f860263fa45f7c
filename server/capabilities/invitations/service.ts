import type { Invitation } from '@ecoute/contract/invitations';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import * as store from './store';

/**
 * Takes somebody in who said yes. Asks again whether whoever asked may: a right is good when it takes effect.
 * @throws Trouble askerGone when they may not
 */
export type Accepted = (db: Queryable, invitation: store.InvitationRow) => Promise<void>;

/** What somebody is asked to join. Nothing of it holds before they say yes, and whoever asked may still ask then. */
export class Invitations {
  /** @param accepted what becomes of a yes, by what it was asked for */
  constructor(
    private readonly pool: Pool,
    private readonly accepted: { class: Accepted; department: Accepted },
  ) {}

  list(person: Me): Promise<Invitation[]> {
    return store.invitationsOf(this.pool, person.id);
  }

  /** @throws Trouble askerGone when whoever asked may not ask for it any more */
  async accept(person: Me, id: string): Promise<Invitation[]> {
    await transaction(this.pool, async db => {
      const found = await store.findInvitation(db, id);
      if (found?.personId !== person.id) throw notFound();
      await store.removeInvitation(db, id);
      if (found.departmentId) await this.accepted.department(db, found);
      else if (found.classId) await this.accepted.class(db, found);
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
