import { execute, rows } from '../database';
import { handInOne, TestEcoute, type Visitor } from '../../testing/ecoute';
import type { RightChange } from './store';

const CHANGES =
  'SELECT id, session_id AS sessionId, person_id AS personId, recording_id AS recordingId FROM right_changes WHERE id > :last ORDER BY id';

describe('what ends a right', () => {
  let ecoute: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let classId: string;
  let takeId: string;
  let sittingId: string;

  const db = () => ecoute.ecoute.pool;
  const person = (who: Visitor) => ({ sessionId: null, personId: who.id, recordingId: null });
  const take = () => ({ sessionId: null, personId: null, recordingId: takeId });
  const ALL = { sessionId: null, personId: null, recordingId: null };
  /** What the database writes down of a statement. */
  async function written(sql: string, values: object = {}): Promise<Omit<RightChange, 'id'>[]> {
    const [before] = await rows<{ last: number | null }>(db(), 'SELECT MAX(id) AS last FROM right_changes');
    expect(await execute(db(), sql, values)).toBeGreaterThan(0);
    const found = await rows<RightChange>(db(), CHANGES, { last: before?.last ?? 0 });
    return found.map(({ sessionId, personId, recordingId }) => ({ sessionId, personId, recordingId }));
  }

  beforeAll(async () => {
    ecoute = await TestEcoute.open();
    classId = await ecoute.class();
    teacher = await ecoute.person('teacher', [classId]);
    student = await ecoute.person('student', [classId]);
    const release = await ecoute.release(teacher, classId);
    ({ id: sittingId, takeId } = await handInOne(student, release));
    await ecoute.ecoute.jobs.stop();
  });
  afterAll(() => ecoute.close());

  it('is written by the database, whoever changes it, and says whom it concerns', async () => {
    const elsewhere = await ecoute.class();
    const of = { id: teacher.id, classId, elsewhere, takeId, sittingId };
    const member = 'UPDATE class_members SET role = :role WHERE person_id = :id AND class_id = :classId';
    expect(await written(member, { ...of, role: 'coordinator' })).toEqual([person(teacher)]);
    expect(await written(member, { ...of, role: 'teacher' })).toEqual([person(teacher)]);
    const closed = 'UPDATE people SET closed_at = :at WHERE id = :id';
    expect(await written(closed, { ...of, at: new Date() })).toEqual([person(teacher)]);
    expect(await written(closed, { ...of, at: null })).toEqual([person(teacher)]);
    expect(await written('UPDATE releases SET class_id = :elsewhere WHERE class_id = :classId', of)).toEqual([
      ALL,
    ]);
    expect(await written('UPDATE releases SET class_id = :classId WHERE class_id = :elsewhere', of)).toEqual([
      ALL,
    ]);
    expect(await written('DELETE FROM classes WHERE id = :elsewhere', of)).toEqual([ALL]);
    const cut = 'UPDATE recordings SET playable_at = NULL WHERE id = :takeId';
    await execute(db(), 'UPDATE recordings SET playable_at = UTC_TIMESTAMP(3) WHERE id = :takeId', of);
    expect(await written(cut, of)).toEqual([take()]);
    const owner = 'UPDATE recordings SET owner_id = :owner WHERE id = :takeId';
    expect(await written(owner, { takeId, owner: teacher.id })).toEqual([take()]);
    expect(await written(owner, { takeId, owner: student.id })).toEqual([take()]);
    const state = 'UPDATE recordings SET state = :state WHERE id = :takeId';
    expect(await written(state, { takeId, state: 'arriving' })).toEqual([]);
    expect(await written(state, { takeId, state: 'stored' })).toEqual([take()]);
  });

  it('is written of a session that ends, ends sooner or is another’s', async () => {
    const [own] = await rows<{ id: string }>(
      db(),
      'SELECT session_id AS id FROM sessions WHERE person_id = :id',
      teacher,
    );
    const { id } = own!;
    const session = [{ sessionId: id, personId: null, recordingId: null }];
    const expires = 'UPDATE sessions SET expires = expires + :by WHERE session_id = :id';
    expect(await written(expires, { id, by: 60 })).toEqual([]);
    expect(await written(expires, { id, by: -60 })).toEqual(session);
    const whose = "UPDATE sessions SET data = JSON_SET(data, '$.me.id', :whose) WHERE session_id = :id";
    expect(await written(whose, { id, whose: student.id })).toEqual(session);
    expect(await written('DELETE FROM sessions WHERE session_id = :id', { id })).toEqual(session);
  });

  it('is not written of what ends none: names, marks, who is used to be here', async () => {
    expect(
      await written("UPDATE people SET display_name = 'Else' WHERE id = :id", { id: student.id }),
    ).toEqual([]);
    expect(
      await written('UPDATE sittings SET feedback_at = UTC_TIMESTAMP(3) WHERE id = :sittingId', {
        sittingId,
      }),
    ).toEqual([]);
    expect(
      await written("UPDATE sessions SET data = JSON_SET(data, '$.usedAtMs', 1) WHERE person_id = :id", {
        id: student.id,
      }),
    ).toEqual([]);
  });
});
