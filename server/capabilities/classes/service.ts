import { randomUUID } from 'node:crypto';
import { isLanguage } from '@ecoute/core/formats/languages';
import type {
  ClassDetail,
  ClassSummary,
  FirstCode,
  NewClass,
  NewGroup,
  NewMember,
  NewStudent,
  SetArrangement,
} from '@ecoute/contract/classes';
import type { Me } from '@ecoute/contract/people';
import { insertChange, insertForParticipants } from '../../platform/changes/store';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import { addressOf, type Mailer } from '../../platform/mail/mailer';
import { notFound, Trouble } from '../../platform/trouble';
import type { People } from '../people/service';
import { findBySignInName } from '../people/store';
import { joinReleases, leaveReleases, releasesOfClass } from '../releases/store';
import * as store from './store';

export class Classes {
  constructor(
    private readonly pool: Pool,
    private readonly people: People,
    private readonly mailer: Mailer,
    private readonly baseUrl: string,
  ) {}

  list(teacher: Me): Promise<ClassSummary[]> {
    return store.classesOf(this.pool, teacher.id);
  }

  async detail(id: string): Promise<ClassDetail> {
    const found = await store.findClass(this.pool, id);
    if (!found) throw notFound();
    const groups = await store.groupsOf(this.pool, [id]);
    return {
      ...found,
      members: await store.membersOf(this.pool, id),
      groups: groups.map(({ id: groupId, name }) => ({ id: groupId, name })),
    };
  }

  /** A new class, with the teacher who makes it as its first member. */
  async make(teacher: Me, { name, subject }: NewClass): Promise<ClassDetail> {
    const id = randomUUID();
    await transaction(this.pool, async db => {
      await store.insertClass(db, { id, name: name.trim(), subject });
      await store.addMember(db, { classId: id, personId: teacher.id, role: 'teacher' });
      await told(db, id, teacher.id);
    });
    return this.detail(id);
  }

