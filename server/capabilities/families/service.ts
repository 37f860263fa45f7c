import type {
  ChangeFamilyAddress,
  FamilyAddress,
  FamilyView,
  NewFamilyAddress,
} from '@ecoute/contract/families';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { noteSafety } from '../../platform/safety/store';
import { notFound, Trouble } from '../../platform/trouble';
import * as store from './store';

/** Where the families of students are written to. An address belongs to the student; whoever teaches them sees it. */
export class Families {
  constructor(private readonly pool: Pool) {}

  /** @throws Trouble notFound for somebody who is no student of the class */
  of(classId: string, studentId: string): Promise<FamilyView> {
    return this.touch(classId, studentId, async () => undefined);
  }

  /**
   * @throws Trouble notAllowed for an address that its family, or a student of age, ended; invalid where there are too many, or it
   * is there
   */
  add(by: Me, classId: string, studentId: string, wanted: NewFamilyAddress): Promise<FamilyView> {
    const email = wanted.email.trim().toLowerCase();
    return this.touch(classId, studentId, async db => {
      const all = await store.addressesOf(db, [studentId]);
      const known = all.find(a => a.email === email);
      if (known?.endedBy === 'student' || known?.endedBy === 'family')
        throw refused(
          known.endedBy === 'student'
            ? 'The student removed this address. Only they can bring it back, in their account.'
            : 'Whoever reads this address wants no more mail. Only they can change that, on the page of a message.',
          'notAllowed',
        );
      if (known && !known.endedBy) throw refused('This address is here already.');
      if (all.filter(a => !a.endedBy).length >= LIMITS.familyAddresses)
        throw refused(`At most ${LIMITS.familyAddresses} addresses are kept. Remove one first.`);
      const { name, language } = wanted;
      await store.insertAddresses(db, [{ studentId, email, name: name.trim(), language }], by.id);
      if (known) await store.changeAddress(db, { id: known.id, studentId, name: name.trim(), language });
      await noteSafety(db, { kind: 'familyAddressAdded', personId: studentId, byId: by.id });
    });
  }

  change(
    classId: string,
    studentId: string,
    id: string,
    { name, language }: ChangeFamilyAddress,
  ): Promise<FamilyView> {
    return this.touch(classId, studentId, async db => {
      await this.known(db, studentId, id);
      await store.changeAddress(db, { id, studentId, name: name.trim(), language });
    });
  }

  /** Writes to it no more, or again where a teacher ended it. */
  end(classId: string, studentId: string, id: string, ended: boolean): Promise<FamilyView> {
    return this.touch(classId, studentId, async db => {
      await this.known(db, studentId, id);
      const at = { id, studentId, by: 'teacher' as const };
      await (ended ? store.endAddress(db, at) : store.beginAgain(db, at));
    });
  }

  /** A student of age sees the addresses of their family, and may end them. */
  setAdult(by: Me, classId: string, studentId: string, adult: boolean): Promise<FamilyView> {
    return this.touch(classId, studentId, async db => {
      if ((await store.isAdult(db, studentId)) === adult) return;
      await store.setAdult(db, studentId, adult);
      await noteSafety(db, {
        kind: adult ? 'namedAdult' : 'unnamedAdult',
        personId: studentId,
        byId: by.id,
      });
      await insertChange(db, { kind: 'session', subjectId: null, classId: null, personId: studentId });
    });
  }

  /** As a student of age sees them; nothing for others. */
  async own(student: Me): Promise<FamilyView> {
    if (!(await store.isAdult(this.pool, student.id))) return { isAdult: false, addresses: [] };
    const all = await store.addressesOf(this.pool, [student.id]);
    return { isAdult: true, addresses: all.filter(a => a.endedBy !== 'teacher').map(addressView) };
  }

  /** @throws Trouble notFound for whoever is not of age, and for what is not theirs */
  async endOwn(student: Me, id: string, ended: boolean): Promise<FamilyView> {
    await transaction(this.pool, async db => {
      if (!(await store.isAdult(db, student.id))) throw notFound();
      await this.known(db, student.id, id);
      const at = { id, studentId: student.id, by: 'student' as const };
      await (ended ? store.endAddress(db, at) : store.beginAgain(db, at));
    });
    return this.own(student);
  }

  private async known(db: Queryable, studentId: string, id: string): Promise<void> {
    if (!(await store.addressesOf(db, [studentId])).some(a => a.id === id)) throw notFound();
  }

  private async touch(
    classId: string,
    studentId: string,
    work: (db: Queryable) => Promise<void>,
  ): Promise<FamilyView> {
    return transaction(this.pool, async db => {
      if (!(await store.holdStudent(db, classId, studentId))) throw notFound();
      await work(db);
      return {
        isAdult: await store.isAdult(db, studentId),
        addresses: (await store.addressesOf(db, [studentId])).map(addressView),
      };
    });
  }
}

function addressView({ id, email, name, language, endedBy }: FamilyAddress): FamilyAddress {
  return { id, email, name, language, endedBy };
}

function refused(message: string, code: 'invalid' | 'notAllowed' = 'invalid'): Trouble {
  return new Trouble(code, message, { fields: { email: message } });
}
