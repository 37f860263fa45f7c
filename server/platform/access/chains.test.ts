import { randomUUID } from 'node:crypto';
import type { ClassDetail, FirstCode, ImportView } from '@ecoute/contract/classes';
import { oneRosterOf } from '@ecoute/core/formats/oneRoster';
import { handInOne, TestEcoute, type Visitor } from '../../testing/ecoute';
import { zip } from '../../testing/files';

/** Steps that are each allowed, one after another: at the end nobody hears, sees or becomes what they may not. */
describe('chains of allowed requests', () => {
  let t: TestEcoute;
  let ines: Visitor;
  let otto: Visitor;
  let halvard: Visitor;
  let student: Visitor;
  let classId: string;
  let ottos: string;
  let release: Awaited<ReturnType<TestEcoute['release']>>;
  let takeId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    ottos = await t.class();
    ines = await t.person('teacher', [classId]);
    otto = await t.person('teacher', [ottos]);
    halvard = await t.coordinator(classId);
    student = await t.person('student', [classId]);
    release = await t.release(ines, classId);
    takeId = (await handInOne(student, release)).takeId;
  });
  afterAll(() => t.close());

  const nameOf = (who: Visitor, role = 'teacher') => `${role}-${who.id}`;
  const hears = async (who: Visitor, id = takeId) =>
    (await who.ask('GET', `/api/recordings/${id}/sound`)).status;
  const members = (of: string, by: Visitor, signInName: string, role: string, more = {}) =>
    by.ask<ClassDetail>('POST', `/api/classes/${of}/members`, { signInName, role, ...more });
  const codes = (of: string, by: Visitor, personIds: string[]) =>
    by.ask<FirstCode[]>('POST', `/api/classes/${of}/codes`, { personIds });
  const bring = (by: Visitor, of: string | null, bytes: Uint8Array) =>
    by.ask<ImportView>('POST', of ? `/api/classes/${of}/imports` : '/api/imports', bytes, {
      'Content-Type': 'application/octet-stream',
    });
  const confirm = async (by: Visitor, id: string) => {
    const { status } = await by.ask('POST', `/api/imports/${id}/confirm`);
    for (;;) {
      const { body } = await by.ask<ImportView>('GET', `/api/imports/${id}`);
      if (status !== 200 || !['waiting', 'running'].includes(body.state))
        return { status, state: body.state };
      await new Promise(resolve => setTimeout(resolve, 20));
    }
  };

  it('nobody takes over a colleague, or a student of others, who has not signed in yet', async () => {
    const made = await members(classId, ines, 'vera.new', 'teacher', { displayName: 'Vera New' });
    const vera = made.body.members.find(m => m.signInName === 'vera.new')!;
    const kid = (
      await ines.ask<ClassDetail>('POST', `/api/classes/${classId}/students`, { displayName: 'Kid New' })
    ).body.members.find(m => m.displayName === 'Kid New')!;
    for (const [name, role, id] of [
      ['vera.new', 'teacher', vera.id],
      [kid.signInName, 'student', kid.id],
    ] as const) {
      const asked = await members(ottos, otto, name, role);
      // Asked, not added; nothing but the name that was typed is known of them.
      expect([asked.status, asked.body.members.some(m => m.id === id)]).toEqual([200, false]);
      expect((await codes(ottos, otto, [id])).status).toBe(404);
    }
    // Also once they are in both classes: a code opens what they have with others.
    const vary = t.visitor();
    const [code] = (await codes(classId, ines, [vera.id])).body;
    await vary.ask('POST', '/api/first-sign-in', { code: code!.code, password: 'my-own-password' });
    await vary.acceptAll();
    expect((await codes(ottos, otto, [vera.id])).status).toBe(404);
    // A coordinator's department is no way round: a colleague joins it by saying yes.
    const [department] = (await otto.ask<{ id: string }[]>('POST', '/api/departments', { name: 'D' })).body;
    await otto.ask('POST', `/api/departments/${department!.id}/members`, { signInName: nameOf(ines) });
    expect(
      (await members(ottos, otto, nameOf(ines), 'teacher')).body.members.some(m => m.id === ines.id),
    ).toBe(false);
  });

  it('a colleague who teaches the same class does not get the code of an account in use that somebody else made', async () => {
    const second = await t.person('teacher', [classId]);
    const own = await t.person('student', [classId]);
    await t.ecoute.pool.query('UPDATE people SET made_by = ? WHERE id = ?', [ines.id, own.id]);
    expect((await codes(classId, second, [own.id])).status).toBe(409);
    expect((await codes(classId, ines, [own.id])).status).toBe(200);
    // Whoever made it has left: then those who teach them do.
    const gone = await t.person('teacher');
    await t.ecoute.pool.query('UPDATE people SET made_by = ? WHERE id = ?', [gone.id, own.id]);
    expect((await codes(classId, second, [own.id])).status).toBe(409);
    await t.ecoute.pool.query('UPDATE people SET closed_at = UTC_TIMESTAMP(3) WHERE id = ?', [gone.id]);
    expect((await codes(classId, second, [own.id])).status).toBe(200);
  });

  it('a coordinator makes no teacher by a list, and sets nobody’s password', async () => {
    const files = oneRosterOf(
      [
        {
          id: classId,
          name: 'Any',
          people: [
            {
              id: 'evil',
              givenName: 'Eve',
              familyName: 'Evil',
              signInName: 'eve.evil',
              email: null,
              role: 'teacher',
            },
          ],
        },
      ],
      { version: '1.2', school: 'S', today: '2026-11-25' },
    );
    const { body } = await bring(halvard, classId, await zip(files));
    expect(body.rows.map(r => r.fate)).toEqual(['leftOut']);
    await confirm(halvard, body.id);
    const seen = (await ines.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body;
    expect(seen.members.some(m => m.displayName.includes('Evil'))).toBe(false);
    const password = await halvard.ask('POST', `/api/classes/${classId}/students`, {
      displayName: 'Puppet',
      password: 'known-to-halvard',
    });
    expect([password.status, password.body.code]).toEqual([403, 'notAllowed']);
    expect((await codes(classId, halvard, [student.id])).status).toBe(404);
  });

  it('a list that was planned before brings nobody back into a class', async () => {
    const third = await t.person('teacher', [classId]);
    await ines.ask('DELETE', `/api/classes/${classId}/members/${otto.id}`);
    const asked = await members(classId, third, nameOf(otto), 'coordinator');
    expect(asked.status).toBe(200);
    await otto.acceptAll();
    const { body } = await bring(otto, classId, Buffer.from('Name\nSomebody New\n'));
    await ines.ask('DELETE', `/api/classes/${classId}/members/${otto.id}`);
    expect((await confirm(otto, body.id)).status).toBe(404);
    expect((await otto.ask('GET', `/api/classes/${classId}`)).status).toBe(404);
    // And one that was confirmed before, and runs after, is asked again when it takes effect.
    await members(classId, third, nameOf(otto), 'coordinator');
    await otto.acceptAll();
    const late = (await bring(otto, classId, Buffer.from('Name\nSomebody Late\n'))).body;
    await t.ecoute.jobs.stop();
    await otto.ask('POST', `/api/imports/${late.id}/confirm`);
    await ines.ask('DELETE', `/api/classes/${classId}/members/${otto.id}`);
    t.ecoute.jobs.start();
    for (let state = ''; state !== 'failed';)
      state = (await otto.ask<ImportView>('GET', `/api/imports/${late.id}`)).body.state;
    const [rows] = await t.ecoute.pool.query("SELECT 1 FROM people WHERE display_name = 'Somebody Late'");
    expect(rows).toEqual([]);
  });

  it('a coordinator hears no guest by saying that a guest is somebody else, and nobody as a guest of their own', async () => {
    const open = await t.release(ines, classId);
    await ines.ask('PUT', `/api/releases/${open.id}`, {
      dueAt: new Date(Date.now() + 3_600_000).toISOString(),
      lateAccepted: true,
      note: '',
      heardBy: 'class',
    });
    const { takeId: classmate } = await handInOne(student, open);
    const link = (
      await halvard.ask<{ code: string }[]>('POST', `/api/releases/${open.id}/links`, { keepDays: 30 })
    ).body[0]!;
    const enter = async (name: string) => {
      const who = t.visitor();
      const { status } = await who.ask('POST', `/api/links/${link.code}/guests`, { name });
      expect(status).toBe(200);
      return who;
    };
    const [victim, puppet] = [await enter('Victim'), await enter('Puppet')];
    const { takeId: theirs } = await handInOne(victim, open);
    const guests = (
      await halvard.ask<{ id: string; displayName: string }[]>('GET', `/api/releases/${open.id}/guests`)
    ).body;
    const id = (name: string) => guests.find(g => g.displayName === name)!.id;
    const merge = (by: Visitor) =>
      by.ask('POST', `/api/releases/${open.id}/guests/${id('Victim')}/merge`, { into: id('Puppet') });
    expect((await merge(halvard)).status).toBe(404);
    expect(await hears(puppet, theirs)).toBe(404);
    // Where classmates hear each other, a guest hears none of them.
    await handInOne(puppet, open);
    await puppet.ask('POST', `/api/releases/${open.id}/others`);
    expect([await hears(puppet, classmate), await hears(puppet, theirs)]).toEqual([404, 404]);
    expect((await merge(ines)).status).toBe(200);
  });

  it('nobody puts a student of others into a class, or changes what they need, without their word', async () => {
    const arrange = (by: Visitor, of: string) =>
      by.ask('PUT', `/api/classes/${of}/members/${student.id}/arrangement`, {
        extraTime: 4,
        extraHearings: 0,
        readAloud: false,
        breakMs: 0,
        directionsLanguage: null,
      });
    await members(ottos, otto, nameOf(student, 'student'), 'student');
    expect((await arrange(otto, ottos)).status).toBe(404);
    const { body } = await bring(
      otto,
      ottos,
      Buffer.from(`Name,Sign-in name,Extra time\nX,${nameOf(student, 'student')},2`),
    );
    expect(body.rows.map(r => r.fate)).toEqual(['asked']);
    await confirm(otto, body.id);
    const own = (await ines.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body;
    expect(own.members.find(m => m.id === student.id)!.arrangement.extraTime).toBe(1);
    // A coordinator plans for them, and learns nothing of what they need or how they are written to.
    await t.ecoute.pool.query("UPDATE people SET email = 'home@b.example' WHERE id = ?", [student.id]);
    expect((await arrange(ines, classId)).status).toBe(200);
    expect((await arrange(halvard, classId)).status).toBe(404);
    const seen = (await halvard.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body;
    expect(seen.members.find(m => m.id === student.id)).toMatchObject({
      email: null,
      codeUntil: null,
      arrangement: { extraTime: 1 },
    });
    const list = (await halvard.ask<string>('GET', `/api/classes/${classId}/list`)).body;
    expect([list.includes('home@b.example'), list.includes(',4')]).toEqual([false, false]);
    expect((await ines.ask<string>('GET', `/api/classes/${classId}/list`)).body).toContain('home@b.example');
  });

  it('what is asked of somebody is asked again when they say yes', async () => {
    const fourth = await t.person('teacher', [classId]);
    const guest = await t.person('student');
    await members(classId, fourth, nameOf(guest, 'student'), 'student');
    await ines.ask('DELETE', `/api/classes/${classId}/members/${fourth.id}`);
    const [invitation] = (await guest.ask<{ id: string }[]>('GET', '/api/invitations')).body;
    expect((await student.ask('POST', `/api/invitations/${invitation!.id}`)).status).toBe(404);
    expect((await guest.ask('POST', `/api/invitations/${invitation!.id}`)).status).toBe(409);
    expect(
      (await ines.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body.members.some(
        m => m.id === guest.id,
      ),
    ).toBe(false);
  });

  it('ids in bodies are asked about like ids in addresses', async () => {
    const foreign = await t.release(otto, ottos);
    const group = { name: 'G', memberIds: [student.id] };
    // Somebody of another class never comes into a group.
    const grouped = (await otto.ask<ClassDetail>('POST', `/api/classes/${ottos}/groups`, group)).body;
    expect(grouped.members.flatMap(m => m.groupIds)).toEqual([]);
    const tries: [Visitor, string, string, object][] = [
      [otto, 'POST', '/api/releases', { assessmentId: release.assessmentId, classId: ottos }],
      [otto, 'POST', '/api/releases', { assessmentId: foreign.assessmentId, classId }],
      [otto, 'POST', '/api/releases/move', { releaseIds: [foreign.id, release.id], days: 1 }],
    ];
    for (const [who, method, path, body] of tries) {
      const { status } = await who.ask(method, path, {
        dueAt: new Date(Date.now() + 3_600_000).toISOString(),
        lateAccepted: true,
        note: '',
        ...body,
      });
      expect([path, status]).toEqual([path, 404]);
    }
    // An own take's id in another sitting, and somebody else's id for a new one, are none.
    const other = await t.release(ines, classId);
    const { body: sitting } = await student.ask<{ id: string }>('POST', `/api/releases/${other.id}/sitting`);
    for (const recordingId of [takeId, takeId.toUpperCase()]) {
      const { status } = await student.ask('POST', `/api/sittings/${sitting.id}/takes`, {
        recordingId,
        itemId: other.itemId,
        mediaType: 'audio/wav',
        beganAt: new Date().toISOString(),
      });
      expect(status).toBe(404);
    }
    const upper = await student.ask<{ id: string }>('POST', `/api/sittings/${sitting.id}/takes`, {
      recordingId: randomUUID().toUpperCase(),
      itemId: other.itemId.toUpperCase(),
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    });
    expect([upper.status, /[A-F]/.test(upper.body.id)]).toEqual([200, false]);
    expect((await student.ask('GET', `/api/sittings/${sitting.id.toUpperCase()}`)).status).toBe(404);
  });
});
