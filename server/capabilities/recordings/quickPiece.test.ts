import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { request } from 'node:http';
import { execute } from '../../platform/database';
import { settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { noteQuestions } from '../../testing/questions';

describe('the pieces of a recording under way', () => {
  let ecoute: TestEcoute;
  let student: Visitor;
  let sittingId: string;
  let itemId: string;
  let lastAsked: () => readonly string[];
  const bytes = tone(1);

  const path = (id: string) => ecoute.ecoute.files.localPath(`originals/${id}`);
  const tus = { 'Tus-Resumable': '1.0.0', 'Content-Type': 'application/offset+octet-stream' };
  const piece = (
    who: Visitor,
    id: string,
    at: number,
    part: Uint8Array,
    headers: Record<string, string> = {},
  ) => who.ask('PATCH', `/api/uploads/${id}`, part, { ...tus, 'Upload-Offset': String(at), ...headers });
  /** Sends a piece. @returns its status, and what the database was asked for it */
  async function asked(...args: Parameters<typeof piece>): Promise<[number, readonly string[]]> {
    const { status } = await piece(...args);
    // What is remembered is confirmed beside it, whoever asks.
    return [status, lastAsked().filter(q => !q.includes('right_changes'))];
  }
  /** Sends three thousand bytes of a piece, then the line breaks. */
  async function broken(
    who: Visitor,
    id: string,
    at: number,
    more: Record<string, string>,
    length: number | null,
  ) {
    await new Promise<void>(resolve => {
      const sending = request(`${ecoute.base}/api/uploads/${id}`, {
        method: 'PATCH',
        headers: {
          ...who.cookies(),
          ...tus,
          ...more,
          Origin: ecoute.base,
          'Upload-Offset': String(at),
          ...(length && { 'Content-Length': String(length) }),
        },
      });
      sending.once('error', () => resolve());
      sending.write(bytes.subarray(at, at + 3_000));
      setTimeout(() => sending.destroy(new Error('cut')), 100);
    });
    await new Promise(resolve => setTimeout(resolve, 200));
  }
  async function announced(who = student): Promise<string> {
    const recordingId = randomUUID();
    const { status } = await who.ask('POST', `/api/sittings/${sittingId}/takes`, {
      recordingId,
      itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    });
    expect(status).toBe(200);
    return recordingId;
  }

  beforeAll(async () => {
    ecoute = await TestEcoute.open();
    lastAsked = noteQuestions(ecoute.ecoute);
    const classId = await ecoute.class();
    const teacher = await ecoute.person('teacher', [classId]);
    student = await ecoute.person('student', [classId]);
    const release = await ecoute.release(teacher, classId, { takesAllowed: 0 });
    itemId = release.itemId;
    sittingId = (await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`)).body.id;
  });
  afterAll(() => ecoute.close());

  it('cost the database no question once it is known whose they are, and are what was sent', async () => {
    const id = await announced();
    await piece(student, id, 0, bytes.subarray(0, 9_000));
    // From the first one on it is read what of that holds no longer.
    await new Promise(resolve => setTimeout(resolve, 400));
    await piece(student, id, 9_000, bytes.subarray(9_000, 15_000));
    expect(await asked(student, id, 15_000, bytes.subarray(15_000, 20_000))).toEqual([204, []]);
    const third = await piece(student, id, 20_000, bytes.subarray(20_000, 30_000));
    expect(third.headers.get('upload-offset')).toBe('30000');
    expect(third.headers.get('tus-resumable')).toBe('1.0.0');
    expect(await readFile(path(id))).toEqual(Buffer.from(bytes.subarray(0, 30_000)));
    const last = await piece(student, id, 30_000, bytes.subarray(30_000), {
      'Upload-Length': String(bytes.length),
    });
    expect(last.status).toBe(204);
    expect((await settled(student, id)).state).toBe('stored');
    // Nothing is put to what stands.
    expect((await piece(student, id, bytes.length, bytes.subarray(0, 100))).status).toBe(410);
    expect(await readFile(path(id))).toEqual(Buffer.from(bytes));
  });

  it('are refused out of place, and nothing is written', async () => {
    const id = await announced();
    await piece(student, id, 0, bytes.subarray(0, 5_000));
    for (const at of [0, 4_999, 5_001, 1e12])
      expect((await piece(student, id, at, bytes.subarray(0, 100))).status).toBe(409);
    for (const at of ['-1', 'x', '1.5', ''])
      expect(
        (await piece(student, id, 0, bytes.subarray(0, 100), { 'Upload-Offset': at })).status,
      ).toBeGreaterThanOrEqual(400);
    expect(
      (await piece(student, id, 5_000, bytes.subarray(0, 100), { 'Tus-Resumable': '0.2' })).status,
    ).toBeGreaterThanOrEqual(400);
    expect((await readFile(path(id))).length).toBe(5_000);
  });

  it('are written once where the same one comes ten times at once', async () => {
    const id = await announced();
    const answers = await Promise.all(
      Array.from({ length: 10 }, () => piece(student, id, 0, bytes.subarray(0, 7_000)).then(a => a.status)),
    );
    expect(answers.filter(status => status === 204)).toHaveLength(1);
    expect(answers.filter(status => status === 409)).toHaveLength(9);
    expect(await readFile(path(id))).toEqual(Buffer.from(bytes.subarray(0, 7_000)));
  });

  it('count only whole: a line that breaks in the middle leaves nothing behind', async () => {
    const id = await announced();
    await piece(student, id, 0, bytes.subarray(0, 5_000));
    await broken(student, id, 5_000, {}, 9_000);
    expect((await readFile(path(id))).length).toBe(5_000);
    expect((await piece(student, id, 5_000, bytes.subarray(5_000, 14_000))).status).toBe(204);
  });

  it('end with the last one also where its line broke: once the length is told, no piece is taken as one more', async () => {
    const id = await announced();
    await piece(student, id, 0, bytes.subarray(0, 5_000));
    // Without saying how long it is, it is taken as it comes.
    await broken(student, id, 5_000, { 'Upload-Length': String(bytes.length) }, null);
    const { headers } = await student.ask('HEAD', `/api/uploads/${id}`, undefined, tus);
    expect(headers.get('upload-length')).toBe(String(bytes.length));
    const at = Number(headers.get('upload-offset'));
    expect((await piece(student, id, at, bytes.subarray(at))).status).toBe(204);
    expect((await settled(student, id)).state).toBe('stored');
  });

  it('end with the last one, which is counted whole or not at all', async () => {
    const id = await announced();
    await piece(student, id, 0, bytes.subarray(0, 5_000));
    const told = { 'Upload-Length': String(bytes.length) };
    await broken(student, id, 5_000, told, bytes.length - 5_000);
    expect((await readFile(path(id))).length).toBe(5_000);
    // A length that is not where it ends is no last piece, and nothing goes past it.
    const other = await announced();
    const wrong = await piece(student, other, 0, bytes, { 'Upload-Length': '5000' });
    expect(wrong.status).toBe(413);
    const [status, questions] = await asked(student, id, 5_000, bytes.subarray(5_000), told);
    expect(status).toBe(204);
    // It is noted as here, and asked to be looked at: one transaction, and no question before it.
    expect(questions.findIndex(q => q.startsWith('START TRANSACTION'))).toBe(0);
    expect(questions.filter(q => q.startsWith('START TRANSACTION'))).toHaveLength(1);
    expect(questions.at(-1)).toMatch(/^COMMIT/);
    expect((await settled(student, id)).state).toBe('stored');
    expect(await readFile(path(id))).toEqual(Buffer.from(bytes));
  });

  it('are all in what is looked at when the rest never comes: none is acknowledged after that', async () => {
    const id = await announced();
    const part = bytes.subarray(0, 1_000);
    await piece(student, id, 0, part);
    let at = 1_000;
    let refused = 0;
    const sending = (async () => {
      while (refused === 0) {
        const { status } = await piece(student, id, at, part);
        if (status === 204) at += 1_000;
        else refused = status;
      }
    })();
    await new Promise(resolve => setTimeout(resolve, 150));
    await ecoute.ecoute.recordings.endAsItCame(id);
    const here = (await readFile(path(id))).length;
    await sending;
    expect(refused).toBe(410);
    // What was acknowledged before it ended is there; nothing has come since.
    expect([here, (await readFile(path(id))).length]).toEqual([at, at]);
  });

  it('come from whoever records alone, from our own pages, while they are signed in', async () => {
    const id = await announced();
    const before = bytes.subarray(0, 5_000);
    expect((await piece(student, id, 0, before)).status).toBe(204);
    const next = bytes.subarray(5_000, 6_000);
    expect((await piece(await ecoute.person('student'), id, 5_000, next)).status).toBe(404);
    expect((await piece(await ecoute.person('teacher'), id, 5_000, next)).status).toBe(404);
    expect((await piece(ecoute.visitor(), id, 5_000, next)).status).toBe(401);
    expect((await piece(student, id, 5_000, next, { Origin: 'https://elsewhere.example' })).status).toBe(403);
    // Let go of: nothing more comes, from that moment on.
    await student.ask('POST', `/api/recordings/${id}/cancel`);
    expect((await piece(student, id, 5_000, next)).status).toBeGreaterThanOrEqual(404);
    const other = await announced();
    expect((await piece(student, other, 0, before)).status).toBe(204);
    await execute(ecoute.ecoute.pool, 'UPDATE sessions SET expires = 1 WHERE person_id = :id', {
      id: student.id,
    });
    await new Promise(resolve => setTimeout(resolve, 1_000));
    expect((await piece(student, other, 5_000, next)).status).toBe(401);
    expect((await readFile(path(other))).length).toBe(5_000);
  });
});
