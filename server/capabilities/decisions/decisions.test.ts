import { randomUUID } from 'node:crypto';
import type { Decision } from '@ecoute/contract/decisions';
import type { ListenView, FeedbackView } from '@ecoute/contract/marking';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import type { Receipt, SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { handInOne, recordTake, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('decisions about one student', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let student: Visitor;
  let release: { id: string; itemId: string };
  let sitting: { id: string; takeId: string };
  beforeAll(async () => {
    t = await TestEcoute.open();
    teacher = await t.person('teacher');
  });
  afterAll(() => t.close());
  beforeEach(async () => {
    classId = await t.class();
    await t.ecoute.pool.query(
      "INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, 'teacher')",
      [classId, teacher.id],
    );
    student = await t.person('student', [classId]);
    release = await t.release(teacher, classId);
    sitting = await handInOne(student, release);
  });

  const decide = (over: object, of: object = { sittingId: sitting.id }) =>
    teacher.ask<Decision[]>('POST', `/api/releases/${release.id}/decisions`, { reason: '', ...of, ...over });
  const undo = (id: string) =>
    teacher.ask<Decision[]>('POST', `/api/releases/${release.id}/decisions/${id}/undo`);
  const lanes = async () =>
    (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body.lanes;
  const detail = async () => (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`)).body;
  const todo = async () =>
    (await student.ask<TodoEntry[]>('GET', '/api/todo')).body.find(e => e.releaseId === release.id)!;

  it('asks to record again, with the reason; the recording stays, and the new one counts', async () => {
    expect((await decide({ kind: 'askAgain' })).body).toMatchObject({
      code: 'invalid',
      fields: { reason: 'Say what is to be done differently.' },
    });
    const note = { fromMs: 500, words: 'Here the vowel.', revision: 0 };
    await teacher.ask('PUT', `/api/takes/${sitting.takeId}/notes/${randomUUID()}`, note);
    const until = new Date(Date.now() + 5 * 86_400_000).toISOString();
    expect(
      (await decide({ kind: 'askAgain', reason: 'Only half was heard. 🙂', until })).body[0],
    ).toMatchObject({
      kind: 'askAgain',
      undoneAt: null,
    });
    expect((await decide({ kind: 'askAgain', reason: 'again' })).status).toBe(409);
    // It waits for the student now, who learns why, hears the notes and sees no score.
    expect(await detail()).toMatchObject({ waitingSittings: 0, counts: { askedAgain: 1 } });
    expect(await todo()).toMatchObject({
      askedAgainFor: 'Only half was heard. 🙂',
      mayBegin: true,
      dueAt: until,
      feedbackSittingId: sitting.id,
    });
    const back = (await student.ask<FeedbackView>('GET', `/api/sittings/${sitting.id}/feedback`)).body;
    expect(back).toMatchObject({
      askedAgainFor: 'Only half was heard. 🙂',
      total: null,
      items: [{ points: null, notes: [{ words: 'Here the vowel.' }] }],
    });
    const again = await handInOne(student, release);
    expect(again.id).not.toBe(sitting.id);
    expect((await lanes()).map(l => [l.takeId, l.askedAgain])).toEqual([[again.takeId, false]]);
    expect((await student.ask('GET', `/api/recordings/${sitting.takeId}/sound`)).status).toBe(200);
  });

  it('undoes what is to be recorded again as long as nobody has begun again', async () => {
    const [made] = (await decide({ kind: 'askAgain', reason: 'once more' })).body;
    expect((await undo(made!.id)).body[0]!.undoneAt).not.toBeNull();
    expect(await todo()).toMatchObject({ askedAgainFor: null, mayBegin: false });
    // Undone twice is undone once.
    expect((await undo(made!.id)).status).toBe(200);
    const [next] = (await decide({ kind: 'askAgain', reason: 'once more' })).body;
    await student.ask('POST', `/api/releases/${release.id}/another-sitting`);
    expect(await undo(next!.id)).toMatchObject({ status: 409, body: { code: 'begunAgain' } });
    expect((await student.ask('GET', `/api/sittings/${sitting.id}/feedback`)).status).toBe(200);
  });

  it('sets aside one sitting, which then counts for nothing until that is undone', async () => {
    expect((await decide({ kind: 'setAside' })).status).toBe(422);
    const [made] = (await decide({ kind: 'setAside', reason: 'The fire alarm.' })).body;
    expect(await lanes()).toEqual([]);
    expect((await detail()).students[0]).toMatchObject({ state: 'notOpened', sittingId: null });
    expect((await student.ask('GET', `/api/recordings/${sitting.takeId}/sound`)).status).toBe(200);
    await undo(made!.id);
    expect((await lanes()).map(l => l.takeId)).toEqual([sitting.takeId]);
    // Heard from the overview as well, and from there too only while names are seen.
    const takes = async () => (await detail()).students[0]!.takes.map(take => take.takeId);
    expect(await takes()).toEqual([sitting.takeId]);
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: true });
    expect(await takes()).toEqual([]);
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: false });
  });

  it('accepts a late one as in time', async () => {
    await t.ecoute.pool.query(
      'UPDATE releases SET opens_at = opens_at - INTERVAL 1 DAY, due_at = due_at - INTERVAL 12 HOUR WHERE id = ?',
      [release.id],
    );
    expect((await lanes())[0]!.late).toBe(true);
    const [made] = (await decide({ kind: 'acceptLate' })).body;
    expect((await lanes())[0]!.late).toBe(false);
    expect((await detail()).counts.late).toBe(0);
    expect((await decide({ kind: 'acceptLate' })).status).toBe(409);
    await undo(made!.id);
    expect((await lanes())[0]!.late).toBe(true);
  });

  it('waits for no answer of somebody who is excused, and says of what is set aside that it was handed in', async () => {
    const about = { personId: student.id };
    const [excuse] = (await decide({ kind: 'excuse', reason: 'ill' }, about)).body;
    expect((await lanes()).map(l => l.excused)).toEqual([true]);
    expect((await detail()).waitingSittings).toBe(0);
    await undo(excuse!.id);
    expect((await lanes()).map(l => l.excused)).toEqual([false]);
    expect((await detail()).waitingSittings).toBe(1);

    const view = async () => (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body;
    const isSetAside = async () => (await view()).missing.find(m => m.id === student.id)?.setAside;
    expect(await isSetAside()).toBeUndefined();
    expect((await todo()).setAsideFor).toBeNull();
    const [aside] = (await decide({ kind: 'setAside', reason: 'The fire alarm.' })).body;
    expect(await isSetAside()).toBe(true);
    // Its student learns that, and why.
    expect((await todo()).setAsideFor).toBe('The fire alarm.');
    await undo(aside!.id);
    expect((await todo()).setAsideFor).toBeNull();
  });

  it('excuses somebody and allows another sitting; undoing restores what was granted before', async () => {
    const other = await t.person('student', [classId]);
    const late = await t.release(teacher, classId);
    const about = { personId: other.id };
    const path = `/api/releases/${late.id}/decisions`;
    const ask = async (kind: string) =>
      (await teacher.ask<Decision[]>('POST', path, { kind, reason: 'ill', ...about })).body[0]!;
    const excuse = await ask('excuse');
    const standing = async () =>
      (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${late.id}`)).body.students.find(
        s => s.id === other.id,
      )!;
    expect((await standing()).excused).toBe(true);
    await teacher.ask('POST', `${path}/${excuse.id}/undo`);
    expect((await standing()).excused).toBe(false);
    const [made] = (await decide({ kind: 'another' })).body;
    expect((await todo()).mayBegin).toBe(true);
    await undo(made!.id);
    expect((await todo()).mayBegin).toBe(false);
  });

  it('allows another sitting after the due time: not late, said as the second; what was late stays late', async () => {
    await t.ecoute.pool.query('UPDATE releases SET due_at = ?, late_accepted = 0 WHERE id = ?', [
      new Date(Date.now() - 60_000),
      release.id,
    ]);
    expect((await lanes()).map(l => [l.late, l.sittingNumber, l.isAllowed])).toEqual([[true, 1, false]]);
    expect(
      (await decide({ kind: 'another', until: new Date(Date.now() - 1_000).toISOString() })).status,
    ).toBe(422);
    const until = new Date(Date.now() + 2 * 86_400_000).toISOString();
    const [made] = (await decide({ kind: 'another', until })).body;
    expect(await todo()).toMatchObject({ isAllowedAnother: true, mayBegin: true, dueAt: until });
    // What is handed in was late, and is not in time because something else may come later.
    expect((await lanes()).map(l => l.late)).toEqual([true]);
    await undo(made!.id);
    expect(await todo()).toMatchObject({ isAllowedAnother: false, mayBegin: false });
    expect((await lanes()).map(l => l.late)).toEqual([true]);
    // Nothing said of a time: a week.
    await decide({ kind: 'another' });
    expect(Date.parse((await todo()).dueAt) - Date.now()).toBeGreaterThan(6 * 86_400_000);
    await student.ask('POST', `/api/releases/${release.id}/another-sitting`);
    const again = await handInOne(student, release);
    expect((await lanes()).map(l => [l.takeId, l.late, l.sittingNumber, l.isAllowed])).toEqual([
      [again.takeId, false, 2, true],
    ]);
    const [aside] = (
      await teacher.ask<Decision[]>('POST', `/api/releases/${release.id}/decisions`, {
        kind: 'setAside',
        reason: 'Noise.',
        sittingId: again.id,
      })
    ).body;
    expect((await lanes()).map(l => [l.late, l.sittingNumber])).toEqual([[true, 1]]);
    await undo(aside!.id);
  });

  it('lets a student hear notes while the sitting is under way; the take keeps its ends then', async () => {
    const open = await t.release(teacher, classId, { trimAllowed: true });
    const path = `/api/releases/${open.id}/decisions`;
    const { body } = await student.ask<{ id: string }>('POST', `/api/releases/${open.id}/sitting`);
    const take = await recordTake(student, body.id, open.itemId, tone(3));
    const note = { fromMs: 500, words: 'Louder, {name}.', revision: 0 };
    const noteId = randomUUID();
    await teacher.ask('PUT', `/api/takes/${take.recordingId}/notes/${noteId}`, note);
    const mine = () => student.ask<FeedbackView>('GET', `/api/sittings/${body.id}/feedback`);
    expect((await mine()).status).toBe(404);
    const about = { kind: 'showNotes', reason: '', sittingId: body.id };
    const [made] = (await teacher.ask<Decision[]>('POST', path, about)).body;
    expect((await mine()).body).toMatchObject({
      handedInAt: null,
      scoresHeld: true,
      items: [{ notes: [{ words: 'Louder, Name.' }] }],
    });
    const entry = (await student.ask<TodoEntry[]>('GET', '/api/todo')).body.find(
      e => e.releaseId === open.id,
    )!;
    expect(entry).toMatchObject({ notesOfSittingId: body.id, goesOn: true });
    const cut = { fromMs: 1_000, toMs: 2_500 };
    const trimmed = await student.ask('PUT', `/api/takes/${take.recordingId}/trim`, cut);
    expect(trimmed.body).toMatchObject({ code: 'hasNotes', message: expect.stringContaining('made notes') });
    // What was taken away again stands in nobody's way.
    await teacher.ask('POST', `/api/takes/${take.recordingId}/notes/${noteId}/removal`, { revision: 1 });
    expect((await student.ask('PUT', `/api/takes/${take.recordingId}/trim`, cut)).status).toBe(200);
    await teacher.ask('POST', `${path}/${made!.id}/undo`);
    expect((await mine()).status).toBe(404);
    await student.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
    expect((await teacher.ask('POST', path, about)).status).toBe(409);
  });

  it('knows nothing of people and sittings of elsewhere', async () => {
    const elsewhere = await t.release(teacher, classId);
    const path = `/api/releases/${elsewhere.id}/decisions`;
    const about = { kind: 'setAside', reason: 'x', sittingId: sitting.id };
    expect((await teacher.ask('POST', path, about)).status).toBe(404);
    const stranger = await t.person('student');
    expect((await decide({ kind: 'excuse' }, { personId: stranger.id })).status).toBe(404);
    const [made] = (await decide({ kind: 'setAside', reason: 'x' })).body;
    expect((await teacher.ask('POST', `${path}/${made!.id}/undo`)).status).toBe(404);
  });

  it('asks for single items again: the others stand in the new sitting, with what was said of them, and stay as they were', async () => {
    const items = [
      spokenItem(),
      spokenItem({ promptText: 'And the tide?' }),
      spokenItem({ answerBy: 'text', promptText: 'Write.' }),
    ];
    const [first, second, third] = items.map(i => i.id) as [string, string, string];
    release = { ...(await t.release(teacher, classId, {}, 3_600_000, { items })), itemId: first };
    const begun = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    const old = begun.body.id;
    const { recordingId: kept } = await recordTake(student, old, first, tone(1));
    await recordTake(student, old, second, tone(1));
    await student.ask('PUT', `/api/sittings/${old}/items/${third}/text`, { text: 'In words.', revision: 0 });
    await student.ask('POST', `/api/sittings/${old}/hand-in`, { withGaps: false });
    const note = { fromMs: 500, words: 'Here the vowel.', revision: 0 };
    await teacher.ask('PUT', `/api/takes/${kept}/notes/${randomUUID()}`, note);
    const mark = { points: 3, comment: 'Clear.', choices: [], revision: 0, finished: true };
    expect((await teacher.ask('PUT', `/api/sittings/${old}/marks/${first}`, mark)).status).toBe(200);
    sitting = { id: old, takeId: kept };
    expect((await decide({ kind: 'askAgain', reason: 'Once more.', itemIds: [] })).status).toBe(422);
    expect((await decide({ kind: 'askAgain', reason: 'Once more.', itemIds: [randomUUID()] })).status).toBe(
      404,
    );
    const [asked] = (await decide({ kind: 'askAgain', reason: 'Once more.', itemIds: [second] })).body;

    const { body: again } = await student.ask<SittingView>(
      'POST',
      `/api/releases/${release.id}/another-sitting`,
    );
    expect(again).toMatchObject({ openItemIds: [second], againFor: 'Once more.' });
    expect(again.takes.map(take => take.id)).toEqual([kept]);
    expect(again.written.map(w => w.text)).toEqual(['In words.']);
    // What stands is nobody's to change, by whatever way.
    const wanted = {
      recordingId: randomUUID(),
      itemId: first,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    };
    for (const [method, path, body] of [
      ['POST', `/api/sittings/${again.id}/takes`, wanted],
      ['POST', `/api/takes/${kept}/choice`, undefined],
      ['PUT', `/api/sittings/${again.id}/items/${third}/text`, { text: 'Other.', revision: 1 }],
    ] as const)
      expect([path, (await student.ask(method, path, body)).status]).toEqual([path, 409]);
    const passed = { id: randomUUID(), itemId: first, kind: 'passed', at: new Date().toISOString() };
    await student.ask('POST', `/api/sittings/${again.id}/events`, { events: [passed] });
    const now = (await student.ask<SittingView>('GET', `/api/sittings/${again.id}`)).body;
    expect(now.events.map(e => e.kind)).not.toContain('passed');
    expect((await undo(asked!.id)).status).toBe(409);
    // Begun and left, it costs nothing: the earlier one counts whole until the later one is handed in.
    expect(
      (await lanes()).map(l => [l.sittingId, l.takeId !== null || l.written !== null, l.notes.length]),
    ).toEqual([
      [old, true, 1],
      [old, true, 0],
      [old, true, 0],
    ]);

    const { recordingId: anew } = await recordTake(student, again.id, second, tone(2));
    const { body: receipt } = await student.ask<Receipt>('POST', `/api/sittings/${again.id}/hand-in`, {
      withGaps: false,
    });
    expect(receipt.lines.map(l => l.takeId ?? l.written).sort()).toEqual([kept, anew, true].sort());
    const found = await lanes();
    expect(found.map(l => [l.sittingId, l.mark?.comment ?? null, l.notes.length])).toEqual([
      [again.id, 'Clear.', 1],
      [again.id, null, 0],
      [again.id, null, 0],
    ]);
    // Heard before it was handed in again, it may still be taken back.
    expect((await student.ask<SittingView>('GET', `/api/sittings/${again.id}`)).body.mayWithdraw).toBe(true);
    await student.ask('POST', `/api/sittings/${again.id}/withdraw`);
    expect((await lanes()).every(l => l.sittingId === old && (l.takeId !== null || l.written !== null))).toBe(
      true,
    );
    await student.ask('POST', `/api/sittings/${again.id}/hand-in`, { withGaps: false });

    // What came back of the earlier one does not say that there was no answer.
    const earlier = (await student.ask<FeedbackView>('GET', `/api/sittings/${old}/feedback`)).body;
    expect(earlier.items.map(i => [i.takeId !== null, i.stands])).toEqual([
      [false, true],
      [true, false],
      [false, true],
    ]);
    // Set aside, the later one counts for nothing: what stood goes back, and forth when it counts again.
    const [aside] = (await decide({ kind: 'setAside', reason: 'Not theirs.' }, { sittingId: again.id })).body;
    expect((await lanes()).map(l => [l.sittingId, l.takeId !== null || l.written !== null])).toEqual([
      [old, true],
      [old, true],
      [old, true],
    ]);
    await undo(aside!.id);
    expect((await lanes()).map(l => [l.sittingId, l.takeId])).toEqual([
      [again.id, kept],
      [again.id, anew],
      [again.id, null],
    ]);
  });
});
