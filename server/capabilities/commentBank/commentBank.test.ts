import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { bankRows, type BankRow } from '@ecoute/core/feedback/bankFile';
import type { BankImport, BankLately, KeptInBank, Topic } from '@ecoute/contract/commentBank';
import { LIMITS } from '@ecoute/contract/limits';
import type { ListenView, FeedbackView } from '@ecoute/contract/marking';
import type { Note } from '@ecoute/contract/notes';
import { handInOne, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('the comment bank', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let colleague: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    colleague = await t.person('teacher');
  });
  afterAll(() => t.close());

  const make = (who: Visitor, over: object) =>
    who.ask<Topic[]>('POST', '/api/comment-bank/topics', {
      topics: [{ name: 'Sounds', comments: [{ words: 'Good, {name}.', link: '' }], ...over }],
    });
  const bank = async (who: Visitor) => (await who.ask<Topic[]>('GET', '/api/comment-bank')).body;
  const topic = async (over: object = {}) => {
    const before = new Set((await bank(teacher)).map(x => x.id));
    return (await make(teacher, over)).body.find(x => !before.has(x.id))!;
  };

  it('holds topics and comments in their teacher’s order, moved within and between topics', async () => {
    const words = (n: number) => ({ words: `comment ${n}`, link: '' });
    const a = await topic({ name: 'A', comments: [words(1), words(2), words(3)] });
    const b = await topic({ name: 'B', comments: [] });
    const [one, two, three] = a.comments.map(c => c.id);
    const put = (id: string, order: (string | undefined)[]) =>
      teacher.ask<Topic[]>('PUT', `/api/comment-bank/topics/${id}`, { name: 'renamed', order });
    await put(a.id, [three, one, two]);
    await put(b.id, [one]);
    const now = await bank(teacher);
    const of = (id: string) => now.find(x => x.id === id)!;
    expect(of(a.id).comments.map(c => c.id)).toEqual([three, two]);
    expect([of(b.id).name, of(b.id).comments.map(c => c.id)]).toEqual(['renamed', [one]]);
    const ids = now.map(x => x.id).reverse();
    const ordered = await teacher.ask<Topic[]>('PUT', '/api/comment-bank/order', { topicIds: ids });
    expect(ordered.body.map(x => x.id)).toEqual(ids);
    expect((await colleague.ask('PUT', '/api/comment-bank/order', { topicIds: ids })).status).toBe(404);
  });

  it('keeps nothing that is no comment, and no link that cannot be followed', async () => {
    const { id } = await topic();
    const save = (over: object) =>
      teacher.ask('PUT', `/api/comment-bank/topics/${id}/comments/${randomUUID()}`, {
        words: 'x',
        link: '',
        ...over,
      });
    for (const bad of [{ words: '  ' }, { words: 'x'.repeat(2_001) }, { link: 'javascript:alert(1)' }])
      expect((await save(bad)).status).toBe(422);
    expect((await save({ words: 'شكرا 🙂 <img src=x>', link: 'https://b.example/lh' })).status).toBe(200);
    expect((await make(teacher, { comments: [{ words: '', link: '' }] })).status).toBe(422);
  });

  it('shares a department’s topics with its members, and with nobody else', async () => {
    const { body } = await teacher.ask<{ id: string }[]>('POST', '/api/departments', { name: 'Languages' });
    const departmentId = body.at(-1)!.id;
    const mine = await topic({ name: 'Mine' });
    const shared = (await make(teacher, { name: 'Shared', departmentId })).body.find(
      x => x.name === 'Shared',
    )!;
    expect(await bank(colleague)).toEqual([]);
    expect((await make(colleague, { departmentId })).status).toBe(404);
    await t.ecoute.pool.query('INSERT INTO department_members (department_id, person_id) VALUES (?, ?)', [
      departmentId,
      colleague.id,
    ]);
    expect((await bank(colleague)).map(x => [x.id, x.departmentName])).toEqual([[shared.id, 'Languages']]);
    const path = (id: string) => `/api/comment-bank/topics/${id}`;
    expect((await colleague.ask('PUT', path(shared.id), { name: 'Ours' })).status).toBe(200);
    expect((await colleague.ask('PUT', path(mine.id), { name: 'Ours' })).status).toBe(404);
    await colleague.ask('DELETE', path(shared.id));
    expect((await bank(teacher)).some(x => x.id === shared.id)).toBe(false);
    await teacher.ask('POST', `${path(shared.id)}/putting-back`);
    expect((await bank(colleague)).map(x => [x.name, x.comments.length])).toEqual([['Ours', 1]]);
  });

  it('counts what is used, and goes out as CSV that a spreadsheet does not run', async () => {
    const { id, comments } = await topic({ name: '=Flow', comments: [{ words: '=1+1, "good"', link: '' }] });
    const use = (who: Visitor) => who.ask('POST', `/api/comment-bank/comments/${comments[0]!.id}/use`);
    expect([(await use(teacher)).status, (await use(colleague)).status]).toEqual([204, 404]);
    await use(teacher);
    expect((await bank(teacher)).find(x => x.id === id)!.comments[0]!.used).toBe(2);
    const csv = await teacher.ask<string>('GET', '/api/comment-bank.csv');
    expect(csv.headers.get('content-type')).toContain('text/csv');
    expect(csv.body.split('\r\n')[0]).toMatch(/^\ufeff?topic,comment,link,kind,department,clip,used$/);
    expect(csv.body).toContain(`"'=Flow","'=1+1, ""good""",,comment,,,2`);
    const path = `/api/comment-bank/topics/${id}/comments/${comments[0]!.id}`;
    expect((await teacher.ask<Topic[]>('DELETE', path)).body.find(x => x.id === id)!.comments).toEqual([]);
  });

  const cells = (csv: string) =>
    bankRows(Papa.parse<string[]>(csv.replace('\ufeff', ''), { skipEmptyLines: 'greedy' }).data, {
      comment: LIMITS.note,
      praise: LIMITS.praise,
    });
  const readIn = (who: Visitor, rows: BankRow[], trial = false) =>
    who.ask<BankImport>('POST', '/api/comment-bank/imports', { fileName: 'bank.csv', rows, trial });
  const row = (over: Partial<BankRow>): BankRow => ({
    ...{ topic: 'File', words: 'x', link: '', praise: false, department: '', clip: '', used: 0 },
    ...over,
  });
  const lately = async (who: Visitor) => (await who.ask<BankLately>('GET', '/api/comment-bank/lately')).body;

  it('reads its own file back without loss and without doubling anything', async () => {
    const own = await t.person('teacher');
    const departments = await own.ask<{ id: string }[]>('POST', '/api/departments', { name: 'Winds' });
    const clip = randomUUID();
    const first = (
      await make(own, { name: '=A', comments: [{ words: "'=b\n“c”", link: 'https://b.example' }] })
    ).body.at(-1)!;
    await make(own, { name: 'Brave', praise: true });
    await make(own, { name: 'Ours', departmentId: departments.body.at(-1)!.id });
    const path = `/api/comment-bank/topics/${first.id}/comments/${first.comments[0]!.id}`;
    const { words, link } = first.comments[0]!;
    await own.ask('PUT', path, { words, link, voice: { recordingId: clip, mediaType: 'audio/wav' } });
    await own.ask('POST', `/api/comment-bank/comments/${first.comments[0]!.id}/use`);
    const file = cells((await own.ask<string>('GET', '/api/comment-bank.csv')).body);
    expect(file.problems).toEqual([]);
    const before = await bank(own);
    const again = await readIn(own, file.rows);
    expect([again.body.importId, again.body.parts.map(p => p.comes.length)]).toEqual([null, [0, 0, 0]]);
    expect(await bank(own)).toEqual(before);
    // All taken away, then read in: what is there is what was there.
    for (const { id } of before) await own.ask('DELETE', `/api/comment-bank/topics/${id}`);
    expect((await readIn(own, file.rows)).body.clipsLost).toBe(0);
    const facts = (topics: Topic[]) =>
      topics.map(x => [
        x.name,
        x.praise,
        x.departmentName,
        x.comments.map(c => [c.words, c.link, c.voiceId, c.used]),
      ]);
    expect(facts(await bank(own))).toEqual(facts(before));
    // Somebody else's clip is not theirs to take along.
    const other = await readIn(colleague, file.rows, true);
    expect([other.body.clipsLost, other.body.departmentsLost]).toEqual([1, ['Winds']]);
  });

  it('says what a file would do and stores nothing of it; pressed twice it comes in once, and goes out as one', async () => {
    const own = await t.person('teacher');
    const flow = (await make(own, { name: 'Flow', comments: [{ words: 'There.', link: '' }] })).body[0]!;
    const rows = [
      row({ topic: 'flow', words: 'There.' }),
      row({ topic: 'flow', words: 'New.' }),
      row({ topic: 'Other' }),
    ];
    const trial = await readIn(own, rows, true);
    expect(trial.body.parts.map(p => [p.name, p.isNew, p.comes, p.known])).toEqual([
      ['Flow', false, ['New.'], 1],
      ['Other', true, ['x'], 0],
    ]);
    expect((await bank(own)).map(x => x.comments.length)).toEqual([1]);
    const both = await Promise.all([readIn(own, rows), readIn(own, rows)]);
    const ids = both.flatMap(b => b.body.importId ?? []);
    expect(ids).toHaveLength(1);
    expect((await lately(own)).imports).toMatchObject([{ fileName: 'bank.csv', comments: 2, topics: 1 }]);
    const undo = (who: Visitor) => who.ask<Topic[]>('DELETE', `/api/comment-bank/imports/${ids[0]}`);
    expect((await undo(colleague)).status).toBe(404);
    expect((await undo(own)).body.map(x => [x.id, x.comments.length])).toEqual([[flow.id, 1]]);
    expect(await lately(own)).toEqual({ imports: [], topics: [], comments: [] });
    // Taken out, it can be brought in again; what was put beside it since stays.
    const again = (await readIn(own, rows)).body.importId;
    const other = (await bank(own)).find(x => x.name === 'Other')!;
    await own.ask('PUT', `/api/comment-bank/topics/${other.id}/comments/${randomUUID()}`, {
      words: 'Mine.',
      link: '',
    });
    const left = await own.ask<Topic[]>('DELETE', `/api/comment-bank/imports/${again}`);
    expect(left.body.map(x => x.comments.map(c => c.words))).toEqual([['There.'], ['Mine.']]);
  });

  it('takes no file whose rows are no comments', async () => {
    for (const bad of [row({ words: ' ' }), row({ link: 'javascript:alert(1)' }), row({ clip: 'x' })])
      expect((await readIn(teacher, [bad])).status).toBe(422);
  });

  it('puts back what was taken away, also after a reload, and only by whoever may', async () => {
    const own = await t.person('teacher');
    const flow = (await make(own, { name: 'Flow' })).body[0]!;
    const path = `/api/comment-bank/topics/${flow.id}/comments/${flow.comments[0]!.id}`;
    await own.ask('DELETE', path);
    expect((await lately(own)).comments).toMatchObject([{ topicName: 'Flow', words: 'Good, {name}.' }]);
    expect((await lately(colleague)).comments.some(c => c.topicId === flow.id)).toBe(false);
    expect((await colleague.ask('POST', `${path}/putting-back`)).status).toBe(404);
    expect((await own.ask<Topic[]>('POST', `${path}/putting-back`)).body[0]!.comments).toHaveLength(1);
    expect((await lately(own)).comments).toEqual([]);
  });

  it('keeps a comment just written, once, under a topic of that name', async () => {
    const own = await t.person('teacher');
    const keep = (words: string, topicName = 'While listening') =>
      own.ask<KeptInBank>('POST', '/api/comment-bank/kept', { topic: topicName, words, link: '' });
    const first = await keep('Well read, {name}.');
    expect([first.body.known, first.body.newTopic]).toEqual([false, true]);
    const [second, third] = [await keep(' Well  read, {name}. '), await keep('Louder.', 'while LISTENING')];
    expect([second.body.known, second.body.commentId]).toEqual([true, first.body.commentId]);
    expect([third.body.newTopic, third.body.topicId]).toEqual([false, first.body.topicId]);
    expect((await bank(own)).map(x => [x.name, x.comments.map(c => c.words)])).toEqual([
      ['While listening', ['Well read, {name}.', 'Louder.']],
    ]);
    expect((await keep(' ')).status).toBe(422);
  });

  it('calls a student as they wish, or as their teacher put it', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { id } = await handInOne(student, release);
    const called = async () =>
      (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body.lanes.find(
        l => l.sittingId === id,
      )!.studentCalled;
    expect(await called()).toBe('Name');
    const path = `/api/classes/${classId}/members/${student.id}/called`;
    expect((await teacher.ask('PUT', path, { called: ' 美咲さん ' })).status).toBe(200);
    expect(await called()).toBe('美咲さん');
    await student.ask('PUT', '/api/me/called', { called: 'Misaki' });
    expect(await called()).toBe('Misaki');
    for (const who of [colleague, student])
      expect((await who.ask('PUT', path, { called: 'x' })).status).toBe(404);
    expect((await teacher.ask('PUT', path, { called: 'x'.repeat(121) })).status).toBe(422);
    await teacher.ask('PUT', path, { called: '' });
    expect(await called()).toBe('Name');
  });

  it('puts a comment with its clip on a take, and its student hears both after the feedback', async () => {
    const { id, comments } = await topic({ name: 'Clips' });
    const recordingId = randomUUID();
    const path = `/api/comment-bank/topics/${id}/comments/${comments[0]!.id}`;
    const voice = { recordingId, mediaType: 'audio/wav' };
    await teacher.ask('PUT', path, { words: 'Like this.', link: '', voice });
    expect((await teacher.ask('POST', `/api/recordings/${recordingId}/announced`, {})).status).toBe(200);
    await send(teacher, recordingId, tone(1));
    await settled(teacher, recordingId);
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { id: sittingId, takeId } = await handInOne(student, release);
    const note = { fromMs: 100, words: 'Like this, {name}.', revision: 0, commentId: comments[0]!.id };
    const kept = await teacher.ask<Note>('PUT', `/api/takes/${takeId}/notes/${randomUUID()}`, note);
    expect(kept.body).toMatchObject({ voiceId: recordingId, voiceState: 'stored' });
    const hear = () => student.ask('GET', `/api/recordings/${recordingId}/sound`);
    expect((await hear()).status).toBe(404);
    await teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${release.itemId}`, {
      revision: 0,
      points: 3,
      comment: 'For {name}: https://b.example',
      finished: true,
    });
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sittingId] });
    expect((await hear()).status).toBe(200);
    // A name that was hidden while it was written is filled in.
    const { body } = await student.ask<FeedbackView>('GET', `/api/sittings/${sittingId}/feedback`);
    expect([body.items[0]!.comment, body.items[0]!.notes[0]!.words]).toEqual([
      'For Name: https://b.example',
      'Like this, Name.',
    ]);
  });

  it('gives small praise, as often as is still small', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { id } = await handInOne(student, release);
    const path = `/api/sittings/${id}/items/${release.itemId}/praise`;
    const praise = (words: string, given = true) => teacher.ask<string[]>('PUT', path, { words, given });
    expect((await praise('Braver than last week')).body).toEqual(['Braver than last week']);
    expect((await praise('Braver than last week')).body).toHaveLength(1);
    for (const n of [2, 3, 4, 5]) await praise(`praise ${n}`);
    expect((await praise('praise 6')).status).toBe(422);
    expect((await praise('praise 2', false)).body).toHaveLength(4);
    const { body } = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(body.lanes[0]!.praise).toContain('Braver than last week');
  });
});
