import { randomUUID } from 'node:crypto';
import type { AssessmentContent, Rubric } from '@ecoute/contract/assessments';
import { blankContent, blankScoring } from '@ecoute/contract/blank';
import type { ListenView, Mark, FeedbackView, FeedbackResult } from '@ecoute/contract/marking';
import type { SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { recordTake, spokenItem, TestEcoute, type Visitor } from '../../testing/ecoute';

describe('marking by the scheme', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const rubric: Rubric = {
    levels: [
      { name: 'low', points: 0 },
      { name: 'high', points: 4 },
    ],
    criteria: [
      { id: randomUUID(), name: 'Flow', weight: 1, descriptors: ['', ''] },
      { id: randomUUID(), name: 'Sounds', weight: 3, descriptors: ['', ''] },
    ],
  };

  async function handedIn(content: Partial<AssessmentContent>) {
    const student = await t.person('student', [classId]);
    const item = spokenItem({ points: 10 });
    const release = await t.release(teacher, classId, {}, 3_600_000, { items: [item], ...content });
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    await recordTake(student, body.id, item.id);
    await student.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
    const mark = (over: object) =>
      teacher.ask<Mark>('PUT', `/api/sittings/${body.id}/marks/${item.id}`, {
        revision: 0,
        points: null,
        comment: '',
        finished: true,
        ...over,
      });
    const giveFeedback = async () =>
      (
        await teacher.ask<FeedbackResult>('POST', `/api/releases/${release.id}/feedback`, {
          sittingIds: [body.id],
        })
      ).body;
    const returned = async () =>
      (await student.ask<FeedbackView>('GET', `/api/sittings/${body.id}/feedback`)).body;
    const lanes = async () =>
      (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body.lanes;
    return { student, release, item, view: body, id: body.id, mark, giveFeedback, returned, lanes };
  }

  it('keeps the levels of a rubric with the points, and only levels that the rubric has', async () => {
    const scoring = { ...blankScoring('homework'), kind: 'rubric' as const, rubric, passMark: 7.5 };
    const { mark, giveFeedback, returned, lanes } = await handedIn({ scoring });
    const choices = rubric.criteria.map((c, i) => ({ criterionId: c.id, level: i }));
    expect((await mark({ points: 7.5, choices: [{ criterionId: randomUUID(), level: 0 }] })).status).toBe(
      422,
    );
    expect((await mark({ points: 7.5, choices: [{ ...choices[0]!, level: 2 }] })).status).toBe(422);
    expect((await mark({ points: 7.5, choices })).body).toMatchObject({ points: 7.5, choices });
    expect((await lanes())[0]!.mark!.choices).toEqual(choices);
    expect(await giveFeedback()).toMatchObject({ given: 1 });
    expect(await returned()).toMatchObject({
      total: { given: 7.5, maximum: 10 },
      enough: true,
      items: [{ choices }],
      content: { scoring: { rubric: { criteria: [{ name: 'Flow' }, { name: 'Sounds' }] } } },
    });
  });

  it('does not show students a rubric that is kept from them', async () => {
    const scoring = { ...blankScoring('homework'), kind: 'rubric' as const, rubric, shown: false };
    const { student, release, view, id, mark, giveFeedback, returned } = await handedIn({ scoring });
    expect(view.content.scoring.rubric).toBeNull();
    await mark({ points: 3 });
    await giveFeedback();
    expect((await returned()).content.scoring.rubric).toBeNull();
    const todo = (await student.ask<TodoEntry[]>('GET', '/api/todo')).body.find(
      e => e.releaseId === release.id,
    );
    const sitting = (await student.ask('GET', `/api/sittings/${id}`)).body;
    expect(JSON.stringify([todo, sitting])).not.toContain('Sounds');
  });

  it('gives an overall level before the feedback and shows it in words, without a number', async () => {
    const { student, id, mark, giveFeedback, returned, lanes } = await handedIn({
      scoring: blankScoring('placement'),
    });
    const level = (who: Visitor, n: number | null, revision = 0, reason = '') =>
      who.ask('PUT', `/api/sittings/${id}/level`, { level: n, revision, reason });
    await mark({});
    expect(await giveFeedback()).toMatchObject({ given: 0, unfinished: [{ items: [], level: true }] });
    // Nothing of it is marked, and it is not feedback to give, before it has its level.
    expect((await lanes())[0]!.state).toBe('handedIn');
    expect((await level(teacher, 99)).status).toBe(422);
    expect((await level(student, 2)).status).toBe(404);
    await level(teacher, 1);
    expect((await lanes())[0]!.state).toBe('marked');
    // Somebody else chose in between; and another level says why.
    expect((await level(teacher, 2)).body).toMatchObject({
      code: 'stale',
      current: { level: 1, revision: 1 },
    });
    expect((await level(teacher, 2, 1)).status).toBe(422);
    await level(teacher, 2, 1, 'Heard item 3 again.');
    expect((await teacher.ask('GET', `/api/sittings/${id}/scores`)).body).toMatchObject({
      levels: [
        { level: 2, reason: 'Heard item 3 again.' },
        { level: 1, reason: '' },
      ],
    });
    expect((await lanes())[0]!.level).toBe(2);
    // Nothing is updated away: the first word stays as history.
    const [rows] = await t.ecoute.pool.query(
      'SELECT level, in_force FROM overall_levels WHERE sitting_id = ? ORDER BY level',
      [id],
    );
    expect(rows).toEqual([
      { level: 1, in_force: null },
      { level: 2, in_force: 1 },
    ]);
    expect(await giveFeedback()).toMatchObject({ given: 1 });
    expect(await returned()).toMatchObject({
      level: { name: 'A2' },
      total: null,
      enough: null,
      content: { scoring: { scale: [] } },
    });
  });

  it('knows done and not done, and neither adds up to a number', async () => {
    const { mark, giveFeedback, returned } = await handedIn({
      scoring: { ...blankScoring('homework'), kind: 'done' },
    });
    expect((await mark({})).status).toBe(422);
    expect((await mark({ points: 5 })).status).toBe(422);
    expect((await mark({ points: 1 })).status).toBe(200);
    await giveFeedback();
    expect(await returned()).toMatchObject({ total: null, items: [{ points: 1 }] });
  });

  it('is not released with a scheme that contradicts itself', async () => {
    const make = async (scoring: object, points = 5) => {
      const made = await teacher.ask<{ id: string }>('POST', '/api/assessments', {
        ...blankContent('homework', { title: 'T' }),
        items: [spokenItem({ points })],
        scoring: { ...blankScoring('homework'), ...scoring },
      });
      return teacher.ask<{ message: string }>('POST', '/api/releases', {
        assessmentId: made.body.id,
        classId,
        dueAt: new Date(Date.now() + 60_000).toISOString(),
        lateAccepted: true,
        note: '',
      });
    };
    const falling = { ...rubric, levels: [...rubric.levels].reverse() };
    const weightless = { ...rubric, criteria: rubric.criteria.map(c => ({ ...c, weight: 0 })) };
    for (const [scoring, message] of [
      [{ kind: 'rubric', rubric: null }, 'Choose or write a rubric'],
      [{ kind: 'rubric', rubric: falling }, 'out of order'],
      [{ kind: 'rubric', rubric: weightless }, 'All weights are zero'],
      [{ passMark: 6 }, 'more than the 5 points'],
    ] as const)
      expect(await make(scoring)).toMatchObject({
        status: 422,
        body: { message: expect.stringContaining(message) },
      });
    expect((await make({}, 0)).body.message).toContain('nothing to reach');
  });
});
