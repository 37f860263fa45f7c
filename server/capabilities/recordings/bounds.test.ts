import { randomUUID } from 'node:crypto';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { SittingView } from '@ecoute/contract/sittings';
import { blankContent } from '@ecoute/contract/blank';
import { quotasOf } from '../../platform/config';
import { made } from '../../testing/files';
import { recordTake, send, settled, TestEcoute, type Visitor } from '../../testing/ecoute';

const MB = 1024 ** 2;

describe('what is kept, and how it leaves', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let bomb: Uint8Array;
  beforeAll(async () => {
    // Six hours of silence in a few kilobytes.
    bomb = made('bomb.flac', '-t', '21600', '-i', 'anullsrc=r=8000:cl=mono');
    // A tenth of a megabyte: two takes of two seconds.
    t = await TestEcoute.open({
      withCopies: true,
      quotas: { ...quotasOf({}), student: 0.1 * MB, release: 0.2 * MB },
    });
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const begun = async (student: Visitor, release: { id: string }) =>
    (await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`)).body.id;
  const room = async (who: Visitor) =>
    (await who.ask<{ usedBytes: number; quotaBytes: number }>('GET', '/api/me')).body;

  it('refuses a take in words when a person has no room, and takes it once there is some', async () => {
    const student = await t.person('student', [classId]);
    const other = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, { takesAllowed: 5 });
    const sittingId = await begun(student, release);
    const left = async () =>
      (await student.ask<SittingView>('GET', `/api/sittings/${sittingId}`)).body.roomLeftBytes;
    // The page says so before the room is full, and once it is.
    expect(await left()).toBe(0.1 * MB);
    for (let n = 0; n < 2; n++) {
      const { announced } = await recordTake(student, sittingId, release.itemId);
      expect(announced.status).toBe(200);
    }
    expect((await room(student)).usedBytes).toBeGreaterThan(0.1 * MB);
    expect(await left()).toBe(0);
    const { announced } = await recordTake(student, sittingId, release.itemId);
    expect([announced.status, announced.body]).toMatchObject([413, { code: 'overQuota' }]);
    expect(String((announced.body as { message: string }).message)).toContain('stays on your device');
    // Somebody else is not in the way of it.
    expect((await recordTake(other, await begun(other, release), release.itemId)).recording!.state).toBe(
      'stored',
    );
  });

  it('refuses for a release that is full, whoever comes', async () => {
    const students: Visitor[] = [];
    for (let n = 0; n < 5; n++) students.push(await t.person('student', [classId]));
    const release = await t.release(teacher, classId);
    const statuses: number[] = [];
    for (const student of students) {
      statuses.push(
        (await recordTake(student, await begun(student, release), release.itemId)).announced.status,
      );
      // What a release keeps is added up anew after half a minute.
      (
        t.ecoute.recordings as unknown as { room: { remembered: Map<string, unknown> } }
      ).room.remembered.clear();
    }
    expect(statuses.slice(0, 3)).toEqual([200, 200, 200]);
    expect(statuses.at(-1)).toBe(413);
  });

  it('serves nothing that somebody sent as a page of ours', async () => {
    const { body } = await teacher.ask<{ id: string }>('POST', '/api/assessments', blankContent());
    const recordingId = randomUUID();
    await teacher.ask('POST', `/api/assessments/${body.id}/prompts`, {
      recordingId,
      mediaType: 'text/html',
      source: 'uploaded',
      fileName: '"><script>.html',
      wanted: 'show',
    });
    await send(teacher, recordingId, Buffer.from('<html><script>alert(1)</script></html>'));
    expect((await settled(teacher, recordingId)).state).toBe('refused');
    const picture = randomUUID();
    await teacher.ask('POST', `/api/assessments/${body.id}/prompts`, {
      recordingId: picture,
      mediaType: 'image/png',
      source: 'uploaded',
      fileName: 'a.png',
      wanted: 'show',
    });
    await send(teacher, picture, made('a.png', '-i', 'testsrc=size=64x64:d=1', '-frames:v', '1'));
    expect((await settled(teacher, picture)).state).toBe('stored');
    for (const path of [`${recordingId}/sound`, `${picture}/sound`, `${picture}/shown`]) {
      const { status, headers } = await teacher.ask('GET', `/api/recordings/${path}`);
      if (status !== 200) continue;
      expect(headers.get('content-security-policy')).toContain('sandbox');
      expect(headers.get('x-content-type-options')).toBe('nosniff');
      expect(headers.get('content-type')).not.toContain('html');
    }
  });

  it('does not unpack a small file into hours of sound, and keeps no copy of what it refuses', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { recording, recordingId } = await recordTake(
      student,
      await begun(student, release),
      release.itemId,
      bomb,
    );
    const { state, problem } = recording as unknown as RecordingView;
    expect(state).toBe('refused');
    expect(['tooLong', 'empty']).toContain(problem);
    const [jobs] = await t.ecoute.pool.query(
      "SELECT 1 FROM jobs WHERE kind IN ('makePlayable', 'measureTake') AND subject_id = ?",
      [recordingId],
    );
    expect(jobs).toEqual([]);
  });
});
