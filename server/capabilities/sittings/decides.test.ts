import { randomUUID } from 'node:crypto';
import type { ListenView } from '@ecoute/contract/marking';
import type { OthersView, Receipt, SittingAccount, SittingView, TakeView } from '@ecoute/contract/sittings';
import {
  handInOne,
  hurry,
  recordTake,
  send,
  settled,
  TestEcoute,
  tone,
  type Visitor,
} from '../../testing/ecoute';

/** What decides is the server: when, how often, how long, and what stays. */
describe('what a browser says', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const begin = async (over: object = {}, content: object = {}, dueInMs = 3_600_000, lateAccepted = true) => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, over, dueInMs, content);
    if (!lateAccepted)
      await t.ecoute.pool.query('UPDATE releases SET late_accepted = FALSE WHERE id = ?', [release.id]);
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    return { student, release, id: body.id };
  };
  const announce = (
    student: Visitor,
    id: string,
    itemId: string,
    beganAt: Date,
    recordingId = randomUUID(),
  ) =>
    student.ask<TakeView>('POST', `/api/sittings/${id}/takes`, {
      recordingId,
      itemId,
      mediaType: 'audio/wav',
      beganAt: beganAt.toISOString(),
    });
  const tell = (student: Visitor, id: string, kind: string, at: Date, itemId: string | null = null) =>
    student.ask('POST', `/api/sittings/${id}/events`, {
      events: [{ id: randomUUID(), itemId, kind, at: at.toISOString() }],
    });
  const ago = (ms: number) => new Date(Date.now() - ms);
  /** Time passes: everything of a sitting happened so much earlier. */
  const earlier = (id: string, seconds: number) =>
    t.ecoute.pool.query(
      `UPDATE sittings s LEFT JOIN sitting_events e ON e.sitting_id = s.id
       SET s.began_at = s.began_at - INTERVAL ? SECOND, e.received_at = e.received_at - INTERVAL ? SECOND WHERE s.id = ?`,
      [seconds, seconds, id],
    );
  const lanesOf = async (releaseId: string) =>
    (await teacher.ask<ListenView>('GET', `/api/releases/${releaseId}/lanes`)).body.lanes;

  it('of a beginning before the end is taken from somebody who was offline, and told to the teacher', async () => {
    const { student, release, id } = await begin({}, {}, 3_600_000, false);
    await earlier(id, 3_600);
    await t.ecoute.pool.query(
      'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 9 SECOND WHERE id = ?',
      [release.id],
    );
    expect((await announce(student, id, release.itemId, new Date())).status).toBe(409);
    const said = randomUUID();
    const taken = await announce(student, id, release.itemId, ago(10_000), said);
    expect([taken.status, taken.body.saidAt !== null]).toEqual([200, true]);
    await send(student, said, tone(1));
    await settled(student, said);
    await student.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: false });
    expect((await lanesOf(release.id)).find(l => l.sittingId === id)!.saidMs).toBeGreaterThan(8_000);
    const account = (await teacher.ask<SittingAccount>('GET', `/api/sittings/${id}/account`)).body;
    expect(account.events.map(e => e.kind)).toContain('takeSaidEarlier');
    expect(account.takes[0]!.saidMs).toBeGreaterThan(8_000);
  });

  it('is believed where the server heard of it in time, and not where it was heard since and told of nothing', async () => {
    const honest = await begin({}, {}, 3_600_000, false);
    await tell(honest.student, honest.id, 'recordingBegan', new Date(), honest.release.itemId);
    const other = await begin({}, {}, 3_600_000, false);
    await tell(other.student, other.id, 'pageShown', new Date());
    for (const { id, release } of [honest, other]) {
      await t.ecoute.pool.query(
        'UPDATE sitting_events SET at = at - INTERVAL 10 MINUTE, received_at = received_at - INTERVAL ? SECOND WHERE sitting_id = ?',
        [id === honest.id ? 600 : 300, id],
      );
      await t.ecoute.pool.query('UPDATE sittings SET began_at = began_at - INTERVAL 1 HOUR WHERE id = ?', [
        id,
      ]);
      await t.ecoute.pool.query(
        'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 2 MINUTE WHERE id = ?',
        [release.id],
      );
    }
    const began = ago(600_000);
    const known = await announce(honest.student, honest.id, honest.release.itemId, began);
    expect([known.status, known.body.saidAt]).toEqual([200, null]);
    expect((await announce(other.student, other.id, other.release.itemId, began)).status).toBe(409);
    // Nor a beginning before the sitting was begun.
    expect((await announce(honest.student, honest.id, honest.release.itemId, ago(9_000_000))).status).toBe(
      409,
    );
  });

  it('of a take that was thrown away gives none back once something of it came', async () => {
    const { student, release, id } = await begin({ takesAllowed: 1 });
    const first = randomUUID();
    await announce(student, id, release.itemId, new Date(), first);
    expect((await student.ask('POST', `/api/recordings/${first}/cancel`)).status).toBe(200);
    // Nothing came of it: it was no take.
    const second = randomUUID();
    expect((await announce(student, id, release.itemId, new Date(), second)).status).toBe(200);
    await student.ask('PATCH', `/api/uploads/${second}`, tone(1).subarray(0, 9_000), {
      'Tus-Resumable': '1.0.0',
      'Content-Type': 'application/offset+octet-stream',
      'Upload-Offset': '0',
    });
    expect((await student.ask('POST', `/api/recordings/${second}/cancel`)).status).toBe(200);
    expect((await announce(student, id, release.itemId, new Date())).body).toMatchObject({
      code: 'noTakesLeft',
    });
    // Its bytes are gone, and no more are taken.
    expect(await send(student, second, tone(1))).toMatchObject({ status: 410 });
  });

  it('of a hundred takes that are let go of is noted a hundred times', async () => {
    const { student, release, id } = await begin({ takesAllowed: 1 });
    for (let n = 0; n < 100; n++) {
      const recordingId = randomUUID();
      await announce(student, id, release.itemId, new Date(), recordingId);
      const { status } = await student.ask('POST', `/api/recordings/${recordingId}/cancel`);
      expect([n, status]).toEqual([n, 200]);
    }
    const { body } = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    expect(body.events.filter(e => e.kind === 'takeLetGo')).toHaveLength(100);
  });

  it('does not begin the clock of a limited sitting later than its content is seen', async () => {
    const { student, release, id } = await begin(
      { answerBy: 'text', promptText: 'Secret words' },
      { sittingLimitMs: 60_000 },
    );
    const before = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    expect(JSON.stringify(before.body)).not.toContain('Secret words');
    expect(before.body).toMatchObject({ unseen: true, timeUpAt: null });
    expect(before.body.content.items[0]!.promptDurationMs).toBeGreaterThan(0);
    const opened = await student.ask<SittingView>('POST', `/api/sittings/${id}/open`);
    expect(opened.body).toMatchObject({
      unseen: false,
      content: { items: [{ promptText: 'Secret words' }] },
    });
    expect(Date.parse(opened.body.timeUpAt!) - Date.now()).toBeLessThanOrEqual(60_000);
    // And it is handed in by the server, also when its job was lost.
    await t.ecoute.pool.query("DELETE FROM jobs WHERE kind = 'timeUp'");
    await t.ecoute.pool.query(
      'UPDATE sittings SET clock_began_at = clock_began_at - INTERVAL 1 HOUR WHERE id = ?',
      [id],
    );
    await t.ecoute.jobs.sweep();
    for (let receipt = null; !receipt;)
      receipt = (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.receipt;
    expect(release.id).toBeTruthy();
  });

  it('does not put off the end by announcing what is never sent', async () => {
    const { student, release, id } = await begin({}, { sittingLimitMs: 60_000 });
    await student.ask('POST', `/api/sittings/${id}/open`);
    await announce(student, id, release.itemId, new Date());
    await t.ecoute.pool.query(
      'UPDATE sittings SET clock_began_at = clock_began_at - INTERVAL 2 MINUTE WHERE id = ?',
      [id],
    );
    await t.ecoute.pool.query(
      'UPDATE recordings r JOIN takes t ON t.id = r.id SET r.created_at = r.created_at - INTERVAL 1 MINUTE WHERE t.sitting_id = ?',
      [id],
    );
    await hurry(t.ecoute.pool, 'timeUp');
    let receipt: Receipt | null = null;
    while (!receipt) receipt = (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.receipt;
    expect(receipt.lines[0]).toMatchObject({ takeId: null, lost: true });
  });

  it('takes nothing back once a model, or another’s answer, was open; every receipt stays', async () => {
    const { student, release, id } = await begin({ modelText: 'The model' }, { modelOpens: 'afterHandIn' });
    const handIn = () => student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, { withGaps: true });
    const first = (await handIn()).body;
    expect((await student.ask('POST', `/api/sittings/${id}/withdraw`)).status).toBe(200);
    await new Promise(resolve => setTimeout(resolve, 5));
    await handIn();
    const [kept] = await t.ecoute.pool.query(
      'SELECT receipt FROM receipts WHERE sitting_id = ? ORDER BY handed_in_at',
      [id],
    );
    expect((kept as { receipt: string }[]).map(r => (JSON.parse(r.receipt) as Receipt).handedInAt)[0]).toBe(
      first.handedInAt,
    );
    await student.ask('POST', `/api/sittings/${id}/models`);
    expect((await student.ask('POST', `/api/sittings/${id}/withdraw`)).body.message).toContain(
      'model answers',
    );
    // The same with what classmates recorded.
    await t.ecoute.pool.query("UPDATE releases SET heard_by = 'class' WHERE id = ?", [release.id]);
    const second = await t.person('student', [classId]);
    await t.ecoute.pool.query('INSERT INTO participants (release_id, person_id) VALUES (?, ?)', [
      release.id,
      second.id,
    ]);
    const own = await handInOne(second, release);
    expect((await second.ask<OthersView>('GET', `/api/releases/${release.id}/others`)).status).toBe(409);
    await second.ask('POST', `/api/releases/${release.id}/others`);
    expect((await second.ask('POST', `/api/sittings/${own.id}/withdraw`)).body.message).toContain(
      'the others',
    );
    // What was left aside is not heard.
    const { takeId } = own;
    await t.ecoute.pool.query("UPDATE sittings SET receipt = REPLACE(receipt, ?, 'x') WHERE id = ?", [
      takeId,
      own.id,
    ]);
    await student.ask('POST', `/api/releases/${release.id}/others`);
    expect((await student.ask('GET', `/api/recordings/${takeId}/sound`)).status).toBe(404);
  });

  it('one decision at a time: asked for again twice in one moment is once, and what is asked for again gets no feedback as well', async () => {
    const { student, release } = await begin();
    const { id } = await handInOne(student, release);
    const askAgain = () =>
      teacher.ask('POST', `/api/releases/${release.id}/decisions`, {
        kind: 'askAgain',
        reason: 'Louder.',
        sittingId: id,
      });
    const twice = await Promise.all([1, 2, 3, 4].map(askAgain));
    expect(twice.map(a => a.status).sort()).toEqual([200, 409, 409, 409]);
    const [made] = await t.ecoute.pool.query(
      "SELECT 1 FROM decisions WHERE sitting_id = ? AND kind = 'askAgain'",
      [id],
    );
    expect(made).toHaveLength(1);
    const returned = await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id] });
    expect(returned.body).toMatchObject({ given: 0 });
  });

  it('of a take changes nothing once its feedback is given: neither its words nor its picture', async () => {
    const { student, release } = await begin();
    const { id, takeId } = await handInOne(student, release);
    const picture = () =>
      student.ask('POST', `/api/takes/${takeId}/picture`, {
        recordingId: randomUUID(),
        mediaType: 'image/png',
      });
    expect((await picture()).status).toBe(200);
    expect((await picture()).status).toBe(200);
    // What was replaced is gone, with its files.
    const [left] = await t.ecoute.pool.query(
      "SELECT id FROM recordings WHERE owner_id = ? AND wanted = 'picture'",
      [student.id],
    );
    expect(left).toHaveLength(1);
    await t.ecoute.pool.query('UPDATE sittings SET feedback_at = UTC_TIMESTAMP(3) WHERE id = ?', [id]);
    expect((await student.ask('PUT', `/api/takes/${takeId}/words`, { title: 'x', note: '' })).status).toBe(
      409,
    );
    expect((await picture()).status).toBe(409);
    expect((await student.ask('DELETE', `/api/takes/${takeId}/picture`)).status).toBe(409);
  });

  it('of an older wording does not replace a newer one', async () => {
    const { student, release, id } = await begin({ answerBy: 'text' });
    const write = (text: string, revision: number) =>
      student.ask<{ revision: number; code: string; current: unknown }>(
        'PUT',
        `/api/sittings/${id}/items/${release.itemId}/text`,
        { text, revision },
      );
    expect((await write('on the laptop', 0)).body.revision).toBe(1);
    // The same again, because the answer was lost.
    expect((await write('on the laptop', 0)).body.revision).toBe(1);
    expect((await write('on the phone, finished', 1)).body.revision).toBe(2);
    const old = await write('on the laptop, older', 1);
    expect([old.status, old.body]).toMatchObject([
      409,
      { code: 'stale', current: { text: 'on the phone, finished', revision: 2 } },
    ]);
  });

  it('two takes that settle in one moment are both counted', async () => {
    const { student, release, id } = await begin({ takesAllowed: 0 });
    const ids = [randomUUID(), randomUUID(), randomUUID()];
    await t.ecoute.jobs.stop();
    for (const recordingId of ids) {
      await announce(student, id, release.itemId, new Date(), recordingId);
      await send(student, recordingId, tone(1));
    }
    t.ecoute.jobs.start();
    for (const recordingId of ids) await settled(student, recordingId);
    const [facts] = await t.ecoute.pool.query('SELECT answered, waiting_ms FROM sittings WHERE id = ?', [id]);
    expect(facts).toMatchObject([{ answered: 1, waiting_ms: 1000 }]);
  });

  it('of an item is recorded as often as a machine asks for, and no more', async () => {
    const { student, release, id } = await begin({ takesAllowed: 0 });
    await recordTake(student, id, release.itemId, tone(1));
    await t.ecoute.pool.query(
      `INSERT INTO recordings (id, owner_id, purpose, state, problem, announced_type, limit_ms, created_at)
       SELECT UUID(), ?, 'take', 'refused', 'cancelled', '', 1, UTC_TIMESTAMP(3) FROM seq_1_to_200`,
      [student.id],
    );
    await t.ecoute.pool.query(
      `INSERT INTO takes (id, sitting_id, item_id, number, began_at)
       SELECT id, ?, ?, 100 + ROW_NUMBER() OVER (ORDER BY id), UTC_TIMESTAMP(3) FROM recordings WHERE owner_id = ? AND state = 'refused'`,
      [id, release.itemId, student.id],
    );
    expect((await announce(student, id, release.itemId, new Date())).status).toBe(409);
  });
});
