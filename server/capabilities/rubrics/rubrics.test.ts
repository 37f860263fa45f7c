import { randomUUID } from 'node:crypto';
import type { KeptRubric } from '@ecoute/contract/rubrics';
import { TestEcoute, type Visitor } from '../../testing/ecoute';

describe('rubrics on a shelf', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let colleague: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    teacher = await t.person('teacher');
    colleague = await t.person('teacher');
  });
  afterAll(() => t.close());

  const rubric = (criterion: string) => ({
    levels: [
      { name: 'not yet', points: 0 },
      { name: 'yes', points: 1 },
    ],
    criteria: [{ id: randomUUID(), name: criterion, weight: 1, descriptors: ['', ''] }],
  });
  const keep = (name: string, criterion = 'Flow', who = teacher) =>
    who.ask<KeptRubric[]>('POST', '/api/rubrics', { name, rubric: rubric(criterion), shown: false });
  const names = async (who = teacher) =>
    (await who.ask<KeptRubric[]>('GET', '/api/rubrics')).body.map(k => [k.name, k.takenAt !== null]);

  it('are kept by name, one of each name, and come back when they were taken off', async () => {
    await keep('Oral exam');
    expect((await keep(' Oral exam ', 'Flow and sound')).body.map(k => k.takenAt === null)).toEqual([
      true,
      false,
    ]);
    const [now, before] = (await teacher.ask<KeptRubric[]>('GET', '/api/rubrics')).body;
    expect([now!.rubric.criteria[0]!.name, now!.shown]).toEqual(['Flow and sound', false]);
    expect(before!.rubric.criteria[0]!.name).toBe('Flow');
    await teacher.ask('PUT', `/api/rubrics/${now!.id}/taken`, { taken: true });
    expect(await names()).toEqual([
      ['Oral exam', true],
      ['Oral exam', true],
    ]);
    await teacher.ask('PUT', `/api/rubrics/${before!.id}/taken`, { taken: false });
    expect(await names()).toEqual([
      ['Oral exam', false],
      ['Oral exam', true],
    ]);
  });

  it('are one teacher’s: a colleague neither sees nor takes one', async () => {
    const { body } = await keep('Reading');
    const id = body.find(k => k.name === 'Reading')!.id;
    expect(await names(colleague)).toEqual([]);
    expect((await colleague.ask('PUT', `/api/rubrics/${id}/taken`, { taken: true })).status).toBe(404);
    expect((await keep(' ')).status).toBe(422);
    const student = await t.person('student');
    expect((await student.ask('GET', '/api/rubrics')).status).not.toBe(200);
  });
});
