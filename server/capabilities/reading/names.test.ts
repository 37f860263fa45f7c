import { createHash } from 'node:crypto';
import type { Decision } from '@ecoute/contract/decisions';
import type { ListenView } from '@ecoute/contract/marking';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import type { SittingAccount } from '@ecoute/contract/sittings';
import { recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

/** Nothing that a teacher is sent while names are hidden joins a voice to a name. */
describe('hidden names', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let students: Visitor[];
  let classId: string;
  let release: Awaited<ReturnType<TestEcoute['release']>>;
  const own = new Map<string, { sittingId: string; takeId: string }>();
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    students = [];
    for (let n = 0; n < 4; n++) students.push(await t.person('student', [classId]));
    release = await t.release(teacher, classId, { answerBy: 'file' });
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: true });
    for (const [n, student] of students.slice(0, 3).entries()) {
      const { body } = await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
      const { recordingId } = await recordTake(
        student,
        body.id,
        release.itemId,
        tone(1 + n),
        `Name of student ${n} essay.wav`,
      );
      await student.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
      own.set(student.id, { sittingId: body.id, takeId: recordingId });
    }
  });
  afterAll(() => t.close());

  const lanes = async () => (await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`)).body;
  const overview = async () => (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`)).body;
  const voiceOf = async (student: Visitor) =>
    (await lanes()).lanes.find(l => l.sittingId === own.get(student.id)!.sittingId)!.studentName;

  it('say who hid them and who showed them, once for each change', async () => {
    const put = (who: Visitor, hidden: boolean) =>
      who.ask('PUT', `/api/releases/${release.id}/names`, { hidden });
    const changes = async () => (await lanes()).namesChanges.map(c => [c.hidden, c.by]);
    expect(await changes()).toEqual([[true, `Name of teacher-${teacher.id}`]]);
    await put(teacher, true);
    expect(await changes()).toHaveLength(1);
    const colleague = await t.person('teacher', [classId]);
    await put(colleague, false);
    await put(colleague, true);
    expect((await changes()).map(c => c[0])).toEqual([true, false, true]);
    expect((await put(students[0]!, false)).status).toBe(404);
  });

  it('are numbers that only the server can work out, and stay when somebody joins', async () => {
    const before = await Promise.all(students.slice(0, 3).map(voiceOf));
    expect(new Set(before).size).toBe(3);
    for (const name of before) expect(name).toMatch(/^Voice \d{3}$/);
    // As an earlier Ecoute made them: by what the page is told.
    const guessed = (await overview()).students
      .map(s => ({ id: s.id, by: createHash('sha256').update(`${release.id} ${s.id}`).digest('hex') }))
      .sort((a, b) => (a.by < b.by ? -1 : 1))
      .map(s => s.id);
    const shown = (await lanes()).lanes.map(l => [...own].find(([, o]) => o.sittingId === l.sittingId)![0]);
    const secrets = (await t.ecoute.pool.query('SELECT HEX(names_secret) AS s FROM releases')) as never as [
      { s: string }[],
    ];
    expect(JSON.stringify([await overview(), await lanes()])).not.toContain(secrets[0][0]!.s);
    expect(new Set(secrets[0].map(s => s.s)).size).toBe(secrets[0].length);
    // The order follows the secret: one in six that it is the same, so it is looked at over many secrets.
    let same = 0;
    for (let n = 0; n < 12; n++) {
      await t.ecoute.pool.query('UPDATE releases SET names_secret = RANDOM_BYTES(32) WHERE id = ?', [
        release.id,
      ]);
      const order = (await lanes()).lanes.map(l => [...own].find(([, o]) => o.sittingId === l.sittingId)![0]);
      if (order.join() === guessed.filter(id => own.has(id)).join()) same += 1;
    }
    expect([same < 12, shown.length]).toEqual([true, 3]);
    const now = await Promise.all(students.slice(0, 3).map(voiceOf));
    await t.person('student', [classId]);
    await t.ecoute.pool.query(
      'INSERT IGNORE INTO participants (release_id, person_id) SELECT ?, person_id FROM class_members WHERE class_id = ? AND role = ?',
      [release.id, classId, 'student'],
    );
    expect(await Promise.all(students.slice(0, 3).map(voiceOf))).toEqual(now);
  });

  it('are told by no clock: neither the account, nor the overview, nor a file says when', async () => {
    const { sittingId, takeId } = own.get(students[0]!.id)!;
    const account = (await teacher.ask<SittingAccount>('GET', `/api/sittings/${sittingId}/account`)).body;
    expect([account.relative, account.studentName, account.beganAt.slice(0, 10)]).toEqual([
      true,
      '',
      '1970-01-01',
    ]);
    expect(account.handedInAt!.slice(0, 10)).toBe('1970-01-01');
    for (const s of (await overview()).students)
      expect(s).toMatchObject({
        handedInAt: null,
        feedbackAt: null,
        sittingId: null,
        answered: 0,
        hearings: {},
        live: null,
      });
    for (const path of ['sound', 'file', 'shown', 'peaks']) {
      const { headers } = await teacher.ask('GET', `/api/recordings/${takeId}/${path}`);
      expect([path, headers.get('last-modified')]).toEqual([path, null]);
      // What the tag knows of when it was written cannot be read out of it.
      if (path === 'peaks' || path === 'shown') continue;
      expect(headers.get('etag')).toMatch(/^"[0-9a-f]+-[0-9a-f]{16}"$/);
      const { files } = t.ecoute;
      const written = await Promise.all(
        [`playable/${takeId}.m4a`, `originals/${takeId}`].map(f => files.changedAt(f)),
      );
      for (const at of written) if (at) expect(headers.get('etag')).not.toContain(at.getTime().toString(16));
    }
    const beside = await teacher.ask<{ recordedAt: string | null }[]>(
      'GET',
      `/api/sittings/${sittingId}/items/${release.itemId}/beside`,
    );
    expect(beside.body.every(b => b.recordedAt === null)).toBe(true);
    expect(JSON.stringify((await lanes()).lanes)).not.toMatch(/"(began|handedIn|recorded)At"/);
  });

  it('are told by no hand-in: by name it is said only whether somebody has begun, until it is due', async () => {
    expect(
      (await overview()).students
        .map(s => s.state)
        .sort()
        .slice(-3),
    ).toEqual(['underWay', 'underWay', 'underWay']);
    const fourth = students[3]!;
    const { body } = await fourth.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    const take = await recordTake(fourth, body.id, release.itemId, tone(1), 'x.wav');
    // What is under way is not heard.
    expect((await lanes()).lanes.some(l => l.takeId === take.recordingId)).toBe(false);
    const before = await overview();
    await fourth.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: false });
    const stateOf = (of: ReleaseDetail) => of.students.find(s => s.id === fourth.id)!.state;
    expect([stateOf(before), stateOf(await overview())]).toEqual(['underWay', 'underWay']);
    expect((await lanes()).missing).toEqual([]);
  });

  it('are told by no file name, in no place that says one', async () => {
    for (const { takeId } of own.values()) {
      const file = await teacher.ask('GET', `/api/recordings/${takeId}/file`);
      const details = await teacher.ask('GET', `/api/recordings/${takeId}/details`);
      expect([file.headers.get('content-disposition'), details.body.fileName, details.body.quietMs]).toEqual([
        'attachment; filename=file.wav',
        'file.wav',
        0,
      ]);
    }
    expect(JSON.stringify(await lanes())).not.toContain('Name of student');
    // Its own student is told as it is.
    const { takeId } = own.get(students[0]!.id)!;
    expect((await students[0]!.ask('GET', `/api/recordings/${takeId}/details`)).body.fileName).toBe(
      'Name of student 0 essay.wav',
    );
  });

  it('are told by no decision: one about a name says a name, one about a voice says a voice', async () => {
    const decide = (body: object) =>
      teacher.ask<Decision[]>('POST', `/api/releases/${release.id}/decisions`, {
        reason: '',
        kind: 'another',
        ...body,
      });
    const named = (await decide({ personId: students[1]!.id })).body;
    expect(named[0]!.studentName).toBe(`Name of student-${students[1]!.id}`);
    const voiced = (await decide({ sittingId: own.get(students[2]!.id)!.sittingId })).body;
    expect(voiced[0]!.studentName).toBe(await voiceOf(students[2]!));
    // What it granted is not seen beside the name.
    expect((await overview()).students.map(s => s.extraSittings)).toEqual(
      (await overview()).students.map(() => 0),
    );
  });

  it('are told by no sheet before the feedback', async () => {
    const { sittingId } = own.get(students[1]!.id)!;
    await teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${release.itemId}`, {
      revision: 0,
      points: 3,
      comment: 'Well done {name}',
      finished: true,
    });
    const sheet = await teacher.ask<string>('GET', `/api/sittings/${sittingId}/sheet.pdf`);
    expect(sheet.status).toBe(200);
    // A finished mark shows on the voice's lane, and nowhere beside a name.
    expect((await overview()).students.map(s => s.state)).not.toContain('marked');
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sittingId] });
    expect(await voiceOf(students[1]!)).toBe(`Name of student-${students[1]!.id}`);
  });
});
