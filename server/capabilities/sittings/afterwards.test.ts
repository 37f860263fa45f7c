import { randomUUID } from 'node:crypto';
import type { ListenView } from '@ecoute/contract/marking';
import type {
  BegunSitting,
  Hold,
  MyRecording,
  Receipt,
  SittingAccount,
  SittingView,
  TakeView,
  TodoEntry,
} from '@ecoute/contract/sittings';
import { recordTake, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { amr, made } from '../../testing/files';

describe('around a sitting', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  async function sitting(over = {}, dueInMs = 3_600_000, content = {}) {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, over, dueInMs, content);
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    return { student, release, id: body.id };
  }
  const handIn = (student: Visitor, id: string) =>
    student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, { withGaps: true });

  it('a hand-in wanted without a connection counts from when it was wanted, and the account says so', async () => {
    const { student, release, id } = await sitting();
    const deviceId = randomUUID();
    await student.ask('POST', `/api/sittings/${id}/hold`, { deviceId, takeOver: false });
    await recordTake(student, id, release.itemId);
    const wanted = new Date(Date.now() - 60_000).toISOString();
    // All of it a while ago.
    await t.ecoute.pool.query('UPDATE sittings SET began_at = began_at - INTERVAL 5 MINUTE WHERE id = :id', {
      id,
    });
    await t.ecoute.pool.query(
      'UPDATE takes SET began_at = began_at - INTERVAL 2 MINUTE WHERE sitting_id = :id',
      { id },
    );
    const by = (at: string, device = deviceId) =>
      student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, {
        withGaps: false,
        wish: { at, deviceId: device },
      });
    await t.ecoute.pool.query(
      'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 30 SECOND WHERE id = :id',
      { id: release.id },
    );
    // Not for what was recorded after it, nor from before there was anything, nor on another device.
    for (const refused of [
      await by(new Date(Date.now() - 200_000).toISOString()),
      await by(wanted, randomUUID()),
    ])
      expect([refused.status, (refused.body as unknown as { code: string }).code]).toEqual([
        409,
        'wentOnElsewhere',
      ]);
    const { status, body } = await by(wanted);
    expect([status, body.late, body.handedInAt]).toEqual([200, false, wanted]);
    expect(Date.parse(body.heardAt!)).toBeGreaterThan(Date.parse(wanted) + 50_000);
    const { body: account } = await teacher.ask<SittingAccount>('GET', `/api/sittings/${id}/account`);
    expect(account.events.find(e => e.kind === 'handInWanted')?.at).toBe(wanted);
    // A wish for the future is one for now.
    const other = await sitting();
    const ahead = await other.student.ask<Receipt>('POST', `/api/sittings/${other.id}/hand-in`, {
      withGaps: true,
      wish: { at: new Date(Date.now() + 3_600_000).toISOString(), deviceId },
    });
    expect(Date.parse(ahead.body.handedInAt)).toBeLessThanOrEqual(Date.now());
  });

  it('a wish of before it was taken back hands nothing in', async () => {
    const { student, id } = await sitting();
    await handIn(student, id);
    const wanted = new Date(Date.now() - 60_000).toISOString();
    await student.ask('POST', `/api/sittings/${id}/withdraw`);
    await t.ecoute.pool.query('UPDATE sittings SET began_at = began_at - INTERVAL 5 MINUTE WHERE id = :id', {
      id,
    });
    const late = await student.ask('POST', `/api/sittings/${id}/hand-in`, {
      withGaps: true,
      wish: { at: wanted, deviceId: randomUUID() },
    });
    expect(late.status).toBe(409);
  });

  it('what was handed in can be taken back until it is due, and handed in anew', async () => {
    const { student, release, id } = await sitting();
    const first = await recordTake(student, id, release.itemId);
    await handIn(student, id);
    expect((await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.mayWithdraw).toBe(true);
    const back = await student.ask<SittingView>('POST', `/api/sittings/${id}/withdraw`);
    expect(back.body).toMatchObject({ receipt: null, state: 'underWay', mayWithdraw: false });
    const todo = (await student.ask<TodoEntry[]>('GET', '/api/todo')).body.find(
      e => e.releaseId === release.id,
    );
    expect(todo).toMatchObject({ goesOn: true, state: 'underWay' });
    // For the teacher it is under way again.
    const lanes = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(lanes.body.lanes.map(l => [l.state, l.takeId])).toEqual([['underWay', first.recordingId]]);
    const second = await recordTake(student, id, release.itemId);
    const receipt = (await handIn(student, id)).body;
    expect([first.recordingId, receipt.lines[0]!.takeId]).toEqual([expect.any(String), second.recordingId]);
    const account = (await teacher.ask<SittingAccount>('GET', `/api/sittings/${id}/account`)).body;
    expect(account.events.map(e => e.kind)).toEqual(['handedIn', 'withdrawn', 'handedIn']);
    expect(account.takes.map(k => [k.number, k.source])).toEqual([
      [1, 'recorded'],
      [2, 'recorded'],
    ]);
  });

  it('it cannot be taken back once it is due, marked, or where it is handed in once', async () => {
    const refused = async ({ student, id }: { student: Visitor; id: string }, why: string) => {
      const { status, body } = await student.ask<{ message: string }>('POST', `/api/sittings/${id}/withdraw`);
      expect([status, body.message]).toEqual([409, expect.stringContaining(why)]);
    };
    const due = await sitting();
    await refused(due, 'not handed in');
    await handIn(due.student, due.id);
    await t.ecoute.pool.query(
      'UPDATE releases SET due_at = UTC_TIMESTAMP(3) - INTERVAL 1 SECOND WHERE id = ?',
      [due.release.id],
    );
    await refused(due, 'due already');

    const once = await sitting({}, 3_600_000, { mayWithdraw: false });
    await handIn(once.student, once.id);
    await refused(once, 'handed in once');

    const marked = await sitting();
    await recordTake(marked.student, marked.id, marked.release.itemId);
    await handIn(marked.student, marked.id);
    await teacher.ask('PUT', `/api/sittings/${marked.id}/marks/${marked.release.itemId}`, {
      revision: 0,
      points: 3,
      comment: '',
      choices: [],
      finished: false,
    });
    await refused(marked, 'listens to it already');
    const stranger = await t.person('student', [classId]);
    expect((await stranger.ask('POST', `/api/sittings/${marked.id}/withdraw`)).status).toBe(404);
    expect((await stranger.ask('GET', `/api/sittings/${marked.id}/account`)).status).toBe(404);
  });

  it('a second device is told, and takes over only when it says so', async () => {
    const { student, release, id } = await sitting();
    const [here, there] = [randomUUID(), randomUUID()];
    const hold = async (deviceId: string, takeOver = false) =>
      (await student.ask<Hold>('POST', `/api/sittings/${id}/hold`, { deviceId, takeOver })).body;
    expect(await hold(here)).toEqual({ held: true, otherSeenAt: null });
    expect(await hold(here)).toMatchObject({ held: true });
    expect(await hold(there)).toEqual({ held: false, otherSeenAt: expect.any(String) });
    expect(await hold(there, true)).toMatchObject({ held: true });
    expect(await hold(here)).toMatchObject({ held: false });
    const { body } = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    expect(body.events.map(e => e.kind)).toEqual(['movedHere']);
    // Whoever leaves the page holds nothing any more; leaving what another one holds changes nothing.
    const leave = (deviceId: string) =>
      student.ask<Hold>('POST', `/api/sittings/${id}/hold`, { deviceId, takeOver: false, leaves: true });
    await leave(here);
    expect(await hold(here)).toMatchObject({ held: false });
    await leave(there);
    expect(await hold(here)).toMatchObject({ held: true });
    expect(await hold(there, true)).toMatchObject({ held: true });
    // A device that has been silent for long holds nothing.
    await t.ecoute.pool.query(
      'UPDATE sittings SET device_seen_at = UTC_TIMESTAMP(3) - INTERVAL 2 MINUTE WHERE id = ?',
      [id],
    );
    expect(await hold(here)).toMatchObject({ held: true });
    // Whoever begins, or goes on, asks for the same in one go; who says no device asks for nothing.
    const begin = async (body: object) =>
      (await student.ask<BegunSitting>('POST', `/api/releases/${release.id}/sitting`, body)).body;
    expect(await begin({ deviceId: there })).toMatchObject({ id, hold: { held: false } });
    expect(await begin({ deviceId: here })).toMatchObject({ id, hold: { held: true } });
    expect(await begin({})).toMatchObject({ id, hold: null });
    await leave(here);
    expect(await begin({ deviceId: there })).toMatchObject({ hold: { held: true } });
    expect(await hold(here)).toMatchObject({ held: false });
  });

  it('what was used on the way to an answer is counted for its teacher', async () => {
    const { student, release, id } = await sitting({ hintText: 'The sea.' });
    const event = (kind: string, itemId: string | null = release.itemId) => ({
      id: randomUUID(),
      itemId,
      kind,
      at: new Date().toISOString(),
    });
    const kinds = ['promptBegan', 'promptBegan', 'hintOpened', 'readAloud', 'readAloud', 'readAloud'];
    const kept = await student.ask('POST', `/api/sittings/${id}/events`, {
      events: [...kinds.map(k => event(k)), event('pageHidden', null)],
    });
    expect(kept.status).toBe(204);
    await handIn(student, id);
    const other = await sitting();
    await handIn(other.student, other.id);
    const used = async (releaseId: string) =>
      (await teacher.ask<ListenView>('GET', `/api/releases/${releaseId}/lanes`)).body.lanes[0]!.used;
    expect(await used(release.id)).toEqual({ hearings: 2, hints: 1, readAlouds: 3 });
    expect(await used(other.release.id)).toEqual({ hearings: 0, hints: 0, readAlouds: 0 });
  });

  it('a recording is brought as a file in many formats, and refused in words when it cannot stand', async () => {
    const { student, release, id } = await sitting({ takesAllowed: 0, answerLimitMs: 4_000 });
    const bring = async (bytes: Uint8Array, fileName: string) => {
      const recordingId = randomUUID();
      const announced = await student.ask<TakeView>('POST', `/api/sittings/${id}/takes`, {
        recordingId,
        itemId: release.itemId,
        mediaType: 'application/octet-stream',
        beganAt: new Date().toISOString(),
        fileName,
        source: 'uploaded',
      });
      expect(announced.body).toMatchObject({ source: 'uploaded' });
      await send(student, recordingId, bytes);
      return settled(student, recordingId);
    };
    const sine = (name: string, ...how: string[]) => made(name, '-i', 'sine=d=2:r=8000', ...how);
    for (const [name, how] of [
      ['a.mp3', ['-ar', '44100']],
      ['a.m4a', []],
      ['a.wav', []],
      ['a.flac', []],
      ['a.ogg', ['-c:a', 'libopus', '-ar', '48000']],
      ['a.aiff', []],
      ['a.3gp', ['-c:a', 'aac']],
    ] as const) {
      const stored = await bring(sine(name, ...how), name);
      expect([name, stored.state, stored.medium]).toEqual([name, 'stored', 'sound']);
      expect(Math.abs(stored.durationMs! - 2_000)).toBeLessThan(150);
    }
    const old = await bring(amr(2), 'a.amr');
    expect([old.state, old.medium, old.silent]).toEqual(['stored', 'sound', false]);
    expect(Math.abs(old.durationMs! - 2_000)).toBeLessThan(50);
    // The sound of a film counts; its picture does not.
    const film = made(
      'film.mp4',
      '-i',
      'testsrc=size=64x64:rate=5:d=2',
      '-f',
      'lavfi',
      '-i',
      'sine=d=2',
      '-shortest',
    );
    expect(await bring(film, 'film.mp4')).toMatchObject({ state: 'stored', medium: 'sound' });
    expect(await bring(sine('long.wav', '-t', '2'), 'named.mp3')).toMatchObject({ state: 'stored' });
    expect(await bring(tone(9), 'long.wav')).toMatchObject({ problem: 'tooLong' });
    expect(await bring(Buffer.from('%PDF-1.7 no sound'), 'song.mp3')).toMatchObject({ problem: 'notAudio' });
    expect(await bring(made('s.wav', '-i', 'anullsrc=r=8000:d=2', '-t', '2'), 's.wav')).toMatchObject({
      state: 'stored',
      silent: true,
    });
    const exam = await sitting({}, 3_600_000, { mayBring: false });
    const refused = await exam.student.ask<{ message: string }>('POST', `/api/sittings/${exam.id}/takes`, {
      recordingId: randomUUID(),
      itemId: exam.release.itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
      source: 'uploaded',
    });
    expect([refused.status, refused.body.message]).toEqual([409, expect.stringContaining('recorded here')]);
  });

  it('a take has words and a picture of its student’s, seen by the teacher', async () => {
    const { student, release, id } = await sitting();
    const { recordingId: takeId } = await recordTake(student, id, release.itemId);
    const words = { title: ' D major, from memory ', note: 'The slurs went well. 🎵' };
    expect((await student.ask<TakeView>('PUT', `/api/takes/${takeId}/words`, words)).body).toMatchObject({
      title: 'D major, from memory',
      note: words.note,
    });
    const pictureId = randomUUID();
    await student.ask('POST', `/api/takes/${takeId}/picture`, {
      recordingId: pictureId,
      mediaType: 'image/png',
    });
    await send(student, pictureId, made('p.png', '-i', 'testsrc=size=64x48:d=1', '-frames:v', '1'));
    expect(await settled(student, pictureId)).toMatchObject({ state: 'stored', medium: 'picture' });
    await handIn(student, id);
    const { body } = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(body.lanes[0]).toMatchObject({ title: 'D major, from memory', note: words.note, pictureId });
    expect((await teacher.ask('GET', `/api/recordings/${pictureId}/shown`)).status).toBe(200);
    const mine = (await student.ask<MyRecording[]>('GET', '/api/my-recordings')).body;
    expect(mine).toEqual([
      expect.objectContaining({
        ...{ takeId, title: 'D major, from memory', pictureId },
        ...{ several: false, counts: true, isHandedIn: true, hasFeedback: false },
      }),
    ]);
    // Of several takes the one that counts is told from the others.
    const more = await sitting();
    const takes = [];
    for (let n = 0; n < 2; n++) takes.push(await recordTake(more.student, more.id, more.release.itemId));
    await more.student.ask('POST', `/api/takes/${takes[0]!.recordingId}/choice`);
    const own = (await more.student.ask<MyRecording[]>('GET', '/api/my-recordings')).body;
    expect(own.map(r => [r.takeId, r.several, r.counts, r.isHandedIn])).toEqual([
      [takes[1]!.recordingId, true, false, false],
      [takes[0]!.recordingId, true, true, false],
    ]);
    const other = await t.person('student', [classId]);
    for (const [method, path] of [
      ['PUT', `/api/takes/${takeId}/words`],
      ['DELETE', `/api/takes/${takeId}/picture`],
    ] as const)
      expect((await other.ask(method, path, words)).status).toBe(404);
    expect((await other.ask('GET', `/api/recordings/${pictureId}/shown`)).status).toBe(404);
    await student.ask('DELETE', `/api/takes/${takeId}/picture`);
    expect((await student.ask<MyRecording[]>('GET', '/api/my-recordings')).body[0]!.pictureId).toBeNull();
  });
});
