import type { AssessmentDraft } from '@ecoute/contract/assessments';
import { blankContent } from '@ecoute/contract/blank';
import type { ReleaseDetail, ReleaseEntry, SeriesChanged } from '@ecoute/contract/releases';
import type { SittingView } from '@ecoute/contract/sittings';
import { spokenItem, TestEcoute, type Visitor } from '../../testing/ecoute';
import type { Queryable } from '../../platform/database';
import { entriesOf, findRelease } from './store';

const DAY = 86_400_000;
const inDays = (days: number, seconds = 0) =>
  new Date(Math.floor((Date.now() + days * DAY) / 60_000) * 60_000 + seconds * 1_000).toISOString();

describe('what is planned', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let classId: string;

  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
  });
  afterAll(() => t.close());

  const set = async (words: string, who = teacher): Promise<AssessmentDraft> => {
    const items = [spokenItem({ promptText: words })];
    return (
      await who.ask<AssessmentDraft>(
        'POST',
        '/api/assessments',
        blankContent('homework', { title: words, items }),
      )
    ).body;
  };
  const save = (draft: AssessmentDraft, revision: number, change: object, who = teacher) =>
    who.ask<AssessmentDraft>('PUT', `/api/assessments/${draft.id}`, {
      revision,
      content: { ...draft.content, ...change },
    });
  const give = async (assessmentId: string, over: object = {}, who = teacher) =>
    (
      await who.ask<ReleaseDetail>('POST', '/api/releases', {
        assessmentId,
        classId,
        opensAt: inDays(1),
        dueAt: inDays(2),
        lateAccepted: true,
        note: '',
        ...over,
      })
    ).body;
  const series = async (assessmentId: string, weeks = 4, over: object = {}) =>
    (
      await teacher.ask<ReleaseEntry[]>('POST', '/api/release-series', {
        assessmentId,
        classId,
        dueAt: inDays(2),
        lateAccepted: true,
        note: '',
        timeZone: 'Europe/Lisbon',
        each: Array.from({ length: weeks }, (_, n) => ({
          opensAt: inDays(7 * n + 1),
          dueAt: inDays(7 * n + 3),
          note: `week ${n + 1}`,
        })),
        ...over,
      })
    ).body;
  const now = async (id: string, who = teacher) =>
    (await who.ask<ReleaseDetail>('GET', `/api/releases/${id}`)).body;
  const titleOf = async (id: string) => (await now(id)).content.title;

  describe('follows its assessment', () => {
    it('until it opens; what is open, and what is held, stays as it is', async () => {
      const draft = await set('as it was');
      const planned = await give(draft.id);
      const hidden = await give(draft.id, { opensAt: inDays(0), hidden: true });
      const open = await give(draft.id, { opensAt: null });
      const held = await give(draft.id);
      expect((await teacher.ask('PUT', `/api/releases/${held.id}/follows`, { follows: false })).status).toBe(
        200,
      );
      const saved = await save(draft, 1, { title: 'corrected' });
      expect(saved.body).toMatchObject({ releases: 4, following: 2 });
      expect(await Promise.all([planned, hidden, open, held].map(r => titleOf(r.id)))).toEqual([
        'corrected',
        'corrected',
        'as it was',
        'as it was',
      ]);
      // A student who could see nothing of it meets what it is when it is shown.
      await teacher.ask('PUT', `/api/releases/${hidden.id}`, {
        opensAt: inDays(0),
        dueAt: hidden.dueAt,
        lateAccepted: true,
        note: '',
        hidden: false,
      });
      const { body } = await student.ask<SittingView>('POST', `/api/releases/${hidden.id}/sitting`);
      expect(body.content.title).toBe('corrected');
      await save(draft, 2, { title: 'too late' });
      expect(await Promise.all([planned, hidden].map(r => titleOf(r.id)))).toEqual(['too late', 'corrected']);
      // Begun, it neither follows nor is it put off to follow again.
      expect(
        (await teacher.ask('PUT', `/api/releases/${hidden.id}/follows`, { follows: true })).body,
      ).toMatchObject({
        code: 'inUse',
      });
      // Let go again, what was held is at once what its assessment is.
      await teacher.ask('PUT', `/api/releases/${held.id}/follows`, { follows: true });
      expect(await titleOf(held.id)).toBe('too late');
    });

    it('only to what can be released, and keeps no version that nobody needs', async () => {
      const draft = await set('whole');
      const planned = await give(draft.id);
      await save(draft, 1, { title: '' });
      expect(await titleOf(planned.id)).toBe('whole');
      for (let revision = 2; revision < 8; revision++)
        await save(draft, revision, { title: `typed ${revision}` });
      expect(await titleOf(planned.id)).toBe('typed 7');
      const [versions] = await t.ecoute.pool.query<never[]>(
        'SELECT id FROM assessment_versions WHERE assessment_id = ?',
        [draft.id],
      );
      expect(versions).toHaveLength(1);
    });

    it('put off after it was open, it is what its assessment is by then', async () => {
      const draft = await set('first');
      const open = await give(draft.id, { opensAt: null });
      await save(draft, 1, { title: 'second' });
      expect(await titleOf(open.id)).toBe('first');
      const { dueAt } = open;
      await teacher.ask('PUT', `/api/releases/${open.id}`, {
        opensAt: inDays(1),
        dueAt,
        lateAccepted: true,
        note: '',
      });
      expect(await titleOf(open.id)).toBe('second');
    });

    it('as long as whoever released it may change it: not after it is shared with them no more', async () => {
      const owner = await t.person('teacher');
      const draft = await set('shared', owner);
      const name = `${Date.now()}`;
      const [department] = (await owner.ask<{ id: string }[]>('POST', '/api/departments', { name })).body;
      await owner.ask('POST', `/api/departments/${department!.id}/members`, {
        signInName: `teacher-${teacher.id}`,
      });
      await teacher.acceptAll();
      const share = (edits: boolean) =>
        owner.ask('PUT', `/api/assessments/${draft.id}/shares`, {
          shares: [{ departmentId: department!.id, edits }],
        });
      await share(true);
      const planned = await give(draft.id);
      await save(draft, 1, { title: 'while shared' }, owner);
      expect(await titleOf(planned.id)).toBe('while shared');
      await share(false);
      await save(draft, 2, { title: 'not theirs any more' }, owner);
      expect(await titleOf(planned.id)).toBe('while shared');
    });

    it('also where it is given another version between two questions of one reader', async () => {
      const draft = await set('v1');
      const release = await give(draft.id);
      let revision = 2;
      // Of this one nobody has asked for the content yet.
      await save(draft, 1, { title: 'v2' });
      // A save that comes after each first question, as it may.
      const between = (asked: number) => {
        const { pool } = t.ecoute;
        const query = async (sql: string, values: never) => {
          const answer = await pool.query(sql, values);
          if (asked-- > 0) await save(draft, revision, { title: `v${++revision}` });
          return answer;
        };
        return { query, execute: query } as unknown as Queryable;
      };
      expect((await findRelease(between(2), release.id))?.content.title).toBe('v4');
      const entries = await entriesOf(between(1), [release.id]);
      expect(entries.map(e => e.outline.title)).toEqual(['v5']);
    });

    it('while somebody saves and somebody begins at the same moment', async () => {
      const draft = await set('v1');
      const releases: ReleaseDetail[] = [];
      for (let n = 0; n < 4; n++) releases.push(await give(draft.id, { opensAt: inDays(0), hidden: true }));
      const saves = async () => {
        for (let revision = 1; revision < 6; revision++)
          await save(draft, revision, { title: `v${revision + 1}` });
      };
      const begins = async () => {
        for (const r of releases) {
          await teacher.ask('PUT', `/api/releases/${r.id}`, {
            opensAt: inDays(0),
            dueAt: r.dueAt,
            lateAccepted: true,
            note: '',
            hidden: false,
          });
          const { body } = await student.ask<SittingView>('POST', `/api/releases/${r.id}/sitting`);
          // What is sat is what the release stays.
          expect(body.content.title).toBe(await titleOf(r.id));
        }
      };
      await Promise.all([saves(), begins()]);
      for (const r of releases) {
        const { body } = await student.ask<SittingView>('POST', `/api/releases/${r.id}/sitting`);
        expect(body.content.title).toBe(await titleOf(r.id));
      }
    });
  });

  describe('is a series', () => {
    const change = (id: string, reach: string, over: object, who = teacher) =>
      who.ask<SeriesChanged>('PUT', `/api/releases/${id}/series`, {
        reach,
        lateAccepted: true,
        note: '',
        ...over,
      });
    const wallsOf = async (all: ReleaseEntry[]) =>
      Promise.all(
        all.map(async r => {
          const { dueAt, note, lateAccepted } = await now(r.id);
          return [(Date.parse(dueAt) - Date.parse(r.dueAt)) / DAY, note, lateAccepted];
        }),
      );

    it('changed from here on or wholly; each keeps its own line', async () => {
      const draft = await set('weekly');
      const all = await series(draft.id);
      const [first, second] = all;
      const at = (r: ReleaseEntry, days: number) => ({
        opensAt: r.opensAt,
        dueAt: new Date(Date.parse(r.dueAt) + days * DAY).toISOString(),
        timeZone: 'Europe/Lisbon',
      });
      const later = await change(second!.id, 'later', {
        ...at(second!, 1),
        note: 'my week',
        lateAccepted: false,
      });
      expect([later.body.changed.length, later.body.stayed]).toEqual([3, 0]);
      expect(later.body.before.map(r => r.note).sort()).toEqual(['week 2', 'week 3', 'week 4']);
      expect(await wallsOf(all)).toEqual([
        [0, 'week 1', true],
        [1, 'my week', false],
        [1, 'week 3', false],
        [1, 'week 4', false],
      ]);
      await change(first!.id, 'all', { ...at(first!, -1), note: 'week 1' });
      expect((await wallsOf(all)).map(w => w[0])).toEqual([-1, -1, -1, -1]);
      await change(first!.id, 'this', { ...at(first!, 0), note: 'week 1' });
      expect((await wallsOf(all)).map(w => w[0])).toEqual([0, -1, -1, -1]);
    });

    it('with times that contradict: said, and nothing of it is changed', async () => {
      const all = await series((await set('contradicting')).id, 2);
      const wrong = await change(all[0]!.id, 'all', { opensAt: all[0]!.dueAt, dueAt: all[0]!.opensAt });
      expect(wrong.status).toBe(422);
      expect(await wallsOf(all)).toEqual([
        [0, 'week 1', true],
        [0, 'week 2', true],
      ]);
    });

    it('moved, shown and taken back as one; what somebody has begun stays', async () => {
      const all = await series((await set('as one')).id, 4, { hidden: true });
      const moved = await teacher.ask<ReleaseEntry[]>('POST', '/api/release-moves', {
        releaseIds: [all[1]!.id],
        days: 7,
        reach: 'later',
      });
      expect(moved.body).toHaveLength(3);
      expect((await wallsOf(all)).map(w => w[0])).toEqual([0, 7, 7, 7]);
      const shown = await change(all[0]!.id, 'all', {
        opensAt: inDays(0),
        dueAt: all[0]!.dueAt,
        hidden: false,
        timeZone: 'Europe/Lisbon',
      });
      expect(shown.body.changed.every(r => !r.hidden)).toBe(true);
      await student.ask('POST', `/api/releases/${all[0]!.id}/sitting`);
      const back = await teacher.ask('DELETE', `/api/releases/${all[0]!.id}/series?reach=all`);
      expect(back.body).toEqual({ taken: 3, stayed: 1 });
      expect(
        (await teacher.ask('DELETE', `/api/releases/${all[0]!.id}/series?reach=all`)).body,
      ).toMatchObject({
        code: 'inUse',
      });
      expect(
        (await teacher.ask('DELETE', `/api/releases/${all[0]!.id}/series?reach=everything`)).status,
      ).toBe(422);
    });

    it('given to several classes and groups on the same days, all or none; each is a series of its own', async () => {
      const [other, foreign] = [await t.class(), await t.class()];
      await t.ecoute.pool.query(
        "INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, 'teacher')",
        [other, teacher.id],
      );
      const draft = await set('for several');
      const made = await series(draft.id, 2, { alsoTo: [{ classId: other }] });
      expect(made.map(r => r.classId).sort()).toEqual([classId, classId, other, other].sort());
      expect(new Set(made.map(r => r.seriesId)).size).toBe(2);
      const refused = await series(draft.id, 2, { alsoTo: [{ classId: other }, { classId: foreign }] });
      expect(refused).toMatchObject({ code: 'notFound' });
      expect((await teacher.ask<AssessmentDraft>('GET', `/api/assessments/${draft.id}`)).body.releases).toBe(
        4,
      );
    });

    it('changed by nobody who does not manage every one of them', async () => {
      const all = await series((await set('mine')).id, 2);
      const stranger = await t.person('teacher', [await t.class()]);
      expect((await change(all[0]!.id, 'all', { dueAt: inDays(9) }, stranger)).status).toBe(404);
      // One of the series in a class of somebody else, as an earlier Ecoute might have left it: nothing of it is touched.
      await t.ecoute.pool.query('UPDATE releases SET class_id = ? WHERE id = ?', [
        await t.class(),
        all[1]!.id,
      ]);
      expect((await change(all[0]!.id, 'all', { opensAt: all[0]!.opensAt, dueAt: inDays(9) })).status).toBe(
        404,
      );
      expect((await now(all[0]!.id)).dueAt).toBe(all[0]!.dueAt);
      expect((await teacher.ask('DELETE', `/api/releases/${all[0]!.id}/series?reach=all`)).status).toBe(404);
      expect((await teacher.ask('GET', `/api/releases/${all[0]!.id}`)).status).toBe(200);
    });
  });

  it('is closed at once: nothing more is recorded, what is recorded can be handed in and stays', async () => {
    const draft = await set('closing');
    const open = await give(draft.id, { opensAt: null });
    const { body: sitting } = await student.ask<SittingView>('POST', `/api/releases/${open.id}/sitting`);
    const early = await give(draft.id);
    expect((await teacher.ask('POST', `/api/releases/${early.id}/closing`)).body).toMatchObject({
      code: 'notOpenYet',
    });
    const closed = await teacher.ask<ReleaseDetail>('POST', `/api/releases/${open.id}/closing`);
    expect(closed.body).toMatchObject({ lateAccepted: false, closesAt: null });
    expect(Date.parse(closed.body.dueAt)).toBeLessThanOrEqual(Date.now());
    const another = await t.person('student', [classId]);
    expect((await another.ask('POST', `/api/releases/${open.id}/sitting`)).status).toBe(404);
    expect(
      (await student.ask('POST', `/api/sittings/${sitting.id}/hand-in`, { withGaps: true })).status,
    ).toBe(200);
    // Opened again by a later due time.
    const again = await teacher.ask('PUT', `/api/releases/${open.id}`, {
      opensAt: closed.body.opensAt,
      dueAt: inDays(1),
      lateAccepted: true,
      note: '',
    });
    expect(again.status).toBe(200);
  });
});
