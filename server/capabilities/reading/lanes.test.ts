import type { ListenView } from '@ecoute/contract/marking';
import { handInOne, recordTake, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('lanes', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const view = async (releaseId: string) =>
    (await teacher.ask<ListenView>('GET', `/api/releases/${releaseId}/lanes`)).body;

  it('lie by item in the order of the assessment, students by name; nothing is heard of what is only begun', async () => {
    const [zoe, ana, ben] = await Promise.all([1, 2, 3].map(() => t.person('student', [classId])));
    for (const [person, name] of [
      [zoe, 'Zoe'],
      [ana, 'Ana'],
      [ben, 'Ben'],
    ] as const)
      await t.ecoute.pool.query('UPDATE people SET display_name = ? WHERE id = ?', [name, person!.id]);
    const items = [spokenItem(), spokenItem({ answerBy: 'nothing' }), spokenItem()];
    const release = await t.release(teacher, classId, {}, 3_600_000, { items });
    for (const one of [zoe!, ana!]) {
      const { body } = await one.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
      for (const item of [items[0]!, items[2]!]) await recordTake(one, body.id, item.id, tone(1));
      await one.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
    }
    const { body } = await ben!.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    expect((await view(release.id)).lanes.map(l => l.studentName)).toEqual(['Ana', 'Zoe', 'Ana', 'Zoe']);
    await recordTake(ben!, body.id, items[2]!.id, tone(1));
    const { lanes, missing } = await view(release.id);
    expect(lanes.map(l => [items.findIndex(i => i.id === l.itemId), l.studentName, l.state])).toEqual([
      [0, 'Ana', 'handedIn'],
      [0, 'Zoe', 'handedIn'],
      [2, 'Ana', 'handedIn'],
      [2, 'Ben', 'underWay'],
      [2, 'Zoe', 'handedIn'],
    ]);
    expect(missing.map(m => m.displayName)).toEqual(['Ben']);
    // What is under way cannot be scored.
    const mark = await teacher.ask('PUT', `/api/sittings/${body.id}/marks/${items[2]!.id}`, {
      revision: 0,
      points: 1,
      comment: '',
      finished: true,
    });
    expect(mark).toMatchObject({ status: 409, body: { code: 'notHandedIn' } });
  });

  it('keep a mark for the sitting that counts, and leave the one before it as it was', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    await teacher.ask('PUT', `/api/releases/${release.id}/exceptions/${student.id}`, { extraSittings: 1 });
    const first = await handInOne(student, release, 1);
    const path = (id: string) => `/api/sittings/${id}/marks/${release.itemId}`;
    const mark = { revision: 0, points: 2, comment: 'first', finished: true };
    await teacher.ask('PUT', path(first.id), mark);
    const again = await handInOne(student, release, 2);
    const [lane] = (await view(release.id)).lanes;
    expect([lane!.sittingId, lane!.mark, lane!.durationMs]).toEqual([again.id, null, 2_000]);
    const { body } = await teacher.ask<{ marks: { comment: string }[] }>(
      'GET',
      `/api/sittings/${first.id}/scores`,
    );
    expect(body.marks.map(m => m.comment)).toEqual(['first']);
  });

  it('number hidden names without their alphabet, and the same each time', async () => {
    const names = ['Aa', 'Bb', 'Cc', 'Dd', 'Ee', 'Ff', 'Gg', 'Hh'];
    const people = await Promise.all(names.map(() => t.person('student', [classId])));
    for (const [i, person] of people.entries())
      await t.ecoute.pool.query('UPDATE people SET display_name = ? WHERE id = ?', [names[i], person.id]);
    const release = await t.release(teacher, classId);
    const sittings = new Map<string, string>();
    for (const [i, person] of people.entries())
      sittings.set((await handInOne(person, release, 1)).id, names[i]!);
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: true });
    const order = async () =>
      (await view(release.id)).lanes.map(l => [l.studentName, sittings.get(l.sittingId)!]);
    const shown = (await order()).filter(([, name]) => name);
    expect(shown.map(([number]) => number)).toEqual([...shown.map(([number]) => number)].sort());
    // Eight in alphabetical order by chance: one in 40 320.
    expect(shown.map(([, name]) => name)).not.toEqual(names);
    expect((await order()).filter(([, name]) => name)).toEqual(shown);
  });
});
