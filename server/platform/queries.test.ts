import { randomUUID } from 'node:crypto';
import { handInOne, TestEcoute, type Answer, type Visitor } from '../testing/ecoute';
import { noteQuestions } from '../testing/questions';

/** A line that stays open; and what costs none once it is remembered, which has a test of its own. */
const APART = ['/api/changes', '/api/recordings/:recordingId/sound'];

interface World {
  teacher: Visitor;
  student: Visitor;
  ids: Record<string, string>;
}

/**
 * How many questions to the database a request costs, with its session and its right. Asked a second time, so that what is
 * remembered is not asked again. Whoever adds to one says so here.
 */
const HELD: Record<string, number> = {
  'teacher /api/health': 1,
  'student /api/health': 1,
  'teacher /api/session': 1,
  'student /api/session': 2,
  'teacher /api/me': 5,
  'student /api/me': 5,
  'teacher /api/invitations': 2,
  'student /api/invitations': 2,
  'teacher /api/classes': 3,
  'teacher /api/classes/:classId': 8,
  'teacher /api/put-away-classes': 2,
  'teacher /api/classes/:classId/members/:personId/families': 7,
  'student /api/me/families': 2,
  'teacher /api/classes/:classId/list': 6,
  'teacher /api/one-roster': 4,
  'teacher /api/releases/:releaseId/links': 3,
  'teacher /api/releases/:releaseId/guests': 4,
  'teacher /api/calendar-feed': 2,
  'student /api/calendar-feed': 2,
  'teacher /api/mailbox': 2,
  'teacher /api/assessments': 2,
  'teacher /api/put-away': 2,
  'teacher /api/assessments/:assessmentId': 3,
  'teacher /api/assessments/:assessmentId/voices': 3,
  'teacher /api/departments': 2,
  'teacher /api/shelf': 2,
  'teacher /api/assessments/:assessmentId/shares': 3,
  'teacher /api/tag-lists': 2,
  'teacher /api/rubrics': 2,
  'teacher /api/assessments/:assessmentId/package': 3,
  'student /api/recordings/:recordingId': 3,
  'teacher /api/recordings/:recordingId/details': 6,
  'student /api/recordings/:recordingId/details': 4,
  'teacher /api/recordings/:recordingId/file': 6,
  'student /api/recordings/:recordingId/file': 4,
  'teacher /api/recordings/:recordingId/peaks': 5,
  'student /api/recordings/:recordingId/peaks': 3,
  'teacher /api/releases': 6,
  'teacher /api/releases/:releaseId/before': 7,
  'teacher /api/releases/:releaseId': 9,
  'teacher /api/holidays': 2,
  'teacher /api/terms': 2,
  'student /api/sittings/:sittingId': 12,
  'teacher /api/takes/:takeId/sheet': 5,
  'student /api/takes/:takeId/sheet': 3,
  'teacher /api/sittings/:sittingId/account': 8,
  'student /api/sittings/:sittingId/turns': 6,
  'teacher /api/takes/:takeId/notes.vtt': 10,
  'teacher /api/sittings/:sittingId/scores': 4,
  'teacher /api/releases/:releaseId/lanes': 18,
  'teacher /api/sittings/:sittingId/items/:itemId/beside': 9,
  'student /api/todo': 8,
  'student /api/my-recordings': 2,
  'student /api/feedback': 6,
  'student /api/sittings/:sittingId/feedback': 20,
  'teacher /api/results': 2,
  'teacher /api/classes/:classId/markbook': 12,
  'teacher /api/classes/:classId/can-do': 8,
  'teacher /api/classes/:classId/students/:personId/year': 13,
  'student /api/my-year': 12,
  'teacher /api/sittings/:sittingId/answers': 11,
  'teacher /api/releases/:releaseId/numbers': 12,
  'teacher /api/sittings/:sittingId/sheet.pdf': 21,
  'student /api/sittings/:sittingId/feedback.pdf': 22,
  'teacher /api/releases/:releaseId/recordings.zip': 7,
  'teacher /api/exports': 2,
  'teacher /api/classes/:classId/school': 6,
  'student /api/portfolios': 3,
  'teacher /api/classes/:classId/students/:personId/portfolios': 5,
  'teacher /api/classes/:classId/spoken-messages': 3,
  'student /api/spoken-messages': 2,
  'student /api/podcast': 2,
  'teacher /api/releases/:releaseId/feed': 3,
  'teacher /feeds/:addressId/work.rss': 5,
  'student /feeds/:addressId/work.rss': 5,
  'teacher /api/comment-bank': 2,
  'teacher /api/comment-bank.csv': 2,
  'teacher /api/comment-bank/lately': 4,
  'teacher /api/takes/:takeId/evidence': 3,
  'teacher /api/releases/:releaseId/evidence': 3,
  'teacher /api/sittings/:sittingId/items/:itemId/markups': 3,
  'teacher /api/releases/:releaseId/decisions': 4,
  'teacher puts a score': 20,
  'teacher puts a note': 19,
};

