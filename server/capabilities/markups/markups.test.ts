import { randomUUID } from 'node:crypto';
import { blankStimulus } from '@ecoute/contract/blank';
import type { Markup } from '@ecoute/contract/markups';
import type { FeedbackView } from '@ecoute/contract/marking';
import { handInOne, TestEcoute, type Visitor } from '../../testing/ecoute';

describe('marks on what was read or seen', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let colleague: Visitor;
  let release: { id: string; itemId: string };
  let sittingId: string;
  const passage = blankStimulus(randomUUID(), 'passage', {
    text: 'O sino do porto toca às seis.',
    language: 'pt',
  });
  beforeAll(async () => {
    t = await TestEcoute.open();
    const classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    colleague = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    release = await t.release(teacher, classId, { stimuli: [passage] });
    sittingId = (await handInOne(student, release)).id;
  });
  afterAll(() => t.close());

  const save = (who: Visitor, body: object, targetId = passage.id) =>
    who.ask<Markup>('PUT', `/api/sittings/${sittingId}/items/${release.itemId}/markups/${targetId}`, body);
  const record = (word: number, over: object = {}) => ({
    kind: 'record',
    revision: 0,
    record: {
      lastWord: null,
      fromMs: 0,
      toMs: 2_000,
      marks: [{ word, kind: 'substitution', said: 'sinal 🙂', atMs: 400 }],
      ...over,
    },
  });
  const drawing = (shapes: object[], revision = 0) => ({
    kind: 'drawing',
    revision,
    drawing: { height: 300, shapes },
  });

  it('keep a running record as it is changed, and never a colleague’s over another’s', async () => {
    expect((await save(teacher, record(1))).body).toMatchObject({
      revision: 1,
      record: { marks: [{ word: 1 }] },
    });
    expect(await save(colleague, record(2))).toMatchObject({
      status: 409,
      body: { code: 'stale', current: { revision: 1, record: { marks: [{ word: 1 }] } } },
    });
    expect((await save(colleague, { ...record(2), revision: 1 })).status).toBe(200);
    const both = await Promise.all([teacher, colleague].map(who => save(who, { ...record(3), revision: 2 })));
    expect(both.map(b => b.status).sort()).toEqual([200, 409]);
    const [rows] = await t.ecoute.pool.query(
      'SELECT revision, in_force FROM markups WHERE sitting_id = ? ORDER BY revision',
      [sittingId],
    );
    expect(rows).toEqual([
      { revision: 1, in_force: null },
      { revision: 2, in_force: null },
      { revision: 3, in_force: 1 },
    ]);
  });

  it('lie on the passage: seven words, and nothing beyond', async () => {
    for (const bad of [record(7), record(1, { lastWord: 7 }), record(1, { fromMs: 5, toMs: 5 })])
      expect((await save(teacher, { ...bad, revision: 3 })).status).toBe(422);
    expect((await save(teacher, record(0), randomUUID())).status).toBe(404);
  });

  it('keep which suggestions were refused, and show that to no student', async () => {
    const refused = ['omission:2-4', 'last:5-5'];
    const kept = await save(teacher, { ...record(3, { refused }), revision: 3 });
    expect(kept.body.record?.refused).toEqual(refused);
    for (const bad of [['<b>:1-2'], ['omission:1'], [7], 'omission:1-2'])
      expect((await save(teacher, { ...record(3, { refused: bad }), revision: 4 })).status).toBe(422);
  });

  it('of a dialogue are of one part, which has to be in it', async () => {
    const dialogue = blankStimulus(randomUUID(), 'passage', {
      text: 'Ana: Bom dia!\nRui: Bom dia, Ana.',
      language: 'pt',
    });
    const classId = await t.class();
    const own = await t.person('teacher', [classId]);
    const reader = await t.person('student', [classId]);
    const { itemId, ...other } = await t.release(own, classId, { stimuli: [dialogue] });
    const sitting = await handInOne(reader, { ...other, itemId });
    const put = (part: string | null, revision: number) =>
      own.ask<Markup>('PUT', `/api/sittings/${sitting.id}/items/${itemId}/markups/${dialogue.id}`, {
        ...record(1, { part }),
        revision,
      });
    expect(await put('Rui', 0)).toMatchObject({ status: 200, body: { record: { part: 'Rui' } } });
    expect(await put('Inês', 1)).toMatchObject({
      status: 422,
      body: { message: 'The passage has no such part. Reload the page to see it as it is.' },
    });
    expect(await put(null, 1)).toMatchObject({ status: 200, body: { record: { part: null } } });
    // A passage that is none has no parts.
    expect((await save(teacher, { ...record(1, { part: '*' }), revision: 99 })).status).toBe(422);
  });

  it('keep drawing and text, and refuse what has no place', async () => {
    const stroke = { kind: 'stroke', points: [1, 2, 3, 4] };
    const text = { kind: 'text', x: 10, y: 10, text: '<b>هنا</b>' };
    expect((await save(teacher, drawing([stroke, text]))).body.drawing!.shapes).toEqual([stroke, text]);
    for (const bad of [
      [{ kind: 'stroke', points: [1] }],
      [{ kind: 'text', x: 1, y: 1, text: '' }],
      [{ kind: 'blot' }],
    ])
      expect((await save(teacher, drawing(bad, 1))).status).toBe(422);
    // The ink of a score is path data and nothing else.
    const onScore = (d: string) => ({
      kind: 'drawing',
      revision: 1,
      drawing: { height: 300, shapes: [stroke], score: { x: 0, y: 0, scale: 1, ink: [{ d, width: 1 }] } },
    });
    expect((await save(teacher, onScore('M0 0"><script>'))).status).toBe(422);
    expect((await save(teacher, { kind: 'drawing', revision: 1, drawing: null })).status).toBe(200);
    const { body } = await teacher.ask<Markup[]>(
      'GET',
      `/api/sittings/${sittingId}/items/${release.itemId}/markups`,
    );
    expect(body.map(m => m.kind)).toEqual(['record']);
    expect((await save(teacher, drawing([stroke], 2))).status).toBe(200);
  });

  it('reach the student with the feedback, and not before', async () => {
    const mine = () => student.ask<FeedbackView>('GET', `/api/sittings/${sittingId}/feedback`);
    expect((await mine()).status).toBe(404);
    await teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${release.itemId}`, {
      revision: 0,
      points: 3,
      comment: '',
      finished: true,
    });
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sittingId] });
    expect((await mine()).body.items[0]!.markups.map(m => [m.kind, m.targetId])).toEqual([
      ['record', passage.id],
      ['drawing', passage.id],
    ]);
    expect(JSON.stringify((await mine()).body)).not.toContain('omission:2-4');
  });
});
