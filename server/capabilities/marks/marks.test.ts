import { randomUUID } from 'node:crypto';
import type {
  ListenView,
  Mark,
  MarkHistory,
  FeedbackEntry,
  FeedbackResult,
  FeedbackView,
} from '@ecoute/contract/marking';
import { handInOne, hurry, recordTake, TestEcoute, type Visitor } from '../../testing/ecoute';

describe('marking', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let colleague: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    colleague = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  async function handedIn() {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const id = (await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`)).body.id;
    await recordTake(student, id, release.itemId);
    await student.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: false });
    const mark = (
      visitor: Visitor,
      revision: number,
      points: number | null,
      finished: boolean,
      comment = '',
      reason = '',
    ) =>
      visitor.ask<Mark>('PUT', `/api/sittings/${id}/marks/${release.itemId}`, {
        revision,
        points,
        comment,
        finished,
        reason,
      });
    return { student, release, id, mark };
  }

  it('shows lanes of what is handed in, and who is missing', async () => {
    const { release, id, student } = await handedIn();
    const { body } = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(body.lanes).toEqual([
      expect.objectContaining({ sittingId: id, durationMs: 2_000, takes: 1, mark: null, state: 'handedIn' }),
    ]);
    expect(body.missing.map(m => m.id)).not.toContain(student.id);
  });

  it('refuses points beyond the item and a finish without points', async () => {
    const { mark } = await handedIn();
    expect(await mark(teacher, 0, 5.5, true)).toMatchObject({
      status: 422,
      body: { fields: { points: 'This item carries at most 5 points.' } },
    });
    expect((await mark(teacher, 0, -1, true)).status).toBe(422);
    expect((await mark(teacher, 0, 1.234, true)).status).toBe(422);
    expect(await mark(teacher, 0, null, true)).toMatchObject({
      status: 422,
      body: { fields: { points: 'Give points before you finish this answer.' } },
    });
    expect(await mark(teacher, 0, 2.5, true, 'Bem!')).toMatchObject({
      status: 200,
      body: { points: 2.5, revision: 1, finished: true },
    });
  });

  it('never overwrites silently: the second teacher is told what the first gave', async () => {
    const { mark } = await handedIn();
    await mark(teacher, 0, 4, true, 'from the first');
    expect(await mark(colleague, 0, 2, true, 'from the second')).toMatchObject({
      status: 409,
      body: { code: 'stale', current: { points: 4, comment: 'from the first' } },
    });
    expect((await mark(colleague, 1, 2, true, 'from the second', 'heard again')).body).toMatchObject({
      points: 2,
      revision: 2,
    });
    const both = await Promise.all([
      mark(teacher, 2, 1, true, '', 'x'),
      mark(colleague, 2, 3, true, '', 'y'),
    ]);
    expect(both.map(b => b.status).sort()).toEqual([200, 409]);
  });

  it('keeps a finished mark when it is changed later, and rewrites an unfinished one', async () => {
    const { mark, id } = await handedIn();
    await mark(teacher, 0, null, false, 'dra');
    await mark(teacher, 1, 3, false, 'draft');
    await mark(teacher, 2, 3, true, 'done');
    expect((await mark(teacher, 3, 4, true, 'on second thoughts')).body).toMatchObject({
      code: 'invalid',
      fields: { reason: 'Say why the score changes: it is kept with the one before.' },
    });
    await mark(teacher, 3, 4, true, 'on second thoughts', 'heard again');
    // Another comment alone needs no reason, and leaves the one of the score.
    await mark(teacher, 4, 4, true, 'on third thoughts');
    const [rows] = await t.ecoute.pool.query(
      'SELECT comment, points_hundredths AS points, superseded_at IS NULL AS holds FROM marks WHERE sitting_id = ? ORDER BY revision',
      [id],
    );
    expect(rows).toEqual([
      { comment: 'done', points: 300, holds: 0 },
      { comment: 'on second thoughts', points: 400, holds: 0 },
      { comment: 'on third thoughts', points: 400, holds: 1 },
    ]);
    const { body } = await teacher.ask<MarkHistory>('GET', `/api/sittings/${id}/scores`);
    expect(body.marks.map(m => [m.points, m.comment, m.reason])).toEqual([
      [4, 'on third thoughts', 'heard again'],
      [4, 'on second thoughts', 'heard again'],
      [3, 'done', ''],
    ]);
    expect(new Set(body.marks.map(m => m.authorName)).size).toBe(1);
  });

  it('takes a first finishing back for whoever did it, for a minute, while nobody has the feedback', async () => {
    const { mark, id } = await handedIn();
    await mark(teacher, 0, 3, true, 'a slip');
    // Nobody else's, and not what took the place of another score.
    expect((await mark(colleague, 1, 3, false)).body).toMatchObject({ code: 'decidedOtherwise' });
    expect((await mark(teacher, 1, 3, false, 'a slip')).body).toMatchObject({ finished: false, points: 3 });
    // As if it had not been: another score needs no reason, and nothing of it is kept.
    expect((await mark(teacher, 2, 4, true)).status).toBe(200);
    const { body } = await teacher.ask<MarkHistory>('GET', `/api/sittings/${id}/scores`);
    expect(body.marks.map(m => m.points)).toEqual([4]);
    await mark(teacher, 3, 5, true, '', 'heard again');
    expect((await mark(teacher, 4, 5, false)).body).toMatchObject({ code: 'decidedOtherwise' });

    const other = await handedIn();
    await other.mark(teacher, 0, 3, true);
    await t.ecoute.pool.query(
      'UPDATE marks SET finished_at = finished_at - INTERVAL 2 MINUTE WHERE sitting_id = ?',
      [other.id],
    );
    expect((await other.mark(teacher, 1, 3, false)).body).toMatchObject({ code: 'decidedOtherwise' });

    // Neither what was given nor what will be: unfinished, it would be given at its time.
    for (const at of [null, new Date(Date.now() + 3_600_000).toISOString()]) {
      const back = await handedIn();
      await back.mark(teacher, 0, 3, true);
      await teacher.ask('POST', `/api/releases/${back.release.id}/feedback`, { sittingIds: [back.id], at });
      expect((await back.mark(teacher, 1, 3, false)).body).toMatchObject({ code: 'decidedOtherwise' });
    }
  });

  it('asks as few questions for many sittings with feedback as for one', async () => {
    const { student, mark, release, id } = await handedIn();
    await mark(teacher, 0, 4, true);
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id] });
    // Jobs ask through the same pool now and then: the fewest of a few are the page's own.
    const questions = async () => {
      let fewest = Infinity;
      let count = 0;
      for (let n = 0; n < 4; n++) {
        const spy = jest.spyOn(t.ecoute.pool, 'query');
        const { body } = await student.ask<FeedbackEntry[]>('GET', '/api/feedback');
        fewest = Math.min(fewest, spy.mock.calls.length);
        spy.mockRestore();
        count = body.length;
      }
      return [count, fewest] as const;
    };
    await questions();
    const [one, forOne] = await questions();
    for (let n = 0; n < 4; n++) {
      const { id: other, itemId } = await t.release(teacher, classId);
      const sitting = await handInOne(student, { id: other, itemId }, 1);
      await teacher.ask('PUT', `/api/sittings/${sitting.id}/marks/${itemId}`, {
        revision: 0,
        points: 3,
        comment: '',
        finished: true,
        reason: '',
      });
      await teacher.ask('POST', `/api/releases/${other}/feedback`, { sittingIds: [sitting.id] });
    }
    await questions();
    expect([one, ...(await questions())]).toEqual([1, 5, forOne]);
    expect(forOne).toBeGreaterThan(3);
  });

  it('returns what is finished and says what is not; before, its student sees nothing', async () => {
    const { student, release, id, mark } = await handedIn();
    await mark(teacher, 0, 4, false, 'secret');
    const early = await teacher.ask<FeedbackResult>('POST', `/api/releases/${release.id}/feedback`, {
      sittingIds: [id],
    });
    expect(early.body).toMatchObject({ given: 0, unfinished: [{ sittingId: id, items: [1] }] });
    await mark(teacher, 1, 4, true, 'Grüße 🙂 <script>alert(1)</script> שלום');
    for (const path of ['/api/todo', '/api/feedback', `/api/sittings/${id}`, '/api/my-recordings'])
      expect(JSON.stringify((await student.ask('GET', path)).body)).not.toMatch(/secret|Grüße|marked/);
    expect((await student.ask('GET', `/api/sittings/${id}/feedback`)).status).toBe(404);

    const result = await teacher.ask<FeedbackResult>('POST', `/api/releases/${release.id}/feedback`, {
      sittingIds: [id],
    });
    expect(result.body).toEqual({ given: 1, givenIds: [id], at: null, unfinished: [] });
    const { body } = await student.ask<FeedbackView>('GET', `/api/sittings/${id}/feedback`);
    expect(body.items[0]).toMatchObject({ points: 4, comment: 'Grüße 🙂 <script>alert(1)</script> שלום' });
    expect(body.total).toEqual({ given: 4, maximum: 5 });
  });

  it('tells a student nothing of feedback that is to come, until it has come', async () => {
    const { student, release, id, mark } = await handedIn();
    await mark(teacher, 0, 4, true);
    const told: unknown[] = [];
    const stop = await student.listen(message => told.push(message));
    const returns = (at: Date) =>
      teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id], at: at.toISOString() });
    expect((await returns(new Date(Date.now() + 3_600_000))).status).toBe(200);
    // Another message, written after it: whatever was to be told of it is here by then.
    const next = await t.release(teacher, classId);
    const begun = await student.ask<{ id: string }>('POST', `/api/releases/${next.id}/sitting`);
    const { recordingId } = await recordTake(student, begun.body.id, next.itemId);
    while (!told.some(m => (m as { id: string }).id === recordingId))
      await new Promise(resolve => setTimeout(resolve, 20));
    expect(told.filter(m => (m as { kind: string }).kind === 'feedback')).toEqual([]);
    expect((await student.ask('GET', `/api/sittings/${id}/feedback`)).status).toBe(404);
    await t.ecoute.pool.query('UPDATE sittings SET feedback_at = UTC_TIMESTAMP(3) WHERE id = ?', [id]);
    await hurry(t.ecoute.pool, 'tellFeedback');
    while (!told.some(m => (m as { kind: string }).kind === 'feedback'))
      await new Promise(resolve => setTimeout(resolve, 20));
    stop();
  });

  it('does not return sittings of another release', async () => {
    const one = await handedIn();
    const two = await handedIn();
    await two.mark(teacher, 0, 4, true);
    expect(
      (await teacher.ask('POST', `/api/releases/${one.release.id}/feedback`, { sittingIds: [two.id] }))
        .status,
    ).toBe(404);
    expect((await two.student.ask('GET', `/api/sittings/${two.id}/feedback`)).status).toBe(404);
    expect(
      (
        await teacher.ask('PUT', `/api/sittings/${one.id}/marks/${randomUUID()}`, {
          revision: 0,
          points: 1,
          comment: '',
          finished: true,
        })
      ).status,
    ).toBe(404);
  });
});
