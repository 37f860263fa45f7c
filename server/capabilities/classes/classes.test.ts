import type { ClassDetail, ClassSummary } from '@ecoute/contract/classes';
import { PASSWORD, TestEcoute, type Visitor } from '../../testing/ecoute';

describe('classes', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    teacher = await t.person('teacher');
  });
  afterAll(() => t.close());

  it('makes a class with its teacher in it, and lists only one’s own', async () => {
    const made = await teacher.ask<ClassDetail>('POST', '/api/classes', {
      name: '  Português B1 ',
      subject: 'language',
    });
    expect(made.body).toMatchObject({ name: 'Português B1', members: [{ id: teacher.id, role: 'teacher' }] });
    const other = await t.person('teacher');
    expect((await other.ask<ClassSummary[]>('GET', '/api/classes')).body).toEqual([]);
    expect((await teacher.ask<ClassSummary[]>('GET', '/api/classes')).body).toEqual([
      expect.objectContaining({ students: 0, name: 'Português B1' }),
    ]);
  });

  it('adds a student who can sign in at once; names in any script', async () => {
    const { body } = await teacher.ask<ClassDetail>('POST', '/api/classes', {
      name: 'Coro',
      subject: 'music',
    });
    for (const [displayName, signInName] of [
      ['ليلى الحداد', 'layla'],
      ['さくら 花村', 'sakura'],
      ['Ødegård, Åse', 'aase'],
    ])
      expect(
        (
          await teacher.ask('POST', `/api/classes/${body.id}/students`, {
            displayName,
            signInName,
            password: PASSWORD,
          })
        ).status,
      ).toBe(200);
    const { body: detail } = await teacher.ask<ClassDetail>('GET', `/api/classes/${body.id}`);
    expect(
      detail.members
        .filter(m => m.role === 'student')
        .map(m => m.displayName)
        .sort(),
    ).toEqual(['Ødegård, Åse', 'さくら 花村', 'ليلى الحداد'].sort());
    const student = await t.visitor().signIn('sakura');
    expect((await student.ask('GET', '/api/todo')).body).toEqual([]);
  });

  it('refuses a name that is taken at its field, and adds nobody', async () => {
    const { body } = await teacher.ask<ClassDetail>('POST', '/api/classes', {
      name: 'Duo',
      subject: 'music',
    });
    const add = () =>
      teacher.ask<ClassDetail>('POST', `/api/classes/${body.id}/students`, {
        displayName: 'Rui',
        signInName: 'rui',
        password: PASSWORD,
      });
    expect((await add()).status).toBe(200);
    expect(await add()).toMatchObject({
      status: 422,
      body: { fields: { signInName: expect.stringContaining('already') } },
    });
    expect((await teacher.ask<ClassDetail>('GET', `/api/classes/${body.id}`)).body.members).toHaveLength(2);
  });

  it('says what is missing, field by field', async () => {
    expect(await teacher.ask('POST', '/api/classes', { name: ' ', subject: 'sport' })).toMatchObject({
      status: 422,
      body: { fields: { name: 'Give the class a name.', subject: 'Choose language or music.' } },
    });
    expect((await teacher.ask('POST', '/api/classes', [])).status).toBe(422);
    expect((await teacher.ask('POST', '/api/classes', undefined)).status).toBe(422);
  });
});
