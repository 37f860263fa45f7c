import {
  nameKey,
  signInKey,
  type Roster,
  type RosterMembership,
  type RosterPerson,
} from '@ecoute/core/formats/roster';
import type { ImportRow, ImportView } from '@ecoute/contract/classes';
import type { KnownPerson } from './store';

/** What is here already, as far as a list touches it. */
export interface Present {
  people: readonly KnownPerson[];
  /** Ids of classes by the key that the list calls them; the chosen class under `null`. */
  classIds: ReadonlyMap<string | null, string>;
  /** Keys of classes that are here and that others teach: they are left as they are. */
  foreign: ReadonlySet<string>;
  members: readonly { classId: string; personId: string; displayName: string }[];
  /** Ids of those of the classes that whoever brings the list teaches: only there does it make teachers. */
  taught: ReadonlySet<string>;
  /** Ids of people whom whoever brings the list need not ask. */
  shared: ReadonlySet<string>;
}

export interface Step {
  person: RosterPerson;
  /** Who this is here; null for somebody new. */
  known: KnownPerson | null;
  membership: RosterMembership;
  /** They are asked to join, and nothing holds before they say yes. */
  asks: boolean;
}

export interface Plan {
  /** What is done once it is confirmed. */
  steps: Step[];
  /** Keys of classes to be made. */
  newClasses: string[];
  rows: ImportRow[];
  counts: ImportView['counts'];
}

/**
 * What a list would change: somebody is known by the school's own id first, then by sign-in name, then by mail
 * address, which may be the sign-in name as well. A name alone tells nobody apart, and is asked about.
 */
export function planOf(roster: Roster, present: Present, sameNames: 'leaveOut' | 'add'): Plan {
  const by = {
    external: new Map(present.people.flatMap(p => (p.externalId ? [[p.externalId, p]] : []))),
    signIn: new Map(present.people.map(p => [signInKey(p.signInName), p])),
    email: new Map(present.people.flatMap(p => (p.email ? [[p.email.toLowerCase(), p]] : []))),
  };
  const inClass = new Set(present.members.map(m => `${m.classId} ${m.personId}`));
  const names = new Set(present.members.map(m => `${m.classId} ${nameKey(m.displayName)}`));
  const people = new Map(roster.people.map(p => [p.key, p]));
  const classes = new Map(roster.classes.map(c => [c.key, c]));
  const plan: Plan = {
    steps: [],
    newClasses: roster.classes
      .filter(c => !present.classIds.has(c.key) && !present.foreign.has(c.key))
      .map(c => c.key),
    rows: [],
    counts: { new: 0, joins: 0, asked: 0, already: 0, sameName: 0, leftOut: 0, newClasses: 0 },
  };
  plan.counts.newClasses = plan.newClasses.length;
  const note = (
    person: Pick<RosterPerson, 'name' | 'signInName'>,
    row: number,
    className: string | null,
    fate: ImportRow['fate'],
    why: string | null,
  ) => {
    plan.counts[fate] += 1;
    plan.rows.push({
      row,
      name: person.name,
      signInName: person.signInName,
      className,
      fate,
      why,
    });
  };
  for (const membership of roster.memberships) {
    const person = people.get(membership.personKey)!;
    const known =
      (person.externalId && by.external.get(person.externalId)) ||
      (person.signInName && by.signIn.get(signInKey(person.signInName))) ||
      (person.email &&
        (by.email.get(person.email.toLowerCase()) ?? by.signIn.get(signInKey(person.email)))) ||
      null;
    const className = membership.classKey === null ? null : (classes.get(membership.classKey)?.name ?? null);
    const classId = present.classIds.get(membership.classKey) ?? null;
    const step = (asks = false) => plan.steps.push({ person, known, membership, asks });
    if (membership.classKey !== null && present.foreign.has(membership.classKey))
      note(person, person.row, className, 'leftOut', 'names a class of other teachers');
    else if (membership.classKey === null && classId === null)
      note(person, person.row, null, 'leftOut', 'names no class');
    else if (known && known.role !== (membership.role === 'teacher' ? 'teacher' : 'student'))
      note(
        person,
        person.row,
        className,
        'leftOut',
        known.role === 'teacher' ? 'is a teacher here' : 'is a student here',
      );
    else if (known && classId && inClass.has(`${classId} ${known.id}`)) {
      note(person, person.row, className, 'already', 'is in the class already');
      // The list may still put them into a group, or say where their family is written to.
      if (membership.group || person.families.length > 0) step();
    } else if (membership.role === 'teacher' && classId !== null && !present.taught.has(classId)) {
      note(
        person,
        person.row,
        className,
        'leftOut',
        'would become a teacher: only a teacher of the class adds those',
      );
    } else if (known && !present.shared.has(known.id)) {
      note(person, person.row, className, 'asked', 'is with other teachers, and is asked first');
      step(true);
    } else if (known) {
      note(person, person.row, className, 'joins', null);
      step();
    } else if (
      classId &&
      !person.externalId &&
      !person.signInName &&
      !person.email &&
      names.has(`${classId} ${nameKey(person.name)}`)
    ) {
      note(person, person.row, className, 'sameName', 'has the name of somebody who is in the class already');
      if (sameNames === 'add') step();
    } else {
      note(person, person.row, className, 'new', null);
      step();
    }
  }
  for (const { row, name = '', why } of roster.problems)
    note({ name, signInName: null }, row, null, 'leftOut', why);
  plan.rows.sort((a, b) => a.row - b.row);
  return plan;
}
