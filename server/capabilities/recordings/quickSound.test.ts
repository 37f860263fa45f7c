import { readFile, writeFile } from 'node:fs/promises';
import { get, type IncomingMessage } from 'node:http';
import { execute, rows } from '../../platform/database';
import { heldDiscussion, putIn, spokenDraft } from '../../testing/discussion';
import { handInOne, TestEcoute, type Visitor } from '../../testing/ecoute';
import { noteQuestions } from '../../testing/questions';

const SECOND = 1_000;

describe('a sound that is heard piece by piece', () => {
  let ecoute: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let classId: string;
  let release: { id: string; assessmentId: string; itemId: string };
  let takeId: string;
  let lastAsked: () => readonly string[];

  const db = () => ecoute.ecoute.pool;
  const piece = (who: Visitor, id = takeId, headers: Record<string, string> = {}) =>
    who.ask('GET', `/api/recordings/${id}/sound`, undefined, { Range: 'bytes=0-99', ...headers });
  /** Asks for a piece. @returns its status, and how many questions that cost the database */
  async function asked(who: Visitor, id = takeId): Promise<[number, number]> {
    const { status } = await piece(who, id);
    // What is remembered is confirmed beside it, whoever asks.
    return [status, lastAsked().filter(q => !q.includes('right_changes')).length];
  }
  /** Asks until it is remembered. */
  async function remembered(who: Visitor, id = takeId): Promise<void> {
    for (let n = 0; n < 40; n++) {
      const [status, questions] = await asked(who, id);
      expect(status).toBe(206);
      if (questions === 0) return;
      await new Promise(resolve => setTimeout(resolve, 50));
    }
    throw new Error('It was never remembered.');
  }
  /** What a change leads to within a second, however often it is asked meanwhile; null where a piece broke off. */
  async function after(who: Visitor, id: string, change: () => Promise<unknown>) {
    await remembered(who, id);
    await change();
    const until = Date.now() + SECOND;
    let last: Awaited<ReturnType<typeof piece>> | null = null;
    // A piece that is on its way when it ends breaks off.
    while (Date.now() < until) last = await piece(who, id).catch(() => null);
    return last;
  }
  const ends = async (who: Visitor, id: string, change: () => Promise<unknown>): Promise<number> =>
    (await after(who, id, change))?.status ?? 0;

  async function untilPlayable(id = takeId): Promise<void> {
    for (;;) {
      const [made] = await rows<{ at: Date | null }>(
        db(),
        'SELECT playable_at AS at FROM recordings WHERE id = :takeId',
        { takeId: id },
      );
      if (made?.at) return;
      await new Promise(resolve => setTimeout(resolve, 20));
    }
  }

  beforeAll(async () => {
    ecoute = await TestEcoute.open();
    lastAsked = noteQuestions(ecoute.ecoute);
    classId = await ecoute.class();
    teacher = await ecoute.person('teacher', [classId]);
    student = await ecoute.person('student', [classId]);
    release = await ecoute.release(teacher, classId, { takesAllowed: 0 });
    ({ takeId } = await handInOne(student, release));
    await untilPlayable();
  });
  afterAll(() => ecoute.close());

  it('costs the database no question once it is known who hears it, and is the same sound', async () => {
    const first = await piece(teacher);
    await remembered(teacher);
    await remembered(student);
    const again = await piece(teacher);
    for (const name of ['etag', 'content-range', 'content-type', 'cache-control', 'content-security-policy'])
      expect([name, again.headers.get(name)]).toEqual([name, first.headers.get(name)]);
    expect(again.body).toEqual(first.body);
    expect(again.headers.get('x-content-type-options')).toBe('nosniff');
    // Asked about by its tag, and of another version than it has. (What asks here would ask for a fresh one by itself.)
    const tag = again.headers.get('etag')!;
    expect(
      (await piece(teacher, takeId, { 'If-None-Match': tag, 'Cache-Control': 'max-age=0' })).status,
    ).toBe(304);
    expect((await piece(teacher, takeId, { 'If-Range': '"other"' })).status).toBe(200);
    expect((await piece(teacher, takeId, { Range: 'bytes=99999999-' })).status).toBe(416);
  });

  it('is known for all sounds of a page at once', async () => {
    const other = await ecoute.person('teacher', [classId]);
    for (let n = 0; n < 10; n++) {
      await other.ask('GET', `/api/releases/${release.id}/lanes`);
      // Once the page is drawn.
      await new Promise(resolve => setTimeout(resolve, 1_000 + 200 * n));
      const [status, questions] = await asked(other);
      expect(status).toBe(206);
      // Its first piece asked by itself would keep it: only the page may have done it.
      if (questions === 0) return;
      await execute(db(), 'INSERT INTO right_changes () VALUES ()');
      await new Promise(resolve => setTimeout(resolve, 400));
    }
    throw new Error('The page was never remembered.');
  });

  it('is known to nobody who signs out, or leaves the class, between the page and that', async () => {
    const out = await ecoute.person('teacher', [classId]);
    const session = decodeURIComponent(out.cookies().Cookie!.split('=')[1]!);
    await out.ask('GET', `/api/releases/${release.id}/lanes`);
    await out.ask('DELETE', '/api/session');
    const gone = await ecoute.person('teacher', [classId]);
    await gone.ask('GET', `/api/releases/${release.id}/lanes`);
    await execute(db(), 'DELETE FROM class_members WHERE person_id = :id', { id: gone.id });
    await new Promise(resolve => setTimeout(resolve, 1_200));
    expect((await piece(ecoute.visitor().withSession(out.id, session))).status).toBe(401);
    expect((await piece(gone)).status).toBe(404);
  });

  it('is nobody else’s: a stranger, a colleague, somebody without or with a forged session', async () => {
    await remembered(teacher);
    const elsewhere = await ecoute.class();
    for (const who of [
      await ecoute.person('teacher', [elsewhere]),
      await ecoute.coordinator(classId),
      await ecoute.person('student', [classId]),
    ])
      expect((await piece(who)).status).toBe(404);
    expect((await piece(ecoute.visitor())).status).toBe(401);
    const cookie = decodeURIComponent(teacher.cookies().Cookie!.split('=')[1]!);
    for (const forged of [
      cookie.replace(/\.(.)/, '.x$1'),
      cookie.split('.')[0]!,
      cookie.slice(2),
      '%zz',
      's:',
    ])
      expect((await piece(ecoute.visitor().withSession(teacher.id, forged))).status).toBe(401);
  });

  it('ends within a second when its teacher leaves the class, in whatever way', async () => {
    const leaving = await ecoute.person('teacher', [classId]);
    const leave = () =>
      execute(db(), 'DELETE FROM class_members WHERE class_id = :classId AND person_id = :id', {
        classId,
        id: leaving.id,
      });
    expect(await ends(leaving, takeId, leave)).toBe(404);
    const demoted = await ecoute.person('teacher', [classId]);
    const demote = () =>
      execute(
        db(),
        "UPDATE class_members SET role = 'coordinator' WHERE class_id = :classId AND person_id = :id",
        { classId, id: demoted.id },
      );
    expect(await ends(demoted, takeId, demote)).toBe(404);
    // Everybody else goes on.
    expect((await piece(teacher)).status).toBe(206);
  });

  it('ends within a second with the session, wherever that is ended', async () => {
    const leaving = await ecoute.person('teacher', [classId]);
    expect(await ends(leaving, takeId, () => leaving.ask('DELETE', '/api/session'))).toBe(401);
    const ended = await ecoute.person('teacher', [classId]);
    const endAll = () => execute(db(), 'DELETE FROM sessions WHERE person_id = :id', { id: ended.id });
    expect(await ends(ended, takeId, endAll)).toBe(401);
  });

  it('ends within a second when its student takes it back out of a discussion', async () => {
    const talk = await heldDiscussion(teacher, classId);
    const id = await spokenDraft(student, 'discussion', talk.id);
    expect((await piece(teacher, id)).status).toBe(404);
    expect((await putIn(student, 'discussion', talk.id, id)).status).toBe(200);
    await untilPlayable(id);
    const back = () => student.ask('DELETE', `/api/releases/${talk.id}/discussion/contributions/${id}`);
    expect(await ends(teacher, id, back)).toBe(404);
  });

  it('is asked for each time by whoever’s session ends in other ways than by a change: a phone, a child’s slip', async () => {
    for (const kind of ['slip', 'handoverId']) {
      const own = await ecoute.person('student', [classId]);
      await execute(
        db(),
        `UPDATE sessions SET data = JSON_SET(data, '$.${kind}', 'x') WHERE person_id = :id`,
        own,
      );
      await execute(db(), 'UPDATE recordings SET owner_id = :id WHERE id = :takeId', { id: own.id, takeId });
      for (let n = 0; n < 6; n++) {
        const [, questions] = await asked(own);
        expect(questions).toBeGreaterThan(0);
        await new Promise(resolve => setTimeout(resolve, 100));
      }
    }
    await execute(db(), 'UPDATE recordings SET owner_id = :id WHERE id = :takeId', {
      id: student.id,
      takeId,
    });
  });

  it.each([true, false])(
    'ends within a second in the middle of being sent; remembered: %s',
    async isKnown => {
      const leaving = await ecoute.person('teacher', [classId]);
      if (isKnown) await remembered(leaving);
      const path = ecoute.ecoute.files.localPath(`playable/${takeId}.m4a`);
      const before = await readFile(path);
      // More than a connection holds by itself.
      await writeFile(path, Buffer.alloc(40_000_000));
      const response = await new Promise<IncomingMessage>((resolve, reject) =>
        get(`${ecoute.base}/api/recordings/${takeId}/sound`, { headers: leaving.cookies() }, resolve).once(
          'error',
          reject,
        ),
      );
      const over = new Promise(resolve => response.once('close', resolve));
      response.on('error', () => undefined);
      response.pause();
      await execute(db(), 'DELETE FROM class_members WHERE person_id = :id', { id: leaving.id });
      await new Promise(resolve => setTimeout(resolve, SECOND));
      response.resume();
      await over;
      expect(response.complete).toBe(false);
      await writeFile(path, before);
    },
  );

  it('is asked for in the usual way while the database cannot say what has changed', async () => {
    await remembered(teacher);
    const asks = jest.spyOn(db(), 'query').mockImplementation(() => Promise.reject(new Error('away')));
    await new Promise(resolve => setTimeout(resolve, 900));
    const { status } = await piece(teacher);
    asks.mockRestore();
    expect(status).toBeGreaterThanOrEqual(500);
  });

  it('ends within a second when what it belongs to goes away or is another’s', async () => {
    const elsewhere = await ecoute.class();
    const move = () =>
      execute(db(), 'UPDATE releases SET class_id = :elsewhere WHERE id = :id', {
        elsewhere,
        id: release.id,
      });
    const back = () =>
      execute(db(), 'UPDATE releases SET class_id = :classId WHERE id = :id', { classId, id: release.id });
    expect(await ends(teacher, takeId, move)).toBe(404);
    await back();
    // Cut by its student: what was heard before is heard no more, though its file is still there.
    await remembered(teacher);
    const whole = await piece(teacher);
    const cut = await after(teacher, takeId, () =>
      ecoute.ecoute.recordings.cuts.trim(takeId, { fromMs: 200, toMs: 1_200 }, async () => undefined),
    );
    expect(cut?.headers.get('etag')).not.toBe(whole.headers.get('etag'));
    await untilPlayable();
    // A file that is gone is asked for in the usual way.
    await remembered(teacher);
    await ecoute.ecoute.files.remove(`playable/${takeId}.m4a`);
    expect((await piece(teacher)).status).not.toBe(206);
  });
});
