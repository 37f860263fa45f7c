import type { Decision } from '@ecoute/contract/decisions';
import type {
  Beside,
  Listener,
  ListenView,
  FeedbackEntry,
  FeedbackView,
  FeedbackResult,
} from '@ecoute/contract/marking';
import { handInOne, recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('listening together, without names, and returning later', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const finish = (sittingId: string, itemId: string) =>
    teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${itemId}`, {
      revision: 0,
      points: 3,
      comment: 'Said.',
      finished: true,
    });

  it('keeps every name on the server until its feedback is given', async () => {
    const people = await Promise.all([1, 2, 3].map(() => t.person('student', [classId])));
    const release = await t.release(teacher, classId, { answerBy: 'file' });
    const sittings: string[] = [];
    for (const one of people) {
      const { body } = await one.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
      await recordTake(one, body.id, release.itemId, tone(1), `Name of ${one.id} final.wav`);
      await one.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
      sittings.push(body.id);
    }
    const waiting = await t.person('student', [classId]);
    const late = await t.release(teacher, classId);
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: true });
    const everything = async () => {
      const lanes = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
      const others = await Promise.all(
        [
          ...sittings.flatMap(id => [
            `/api/sittings/${id}/account`,
            `/api/sittings/${id}/scores`,
            `/api/sittings/${id}/items/${release.itemId}/beside`,
          ]),
          `/api/releases/${release.id}/decisions`,
        ].map(path => teacher.ask('GET', path)),
      );
      return { view: lanes.body, text: JSON.stringify([lanes.body, ...others.map(o => o.body)]) };
    };
    await teacher.ask<Decision[]>('POST', `/api/releases/${release.id}/decisions`, {
      kind: 'acceptLate',
      reason: '',
      sittingId: sittings[0],
    });
    const { view, text } = await everything();
    const own = view.lanes.filter(l => sittings.includes(l.sittingId));
    expect(own.map(l => [l.studentId, l.fileName])).toEqual(Array(3).fill([null, 'file.wav']));
    expect(new Set(own.map(l => l.studentName)).size).toBe(3);
    for (const person of [...people, waiting]) expect(text).not.toContain(person.id);
    expect(text).not.toContain('Name of student');
    // The release's own page does not lead from a name to a recording either.
    const page = await teacher.ask<{ students: { id: string; sittingId: string | null }[] }>(
      'GET',
      `/api/releases/${release.id}`,
    );
    expect(page.body.students.map(s => s.sittingId)).toEqual(page.body.students.map(() => null));
    const unfinished = await teacher.ask<FeedbackResult>('POST', `/api/releases/${release.id}/feedback`, {
      sittingIds: sittings,
    });
    expect(JSON.stringify(unfinished.body)).not.toContain('Name of student');
    await finish(sittings[0]!, release.itemId);
    // Feedback that is still to come shows no name yet.
    const returns = `/api/releases/${release.id}/feedback`;
    const at = new Date(Date.now() + 3_600_000).toISOString();
    await teacher.ask('POST', returns, { sittingIds: [sittings[0]], at });
    expect((await everything()).text).not.toContain('Name of student');
    await teacher.ask('POST', returns, { sittingIds: [sittings[0]] });
    const named = (await everything()).view.lanes.filter(l => l.studentId !== null);
    expect(named.map(l => [l.sittingId, l.studentId])).toEqual([[sittings[0], people[0]!.id]]);
    expect((await teacher.ask('PUT', `/api/releases/${late.id}/names`, {})).status).toBe(422);
  });

  it('gives feedback at a set time, not before, and calls that off', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { id } = await handInOne(student, release);
    await finish(id, release.itemId);
    const at = (ms: number) =>
      teacher.ask<FeedbackResult>('POST', `/api/releases/${release.id}/feedback`, {
        sittingIds: [id],
        at: new Date(Date.now() + ms).toISOString(),
      });
    const mine = async () => (await student.ask<FeedbackEntry[]>('GET', '/api/feedback')).body;
    const lane = async () =>
      (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body.lanes[0]!;
    expect((await at(-120_000)).status).toBe(422);
    expect((await at(3_600_000)).body.given).toBe(1);
    expect([await mine(), (await lane()).state]).toEqual([[], 'marked']);
    expect(Date.parse((await lane()).feedbackComesAt!)).toBeGreaterThan(Date.now() + 3_000_000);
    const off = () =>
      teacher.ask('POST', `/api/releases/${release.id}/feedback/calling-off`, { sittingIds: [id] });
    expect((await off()).body).toEqual({ calledOff: 1, opened: 0 });
    expect((await off()).body).toEqual({ calledOff: 0, opened: 0 });
    const told: unknown[] = [];
    const stop = await student.listen(message => told.push(message));
    await at(1_500);
    const before = told.length;
    while (
      (await mine()).length === 0 ||
      told.slice(before).filter(m => (m as { kind: string }).kind === 'feedback').length < 1
    )
      await new Promise(resolve => setTimeout(resolve, 100));
    stop();
    expect((await lane()).state).toBe('feedbackGiven');
  });

  it('tells two teachers of each other, and forgets who has left', async () => {
    const colleague = await t.person('teacher', [classId]);
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { id } = await handInOne(student, release);
    const here = async (who: Visitor, over: object = {}) =>
      (
        await who.ask<Listener[]>('POST', `/api/releases/${release.id}/listeners`, {
          sittingId: id,
          ...over,
        })
      ).body;
    expect(await here(teacher)).toEqual([]);
    expect(await here(colleague)).toMatchObject([{ personId: teacher.id, sittingId: id }]);
    expect(await here(teacher, { sittingId: null })).toMatchObject([
      { personId: colleague.id, sittingId: id },
    ]);
    await here(colleague, { leaves: true });
    expect(await here(teacher)).toEqual([]);
    await here(colleague);
    await t.ecoute.pool.query(
      'UPDATE listeners SET seen_at = seen_at - INTERVAL 41 SECOND WHERE person_id = ?',
      [colleague.id],
    );
    expect(await here(teacher)).toEqual([]);
    const elsewhere = await t.release(teacher, classId);
    const wrong = await teacher.ask('POST', `/api/releases/${elsewhere.id}/listeners`, { sittingId: id });
    expect(wrong.status).toBe(404);
  });

  it('lays other takes and earlier answers beside an answer, the same item first', async () => {
    const student = await t.person('student', [classId]);
    const first = await t.release(teacher, classId);
    const before = await handInOne(student, first);
    await finish(before.id, first.itemId);
    const { body: again } = await teacher.ask<{ id: string }>('POST', '/api/releases', {
      assessmentId: first.assessmentId,
      classId,
      dueAt: new Date(Date.now() + 3_600_000).toISOString(),
      lateAccepted: true,
      note: '',
    });
    const other = await t.release(teacher, classId);
    await handInOne(student, other);
    const { body } = await student.ask<{ id: string }>('POST', `/api/releases/${again.id}/sitting`);
    const one = await recordTake(student, body.id, first.itemId, tone(1));
    await recordTake(student, body.id, first.itemId, tone(2));
    await student.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
    const found = (
      await teacher.ask<Beside[]>('GET', `/api/sittings/${body.id}/items/${first.itemId}/beside`)
    ).body;
    // Its student reads what was said of the same item before, once both have feedback.
    const returned = () => student.ask<FeedbackView>('GET', `/api/sittings/${body.id}/feedback`);
    await finish(body.id, first.itemId);
    await teacher.ask('POST', `/api/releases/${again.id}/feedback`, { sittingIds: [body.id] });
    expect((await returned()).body.items[0]!.before).toEqual([]);
    await teacher.ask('POST', `/api/releases/${first.id}/feedback`, { sittingIds: [before.id] });
    expect((await returned()).body.items[0]!.before).toMatchObject([{ comment: 'Said.', title: 'Test' }]);
    expect(found.map(b => [b.takeId === one.recordingId, b.same, b.title, b.points])).toEqual([
      [true, true, null, null],
      [false, true, 'Test', 3],
      [false, false, 'Test', null],
    ]);
  });
});
