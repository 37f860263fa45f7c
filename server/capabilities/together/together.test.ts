import { randomUUID } from 'node:crypto';
import type { RowDataPacket } from 'mysql2';
import type { ListenView, FeedbackView, Mark } from '@ecoute/contract/marking';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { OthersView, SittingView, TodoEntry } from '@ecoute/contract/sittings';
import type { Companion, TurnsView } from '@ecoute/contract/together';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import { send, settled, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('answers given together', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let amara: Visitor;
  let farid: Visitor;
  let noor: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
  });
  afterAll(() => t.close());
  beforeEach(async () => {
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    amara = await t.person('student', [classId]);
    farid = await t.person('student', [classId]);
    noor = await t.person('student', [classId]);
  });

  const until = async <T>(ask: () => Promise<T>, holds: (found: T) => boolean): Promise<T> => {
    for (let n = 0; n < 200; n++) {
      const found = await ask();
      if (holds(found)) return found;
      await new Promise(resolve => setTimeout(resolve, 50));
    }
    throw new Error('It did not come to that.');
  };
  const sitting = async (who: Visitor, releaseId: string) =>
    (await who.ask<SittingView>('POST', `/api/releases/${releaseId}/sitting`)).body;
  /** Their last sitting, without beginning one. */
  const standing = async (who: Visitor, releaseId: string) =>
    (await who.ask<TodoEntry[]>('GET', '/api/todo')).body.find(e => e.releaseId === releaseId)!;
  const lanes = async (releaseId: string) =>
    (await teacher.ask<ListenView>('GET', `/api/releases/${releaseId}/lanes`)).body.lanes;
  const laneOf = async (releaseId: string, who: Visitor) =>
    (await lanes(releaseId)).find(l => l.studentId === who.id);

  describe('on one device', () => {
    const oneDevice = { way: 'oneDevice' as const, most: 3, turnsEach: 1 };
    let release: { id: string; itemId: string };
    beforeEach(async () => {
      release = await t.release(teacher, classId, { together: oneDevice });
    });
    const record = async (who: Visitor, withIds: string[], sound = tone(2), of = release) => {
      const { id } = await sitting(who, of.id);
      const recordingId = randomUUID();
      const announced = await who.ask('POST', `/api/sittings/${id}/takes`, {
        recordingId,
        itemId: of.itemId,
        mediaType: 'audio/wav',
        beganAt: new Date().toISOString(),
        withIds,
      });
      await send(who, recordingId, sound);
      await settled(who, recordingId);
      return { id, recordingId, announced };
    };
    const handIn = (who: Visitor, id: string) =>
      who.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: false });
    /** Recorded with others, handed in, and theirs as well. */
    const together = async (others: Visitor[] = [farid, noor]) => {
      const { id, recordingId } = await record(
        amara,
        others.map(o => o.id),
      );
      await handIn(amara, id);
      for (const other of others)
        await until(
          () => standing(other, release.id),
          e => e.handedInAt !== null,
        );
      return { id, recordingId };
    };
    const mark = (who: { sittingId: string }, over: object, revision = 0) =>
      teacher.ask<Mark>('PUT', `/api/sittings/${who.sittingId}/marks/${release.itemId}`, {
        revision,
        points: 4,
        comment: 'Well answered.',
        finished: true,
        ...over,
      });
    const feedbackOf = async (who: Visitor) => {
      const { feedbackSittingId } = await standing(who, release.id);
      if (!feedbackSittingId) return null;
      return (await who.ask<FeedbackView>('GET', `/api/sittings/${feedbackSittingId}/feedback`)).body;
    };

    it('tells whom one can record with, and nobody else of them', async () => {
      const { id } = await sitting(amara, release.id);
      const path = `/api/sittings/${id}/companions`;
      const found = (await amara.ask<Companion[]>('GET', path)).body;
      expect(found.map(c => c.id).sort()).toEqual([farid.id, noor.id].sort());
      expect((await farid.ask('GET', path)).status).toBe(404);
      const alone = await t.release(teacher, classId);
      const own = await sitting(amara, alone.id);
      expect((await amara.ask('GET', `/api/sittings/${own.id}/companions`)).status).toBe(404);
    });

    it('is handed in for everybody who is heard in it, each with a recording of their own', async () => {
      const { recordingId } = await together();
      for (const other of [farid, noor]) {
        const { sittingId, handedInAt, late } = await standing(other, release.id);
        expect([Boolean(handedInAt), late]).toEqual([true, false]);
        const { takes } = (await other.ask<SittingView>('GET', `/api/sittings/${sittingId}`)).body;
        expect(takes).toHaveLength(1);
        expect(takes[0]!.together).toMatchObject({ isLead: false, way: 'oneDevice' });
        expect(takes[0]!.id).not.toBe(recordingId);
        const [own, first] = await Promise.all([
          other.ask<RecordingView>('GET', `/api/recordings/${takes[0]!.id}`),
          amara.ask<RecordingView>('GET', `/api/recordings/${recordingId}`),
        ]);
        expect(own.body.sha256).toBe(first.body.sha256);
        // What is hers is heard by her and her teachers, what is theirs by them.
        expect((await other.ask('GET', `/api/recordings/${recordingId}/sound`)).status).toBe(404);
      }
      // Heard once, and counted once.
      const all = await lanes(release.id);
      expect(all).toHaveLength(1);
      expect(all[0]!.together!.names).toHaveLength(2);
      const { body } = await teacher.ask<ReleaseSummary[]>('GET', '/api/releases');
      expect(body.find(r => r.id === release.id)!.waitingMs).toBeLessThan(2_500);
    });

    it('is scored for those who came later by the score that holds, also where that is just being changed', async () => {
      const { recordingId } = await together();
      const [lane] = await lanes(release.id);
      await mark(lane!, { finished: false });
      const { pool, jobs } = t.ecoute;
      const [[{ joint }]] = (await pool.query('SELECT joint_id AS joint FROM takes WHERE id = ?', [
        recordingId,
      ])) as never as [[{ joint: string }]];
      const [others] = (await pool.query(
        'SELECT sitting_id AS id FROM takes WHERE joint_id = ? AND id <> ?',
        [joint, recordingId],
      )) as never as [{ id: string }[]];
      const pointsOf = async (ids: string[]) => {
        const [found] = await pool.query(
          'SELECT points_hundredths AS points FROM marks WHERE sitting_id IN (?) AND in_force = 1',
          [ids],
        );
        return (found as { points: number }[]).map(m => m.points);
      };
      const ids = others.map(o => o.id);
      expect(await pointsOf(ids)).toEqual([400, 400]);
      await pool.query('DELETE FROM marks WHERE sitting_id IN (?)', [ids]);
      const scorer = await pool.getConnection();
      try {
        await scorer.query('START TRANSACTION');
        await scorer.query('SELECT id FROM sittings WHERE id = ? FOR UPDATE', [lane!.sittingId]);
        await jobs.ask(pool, 'mirrorMarks', { id: joint }, { subjectId: joint });
        // It waits for whoever scores: a lock of this database is asked for and not had.
        for (;;) {
          const [waiting] = await pool.query(
            `SELECT 1 FROM information_schema.processlist
              WHERE db = DATABASE() AND id <> CONNECTION_ID() AND info LIKE '%sittings%FOR UPDATE%' AND time_ms > 150`,
          );
          if ((waiting as unknown[]).length > 0) break;
          await new Promise(resolve => setTimeout(resolve, 50));
        }
        await scorer.query('UPDATE marks SET points_hundredths = 100 WHERE sitting_id = ? AND in_force = 1', [
          lane!.sittingId,
        ]);
        await scorer.query('COMMIT');
      } finally {
        scorer.release();
      }
      await until(
        () => pointsOf(ids),
        points => points.length === 2,
      );
      expect(await pointsOf(ids)).toEqual([100, 100]);
    });

    it('is scored once for all: the score, what changes it, praise, notes and the feedback', async () => {
      const { recordingId } = await together();
      const [lane] = await lanes(release.id);
      await mark(lane!, { finished: false });
      await mark(lane!, {}, 1);
      await teacher.ask('PUT', `/api/takes/${recordingId}/notes/${randomUUID()}`, {
        revision: 0,
        fromMs: 500,
        toMs: null,
        words: 'Lovely here.',
      });
      await teacher.ask('PUT', `/api/sittings/${lane!.sittingId}/praise/${release.itemId}`, {
        words: 'Good listening',
        given: true,
      });
      expect(await feedbackOf(farid)).toBeNull();
      const given = await teacher.ask<{ given: number }>('POST', `/api/releases/${release.id}/feedback`, {
        sittingIds: [lane!.sittingId],
      });
      expect(given.body.given).toBe(3);
      for (const who of [amara, farid, noor]) {
        const { items, total } = (await feedbackOf(who))!;
        expect(total).toEqual({ given: 4, maximum: 5 });
        expect(items[0]).toMatchObject({ points: 4, comment: 'Well answered.' });
        expect(items[0]!.notes.map(n => [n.fromMs, n.words])).toEqual([[500, 'Lovely here.']]);
        expect(items[0]!.together!.names).toHaveLength(2);
      }
      // Changed later, it is changed for all.
      await mark(lane!, { points: 5, reason: 'Heard again.' }, 2);
      expect((await feedbackOf(noor))!.total!.given).toBe(5);
      const called = await teacher.ask<{ calledOff: number; opened: number }>(
        'POST',
        `/api/releases/${release.id}/feedback/calling-off`,
        { sittingIds: [lane!.sittingId] },
      );
      // Everybody has looked at it by now.
      expect(called.body).toEqual({ calledOff: 0, opened: 3 });
    });

    it('is scored apart where a teacher says so, from then on', async () => {
      await together([farid]);
      const [lane] = await lanes(release.id);
      await mark(lane!, { points: 3 });
      const { jointId } = lane!.together!;
      await teacher.ask('PUT', `/api/together/${jointId}/apart`, { apart: true });
      const both = await lanes(release.id);
      expect(both.map(l => l.mark?.points)).toEqual([3, 3]);
      const own = (await laneOf(release.id, farid))!;
      await mark(own, { points: 5, reason: 'The better voice.' }, own.mark!.revision);
      expect((await laneOf(release.id, amara))!.mark!.points).toBe(3);
      expect((await laneOf(release.id, farid))!.mark!.points).toBe(5);
      await teacher.ask('PUT', `/api/together/${jointId}/apart`, { apart: false });
      await until(
        () => lanes(release.id),
        l => l.length === 1,
      );
      expect((await farid.ask('PUT', `/api/together/${jointId}/apart`, { apart: true })).status).toBe(404);
    });

    it('is nobody’s who says that they were not there, until a teacher has begun', async () => {
      await together([farid]);
      const jointId = (await lanes(release.id))[0]!.together!.jointId;
      const me = `/api/together/${jointId}/me`;
      expect((await amara.ask('DELETE', me)).status).toBe(404);
      expect((await noor.ask('DELETE', me)).status).toBe(404);
      expect((await farid.ask('DELETE', me)).status).toBe(204);
      expect((await standing(farid, release.id)).handedInAt).toBeNull();
      const [lane] = await lanes(release.id);
      expect(lane!.together!.without).toEqual([expect.stringContaining('were not there') as string]);
      expect(lane!.together!.names).toEqual([]);
      // By mistake: it comes back.
      await farid.ask('POST', me);
      await until(
        () => standing(farid, release.id),
        e => e.handedInAt !== null,
      );
      await mark(lane!, {});
      expect((await farid.ask('DELETE', me)).status).toBe(409);
    });

    it('leaves whoever has handed in already with what they have, and says so', async () => {
      const own = await record(farid, []);
      await handIn(farid, own.id);
      const { id } = await record(amara, [farid.id, noor.id]);
      await handIn(amara, id);
      const lane = await until(
        () => laneOf(release.id, amara),
        l => (l?.together?.without.length ?? 0) > 0,
      );
      expect(lane!.together!.without).toEqual([expect.stringContaining('had handed in already') as string]);
      expect((await laneOf(release.id, farid))!.takeId).toBe(own.recordingId);
    });

    it('takes nobody in whom the release is not for, and never more than it may', async () => {
      const stranger = await t.person('student', [await t.class()]);
      const more = await t.person('student', [classId]);
      await t.ecoute.pool.query('INSERT IGNORE INTO participants (release_id, person_id) VALUES (?, ?)', [
        release.id,
        more.id,
      ]);
      const { id } = await record(amara, [stranger.id, amara.id, farid.id, noor.id, more.id]);
      await handIn(amara, id);
      const lane = await until(
        () => laneOf(release.id, amara),
        l => l?.together?.names.length === 2,
      );
      expect(lane!.together!.without).toEqual([]);
      expect((await standing(more, release.id)).handedInAt).toBeNull();
      expect((await stranger.ask<TodoEntry[]>('GET', '/api/todo')).body).toEqual([]);
    });

    it('leaves what somebody recorded themselves to count until they choose the other, and is not scored for it', async () => {
      const own = await record(farid, []);
      const { id } = await record(amara, [farid.id]);
      await handIn(amara, id);
      const view = await until(
        () => sitting(farid, release.id),
        s => s.takes.some(x => x.together && x.recording.state === 'stored'),
      );
      expect((await standing(farid, release.id)).handedInAt).toBeNull();
      await farid.ask('POST', `/api/sittings/${view.id}/hand-in`, { withGaps: false });
      expect((await laneOf(release.id, farid))!.takeId).toBe(own.recordingId);
      await mark((await laneOf(release.id, amara))!, {});
      expect((await laneOf(release.id, farid))!.mark).toBeNull();
    });

    it('is heard once by classmates, under all names, and not by those who are heard in it', async () => {
      await t.ecoute.pool.query("UPDATE releases SET heard_by = 'class' WHERE id = ?", [release.id]);
      await together([farid]);
      const own = await record(noor, []);
      await handIn(noor, own.id);
      const heardBy = async (who: Visitor) =>
        (await who.ask<OthersView>('POST', `/api/releases/${release.id}/others`)).body.items.flatMap(i =>
          i.answers.map(a => a.studentName.split(', ').length),
        );
      expect(await heardBy(noor)).toEqual([2]);
      expect(await heardBy(farid)).toEqual([1]);
    });

    it('is among people who came by the same door: guests see no class, and no class sees guests', async () => {
      const guest = await t.person('student');
      await t.ecoute.pool.query('UPDATE people SET guest_link_id = ? WHERE id = ?', [randomUUID(), guest.id]);
      await t.ecoute.pool.query('INSERT IGNORE INTO participants (release_id, person_id) VALUES (?, ?)', [
        release.id,
        guest.id,
      ]);
      const { id } = await sitting(guest, release.id);
      expect((await guest.ask('GET', `/api/sittings/${id}/companions`)).body).toEqual([]);
      const own = await record(guest, [farid.id]);
      await handIn(guest, own.id);
      expect((await laneOf(release.id, guest))!.together).toBeUndefined();
      const { id: hers } = await sitting(amara, release.id);
      const found = (await amara.ask<Companion[]>('GET', `/api/sittings/${hers}/companions`)).body;
      expect(found.map(c => c.id)).not.toContain(guest.id);
    });

    it('leaves what else is to be done to each, and the take that was chosen counts', async () => {
      const items = [
        spokenItem({ promptText: 'Together', together: oneDevice }),
        spokenItem({ promptText: 'Alone' }),
      ];
      const both = await t.release(teacher, classId, {}, undefined, { items });
      const of = { id: both.id, itemId: items[0]!.id };
      const first = await record(amara, [farid.id], tone(2), of);
      await record(amara, [farid.id], tone(3), of);
      await amara.ask('POST', `/api/takes/${first.recordingId}/choice`);
      await amara.ask('POST', `/api/sittings/${first.id}/hand-in`, { withGaps: true });
      const entry = await until(
        () => standing(farid, both.id),
        e => e.answeredItemIds.length > 0,
      );
      expect(entry.handedInAt).toBeNull();
      const { id, takes } = await sitting(farid, both.id);
      expect(takes.map(x => Math.round(x.recording.durationMs! / 1000))).toEqual([2]);
      // Whoever goes on alone hands in alone, and is scored with the others all the same.
      await farid.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: true });
      const [lane] = (await lanes(both.id)).filter(l => l.itemId === of.itemId);
      const marked = await teacher.ask('PUT', `/api/sittings/${lane!.sittingId}/marks/${of.itemId}`, {
        revision: 0,
        points: 2,
        comment: '',
        finished: true,
      });
      expect(marked.status).toBe(200);
    });

    it('cannot be taken back once it is others’ as well, and is recorded again by all', async () => {
      const { id } = await together([farid]);
      const mayWithdraw = (await amara.ask<SittingView>('GET', `/api/sittings/${id}`)).body.mayWithdraw;
      expect(mayWithdraw).toBe(false);
      await teacher.ask('POST', `/api/releases/${release.id}/decisions`, {
        kind: 'askAgain',
        sittingId: id,
        reason: 'Louder, please.',
      });
      for (const who of [amara, farid])
        expect((await standing(who, release.id)).askedAgainFor).toBe('Louder, please.');
      const again = (await amara.ask<SittingView>('POST', `/api/releases/${release.id}/another-sitting`))
        .body;
      const recordingId = randomUUID();
      await amara.ask('POST', `/api/sittings/${again.id}/takes`, {
        recordingId,
        itemId: release.itemId,
        mediaType: 'audio/wav',
        beganAt: new Date().toISOString(),
        withIds: [farid.id],
      });
      await send(amara, recordingId, tone(3));
      await settled(amara, recordingId);
      await handIn(amara, again.id);
      await until(
        () => standing(farid, release.id),
        e => e.askedAgainFor === null && e.handedInAt !== null,
      );
      const all = await lanes(release.id);
      expect(all.map(l => [l.studentId, l.sittingNumber])).toEqual([[amara.id, 2]]);
    });

    it('comes through a crash between any two of its steps', async () => {
      await together([farid]);
      const { sittingId } = await standing(farid, release.id);
      const [take] = (await farid.ask<SittingView>('GET', `/api/sittings/${sittingId}`)).body.takes;
      await until(
        async () =>
          (
            await t.ecoute.pool.query<RowDataPacket[]>(
              "SELECT 1 FROM jobs WHERE kind IN ('shareJoint', 'mirrorMarks')",
            )
          )[0],
        jobs => jobs.length === 0,
      );
      // Room was made, and its bytes are not here.
      await t.ecoute.files.remove(`originals/${take!.id}`);
      await t.ecoute.pool.query(
        "UPDATE recordings SET state = 'arriving', arrived_at = NULL, size_bytes = NULL WHERE id = ?",
        [take!.id],
      );
      const sweeping = async <T>(ask: () => Promise<T>) => {
        await t.ecoute.jobs.sweep();
        return ask();
      };
      await until(
        () => sweeping(() => farid.ask<RecordingView>('GET', `/api/recordings/${take!.id}`)),
        r => r.body.state === 'stored',
      );
      // Handed in, and nobody has it yet.
      await t.ecoute.pool.query('UPDATE joint_people SET take_id = NULL WHERE person_id = ?', [farid.id]);
      await t.ecoute.pool.query('UPDATE sittings SET handed_in_at = NULL, receipt = NULL WHERE id = ?', [
        sittingId,
      ]);
      await until(
        () => sweeping(() => standing(farid, release.id)),
        e => e.handedInAt !== null,
      );
    });
  });

  describe('in turns', () => {
    let release: { id: string; itemId: string };
    beforeEach(async () => {
      release = await t.release(teacher, classId, {
        together: { way: 'turns', most: 3, turnsEach: 2 },
        answerLimitMs: 3_000,
      });
    });
    type Refused = TurnsView[] & { code: string; message: string };
    const begin = async (who: Visitor, others: Visitor[], id = randomUUID()) => {
      const { id: sittingId } = await sitting(who, release.id);
      return who.ask<Refused>('POST', `/api/sittings/${sittingId}/turns`, {
        id,
        itemId: release.itemId,
        personIds: others.map(o => o.id),
      });
    };
    const runs = async (who: Visitor) => {
      const { id } = await sitting(who, release.id);
      return (await who.ask<TurnsView[]>('GET', `/api/sittings/${id}/turns`)).body;
    };
    const give = (who: Visitor, jointId: string, number: number, recordingId = randomUUID()) =>
      who.ask<TurnsView & { code: string }>('POST', `/api/together/${jointId}/turns`, {
        recordingId,
        mediaType: 'audio/wav',
        number,
      });
    const speak = async (who: Visitor, jointId: string, number: number, sound = tone(1)) => {
      const recordingId = randomUUID();
      const given = await give(who, jointId, number, recordingId);
      if (given.status !== 200) return given;
      await send(who, recordingId, sound);
      await settled(who, recordingId);
      return given;
    };

    it('are spoken one after the other, heard by each other alone, and joined to one run in order', async () => {
      const jointId = (await begin(amara, [farid])).body[0]!.id;
      expect((await runs(farid))[0]).toMatchObject({ next: 0, isMyTurn: false });
      expect(await runs(noor)).toEqual([]);
      expect((await speak(farid, jointId, 0)).body.code).toBe('stale');
      expect((await speak(noor, jointId, 0)).status).toBe(404);
      for (const [n, who] of [amara, farid, amara, farid].entries()) {
        const [run] = await runs(who);
        expect([run!.next, run!.isMyTurn]).toEqual([n, true]);
        // The number of seconds says whose turn it was.
        expect((await speak(who, jointId, n, tone(1 + n * 0.25))).status).toBe(200);
      }
      const first = (await runs(farid))[0]!.turns[0]!.recordingId!;
      expect((await farid.ask('GET', `/api/recordings/${first}/sound`)).status).toBe(200);
      expect((await noor.ask('GET', `/api/recordings/${first}/sound`)).status).toBe(404);
      for (const who of [amara, farid]) {
        const { id, takes } = await until(
          () => sitting(who, release.id),
          s => s.takes[0]?.recording.state === 'stored',
        );
        const ms = takes[0]!.recording.durationMs!;
        expect(Math.abs(ms - 5_500)).toBeLessThan(60);
        const { stretches } = takes[0]!.together!;
        expect(stretches.map(x => Math.round((x.toMs - x.fromMs) / 250))).toEqual([4, 5, 6, 7]);
        expect(stretches.at(-1)!.toMs).toBe(ms);
        await who.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: false });
      }
      const all = await lanes(release.id);
      expect(all.map(l => [l.studentId, l.together!.names.length])).toEqual([[amara.id, 1]]);
      expect((await runs(amara))[0]).toMatchObject({ isOver: true, isJoined: true, next: null });
    });

    it('go to nobody twice, and wait for the turn before', async () => {
      const jointId = (await begin(amara, [farid])).body[0]!.id;
      const recordingId = randomUUID();
      const all = await Promise.all([1, 2, 3].map(() => give(amara, jointId, 0, recordingId)));
      expect(all.map(a => a.status)).toEqual([200, 200, 200]);
      expect((await runs(amara))[0]!.turns.filter(x => x.recordingId)).toHaveLength(1);
      // It is announced, and not here.
      expect((await runs(farid))[0]!.isMyTurn).toBe(false);
      expect((await speak(farid, jointId, 1)).body.code).toBe('stale');
      await send(amara, recordingId, tone(1));
      await settled(amara, recordingId);
      expect((await runs(farid))[0]!.isMyTurn).toBe(true);
    });

    it('in which nothing is heard, or that are no sound, are spoken again, also the last', async () => {
      const jointId = (await begin(amara, [farid])).body[0]!.id;
      await speak(amara, jointId, 0, tone(1, 0));
      expect((await runs(amara))[0]).toMatchObject({ next: 0, isMyTurn: true });
      for (const [n, who] of [amara, farid, amara].entries()) await speak(who, jointId, n);
      await speak(farid, jointId, 3, Buffer.from('no sound'));
      expect((await runs(farid))[0]).toMatchObject({ next: 3, isMyTurn: true, isOver: false });
      await speak(farid, jointId, 3);
      await until(
        () => runs(farid),
        r => r[0]!.isJoined,
      );
    });

    it('end with what there is when somebody does not come; one in which nobody spoke is gone', async () => {
      const jointId = (await begin(amara, [farid])).body[0]!.id;
      await speak(amara, jointId, 0);
      expect((await noor.ask('POST', `/api/together/${jointId}/ended`)).status).toBe(404);
      await amara.ask('POST', `/api/together/${jointId}/ended`);
      await until(
        () => sitting(farid, release.id),
        s => s.takes[0]?.recording.state === 'stored',
      );
      expect((await give(farid, jointId, 1)).body.code).toBe('stale');
      const next = (await begin(amara, [noor])).body.at(-1)!.id;
      await noor.ask('POST', `/api/together/${next}/ended`);
      expect((await runs(amara)).map(r => r.id)).toEqual([jointId]);
    });

    it('begin once, with those who may and are free, also when two begin with each other at once', async () => {
      const id = randomUUID();
      await Promise.all([begin(amara, [farid], id), begin(amara, [farid], id)]);
      expect(await runs(amara)).toHaveLength(1);
      expect((await begin(noor, [farid])).body.message).toContain('speaks with others just now');
      expect((await begin(farid, [noor])).body.message).toContain('You speak in turns already');
      expect((await begin(noor, [])).status).toBe(422);
      const stranger = await t.person('student', [await t.class()]);
      expect((await begin(noor, [stranger])).body.code).toBe('invalid');
      await farid.ask('POST', `/api/together/${id}/ended`);
      // Somebody who is named twice speaks once.
      const [twice] = (await begin(noor, [farid, farid])).body;
      expect(twice!.names).toHaveLength(2);
      await farid.ask('POST', `/api/together/${twice!.id}/ended`);
      const both = await Promise.all([begin(farid, [noor]), begin(noor, [farid])]);
      expect(both.map(b => b.status).sort()).toEqual([200, 422]);
    });

    it('are over with the assessment: nobody speaks any more, and what was said is handed in', async () => {
      const jointId = (await begin(amara, [farid])).body[0]!.id;
      await speak(amara, jointId, 0);
      await t.ecoute.pool.query(
        'UPDATE releases SET late_accepted = 0, opens_at = UTC_TIMESTAMP(3) - INTERVAL 2 DAY, due_at = UTC_TIMESTAMP(3) - INTERVAL 1 DAY WHERE id = ?',
        [release.id],
      );
      expect((await give(farid, jointId, 1)).body.code).toBe('releaseClosed');
      await t.ecoute.jobs.sweep();
      for (const who of [amara, farid])
        expect(
          await until(
            () => standing(who, release.id),
            e => e.handedInAt !== null,
          ),
        ).toMatchObject({ late: false });
    });

    it('are joined after a crash before it', async () => {
      const jointId = (await begin(amara, [farid])).body[0]!.id;
      await speak(amara, jointId, 0);
      await t.ecoute.pool.query('UPDATE joint_answers SET ended_at = UTC_TIMESTAMP(3) WHERE id = ?', [
        jointId,
      ]);
      await t.ecoute.jobs.sweep();
      await until(
        () => sitting(farid, release.id),
        s => s.takes[0]?.recording.state === 'stored',
      );
    });
  });
});
