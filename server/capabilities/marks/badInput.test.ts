import { randomUUID } from 'node:crypto';
import type { Rubric } from '@ecoute/contract/assessments';
import { blankScoring } from '@ecoute/contract/blank';
import type { Decision } from '@ecoute/contract/decisions';
import { LIMITS } from '@ecoute/contract/limits';
import type { ListenView, FeedbackView } from '@ecoute/contract/marking';
import { handInOne, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('what is typed, sent late, or sent wrong while listening', () => {
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
    criteria: [{ id: randomUUID(), name: 'Flow', weight: 1, descriptors: ['', ''] }],
  };

  async function handedIn(scheme: object = {}) {
    const student = await t.person('student', [classId]);
    const scoring = { ...blankScoring('homework'), ...scheme };
    const release = await t.release(teacher, classId, { points: 10 }, 3_600_000, { scoring });
    const { id, takeId } = await handInOne(student, release, 3);
    const mark = (over: object) =>
      teacher.ask('PUT', `/api/sittings/${id}/marks/${release.itemId}`, {
        revision: 0,
        points: 4,
        comment: '',
        finished: true,
        ...over,
      });
    return { student, release, id, takeId, mark };
  }

  it('refuses scores beyond the scheme, each in words, and keeps nothing of them', async () => {
    const { mark, release } = await handedIn({ kind: 'rubric', rubric });
    const level = { criterionId: rubric.criteria[0]!.id, level: 1 };
    const wrong = [
      { points: 10.5 },
      { points: -1 },
      { points: 1.005 },
      { points: 'five' },
      { points: Number.MAX_VALUE },
      { choices: [{ ...level, level: 2 }] },
      { choices: [{ ...level, level: -1 }] },
      { choices: [{ ...level, criterionId: randomUUID() }] },
      { comment: 'x'.repeat(LIMITS.comment + 1) },
      { reason: 'x'.repeat(LIMITS.reason + 1) },
      { revision: -1 },
    ];
    for (const one of wrong) {
      const { status, body } = await mark(one);
      expect([JSON.stringify(one).slice(0, 60), status]).toEqual([JSON.stringify(one).slice(0, 60), 422]);
      expect((body as { message: string }).message.length).toBeGreaterThan(10);
    }
    const { body } = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(body.lanes[0]!.mark).toBeNull();
    expect((await mark({ points: 10, choices: [level] })).status).toBe(200);
  });

  it('asks why points are not those of the rubric, and only then', async () => {
    const { mark } = await handedIn({ kind: 'rubric', rubric });
    const choices = [{ criterionId: rubric.criteria[0]!.id, level: 1 }];
    const over = { points: 8, choices };
    expect((await mark(over)).body).toMatchObject({
      code: 'invalid',
      fields: { reason: 'Say why these are not the points that the rubric gives.' },
    });
    // While it is only being written nobody asks.
    expect((await mark({ ...over, finished: false })).status).toBe(200);
    const kept = await mark({ ...over, revision: 1, reason: 'Half a point for courage' });
    expect(kept.body).toMatchObject({ points: 8, reason: 'Half a point for courage' });
  });

  it('says that a sitting is to be recorded again or was set aside meanwhile; undone, it is marked', async () => {
    for (const kind of ['askAgain', 'setAside']) {
      const { mark, release, id } = await handedIn();
      const path = `/api/releases/${release.id}/decisions`;
      const decide = { kind, reason: 'meanwhile', sittingId: id };
      const [made] = (await teacher.ask<Decision[]>('POST', path, decide)).body;
      expect(await mark({})).toMatchObject({ status: 409, body: { code: 'decidedOtherwise' } });
      await teacher.ask('POST', `${path}/${made!.id}/undo`);
      expect((await mark({})).status).toBe(200);
    }
  });

  it('takes no spoken note beyond its length, and says so; what is written stays', async () => {
    const { takeId, release } = await handedIn();
    const recordingId = randomUUID();
    const note = { noteId: randomUUID(), recordingId, fromMs: 500, mediaType: 'audio/wav' };
    expect((await teacher.ask('POST', `/api/takes/${takeId}/spoken-notes`, note)).status).toBe(200);
    // As if it were half an hour: the limit of this one is set so low that three seconds are too long.
    await t.ecoute.pool.query('UPDATE recordings SET limit_ms = 1000 WHERE id = ?', [recordingId]);
    await send(teacher, recordingId, tone(30));
    expect(await settled(teacher, recordingId)).toMatchObject({ state: 'refused', problem: 'tooLong' });
    const { body } = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(body.lanes[0]!.notes).toMatchObject([{ voiceState: 'refused' }]);
  });

  it('keeps emoji, right-to-left and what looks like markup as they were typed, in every text', async () => {
    const { student, release, id, takeId, mark } = await handedIn();
    const words = (n: number) => `<img src=x onerror=alert(${n})> שלום مرحبا 🙂 \u202edlrow`;
    const sitting = `/api/sittings/${id}`;
    await teacher.ask('PUT', `/api/takes/${takeId}/notes/${randomUUID()}`, {
      fromMs: 100,
      words: words(1),
      revision: 0,
    });
    await teacher.ask('PUT', `${sitting}/items/${release.itemId}/praise`, { words: words(2), given: true });
    await teacher.ask('PUT', `${sitting}/ask`, { itemId: release.itemId, kind: 'reply', words: words(3) });
    await mark({ comment: words(4) });
    await mark({ revision: 1, points: 5, comment: words(4), reason: words(5) });
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id] });
    const view = async () => (await student.ask<FeedbackView>('GET', `${sitting}/feedback`)).body.items[0]!;
    const { asks } = await view();
    await student.ask('POST', `${sitting}/replies`, {
      id: randomUUID(),
      askId: asks[0]!.id,
      itemId: release.itemId,
      words: words(6),
    });
    const seen = await view();
    expect([
      seen.notes[0]!.words,
      seen.praise[0],
      seen.asks[0]!.words,
      seen.comment,
      seen.replies[0]!.words,
    ]).toEqual([words(1), words(2), words(3), words(4), words(6)]);
    const scores = await teacher.ask<{ marks: { reason: string }[] }>('GET', `${sitting}/scores`);
    expect(scores.body.marks[0]!.reason).toBe(words(5));
  });
});
