import type { ClassDetail, FirstCode, Member } from '@ecoute/contract/classes';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import type { SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('the people of a class', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const signInName = (v: Visitor, role = 'student') => `${role}-${v.id}`;
  const detail = async (who = teacher) => (await who.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body;
  const member = async (id: string): Promise<Member> => (await detail()).members.find(m => m.id === id)!;
  const todo = async (who: Visitor) =>
    (await who.ask<TodoEntry[]>('GET', '/api/todo')).body.map(e => e.releaseId);
  const add = (name: string, role: string, more: object = {}) =>
    teacher.ask<ClassDetail>('POST', `/api/classes/${classId}/members`, { signInName: name, role, ...more });

  it('may be in several classes; newcomers get what is still before them, leavers keep what they sat', async () => {
    const student = await t.person('student', [await t.class()]);
    const open = await t.release(teacher, classId);
    const over = await t.release(teacher, classId);
    await t.ecoute.pool.query(
      'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 1 HOUR WHERE id = ?',
      [over.id],
    );
    expect(await todo(student)).toEqual([]);
    const asked = await add(signInName(student), 'student');
    // Whoever is with other teachers is asked first.
    expect([asked.status, asked.body.asked.map(a => a.signInName)]).toEqual([200, [signInName(student)]]);
    expect([await todo(student), asked.body.members.some(m => m.id === student.id)]).toEqual([[], false]);
    await student.acceptAll();
    expect(await todo(student)).toEqual([open.id]);
    expect((await add(signInName(student), 'student')).body).toMatchObject({
      fields: { signInName: expect.stringContaining('in this class already') },
    });
    expect((await add(signInName(student), 'teacher')).status).toBe(422);
    expect((await add('nobody-at-all', 'student')).status).toBe(422);

    const second = await t.release(teacher, classId);
    const { body: sitting } = await student.ask<{ id: string }>('POST', `/api/releases/${open.id}/sitting`);
    await recordTake(student, sitting.id, open.itemId, tone(1));
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${student.id}`);
    // What was begun stays, for the student and for the class's teachers.
    expect(await todo(student)).toEqual([open.id]);
    const seen = (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${open.id}`)).body.students;
    expect(seen.some(s => s.id === student.id && s.sittingId === sitting.id)).toBe(true);
    const left = (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${second.id}`)).body.students;
    expect(left.some(s => s.id === student.id)).toBe(false);
  });

  it('include a second teacher, who hears, and a coordinator, who plans and hears nobody', async () => {
    const [second, coordinator] = [await t.person('teacher'), await t.person('teacher')];
    await add(signInName(second, 'teacher'), 'teacher');
    await add(signInName(coordinator, 'teacher'), 'coordinator');
    for (const colleague of [second, coordinator]) await colleague.acceptAll();
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { body: sitting } = await student.ask<{ id: string }>(
      'POST',
      `/api/releases/${release.id}/sitting`,
    );
    const take = await recordTake(student, sitting.id, release.itemId, tone(1));
    const hears = async (who: Visitor) => [
      (await who.ask('GET', `/api/releases/${release.id}/lanes`)).status,
      (await who.ask('GET', `/api/recordings/${take.recordingId}/sound`)).status,
    ];
    expect(await hears(second)).toEqual([200, 200]);
    expect(await hears(coordinator)).toEqual([404, 404]);
    expect((await coordinator.ask('GET', `/api/releases/${release.id}`)).status).toBe(200);
    // A class is never left without a teacher.
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${second.id}`);
    expect(await teacher.ask('DELETE', `/api/classes/${classId}/members/${teacher.id}`)).toMatchObject({
      status: 409,
      body: { message: expect.stringContaining('needs a teacher') },
    });
  });

  it('form groups; a release to one reaches those in it, also those who come later', async () => {
    const [a, b, c] = [
      await t.person('student', [classId]),
      await t.person('student', [classId]),
      await t.person('student', [classId]),
    ];
    const made = await teacher.ask<ClassDetail>('POST', `/api/classes/${classId}/groups`, {
      name: 'Tenors',
      memberIds: [a.id, b.id],
    });
    const groupId = made.body.groups[0]!.id;
    expect((await member(a.id)).groupIds).toEqual([groupId]);
    const twice = await teacher.ask('POST', `/api/classes/${classId}/groups`, {
      name: 'Tenors',
      memberIds: [],
    });
    expect(twice).toMatchObject({
      status: 422,
      body: { fields: { name: expect.stringContaining('already') } },
    });
    const first = await t.release(teacher, classId);
    const { body: release } = await teacher.ask<ReleaseDetail>('POST', '/api/releases', {
      assessmentId: first.assessmentId,
      classId,
      audience: 'group',
      groupId,
      dueAt: new Date(Date.now() + 3_600_000).toISOString(),
      lateAccepted: true,
      note: '',
    });
    expect(release.groupName).toBe('Tenors');
    expect([await todo(a), await todo(c)].map(ids => ids.includes(release.id))).toEqual([true, false]);
    await teacher.ask('PUT', `/api/classes/${classId}/groups/${groupId}`, {
      name: 'Tenors',
      memberIds: [b.id, c.id],
    });
    expect([await todo(a), await todo(b), await todo(c)].map(ids => ids.includes(release.id))).toEqual([
      false,
      true,
      true,
    ]);
    expect((await teacher.ask('DELETE', `/api/classes/${classId}/groups/${groupId}`)).status).toBe(409);
  });

  it('have arrangements, which hold for the sittings begun from then on', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(
      teacher,
      classId,
      { hearingsAllowed: 2, answerLimitMs: 10_000 },
      undefined,
      {
        sittingLimitMs: 60_000,
        otherDirections: [
          { language: 'pl', text: 'Odpowiedz.' },
          { language: 'uk', text: 'Відповідай.' },
        ],
      },
    );
    const arrange = (over: object) =>
      teacher.ask('PUT', `/api/classes/${classId}/members/${student.id}/arrangement`, {
        extraTime: 1.5,
        extraHearings: 1,
        readAloud: true,
        breakMs: 300_000,
        directionsLanguage: null,
        ...over,
      });
    expect((await arrange({ extraTime: 0.5 })).status).toBe(422);
    expect((await arrange({ directionsLanguage: 'not a language' })).status).toBe(422);
    expect((await arrange({ directionsLanguage: 'pl' })).status).toBe(200);
    const sitting = (await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`)).body;
    expect(sitting.content.items[0]).toMatchObject({ answerLimitMs: 15_000, hearingsAllowed: 3 });
    expect(sitting.content.sittingLimitMs).toBe(90_000);
    expect(sitting.content.otherDirections.map(d => d.text)).toEqual(['Odpowiedz.']);
    await arrange({ extraTime: 2 });
    const again = (await student.ask<SittingView>('GET', `/api/sittings/${sitting.id}`)).body;
    expect(again.content.items[0]!.answerLimitMs).toBe(15_000);

    // A break puts the end off by as long as it lasts, and no longer than was granted.
    const say = (kind: string, atMs: number) =>
      student.ask('POST', `/api/sittings/${sitting.id}/events`, {
        events: [{ id: crypto.randomUUID(), itemId: null, kind, at: new Date(atMs).toISOString() }],
      });
    const began = Date.now();
    await say('itemsOpened', began);
    await say('breakBegan', began + 1_000);
    await say('breakEnded', began + 41_000);
    const up = async () =>
      Date.parse((await student.ask<SittingView>('GET', `/api/sittings/${sitting.id}`)).body.timeUpAt!) -
      Date.parse((await student.ask<SittingView>('GET', `/api/sittings/${sitting.id}`)).body.clockBeganAt!);
    expect(await up()).toBe(90_000 + 40_000);
    await say('breakBegan', began + 50_000);
    // An hour from now is no time that can be true: it ends when the server hears of it.
    await say('breakEnded', began + 4_000_000);
    expect(await up()).toBeLessThan(90_000 + 45_000);
    await t.ecoute.pool.query(
      "UPDATE sitting_events SET at = at - INTERVAL 1 HOUR WHERE sitting_id = ? AND kind = 'breakBegan' ORDER BY at DESC LIMIT 1",
      [sitting.id],
    );
    expect(await up()).toBe(90_000 + 300_000);
  });

  it('begin with a one-time code and a password of their own', async () => {
    const made = await teacher.ask<ClassDetail>('POST', `/api/classes/${classId}/students`, {
      displayName: 'Zoë Pires-Lund',
    });
    const zoe = made.body.members.find(m => m.displayName === 'Zoë Pires-Lund')!;
    expect(zoe).toMatchObject({ signInName: 'zoe.pires.lund', hasSignIn: false, codeUntil: null });
    // Nobody signs in to an account without a password.
    expect(
      (
        await t
          .visitor()
          .ask('POST', '/api/session', { signInName: zoe.signInName, password: 'anything-at-all' })
      ).status,
    ).toBe(401);
    const codes = await teacher.ask<FirstCode[]>('POST', `/api/classes/${classId}/codes`, {
      personIds: [zoe.id],
    });
    const code = codes.body[0]!.code!;
    expect(code).toMatch(/^[2-9A-Z]{4}-[2-9A-Z]{4}-[2-9A-Z]{4}$/);
    const typed = code.toLowerCase().replaceAll('-', ' ');
    const look = await t.visitor().ask('POST', '/api/first-sign-in/code', { code: typed });
    expect(look.body).toEqual({ displayName: 'Zoë Pires-Lund', signInName: 'zoe.pires.lund' });
    const first = t.visitor();
    expect((await first.ask('POST', '/api/first-sign-in', { code: typed, password: 'short' })).status).toBe(
      422,
    );
    expect(
      (await first.ask('POST', '/api/first-sign-in', { code: typed, password: 'my-own-password' })).status,
    ).toBe(200);
    expect((await first.ask('GET', '/api/todo')).status).toBe(200);
    // Used, replaced, expired or invented: the same words.
    const used = await t.visitor().ask('POST', '/api/first-sign-in', { code, password: 'another-password' });
    const invented = await t.visitor().ask('POST', '/api/first-sign-in/code', { code: '2222-3333-4444' });
    expect([used.status, used.body]).toEqual([invented.status, invented.body]);
    const next = await teacher.ask<FirstCode[]>('POST', `/api/classes/${classId}/codes`, {
      personIds: [zoe.id],
    });
    await t.ecoute.pool.query('UPDATE first_codes SET expires_at = UTC_TIMESTAMP(3) WHERE person_id = ?', [
      zoe.id,
    ]);
    const expired = await t.visitor().ask('POST', '/api/first-sign-in/code', { code: next.body[0]!.code });
    expect(expired.body).toEqual(invented.body);
    const [rows] = await t.ecoute.pool.query('SELECT * FROM first_codes');
    expect(JSON.stringify(rows)).not.toContain(next.body[0]!.code!.replaceAll('-', ''));
  });

  it('keep to themselves what they recorded for other teachers: a code goes to their own address only', async () => {
    const other = await t.class();
    await t.person('teacher', [other]);
    const student = await t.person('student', [other]);
    await add(signInName(student), 'student');
    await student.acceptAll();
    const code = (byMail = false) =>
      teacher.ask('POST', `/api/classes/${classId}/codes`, { personIds: [student.id], byMail });
    expect(await code()).toMatchObject({
      status: 409,
      body: { message: expect.stringContaining('classes of other teachers') },
    });
    const mine = await t.person('student', [classId]);
    expect(
      (await teacher.ask('POST', `/api/classes/${classId}/codes`, { personIds: [mine.id] })).status,
    ).toBe(200);
  });

  it('are not made to be heard by a coordinator', async () => {
    const coordinator = await t.coordinator(classId);
    const student = await t.person('student', [classId]);
    const tries = [
      ['POST', 'members', { signInName: signInName(coordinator, 'teacher'), role: 'teacher' }],
      ['POST', 'codes', { personIds: [student.id] }],
      ['DELETE', `members/${teacher.id}`, undefined],
    ] as const;
    for (const [method, path, body] of tries)
      expect((await coordinator.ask(method, `/api/classes/${classId}/${path}`, body)).status).toBe(404);
  });

  it('get a colleague a sign-in, but never another one’s password', async () => {
    const made = await add('new.colleague', 'teacher', { displayName: 'Nour Aziz' });
    const nour = made.body.members.find(m => m.signInName === 'new.colleague')!;
    const codes = (ids: string[]) =>
      teacher.ask<FirstCode[]>('POST', `/api/classes/${classId}/codes`, { personIds: ids });
    const [code] = (await codes([nour.id])).body;
    const first = t.visitor();
    await first.ask('POST', '/api/first-sign-in', { code: code!.code, password: 'my-own-password' });
    expect((await first.ask('GET', '/api/classes')).status).toBe(200);
    expect((await codes([nour.id])).status).toBe(404);
    expect((await codes([teacher.id])).status).toBe(404);
  });

  describe('are put right', () => {
    const correct = (who: Visitor, id: string, body: object) =>
      who.ask<ClassDetail>('PUT', `/api/classes/${classId}/members/${id}`, body);

    it('by a teacher of theirs; an address only where that teacher may hand out codes', async () => {
      const student = await t.person('student', [classId]);
      const right = await correct(teacher, student.id, {
        displayName: '  Ana Lúcia ',
        email: 'ana@x.example',
      });
      expect(right.body.members.find(m => m.id === student.id)).toMatchObject({
        displayName: 'Ana Lúcia',
        email: 'ana@x.example',
      });
      // Left out, the address stays; empty, there is none.
      await correct(teacher, student.id, { displayName: 'Ana' });
      expect((await member(student.id)).email).toBe('ana@x.example');
      expect((await correct(teacher, student.id, { displayName: ' ' })).status).toBe(422);
      // In somebody else's class as well, the address is where that teacher's recordings could be got at.
      const elsewhere = await t.class();
      const colleague = await t.person('teacher', [elsewhere]);
      await t.ecoute.pool.query(
        "INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, 'student')",
        [elsewhere, student.id],
      );
      const taken = await correct(teacher, student.id, { displayName: 'Ana', email: 'mine@x.example' });
      expect([taken.status, (await member(student.id)).email]).toEqual([403, 'ana@x.example']);
      expect((await correct(teacher, student.id, { displayName: 'Anna' })).status).toBe(200);
      // Who does not teach the class, a coordinator, the student, and a teacher as the one corrected: none.
      expect((await correct(colleague, student.id, { displayName: 'X' })).status).toBe(404);
      expect([404, 403]).toContain((await correct(student, student.id, { displayName: 'X' })).status);
      expect((await correct(teacher, teacher.id, { displayName: 'X' })).status).toBe(404);
    });

    it('by moving them to another class of the same teacher, with what is open there', async () => {
      const [there, foreign] = [await t.class(), await t.class()];
      await t.ecoute.pool.query(
        "INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, 'teacher')",
        [there, teacher.id],
      );
      const student = await t.person('student', [classId]);
      const begun = await t.release(teacher, classId);
      const waiting = await t.release(teacher, classId);
      const open = await t.release(teacher, there);
      const { body: sitting } = await student.ask<{ id: string }>(
        'POST',
        `/api/releases/${begun.id}/sitting`,
      );
      await recordTake(student, sitting.id, begun.itemId, tone(1));
      const move = (to: string, who = teacher, from = classId) =>
        who.ask('POST', `/api/classes/${from}/members/${student.id}/move`, { toClassId: to });
      expect((await move(foreign)).status).toBe(404);
      expect((await move(classId)).status).toBe(422);
      expect((await move(there)).status).toBe(200);
      expect((await todo(student)).sort()).toEqual([begun.id, open.id].sort());
      expect(await todo(student)).not.toContain(waiting.id);
      // What they recorded is heard where it was recorded; moved twice, nothing happens.
      const seen = (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${begun.id}`)).body.students;
      expect(seen.some(s => s.id === student.id && s.sittingId === sitting.id)).toBe(true);
      expect((await move(there)).status).toBe(404);
      // And back, as Undo does.
      expect((await move(classId, teacher, there)).status).toBe(200);
      const again = await todo(student);
      expect(again).toEqual(expect.arrayContaining([begun.id, waiting.id]));
      expect(again).not.toContain(open.id);
    });
  });

  it('go on in a class that is put away, which is in no list but that of what is put away', async () => {
    const own = await t.class();
    const keeper = await t.person('teacher', [own]);
    const student = await t.person('student', [own]);
    const open = await t.release(keeper, own);
    expect((await keeper.ask('PUT', `/api/classes/${own}/away`, { away: true })).body).toMatchObject({
      putAwayAt: expect.any(String),
    });
    const listed = async (path: string) =>
      (await keeper.ask<{ id: string }[]>('GET', path)).body.map(c => c.id);
    expect(await listed('/api/classes')).not.toContain(own);
    expect(await listed('/api/put-away-classes')).toEqual([own]);
    expect(await todo(student)).toEqual([open.id]);
    expect((await student.ask('PUT', `/api/classes/${own}/away`, { away: false })).status).not.toBe(200);
    await keeper.ask('PUT', `/api/classes/${own}/away`, { away: false });
    expect(await listed('/api/classes')).toContain(own);
  });
});
