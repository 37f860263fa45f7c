import fc from 'fast-check';
import Papa from 'papaparse';
import { oneRosterOf, rosterOfOneRoster, type ExportedClass } from './oneRoster';
import { columnsOf, LIST_FIELDS, rosterOfList } from './roster';

const word = fc.string({ minLength: 1, maxLength: 20 }).map(s => s.replace(/[\s"']+/g, '') || 'x');
const name = fc.tuple(word, word).map(([a, b]) => `n${a} ${b}`);

describe('lists of any shape', () => {
  it('lose no row: each is taken, or said to be left out', () => {
    const cell = fc.oneof(fc.string({ maxLength: 30 }), fc.constant(''), fc.constant('a@b.example'));
    const table = fc.array(fc.array(cell, { maxLength: 5 }), { maxLength: 30 });
    fc.assert(
      fc.property(table, rows => {
        const columns = columnsOf(rows);
        const { memberships, problems, people } = rosterOfList(rows, columns);
        const filled = rows.filter((r, i) => !(i === 0 && columns.hasHeader) && r.some(c => c.trim()));
        expect(memberships.length + problems.length).toBe(filled.length);
        expect(people.length).toBeLessThanOrEqual(memberships.length);
        // Each column holds one thing at most, and nothing is held twice.
        const held = columns.columns.filter(c => c !== null);
        expect(new Set(held).size).toBe(held.length);
        expect(held.every(c => LIST_FIELDS.includes(c))).toBe(true);
      }),
    );
  });

  it('are the same whatever order their columns come in', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ name, email: word.map(w => `m${w.replace(/[@.]/g, '')}@b.example`) }), {
          maxLength: 10,
        }),
        people => {
          const forth = rosterOfList([['Name', 'Mail'], ...people.map(p => [p.name, p.email])], {
            columns: ['name', 'email'],
            hasHeader: true,
          });
          const back = rosterOfList([['Mail', 'Name'], ...people.map(p => [p.email, p.name])], {
            columns: ['email', 'name'],
            hasHeader: true,
          });
          expect(back).toEqual(forth);
        },
      ),
    );
  });
});

describe('OneRoster of any people', () => {
  const person = fc.record({
    id: fc.uuid(),
    givenName: word.map(w => `g${w}`),
    familyName: word.map(w => `f${w}`),
    signInName: word.map(w => `s${w}`),
    email: fc.constant(null),
    role: fc.constantFrom('student' as const, 'teacher' as const),
  });
  const classes = fc.array(
    fc.record({ id: fc.uuid(), name: word.map(w => `c${w}`), people: fc.array(person, { maxLength: 4 }) }),
    { maxLength: 4 },
  );

  it('comes back with everybody in their classes, in both versions', () => {
    fc.assert(
      fc.property(
        classes,
        fc.constantFrom('1.1' as const, '1.2' as const),
        (given: ExportedClass[], version) => {
          const files = oneRosterOf(given, { version, school: 'B', today: '2026-11-25' });
          const roster = rosterOfOneRoster(files);
          expect(roster.problems).toEqual([]);
          expect(roster.classes.map(c => c.externalId)).toEqual(given.map(c => c.id));
          for (const c of given)
            expect(roster.memberships.filter(m => m.classKey === c.id).map(m => m.personKey)).toEqual(
              c.people.map(p => p.id),
            );
        },
      ),
    );
  });

  it('is CSV that a strict reader takes', () => {
    fc.assert(
      fc.property(classes, given => {
        const files = oneRosterOf(given, { version: '1.1', school: 'B; "C"', today: '2026-11-25' });
        for (const text of Object.values(files)) {
          const { data, errors } = Papa.parse<string[]>(text, { skipEmptyLines: true });
          expect(errors.filter(e => e.code !== 'UndetectableDelimiter')).toEqual([]);
          expect(new Set(data.map(r => r.length)).size).toBe(1);
        }
      }),
    );
  });
});
