import type { Server } from 'node:http';
import express from 'express';
import type {
  ClassAtSchool,
  ClassMatches,
  HandingView,
  HandOverDifference,
  SchoolSystemView,
} from '@ecoute/contract/schoolSystem';
import { execute, row } from '../../platform/database';
import { SchoolSystem, type Mood } from '../../standIns/schoolSystem';
import { handInOne, TestEcoute, type Visitor } from '../../testing/ecoute';
import { lock, unlock } from './secret';

interface Refusal {
  code: string;
  message: string;
}

describe('handing over to the school’s system', () => {
  let t: TestEcoute;
  let admin: Visitor;
  let teacher: Visitor;
  let students: Visitor[];
  let classId: string;
  let school: SchoolSystem;
  let server: Server;
  let base: string;

  beforeAll(async () => {
    t = await TestEcoute.open();
    admin = await t.person('teacher');
    await execute(t.ecoute.pool, 'UPDATE people SET is_admin = TRUE WHERE id = :id', admin);
  });
  afterAll(() => t.close());

  beforeEach(async () => {
    classId = await t.class();
    teacher = await withAddress(await t.person('teacher', [classId]));
    students = [];
    for (const name of ['Ada Lind', 'Bo Marsh', 'Cy Noor']) {
      const student = await t.person('student', [classId]);
      await execute(t.ecoute.pool, 'UPDATE people SET display_name = :name WHERE id = :id', {
        id: student.id,
        name,
      });
      students.push(student);
    }
    school = new SchoolSystem(
      [
        {
          sourcedId: 'c-1',
          title: 'Their class',
          teachers: [{ sourcedId: 't-1', givenName: 'A', familyName: 'Teacher', email: addressFor(teacher) }],
          students: [
            { sourcedId: 'p-1', givenName: 'Ada', familyName: 'Lind', email: 'a@s.example' },
            { sourcedId: 'p-2', givenName: 'Bo', familyName: 'Marsh', email: 'b@s.example' },
            { sourcedId: 'p-9', givenName: 'Somebody', familyName: 'Else', email: 'e@s.example' },
          ],
        },
        { sourcedId: 'c-2', title: 'Another’s class', teachers: [], students: [] },
      ],
      null,
      { id: 'us', secret: 'a secret' },
    );
    const app = express();
    app.use('/school', school.router());
    server = await new Promise<Server>(resolve => {
      const listening = app.listen(0, '127.0.0.1', () => resolve(listening));
    });
    base = `http://127.0.0.1:${(server.address() as { port: number }).port}/school`;
    await keep({});
  });
  afterEach(async () => {
    await admin.ask('DELETE', '/api/administration/school-system');
    server.closeAllConnections();
    await new Promise(resolve => server.close(resolve));
  });

  const keep = (over: object) =>
    admin.ask<SchoolSystemView & Refusal>('PUT', '/api/administration/school-system', {
      baseUrl: base,
      tokenUrl: `${base}/token`,
      clientId: 'us',
      secret: 'a secret',
      ...over,
    });
  const addressFor = ({ id }: Visitor) => `t.${id}@s.example`;
  async function withAddress(who: Visitor): Promise<Visitor> {
    await execute(t.ecoute.pool, 'UPDATE people SET email = :email WHERE id = :id', {
      id: who.id,
      email: addressFor(who),
    });
    return who;
  }
  const at = (rest = '') => `/api/classes/${classId}/school${rest}`;
  /** The class is theirs, and everybody is who they seem to be. */
  async function linked(): Promise<ClassMatches> {
    const { status, body } = await teacher.ask<ClassMatches>('PUT', at('/link'), { sourcedId: 'c-1' });
    expect(status).toBe(200);
    const matches = body.students.map(({ personId, sourcedId }) => ({ personId, sourcedId }));
    expect((await teacher.ask('PUT', at('/matches'), { matches })).status).toBe(200);
    return body;
  }
  async function marked(student: Visitor, release: { id: string; itemId: string }, points: number) {
    const sat = await handInOne(student, release);
    const score = async (value: number, revision: number) => {
      const { status } = await teacher.ask('PUT', `/api/sittings/${sat.id}/marks/${release.itemId}`, {
        revision,
        points: value,
        comment: '',
        finished: true,
        reason: revision > 0 ? 'heard again' : '',
      });
      expect(status).toBe(200);
    };
    await score(points, 0);
    const give = () => teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sat.id] });
    return { ...sat, score, give };
  }
  const difference = async () => (await teacher.ask<HandOverDifference>('GET', at('/difference'))).body;
  const begin = (digest: string) => teacher.ask<HandingView & Refusal>('POST', at('/handings'), { digest });
  async function ended(id: string): Promise<HandingView> {
    for (;;) {
      const { body } = await teacher.ask<HandingView>('GET', at(`/handings/${id}`));
      if (!['waiting', 'running'].includes(body.state)) return body;
      await new Promise(resolve => setTimeout(resolve, 30));
    }
  }
  const handOver = async () => ended((await begin((await difference()).digest)).body.id);
  const results = () =>
    Object.values(school.all('results')).map(r => [
      (r.student as { sourcedId: string }).sourcedId,
      r.scoreStatus,
      r.score,
    ]);

  it('keeps the secret to itself, and sends it to nobody for whom it was not typed', async () => {
    const { body } = await admin.ask<SchoolSystemView>('GET', '/api/administration/school-system');
    expect(JSON.stringify(body)).not.toContain('a secret');
    const kept = await row<{ secret: Buffer }>(t.ecoute.pool, 'SELECT secret FROM school_system');
    expect(kept!.secret.includes('a secret')).toBe(false);
    expect(unlock(kept!.secret, t.config.sessionSecret)).toBe('a secret');
    expect(unlock(lock('x', 'one key'), 'another key')).toBeNull();
    expect((await keep({ secret: null, clientId: 'us' })).status).toBe(200);
    const elsewhere = await keep({ secret: null, tokenUrl: 'https://evil.example/token' });
    expect([elsewhere.status, elsewhere.body.code]).toEqual([422, 'invalid']);
    for (const baseUrl of [
      'http://school.example/x',
      'ftp://x',
      'https://a:b@x.example',
      'https://x/?a=1',
      '',
    ])
      expect((await keep({ baseUrl })).status).toBe(422);
    expect((await teacher.ask('GET', '/api/administration/school-system')).status).toBe(404);
  });

  it('says what is wrong before anything is sent: not set up, the wrong secret, not answering, not matched', async () => {
    const tryIt = () =>
      admin.ask<Refusal & { count: number }>('POST', '/api/administration/school-system/try');
    expect((await tryIt()).body.count).toBe(2);
    await keep({ secret: 'wrong' });
    expect((await tryIt()).body).toMatchObject({
      code: 'schoolAway',
      message: expect.stringContaining('let Ecoute in'),
    });
    await keep({});
    for (const mood of ['down', 'garbled'] as Mood[]) {
      school.mood = mood;
      expect((await tryIt()).status).toBe(503);
    }
    school.mood = 'well';
    expect((await teacher.ask<Refusal>('GET', at('/difference'))).body.code).toBe('notLinked');
    expect((await teacher.ask('PUT', at('/link'), { sourcedId: 'none' })).status).toBe(404);
    await admin.ask('DELETE', '/api/administration/school-system');
    const { body } = await teacher.ask<ClassAtSchool>('GET', at());
    expect(body).toMatchObject({ isSetUp: false, linked: null });
    expect((await teacher.ask<Refusal>('GET', at('/classes'))).body.code).toBe('schoolAway');
  });

  it('finds who is who by name, once each, and takes the teacher’s word', async () => {
    const proposed = await linked();
    expect(proposed.students.map(s => [s.displayName, s.sourcedId, s.isProposed])).toEqual([
      ['Ada Lind', 'p-1', true],
      ['Bo Marsh', 'p-2', true],
      ['Cy Noor', null, false],
    ]);
    const { body } = await teacher.ask<ClassAtSchool>('GET', at());
    expect([body.matched, body.unmatched]).toEqual([2, ['Cy Noor']]);
    const twice = students.map(s => ({ personId: s.id, sourcedId: 'p-9' }));
    expect((await teacher.ask('PUT', at('/matches'), { matches: twice })).status).toBe(422);
    const foreign = [{ personId: (await t.person('student')).id, sourcedId: 'p-9' }];
    expect((await teacher.ask('PUT', at('/matches'), { matches: foreign })).status).toBe(404);
    const unknown = [{ personId: students[2]!.id, sourcedId: 'p-77' }];
    expect((await teacher.ask('PUT', at('/matches'), { matches: unknown })).status).toBe(404);
    // Their class is one of ours.
    const other = await t.class();
    await execute(
      t.ecoute.pool,
      "INSERT INTO class_members (class_id, person_id, role) VALUES (:other, :id, 'teacher')",
      { other, id: teacher.id },
    );
    const link = (sourcedId: string) =>
      teacher.ask<Refusal>('PUT', `/api/classes/${other}/school/link`, { sourcedId });
    expect((await link('c-1')).body.code).toBe('inUse');
    // And nobody writes into a class that they do not teach there.
    expect((await link('c-2')).status).toBe(404);
    const third = await t.class();
    const colleague = await t.person('teacher', [third]);
    const theirs = (method: string, path: string, body?: object) =>
      colleague.ask<Refusal>(method, `/api/classes/${third}/school${path}`, body);
    expect((await theirs('GET', '/classes')).body.code).toBe('notAllowed');
    expect((await theirs('PUT', '/link', { sourcedId: 'c-2' })).body.code).toBe('notAllowed');
  });

  it('sends what has its feedback, shows the difference first, corrects a changed score, and doubles nothing', async () => {
    await linked();
    const release = await t.release(teacher, classId, {}, 3_600_000, { title: 'Harbour' });
    const [ada, bo, cy] = [
      await marked(students[0]!, release, 3),
      await marked(students[1]!, release, 4),
      await marked(students[2]!, release, 5),
    ];
    // Nothing before its student has it.
    expect((await difference()).total).toBe(0);
    await ada.give();
    await cy.give();
    const first = await difference();
    expect(first.groups).toEqual([
      {
        id: '',
        title: 'Kinds of work',
        dueAt: null,
        lines: [expect.objectContaining({ what: 'Homework', before: '' })],
      },
      {
        id: release.id,
        title: 'Harbour',
        dueAt: expect.any(String),
        lines: [
          expect.objectContaining({ what: 'The assessment', now: expect.stringContaining('up to 5') }),
          expect.objectContaining({ what: 'Ada Lind', before: '', now: '3' }),
        ],
      },
    ]);
    expect(first.left).toEqual(['Bo Marsh', 'Cy Noor'].filter(n => n === 'Cy Noor'));
    const { body: handing } = await begin(first.digest);
    expect(await ended(handing.id)).toMatchObject({ state: 'done', total: 3, taken: 3, refused: 0 });
    expect(results()).toEqual([['p-1', 'fully graded', 3]]);
    expect((await difference()).total).toBe(0);
    // What was looked at is what is sent.
    await bo.give();
    const stale = await difference();
    await ada.score(4.5, 1);
    expect((await begin(stale.digest)).body.code).toBe('stale');
    const second = await difference();
    expect(second.groups[0]!.lines).toEqual([
      expect.objectContaining({ what: 'Ada Lind', before: '3', now: '4.5' }),
      expect.objectContaining({ what: 'Bo Marsh', before: '', now: '4' }),
    ]);
    await handOver();
    expect(results()).toEqual([
      ['p-1', 'fully graded', 4.5],
      ['p-2', 'fully graded', 4],
    ]);
    // Feedback that is taken back takes its result along.
    await teacher.ask('POST', `/api/releases/${release.id}/feedback/calling-off`, { sittingIds: [bo.id] });
    expect((await difference()).groups[0]!.lines).toEqual([
      expect.objectContaining({ act: 'remove', what: 'Bo Marsh', before: '4', now: '' }),
    ]);
    await handOver();
    expect(results()).toEqual([['p-1', 'fully graded', 4.5]]);
    const { body } = await teacher.ask<ClassAtSchool>('GET', at());
    expect(body.handings.map(h => [h.state, h.taken])).toEqual([
      ['done', 1],
      ['done', 2],
      ['done', 3],
    ]);
    expect(body.handings[0]!.byName).toContain('teacher');
  });

  it.each<[Mood, boolean]>([
    ['busy', true],
    ['lost', true],
    ['down', false],
    ['garbled', false],
    ['locked', false],
  ])('a system that is %s: ends well or stops, and goes on without doubling', async (mood, endsWell) => {
    await linked();
    const release = await t.release(teacher, classId);
    for (const [n, student] of students.slice(0, 2).entries())
      await (await marked(student, release, n + 1)).give();
    const { digest, total } = await difference();
    school.mood = mood;
    const handing = await ended((await begin(digest)).body.id);
    expect(handing.state).toBe(endsWell ? 'done' : 'stopped');
    if (!endsWell) {
      expect(handing.problem).toMatch(/Nothing is lost/);
      expect(handing.taken).toBe(0);
      school.mood = 'well';
      const again = await teacher.ask('POST', at(`/handings/${handing.id}/again`));
      expect(again.status).toBe(200);
      expect(await ended(handing.id)).toMatchObject({ state: 'done', taken: total });
    }
    expect(results().sort()).toEqual([
      ['p-1', 'fully graded', 1],
      ['p-2', 'fully graded', 2],
    ]);
    expect((await difference()).total).toBe(0);
  });

  it('names what was refused and sends the rest; what changed under way is not sent; a right that is gone stops it', async () => {
    await linked();
    const release = await t.release(teacher, classId);
    const ada = await marked(students[0]!, release, 3);
    await ada.give();
    await (await marked(students[1]!, release, 2)).give();
    // Somebody is not in their class any more.
    const { pool } = t.ecoute;
    await execute(pool, "UPDATE school_people SET sourced_id = 'p-0' WHERE person_id = :id", students[1]!);
    const refused = await handOver();
    expect(refused).toMatchObject({ state: 'done', taken: 3, refused: 1 });
    expect(refused.troubles).toEqual([{ what: 'Bo Marsh: 2', why: 'This student is not in the class.' }]);
    expect((await difference()).total).toBe(1);
    // Begun, and changed before its turn.
    await ada.score(5, 1);
    await t.ecoute.jobs.stop();
    const waiting = await begin((await difference()).digest);
    await teacher.ask('POST', `/api/releases/${release.id}/feedback/calling-off`, { sittingIds: [ada.id] });
    expect((await begin((await difference()).digest)).body.code).toBe('busy');
    t.ecoute.jobs.start();
    expect(await ended(waiting.body.id)).toMatchObject({ withdrawn: 1, refused: 1, taken: 0 });
    expect(results()).toEqual([['p-1', 'fully graded', 3]]);
    // Whoever began it teaches the class no longer.
    await t.ecoute.jobs.stop();
    const last = await begin((await difference()).digest);
    const colleague = await t.person('teacher', [classId]);
    await execute(pool, 'DELETE FROM class_members WHERE person_id = :id', teacher);
    t.ecoute.jobs.start();
    const look = () => colleague.ask<HandingView>('GET', at(`/handings/${last.body.id}`));
    while (['waiting', 'running'].includes((await look()).body.state))
      await new Promise(resolve => setTimeout(resolve, 30));
    expect((await look()).body).toMatchObject({
      state: 'stopped',
      problem: expect.stringContaining('does not teach'),
    });
    expect((await teacher.ask('GET', at())).status).toBe(404);
  });

  it('is cancelled between two steps, and another system begins from the start', async () => {
    await linked();
    const release = await t.release(teacher, classId);
    await (await marked(students[0]!, release, 3)).give();
    await t.ecoute.jobs.stop();
    const { body } = await begin((await difference()).digest);
    await teacher.ask('POST', at(`/handings/${body.id}/cancel`));
    t.ecoute.jobs.start();
    expect(await ended(body.id)).toMatchObject({ state: 'cancelled', taken: 0 });
    expect(school.changesAsked).toBe(0);
    await handOver();
    expect((await difference()).total).toBe(0);
    // Who leaves the class stays at the school who they were, also when who is who is kept again.
    await execute(
      t.ecoute.pool,
      "DELETE FROM class_members WHERE person_id = :id AND role = 'student'",
      students[0]!,
    );
    await linked();
    expect((await difference()).total).toBe(0);
    // Told that the system is elsewhere: there is nothing of ours, and nothing goes on its way there.
    await (await marked(students[1]!, release, 2)).give();
    await t.ecoute.jobs.stop();
    const begun = await begin((await difference()).digest);
    const asked = school.changesAsked;
    await keep({ baseUrl: base.replace('127.0.0.1', 'localhost'), tokenUrl: `${base}/token` });
    t.ecoute.jobs.start();
    expect((await ended(begun.body.id)).state).toBe('cancelled');
    expect(school.changesAsked).toBe(asked);
    expect((await teacher.ask<Refusal>('GET', at('/difference'))).body.code).toBe('notLinked');
  });
});
