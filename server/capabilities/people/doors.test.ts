import type { FirstCode, ClassDetail } from '@ecoute/contract/classes';
import type {
  AccountList,
  Administration,
  GivenUpJobView,
  SafetyEntry,
} from '@ecoute/contract/administration';
import type { OwnAccount } from '@ecoute/contract/people';
import { handInOne, PASSWORD, TestEcoute, type Visitor } from '../../testing/ecoute';

/** Doors: a class behind one address comes in, a guesser does not, and a password ends what another one opened. */
describe('doors', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open({ relaxedLimits: false, withMailbox: true });
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const many = <T>(n: number, work: (n: number) => Promise<T>) =>
    Promise.all(Array.from({ length: n }, (_, i) => work(i)));
  const signIn = (signInName: string, password = PASSWORD, who = t.visitor()) =>
    who.ask<{ code: string }>('POST', '/api/session', { signInName, password });
  const counts = (statuses: number[]) => {
    const found: Record<number, number> = {};
    for (const s of statuses) found[s] = (found[s] ?? 0) + 1;
    return found;
  };

  it('let in a class of forty from one address in one second, and one in which everybody mistypes once', async () => {
    const people = await many(40, () => t.person('student', [classId]));
    expect(counts((await many(40, n => signIn(`student-${people[n]!.id}`))).map(a => a.status))).toEqual({
      200: 40,
    });
    const fresh = await many(30, n =>
      teacher.ask<ClassDetail>('POST', `/api/classes/${classId}/students`, {
        displayName: `Fresh ${n}`,
        signInName: `fresh${n}`,
      }),
    );
    expect(counts(fresh.map(f => f.status))).toEqual({ 200: 30 });
    const { members } = (await teacher.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body;
    const personIds = members.filter(m => m.signInName.startsWith('fresh')).map(m => m.id);
    const codes = (await teacher.ask<FirstCode[]>('POST', `/api/classes/${classId}/codes`, { personIds }))
      .body;
    const use = (code: string, password = 'my-own-password') =>
      t.visitor().ask('POST', '/api/first-sign-in', { code, password });
    const wrong = await many(30, n => use(codes[n]!.code!.replace(/^./, c => (c === '2' ? '3' : '2'))));
    expect(counts(wrong.map(a => a.status))).toEqual({ 422: 30 });
    // Too short a password is no wrong code.
    await many(30, n => use(codes[n]!.code!, 'short'));
    expect(counts((await many(30, n => use(codes[n]!.code!))).map(a => a.status))).toEqual({ 200: 30 });
  });

  it('let in forty guests of one link at once, also after somebody tried links that lead nowhere', async () => {
    const release = await t.release(teacher, classId);
    const [link] = (
      await teacher.ask<{ code: string }[]>('POST', `/api/releases/${release.id}/links`, {
        keepDays: 30,
        classCode: 'tide',
      })
    ).body;
    await many(30, n => t.visitor().ask('GET', `/api/links/2222-2222-${1000 + n}`));
    const enter = (classCode: string, n: number) =>
      t.visitor().ask('POST', `/api/links/${link!.code}/guests`, { name: `Guest ${n}`, classCode });
    expect(counts((await many(40, n => enter('tied', n))).map(a => a.status))).toEqual({ 422: 40 });
    expect(counts((await many(40, n => enter('Tide', n))).map(a => a.status))).toEqual({ 200: 40 });
    // A word is found out by trying; not from here.
    const guesses = await many(120, n => enter(`word${n}`, n));
    expect(guesses.filter(a => a.status === 429).length).toBeGreaterThan(50);
    expect((await t.visitor().ask('GET', `/api/links/${link!.code}`)).status).toBe(200);
  });

  it('count tries of one account however its name is spelt, and the right password does not pass among them', async () => {
    const victim = await t.person('student', [classId]);
    const name = `student-${victim.id}`;
    const spellings = [name, ` ${name}`, `${name} `, `\u00a0${name}`, name.toUpperCase(), `\u2003${name}`];
    const statuses: number[] = [];
    for (let n = 0; n < 30; n++)
      statuses.push((await signIn(spellings[n % spellings.length]!, `wrong ${n}`)).status);
    expect(statuses.filter(s => s === 401).length).toBeLessThanOrEqual(10);
    expect((await signIn(name)).status).toBe(429);
    // Many at once are no way around it.
    const second = await t.person('student', [classId]);
    await signIn(`student-${second.id}`, PASSWORD, second);
    const at = await many(60, n => signIn(`student-${second.id}`, `guess ${n}`));
    expect(at.filter(a => a.status === 401).length).toBeLessThanOrEqual(10);
    // The browser in which they have signed in before still lets them in: nobody shuts them out by guessing.
    expect((await signIn(`student-${second.id}`, PASSWORD, second)).status).toBe(200);
    // Others at the same address notice nothing.
    const other = await t.person('student', [classId]);
    expect((await signIn(`student-${other.id}`)).status).toBe(200);
  });

  it('a new password ends every other session, and the pages that are open in it', async () => {
    const person = await t.person('student', [classId]);
    const name = `student-${person.id}`;
    const [here, there] = [t.visitor(), t.visitor()];
    await signIn(name, PASSWORD, here);
    await signIn(name, PASSWORD, there);
    let open = true;
    const response = await fetch(`${t.base}/api/changes`, { headers: there.cookies() });
    void response.body!.pipeTo(new WritableStream()).then(
      () => (open = false),
      () => (open = false),
    );
    const { sessions } = (await here.ask<OwnAccount>('GET', '/api/me')).body;
    expect([sessions.length, sessions.filter(s => s.isThis).length]).toEqual([3, 1]);
    const change = (current: string, password: string) =>
      here.ask('POST', '/api/me/password', { current, password });
    expect((await change('not-this-one', 'a-new-long-one')).status).toBe(401);
    for (const common of ['1234567890', 'aaaaaaaaaa', '          ', 'password12', name])
      expect([common, (await change(PASSWORD, common)).status]).toEqual([common, 422]);
    expect((await change(PASSWORD, 'lantern-over-water')).status).toBe(200);
    expect([
      (await here.ask('GET', '/api/todo')).status,
      (await there.ask('GET', '/api/todo')).status,
    ]).toEqual([200, 401]);
    while (open) await new Promise(resolve => setTimeout(resolve, 50));
    expect((await signIn(name)).status).toBe(401);
    // One session is ended by itself; somebody else's is not there.
    const third = t.visitor();
    await signIn(name, 'lantern-over-water', third);
    const other = (await here.ask<OwnAccount>('GET', '/api/me')).body.sessions.find(s => !s.isThis)!;
    expect((await teacher.ask('DELETE', `/api/me/sessions/${other.id}`)).status).toBe(404);
    await here.ask('DELETE', `/api/me/sessions/${other.id}`);
    expect((await third.ask('GET', '/api/todo')).status).toBe(401);
  });

  it('a forgotten password is replaced by one’s own mail, and says nothing of who is here', async () => {
    const person = await t.person('student', [classId]);
    await t.ecoute.pool.query("UPDATE people SET email = 'own@b.example' WHERE id = ?", [person.id]);
    const forgotten = (signInName: string) =>
      t.visitor().ask('POST', '/api/forgotten-password', { signInName });
    const [known, unknown] = [await forgotten(`student-${person.id}`), await forgotten('nobody-here')];
    expect([known.status, known.body]).toEqual([unknown.status, unknown.body]);
    let mails = '';
    while (!mails.includes('type this code'))
      mails = JSON.stringify((await teacher.ask('GET', '/api/mailbox')).body);
    const code = /code: ([2-9A-Z-]{14})/.exec(mails)![1]!;
    const answer = await t
      .visitor()
      .ask('POST', '/api/first-sign-in', { code, password: 'lantern-over-water' });
    expect(answer.status).toBe(200);
    expect((await person.ask('GET', '/api/todo')).status).toBe(401);
    // Whoever owns the address hears of it, also when somebody else had the code.
    while (!mails.includes('Your password for Ecoute is a new one'))
      mails = JSON.stringify((await teacher.ask('GET', '/api/mailbox')).body);
    for (let n = 0; n < 8; n++) await forgotten(`student-${person.id}`);
    expect((await forgotten(`student-${person.id}`)).status).toBe(429);
  });

  it('an administrator looks after people and what failed, and hears nobody', async () => {
    const admin = await t.person('teacher');
    expect((await admin.ask('GET', '/api/administration')).status).toBe(404);
    await t.ecoute.pool.query('UPDATE people SET is_admin = TRUE WHERE id = ?', [admin.id]);
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { takeId, id } = await handInOne(student, release);
    for (const path of [
      `/api/recordings/${takeId}/sound`,
      `/api/releases/${release.id}/lanes`,
      `/api/sittings/${id}/account`,
    ])
      expect([path, (await admin.ask('GET', path)).status]).toEqual([path, 404]);
    // Nor by becoming somebody who does: a code of an account in use goes to its own address.
    const code = (personId: string, byMail: boolean) =>
      admin.ask<FirstCode & { code: string | null }>('POST', `/api/administration/people/${personId}/code`, {
        byMail,
      });
    for (const who of [teacher, student]) expect((await code(who.id, false)).status).toBe(409);
    // Nor before they have signed in: a colleague made the account and put it into a class that hears students.
    await teacher.ask('POST', `/api/classes/${classId}/members`, {
      signInName: 'vesna',
      displayName: 'Vesna Horvat',
      role: 'teacher',
    });
    const people = await admin.ask<AccountList>('GET', '/api/administration/people?find=vesna');
    const [vesna] = people.body.people;
    expect(vesna).toMatchObject({ signInName: 'vesna', hasSignIn: false, showsCode: false });
    expect((await code(vesna!.id, false)).status).toBe(409);
    await t.ecoute.pool.query("UPDATE people SET email = 'teacher@b.example' WHERE id = ?", [teacher.id]);
    expect((await code(teacher.id, true)).body.code).toBeNull();
    // People: made, found, named, closed.
    const made = await admin.ask<AccountList>('POST', '/api/administration/people', {
      displayName: 'Nour Aziz',
      signInName: 'nour.aziz',
      email: '',
      role: 'teacher',
    });
    const nour = made.body.people.find(p => p.signInName === 'nour.aziz')!;
    const shown = (await code(nour.id, false)).body.code!;
    const as = t.visitor();
    await as.ask('POST', '/api/first-sign-in', { code: shown, password: 'lantern-over-water' });
    const put = (who: Visitor, personId: string, what: string, body: object) =>
      who.ask('PUT', `/api/administration/people/${personId}/${what}`, body);
    expect((await put(admin, nour.id, 'admin', { isAdmin: true })).status).toBe(204);
    expect((await put(admin, student.id, 'admin', { isAdmin: true })).status).toBe(422);
    // The right is asked for with each request, and somebody always has it.
    expect((await put(as, admin.id, 'admin', { isAdmin: false })).status).toBe(204);
    expect((await admin.ask('GET', '/api/administration')).status).toBe(404);
    expect((await put(as, nour.id, 'admin', { isAdmin: false })).status).toBe(409);
    expect((await put(as, nour.id, 'closed', { closed: true })).status).toBe(409);
    expect((await put(as, student.id, 'closed', { closed: true })).status).toBe(204);
    expect([
      (await student.ask('GET', '/api/todo')).status,
      (await signIn(`student-${student.id}`)).status,
    ]).toEqual([401, 403]);
    await put(as, student.id, 'closed', { closed: false });
    expect((await signIn(`student-${student.id}`)).status).toBe(200);
    // What failed is seen and tried again from here.
    await t.ecoute.pool.query(
      "INSERT INTO jobs (kind, payload, state, last_error, run_after, created_at, failed_at) VALUES ('forgetGuests', '{}', 'failed', 'no luck', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))",
    );
    const failed = (await as.ask<GivenUpJobView[]>('GET', '/api/administration/jobs')).body;
    expect(failed).toMatchObject([{ about: 'forget guests', error: 'no luck' }]);
    expect(
      (await as.ask('POST', '/api/administration/jobs', { what: 'again', ids: [failed[0]!.id] })).body,
    ).toEqual([]);
    const { body } = await as.ask<Administration>('GET', '/api/administration');
    expect(body).toMatchObject({
      sendsMail: true,
      jobs: { failed: 0 },
      people: { teachers: expect.any(Number) },
    });
    expect(body.room.free).toBeGreaterThan(0);
    const kinds = (await as.ask<SafetyEntry[]>('GET', '/api/administration/log')).body.map(e => e.kind);
    for (const kind of ['adminNamed', 'adminUnnamed', 'accountMade', 'accountClosed', 'codeMade', 'codeUsed'])
      expect(kinds).toContain(kind);
  });

  it('believe a proxy only where it is named', async () => {
    const behind = await TestEcoute.open({
      relaxedLimits: false,
      proxies: 1,
      baseUrl: 'https://ecoute.example',
    });
    const person = await behind.person('student');
    const tries = async (address: string) => {
      const statuses: number[] = [];
      for (let n = 0; n < 12; n++)
        statuses.push(
          (
            await behind
              .visitor()
              .ask(
                'POST',
                '/api/session',
                { signInName: `student-${person.id}`, password: 'x' },
                { 'X-Forwarded-For': address },
              )
          ).status,
        );
      return statuses.at(-1);
    };
    expect(await tries('203.0.113.1')).toBe(429);
    const elsewhere = await behind
      .visitor()
      .ask(
        'POST',
        '/api/session',
        { signInName: `student-${person.id}`, password: 'x' },
        { 'X-Forwarded-For': '203.0.113.2' },
      );
    expect(elsewhere.status).toBe(401);
    const cookie = (
      await behind
        .visitor()
        .ask(
          'POST',
          '/api/session',
          { signInName: `student-${person.id}`, password: PASSWORD },
          { 'X-Forwarded-For': '203.0.113.3', 'X-Forwarded-Proto': 'https' },
        )
    ).headers.getSetCookie();
    for (const c of cookie) expect(c).toMatch(/Secure/);
    await behind.close();
  });
});
