import type { ReleaseDetail, ReleaseSummary } from '@ecoute/contract/releases';
import { recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('a release', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let students: Visitor[];
  let release: { id: string; itemId: string };

  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    students = [];
    for (let n = 0; n < 5; n++) students.push(await t.person('student', [classId]));
    release = await t.release(teacher, classId);
    // One never opens it, one is under way, one hands in, one is marked, one gets it back.
    for (const [n, student] of students.entries()) {
      if (n === 0) continue;
      const { body } = await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
      await recordTake(student, body.id, release.itemId, tone(1));
      if (n === 2) await recordTake(student, body.id, release.itemId, tone(3));
      if (n === 1) continue;
      await student.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
      if (n === 2) continue;
      await teacher.ask('PUT', `/api/sittings/${body.id}/marks/${release.itemId}`, {
        revision: 0,
        points: n,
        comment: '',
        finished: true,
      });
      if (n === 4)
        await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [body.id] });
    }
  });
  afterAll(() => t.close());

  it('knows where everybody stands, and what listening is left', async () => {
    const { body } = await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`);
    expect(body.counts).toEqual({
      students: 5,
      notOpened: 1,
      underWay: 1,
      handedIn: 1,
      marked: 1,
      feedbackGiven: 1,
      answered: 0,
      askedAgain: 0,
      late: 0,
      missing: 0,
      excused: 0,
      repliesWait: 0,
    });
    // The newer of the two takes counts.
    expect([body.waitingSittings, body.waitingMs]).toEqual([1, 3_000]);
    const states = new Map(body.students.map(s => [s.id, s]));
    expect(students.map(s => states.get(s.id)!.state)).toEqual([
      'notOpened',
      'underWay',
      'handedIn',
      'marked',
      'feedbackGiven',
    ]);
  });

  it('counts the same in the list as on its own page', async () => {
    const [summary] = (await teacher.ask<ReleaseSummary[]>('GET', '/api/releases')).body;
    const {
      students: _,
      content: _whole,
      ...detail
    } = (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`)).body;
    expect(summary).toEqual(detail);
  });

  it('calls missing what is not handed in when it is due', async () => {
    await t.ecoute.pool.query(
      'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 1 MINUTE, opens_at = UTC_TIMESTAMP(3) - INTERVAL 1 DAY WHERE id = ?',
      [release.id],
    );
    const { body } = await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`);
    expect(body.counts).toMatchObject({ missing: 2, late: 3 });
  });

  it('shows a teacher the releases of their classes only', async () => {
    const other = await t.person('teacher', [await t.class()]);
    expect((await other.ask<ReleaseSummary[]>('GET', '/api/releases')).body).toEqual([]);
  });
});
