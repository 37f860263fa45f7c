import { randomUUID } from 'node:crypto';
import type { Ask, Reply } from '@ecoute/contract/replies';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import type { Beside, CalledOff, ListenView, FeedbackEntry, FeedbackView } from '@ecoute/contract/marking';
import type { SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { handInOne, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('answers to feedback', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let student: Visitor;
  let release: { id: string; itemId: string };
  let sitting: { id: string; takeId: string };
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());
  beforeEach(async () => {
    student = await t.person('student', [classId]);
    release = await t.release(teacher, classId);
    sitting = await handInOne(student, release);
  });

  const ask = async (kind: string | null, itemId: string | null = release.itemId, words = '') =>
    (await teacher.ask<Ask[]>('PUT', `/api/sittings/${sitting.id}/ask`, { itemId, kind, words })).body;
  const giveFeedback = async () => {
    await teacher.ask('PUT', `/api/sittings/${sitting.id}/marks/${release.itemId}`, {
      revision: 0,
      points: 3,
      comment: 'Good.',
      finished: true,
    });
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sitting.id] });
  };
  const reply = (who: Visitor, over: object) =>
    who.ask<Reply[]>('POST', `/api/sittings/${sitting.id}/${who === student ? 'replies' : 'exchange'}`, {
      id: randomUUID(),
      itemId: release.itemId,
      words: '',
      ...over,
    });
  const lane = async () =>
    (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body.lanes.find(
      l => l.sittingId === sitting.id,
    )!;
  const view = async () =>
    (await student.ask<FeedbackView>('GET', `/api/sittings/${sitting.id}/feedback`)).body;

  it('stay with the student until everything asked for is there; then the sitting is answered', async () => {
    await ask('change', release.itemId, 'What would you change in the second sentence?');
    await ask('acknowledge', null);
    expect((await reply(student, { words: 'early' })).status).toBe(404);
    await giveFeedback();
    const waiting = async () => [
      (await student.ask<FeedbackEntry[]>('GET', '/api/feedback')).body[0]!.asked,
      (await student.ask<TodoEntry[]>('GET', '/api/todo')).body.find(e => e.releaseId === release.id)!.asked,
      (await lane()).state,
    ];
    expect(await waiting()).toEqual([2, 2, 'feedbackGiven']);
    const { items, asks } = await view();
    const [change] = items[0]!.asks;
    expect(change).toMatchObject({ kind: 'change', words: 'What would you change in the second sentence?' });
    expect((await reply(student, { askId: change!.id })).body).toMatchObject({
      code: 'invalid',
      fields: { words: 'Write or say something.' },
    });
    const said = { id: randomUUID(), askId: change!.id, words: 'Slower. שלום 🙂 <b>not bold</b>' };
    expect((await reply(student, said)).body).toMatchObject([{ fromStudent: true, words: said.words }]);
    // The same once more is the same.
    expect((await reply(student, said)).body).toHaveLength(1);
    expect(await waiting()).toEqual([1, 1, 'feedbackGiven']);
    await reply(student, { askId: asks[0]!.id, itemId: null });
    expect(await waiting()).toEqual([0, 0, 'answered']);
    // The teacher goes on, and asks for something more.
    await reply(teacher, { words: 'Then try it.' });
    await ask('reply');
    expect(await waiting()).toEqual([1, 1, 'feedbackGiven']);
    expect((await view()).items[0]!.replies.map(r => [r.fromStudent, r.words])).toEqual([
      [true, said.words],
      [false, 'Then try it.'],
    ]);
  });

  it('are recorded again where that is asked, and heard by teacher and student alone', async () => {
    const whole = await teacher.ask('PUT', `/api/sittings/${sitting.id}/ask`, {
      kind: 'recordAgain',
      words: '',
    });
    expect(whole.status).toBe(422);
    await ask('recordAgain');
    await giveFeedback();
    const [again] = (await view()).items[0]!.asks;
    expect((await reply(student, { askId: again!.id, words: 'no voice' })).status).toBe(422);
    // What was recorded for something else is not it.
    const other = await handInOne(student, await t.release(teacher, classId));
    const elsewhereVoice = { recordingId: other.takeId, mediaType: 'audio/wav' };
    expect((await reply(student, { askId: again!.id, voice: elsewhereVoice })).status).toBe(404);
    const recordingId = randomUUID();
    const voice = { recordingId, mediaType: 'audio/wav' };
    expect((await reply(student, { askId: again!.id, voice })).status).toBe(200);
    // Until it is here the first one counts, and a score is of the first; told twice it is one.
    expect((await reply(student, { askId: again!.id, voice })).status).toBe(409);
    expect((await lane()).takeId).not.toBe(recordingId);
    const firstTake = (await lane()).takeId!;
    await teacher.ask('PUT', `/api/sittings/${sitting.id}/marks/${release.itemId}`, {
      points: 4,
      comment: 'Good.',
      finished: true,
      reason: 'Heard again',
      revision: (await lane()).mark!.revision,
    });
    await teacher.ask('PUT', `/api/takes/${firstTake}/notes/${randomUUID()}`, {
      fromMs: 100,
      words: 'Of the first.',
      revision: 0,
    });
    await send(student, recordingId, tone(3));
    await settled(student, recordingId);
    // It is a take: it counts, is measured, lies beside the first; the score is of the first, and says so.
    const now = await lane();
    expect(now).toMatchObject({
      takeId: recordingId,
      durationMs: 3_000,
      takes: 2,
      notes: [],
      state: 'answered',
    });
    expect(now.again).toMatchObject({
      isOfFirst: true,
      first: { takeId: firstTake, notes: [{ words: 'Of the first.' }] },
    });
    const beside = await teacher.ask<Beside[]>(
      'GET',
      `/api/sittings/${sitting.id}/items/${release.itemId}/beside`,
    );
    expect(beside.body.map(b => b.takeId)).toContain(firstTake);
    expect((await view()).items[0]).toMatchObject({ takeId: recordingId, again: { isOfFirst: true } });
    const { mark } = now;
    const again2 = { points: 5, comment: 'Better.', finished: true, revision: mark!.revision };
    const put = (body: object) =>
      teacher.ask('PUT', `/api/sittings/${sitting.id}/marks/${release.itemId}`, body);
    expect((await put(again2)).status).toBe(422);
    expect((await put({ ...again2, reason: 'Recorded again' })).status).toBe(200);
    expect((await lane()).again).toMatchObject({ isOfFirst: false });
    expect((await view()).items[0]).toMatchObject({ points: 5, again: { isOfFirst: false } });
    // What was handed in is what the receipt says, and what classmates may hear.
    const { body } = await student.ask<SittingView>('GET', `/api/sittings/${sitting.id}`);
    expect(body.receipt!.lines[0]!.takeId).toBe(firstTake);
    expect((await lane()).replies).toMatchObject([
      { voiceId: recordingId, voiceMs: 3_000, voiceState: 'stored' },
    ]);
    const path = `/api/recordings/${recordingId}/sound`;
    const classmate = await t.person('student', [classId]);
    const elsewhere = await t.person('teacher', [await t.class()]);
    const heard = await Promise.all([teacher, student, classmate, elsewhere].map(p => p.ask('GET', path)));
    expect(heard.map(h => h.status)).toEqual([200, 200, 404, 404]);
  });

  it('wait for the teacher until something is said, scored, or let stand; that it was heard waits for nothing', async () => {
    const waiting = async () => {
      const { body } = await teacher.ask<ReleaseSummary[]>('GET', '/api/releases');
      return body.find(r => r.id === release.id)!.counts.repliesWait;
    };
    const [heard] = await ask('acknowledge');
    await giveFeedback();
    await reply(student, { askId: heard!.id });
    expect(await waiting()).toBe(0);
    await reply(student, { words: 'Why?' });
    expect(await waiting()).toBe(1);
    await reply(teacher, { words: 'Because.' });
    expect(await waiting()).toBe(0);
    await reply(student, { words: 'Thank you.' });
    const settled = `/api/sittings/${sitting.id}/items/${release.itemId}/settled`;
    expect((await student.ask('POST', settled)).status).toBe(404);
    expect((await teacher.ask('POST', settled)).status).toBe(200);
    expect([await waiting(), (await lane()).replies.at(-1)!.settled]).toEqual([0, true]);
    // The next word waits again.
    await reply(student, { words: 'One more thing.' });
    expect(await waiting()).toBe(1);
  });

  it('come after feedback, which is taken back until its student has seen it, and not after', async () => {
    const takeBack = async () =>
      (
        await teacher.ask<CalledOff>('POST', `/api/releases/${release.id}/feedback/calling-off`, {
          sittingIds: [sitting.id],
        })
      ).body;
    await giveFeedback();
    expect((await lane()).feedbackOpened).toBe(false);
    expect(await takeBack()).toEqual({ calledOff: 1, opened: 0 });
    expect((await lane()).state).toBe('marked');
    expect((await student.ask('GET', `/api/sittings/${sitting.id}/feedback`)).status).toBe(404);
    expect((await student.ask<FeedbackEntry[]>('GET', '/api/feedback')).body).toEqual([]);
    // Nothing was given: to answer is not possible, and opens nothing.
    expect((await reply(student, { words: 'early' })).status).toBe(404);
    const give = () =>
      teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sitting.id] });
    await give();
    // The teacher's own look at the sheet opens nothing.
    await teacher.ask('GET', `/api/sittings/${sitting.id}/sheet.pdf`);
    expect((await lane()).feedbackOpened).toBe(false);
    // A list with its points is a look.
    await student.ask('GET', '/api/feedback');
    expect((await lane()).feedbackOpened).toBe(true);
    expect(await takeBack()).toEqual({ calledOff: 0, opened: 1 });
    expect((await view()).items[0]!.points).toBe(3);
  });

  it('replaces what was asked before and was not answered; a changed question is not answered blindly', async () => {
    const [first] = await ask('reply', release.itemId, 'one');
    expect(await ask('reply', release.itemId, 'two')).toMatchObject([{ words: 'two' }]);
    await giveFeedback();
    expect(await reply(student, { askId: first!.id, words: 'to the first' })).toMatchObject({
      status: 409,
      body: { code: 'stale' },
    });
    expect(await ask(null)).toEqual([]);
    expect((await lane()).state).toBe('feedbackGiven');
  });

  it('may be asked of everybody with the feedback; what is asked for already stays', async () => {
    const other = await t.person('student', [classId]);
    // Somebody who came after a release is not among those whom it is for.
    release = await t.release(teacher, classId);
    sitting = await handInOne(student, release);
    const second = await handInOne(other, release);
    await ask('reply', release.itemId, 'mine');
    for (const id of [sitting.id, second.id])
      await teacher.ask('PUT', `/api/sittings/${id}/marks/${release.itemId}`, {
        revision: 0,
        points: 3,
        comment: '',
        finished: true,
      });
    const sittingIds = [sitting.id, second.id];
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds, ask: 'acknowledge' });
    expect((await view()).asks).toEqual([]);
    const { body } = await other.ask<FeedbackView>('GET', `/api/sittings/${second.id}/feedback`);
    expect(body.asks).toMatchObject([{ kind: 'acknowledge', itemId: null }]);
  });

  it('tells the teacher what was heard, from the first time on', async () => {
    const heard = () => student.ask('POST', `/api/sittings/${sitting.id}/items/${release.itemId}/heard`);
    expect((await heard()).status).toBe(404);
    await giveFeedback();
    expect((await lane()).heardAt).toBeNull();
    expect((await heard()).status).toBe(204);
    const { heardAt } = await lane();
    await heard();
    expect([(await lane()).heardAt, Date.parse(heardAt!) > Date.now() - 60_000]).toEqual([heardAt, true]);
  });
});