  async change(id: string, { name, subject }: NewClass): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      await store.changeClass(db, { id, name: name.trim(), subject });
      await told(db, id);
    });
    return this.detail(id);
  }

  /** A new student straight into a class. Without a sign-in name they get one made from their name. */
  async addStudent(classId: string, wanted: NewStudent): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      const student = await this.people.add(db, { ...wanted, role: 'student' });
      await store.addMember(db, { classId, personId: student.id, role: 'student' });
      await joinReleases(db, { classId }, [student.id]);
      await told(db, classId);
    });
    return this.detail(classId);
  }

  /**
   * Somebody who has a sign-in already becomes a member, or another kind of member.
   * @throws Trouble invalid for a name that nobody has, or that cannot be this here
   */
  async addMember(classId: string, { signInName, role, displayName }: NewMember): Promise<ClassDetail> {
    const refuse = (message: string) => new Trouble('invalid', message, { fields: { signInName: message } });
    await transaction(this.pool, async db => {
      const isNew = role !== 'student' && displayName?.trim();
      const person =
        (await findBySignInName(db, signInName.trim())) ??
        (isNew ? await this.people.add(db, { displayName: isNew, signInName, role: 'teacher' }) : null);
      if (!person) throw refuse('Nobody here signs in with this name.');
      const isStudent = role === 'student';
      if ((person.role === 'student') !== isStudent)
        throw refuse(isStudent ? 'This is a teacher’s sign-in name.' : 'This is a student’s sign-in name.');
      const before = await store.roleIn(db, classId, person.id);
      if (before === role) throw refuse(`${person.displayName} is in this class already.`);
      if (before === 'teacher' && (await store.countTeachers(db, classId)) === 1)
        throw refuse('A class needs a teacher. Add another one first.');
      if (before) await store.removeMember(db, classId, person.id);
      await store.addMember(db, { classId, personId: person.id, role });
      if (isStudent) await joinReleases(db, { classId }, [person.id]);
      await told(db, classId, person.id);
    });
    return this.detail(classId);
  }

  /**
   * Takes somebody out of a class. What a student has sat stays with the class's teachers.
   * @throws Trouble closed for the last teacher
   */
  async removeMember(classId: string, personId: string): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      const role = await store.roleIn(db, classId, personId);
      if (!role) throw notFound();
      if (role === 'teacher' && (await store.countTeachers(db, classId)) === 1)
        throw new Trouble('closed', 'A class needs a teacher. Add another one first; then this one can go.');
      if (role === 'student') await leaveReleases(db, { classId }, [personId]);
      await store.removeMember(db, classId, personId);
      await told(db, classId, personId);
    });
    return this.detail(classId);
  }

  async addGroup(classId: string, wanted: NewGroup): Promise<ClassDetail> {
    const id = randomUUID();
    await this.named(async db => {
      await store.insertGroup(db, { id, classId, name: wanted.name.trim() });
      await store.addToGroup(db, id, classId, wanted.memberIds);
      await told(db, classId);
    });
    return this.detail(classId);
  }

  /** Renames a group and says who is in it. Newcomers get what the group still has before it. */
  async changeGroup(classId: string, groupId: string, wanted: NewGroup): Promise<ClassDetail> {
    await this.named(async db => {
      await this.groupIn(db, classId, groupId);
      const before = new Set(await store.groupMembers(db, groupId));
      const after = new Set(wanted.memberIds);
      await store.renameGroup(db, groupId, wanted.name.trim());
      const gone = [...before].filter(id => !after.has(id));
      await store.removeFromGroup(db, groupId, gone);
      await leaveReleases(db, { groupId }, gone);
      await store.addToGroup(db, groupId, classId, wanted.memberIds);
      const come = (await store.groupMembers(db, groupId)).filter(id => !before.has(id));
      await joinReleases(db, { groupId }, come);
      await told(db, classId);
    });
    return this.detail(classId);
  }

  /** @throws Trouble closed where something was released to it */
  async removeGroup(classId: string, groupId: string): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      await this.groupIn(db, classId, groupId);
      if (await store.groupHasReleases(db, groupId))
        throw new Trouble(
          'closed',
          'Something was released to this group, so it stays. Take its members out instead.',
        );
      await store.removeGroup(db, groupId);
      await told(db, classId);
    });
    return this.detail(classId);
  }

  /**
   * What a student's needs change in every sitting that they begin from now on.
   * @throws Trouble invalid for a language that is none
   */
  async arrange(by: Me, classId: string, personId: string, wanted: SetArrangement): Promise<ClassDetail> {
    const { extraTime, extraHearings, readAloud, breakMs } = wanted;
    const directionsLanguage = wanted.directionsLanguage || null;
    if (directionsLanguage && !isLanguage(directionsLanguage)) {
      const message = 'This is no language tag. Choose a language from the list.';
      throw new Trouble('invalid', message, { fields: { directionsLanguage: message } });
    }
    await transaction(this.pool, async db => {
      if ((await store.roleIn(db, classId, personId)) !== 'student') throw notFound();
      const arrangement = { extraTime, extraHearings, readAloud, breakMs, directionsLanguage };
      await store.setArrangement(db, { personId, arrangement, by: by.id });
      await told(db, classId);
    });
    return this.detail(classId);
  }

  /**
   * New one-time codes for students of a class, and for colleagues who have never signed in; codes made before are
   * no longer good.
   * @throws Trouble closed for a code that would open what somebody recorded for other teachers
   */
  async makeCodes(
    by: Me,
    classId: string,
    personIds: readonly string[],
    byMail = false,
  ): Promise<FirstCode[]> {
    if (byMail) this.mailer.needed();
    return transaction(this.pool, async db => {
      const members = (await store.membersOf(db, classId)).filter(
        m => (m.role === 'student' || !m.hasSignIn) && personIds.includes(m.id),
      );
      if (members.length !== new Set(personIds).size) throw notFound();
      // A code opens everything of a student, also what they recorded for others: it goes to them alone then.
      const known = members.filter(m => m.hasSignIn);
      const elsewhere = await store.alsoElsewhere(
        db,
        known.map(m => m.id),
        by.id,
      );
      const unsafe = known.find(m => elsewhere.has(m.id) && !(byMail && addressOf(m)));
      if (unsafe)
        throw new Trouble(
          'closed',
          `${unsafe.displayName} is in classes of other teachers as well and has a password. Send the code by mail to their own address.`,
        );
      const codes = await this.people.makeCodes(
        db,
        by,
        members.map(m => m.id),
      );
      await told(db, classId);
      const made: FirstCode[] = [];
      for (const { id, displayName, signInName, email } of members) {
        const { code, expiresAt } = codes.get(id)!;
        const to = byMail ? addressOf({ email, signInName }) : null;
        if (to)
          await this.mailer.send(db, {
            to,
            subject: 'Your first sign-in to Ecoute',
            text: [
              `${displayName},`,
              `open ${this.baseUrl}/first and type this code: ${code}`,
              `Then choose a password that nobody else knows. The code works once, until ${expiresAt.slice(0, 10)}.`,
              `After that you sign in as ${signInName}.`,
            ].join('\n\n'),
          });
        made.push({ personId: id, displayName, signInName, code: to ? null : code, expiresAt });
      }
      return made;
    });
  }

  private async groupIn(db: Queryable, classId: string, groupId: string): Promise<void> {
    if (!(await store.groupsOf(db, [classId])).some(g => g.id === groupId)) throw notFound();
  }

  /** Two groups of one class cannot have the same name. */
  private async named(work: (db: Queryable) => Promise<void>): Promise<void> {
    try {
      await transaction(this.pool, work);
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      const message = 'This class has a group of this name already. Choose another.';
      throw new Trouble('invalid', message, { fields: { name: message } });
    }
  }
}

/** Open pages learn of it: those of the class's teachers, and of whoever came or went. */
async function told(db: Queryable, classId: string, personId: string | null = null): Promise<void> {
  await insertChange(db, { kind: 'class', subjectId: classId, classId, personId });
  await insertForParticipants(db, await releasesOfClass(db, classId));
}