describe('the questions of a request', () => {
  let t: TestEcoute;
  let small: World;
  let large: World;
  let lastAsked: () => readonly string[];

  /** Releases that were answered by all, of which all but the last one have their feedback. */
  async function world(students: number, releases: number): Promise<World> {
    const classId = await t.class();
    const teacher = await t.person('teacher', [classId]);
    const people: Visitor[] = [];
    for (let i = 0; i < students; i++) people.push(await t.person('student', [classId]));
    const student = people.at(-1)!;
    const ids: Record<string, string> = { classId, personId: student.id };
    for (let i = 0; i < releases; i++) {
      const release = await t.release(teacher, classId);
      for (const one of people) {
        const sitting = await handInOne(one, release);
        const at = `/api/sittings/${sitting.id}/marks/${release.itemId}`;
        const mark = { points: 4, comment: 'Well said.', finished: true, revision: 0, reason: '' };
        expect((await teacher.ask('PUT', at, mark)).status).toBe(200);
        const note = { fromMs: 500, toMs: null, words: 'here', revision: 0 };
        await teacher.ask('PUT', `/api/takes/${sitting.takeId}/notes/${randomUUID()}`, note);
        const isLast = i === releases - 1;
        if (!isLast)
          await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sitting.id] });
        if (one === student && !isLast) ids.givenId = sitting.id;
        Object.assign(ids, { releaseId: release.id, assessmentId: release.assessmentId });
        Object.assign(ids, { itemId: release.itemId, sittingId: sitting.id });
        Object.assign(ids, { takeId: sitting.takeId, recordingId: sitting.takeId });
      }
    }
    const podcast = await student.ask<{ url: string }>('POST', '/api/podcast', {});
    ids.addressId = podcast.body.url.split('/').at(-2)!;
    return { teacher, student, ids };
  }

  beforeAll(async () => {
    t = await TestEcoute.open();
    lastAsked = noteQuestions(t.ecoute);
    small = await world(2, 2);
    large = await world(3, 3);
    await t.ecoute.jobs.stop();
  });
  afterAll(() => t.close());

  const fill = (path: string, ids: Record<string, string>) =>
    path
      .replace('/api/sittings/:sittingId/feedback', '/api/sittings/:givenId/feedback')
      .replace(/:(\w+)/g, (whole, name: string) => ids[name] ?? whole);

  /** The second time: what is remembered of the first is. */
  async function questions(
    who: Visitor,
    path: string,
  ): Promise<{ answer: Answer; asked: readonly string[] }> {
    await who.ask('GET', path);
    const answer = await who.ask('GET', path);
    return { answer, asked: lastAsked() };
  }

  it('are as many for a large class as for a small one, none of them twice, and no more than is said here', async () => {
    const found: Record<string, number> = {};
    const wrong: string[] = [];
    for (const { path, method } of t.ecoute.routes) {
      if (method !== 'get' || APART.includes(path) || fill(path, small.ids).includes('/:')) continue;
      for (const who of ['teacher', 'student'] as const) {
        const [few, many] = [
          await questions(small[who], fill(path, small.ids)),
          await questions(large[who], fill(path, large.ids)),
        ];
        if (few.answer.status !== 200 || many.answer.status !== 200) continue;
        const name = `${who} ${path}`;
        found[name] = many.asked.length;
        if (few.asked.length !== many.asked.length)
          wrong.push(`${name}: ${few.asked.length} for few, ${many.asked.length} for many`);
        for (const [n, one] of many.asked.entries())
          if (many.asked.indexOf(one) < n) wrong.push(`${name}: asked twice: ${one}`);
      }
    }
    // What is done again and again.
    for (const { teacher, ids } of [small, large]) {
      const mark = { points: 3, comment: '', finished: true, revision: 1, reason: 'Heard again.' };
      const marked = await teacher.ask('PUT', `/api/sittings/${ids.sittingId}/marks/${ids.itemId}`, mark);
      expect(marked.status).toBe(200);
      found['teacher puts a score'] = lastAsked().length;
      const note = { fromMs: 700, toMs: null, words: 'there', revision: 0 };
      expect((await teacher.ask('PUT', `/api/takes/${ids.takeId}/notes/${randomUUID()}`, note)).status).toBe(
        200,
      );
      found['teacher puts a note'] = lastAsked().length;
    }
    expect(wrong).toEqual([]);
    expect(found).toEqual(HELD);
  });
});
