import { randomUUID } from 'node:crypto';
import type { Receipt, SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

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
      body: { code: 'closed' },
    });
    expect((await student.ask('POST', `/api/takes/${second.recordingId}/choice`)).status).toBe(409);
  });

  it('warns of items without an answer, and of recordings on their way', async () => {
    const { student, release, id } = await sitting();
    expect(await student.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: false })).toMatchObject({
      status: 409,
      body: { code: 'unfinished', message: expect.stringContaining('One item has no answer') },
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
      body: { code: 'closed' },
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
});
