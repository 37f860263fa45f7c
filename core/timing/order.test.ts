import fc from 'fast-check';
import { groupsOf, orderOf, shuffledBy } from './order';

const item = (id: string, sectionId: string | null = null) => ({ id, sectionId });
const section = (id: string, shuffled = false) => ({ id, title: id, shuffled });

describe('the order of a sitting', () => {
  it('gathers sections at the place of their first item', () => {
    const groups = groupsOf(
      [item('1'), item('2', 'A'), item('3', 'B'), item('4', 'A'), item('5'), item('6', 'gone')],
      [section('A'), section('B')],
    );
    expect(groups.map(g => [g.section?.id ?? null, g.items.map(i => i.id).join('')])).toEqual([
      [null, '1'],
      ['A', '24'],
      ['B', '3'],
      [null, '56'],
    ]);
  });

  it('is the teacher’s where nothing is shuffled, and keeps every section in its place where it is', () => {
    const items = ['1', '2', '3', '4', '5', '6', '7', '8'].map((id, i) => item(id, i < 2 ? null : 'A'));
    const fixed = orderOf(items, [section('A')], 'seed').map(i => i.id);
    expect(fixed.join('')).toBe('12345678');
    const orders = new Set(
      Array.from({ length: 40 }, (_, n) =>
        orderOf(items, [section('A', true)], `sitting ${n}`)
          .map(i => i.id)
          .join(''),
      ),
    );
    expect(orders.size).toBeGreaterThan(30);
    for (const order of orders) expect(order.startsWith('12')).toBe(true);
  });

  it('shuffles without losing anything, the same way for the same seed', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer()), fc.string(), (list, seed) => {
        const out = shuffledBy(list, seed);
        expect([...out].sort()).toEqual([...list].sort());
        expect(shuffledBy(list, seed)).toEqual(out);
      }),
    );
  });

  it('has no favourite place: each item comes first about equally often', () => {
    const counts = new Map<number, number>();
    for (let n = 0; n < 3_000; n++) {
      const first = shuffledBy([0, 1, 2, 3, 4], `sitting ${n}`)[0]!;
      counts.set(first, (counts.get(first) ?? 0) + 1);
    }
    // 600 expected, standard deviation 22: five of them on either side.
    for (const count of counts.values()) expect(Math.abs(count - 600)).toBeLessThan(110);
    expect(counts.size).toBe(5);
  });
});
