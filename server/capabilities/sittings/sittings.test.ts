import { randomUUID } from 'node:crypto';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { blankContent } from '@ecoute/contract/blank';
import type { ListenView, FeedbackView, FeedbackResult } from '@ecoute/contract/marking';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import type { Receipt, SittingEventKind, SittingView, TodoEntry } from '@ecoute/contract/sittings';
import {
  hurry,
  recordTake,
  send,
  settled,
  spokenItem,
  TestEcoute,
  tone,
  type Visitor,
} from '../../testing/ecoute';
import { made } from '../../testing/files';

describe('a sitting', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  async function sitting(over = {}) {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, over);
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    return { student, release, id: body.id };
  }

  it('is one, however often it is begun at once', async () => {
    const { student, release, id } = await sitting();
    const again = await Promise.all(
      [1, 2, 3].map(() => student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`)),
    );
    expect(again.map(a => a.body.id)).toEqual([id, id, id]);
  });

  it('is begun by a whole class in the same second', async () => {
    const own = await t.class();
    const host = await t.person('teacher', [own]);
    const students = await Promise.all(Array.from({ length: 25 }, () => t.person('student', [own])));
    const release = await t.release(host, own);
    const begun = await Promise.all(
      students.map(s => s.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`)),
    );
    expect(begun.map(b => b.status)).toEqual(students.map(() => 200));
    expect(new Set(begun.map(b => b.body.id)).size).toBe(25);
  });

  it('holds to the number of takes, also when two windows record at once', async () => {
    const { student, release, id } = await sitting({ takesAllowed: 1 });
    const [a, b] = await Promise.all([
      recordTake(student, id, release.itemId),
      recordTake(student, id, release.itemId),
    ]);
    expect([a.announced.status, b.announced.status].sort()).toEqual([200, 409]);
    // A take that was refused does not use up the allowance.
    const other = await sitting({ takesAllowed: 1 });
    await recordTake(other.student, other.id, other.release.itemId, tone(9));
    expect((await recordTake(other.student, other.id, other.release.itemId)).recording).toMatchObject({
      state: 'stored',
    });
  });

  it('counts what stands, whatever else of it settles in the same moment', async () => {
    const student = await t.person('student', [classId]);
    const items = [spokenItem(), spokenItem()];
    const release = await t.release(teacher, classId, {}, undefined, { items });
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    const ids = await Promise.all(
      items.map(async item => {
        const recordingId = randomUUID();
        const announced = await student.ask('POST', `/api/sittings/${body.id}/takes`, {
          recordingId,
          itemId: item.id,
          mediaType: 'audio/wav',
          beganAt: new Date().toISOString(),
        });
        expect(announced.status).toBe(200);
        return recordingId;
      }),
    );
    // One is looked at while the other is let go of, and both find the sitting held: what each counts, it counts after.
    const { pool } = t.ecoute;
    const holding = await pool.getConnection();
    await holding.beginTransaction();
    await holding.query('SELECT id FROM sittings WHERE id = ? FOR UPDATE', [body.id]);
    const waiting = async (most: number) => {
      for (let n = 0; n < most; await new Promise(resolve => setTimeout(resolve, 50))) {
        const [found] = await pool.query(
          `SELECT COUNT(*) AS n FROM information_schema.processlist
           WHERE db = DATABASE() AND id <> CONNECTION_ID() AND info LIKE '%sittings%' AND time_ms > 100`,
        );
        n = (found as { n: number }[])[0]!.n;
      }
    };
    await send(student, ids[0]!, tone(2));
    await waiting(1);
    const letGo = student.ask('POST', `/api/recordings/${ids[1]}/cancel`);
    await waiting(2);
    await holding.commit();
    holding.release();
    expect((await letGo).status).toBe(200);
    expect(await settled(student, ids[0]!)).toMatchObject({ state: 'stored' });
    const [counted] = await pool.query('SELECT answered FROM sittings WHERE id = ?', [body.id]);
    expect(counted).toEqual([{ answered: 1 }]);
  });

  it('hands in once, with a receipt that names the take that counts', async () => {
    const { student, release, id } = await sitting();
    const first = await recordTake(student, id, release.itemId);
    const second = await recordTake(student, id, release.itemId);
    await student.ask('POST', `/api/takes/${first.recordingId}/choice`);
    const receipts = await Promise.all(
      [1, 2, 3].map(() => student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, { withGaps: false })),
    );
    expect(new Set(receipts.map(r => JSON.stringify(r.body))).size).toBe(1);
    expect(receipts[0]!.body.lines).toEqual([
      expect.objectContaining({
        takeId: first.recordingId,
        sha256: first.recording!.sha256,
        durationMs: 2_000,
      }),
    ]);
    expect((await recordTake(student, id, release.itemId)).announced).toMatchObject({
      status: 409,
      body: { code: 'handedIn' },
    });
    expect((await student.ask('POST', `/api/takes/${second.recordingId}/choice`)).status).toBe(409);
  });

  it('counts the take that was chosen also where that was chosen before anybody had looked at it', async () => {
    const { student, release, id } = await sitting();
    const began = { mediaType: 'audio/wav', beganAt: new Date().toISOString(), itemId: release.itemId };
    const recordingIds = [randomUUID(), randomUUID()];
    for (const recordingId of recordingIds)
      await student.ask('POST', `/api/sittings/${id}/takes`, { ...began, recordingId });
    await student.ask('POST', `/api/takes/${recordingIds[0]}/choice`);
    for (const recordingId of recordingIds) {
      await send(student, recordingId, tone(1));
      await settled(student, recordingId);
    }
    const { body } = await student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, { withGaps: false });
    expect(body.lines.map(line => line.takeId)).toEqual([recordingIds[0]]);
  });

  it('warns of items without an answer, and of recordings on their way', async () => {
    const { student, release, id } = await sitting();
    expect(await student.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: false })).toMatchObject({
      status: 409,
      body: { code: 'hasGaps', message: expect.stringContaining('One item has no answer') },
    });
    await student.ask('POST', `/api/sittings/${id}/takes`, {
      recordingId: randomUUID(),
      itemId: release.itemId,
      mediaType: 'audio/webm',
      beganAt: new Date().toISOString(),
    });
    expect(await student.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: true })).toMatchObject({
      body: { message: expect.stringContaining('still on its way') },
    });
  });

  it('takes films and files where they are asked for, and what their student says of them', async () => {
    const items = [
      spokenItem({ answerBy: 'video', answerLimitMs: 8_000 }),
      spokenItem({ answerBy: 'file', takesAllowed: 1 }),
    ];
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, {}, 3_600_000, {
      items,
      selfAssessment: 'afterHearing',
    });
    const { body } = await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    const film = made(
      'answer.webm',
      '-i',
      'testsrc=size=160x120:rate=10:d=2',
      '-f',
      'lavfi',
      '-i',
      'sine=d=2',
      '-shortest',
    );
    const filmed = await recordTake(student, body.id, items[0]!.id, film);
    expect(filmed.recording).toMatchObject({ state: 'stored', medium: 'video' });
    // A sound alone is no answer on camera.
    const heard = await recordTake(student, body.id, items[0]!.id, tone(1));
    expect(heard.recording).toMatchObject({ state: 'refused', problem: 'noVideo' });
    const text = await recordTake(
      student,
      body.id,
      items[1]!.id,
      Buffer.from('My notes of the walk.'),
      'walk.txt',
    );
    expect(text.recording).toMatchObject({ state: 'stored', medium: 'file' });
    expect((await recordTake(student, body.id, items[1]!.id, tone(1))).announced).toMatchObject({
      body: { code: 'noTakesLeft' },
    });
    const kept = await teacher.ask<string>('GET', `/api/recordings/${text.recordingId}/file`);
    expect([kept.status, kept.body]).toEqual([200, 'My notes of the walk.']);
    expect(kept.headers.get('content-disposition')).toContain('walk.txt');
    expect(kept.headers.get('content-type')).toBe('application/octet-stream');

    const judge = (itemId: string, over: object = {}) =>
      student.ask('PUT', `/api/sittings/${body.id}/judgements/${itemId}`, {
        choices: [],
        points: 3.5,
        level: null,
        remark: 'The knot held.',
        ...over,
      });
    expect((await judge(items[0]!.id)).status).toBe(200);
    expect((await judge(items[0]!.id, { points: 4 })).status).toBe(200);
    expect((await judge(randomUUID())).status).toBe(404);
    expect((await judge(items[0]!.id, { choices: [{ criterionId: randomUUID(), level: 0 }] })).status).toBe(
      422,
    );
    const receipt = await student.ask<Receipt>('POST', `/api/sittings/${body.id}/hand-in`, {
      withGaps: false,
    });
    expect(receipt.body.lines).toMatchObject([
      { medium: 'video', fileName: null },
      { medium: 'file', fileName: 'walk.txt', durationMs: null },
    ]);
    expect((await judge(items[0]!.id)).body).toMatchObject({ code: 'handedIn' });
    const { body: view } = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(view.lanes.find(l => l.takeId === filmed.recordingId)).toMatchObject({
      medium: 'video',
      judgement: { points: 4, remark: 'The knot held.' },
    });
  });

  it('flags what is late, and refuses what began after closing', async () => {
    const { student, release, id } = await sitting();
    await recordTake(student, id, release.itemId);
    await t.ecoute.pool.query(
      'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 1 HOUR WHERE id = ?',
      [release.id],
    );
    const receipt = await student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, { withGaps: false });
    expect(receipt.body.late).toBe(true);
    const [entry] = (await student.ask<TodoEntry[]>('GET', '/api/todo')).body.filter(
      e => e.releaseId === release.id,
    );
    expect(entry).toMatchObject({ state: 'handedIn', late: true, missing: false });

    const closed = await sitting();
    await t.ecoute.pool.query(
      'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 1 HOUR, late_accepted = 0 WHERE id = ?',
      [closed.release.id],
    );
    expect((await recordTake(closed.student, closed.id, closed.release.itemId)).announced).toMatchObject({
      status: 409,
      body: { code: 'releaseClosed' },
    });
  });

  it('keeps the account, each event once', async () => {
    const { student, release, id } = await sitting();
    const events = [
      { id: randomUUID(), itemId: release.itemId, kind: 'recordingBegan', at: new Date().toISOString() },
      { id: randomUUID(), itemId: null, kind: 'pageHidden', at: new Date().toISOString() },
    ];
    await student.ask('POST', `/api/sittings/${id}/events`, { events });
    await student.ask('POST', `/api/sittings/${id}/events`, { events });
    const { body } = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    expect(body.events.map(e => e.id).sort()).toEqual(events.map(e => e.id).sort());
    const nonsense = [{ ...events[0], id: randomUUID(), kind: 'gaveUp' }];
    expect((await student.ask('POST', `/api/sittings/${id}/events`, { events: nonsense })).status).toBe(422);
  });

  it('sits the version that was released, whatever is changed afterwards', async () => {
    const { student, release, id } = await sitting();
    const draft = await teacher.ask<{ revision: number; content: { items: object[] } }>(
      'GET',
      `/api/assessments/${release.assessmentId}`,
    );
    const items = draft.body.content.items.map(i => ({ ...i, promptText: 'Changed' }));
    const saved = await teacher.ask('PUT', `/api/assessments/${release.assessmentId}`, {
      revision: draft.body.revision,
      content: { ...draft.body.content, items },
    });
    expect(saved.status).toBe(200);
    const { body } = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    expect(body.content.items[0]!.promptText).toBe('Say your name.');
  });

  describe('by its policies', () => {
    const begin = async (items: Item[], content: Partial<AssessmentContent> = {}) => {
      const student = await t.person('student', [classId]);
      const release = await t.release(teacher, classId, {}, 3_600_000, { items, ...content });
      const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
      const event = (kind: SittingEventKind, itemId: string | null = null, at = new Date()) =>
        student.ask('POST', `/api/sittings/${body.id}/events`, {
          events: [{ id: randomUUID(), itemId, kind, at: at.toISOString() }],
        });
      const handIn = (withGaps = false) =>
        student.ask<Receipt>('POST', `/api/sittings/${body.id}/hand-in`, { withGaps });
      return { student, release, id: body.id, view: body, event, handIn };
    };
    const write = (student: Visitor, id: string, itemId: string, text: string, revision = 0) =>
      student.ask('PUT', `/api/sittings/${id}/items/${itemId}/text`, { text, revision });

    it('a pass, a written answer and an optional item are no gaps; a missing required one is', async () => {
      const [spoken, written, optional, material] = [
        spokenItem({ passAllowed: true }),
        spokenItem({ answerBy: 'text' }),
        spokenItem({ required: false }),
        spokenItem({ answerBy: 'nothing' }),
      ];
      const { student, release, id, event, handIn } = await begin([spoken, written, optional, material]);
      expect(await handIn()).toMatchObject({
        status: 409,
        body: { message: expect.stringContaining('2 items') },
      });
      const answered = async () => {
        const { body: todo } = await student.ask<TodoEntry[]>('GET', '/api/todo');
        const { students } = (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`)).body;
        return [
          students.find(s => s.id === student.id)!.answered,
          todo.find(e => e.releaseId === release.id)!.answeredItemIds.length,
        ];
      };
      await event('passed', spoken.id);
      // Passing is an answer wherever answers are counted, until it is taken back.
      expect(await answered()).toEqual([1, 1]);
      await event('passTakenBack', spoken.id);
      expect(await answered()).toEqual([0, 0]);
      await event('passed', spoken.id);
      await write(student, id, written.id, 'Moro ao pé do porto.');
      expect(await answered()).toEqual([2, 2]);
      await event('studied', material.id);
      const { body } = await handIn();
      expect(body.lines.map(l => [l.takeId, l.written, l.passed, l.studied])).toEqual([
        [null, false, true, false],
        [null, true, false, false],
        [null, false, false, false],
        [null, false, false, true],
      ]);
      // Nothing is written after the hand-in.
      expect((await write(student, id, written.id, 'Later', 1)).status).toBe(409);
      // The teacher meets all but the material, and has one answer to mark before the feedback.
      const lanes = (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body.lanes;
      expect(lanes.map(l => [l.itemId, l.passed, l.written])).toEqual([
        [spoken.id, true, null],
        [written.id, false, 'Moro ao pé do porto.'],
        [optional.id, false, null],
      ]);
      const giveFeedback = () =>
        teacher.ask<FeedbackResult>('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id] });
      expect((await giveFeedback()).body).toMatchObject({ given: 0, unfinished: [{ items: [2] }] });
      await teacher.ask('PUT', `/api/sittings/${id}/marks/${written.id}`, {
        revision: 0,
        points: 4,
        comment: '',
        finished: true,
      });
      expect((await giveFeedback()).body.given).toBe(1);
      expect((await student.ask<FeedbackView>('GET', `/api/sittings/${id}/feedback`)).body).toMatchObject({
        items: [{ passed: true }, { written: 'Moro ao pé do porto.', points: 4 }, {}, {}],
        total: { given: 4, maximum: 15 },
      });
    });

    it('passing where it is not allowed counts for nothing; writing belongs to written items', async () => {
      const item = spokenItem();
      const { student, release, id, event, handIn } = await begin([item]);
      await event('passed', item.id);
      expect((await handIn()).status).toBe(409);
      const { students } = (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`)).body;
      expect(students.find(s => s.id === student.id)!.answered).toBe(0);
      expect((await write(student, id, item.id, 'no')).status).toBe(404);
      expect((await recordTake(student, id, randomUUID())).announced.status).toBe(404);
    });

    it('keeps model answers from the student, words and sound, until they open', async () => {
      const modelVoice = { recordingId: await promptOf(teacher), durationMs: 0, isVideo: false };
      for (const modelOpens of ['afterHandIn', 'afterReturn'] as const) {
        const item = spokenItem({ modelText: 'Como se diz', modelVoice });
        const { student, release, id, view, handIn } = await begin([item], { modelOpens });
        const sound = async () =>
          (await student.ask('GET', `/api/recordings/${modelVoice.recordingId}/sound`)).status;
        const now = async () => (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.content;
        const todo = (await student.ask<TodoEntry[]>('GET', '/api/todo')).body;
        expect(JSON.stringify(todo)).not.toContain('Como se diz');
        expect([view.content].map(c => c.items[0])).toEqual([
          expect.objectContaining({ modelText: '', modelVoice: null }),
        ]);
        expect(await sound()).toBe(404);
        await handIn(true);
        const open = modelOpens === 'afterHandIn';
        // What may still be taken back opens nothing automatically; once it is open, nothing is taken back.
        const waiting = (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body;
        expect([waiting.modelsWait, waiting.content.items[0]!.modelText, await sound()]).toEqual([
          open,
          '',
          404,
        ]);
        const opened = await student.ask<SittingView>('POST', `/api/sittings/${id}/models`);
        expect([opened.status, opened.body.mayWithdraw ?? null]).toEqual(open ? [200, false] : [404, null]);
        if (open) expect((await student.ask('POST', `/api/sittings/${id}/withdraw`)).status).toBe(409);
        expect((await now()).items[0]!.modelText).toBe(open ? 'Como se diz' : '');
        expect(await sound()).toBe(open ? 200 : 404);
        await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id] });
        expect((await now()).items[0]!.modelText).toBe('Como se diz');
        expect(await sound()).toBe(200);
      }
    });

    it('gives each sitting its own order where a section is shuffled, the same each time', async () => {
      const section = { id: randomUUID(), title: 'Aloud', shuffled: true };
      const items = Array.from({ length: 12 }, () => spokenItem({ sectionId: section.id }));
      const { student, id, view, handIn } = await begin(items, { sections: [section] });
      const order = view.content.items.map(i => i.id);
      expect(order).not.toEqual(items.map(i => i.id));
      expect([...order].sort()).toEqual(items.map(i => i.id).sort());
      const again = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
      expect(again.body.content.items.map(i => i.id)).toEqual(order);
      expect((await handIn(true)).body.lines.map(l => l.itemId)).toEqual(order);
    });

    it('hands in automatically when the time of the sitting is up, with what was recorded in time', async () => {
      const item = spokenItem();
      const { student, id, event } = await begin([item], { sittingLimitMs: 60_000 });
      const view = async () => (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body;
      expect((await view()).timeUpAt).toBeNull();
      // Nothing of what is asked is there before the clock runs; a page that never says so is begun by its first take.
      expect(await view()).toMatchObject({ unseen: true, content: { items: [{ promptText: '' }] } });
      const take = await recordTake(student, id, item.id);
      // A browser's clock cannot put the beginning before the sitting was opened.
      await event('itemsOpened', null, new Date('2001-01-01'));
      const begun = await view();
      expect(begun).toMatchObject({ unseen: false, content: { items: [{ promptText: 'Say your name.' }] } });
      expect(Date.parse(begun.timeUpAt!) - Date.parse(begun.clockBeganAt!)).toBe(60_000);
      expect(Math.abs(Date.parse(begun.clockBeganAt!) - Date.now())).toBeLessThan(30_000);
      // A second word of it changes nothing.
      await event('itemsOpened', null, new Date(Date.now() + 60_000));
      expect((await view()).timeUpAt).toBe(begun.timeUpAt);
      // An hour later.
      await t.ecoute.pool.query(
        'UPDATE sittings SET clock_began_at = clock_began_at - INTERVAL 1 HOUR WHERE id = ?',
        [id],
      );
      expect((await recordTake(student, id, item.id)).announced).toMatchObject({
        status: 409,
        body: { message: expect.stringContaining('time of this sitting was up') },
      });
      await hurry(t.ecoute.pool, 'timeUp');
      let receipt = (await view()).receipt;
      while (!receipt) receipt = (await view()).receipt;
      expect(receipt).toMatchObject({ byItself: true, lines: [{ takeId: take.recordingId }] });
      expect(receipt.handedInAt).toBe((await view()).timeUpAt);
    });

    it('waits at time-up for a sound on its way, and then takes it as far as it came', async () => {
      const item = spokenItem({ answerLimitMs: 60_000 });
      const { student, id, event } = await begin([item], { sittingLimitMs: 60_000 });
      await event('itemsOpened');
      const recordingId = randomUUID();
      await student.ask('POST', `/api/sittings/${id}/takes`, {
        recordingId,
        itemId: item.id,
        mediaType: 'audio/wav',
        beganAt: new Date().toISOString(),
      });
      const bytes = tone(4);
      await student.ask('PATCH', `/api/uploads/${recordingId}`, bytes.subarray(0, bytes.length / 2), {
        'Tus-Resumable': '1.0.0',
        'Content-Type': 'application/offset+octet-stream',
        'Upload-Offset': '0',
      });
      const soon = () => hurry(t.ecoute.pool, 'timeUp');
      const after = (minutes: number) =>
        t.ecoute.pool.query(
          'UPDATE sittings SET clock_began_at = UTC_TIMESTAMP(3) - INTERVAL ? MINUTE WHERE id = ?',
          [minutes, id],
        );
      const receiptNow = async () =>
        (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.receipt;
      const waits = async () =>
        (
          (
            await t.ecoute.pool.query(
              "SELECT COUNT(*) AS n FROM jobs WHERE kind = 'timeUp' AND run_after > UTC_TIMESTAMP(3)",
            )
          )[0] as { n: number }[]
        )[0]!.n;
      await after(2);
      await soon();
      while ((await waits()) === 0) await new Promise(resolve => setTimeout(resolve, 20));
      expect(await receiptNow()).toBeNull();
      await after(20);
      let receipt = null;
      while (!receipt) {
        await soon();
        receipt = await receiptNow();
        await new Promise(resolve => setTimeout(resolve, 50));
      }
      expect(receipt.lines[0]).toMatchObject({ takeId: recordingId });
      expect(receipt.lines[0]!.durationMs).toBeGreaterThan(1_800);
      expect(receipt.lines[0]!.durationMs).toBeLessThan(2_100);
    });
  });
});

/** A stored sound of the teacher's, for use in an assessment. */
async function promptOf(teacher: Visitor): Promise<string> {
  const recordingId = randomUUID();
  const { body } = await teacher.ask<{ id: string }>('POST', '/api/assessments', blankContent());
  await teacher.ask('POST', `/api/assessments/${body.id}/prompts`, {
    recordingId,
    mediaType: 'audio/wav',
    source: 'uploaded',
    fileName: 'model.wav',
  });
  await send(teacher, recordingId, tone(1));
  await settled(teacher, recordingId);
  return recordingId;
}
