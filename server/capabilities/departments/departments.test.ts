import { randomUUID } from 'node:crypto';
import type { AssessmentDraft } from '@ecoute/contract/assessments';
import { blankContent } from '@ecoute/contract/blank';
import type { Department, SharedAssessment } from '@ecoute/contract/departments';
import type { TagList } from '@ecoute/contract/tags';
import { send, settled, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('departments and their shelf', () => {
  let t: TestEcoute;
  let owner: Visitor;
  let colleague: Visitor;
  let stranger: Visitor;
  let departmentId: string;
  let draft: AssessmentDraft;
  let sound: string;

  beforeAll(async () => {
    t = await TestEcoute.open();
    [owner, colleague, stranger] = [
      await t.person('teacher'),
      await t.person('teacher'),
      await t.person('teacher'),
    ];
    draft = (
      await owner.ask<AssessmentDraft>(
        'POST',
        '/api/assessments',
        blankContent('homework', { title: 'Tides' }),
      )
    ).body;
    sound = randomUUID();
    await owner.ask('POST', `/api/assessments/${draft.id}/prompts`, {
      recordingId: sound,
      mediaType: 'audio/wav',
      source: 'recorded',
      fileName: null,
    });
    await send(owner, sound, tone(1));
    await settled(owner, sound);
    const item = spokenItem({ promptRecordingId: sound, tags: [{ code: 'S1', words: 'can greet' }] });
    draft = (
      await owner.ask<AssessmentDraft>('PUT', `/api/assessments/${draft.id}`, {
        revision: 1,
        content: { ...draft.content, items: [item] },
      })
    ).body;
    const made = await owner.ask<Department[]>('POST', '/api/departments', { name: ' Languages ' });
    departmentId = made.body[0]!.id;
    expect(made.body).toEqual([
      { id: departmentId, name: 'Languages', members: [{ id: owner.id, displayName: expect.anything() }] },
    ]);
  });
  afterAll(() => t.close());

  const nameOf = (visitor: Visitor) => `teacher-${visitor.id}`;
  const add = (by: Visitor, signInName: string) =>
    by.ask<{ message: string }>('POST', `/api/departments/${departmentId}/members`, { signInName });
  const share = (edits: boolean | null) =>
    owner.ask('PUT', `/api/assessments/${draft.id}/shares`, {
      shares: edits === null ? [] : [{ departmentId, edits }],
    });
  const shelf = async (visitor: Visitor) => (await visitor.ask<SharedAssessment[]>('GET', '/api/shelf')).body;
  const read = (visitor: Visitor) => visitor.ask<AssessmentDraft>('GET', `/api/assessments/${draft.id}`);
  const save = (visitor: Visitor, revision: number, title: string) =>
    visitor.ask<{ message: string; current: AssessmentDraft }>('PUT', `/api/assessments/${draft.id}`, {
      revision,
      content: { ...draft.content, title },
    });
  const hear = async (visitor: Visitor) =>
    (await visitor.ask('GET', `/api/recordings/${sound}/peaks`)).status;

  it('are joined by those whom a member adds, teachers alone', async () => {
    const student = await t.person('student');
    expect((await add(owner, `student-${student.id}`)).body.message).toContain('No teacher here');
    expect((await add(owner, 'nobody')).status).toBe(422);
    expect((await add(stranger, nameOf(stranger))).status).toBe(404);
    // The names of test people are made from ids that they are not told; the database knows them.
    const [found] = (await t.ecoute.pool.query('SELECT sign_in_name AS name FROM people WHERE id = ?', [
      colleague.id,
    ])) as unknown as [{ name: string }[]];
    expect((await add(owner, found[0]!.name)).status).toBe(200);
    expect((await add(owner, found[0]!.name)).status).toBe(200);
    // Asked, and nothing more before they say yes.
    expect((await colleague.ask<Department[]>('GET', '/api/departments')).body).toEqual([]);
    await colleague.acceptAll();
    const { body } = await colleague.ask<Department[]>('GET', '/api/departments');
    expect(body[0]!.members.map(m => m.id).sort()).toEqual([owner.id, colleague.id].sort());
  });

  it('show what is shared, and its sounds, to members alone; copies are their own', async () => {
    expect(await shelf(colleague)).toEqual([]);
    expect([(await read(colleague)).status, await hear(colleague)]).toEqual([404, 404]);
    await share(false);
    expect(await shelf(colleague)).toMatchObject([
      { id: draft.id, departmentName: 'Languages', edits: false },
    ]);
    expect(await shelf(owner)).toEqual([]);
    expect([(await read(colleague)).status, await hear(colleague)]).toEqual([200, 200]);
    expect([(await read(stranger)).status, await hear(stranger)]).toEqual([404, 404]);
    expect((await save(colleague, 2, 'Mine now')).status).toBe(404);
    const copy = await colleague.ask<AssessmentDraft>('POST', `/api/assessments/${draft.id}/copy`);
    expect(copy.body).toMatchObject({ ownerId: colleague.id, content: { title: 'Tides, a copy' } });
    // The copy speaks with the same sound, also once the original is shared no more.
    await share(null);
    expect(await hear(colleague)).toBe(200);
    const { status } = await colleague.ask('PUT', `/api/assessments/${copy.body.id}`, {
      revision: 1,
      content: { ...copy.body.content, title: 'My tides' },
    });
    expect(status).toBe(200);
  });

  it('let colleagues change what is shared for it; who comes second is told who saved', async () => {
    await share(true);
    expect((await save(colleague, 2, 'Tides and winds')).status).toBe(200);
    const late = await save(owner, 2, 'Tides again');
    expect(late.status).toBe(409);
    expect(late.body.message).toContain(`Name of`);
    expect(late.body.message).toContain('saved this assessment since');
    expect(late.body.current.content.title).toBe('Tides and winds');
    expect(late.body.current.savedBy).not.toBe(late.body.current.ownerName);
  });

  it('have templates, begun from under their own title', async () => {
    await share(false);
    await owner.ask('PUT', `/api/assessments/${draft.id}/template`, { isTemplate: true });
    expect(await shelf(colleague)).toMatchObject([{ isTemplate: true }]);
    const begun = await colleague.ask<AssessmentDraft>('POST', `/api/assessments/${draft.id}/copy`);
    expect(begun.body).toMatchObject({ isTemplate: false, content: { title: 'Tides and winds' } });
    expect(
      (await colleague.ask('PUT', `/api/assessments/${draft.id}/template`, { isTemplate: false })).status,
    ).toBe(404);
  });

  it('share lists of statements; only their owner removes them', async () => {
    const lists = async (visitor: Visitor) => (await visitor.ask<TagList[]>('GET', '/api/tag-lists')).body;
    const statements = [
      { code: 'S2', words: 'can part' },
      { code: 'S1', words: 'can greet' },
    ];
    const made = await owner.ask<TagList[]>('POST', '/api/tag-lists', { name: 'Can-do', statements });
    const { id } = made.body[0]!;
    expect(await lists(colleague)).toEqual([{ id, name: 'Can-do', tags: statements }]);
    expect(await lists(stranger)).toEqual([]);
    expect((await colleague.ask('DELETE', `/api/tag-lists/${id}`)).status).toBe(404);
    expect((await owner.ask('POST', '/api/tag-lists', { name: 'None', statements: [] })).status).toBe(422);
    expect((await owner.ask('DELETE', `/api/tag-lists/${id}`)).body).toEqual([]);
    // What was put on items was copied there.
    expect((await read(owner)).body.content.items[0]!.tags).toEqual([{ code: 'S1', words: 'can greet' }]);
  });

  it('lose what a colleague shared when they leave', async () => {
    expect(await shelf(colleague)).toHaveLength(1);
    await owner.ask('DELETE', `/api/departments/${departmentId}/members`);
    expect(await shelf(colleague)).toEqual([]);
    expect((await owner.ask('GET', '/api/departments')).body).toEqual([]);
    expect((await read(owner)).status).toBe(200);
  });
});
