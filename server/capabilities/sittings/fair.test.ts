import { randomUUID } from 'node:crypto';
import type { FeedbackView, ListenView } from '@ecoute/contract/marking';
import type { PhoneView, HandoverView } from '@ecoute/contract/handovers';
import type { Receipt, SittingAccount, SittingView, TakeView } from '@ecoute/contract/sittings';
import { recordTake, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

/** The same for everybody: nothing before its time, and nothing lost by a device that failed. */
describe('a fair sitting', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const EXAM = {
    promptText: 'Say what you would do in a storm.',
    hintText: 'Think of the harbour.',
    startsBy: 'itself',
    prepareMs: 30_000,
    takesAllowed: 1,
  } as const;
  const begin = async (over: object = {}) => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, { ...EXAM, ...over });
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    return { student, release, id: body.id, itemId: release.itemId, first: body };
  };
  const tell = (student: Visitor, id: string, itemId: string, ...kinds: string[]) =>
    student.ask('POST', `/api/sittings/${id}/events`, {
      events: kinds.map((kind, i) => ({
        id: randomUUID(),
        itemId,
        kind,
        at: new Date(Date.now() - 1_000 + i).toISOString(),
      })),
    });
  const accountOf = async (id: string) =>
    (await teacher.ask<SittingAccount>('GET', `/api/sittings/${id}/account`)).body.events.map(e => e.kind);
  /** A take of so loud a tone; its answer to being announced. */
  const record = async (student: Visitor, id: string, itemId: string, loud: number) => {
    const recordingId = randomUUID();
    const announced = await student.ask<TakeView>('POST', `/api/sittings/${id}/takes`, {
      recordingId,
      itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    });
    if (announced.status !== 200) return announced.status;
    await send(student, recordingId, tone(1, loud));
    await settled(student, recordingId);
    return 200;
  };

  it('keeps back what is asked until its time begins, and says how long that is', async () => {
    const { student, first, id, itemId } = await begin();
    const words = (view: unknown) => JSON.stringify(view);
    expect(words(first)).not.toMatch(/storm|harbour/);
    expect(first.hidden).toEqual([{ itemId, isVoiced: false }]);
    expect(first.content.items[0]).toMatchObject({ prepareMs: 30_000, startsBy: 'itself' });
    const shown = await student.ask<SittingView>('POST', `/api/sittings/${id}/items/${itemId}/show`);
    expect(shown.status).toBe(200);
    expect(words(shown.body)).toMatch(/storm/);
    expect(shown.body.hidden).toEqual([]);
    // Once: a reload asks again, and the account stays as it was.
    await student.ask('POST', `/api/sittings/${id}/items/${itemId}/show`);
    expect((await accountOf(id)).filter(k => k === 'itemShown')).toHaveLength(1);
    // Nor may anybody else have it shown, or another item by this way.
    const other = await t.person('student', [classId]);
    expect((await other.ask('POST', `/api/sittings/${id}/items/${itemId}/show`)).status).toBe(404);
    expect((await student.ask('POST', `/api/sittings/${id}/items/${randomUUID()}/show`)).status).toBe(404);
  });

  it('shows what waits for its student, and what was answered or handed in', async () => {
    const { first } = await begin({ startsBy: 'student' });
    expect(first.hidden).toEqual([]);
    expect(JSON.stringify(first)).toMatch(/storm/);
    const atOnce = await begin({ prepareMs: 0 });
    expect(atOnce.first.hidden).toEqual([]);
    const { student, id, itemId } = await begin();
    await recordTake(student, id, itemId, tone(1));
    const { body } = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    expect([body.hidden, JSON.stringify(body).includes('storm')]).toEqual([[], true]);
    const untouched = await begin();
    await untouched.student.ask('POST', `/api/sittings/${untouched.id}/hand-in`, { withGaps: true });
    const over = (await untouched.student.ask<SittingView>('GET', `/api/sittings/${untouched.id}`)).body;
    expect([over.hidden, JSON.stringify(over).includes('storm')]).toEqual([[], true]);
  });

  it('keeps it back on a phone as well, until it is shown there', async () => {
    const { student, id, itemId } = await begin();
    const offered = await student.ask<HandoverView>('POST', `/api/sittings/${id}/items/${itemId}/handover`);
    const phone = t.visitor();
    const opened = await phone.ask<PhoneView>('POST', '/api/phone', {
      code: offered.body.url.split('/').pop(),
    });
    expect(opened.status).toBe(200);
    expect(JSON.stringify(opened.body)).not.toMatch(/storm/);
    expect(opened.body.sitting.hidden).toHaveLength(1);
    const shown = await phone.ask<PhoneView>('POST', '/api/phone/show');
    expect(JSON.stringify(shown.body)).toMatch(/storm/);
  });

  it('shows nothing for what a browser says, and notes when an announced take has shown it', async () => {
    const { student, id, itemId } = await begin();
    const words = async () => JSON.stringify((await student.ask('GET', `/api/sittings/${id}`)).body);
    await tell(student, id, itemId, 'promptBegan', 'prepareBegan', 'recordingBegan', 'passed');
    expect(await words()).not.toMatch(/storm|harbour/);
    // An announced take that never comes is given back; that it showed what is asked stays in the account.
    const recordingId = randomUUID();
    await student.ask('POST', `/api/sittings/${id}/takes`, {
      recordingId,
      itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    });
    await student.ask('POST', `/api/recordings/${recordingId}/cancel`);
    expect(await words()).toMatch(/storm/);
    expect(await accountOf(id)).toContain('itemShown');
  });

  it('keeps it back beside notes that are heard before the end, and the model with it', async () => {
    const { student, release, id, itemId } = await begin({ modelText: 'Reef the sails.' });
    const about = { kind: 'showNotes', reason: '', sittingId: id };
    expect((await teacher.ask('POST', `/api/releases/${release.id}/decisions`, about)).status).toBe(200);
    const heard = () => student.ask<FeedbackView>('GET', `/api/sittings/${id}/feedback`);
    expect((await heard()).status).toBe(200);
    expect(JSON.stringify((await heard()).body)).not.toMatch(/storm|harbour|Reef/);
    await student.ask('POST', `/api/sittings/${id}/items/${itemId}/show`);
    expect(JSON.stringify((await heard()).body)).toMatch(/storm/);
    expect(JSON.stringify((await heard()).body)).not.toMatch(/Reef/);
  });

  it('gives a take back in which nothing is heard: once, and the teacher sees it', async () => {
    const { student, id, itemId } = await begin();
    expect(await record(student, id, itemId, 0.0002)).toBe(200);
    expect(await accountOf(id)).not.toContain('takeGivenBack');
    expect(await record(student, id, itemId, 0.0002)).toBe(200);
    expect(await accountOf(id)).toContain('takeGivenBack');
    expect(await record(student, id, itemId, 0.3)).toBe(409);
    // Whoever was heard has had their take.
    const heard = await begin();
    expect(await record(heard.student, heard.id, heard.itemId, 0.3)).toBe(200);
    expect(await record(heard.student, heard.id, heard.itemId, 0.3)).toBe(409);
  });

  it('gives a take back whose microphone was taken away, once', async () => {
    const { student, id, itemId } = await begin();
    expect(await record(student, id, itemId, 0.3)).toBe(200);
    await tell(student, id, itemId, 'microphoneLost');
    expect(await record(student, id, itemId, 0.3)).toBe(200);
    await tell(student, id, itemId, 'microphoneLost');
    expect(await record(student, id, itemId, 0.3)).toBe(409);
    expect(await accountOf(id)).toEqual(expect.arrayContaining(['microphoneLost', 'takeGivenBack']));
    // A browser cannot write what the server decides.
    expect((await tell(student, id, itemId, 'takeGivenBack')).status).toBe(422);
    expect((await tell(student, id, itemId, 'itemShown')).status).toBe(422);
  });

  it('says what is missing in a take, and gives it back; not where the page was left', async () => {
    const { student, id, itemId } = await begin({ takesAllowed: 1 });
    const recordingId = randomUUID();
    const began = Date.now() - 20_000;
    await t.ecoute.pool.query('UPDATE sittings SET began_at = began_at - INTERVAL 1 MINUTE WHERE id = ?', [
      id,
    ]);
    const say = (...list: [string, number][]) =>
      student.ask('POST', `/api/sittings/${id}/events`, {
        events: list.map(([kind, ms]) => ({
          id: randomUUID(),
          itemId,
          kind,
          at: new Date(began + ms).toISOString(),
        })),
      });
    await say(['recordingBegan', 0]);
    await student.ask('POST', `/api/sittings/${id}/takes`, {
      recordingId,
      itemId,
      mediaType: 'audio/wav',
      beganAt: new Date(began).toISOString(),
    });
    await send(student, recordingId, tone(3));
    await settled(student, recordingId);
    const takeOf = async () =>
      (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.takes.find(
        x => x.id === recordingId,
      )!;
    expect((await takeOf()).missingMs).toBeNull();
    await say(['recordingEnded', 5_200]);
    expect((await takeOf()).missingMs).toBeGreaterThan(2_000);
    const account = (await teacher.ask<SittingAccount>('GET', `/api/sittings/${id}/account`)).body;
    expect(account.takes[0]!.missingMs).toBeGreaterThan(2_000);
    expect(await record(student, id, itemId, 0.3)).toBe(200);
    expect(await record(student, id, itemId, 0.3)).toBe(409);
  });

  it('counts a hearing that was cut off once less, and no more than once', async () => {
    const { student, release, id, itemId } = await begin();
    await tell(student, id, itemId, 'promptBegan', 'promptCut', 'promptBegan', 'promptEnded');
    await recordTake(student, id, itemId, tone(1));
    await student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, { withGaps: false });
    const hearings = async () => {
      const { lanes } = (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body;
      return lanes.find(l => l.sittingId === id)!.used.hearings;
    };
    expect(await hearings()).toBe(1);
    await tell(student, id, itemId, 'promptCut');
    expect(await hearings()).toBe(1);
  });

  it('says on the receipt that the time was up, whoever hands in', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, {}, 3_600_000, { sittingLimitMs: 60_000 });
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    await student.ask('POST', `/api/sittings/${body.id}/open`);
    await t.ecoute.pool.query(
      'UPDATE sittings SET clock_began_at = clock_began_at - INTERVAL 61 SECOND WHERE id = ?',
      [body.id],
    );
    const receipt = await student.ask<Receipt>('POST', `/api/sittings/${body.id}/hand-in`, {
      withGaps: true,
    });
    expect(receipt.body.byItself).toBe(true);
  });
});
