import type { ClassDetail, ImportView } from '@ecoute/contract/classes';
import type { FamilyView } from '@ecoute/contract/families';
import type { OwnAccount } from '@ecoute/contract/people';
import { TestEcoute, type Visitor } from '../../testing/ecoute';

describe('addresses of families', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let student: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
  });
  afterAll(() => t.close());
  beforeEach(async () => {
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
  });

  const at = (path = '', of = student) => `/api/classes/${classId}/members/${of.id}/families${path}`;
  const add = (email: string, over: object = {}, by = teacher) =>
    by.ask<FamilyView & { code: string; fields: Record<string, string> }>('POST', at(), {
      email,
      name: 'Grandmother',
      language: 'pt',
      ...over,
    });
  const view = async (who = teacher) => (await who.ask<FamilyView>('GET', at())).body.addresses ?? [];
  const living = async () => (await view()).filter(a => !a.endedBy).map(a => a.email);

  it('belong to a student: teachers of any of their classes see them, nobody else does', async () => {
    await add('Avo@Home.example');
    expect(await view()).toMatchObject([
      { email: 'avo@home.example', name: 'Grandmother', language: 'pt', endedBy: null },
    ]);
    const colleague = await t.person('teacher', [classId]);
    expect(await view(colleague)).toHaveLength(1);
    const members = async (who: Visitor) =>
      (await who.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body.members.find(
        m => m.id === student.id,
      )!.families;
    expect(await members(teacher)).toBe(1);
    const planner = await t.coordinator(classId);
    expect(await members(planner)).toBe(0);
    expect((await planner.ask('GET', at())).status).toBe(404);
    // Of another class this class's teacher learns nothing, and adds nothing to it.
    const stranger = await t.person('student', [await t.class()]);
    expect((await teacher.ask('GET', at('', stranger))).status).toBe(404);
    expect(
      (await teacher.ask('POST', at('', stranger), { email: 'x@y.example', name: '', language: 'en' }))
        .status,
    ).toBe(404);
    // Whoever teaches them no more sees them no more.
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${student.id}`);
    expect((await teacher.ask('GET', at())).status).toBe(404);
  });

  it('are refused with what is wrong, and are each there once', async () => {
    expect((await add('no address')).body.fields.email).toContain('no mail address');
    expect((await add('a@b.example', { language: 'xx' })).body.fields.language).toContain('Choose');
    await add('a@b.example');
    expect((await add('A@B.example')).body.fields.email).toContain('already');
    for (let n = 1; n < 8; n++) await add(`a${n}@b.example`);
    expect((await add('one@more.example')).body.fields.email).toContain('At most 8');
    const [first] = await view();
    await teacher.ask('DELETE', at(`/${first!.id}`));
    expect(await living()).toHaveLength(7);
    await teacher.ask('POST', at(`/${first!.id}/restored`));
    expect(await living()).toContain('a@b.example');
  });

  it('are the student’s own who is of age: they see them, end them, and no teacher begins them again', async () => {
    await add('mother@home.example');
    const own = () => student.ask<FamilyView>('GET', '/api/me/families');
    expect((await own()).body).toEqual({ isAdult: false, addresses: [] });
    const [mother] = await view();
    expect((await student.ask('DELETE', `/api/me/families/${mother!.id}`)).status).toBe(404);
    await teacher.ask('PUT', `/api/classes/${classId}/members/${student.id}/adult`, { isAdult: true });
    expect((await own()).body.addresses).toMatchObject([{ email: 'mother@home.example' }]);
    await student.ask('DELETE', `/api/me/families/${mother!.id}`);
    expect(await living()).toEqual([]);
    // Neither by hand nor by what else is allowed: no longer of age, put back, or another one's id.
    expect((await add('mother@home.example')).body.fields.email).toContain('removed this address');
    await teacher.ask('POST', at(`/${mother!.id}/restored`));
    await teacher.ask('PUT', `/api/classes/${classId}/members/${student.id}/adult`, { isAdult: false });
    expect((await add('mother@home.example')).body.code).toBe('notAllowed');
    await teacher.ask('PUT', `/api/classes/${classId}/members/${student.id}/adult`, { isAdult: true });
    expect(await living()).toEqual([]);
    const other = await t.person('student', [classId]);
    await teacher.ask('PUT', `/api/classes/${classId}/members/${other.id}/adult`, { isAdult: true });
    expect((await other.ask('POST', `/api/me/families/${mother!.id}/restored`)).status).toBe(404);
    await student.ask('POST', `/api/me/families/${mother!.id}/restored`);
    expect(await living()).toEqual(['mother@home.example']);
    const { body } = await student.ask<OwnAccount>('GET', '/api/me');
    expect(body.doneByOthers.map(d => d.kind)).toEqual(
      expect.arrayContaining(['familyAddressAdded', 'namedAdult']),
    );
  });

  it('are of no use without mail, and whoever speaks to them is told so', async () => {
    await add('mother@home.example');
    const { body } = await teacher.ask('POST', `/api/classes/${classId}/spoken-messages`, {
      id: student.id,
      voice: { recordingId: student.id, mediaType: 'audio/wav' },
      title: 'T',
      words: '',
      reaches: 'both',
    });
    expect(body).toMatchObject({ code: 'noMail' });
  });

  it('come by a list and leave by one, several in a cell with their languages', async () => {
    await add('mother@home.example');
    await teacher.ask('PUT', `/api/classes/${classId}/members/${student.id}/adult`, { isAdult: true });
    const [mother] = await view();
    await student.ask('DELETE', `/api/me/families/${mother!.id}`);
    const signInName = `student-${student.id}`;
    const list = [
      'Name,Sign-in name,Parents’ mail,Family language',
      `Known,${signInName},mother@home.example; aunt@home.example,Portuguese; de`,
      'Ana Reis,ana.reis,pai@reis.example avo@reis.example,português',
      'Bo Lind,bo.lind,nobody,en',
      'Cy Day,cy.day,cy@day.example,Klingon',
    ].join('\n');
    const brought = await teacher.ask<ImportView>(
      'POST',
      `/api/classes/${classId}/imports`,
      Buffer.from(list),
    );
    expect(brought.body.rows.filter(r => r.fate === 'leftOut').map(r => r.why)).toEqual([
      'has a family address that is none: nobody',
      'has a family language that families are not written to in: Klingon (write en, pt, es, fr, de, ar, ja)',
    ]);
    await teacher.ask('POST', `/api/imports/${brought.body.id}/confirm`);
    const done = async () =>
      (await teacher.ask<ImportView>('GET', `/api/imports/${brought.body.id}`)).body.state === 'done';
    while (!(await done())) await new Promise(resolve => setTimeout(resolve, 50));
    // What the student of age ended stays ended.
    expect(await living()).toEqual(['aunt@home.example']);
    const csv = String((await teacher.ask('GET', `/api/classes/${classId}/list`)).body);
    expect(csv).toContain('Family mail,Family language');
    expect(csv).toContain('aunt@home.example,de');
    expect(csv).toContain('avo@reis.example; pai@reis.example,pt; pt');
    expect(csv).not.toContain('mother@home.example');
    const planner = await t.coordinator(classId);
    expect(String((await planner.ask('GET', `/api/classes/${classId}/list`)).body)).not.toContain('aunt@');
  });
});
