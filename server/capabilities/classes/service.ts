import { randomUUID } from 'node:crypto';
import { isLanguage } from '@ecoute/core/formats/languages';
import { ORDINARY } from '@ecoute/core/timing/arrangements';
import type {
  ClassDetail,
  ClassSummary,
  CorrectStudent,
  FirstCode,
  NewClass,
  NewGroup,
  NewMember,
  NewStudent,
  SetArrangement,
  SignInSlip,
} from '@ecoute/contract/classes';
import type { Me } from '@ecoute/contract/people';
import { alsoElsewhere, managesClass, teachesClass } from '../../platform/access/store';
import { insertChange, insertForParticipants } from '../../platform/changes/store';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import { addressOf, type Mailer } from '../../platform/mail/mailer';
import { noteSafety } from '../../platform/safety/store';
import { notFound, Trouble } from '../../platform/trouble';
import type { People } from '../people/service';
import type { Slips } from '../people/slips';
import { correctPerson, findBySignInName, makersOf, setCalled } from '../people/store';
import { askedInto, insertInvitation, knownTo, type InvitationRow } from '../invitations/store';
import { releasesOfClass } from '../releases/store';
import { joinReleases, leaveReleases } from '../releases/participants.store';
import * as store from './store';

export class Classes {
  constructor(
    private readonly pool: Pool,
    private readonly people: People,
    private readonly slips: Slips,
    private readonly mailer: Mailer,
    private readonly baseUrl: string,
  ) {}

  /** Somebody said yes. @throws Trouble askerGone when whoever asked is no longer with the class */
  async accepted(db: Queryable, { classId, personId, role, madeBy }: InvitationRow): Promise<void> {
    if (!classId) return;
    const may = role === 'student' ? managesClass : teachesClass;
    if (!(await may(db, madeBy, classId)))
      throw new Trouble(
        'askerGone',
        'Whoever asked you is no longer with this class. Ask to be asked again.',
      );
    if (await store.roleIn(db, classId, personId)) return;
    await store.addMember(db, { classId, personId, role });
    if (role === 'student') await joinReleases(db, { classId }, [personId]);
    await insertChange(db, { kind: 'class', subjectId: classId, classId, personId });
    await insertChange(db, { kind: 'todo', subjectId: null, classId: null, personId });
  }

  /** @param isAway those that were put away instead of those in use */
  list(teacher: Me, isAway = false): Promise<ClassSummary[]> {
    return store.classesOf(this.pool, teacher.id, isAway);
  }

