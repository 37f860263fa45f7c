import type { Roster } from '@ecoute/core/formats/roster';
import { planOf, type Present } from './plan';
import type { KnownPerson } from './store';

const CLASS = 'class-1';

/** A list of people, each in the class that is chosen. */
function roster(...people: Partial<Roster['people'][number]>[]): Roster {
  const full = people.map((p, i) => ({
    key: `row ${i + 2}`,
    row: i + 2,
    name: `Person ${i}`,
    signInName: null,
    email: null,
    externalId: null,
    role: 'student' as const,
    extraTime: null,
    families: [],
    ...p,
  }));
  return {
    people: full,
    classes: [],
    memberships: full.map(p => ({ personKey: p.key, classKey: null, role: p.role, group: null })),
    problems: [],
  };
}

const known = (over: Partial<KnownPerson>): KnownPerson => ({
  id: 'known',
  displayName: 'Known Person',
  signInName: 'known',
  email: null,
  externalId: null,
  role: 'student',
  ...over,
});

const present = (over: Partial<Present> = {}): Present => ({
  people: [],
  classIds: new Map([[null, CLASS]]),
  foreign: new Set(),
  members: [],
  taught: new Set([CLASS]),
  shared: new Set(over.people?.map(p => p.id)),
  ...over,
});

const fates = (list: Roster, here: Present, sameNames: 'leaveOut' | 'add' = 'leaveOut') =>
  planOf(list, here, sameNames).rows.map(r => [r.row, r.fate]);

describe('what a list would do', () => {
  it('knows people by the school’s id first, then by sign-in name, then by mail', () => {
    const people = [
      known({ id: 'by-id', externalId: 'S1', signInName: 'a' }),
      known({ id: 'by-name', signInName: 'Rui' }),
      known({ id: 'by-mail', signInName: 'c', email: 'Ana@b.example' }),
    ];
    const { steps } = planOf(
      roster(
        { externalId: 'S1', signInName: 'rui' },
        { signInName: 'rui', email: 'ana@b.example' },
        { email: 'ana@b.example' },
        { name: 'Somebody New' },
      ),
      present({ people }),
      'leaveOut',
    );
    expect(steps.map(s => s.known?.id ?? null)).toEqual(['by-id', 'by-name', 'by-mail', null]);
  });

  it('says who is in the class already, and who joins it from elsewhere', () => {
    const people = [known({ id: 'in', signInName: 'in' }), known({ id: 'out', signInName: 'out' })];
    const members = [{ classId: CLASS, personId: 'in', displayName: 'In Class' }];
    const list = roster({ signInName: 'in' }, { signInName: 'out' }, { signInName: 'fresh' });
    expect(fates(list, present({ people, members }))).toEqual([
      [2, 'already'],
      [3, 'joins'],
      [4, 'new'],
    ]);
    const { counts, steps } = planOf(list, present({ people, members }), 'leaveOut');
    expect(counts).toEqual({
      new: 1,
      joins: 1,
      asked: 0,
      already: 1,
      sameName: 0,
      leftOut: 0,
      newClasses: 0,
    });
    expect(steps).toHaveLength(2);
  });

  it('asks people who are with other teachers, and makes nobody a teacher where its owner does not teach', () => {
    const people = [known({ id: 'theirs', signInName: 'theirs' }), known({ id: 'mine', signInName: 'mine' })];
    const list = roster(
      { signInName: 'theirs' },
      { signInName: 'mine' },
      { signInName: 'boss', role: 'teacher' },
    );
    const here = present({ people, shared: new Set(['mine']), taught: new Set() });
    expect(fates(list, here)).toEqual([
      [2, 'asked'],
      [3, 'joins'],
      [4, 'leftOut'],
    ]);
    expect(planOf(list, here, 'leaveOut').steps.map(s => s.asks)).toEqual([true, false]);
  });

  it('puts somebody who is in the class already into a group that the list names', () => {
    const people = [known({ id: 'in', signInName: 'in' })];
    const members = [{ classId: CLASS, personId: 'in', displayName: 'In Class' }];
    const list = roster({ signInName: 'in' });
    list.memberships[0]!.group = 'Blue';
    const plan = planOf(list, present({ people, members }), 'leaveOut');
    expect([plan.counts.already, plan.steps.length]).toEqual([1, 1]);
  });

  it('asks about a name that is there already, and does as it is told', () => {
    const members = [{ classId: CLASS, personId: 'x', displayName: 'João Pereira' }];
    const list = roster({ name: 'Pereira, Joao' }, { name: 'João Pereira', email: 'other@b.example' });
    expect(fates(list, present({ members }))).toEqual([
      [2, 'sameName'],
      [3, 'new'],
    ]);
    expect(planOf(list, present({ members }), 'leaveOut').steps).toHaveLength(1);
    expect(planOf(list, present({ members }), 'add').steps).toHaveLength(2);
  });

  it('makes no student of a teacher, and no teacher of a student', () => {
    const people = [
      known({ id: 't', signInName: 't', role: 'teacher' }),
      known({ id: 's', signInName: 's' }),
    ];
    const list = roster({ signInName: 't' }, { signInName: 's', role: 'teacher' });
    const plan = planOf(list, present({ people }), 'leaveOut');
    expect(plan.rows.map(r => r.why)).toEqual(['is a teacher here', 'is a student here']);
    expect(plan.steps).toEqual([]);
  });

  it('leaves out rows without a class where none is chosen, and makes the classes that are new', () => {
    const list = roster({ name: 'No Class' }, { name: 'In Choir' });
    list.classes = [
      { key: 'Choir', name: 'Choir', externalId: null },
      { key: 'A2', name: 'A2', externalId: null },
    ];
    list.memberships[1]!.classKey = 'Choir';
    const plan = planOf(list, present({ classIds: new Map([['A2', 'class-2']]) }), 'leaveOut');
    expect(plan.rows).toMatchObject([
      { row: 2, fate: 'leftOut', why: 'names no class' },
      { row: 3, fate: 'new', className: 'Choir' },
    ]);
    expect([plan.newClasses, plan.counts.newClasses]).toEqual([['Choir'], 1]);
  });

  it('leaves a class of other teachers alone', () => {
    const list = roster({ name: 'In Choir' });
    list.classes = [{ key: 'Choir', name: 'Choir', externalId: 'C1' }];
    list.memberships[0]!.classKey = 'Choir';
    const plan = planOf(list, present({ foreign: new Set(['Choir']) }), 'leaveOut');
    expect([plan.steps, plan.newClasses, plan.rows[0]!.why]).toEqual([
      [],
      [],
      'names a class of other teachers',
    ]);
  });

  it('tells of rows that could not be read among the others, by their number', () => {
    const list = roster({ row: 2 }, { row: 4 });
    list.problems = [{ row: 3, why: 'has no name' }];
    expect(planOf(list, present(), 'leaveOut').rows.map(r => [r.row, r.why])).toEqual([
      [2, null],
      [3, 'has no name'],
      [4, null],
    ]);
  });
});
