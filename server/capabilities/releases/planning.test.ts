import { randomUUID } from 'node:crypto';
import { wallOf } from '@ecoute/core/timing/wallTime';
import type { CalendarView, ReleaseDetail, ReleaseEntry, ReleaseSummary } from '@ecoute/contract/releases';
import type { OthersView, SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

const HOUR = 3_600_000;
const inHours = (hours: number) => new Date(Date.now() + hours * HOUR).toISOString();

describe('planning releases', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let students: Visitor[];
  let classId: string;
  let assessmentId: string;
  let itemId: string;

  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    students = [];
    for (let n = 0; n < 3; n++) students.push(await t.person('student', [classId]));
    ({ assessmentId, itemId } = await t.release(teacher, classId));
  });
  afterAll(() => t.close());

  const give = (over: object) =>
    teacher.ask<ReleaseDetail>('POST', '/api/releases', {
      assessmentId,
      classId,
      dueAt: inHours(24),
      lateAccepted: true,
      note: '',
      ...over,
    });
  const terms = (r: ReleaseDetail, over: object) => ({
    opensAt: r.opensAt,
    dueAt: r.dueAt,
    closesAt: r.closesAt,
    lateAccepted: r.lateAccepted,
    note: r.note,
    ...over,
  });
  const todoOf = async (who: Visitor, id: string) =>
    (await who.ask<TodoEntry[]>('GET', '/api/todo')).body.find(e => e.releaseId === id);
  const sit = (who: Visitor, id: string, another = false) =>
    who.ask<SittingView>('POST', `/api/releases/${id}/${another ? 'another-sitting' : 'sitting'}`);
  const handInAll = async (who: Visitor, id: string, another = false) => {
    const { body } = await sit(who, id, another);
    await recordTake(who, body.id, itemId, tone(1));
    await who.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
    return body.id;
  };

  it('gives to single students, and nobody else sees it', async () => {
    const { body } = await give({ audience: 'students', studentIds: [students[0]!.id] });
    expect(body.students.map(s => s.id)).toEqual([students[0]!.id]);
    expect(await todoOf(students[0]!, body.id)).toBeDefined();
    expect(await todoOf(students[1]!, body.id)).toBeUndefined();
    expect((await sit(students[1]!, body.id)).status).toBe(404);
    const stranger = await t.person('student', [await t.class()]);
    expect((await give({ audience: 'students', studentIds: [stranger.id] })).body).toMatchObject({
      fields: { studentIds: 'Choose students of this class.' },
    });
    expect((await give({ audience: 'students', studentIds: [] })).status).toBe(422);
    expect((await give({ audience: 'group', groupId: randomUUID() })).status).toBe(422);
  });

  it('says which time contradicts which, at its field', async () => {
    const fields = async (over: object) =>
      (await give(over)).body as unknown as { fields: Record<string, string> };
    expect(await fields({ dueAt: inHours(-1) })).toMatchObject({
      fields: { dueAt: expect.stringMatching(/passed already/) },
    });
    expect(await fields({ opensAt: inHours(30) })).toMatchObject({
      fields: { dueAt: expect.stringMatching(/before it opens/) },
    });
    expect(await fields({ closesAt: inHours(20) })).toMatchObject({
      fields: { closesAt: expect.stringMatching(/before it is due/) },
    });
    expect(await fields({ timeZone: 'Mars/Olympus' })).toMatchObject({
      fields: { timeZone: expect.stringMatching(/not known/) },
    });
    expect(await fields({ sittingsAllowed: 500 })).toMatchObject({
      fields: { sittingsAllowed: expect.stringMatching(/At most/) },
    });
  });

  it('keeps a hidden release out of sight until it is shown by hand', async () => {
    const { body } = await give({ hidden: true });
    expect(await todoOf(students[0]!, body.id)).toBeUndefined();
    expect((await sit(students[0]!, body.id)).status).toBe(404);
    await teacher.ask('PUT', `/api/releases/${body.id}`, terms(body, { hidden: false }));
    expect((await sit(students[0]!, body.id)).status).toBe(200);
  });

  it('grants an extension, an excuse and another sitting to one student', async () => {
    const { body } = await give({ lateAccepted: false });
    await t.ecoute.pool.query(
      'UPDATE releases SET opens_at = UTC_TIMESTAMP(3) - INTERVAL 2 HOUR, due_at = UTC_TIMESTAMP(3) - INTERVAL 1 HOUR WHERE id = ?',
      [body.id],
    );
    const [late, away, good] = students as [Visitor, Visitor, Visitor];
    expect((await sit(late, body.id)).status).toBe(409);
    const grant = (who: Visitor, over: object) =>
      teacher.ask<ReleaseDetail>('PUT', `/api/releases/${body.id}/exceptions/${who.id}`, {
        dueAt: null,
        excused: false,
        extraSittings: 0,
        ...over,
      });
    expect((await grant(late, { dueAt: inHours(-24) })).status).toBe(422);
    expect((await grant(late, { dueAt: inHours(2) })).status).toBe(200);
    expect(await todoOf(late, body.id)).toMatchObject({ openness: 'open', extended: true, mayBegin: true });
    const sittingId = await handInAll(late, body.id);
    const detail = (await grant(away, { excused: true })).body;
    const stands = (who: Visitor) => detail.students.find(s => s.id === who.id)!;
    expect(stands(away)).toMatchObject({ excused: true, missing: false });
    expect(stands(good)).toMatchObject({ excused: false, missing: true });
    expect(stands(late)).toMatchObject({ state: 'handedIn', late: false, extended: true, sittingId });
    expect(detail.counts).toMatchObject({ missing: 1, excused: 1, late: 0 });

    // Another sitting: what was handed in stands until the new one is handed in.
    expect((await sit(late, body.id, true)).status).toBe(409);
    // What is left out stays as it was.
    const granted = await teacher.ask<ReleaseDetail>(
      'PUT',
      `/api/releases/${body.id}/exceptions/${late.id}`,
      { another: true },
    );
    expect(granted.body.students.find(s => s.id === late.id)).toMatchObject({
      extended: true,
      extraSittings: 1,
    });
    const second = (await sit(late, body.id, true)).body;
    expect(second.number).toBe(2);
    const listed = async () =>
      (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${body.id}`)).body.students.find(
        s => s.id === late.id,
      )!;
    expect(await listed()).toMatchObject({ sittingId, sittings: 2, state: 'handedIn' });
    expect((await sit(late, body.id)).body.id).toBe(second.id);
    await handInAll(late, body.id);
    expect(await listed()).toMatchObject({ sittingId: second.id, sittings: 2 });
    const stranger = await t.person('student', [await t.class()]);
    expect((await grant(stranger, { excused: true })).status).toBe(404);
  });

  it('makes five weekly releases at once, moves them together and takes them back', async () => {
    const zone = 'Europe/Lisbon';
    // Over the night of 28 March 2027, when the clocks go forward.
    const each = [
      ['2027-03-16T08:00:00Z', '2027-03-22T18:00:00Z'],
      ['2027-03-23T08:00:00Z', '2027-03-29T17:00:00Z'],
    ].map(([opensAt, dueAt], n) => ({ opensAt, dueAt, note: `Week ${n + 1}` }));
    const given = { assessmentId, classId, dueAt: inHours(1), lateAccepted: true, note: '', timeZone: zone };
    const { body } = await teacher.ask<ReleaseEntry[]>('POST', '/api/release-series', { ...given, each });
    expect(body.map(r => r.note)).toEqual(['Week 1', 'Week 2']);
    expect(new Set(body.map(r => r.seriesId)).size).toBe(1);
    expect(await todoOf(students[0]!, body[0]!.id)).toBeUndefined();

    const ids = body.map(r => r.id);
    const moved = await teacher.ask<ReleaseEntry[]>('POST', '/api/release-moves', {
      releaseIds: ids,
      days: 7,
    });
    const first = moved.body.find(r => r.id === ids[0])!;
    expect([wallOf(Date.parse(first.opensAt), zone), wallOf(Date.parse(first.dueAt), zone)]).toEqual([
      '2027-03-23T08:00',
      '2027-03-29T18:00',
    ]);
    const back = await teacher.ask<ReleaseEntry[]>('POST', '/api/release-moves', {
      releaseIds: ids,
      days: -7,
    });
    expect(back.body.map(r => r.opensAt).sort()).toEqual(body.map(r => r.opensAt).sort());
    for (const id of ids) expect((await teacher.ask('DELETE', `/api/releases/${id}`)).status).toBe(204);
    const left = (await teacher.ask<ReleaseSummary[]>('GET', '/api/releases')).body.map(r => r.id);
    expect(left.filter(id => ids.includes(id))).toEqual([]);

    // One bad date, and none is made.
    const bad = [...each, { opensAt: '2027-04-02T08:00:00Z', dueAt: '2027-04-01T18:00:00Z', note: '' }];
    const before = (await teacher.ask<ReleaseSummary[]>('GET', '/api/releases')).body.length;
    expect((await teacher.ask('POST', '/api/release-series', { ...given, each: bad })).status).toBe(422);
    expect((await teacher.ask<ReleaseSummary[]>('GET', '/api/releases')).body).toHaveLength(before);
  });

  it('lists the newest, and older ones a page at a time, with none twice and none left out', async () => {
    const other = await t.class();
    const busy = await t.person('teacher', [other]);
    const first = await t.release(busy, other);
    for (let n = 0; n < 2; n++)
      await busy.ask('POST', '/api/release-series', {
        assessmentId: first.assessmentId,
        classId: other,
        dueAt: inHours(1),
        lateAccepted: true,
        note: '',
        // Two of them due at each instant.
        each: Array.from({ length: 40 }, (_, i) => ({
          opensAt: inHours(i),
          dueAt: inHours(i + 2),
          note: '',
        })),
      });
    const newest = (await busy.ask<ReleaseSummary[]>('GET', '/api/releases')).body;
    const older = (await busy.ask<ReleaseSummary[]>('GET', `/api/releases/${newest.at(-1)!.id}/before`)).body;
    expect([newest.length, older.length]).toEqual([60, 21]);
    expect(new Set([...newest, ...older].map(r => r.id)).size).toBe(81);
  });

  it('takes back what has a link for guests, with the link', async () => {
    const { body } = await give({});
    const link = { keepDays: 30, label: 'Open evening' };
    const [{ code }] = (await teacher.ask<{ code: string }[]>('POST', `/api/releases/${body.id}/links`, link))
      .body as [{ code: string }];
    expect((await t.visitor().ask('GET', `/api/links/${code}`)).status).toBe(200);
    expect((await teacher.ask('DELETE', `/api/releases/${body.id}`)).status).toBe(204);
    expect((await t.visitor().ask('GET', `/api/links/${code}`)).status).toBe(404);
  });

  it('never takes back what somebody has begun', async () => {
    const { body } = await give({});
    await sit(students[0]!, body.id);
    expect(await teacher.ask('DELETE', `/api/releases/${body.id}`)).toMatchObject({
      status: 409,
      body: { message: expect.stringMatching(/their work stays/) },
    });
    expect((await sit(students[0]!, body.id)).status).toBe(200);
  });

  it('lies on the calendar of those it concerns, with the holidays of the school', async () => {
    const { body } = await give({ opensAt: '2028-02-10T08:00:00Z', dueAt: '2028-02-17T18:00:00Z' });
    const days = { name: 'Carnival', firstOn: '2028-02-26', lastOn: '2028-03-01' };
    expect(
      (await teacher.ask('POST', '/api/holidays', { ...days, lastOn: '2028-02-20' })).body,
    ).toMatchObject({
      fields: { lastOn: expect.stringMatching(/end before they begin/) },
    });
    await teacher.ask('POST', '/api/holidays', days);
    const month = (who: Visitor) =>
      who.ask<CalendarView>('GET', '/api/calendar?from=2028-02-01&to=2028-03-01').then(a => a.body);
    expect((await month(teacher)).releases.map(r => r.id)).toEqual([body.id]);
    expect((await month(teacher)).holidays).toEqual([expect.objectContaining(days)]);
    // Not open yet: students know nothing of it.
    expect((await month(students[0]!)).releases).toEqual([]);
    expect((await teacher.ask('GET', '/api/calendar?from=soon&to=later')).status).toBe(422);
  });

  it('lets classmates hear each other where the release says so, once they have handed in', async () => {
    const takes = async (id: string) => {
      const { body } = await sit(students[0]!, id);
      const take = await recordTake(students[0]!, body.id, itemId, tone(1));
      await students[0]!.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
      return take.recordingId;
    };
    const hears = async (who: Visitor, take: string) =>
      (await who.ask('GET', `/api/recordings/${take}/sound`)).status;
    const closed = await give({});
    const open = await give({ heardBy: 'class' });
    const [a, b] = [await takes(closed.body.id), await takes(open.body.id)];
    expect([await hears(students[1]!, a), await hears(students[1]!, b)]).toEqual([404, 404]);
    await handInAll(students[1]!, closed.body.id);
    await handInAll(students[1]!, open.body.id);
    const others = (who: Visitor, id: string) => who.ask<OthersView>('GET', `/api/releases/${id}/others`);
    // Whoever may still take it back is told first that it stays from then on.
    expect((await others(students[1]!, open.body.id)).body).toMatchObject({ code: 'opensForGood' });
    expect(await hears(students[1]!, b)).toBe(404);
    expect((await students[1]!.ask('POST', `/api/releases/${open.body.id}/others`)).status).toBe(200);
    expect([await hears(students[1]!, a), await hears(students[1]!, b)]).toEqual([404, 200]);
    expect((await others(students[1]!, open.body.id)).body.items[0]!.answers.map(x => x.takeId)).toEqual([b]);
    expect(await todoOf(students[1]!, open.body.id)).toMatchObject({ hearsOthers: true });
    expect((await others(students[1]!, closed.body.id)).status).toBe(404);
    expect((await others(students[2]!, open.body.id)).status).toBe(409);
  });

  it('tells open pages what has changed, each only what concerns it', async () => {
    const line = async (who: Visitor) => {
      const told: { kind: string; id: string | null }[] = [];
      const stop = await who.listen(message => told.push(message as (typeof told)[number]));
      return { told, stop };
    };
    const other = await t.person('teacher', [await t.class()]);
    const [mine, theirs, foreign] = [await line(teacher), await line(students[2]!), await line(other)];
    const { body } = await give({});
    await until(() => mine.told.some(m => m.kind === 'release' && m.id === body.id));
    await until(() => theirs.told.some(m => m.kind === 'todo'));
    mine.told.length = 0;
    await sit(students[2]!, body.id);
    await until(() => mine.told.some(m => m.kind === 'release' && m.id === body.id));
    expect(foreign.told).toEqual([]);
    for (const l of [mine, theirs, foreign]) l.stop();
    expect((await t.visitor().ask('GET', '/api/changes')).status).toBe(401);
  });
});

async function until(holds: () => boolean): Promise<void> {
  while (!holds()) await new Promise(resolve => setTimeout(resolve, 20));
}
