import { randomUUID } from 'node:crypto';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { blankContent, blankScoring } from '@ecoute/contract/blank';
import type {
  CanDo,
  CellAnswers,
  Compared,
  Markbook,
  ReleaseNumbers,
  StudentYear,
} from '@ecoute/contract/results';
import { handInOne, recordTake, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { execute } from '../../platform/database';

const DAY = 86_400_000;
const TAG = { code: 'BW-1', words: 'I can say who I am.' };

describe('results', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let coordinator: Visitor;
  let classId: string;
  /** Sorted by name, as the markbook shows them. */
  let students: Visitor[];

  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    coordinator = await t.coordinator(classId);
    students = await Promise.all([1, 2, 3].map(() => t.person('student', [classId])));
    students.sort((a, b) => (a.id < b.id ? -1 : 1));
  });
  afterAll(() => t.close());

  const set = (over: Partial<Item> = {}, content: Partial<AssessmentContent> = {}, due?: number) =>
    t.release(teacher, classId, { points: 10, ...over }, due, content);
  const mark = async (sittingId: string, itemId: string, body: object) => {
    const { status } = await teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${itemId}`, {
      revision: 0,
      points: null,
      comment: '',
      finished: true,
      reason: '',
      ...body,
    });
    expect(status).toBe(200);
  };
  const giveFeedback = (releaseId: string, ...sittingIds: string[]) =>
    teacher.ask('POST', `/api/releases/${releaseId}/feedback`, { sittingIds });
  const markbook = async (who = teacher, query = '') =>
    (await who.ask<Markbook>('GET', `/api/classes/${classId}/markbook${query}`)).body;
  /** The cell of a student and a release. */
  const cellIn = (book: Markbook, student: Visitor, releaseId: string) =>
    book.cells[book.students.findIndex(s => s.id === student.id)]![
      book.columns.findIndex(c => c.releaseId === releaseId)
    ]!;
  const numbers = async (id: string, who = teacher) =>
    (await who.ask<ReleaseNumbers>('GET', `/api/releases/${id}/numbers`)).body;
  const yearOf = async (student: Visitor, who = teacher) =>
    (
      await who.ask<StudentYear>(
        'GET',
        who === student ? '/api/my-year' : `/api/classes/${classId}/students/${student.id}/year`,
      )
    ).body;

  it('follow a mark from the lane into the cell, the year and the numbers', async () => {
    const release = await set({ tags: [TAG] });
    const [first, second] = students;
    const sat = await handInOne(first!, release);
    expect(cellIn(await markbook(), first!, release.id)).toMatchObject({
      state: 'handedIn',
      points: null,
      sittingId: sat.id,
      unseen: true,
    });
    await mark(sat.id, release.itemId, { points: 7.5, comment: 'Shorter pauses next time.' });
    await giveFeedback(release.id, sat.id);
    const book = await markbook();
    expect(book.columns.find(c => c.releaseId === release.id)).toMatchObject({
      carries: 10,
      scheme: 'points',
      items: 1,
      tags: [TAG],
    });
    expect(cellIn(book, first!, release.id)).toMatchObject({
      state: 'feedbackGiven',
      points: 7.5,
      unseen: false,
    });
    expect(cellIn(book, second!, release.id)).toMatchObject({ state: 'notOpened', sittingId: null });
    const beside = await teacher.ask<CellAnswers>('GET', `/api/sittings/${sat.id}/answers`);
    expect(beside.body.answers).toMatchObject([
      { takeId: sat.takeId, points: 7.5, carries: 10, comment: 'Shorter pauses next time.', finished: true },
    ]);
    const figures = await numbers(release.id);
    expect(figures.figures).toMatchObject({ handedIn: 1, marked: 1, mean: 750, reliability: null });
    expect(figures.answers).toMatchObject([{ takeId: sat.takeId, points: 7.5, takes: 1, passed: false }]);
    const year = await yearOf(first!);
    expect(year.sittings).toMatchObject([
      { points: 7.5, carries: 10, answers: [{ takeId: sat.takeId, points: 7.5 }] },
    ]);
    const canDo = (await teacher.ask<CanDo>('GET', `/api/classes/${classId}/can-do`)).body;
    expect(canDo.tags).toEqual([TAG]);
    const shown = canDo.shown[canDo.students.findIndex(s => s.id === first!.id)]![0];
    expect(shown).toMatchObject([{ points: 7.5, carries: 10, takeId: sat.takeId }]);
    // A changed score is everywhere the changed one.
    const again = { revision: 1, points: 8, comment: '', finished: true, reason: 'Heard again.' };
    await teacher.ask('PUT', `/api/sittings/${sat.id}/marks/${release.itemId}`, again);
    expect(cellIn(await markbook(), first!, release.id).points).toBe(8);
    expect((await numbers(release.id)).figures.mean).toBe(800);
    expect((await yearOf(first!)).sittings[0]!.points).toBe(8);
  });

  it('a student sees their own year alone: no score before the feedback, none that is held', async () => {
    const student = await t.person('student', [classId]);
    const release = await set();
    const sat = await handInOne(student, release);
    await mark(sat.id, release.itemId, { points: 3, comment: 'The end of the word is gone, {name}.' });
    const before = await yearOf(student, student);
    expect(before.sittings).toMatchObject([
      { feedbackGiven: false, points: null, answers: [{ takeId: sat.takeId, points: null, figures: {} }] },
    ]);
    await giveFeedback(release.id, sat.id);
    expect((await yearOf(student, student)).sittings[0]).toMatchObject({ points: 3 });
    await execute(t.ecoute.pool, 'UPDATE releases SET scores_held = 1 WHERE id = :id', release);
    const held = (await yearOf(student, student)).sittings[0]!;
    expect([held.points, held.answers[0]!.points]).toEqual([null, null]);
    expect((await yearOf(student)).sittings[0]!.points).toBe(3);
    // What comes back is said with their name, as on their feedback.
    const later = await set();
    const again = await handInOne(student, later);
    await mark(again.id, later.itemId, { points: 5, comment: 'The end of the word is gone, {name}.' });
    expect((await yearOf(student, student)).recurring).toEqual([]);
    await giveFeedback(later.id, again.id);
    expect((await yearOf(student, student)).recurring).toMatchObject([
      { words: 'The end of the word is gone, Name.', sittings: 2 },
    ]);
    // Nobody else's, and not by way of another class.
    const other = await t.class();
    const stranger = await t.person('teacher', [other]);
    expect((await stranger.ask('GET', `/api/classes/${other}/students/${student.id}/year`)).status).toBe(404);
    expect((await student.ask('GET', `/api/classes/${classId}/students/${student.id}/year`)).status).toBe(
      404,
    );
  });

  it('tell nothing by name of what is heard without names', async () => {
    const release = await set();
    const [first, second] = students;
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: true });
    const sat = await handInOne(first!, release);
    const other = await handInOne(second!, release);
    await mark(sat.id, release.itemId, { points: 9, comment: 'Well read, {name}.' });
    const comment = async () =>
      (await teacher.ask<CellAnswers>('GET', `/api/sittings/${sat.id}/answers`)).body.answers[0]!.comment;
    expect(await comment()).toBe('Well read, ….');
    const book = await markbook();
    for (const student of [first!, second!])
      expect(cellIn(book, student, release.id)).toMatchObject({
        sittingId: null,
        points: null,
        namesHidden: true,
      });
    expect((await yearOf(first!)).sittings.map(s => s.releaseId)).not.toContain(release.id);
    const { sittings, answers } = await numbers(release.id);
    expect(JSON.stringify([sittings, answers])).not.toContain('Name of');
    expect(answers.map(a => a.handedInAt)).toEqual([null, null]);
    // Their order is that of the numbers, which says nothing of the alphabet.
    expect(sittings.map(s => s.studentName)).toEqual(sittings.map(s => s.studentName).toSorted());
    await giveFeedback(release.id, sat.id);
    expect(await comment()).toBe('Well read, Name.');
    expect(cellIn(await markbook(), first!, release.id)).toMatchObject({ sittingId: sat.id, points: 9 });
    expect(cellIn(await markbook(), second!, release.id).sittingId).toBeNull();
    expect((await numbers(release.id)).sittings.find(s => s.id === other.id)!.studentName).toMatch(
      /^Voice \d+$/,
    );
  });

  it('a coordinator sees figures as far as the class lets them, and never a recording', async () => {
    const release = await set();
    const [first] = students;
    const sat = await handInOne(first!, release);
    await mark(sat.id, release.itemId, { points: 4 });
    const rule = (figuresFor: string, who = teacher) =>
      who.ask('PUT', `/api/classes/${classId}/results-rule`, { missingCounts: false, figuresFor });
    const closed = await coordinator.ask<{ message: string }>('GET', `/api/classes/${classId}/markbook`);
    expect([closed.status, closed.body.message]).toEqual([403, expect.stringContaining('have not opened')]);
    expect((await coordinator.ask('GET', `/api/releases/${release.id}/numbers`)).status).toBe(403);
    expect((await rule('students', coordinator)).status).toBe(404);
    await rule('class');
    const whole = await markbook(coordinator);
    expect([whole.students, whole.cells, whole.groups]).toEqual([[], [], []]);
    // Of one or two an average would be a name.
    expect(whole.averages!.every(a => a === null)).toBe(true);
    const few = await numbers(release.id, coordinator);
    expect(few).toMatchObject({ sittings: [], answers: [], figures: { mean: null, bars: [], handedIn: 1 } });
    await rule('students');
    const named = await markbook(coordinator);
    expect(cellIn(named, first!, release.id)).toMatchObject({ points: 4, sittingId: null });
    const each = await numbers(release.id, coordinator);
    expect(each.figures.mean).toBe(400);
    expect(JSON.stringify(each)).not.toContain(sat.id);
    for (const path of [
      `sittings/${sat.id}/answers`,
      `classes/${classId}/can-do`,
      `classes/${classId}/students/${first!.id}/year`,
    ])
      expect((await coordinator.ask('GET', `/api/${path}`)).status).toBe(404);
    await rule('nobody');
  });

  it('a class whose averages five people carry tells them to a coordinator', async () => {
    const own = await t.class();
    const guide = await t.coordinator(own);
    const lead = await t.person('teacher', [own]);
    const many = await Promise.all([1, 2, 3, 4, 5].map(() => t.person('student', [own])));
    const release = await t.release(lead, own, { points: 10 });
    for (const [n, student] of many.entries()) {
      const sat = await handInOne(student, release, 1);
      await lead.ask('PUT', `/api/sittings/${sat.id}/marks/${release.itemId}`, {
        revision: 0,
        points: n,
        comment: '',
        finished: true,
        reason: '',
      });
    }
    await lead.ask('PUT', `/api/classes/${own}/results-rule`, { missingCounts: false, figuresFor: 'class' });
    const { body } = await guide.ask<Markbook>('GET', `/api/classes/${own}/markbook`);
    expect(body.averages).toEqual([{ given: 10, most: 50, count: 5 }]);
  });

  it('a rubric says how often each level was given, and of which answers', async () => {
    const criteria = ['Flow', 'Sounds'].map(name => ({ id: randomUUID(), name, weight: 1, descriptors: [] }));
    const rubric = { levels: ['no', 'nearly', 'yes'].map((name, points) => ({ name, points })), criteria };
    const scoring = { ...blankScoring('homework'), kind: 'rubric' as const, rubric };
    const release = await set({}, { scoring });
    const sat = await handInOne(students[0]!, release);
    const choices = [
      { criterionId: criteria[1]!.id, level: 2 },
      { criterionId: criteria[0]!.id, level: 0 },
    ];
    await mark(sat.id, release.itemId, { points: 5, choices });
    const { figures, answers, ...rest } = await numbers(release.id);
    expect(rest.criteria.map(c => [c.name, c.levels])).toEqual([
      ['Flow', ['no', 'nearly', 'yes']],
      ['Sounds', ['no', 'nearly', 'yes']],
    ]);
    expect(figures.criteria.map(c => [c.counts, c.share, c.tells])).toEqual([
      [[1, 0, 0], 0, null],
      [[0, 0, 1], 1, null],
    ]);
    expect(answers[0]!.levels).toEqual([0, 2]);
  });

  it('a scheme without numbers has none', async () => {
    const scoring = { ...blankScoring('placement'), kind: 'level' as const };
    const release = await set({ points: 0 }, { startingPoint: 'placement', scoring });
    const sat = await handInOne(students[0]!, release);
    await mark(sat.id, release.itemId, { choices: [{ criterionId: release.itemId, level: 2 }] });
    const level = await teacher.ask('PUT', `/api/sittings/${sat.id}/level`, { level: 3, revision: 0 });
    expect(level.status).toBe(200);
    const book = await markbook();
    expect(book.columns.find(c => c.releaseId === release.id)).toMatchObject({
      carries: null,
      scheme: 'level',
    });
    expect(cellIn(book, students[0]!, release.id)).toMatchObject({ points: null, done: null, level: 3 });
    const { figures } = await numbers(release.id);
    expect(figures).toMatchObject({ bars: [], mean: null, items: [{ share: null, bars: [] }] });
    expect(figures.levels!.map(l => l.count)).toEqual([0, 0, 0, 1, 0, 0, 0]);
    const sitting = (await yearOf(students[0]!)).sittings.find(s => s.sittingId === sat.id);
    expect(sitting).toMatchObject({
      points: null,
      carries: null,
      level: 'B1',
      answers: [{ shows: 'A2', points: null }],
    });
  });

  it('compares the same people twice, by level, with an exact test, and names who came once', async () => {
    const own = await t.class();
    const lead = await t.person('teacher', [own]);
    const people = await Promise.all([1, 2, 3, 4].map(() => t.person('student', [own])));
    const item = spokenItem({ points: 0 });
    const made = await lead.ask<{ id: string }>('POST', '/api/assessments', {
      ...blankContent('placement', { title: 'Twice', items: [item] }),
    });
    const give = async () =>
      (
        await lead.ask<{ id: string }>('POST', '/api/releases', {
          assessmentId: made.body.id,
          classId: own,
          dueAt: new Date(Date.now() + DAY).toISOString(),
          lateAccepted: true,
          note: '',
        })
      ).body.id;
    const [before, after] = [await give(), await give()];
    const sit = async (student: Visitor, id: string, level: number) => {
      const sitting = await student.ask<{ id: string }>('POST', `/api/releases/${id}/sitting`);
      await recordTake(student, sitting.body.id, item.id, tone(1));
      await student.ask('POST', `/api/sittings/${sitting.body.id}/hand-in`, { withGaps: false });
      await lead.ask('PUT', `/api/sittings/${sitting.body.id}/marks/${item.id}`, {
        revision: 0,
        points: null,
        comment: '',
        finished: true,
        reason: '',
      });
      await lead.ask('PUT', `/api/sittings/${sitting.body.id}/level`, { level, revision: 0 });
    };
    for (const student of people.slice(0, 3)) {
      await sit(student, before, 1);
      await sit(student, after, 2);
    }
    await sit(people[3]!, after, 2);
    const { body } = await lead.ask<Compared>(
      'GET',
      `/api/classes/${own}/compared?before=${before}&after=${after}`,
    );
    expect(body.pairs).toEqual([{ before: item.id, after: item.id }]);
    expect(body.students.map(s => [s.before.level, s.after.level, s.before.points])).toEqual([
      [1, 2, null],
      [1, 2, null],
      [1, 2, null],
    ]);
    expect(body.students[0]!.after.takes).toHaveLength(1);
    expect([body.onlyBefore, body.onlyAfter.length]).toEqual([[], 1]);
    expect(body.shift).toMatchObject({ by: 'levels', up: 3, down: 0, same: 0, p: 0.25, isExact: true });
    // Of another class: as if it were not there.
    const foreign = await set();
    for (const query of [
      `before=${before}&after=${foreign.id}`,
      `before=${before}`,
      `before=x&after=${after}`,
    ])
      expect((await lead.ask('GET', `/api/classes/${own}/compared?${query}`)).status).toBe(404);
  });

  it('are bounded by days, and by the rule of the class', async () => {
    const day = (ms: number) => new Date(Date.now() + ms).toISOString().slice(0, 10);
    expect((await markbook(teacher, `?from=${day(30 * DAY)}`)).columns).toEqual([]);
    const late = await set({}, {}, 3 * DAY);
    const due = day(3 * DAY);
    expect((await markbook(teacher, `?from=${due}&to=${due}`)).columns.map(c => c.releaseId)).toEqual([
      late.id,
    ]);
    expect((await teacher.ask('GET', `/api/classes/${classId}/markbook?from=2026-02-30`)).status).toBe(422);
    await teacher.ask('PUT', `/api/classes/${classId}/results-rule`, {
      missingCounts: true,
      figuresFor: 'nobody',
    });
    expect((await markbook()).missingCounts).toBe(true);
    const wrong = await teacher.ask('PUT', `/api/classes/${classId}/results-rule`, {
      missingCounts: 1,
      figuresFor: 'all',
    });
    expect(wrong.status).toBe(422);
  });

  it('show who left beside the class, and an empty class as empty', async () => {
    const leaver = await t.person('student', [classId]);
    const release = await set();
    await handInOne(leaver, release);
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${leaver.id}`);
    const book = await markbook();
    expect(book.students.find(s => s.id === leaver.id)?.kind).toBe('left');
    expect((await yearOf(leaver)).sittings).toHaveLength(1);
    const empty = await t.class();
    const alone = await t.person('teacher', [empty]);
    const { body } = await alone.ask<Markbook>('GET', `/api/classes/${empty}/markbook`);
    expect(body).toMatchObject({ columns: [], students: [], cells: [], averages: null });
    expect((await alone.ask<CanDo>('GET', `/api/classes/${empty}/can-do`)).body.tags).toEqual([]);
    expect((await alone.ask<{ id: string }[]>('GET', '/api/results')).body.map(c => c.id)).toEqual([empty]);
  });

  it('terms are named days of their own, and not days without lessons', async () => {
    const term = { name: 'Autumn', firstOn: '2026-09-01', lastOn: '2026-12-20' };
    const made = await teacher.ask<{ id: string; name: string }[]>('POST', '/api/terms', term);
    expect(made.body.map(x => x.name)).toContain('Autumn');
    expect((await teacher.ask<object[]>('GET', '/api/holidays')).body).toEqual([]);
    const id = made.body.find(x => x.name === 'Autumn')!.id;
    expect((await teacher.ask('DELETE', `/api/holidays/${id}`)).status).toBe(404);
    expect((await coordinator.ask('DELETE', `/api/terms/${id}`)).status).toBe(403);
    expect((await teacher.ask<object[]>('DELETE', `/api/terms/${id}`)).body).toEqual([]);
    expect((await teacher.ask('DELETE', `/api/terms/${randomUUID()}`)).status).toBe(404);
  });
});
