import { randomUUID } from 'node:crypto';
import { blankContent } from '@ecoute/contract/blank';
import { recordTake, spokenItem, TestEcoute, type Visitor } from '../../testing/ecoute';

/** What is in the answers: every route that reads, asked by everybody, and whose words come back from it. */
describe('what an answer tells', () => {
  const KINDS = [
    'nobody',
    'phone',
    'teacher',
    'coordinator',
    'administrator',
    'otherTeacher',
    'student',
    'classmate',
    'stranger',
  ] as const;
  type Kind = (typeof KINDS)[number];
  /** Words that stand nowhere else, and who may read them anywhere. */
  const WORDS: Record<string, readonly Kind[]> = {
    'Aino Student': ['teacher', 'coordinator', 'administrator', 'student'],
    'Bela Classmate': ['teacher', 'coordinator', 'administrator', 'classmate'],
    'Cato Teacher': ['teacher', 'coordinator', 'administrator', 'student', 'classmate'],
    'Dido Stranger': ['otherTeacher', 'administrator', 'stranger'],
    'Egon Otherteacher': ['otherTeacher', 'administrator', 'stranger'],
    'signin.student': ['teacher', 'coordinator', 'administrator', 'student'],
    'signin.stranger': ['otherTeacher', 'administrator', 'stranger'],
    // Mail is written by those who teach somebody; who looks after accounts has their names.
    'aino@mail.example': ['teacher', 'student'],
    'cato@mail.example': ['teacher'],
    'dido@mail.example': ['otherTeacher', 'stranger'],
    // A phone reads the one item that it continues, and of what it is.
    'the class of ours': ['teacher', 'coordinator', 'student', 'classmate', 'phone'],
    'a class of others': ['otherTeacher', 'stranger'],
    'the title of it': ['teacher', 'coordinator', 'student', 'classmate', 'phone'],
    // Whoever plans a release sees what is asked in it, and hears nobody.
    'words of the prompt': ['teacher', 'coordinator', 'student', 'classmate', 'phone'],
    'words of the model': ['teacher', 'coordinator', 'classmate'],
    'not yet returned': ['teacher'],
    'a note not returned': ['teacher'],
    'returned to the classmate': ['teacher', 'classmate'],
    'why it was excused': ['teacher'],
    'a topic of mine': ['teacher'],
    'department of mine': ['teacher'],
    'a statement of mine': ['teacher'],
    // Shown to the teacher, and behind an address that ends.
    'a portfolio of hers': ['teacher', 'classmate'],
    'what she thinks of it': ['teacher', 'classmate'],
    'whom an address is for': ['classmate'],
  };
  let t: TestEcoute;
  let people: Record<Kind, Visitor>;
  /** What a path may be filled with: ours, and what belongs to the classmate. */
  let worlds: Record<string, string>[];

  beforeAll(async () => {
    t = await TestEcoute.open();
    const [ours, others] = [await t.class(), await t.class()];
    people = {
      nobody: t.visitor(),
      phone: t.visitor(),
      teacher: await t.person('teacher', [ours]),
      coordinator: await t.coordinator(ours),
      administrator: await t.person('teacher'),
      otherTeacher: await t.person('teacher', [others]),
      student: await t.person('student', [ours]),
      classmate: await t.person('student', [ours]),
      stranger: await t.person('student', [others]),
    };
    const { pool } = t.ecoute;
    const called = (who: Kind, name: string) =>
      pool.query('UPDATE people SET display_name = ?, sign_in_name = ?, email = ? WHERE id = ?', [
        name,
        `signin.${who.toLowerCase()}`,
        `${name.split(' ')[0]!.toLowerCase()}@mail.example`,
        people[who].id,
      ]);
    await called('student', 'Aino Student');
    await called('classmate', 'Bela Classmate');
    await called('teacher', 'Cato Teacher');
    await called('stranger', 'Dido Stranger');
    await called('otherTeacher', 'Egon Otherteacher');
    await pool.query('UPDATE people SET is_admin = TRUE WHERE id = ?', [people.administrator.id]);
    await pool.query('UPDATE classes SET name = ? WHERE id = ?', ['the class of ours', ours]);
    await pool.query('UPDATE classes SET name = ? WHERE id = ?', ['a class of others', others]);

    const { teacher, student, classmate, phone } = people;
    const excused = await t.person('student', [ours]);
    const item = spokenItem({ promptText: 'words of the prompt', modelText: 'words of the model' });
    const ask = async <T = { id: string }>(who: Visitor, method: string, path: string, body?: unknown) => {
      const answer = await who.ask<T>(method, path, body);
      expect([path, answer.status]).toEqual([path, 200]);
      return answer.body;
    };
    const assessment = await ask(
      teacher,
      'POST',
      '/api/assessments',
      blankContent('homework', { title: 'the title of it', items: [item] }),
    );
    const release = await ask(teacher, 'POST', '/api/releases', {
      assessmentId: assessment.id,
      classId: ours,
      dueAt: new Date(Date.now() + 3_600_000).toISOString(),
      lateAccepted: true,
      note: '',
      sittingsAllowed: 2,
    });
    const sat = async (who: Visitor, comment: string) => {
      const sitting = await ask(who, 'POST', `/api/releases/${release.id}/sitting`);
      const { recordingId } = await recordTake(who, sitting.id, item.id);
      const handover = await ask<{ code: string }>(
        who,
        'POST',
        `/api/sittings/${sitting.id}/items/${item.id}/handover`,
      );
      if (who === student) await ask(phone, 'POST', '/api/phone', { code: handover.code });
      else await ask(who, 'POST', `/api/sittings/${sitting.id}/hand-in`, { withGaps: false });
      const marked = { revision: 0, points: 4, comment, finished: true, reason: '' };
      if (who !== student) await ask(teacher, 'PUT', `/api/sittings/${sitting.id}/marks/${item.id}`, marked);
      return { sittingId: sitting.id, takeId: recordingId, recordingId };
    };
    const his = await sat(student, '');
    const hers = await sat(classmate, 'returned to the classmate');
    await ask(teacher, 'POST', `/api/releases/${release.id}/feedback`, { sittingIds: [hers.sittingId] });
    // Sat once more, marked, without feedback.
    const again = await ask(classmate, 'POST', `/api/releases/${release.id}/another-sitting`);
    const take = await recordTake(classmate, again.id, item.id);
    await ask(classmate, 'POST', `/api/sittings/${again.id}/hand-in`, { withGaps: false });
    await ask(teacher, 'PUT', `/api/sittings/${again.id}/marks/${item.id}`, {
      revision: 0,
      points: 2,
      comment: 'not yet returned',
      finished: true,
      reason: '',
    });
    const noteId = randomUUID();
    await ask(teacher, 'PUT', `/api/takes/${take.recordingId}/notes/${noteId}`, {
      revision: 0,
      fromMs: 0,
      toMs: 500,
      words: 'a note not returned',
    });
    await ask(teacher, 'POST', `/api/releases/${release.id}/decisions`, {
      kind: 'excuse',
      personId: excused.id,
      reason: 'why it was excused',
    });
    const [topic] = await ask<{ id: string }[]>(teacher, 'POST', '/api/comment-bank/topics', {
      topics: [{ name: 'a topic of mine', comments: [] }],
    });
    const [department] = await ask<{ id: string }[]>(teacher, 'POST', '/api/departments', {
      name: 'department of mine',
    });
    const [tags] = await ask<{ id: string }[]>(teacher, 'POST', '/api/tag-lists', {
      name: 'L',
      statements: [{ code: 'A1', words: 'a statement of mine' }],
    });
    const portfolio = await ask(classmate, 'POST', '/api/portfolios', {
      title: 'a portfolio of hers',
      words: '',
      pieces: [
        {
          id: randomUUID(),
          takeId: hers.takeId,
          title: '',
          words: 'what she thinks of it',
          pictureId: null,
          pictureWords: '',
          voiceId: null,
        },
      ],
    });
    await ask(classmate, 'PUT', `/api/portfolios/${portfolio.id}/readers`, { teacherIds: [teacher.id] });
    await ask(classmate, 'POST', `/api/portfolios/${portfolio.id}/addresses`, {
      name: 'whom an address is for',
      days: 7,
      language: 'en',
    });
    const world = {
      portfolioId: portfolio.id,
      classId: ours,
      assessmentId: assessment.id,
      releaseId: release.id,
      itemId: item.id,
      topicId: topic!.id,
      departmentId: department!.id,
      tagListId: tags!.id,
      personId: student.id,
      noteId,
    };
    worlds = [
      { ...world, ...his },
      { ...world, ...hers, personId: classmate.id },
      { ...world, sittingId: again.id, takeId: take.recordingId, recordingId: take.recordingId },
      { ...world, classId: others, personId: people.stranger.id },
    ];
  });
  afterAll(() => t.close());

  // Thousands of questions: where other work goes on beside them, they take longer than any other test.
  const LONG_MS = 400_000;
  it(
    'says nothing, on any route, to whom it does not concern',
    async () => {
      // A line that stays open.
      const routes = t.ecoute.routes.filter(r => r.method === 'get' && r.path !== '/api/changes');
      const read = new Map(KINDS.map(kind => [kind, new Set<string>()]));
      const wrong = new Set<string>();
      for (const { path } of routes)
        for (const world of worlds) {
          const filled = path.replace(/:(\w+)/g, (_, name: string) => world[name] ?? randomUUID());
          await Promise.all(
            KINDS.map(async kind => {
              const { body, headers } = await people[kind].ask(path.includes('zip') ? 'HEAD' : 'GET', filled);
              const answer = `${typeof body === 'string' ? body : JSON.stringify(body)} ${[...headers].join()}`;
              for (const [words, may] of Object.entries(WORDS))
                if (answer.includes(words)) {
                  read.get(kind)!.add(words);
                  if (!may.includes(kind)) wrong.add(`${kind} reads "${words}" at ${path}`);
                }
            }),
          );
          if (!path.includes(':')) break;
        }
      expect([...wrong]).toEqual([]);
      // Words that nobody reads anywhere would prove nothing.
      for (const [words, may] of Object.entries(WORDS))
        expect([words, may.some(kind => read.get(kind)!.has(words))]).toEqual([words, true]);
    },
    LONG_MS,
  );
});
