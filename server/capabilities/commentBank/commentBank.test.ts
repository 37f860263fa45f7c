import { randomUUID } from 'node:crypto';
import type { Topic } from '@ecoute/contract/commentBank';
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
    expect(csv.body.split('\r\n')[0]).toMatch(/^\ufeff?topic,comment,link,used$/);
    expect(csv.body).toContain(`"'=Flow","'=1+1, ""good""",,2`);
    const path = `/api/comment-bank/topics/${id}/comments/${comments[0]!.id}`;
    expect((await teacher.ask<Topic[]>('DELETE', path)).body.find(x => x.id === id)!.comments).toEqual([]);
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
