import type { ClassDetail, FirstCode, SignInSlip } from '@ecoute/contract/classes';
import type { SessionState } from '@ecoute/contract/people';
import type { SittingView } from '@ecoute/contract/sittings';
import { PASSWORD, TestEcoute, type Visitor } from '../../testing/ecoute';

/** Slips for children who do not read yet: they open one account, for as long as its teacher is the only one, and no longer. */
describe('slips to sign in by', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  let children = 0;
  const child = async (of = teacher, inClass = classId) => {
    const displayName = `Child ${++children}`;
    const { body } = await of.ask<ClassDetail>('POST', `/api/classes/${inClass}/students`, { displayName });
    return body.members.find(m => m.displayName === displayName)!.id;
  };
  const slips = (personIds: string[], who = teacher, inClass = classId) =>
    who.ask<SignInSlip[] & { code: string }>('POST', `/api/classes/${inClass}/slips`, { personIds });
  const tokenOf = (slip: SignInSlip) => slip.address.split('#')[1]!;
  const slipFor = async (id: string) => tokenOf((await slips([id])).body[0]!);
  const come = async (token: string, who = t.visitor()) => ({
    who,
    answer: await who.ask<SessionState & { code: string }>('POST', '/api/slip-sign-in', { token }),
  });

  it('sign in the child, whose screens are pictures and sound from then on', async () => {
    const id = await child();
    const { who, answer } = await come(await slipFor(id));
    expect(answer.body).toMatchObject({ me: { id, role: 'student' }, byEar: true });
    const release = await t.release(teacher, classId);
    const sitting = await who.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    expect(sitting.body.isByEar).toBe(true);
    const detail = (await teacher.ask<ClassDetail>('GET', `/api/classes/${classId}`)).body;
    expect(detail.members.find(m => m.id === id)).toMatchObject({
      hasSlip: true,
      hasSignIn: false,
      arrangement: { byEar: true, extraTime: 1 },
    });
    // Nothing that opens anything is kept.
    const [kept] = await t.ecoute.pool.query('SELECT * FROM sign_in_slips WHERE person_id = ?', [id]);
    expect(JSON.stringify(kept)).not.toContain((await slipFor(id)).slice(0, 12));
  });

  it('are one at a time: a new one ends the old one, and whoever came by it', async () => {
    const id = await child();
    const first = await slipFor(id);
    const { who } = await come(first);
    await slipFor(id);
    expect((await who.ask('GET', '/api/todo')).status).toBe(401);
    expect((await come(first)).answer.body.code).toBe('badCode');
  });

  it('are ended by the teacher when they are lost, and by nobody else', async () => {
    const id = await child();
    const token = await slipFor(id);
    const { who } = await come(token);
    const stranger = await t.person('teacher', [await t.class()]);
    const end = (by: Visitor) => by.ask('DELETE', `/api/classes/${classId}/members/${id}/slip`);
    expect((await end(stranger)).status).toBe(404);
    expect((await end(who)).status).toBe(404);
    expect((await end(teacher)).status).toBe(200);
    expect((await who.ask('GET', '/api/todo')).status).toBe(401);
    expect((await come(token)).answer.body.code).toBe('badCode');
  });

  it('are not made for whoever has a password, is taught by others, or belongs to another class', async () => {
    const grown = await t.person('student', [classId]);
    expect((await slips([grown.id])).body.code).toBe('notAllowed');
    const otherClass = await t.class();
    const other = await t.person('teacher', [otherClass]);
    const theirs = await child(other, otherClass);
    expect((await slips([theirs])).status).toBe(404);
    const shared = await child();
    await t.ecoute.pool.query(
      "INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, 'student')",
      [otherClass, shared],
    );
    expect((await slips([shared])).body.code).toBe('notAllowed');
    expect((await slips([shared], other, otherClass)).body.code).toBe('notAllowed');
  });

  it('open nothing that their maker may not hear: another teacher, leaving the class, or a password end them', async () => {
    const ids = [await child(), await child(), await child()];
    const tokens = (await slips(ids)).body.map(tokenOf);
    const byId = new Map(ids.map((id, n) => [id, tokens[n]!]));
    const all = (await slips(ids)).body;
    for (const slip of all) byId.set(slip.personId, tokenOf(slip));
    const [elsewhere, left, grown] = ids as [string, string, string];
    const otherClass = await t.class();
    await t.person('teacher', [otherClass]);
    await t.ecoute.pool.query(
      "INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, 'student')",
      [otherClass, elsewhere],
    );
    expect((await come(byId.get(elsewhere)!)).answer.body.code).toBe('badCode');
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${left}`);
    expect((await come(byId.get(left)!)).answer.body.code).toBe('badCode');
    const [code] = (
      await teacher.ask<FirstCode[]>('POST', `/api/classes/${classId}/codes`, { personIds: [grown] })
    ).body;
    await t.visitor().ask('POST', '/api/first-sign-in', { code: code!.code, password: PASSWORD });
    expect((await come(byId.get(grown)!)).answer.body.code).toBe('badCode');
  });

  it('end what they opened as soon as they are not good: nobody stays in by one', async () => {
    const [mine, shared] = [await child(), await child()];
    const [here, there] = [await come(await slipFor(mine)), await come(await slipFor(shared))];
    expect((await there.who.ask('GET', '/api/todo')).status).toBe(200);
    const otherClass = await t.class();
    await t.person('teacher', [otherClass]);
    await t.ecoute.pool.query(
      "INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, 'student')",
      [otherClass, shared],
    );
    const later = jest.spyOn(Date, 'now').mockReturnValue(Date.now() + 10_000);
    expect((await there.who.ask('GET', '/api/todo')).status).toBe(401);
    expect((await here.who.ask('GET', '/api/todo')).status).toBe(200);
    later.mockRestore();
  });

  it('are no guess: what is no slip is refused before anything is looked for', async () => {
    for (const token of ['', 'short', 'x'.repeat(65), '../../etc/passwd-and-more', { $gt: '' }])
      expect((await t.visitor().ask('POST', '/api/slip-sign-in', { token })).status).toBe(422);
  });
});