  /** Puts a class away for all its teachers, or back. What is released to it goes on as it does. */
  async putAway(by: Me, id: string, away: boolean): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      await store.putClassAway(db, id, away);
      await told(db, id);
    });
    return this.detail(by, id);
  }

  /**
   * Corrects a student's name, or the mail address that their codes go to.
   * @throws Trouble notAllowed for the address of somebody whose account is not this teacher's to hand out codes for
   */
  async correct(
    by: Me,
    classId: string,
    personId: string,
    { displayName, email }: CorrectStudent,
  ): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      const member = (await store.membersOf(db, classId)).find(
        m => m.id === personId && m.role === 'student',
      );
      if (!member) throw notFound();
      const address = email === undefined ? member.email : email.trim() || null;
      if (address !== member.email) {
        // Codes for a new password go there: whoever may not hand out codes may not say where they go.
        const elsewhere = await alsoElsewhere(db, [personId], by.id);
        const maker = (await makersOf(db, [personId])).get(personId) ?? null;
        if (elsewhere.has(personId) || (maker !== null && maker !== by.id)) {
          const message = `${member.displayName} is in classes of other teachers as well, or somebody else made the account. They change their address themselves.`;
          throw new Trouble('notAllowed', message, { fields: { email: message } });
        }
      }
      await correctPerson(db, { id: personId, displayName: displayName.trim(), email: address });
      if (displayName.trim() !== member.displayName)
        await noteSafety(db, { kind: 'nameCorrected', personId, byId: by.id });
      if (address !== member.email) await noteSafety(db, { kind: 'addressCorrected', personId, byId: by.id });
      await told(db, classId, personId);
      await insertChange(db, { kind: 'session', subjectId: null, classId: null, personId });
    });
    return this.detail(by, classId);
  }

  /**
   * Moves a student to another class of this teacher's: what they have begun stays theirs, and with the class where they
   * sat it; what they have not begun there goes, and what the other class still has open comes.
   * @throws Trouble notFound where this teacher does not teach the other class; invalid where they are in it already
   */
  async move(by: Me, classId: string, personId: string, toClassId: string): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      if ((await store.roleIn(db, classId, personId)) !== 'student') throw notFound();
      if (!(await teachesClass(db, by.id, toClassId))) throw notFound();
      if (toClassId === classId || (await store.roleIn(db, toClassId, personId)))
        throw new Trouble('invalid', 'They are in that class already. Take them out of this one instead.', {
          fields: { toClassId: 'They are in that class already.' },
        });
      await leaveReleases(db, { classId }, [personId]);
      await store.removeMember(db, classId, personId);
      await store.addMember(db, { classId: toClassId, personId, role: 'student' });
      await joinReleases(db, { classId: toClassId }, [personId]);
      await told(db, classId, personId);
      await told(db, toClassId, personId);
    });
    return this.detail(by, classId);
  }

  /** A class as one of its teachers, or a coordinator, sees it. */
  async detail(viewer: Me, id: string): Promise<ClassDetail> {
    const found = await store.findClass(this.pool, id);
    if (!found) throw notFound();
    const groups = await store.groupsOf(this.pool, [id]);
    const own = (await store.roleIn(this.pool, id, viewer.id)) === 'teacher' ? 'teacher' : 'coordinator';
    const members = await store.membersOf(this.pool, id);
    return {
      ...found,
      putAwayAt: found.putAwayAt?.toISOString() ?? null,
      own,
      asked: own === 'teacher' ? await askedInto(this.pool, id) : [],
      // What somebody needs, and how they are written to, is for those who teach them.
      members:
        own === 'teacher'
          ? members
          : members.map(m => ({
              ...m,
              email: null,
              codeUntil: null,
              hasSlip: false,
              families: 0,
              arrangement: ORDINARY,
            })),
      groups: groups.map(({ id: groupId, name }) => ({ id: groupId, name })),
    };
  }

  /** A new class, with the teacher who makes it as its first member. */
  async make(teacher: Me, { name, subject, students = [] }: NewClass): Promise<ClassDetail> {
    const id = randomUUID();
    await transaction(this.pool, async db => {
      await store.insertClass(db, { id, name: name.trim(), subject });
      await store.addMember(db, { classId: id, personId: teacher.id, role: 'teacher' });
      for (const displayName of students) {
        const student = await this.people.add(db, { displayName, role: 'student' }, teacher.id);
        await store.addMember(db, { classId: id, personId: student.id, role: 'student' });
      }
      await told(db, id, teacher.id);
    });
    return this.detail(teacher, id);
  }

  async change(by: Me, id: string, { name, subject }: NewClass): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      await store.changeClass(db, { id, name: name.trim(), subject });
      await told(db, id);
    });
    return this.detail(by, id);
  }

  /**
   * A new student straight into a class. Without a sign-in name they get one made from their name.
   * @throws Trouble notAllowed for a password from somebody who does not teach them
   */
  async addStudent(by: Me, classId: string, wanted: NewStudent): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      if (wanted.password && !(await teachesClass(db, by.id, classId)))
        throw new Trouble(
          'notAllowed',
          'Only a teacher of this class chooses a password for somebody. Leave it empty: they begin with a one-time code.',
          { fields: { password: 'Leave this empty.' } },
        );
      const student = await this.people.add(db, { ...wanted, role: 'student' }, by.id);
      await store.addMember(db, { classId, personId: student.id, role: 'student' });
      await joinReleases(db, { classId }, [student.id]);
      await told(db, classId);
    });
    return this.detail(by, classId);
  }

  /**
   * Somebody who has a sign-in already becomes a member, or another kind of member. Whom the teacher does not know from
   * a class of theirs, and whose account they did not make, is asked first.
   * @throws Trouble invalid for a name that nobody has, or that cannot be this here
   */
  async addMember(
    by: Me,
    classId: string,
    { signInName, role, displayName }: NewMember,
  ): Promise<ClassDetail> {
    const refuse = (message: string) => new Trouble('invalid', message, { fields: { signInName: message } });
    await transaction(this.pool, async db => {
      const isNew = role !== 'student' && displayName?.trim();
      const person =
        (await findBySignInName(db, signInName.trim())) ??
        (isNew
          ? await this.people.add(db, { displayName: isNew, signInName, role: 'teacher' }, by.id)
          : null);
      if (!person) {
        const message = 'Nobody here signs in with this name.';
        throw new Trouble('unknownName', message, { fields: { signInName: message } });
      }
      const isStudent = role === 'student';
      if ((person.role === 'student') !== isStudent)
        throw refuse(isStudent ? 'This is a teacher’s sign-in name.' : 'This is a student’s sign-in name.');
      const before = await store.roleIn(db, classId, person.id);
      if (before === role) throw refuse(`${person.displayName} is in this class already.`);
      if (before === 'teacher' && (await store.countTeachers(db, classId)) === 1)
        throw refuse('A class needs a teacher. Add another one first.');
      if (!before && !(await knownTo(db, by.id, [person.id])).has(person.id)) {
        await insertInvitation(db, { id: randomUUID(), classId, personId: person.id, role, madeBy: by.id });
        await told(db, classId, person.id);
        return;
      }
      if (before) await store.removeMember(db, classId, person.id);
      await store.addMember(db, { classId, personId: person.id, role });
      if (isStudent) await joinReleases(db, { classId }, [person.id]);
      await told(db, classId, person.id);
    });
    return this.detail(by, classId);
  }

  /**
   * Takes somebody out of a class. What a student has sat stays with the class's teachers.
   * @throws Trouble lastOne for the last teacher
   */
  async removeMember(by: Me, classId: string, personId: string): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      const role = await store.roleIn(db, classId, personId);
      if (!role) throw notFound();
      if (role === 'teacher' && (await store.countTeachers(db, classId)) === 1)
        throw new Trouble('lastOne', 'A class needs a teacher. Add another one first; then this one can go.');
      if (role === 'student') await leaveReleases(db, { classId }, [personId]);
      await store.removeMember(db, classId, personId);
      await told(db, classId, personId);
    });
    // Whoever takes themself out sees it no more.
    if (by.id === personId) return { ...(await this.detail(by, classId)), members: [], asked: [] };
    return this.detail(by, classId);
  }

  async addGroup(by: Me, classId: string, wanted: NewGroup): Promise<ClassDetail> {
    const id = randomUUID();
    await this.named(async db => {
      await store.insertGroup(db, { id, classId, name: wanted.name.trim() });
      await store.addToGroup(db, id, classId, wanted.memberIds);
      await told(db, classId);
    });
    return this.detail(by, classId);
  }

  /** Renames a group and says who is in it. Newcomers get what the group still has before it. */
  async changeGroup(by: Me, classId: string, groupId: string, wanted: NewGroup): Promise<ClassDetail> {
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
    return this.detail(by, classId);
  }

  /** @throws Trouble inUse where something was released to it */
  async removeGroup(by: Me, classId: string, groupId: string): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      await this.groupIn(db, classId, groupId);
      if (await store.groupHasReleases(db, groupId))
        throw new Trouble(
          'inUse',
          'Something was released to this group, so it stays. Take its members out instead.',
        );
      await store.removeGroup(db, groupId);
      await told(db, classId);
    });
    return this.detail(by, classId);
  }

  /**
   * What a student's needs change in every sitting that they begin from now on.
   * @throws Trouble invalid for a language that is none
   */
  async arrange(by: Me, classId: string, personId: string, wanted: SetArrangement): Promise<ClassDetail> {
    const { extraTime, extraHearings, readAloud, breakMs, byEar } = wanted;
    const directionsLanguage = wanted.directionsLanguage || null;
    if (directionsLanguage && !isLanguage(directionsLanguage)) {
      const message = 'This is no language tag. Choose a language from the list.';
      throw new Trouble('invalid', message, { fields: { directionsLanguage: message } });
    }
    await transaction(this.pool, async db => {
      if ((await store.roleIn(db, classId, personId)) !== 'student') throw notFound();
      const arrangement = { extraTime, extraHearings, readAloud, breakMs, directionsLanguage, byEar };
      await store.setArrangement(db, { personId, arrangement, by: by.id });
      await told(db, classId);
    });
    return this.detail(by, classId);
  }

  /** What comments call a student from now on, in all of their classes; empty for what the name gives. */
  async call(by: Me, classId: string, personId: string, called: string): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      if ((await store.roleIn(db, classId, personId)) !== 'student') throw notFound();
      await setCalled(db, personId, called);
      await told(db, classId);
    });
    return this.detail(by, classId);
  }

  /**
   * New one-time codes for students of a class, and for colleagues who have never signed in; codes made before are
   * no longer good. A code in the clear opens nothing that whoever asks for it may not hear already, and no account
   * that somebody else made and that is in use: such a code goes to the person's own address alone.
   * @throws Trouble byMailOnly for a code that may only go by mail
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
      const ids = members.map(m => m.id);
      const elsewhere = await alsoElsewhere(db, ids, by.id);
      const makers = await makersOf(db, ids);
      for (const member of members) {
        if (byMail && addressOf(member)) continue;
        const maker = makers.get(member.id) ?? null;
        const isOwn = maker === by.id || (maker === null && member.role === 'student');
        if (elsewhere.has(member.id))
          throw new Trouble(
            'byMailOnly',
            `${member.displayName} is in classes of other teachers as well. Send the code by mail to their own address.`,
          );
        if (!isOwn && (member.hasSignIn || member.role !== 'student'))
          throw new Trouble(
            'byMailOnly',
            `Somebody else made the account of ${member.displayName}. Send the code by mail to their own address, or ask an administrator.`,
          );
      }
      const codes = await this.people.makeCodes(
        db,
        by,
        members.map(m => m.id),
      );
      for (const member of members)
        await noteSafety(db, { kind: 'codeMade', personId: member.id, byId: by.id });
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
        const address = `${this.baseUrl}/first`;
        made.push({ personId: id, displayName, signInName, code: to ? null : code, address, expiresAt });
      }
      return made;
    });
  }

  /**
   * Slips that sign in children who do not read yet, and have no password. From then on their screens are pictures and sound.
   * @throws Trouble notAllowed for whoever has a password, is taught by others as well, or came by somebody else
   */
  async makeSlips(by: Me, classId: string, personIds: readonly string[]): Promise<SignInSlip[]> {
    return transaction(this.pool, async db => {
      const members = (await store.membersOf(db, classId)).filter(
        m => m.role === 'student' && personIds.includes(m.id),
      );
      if (members.length !== new Set(personIds).size) throw notFound();
      const ids = members.map(m => m.id);
      const elsewhere = await alsoElsewhere(db, ids, by.id);
      const makers = await makersOf(db, ids);
      for (const { id, displayName, hasSignIn } of members) {
        if (hasSignIn)
          throw new Trouble('notAllowed', `${displayName} signs in with a password, and needs no slip.`);
        if (elsewhere.has(id) || ![by.id, null].includes(makers.get(id) ?? null))
          throw new Trouble(
            'notAllowed',
            `${displayName} is in classes of other teachers as well. A slip would open what was recorded for them: give a one-time code by mail.`,
          );
      }
      const made = await this.slips.make(db, by, ids);
      for (const member of members) {
        await store.setArrangement(db, {
          personId: member.id,
          arrangement: { ...member.arrangement, byEar: true },
          by: by.id,
        });
        await noteSafety(db, { kind: 'codeMade', personId: member.id, byId: by.id, detail: 'slip' });
        await insertChange(db, { kind: 'session', subjectId: null, classId: null, personId: member.id });
      }
      await told(db, classId);
      return members.map(({ id, displayName }) => ({
        personId: id,
        displayName,
        address: made.get(id)!,
      }));
    });
  }

  /** A slip was lost: it opens nothing any more, and whoever came by it is signed out. */
  async endSlip(by: Me, classId: string, personId: string): Promise<ClassDetail> {
    await transaction(this.pool, async db => {
      if ((await store.roleIn(db, classId, personId)) !== 'student') throw notFound();
      await this.slips.end(db, personId);
      await insertChange(db, { kind: 'session', subjectId: null, classId: null, personId });
      await told(db, classId);
    });
    return this.detail(by, classId);
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
