import { whoIsWho, type PersonHere } from './whoIsWho';

const here = (id: string, name: string, over: Partial<PersonHere> = {}): PersonHere => ({
  id,
  name,
  email: null,
  externalId: null,
  ...over,
});
const there = (sourcedId: string, name: string, email = '') => ({ sourcedId, name, email });

describe('who is who', () => {
  it('goes by the school’s id, then the address, then the name', () => {
    const found = whoIsWho(
      [
        here('a', 'Ada Lind', { externalId: 'p3' }),
        here('b', 'Bo Marsh', { email: 'BO@s.example' }),
        here('c', 'cy noor'),
        here('d', 'Di'),
      ],
      [there('p1', 'Cy Noor'), there('p2', 'B. Marsh', 'bo@s.example'), there('p3', 'A. L.')],
      new Map(),
    );
    expect([...found].map(([id, f]) => [id, f.sourcedId, f.isProposed])).toEqual([
      ['a', 'p3', true],
      ['b', 'p2', true],
      ['c', 'p1', true],
    ]);
  });

  it('guesses nobody of two, makes nobody two people, and takes a person’s word first', () => {
    const twins = [there('p1', 'Ana Reis'), there('p2', 'Ana Reis')];
    expect(whoIsWho([here('a', 'Ana Reis')], twins, new Map()).size).toBe(0);
    const rest = whoIsWho([here('a', 'Ana Reis'), here('b', 'Ana Reis')], twins, new Map([['b', 'p1']]));
    expect([...rest]).toEqual([
      ['b', { sourcedId: 'p1', isProposed: false }],
      ['a', { sourcedId: 'p2', isProposed: true }],
    ]);
    // Who is no longer there is found again, or is nobody.
    expect(whoIsWho([here('a', 'Ana Reis')], [there('p3', 'Other')], new Map([['a', 'p9']])).size).toBe(0);
  });
});
