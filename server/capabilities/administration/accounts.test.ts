import type { AccountList } from '@ecoute/contract/administration';
import { TestEcoute, type Visitor } from '../../testing/ecoute';

describe('somebody is looked for among all accounts', () => {
  let t: TestEcoute;
  let admin: Visitor;

  beforeAll(async () => {
    t = await TestEcoute.open();
    admin = await t.person('teacher');
    await t.ecoute.pool.query('UPDATE people SET is_admin = TRUE WHERE id = ?', [admin.id]);
    // Two thousand and more of one name, a few of another, and one whose sign-in name begins as that does.
    await t.ecoute.pool.query(
      `INSERT INTO people (id, sign_in_name, display_name, role, created_at)
       SELECT UUID(), CONCAT('many-', LPAD(seq, 4, '0')), CONCAT('Pebble ', seq), 'student', UTC_TIMESTAMP(3) FROM seq_1_to_2100
       UNION ALL SELECT UUID(), CONCAT('few-', LPAD(seq, 4, '0')), CONCAT('Quill ', seq), 'student', UTC_TIMESTAMP(3) FROM seq_1_to_150
       UNION ALL SELECT UUID(), 'quilly', 'Under_score', 'student', UTC_TIMESTAMP(3)
       UNION ALL SELECT UUID(), 'a-guest', 'Quill Guest', 'student', UTC_TIMESTAMP(3)`,
    );
    await t.ecoute.pool.query("UPDATE people SET guest_link_id = UUID() WHERE sign_in_name = 'a-guest'");
  });
  afterAll(() => t.close());

  /** All pages, as somebody who goes on to the end sees them. */
  async function all(find: string): Promise<string[]> {
    const names: string[] = [];
    for (let after = ''; ;) {
      const { body } = await admin.ask<AccountList>(
        'GET',
        `/api/administration/people?find=${encodeURIComponent(find)}&after=${after}`,
      );
      names.push(...body.people.map(p => p.signInName));
      if (!body.after) return names;
      after = body.after;
    }
  }

  it('by the beginning of either name, in order, each once, and no guests', async () => {
    const few = Array.from({ length: 150 }, (_, i) => `few-${String(i + 1).padStart(4, '0')}`);
    expect(await all('quill')).toEqual([...few, 'quilly']);
    expect(await all('few-000')).toEqual(few.slice(0, 9));
    expect(await all('a-guest')).toEqual([]);
    // What stands for any letter in a question stands for itself.
    expect(await all('under_')).toEqual(['quilly']);
    expect(await all('_uill')).toEqual([]);
  });

  it('also where so many have the name that they are not looked at one by one', async () => {
    const found = await all('pebble');
    expect(found).toHaveLength(2_100);
    expect(found).toEqual([...new Set(found)].sort());
    expect((await all('')).length).toBeGreaterThan(2_250);
  });
});
