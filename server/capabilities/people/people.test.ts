import { PASSWORD, TestEcoute } from '../../testing/ecoute';

describe('signing in', () => {
  let t: TestEcoute;
  beforeAll(async () => {
    t = await TestEcoute.open({ relaxedLimits: false });
  });
  afterAll(() => t.close());

  it('makes the first teacher once, however many try at the same moment', async () => {
    const wanted = { displayName: 'Ana', signInName: 'ana@brackwater.example', password: PASSWORD };
    expect(
      (await t.visitor().ask<{ needsFirstTeacher: boolean }>('GET', '/api/session')).body.needsFirstTeacher,
    ).toBe(true);
    const short = await t.visitor().ask('POST', '/api/first-teacher', { ...wanted, password: 'short' });
    expect([short.status, short.body]).toMatchObject([
      422,
      { fields: { password: expect.stringContaining('12 characters') } },
    ]);
    const tries = await Promise.all(
      [1, 2, 3, 4].map(n =>
        t.visitor().ask('POST', '/api/first-teacher', { ...wanted, signInName: `ana${n}` }),
      ),
    );
    expect(tries.map(a => a.status).sort()).toEqual([200, 403, 403, 403]);
  });

  it('forgets sessions that are over, and keeps the others', async () => {
    const { pool, jobs } = t.ecoute;
    const ids = async () => {
      const [found] = await pool.query(
        "SELECT session_id AS id FROM sessions WHERE session_id IN ('over', 'lives')",
      );
      return (found as { id: string }[]).map(f => f.id);
    };
    await pool.query(
      `INSERT INTO sessions (session_id, expires, data)
       VALUES ('over', UNIX_TIMESTAMP() - 1, '{}'), ('lives', UNIX_TIMESTAMP() + 60, '{}')`,
    );
    await jobs.sweep();
    expect(await ids()).toEqual(['lives']);
  });

  it('keeps a session on the server and ends it', async () => {
    const visitor = await t.person('teacher');
    expect((await visitor.ask('GET', '/api/classes')).status).toBe(200);
    await visitor.ask('DELETE', '/api/session');
    expect((await visitor.ask('GET', '/api/classes')).status).toBe(401);
  });

  it('sets a cookie that scripts and other sites do not get', async () => {
    const teacher = await t.person('teacher');
    const { body } = await teacher.ask<{ me: { displayName: string } }>('GET', '/api/session');
    const signInName = body.me.displayName.replace('Name of ', '');
    const answer = await t.visitor().ask('POST', '/api/session', { signInName, password: PASSWORD });
    const cookie = answer.headers.getSetCookie().find(c => c.startsWith('ecoute='))!;
    expect(cookie).toMatch(/HttpOnly/i);
    expect(cookie).toMatch(/SameSite=Lax/i);
  });

  it('says the same for a wrong name as for a wrong password, and slows down who guesses', async () => {
    const teacher = await t.person('teacher');
    const { body } = await teacher.ask<{ me: { displayName: string } }>('GET', '/api/session');
    const signInName = body.me.displayName.replace('Name of ', '');
    const wrong = await t.visitor().ask('POST', '/api/session', { signInName, password: 'not this one' });
    const unknown = await t
      .visitor()
      .ask('POST', '/api/session', { signInName: 'nobody', password: 'not this one' });
    expect(wrong.status).toBe(401);
    expect(unknown.body).toEqual(wrong.body);
    const statuses: number[] = [];
    for (let n = 0; n < 12; n++)
      statuses.push(
        (await t.visitor().ask('POST', '/api/session', { signInName, password: `guess ${n}` })).status,
      );
    expect(statuses.at(-1)).toBe(429);
    // Another person at the same address is not locked out.
    expect(
      (await t.visitor().ask('POST', '/api/session', { signInName: 'somebody else', password: 'x' })).status,
    ).toBe(401);
  });

  it('slows down who tries codes out, in the same words whatever is tried', async () => {
    const answers: { status: number; body: unknown }[] = [];
    for (let n = 0; n < 404; n++) {
      const path = n % 2 ? '/api/first-sign-in' : '/api/first-sign-in/code';
      const { status, body } = await t
        .visitor()
        .ask('POST', path, { code: `AAAA-BBBB-${1000 + n}`, password: 'a-long-password' });
      answers.push({ status, body });
    }
    expect(answers[0]!.status).toBe(422);
    expect(answers[1]!.body).toEqual(answers[0]!.body);
    expect(answers.at(-1)!.status).toBe(429);
  });
});
