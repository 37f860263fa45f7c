import { randomUUID } from 'node:crypto';
import type { ListenView, FeedbackView } from '@ecoute/contract/marking';
import type { Note } from '@ecoute/contract/notes';
import type { SittingView } from '@ecoute/contract/sittings';
import { recordTake, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('notes pinned to a take', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let colleague: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    colleague = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  /** A take of four seconds, handed in. */
  async function answered() {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    const { recordingId } = await recordTake(student, body.id, release.itemId, tone(4));
    await student.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: true });
    return { student, release, id: body.id, takeId: recordingId };
  }
  const save = (who: Visitor, takeId: string, id: string, over: Record<string, unknown> = {}) =>
    who.ask<Note & { message: string; current: Note }>('PUT', `/api/takes/${takeId}/notes/${id}`, {
      fromMs: 1_000,
      toMs: null,
      words: 'Listen to the vowel here.',
      revision: 0,
      ...over,
    });
  const remove = (who: Visitor, takeId: string, id: string, revision: number) =>
    who.ask('POST', `/api/takes/${takeId}/notes/${id}/removal`, { revision });
  const vtt = async (who: Visitor, takeId: string) => {
    const { status, body } = await who.ask<unknown>('GET', `/api/takes/${takeId}/notes.vtt`);
    return { status, text: String(body) };
  };
  /** Marks the one answer and returns the sitting. */
  const giveFeedback = async (release: { id: string; itemId: string }, id: string) => {
    const mark = { revision: 0, points: 4, comment: '', choices: [], finished: true };
    await teacher.ask('PUT', `/api/sittings/${id}/marks/${release.itemId}`, mark);
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id] });
  };
  const laneNotes = async (releaseId: string) =>
    (await teacher.ask<ListenView>('GET', `/api/releases/${releaseId}/lanes`)).body.lanes[0]!.notes;

  it('lie on the lane in the order of their places, and are the student’s after the feedback only', async () => {
    const { student, release, id, takeId } = await answered();
    const [late, early] = [randomUUID(), randomUUID()];
    expect((await save(teacher, takeId, late, { fromMs: 2_000, toMs: 3_500 })).body).toMatchObject({
      fromMs: 2_000,
      toMs: 3_500,
      revision: 1,
    });
    await save(colleague, takeId, early, { fromMs: 500, words: 'Well begun <b>🙂</b> نعم' });
    expect((await laneNotes(release.id)).map(n => n.id)).toEqual([early, late]);
    expect(await vtt(student, takeId)).toMatchObject({ status: 404 });

    await giveFeedback(release, id);
    const { body } = await student.ask<FeedbackView>('GET', `/api/sittings/${id}/feedback`);
    expect(body.items[0]!.notes.map(n => [n.fromMs, n.toMs, n.words])).toEqual([
      [500, null, 'Well begun <b>🙂</b> نعم'],
      [2_000, 3_500, 'Listen to the vowel here.'],
    ]);
    const file = await vtt(student, takeId);
    expect(file.text).toContain('00:00:02.000 --> 00:00:03.500');
    expect(file.text).toContain('Well begun &lt;b&gt;🙂&lt;/b&gt; نعم');
    const classmate = await t.person('student', [classId]);
    expect((await vtt(classmate, takeId)).status).toBe(404);
    expect((await vtt(await t.coordinator(classId), takeId)).status).toBe(404);
  });

  it('keep what was handed in where it is: it cannot be taken back under them', async () => {
    const { student, id, takeId } = await answered();
    await save(teacher, takeId, randomUUID());
    expect((await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.mayWithdraw).toBe(false);
    const refused = await student.ask<{ message: string }>('POST', `/api/sittings/${id}/withdraw`);
    expect([refused.status, refused.body.message]).toEqual([
      409,
      expect.stringContaining('listens to it already'),
    ]);
  });

  it('sent twice are one; reworded, taken away and put back, every wording stays', async () => {
    const { release, takeId } = await answered();
    const id = randomUUID();
    await save(teacher, takeId, id);
    expect((await save(teacher, takeId, id)).body.revision).toBe(1);
    expect((await save(teacher, takeId, id, { words: 'Open it.', revision: 1 })).body.revision).toBe(2);
    expect((await remove(teacher, takeId, id, 2)).status).toBe(204);
    // Removed twice is removed.
    expect((await remove(teacher, takeId, id, 2)).status).toBe(204);
    expect(await laneNotes(release.id)).toEqual([]);
    expect((await save(teacher, takeId, id, { words: 'Open it.', revision: 2 })).body.revision).toBe(3);
    expect((await laneNotes(release.id)).map(n => n.words)).toEqual(['Open it.']);
    const [rows] = await t.ecoute.pool.query('SELECT words FROM notes WHERE id = ? ORDER BY revision', [id]);
    expect((rows as { words: string }[]).map(r => r.words)).toEqual([
      'Listen to the vowel here.',
      'Open it.',
      'Open it.',
    ]);
  });

  it('never overwrite a colleague’s: whoever comes second is told what holds', async () => {
    const { takeId } = await answered();
    const id = randomUUID();
    await save(teacher, takeId, id);
    await save(colleague, takeId, id, { words: 'A colleague’s words.', revision: 1 });
    const second = await save(teacher, takeId, id, { words: 'Mine.', revision: 1 });
    expect(second.status).toBe(409);
    expect(second.body.current).toMatchObject({ words: 'A colleague’s words.', revision: 2 });
    expect((await remove(teacher, takeId, id, 1)).status).toBe(409);
    // Ten first notes with one id in the same moment make one.
    const shared = randomUUID();
    const all = await Promise.all(Array.from({ length: 10 }, () => save(teacher, takeId, shared)));
    expect(all.map(a => a.status)).toEqual(Array(10).fill(200));
  });

  it('are refused in words where they cannot stand, and for whoever does not hear the student', async () => {
    const { student, takeId } = await answered();
    const other = await answered();
    const id = randomUUID();
    for (const [over, why] of [
      [{ fromMs: 9_000 }, 'beyond the end'],
      [{ fromMs: 2_000, toMs: 1_000 }, 'ends before it begins'],
      [{ words: '  ' }, 'empty'],
    ] as const) {
      const { status, body } = await save(teacher, takeId, id, over);
      expect([status, body.message]).toEqual([422, expect.stringContaining(why)]);
    }
    expect((await save(teacher, takeId, id, { words: 'x'.repeat(2_001) })).status).toBe(422);
    expect((await save(teacher, takeId, id)).status).toBe(200);
    // A note stays with its take.
    expect((await save(teacher, other.takeId, id, { revision: 1 })).status).toBe(404);
    for (const who of [student, await t.person('teacher'), await t.coordinator(classId)])
      expect((await save(who, takeId, randomUUID())).status).toBe(404);
  });

  it('may be spoken: told before the first second, heard on the lane, and by the student after the feedback', async () => {
    const { student, release, id, takeId } = await answered();
    const wanted = {
      noteId: randomUUID(),
      recordingId: randomUUID(),
      fromMs: 1_500,
      mediaType: 'audio/webm',
    };
    const speak = () => teacher.ask<Note>('POST', `/api/takes/${takeId}/spoken-notes`, wanted);
    expect((await speak()).body).toMatchObject({ fromMs: 1_500, words: '', voiceState: 'arriving' });
    // The page was closed and opened again: it is told once more, and is the same note.
    expect((await speak()).body).toMatchObject({ id: wanted.noteId, revision: 1 });
    await send(teacher, wanted.recordingId, tone(2));
    await settled(teacher, wanted.recordingId);
    expect(await laneNotes(release.id)).toEqual([
      expect.objectContaining({ voiceId: wanted.recordingId, voiceMs: 2_000, voiceState: 'stored' }),
    ]);
    const hears = async (who: Visitor) =>
      (await who.ask('GET', `/api/recordings/${wanted.recordingId}/sound`)).status;
    expect([await hears(colleague), await hears(student)]).toEqual([200, 404]);
    // Words may be added to what was said; the voice stays.
    const worded = await save(colleague, takeId, wanted.noteId, { words: 'The B flat.', revision: 1 });
    expect(worded.body).toMatchObject({ words: 'The B flat.', voiceId: wanted.recordingId, revision: 2 });

    await giveFeedback(release, id);
    const { body } = await student.ask<FeedbackView>('GET', `/api/sittings/${id}/feedback`);
    expect(body.items[0]!.notes).toHaveLength(1);
    const classmate = await t.person('student', [classId]);
    const outsider = await t.person('teacher');
    expect([await hears(student), await hears(classmate), await hears(outsider)]).toEqual([200, 404, 404]);
    // Taken away, it is heard by nobody but whoever spoke it.
    await remove(teacher, takeId, wanted.noteId, 2);
    expect([await hears(student), await hears(teacher)]).toEqual([404, 200]);
  });

  it('of which nothing was heard are not the student’s', async () => {
    const { student, release, id, takeId } = await answered();
    const wanted = {
      noteId: randomUUID(),
      recordingId: randomUUID(),
      fromMs: 9_999,
      mediaType: 'audio/webm',
    };
    const told = await teacher.ask<Note>('POST', `/api/takes/${takeId}/spoken-notes`, wanted);
    // Beyond the end is at the end.
    expect(told.body.fromMs).toBe(4_000);
    await send(teacher, wanted.recordingId, Buffer.from('no sound at all'), 1);
    expect(await settled(teacher, wanted.recordingId)).toMatchObject({ state: 'refused' });
    await giveFeedback(release, id);
    const { body } = await student.ask<FeedbackView>('GET', `/api/sittings/${id}/feedback`);
    expect(body.items[0]!.notes).toEqual([]);
    const other = await t.person('student', [classId]);
    expect((await other.ask('POST', `/api/takes/${takeId}/spoken-notes`, wanted)).status).toBe(404);
  });
});
