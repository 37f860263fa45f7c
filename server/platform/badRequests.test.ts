import { randomUUID } from 'node:crypto';
import { blankContent } from '@ecoute/contract/blank';
import type { SittingView } from '@ecoute/contract/sittings';
import { handInOne, recordTake, spokenItem, TestEcoute, type Visitor } from '../testing/ecoute';

/** What nobody's page would send: each is told what is wrong, none is a failure of ours, none spoils anything for others. */
describe('odd requests', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let guest: Visitor;
  let classId: string;
  let release: Awaited<ReturnType<TestEcoute['release']>>;
  let assessmentId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    guest = await t.person('student', [classId]);
    release = await t.release(teacher, classId);
    assessmentId = (
      await teacher.ask<{ id: string }>('POST', '/api/assessments', blankContent('homework', { title: 'T' }))
    ).body.id;
  });
  afterAll(() => t.close());

  const deep = (n: number) => JSON.parse(`${'{"a":'.repeat(n)}1${'}'.repeat(n)}`) as object;
  const raw = (who: Visitor, path: string, body: BodyInit, headers: Record<string, string> = {}) =>
    fetch(t.base + path, {
      method: 'POST',
      headers: { Origin: t.base, 'Content-Type': 'application/json', ...who.cookies(), ...headers },
      body,
    }).then(r => r.status);
  const content = (over: object) => ({
    revision: 1,
    content: { ...blankContent('homework', { title: 'T', items: [spokenItem()] }), ...over },
  });
  const item = (over: object) => content({ items: [{ ...spokenItem(), ...over }] });

  it('of every kind that once failed are answered with what is wrong with them', async () => {
    const save = (body: object): [string, string, object] => [
      'PUT',
      `/api/assessments/${assessmentId}`,
      body,
    ];
    const odd = [
      '2026-W01',
      '2026-366',
      '20261127T101010Z',
      '2026-W53-7',
      '9999-12-31T23:59:59-12:00',
      '2026-02-31T10:00:00Z',
    ];
    const tries: [string, string, object][] = [
      ['POST', '/api/first-sign-in/code', { code: { constructor: { a: 1 } } }],
      ['POST', '/api/classes', { name: deep(2_500), subject: 'language' }],
      ['POST', '/api/classes', { name: 'x', subject: 'language', __proto__x: 1, prototype: { a: 1 } }],
      save(
        content({
          directionsRich: {
            type: 'doc',
            content: [{ type: 'paragraph', content: [{ type: 'text', text: 'x', marks: 5 }] }],
          },
        }),
      ),
      save(content({ title: 'half \ud800 a letter' })),
      save({ revision: 1 }),
      save(content({ scoring: [] })),
      save(content({ items: [[]] })),
      save(item({ tags: [[]] })),
      save(item({ music: [] })),
      save(content({ scoring: { ...blankContent('homework').scoring, kind: 'rubric', rubric: [] } })),
      ...odd.flatMap((at): [string, string, object][] => [
        [
          'POST',
          '/api/releases',
          { assessmentId: release.assessmentId, classId, dueAt: at, lateAccepted: true, note: '' },
        ],
        ['POST', `/api/releases/${release.id}/feedback`, { sittingIds: [], at }],
      ]),
      ['POST', '/api/holidays', { name: 'x', firstOn: '2026-02-31', lastOn: '2026-03-02' }],
      ['POST', '/api/comment-bank/topics', { topics: [[]] }],
      ['POST', '/api/comment-bank/topics', { topics: [{ name: 'x', comments: [[]] }] }],
      ['POST', '/api/tag-lists', { name: 'x', statements: [[]] }],
      ['POST', `/api/classes/${classId}/students`, { displayName: 'A', email: 0 }],
      ['POST', `/api/classes/${classId}/students`, { displayName: 'A', email: false }],
      ['POST', `/api/classes/${classId}/students`, { displayName: 'A', signInName: 0 }],
      ['POST', `/api/classes/${classId}/students`, { displayName: 'A', email: '\ud800' }],
      ['POST', `/api/releases/${release.id}/links`, { classCode: 0, keepDays: 3 }],
      ['POST', `/api/releases/${release.id}/links`, { classCode: false, keepDays: 3 }],
    ];
    for (const [method, path, body] of tries) {
      const { status, body: said } = await teacher.ask(method, path, body);
      expect([path, JSON.stringify(body).slice(0, 90), status]).toEqual([path, expect.anything(), 422]);
      expect(said).toMatchObject({ code: expect.any(String), message: expect.any(String) });
    }
    const name = await t
      .visitor()
      .ask('POST', '/api/session', { signInName: { toString: 1 }, password: 'x' });
    expect(name.status).toBe(422);
  });

  it('in a coding or an alphabet that is not read here, or for a stretch that is not there, are told so', async () => {
    expect(await raw(teacher, '/api/classes', '{}', { 'Content-Encoding': 'foo' })).toBe(415);
    expect(
      await raw(teacher, '/api/classes', '{}', { 'Content-Type': 'application/json; charset=foo' }),
    ).toBe(415);
    const { takeId } = await handInOne(student, release);
    for (const range of ['bytes=-0', 'bytes=999999999-'])
      expect(
        (await student.ask('GET', `/api/recordings/${takeId}/sound`, undefined, { Range: range })).status,
      ).toBe(416);
    const many = { topics: Array.from({ length: 190 }, () => ({ name: 'x'.repeat(60), comments: [] })) };
    expect((await teacher.ask('POST', '/api/comment-bank/topics', many)).status).not.toBe(500);
  });

  it('with a stroke that has no points, or a text without words, are refused', async () => {
    const { id } = await handInOne(student, release);
    for (const shape of [{ kind: 'stroke' }, { kind: 'text', x: 1, y: 2 }]) {
      const { status } = await teacher.ask(
        'PUT',
        `/api/sittings/${id}/items/${release.itemId}/markups/${randomUUID()}`,
        {
          kind: 'drawing',
          revision: 0,
          drawing: { height: 100, shapes: [shape] },
        },
      );
      expect([404, 422]).toContain(status);
    }
  });

  it('with an odd instant spoil nobody’s page: not the sitting, not the release, not the hand-in', async () => {
    const { body: sitting } = await guest.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    const say = (at: string) =>
      guest.ask('POST', `/api/sittings/${sitting.id}/events`, {
        events: [{ id: randomUUID(), itemId: release.itemId, kind: 'pageShown', at }],
      });
    for (const at of ['2026-W01', '2026-366', '20261127T101010Z', '2026-W53-7', '9999-12-31T23:59:59-12:00'])
      expect([at, (await say(at)).status]).toEqual([at, 422]);
    // A browser says nothing of what only the server sees.
    const forged = await guest.ask('POST', `/api/sittings/${sitting.id}/events`, {
      events: [{ id: randomUUID(), itemId: null, kind: 'handedIn', at: new Date().toISOString() }],
    });
    expect(forged.status).toBe(422);
    // One that an earlier Ecoute let in: every page that shows it is readable all the same.
    await t.ecoute.pool.query(
      "SET STATEMENT sql_mode = '' FOR INSERT INTO sitting_events (id, sitting_id, item_id, kind, at, received_at) VALUES (UUID(), ?, ?, 'pageShown', '0000-00-00', UTC_TIMESTAMP(3))",
      [sitting.id, release.itemId],
    );
    await recordTake(guest, sitting.id, release.itemId);
    const pages: [Visitor, string][] = [
      [guest, `/api/sittings/${sitting.id}`],
      [teacher, `/api/releases/${release.id}`],
      [teacher, `/api/sittings/${sitting.id}/account`],
    ];
    for (const [who, path] of pages) expect([path, (await who.ask('GET', path)).status]).toEqual([path, 200]);
    expect((await guest.ask('POST', `/api/sittings/${sitting.id}/hand-in`, { withGaps: false })).status).toBe(
      200,
    );
    expect((await guest.ask<SittingView>('GET', `/api/sittings/${sitting.id}`)).body.receipt).not.toBeNull();
  });
});
