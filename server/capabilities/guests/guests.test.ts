import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { DoorView, GuestView, GuestWelcome, LinkView } from '@ecoute/contract/guests';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import type { TodoEntry } from '@ecoute/contract/sittings';
import { made } from '../../testing/files';
import { recordTake, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('guests', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  let release: { id: string; itemId: string };

  beforeAll(async () => {
    t = await TestEcoute.open();
  });
  beforeEach(async () => {
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    release = await t.release(teacher, classId);
  });
  afterAll(() => t.close());

  const link = async (over: object = {}, id = release.id): Promise<LinkView> =>
    (await teacher.ask<LinkView[]>('POST', `/api/releases/${id}/links`, { keepDays: 30, ...over })).body[0]!;
  const door = (code: string, who = t.visitor()) => who.ask<DoorView>('GET', `/api/links/${code}`);
  const enter = async (code: string, name: string, over: object = {}) => {
    const who = t.visitor();
    const answer = await who.ask<GuestWelcome>('POST', `/api/links/${code}/guests`, { name, ...over });
    return { who, ...answer };
  };
  const answerAll = async (who: Visitor) => {
    const { body } = await who.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    const take = await recordTake(who, body.id, release.itemId, tone(1));
    await who.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
    return { sittingId: body.id, takeId: take.recordingId };
  };
  /** Marked, with feedback, with a reply asked for. */
  const askedAndGiven = async (sittingId: string) => {
    await teacher.ask('PUT', `/api/sittings/${sittingId}/ask`, {
      itemId: release.itemId,
      kind: 'reply',
      words: '',
    });
    await teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${release.itemId}`, {
      revision: 0,
      points: 3,
      comment: '',
      finished: true,
    });
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sittingId] });
  };
  const detail = async () => (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`)).body;
  const guests = async () =>
    (await teacher.ask<GuestView[]>('GET', `/api/releases/${release.id}/guests`)).body;

  it('are told what it costs and keeps, begin with a name, and come back by their own address', async () => {
    const { code, url } = await link({ classCode: 'Herring' });
    expect(url).toBe(`https://ecoute.example/g/${code}`);
    expect(code).toMatch(/^[2-9a-z]{4}-[2-9a-z]{4}-[2-9a-z]{4}$/);
    expect((await door(code.toUpperCase())).body).toMatchObject({
      title: 'Test',
      asksClassCode: true,
      keepDays: 30,
      releaseId: null,
    });
    expect((await enter(code, 'Lena', { classCode: 'cod' })).body).toMatchObject({
      fields: { classCode: expect.stringContaining('not the class code') },
    });
    expect((await enter(code, ' … ')).status).toBe(422);
    const lena = await enter(code, '  Lena   Brandt ', { classCode: 'herring' });
    const { sittingId } = await answerAll(lena.who);
    const seen = (await detail()).students.find(s => s.displayName === 'Lena Brandt')!;
    expect(seen).toMatchObject({ state: 'handedIn', sittingId });

    // The same device: the door knows her. Another one: her own address.
    expect((await door(code, lena.who)).body.releaseId).toBe(release.id);
    const elsewhere = t.visitor();
    const back = await elsewhere.ask('POST', '/api/guest-returns', { token: lena.body.token });
    expect(back.body).toEqual({ releaseId: release.id });
    expect((await elsewhere.ask<TodoEntry[]>('GET', '/api/todo')).body[0]!.sittingId).toBe(sittingId);
    await teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${release.itemId}`, {
      revision: 0,
      points: 3,
      comment: 'Clear.',
      finished: true,
    });
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sittingId] });
    expect((await elsewhere.ask('GET', `/api/sittings/${sittingId}/feedback`)).status).toBe(200);
    // Nobody signs in as a guest, and a guest sees nothing else.
    expect((await elsewhere.ask('GET', '/api/classes')).status).toBe(403);
    const other = await t.release(teacher, classId);
    expect((await elsewhere.ask('POST', `/api/releases/${other.id}/sitting`)).status).toBe(404);
  });

  it('find the same words at every door that leads nowhere', async () => {
    const closed = await link();
    await teacher.ask('DELETE', `/api/releases/${release.id}/links/${closed.id}`);
    const full = await link({ mostGuests: 1 });
    await enter(full.code, 'The one');
    const hidden = await t.release(teacher, classId);
    await t.ecoute.pool.query('UPDATE releases SET hidden = 1 WHERE id = ?', [hidden.id]);
    const unseen = await link({}, hidden.id);
    const over = await link();
    await t.ecoute.pool.query('UPDATE release_links SET closes_at = UTC_TIMESTAMP(3) WHERE id = ?', [
      over.id,
    ]);
    const never = await door('2222-3333-4444');
    expect([never.status, never.body]).toMatchObject([
      404,
      { message: expect.stringContaining('ask your teacher') },
    ]);
    for (const code of [closed.code, full.code, unseen.code, over.code]) {
      expect([await door(code)].map(a => [a.status, a.body])).toEqual([[404, never.body]]);
      expect([await enter(code, 'Late')].map(a => [a.status, a.body])).toEqual([[404, never.body]]);
    }
    expect((await t.visitor().ask('POST', '/api/guest-returns', { token: randomUUID() })).body).toEqual(
      never.body,
    );
    expect((await teacher.ask('POST', `/api/releases/${release.id}/links`, { keepDays: 0 })).status).toBe(
      422,
    );
  });

  it('never come in as more than a link is for, also at the same moment', async () => {
    const { code } = await link({ mostGuests: 3 });
    const all = await Promise.all(Array.from({ length: 8 }, (_, n) => enter(code, `Guest ${n}`)));
    expect(all.filter(a => a.status === 200)).toHaveLength(3);
  });

  it('are recognised, merged and assigned, and taken apart again', async () => {
    const { code } = await link();
    const student = await t.person('student', [classId]);
    await t.ecoute.pool.query('UPDATE people SET display_name = ? WHERE id = ?', [
      'Amara Okonjo-Reyes',
      student.id,
    ]);
    const one = await enter(code, 'Amara');
    const first = await answerAll(one.who);
    const two = await enter(code, 'amara okonjo reyes');
    const second = await answerAll(two.who);
    await enter(code, 'Somebody Else');
    const [amara, , somebody] = await guests();
    expect(amara!.likely.map(l => [l.displayName, l.isGuest])).toEqual([
      ['Amara Okonjo-Reyes', false],
      ['amara okonjo reyes', true],
    ]);
    expect(somebody!.likely).toEqual([]);

    const merge = (guestId: string, into: string) =>
      teacher.ask<GuestView[]>('POST', `/api/releases/${release.id}/guests/${guestId}/merge`, { into });
    const [, twice] = await guests();
    expect((await merge(amara!.id, student.id)).status).toBe(200);
    expect((await merge(twice!.id, student.id)).status).toBe(200);
    const stands = (await detail()).students.find(s => s.id === student.id)!;
    expect(stands).toMatchObject({ sittings: 2, sittingId: second.sittingId, state: 'handedIn' });
    // The student has them now, sound and all; the guest’s address leads nowhere new.
    expect((await student.ask('GET', `/api/recordings/${first.takeId}/sound`)).status).toBe(200);
    expect((await guests()).map(g => g.displayName)).toEqual(['Somebody Else']);
    expect((await merge(somebody!.id, somebody!.id)).status).toBe(404);
    expect((await merge(somebody!.id, teacher.id)).status).toBe(404);

    await teacher.ask('POST', `/api/releases/${release.id}/guests/${twice!.id}/apart`);
    const after = (await detail()).students;
    expect(after.find(s => s.id === student.id)).toMatchObject({ sittings: 1, sittingId: first.sittingId });
    expect(after.find(s => s.id === twice!.id)).toMatchObject({ sittings: 1, sittingId: second.sittingId });
    expect((await student.ask('GET', `/api/recordings/${second.takeId}/sound`)).status).toBe(404);
  });

  it('are forgotten when their time is over, with all they left; who was assigned stays', async () => {
    const { code } = await link({ keepDays: 1 });
    const student = await t.person('student', [classId]);
    const gone = await enter(code, 'Gone');
    const kept = await enter(code, 'Kept');
    const lost = await answerAll(gone.who);
    const own = await answerAll(kept.who);
    const [, second] = await guests();
    await teacher.ask('POST', `/api/releases/${release.id}/guests/${second!.id}/merge`, { into: student.id });
    const file = (id: string) => join(t.config.dataDir, 'sounds', 'originals', id);
    expect([existsSync(file(lost.takeId)), existsSync(file(own.takeId))]).toEqual([true, true]);
    await t.ecoute.pool.query(
      'UPDATE people SET created_at = created_at - INTERVAL 2 DAY WHERE guest_link_id IS NOT NULL',
    );
    await t.ecoute.jobs.add(t.ecoute.pool, 'forgetGuests', {});
    while (existsSync(file(lost.takeId))) await new Promise(resolve => setTimeout(resolve, 30));
    expect((await detail()).students.map(s => s.displayName)).not.toContain('Gone');
    expect((await detail()).students.find(s => s.id === student.id)!.sittingId).toBe(own.sittingId);
    expect(existsSync(file(own.takeId))).toBe(true);
    expect((await gone.who.ask('GET', `/api/sittings/${lost.sittingId}`)).status).toBe(401);
    expect((await t.visitor().ask('POST', '/api/guest-returns', { token: gone.body.token })).status).toBe(
      404,
    );
  });

  it('are forgotten while the work of everybody else is held: nothing but theirs is read for it', async () => {
    const { code } = await link({ keepDays: 1 });
    const others = await answerAll((await enter(code, 'Stays')).who);
    const gone = await answerAll((await enter(code, 'Goes')).who);
    const { pool } = t.ecoute;
    // So many that a table is not read from end to end because it is small.
    for (let n = 0; n < 9; n++)
      await pool.query(
        'INSERT INTO sitting_events (id, sitting_id, item_id, kind, at, received_at) SELECT UUID(), sitting_id, item_id, kind, at, received_at FROM sitting_events WHERE sitting_id = ? LIMIT 400',
        [others.sittingId],
      );
    const held = await pool.getConnection();
    try {
      await held.beginTransaction();
      for (const table of ['sitting_events', 'takes'])
        await held.query(`SELECT 1 FROM ${table} WHERE sitting_id = ? FOR UPDATE`, [others.sittingId]);
      await pool.query(
        "UPDATE people SET created_at = created_at - INTERVAL 2 DAY WHERE guest_link_id IS NOT NULL AND display_name = 'Goes'",
      );
      await t.ecoute.jobs.add(pool, 'forgetGuests', {});
      const left = async () =>
        ((await pool.query('SELECT 1 FROM sittings WHERE id = ?', [gone.sittingId]))[0] as unknown[]).length;
      while ((await left()) > 0) await new Promise(resolve => setTimeout(resolve, 30));
      await held.rollback();
    } finally {
      held.release();
    }
    expect((await detail()).students.map(s => s.displayName)).toContain('Stays');
  });

  it('leave to a student what they gave with a take, are forgotten, and stop nobody else from being forgotten', async () => {
    const { code } = await link({ keepDays: 1 });
    const student = await t.person('student', [classId]);
    const { who, body } = await enter(code, 'Generous');
    const { sittingId, takeId } = await answerAll(who);
    const pictureId = randomUUID();
    const picture = { recordingId: pictureId, mediaType: 'image/png' };
    expect((await who.ask('POST', `/api/takes/${takeId}/picture`, picture)).status).toBe(200);
    await send(who, pictureId, made('page.png', '-i', 'testsrc=size=64x64:d=1', '-frames:v', '1'));
    expect((await settled(who, pictureId)).state).toBe('stored');
    await askedAndGiven(sittingId);
    const reply = { id: randomUUID(), itemId: release.itemId, words: 'Thank you' };
    expect((await who.ask('POST', `/api/sittings/${sittingId}/replies`, reply)).status).toBe(200);
    const merge = `/api/releases/${release.id}/guests/${(await guests()).find(g => g.displayName === 'Generous')!.id}/merge`;
    expect((await teacher.ask('POST', merge, { into: student.id })).status).toBe(200);
    const { who: later } = await enter(code, 'Later');
    const lost = await answerAll(later);

    await t.ecoute.pool.query(
      'UPDATE people SET created_at = created_at - INTERVAL 2 DAY WHERE guest_link_id IS NOT NULL',
    );
    await t.ecoute.jobs.add(t.ecoute.pool, 'forgetGuests', {});
    const file = (id: string) => join(t.config.dataDir, 'sounds', 'originals', id);
    while (existsSync(file(lost.takeId))) await new Promise(resolve => setTimeout(resolve, 30));
    const left = async () => {
      const [rows] = await t.ecoute.pool.query(
        "SELECT 1 FROM people WHERE display_name IN ('Generous', 'Later')",
      );
      return (rows as unknown[]).length;
    };
    while ((await left()) > 0) await new Promise(resolve => setTimeout(resolve, 30));
    // What was assigned is the student's, picture, words and all.
    expect([existsSync(file(takeId)), existsSync(file(pictureId))]).toEqual([true, true]);
    expect((await student.ask('GET', `/api/recordings/${pictureId}/shown`)).status).toBe(200);
    const [replies] = await t.ecoute.pool.query('SELECT author_id AS who FROM replies WHERE id = ?', [
      reply.id,
    ]);
    expect(replies).toEqual([{ who: student.id }]);
    expect((await t.visitor().ask('POST', '/api/guest-returns', { token: body.token })).status).toBe(404);
  });

  it('are forgotten also where a teacher has said much about them; a clip of the bank stays for others', async () => {
    const { code } = await link();
    const { who } = await enter(code, 'Somebody with feedback');
    const { sittingId, takeId } = await answerAll(who);
    const item = `/api/sittings/${sittingId}/items/${release.itemId}`;
    const speak = async (announce: (recordingId: string) => Promise<unknown>) => {
      const recordingId = randomUUID();
      await announce(recordingId);
      await send(teacher, recordingId, tone(1));
      await settled(teacher, recordingId);
      return recordingId;
    };
    const { body: topics } = await teacher.ask<{ id: string; comments: { id: string }[] }[]>(
      'POST',
      '/api/comment-bank/topics',
      { topics: [{ name: 'Clips', comments: [{ words: 'Like this.', link: '' }] }] },
    );
    const [topic] = topics;
    const commentId = topic!.comments[0]!.id;
    const clip = await speak(recordingId =>
      teacher.ask('PUT', `/api/comment-bank/topics/${topic!.id}/comments/${commentId}`, {
        words: 'Like this.',
        link: '',
        voice: { recordingId, mediaType: 'audio/wav' },
      }),
    );
    const note = { fromMs: 0, words: 'Like this.', revision: 0, commentId };
    await teacher.ask('PUT', `/api/takes/${takeId}/notes/${randomUUID()}`, note);
    const spoken = await speak(recordingId =>
      teacher.ask('POST', `/api/takes/${takeId}/spoken-notes`, {
        noteId: randomUUID(),
        recordingId,
        fromMs: 0,
        mediaType: 'audio/wav',
      }),
    );
    await teacher.ask('PUT', `${item}/praise`, { words: 'Brave', given: true });
    await askedAndGiven(sittingId);
    await who.ask('POST', `/api/sittings/${sittingId}/replies`, {
      id: randomUUID(),
      itemId: release.itemId,
      words: 'Thank you',
    });
    await teacher.ask('POST', `/api/releases/${release.id}/decisions`, {
      kind: 'another',
      reason: '',
      sittingId,
    });
    await teacher.ask('POST', `/api/releases/${release.id}/listeners`, { sittingId });
    await t.ecoute.pool.query(
      "UPDATE people SET created_at = created_at - INTERVAL 31 DAY WHERE display_name = 'Somebody with feedback'",
    );
    await t.ecoute.jobs.add(t.ecoute.pool, 'forgetGuests', {});
    const left = async () =>
      (
        await t.ecoute.pool.query('SELECT 1 FROM people WHERE display_name = ?', ['Somebody with feedback'])
      )[0];
    while (((await left()) as unknown[]).length > 0) await new Promise(resolve => setTimeout(resolve, 50));
    const [rows] = await t.ecoute.pool.query('SELECT id FROM recordings WHERE id IN (?)', [
      [clip, spoken, takeId],
    ]);
    expect(rows).toEqual([{ id: clip }]);
    expect((await teacher.ask('GET', `/api/recordings/${clip}/sound`)).status).toBe(200);
  });

  it('find their way by a poster', async () => {
    const made = await link();
    const pdf = await teacher.ask<string>('GET', `/api/releases/${release.id}/links/${made.id}/poster`);
    expect([pdf.status, pdf.headers.get('content-type')]).toEqual([200, 'application/pdf']);
    expect(pdf.body.slice(0, 5)).toBe('%PDF-');
    expect(pdf.body.length).toBeGreaterThan(5_000);
  });
});

describe('a link tried by guessing', () => {
  it('is slowed down', async () => {
    const t = await TestEcoute.open({ relaxedLimits: false });
    const statuses: number[] = [];
    for (let n = 0; n < 405; n++)
      statuses.push((await t.visitor().ask('GET', `/api/links/2222-3333-${1000 + n}`)).status);
    expect([statuses[0], statuses[300], statuses.at(-1)]).toEqual([404, 404, 429]);
    await t.close();
  });
});
