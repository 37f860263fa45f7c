import { join } from 'node:path';
import type { ListenView } from '@ecoute/contract/marking';
import type { Receipt, SittingAccount, SittingView, TakeView } from '@ecoute/contract/sittings';
import { playable } from '../recordings/files';
import { measure } from '../recordings/sound';
import { recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

interface Peaks {
  durationMs: number;
}

describe('a take cut to a stretch of itself', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open({ withCopies: true });
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  /** Four seconds: silence, two seconds of tone, silence. */
  function surrounded(): Uint8Array {
    const bytes = Buffer.from(tone(4));
    const second = 32_000;
    bytes.fill(0, 44, 44 + second);
    bytes.fill(0, 44 + 3 * second);
    return bytes;
  }

  async function taken(item: Record<string, unknown>) {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, item);
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    const { recordingId, recording } = await recordTake(student, body.id, release.itemId, surrounded());
    return { student, release, id: body.id, takeId: recordingId, recording: recording! };
  }
  const trim = (student: Visitor, takeId: string, fromMs: number, toMs: number) =>
    student.ask<TakeView & { message: string }>('PUT', `/api/takes/${takeId}/trim`, { fromMs, toMs });
  const lengthOf = async (student: Visitor, takeId: string) =>
    (await student.ask<Peaks>('GET', `/api/recordings/${takeId}/peaks`)).body.durationMs;

  it('is heard and counted as that stretch; the whole stays, and can be put back', async () => {
    const { student, release, id, takeId, recording } = await taken({ trimAllowed: true });
    const cut = await trim(student, takeId, 900, 3_100);
    expect(cut.status).toBe(200);
    expect(cut.body.recording.trim).toEqual({ fromMs: 900, toMs: 3_100, wholeMs: 4_000 });
    expect(Math.abs(cut.body.recording.durationMs! - 2_200)).toBeLessThan(20);
    expect(Math.abs((await lengthOf(student, takeId)) - 2_200)).toBeLessThan(20);
    // What came is what its checksum speaks of, still.
    expect(cut.body.recording.sha256).toBe(recording.sha256);

    // Moved further: the stretch is one of the whole, not of what was left.
    const further = await trim(student, takeId, 1_000, 3_500);
    expect(Math.abs(further.body.recording.durationMs! - 2_500)).toBeLessThan(20);

    const whole = await student.ask<TakeView>('DELETE', `/api/takes/${takeId}/trim`);
    expect(whole.body.recording).toMatchObject({ trim: null, durationMs: 4_000 });
    expect(await lengthOf(student, takeId)).toBe(4_000);

    await trim(student, takeId, 1_000, 3_000);
    const receipt = (await student.ask<Receipt>('POST', `/api/sittings/${id}/hand-in`, { withGaps: true }))
      .body;
    expect(Math.abs(receipt.lines[0]!.durationMs! - 2_000)).toBeLessThan(20);
    expect(receipt.lines[0]!.sha256).toBe(recording.sha256);
    const { body } = await teacher.ask<ListenView>('GET', `/api/releases/${release.id}/lanes`);
    expect(body.lanes[0]).toMatchObject({ takeId, wholeMs: 4_000 });
    const account = (await teacher.ask<SittingAccount>('GET', `/api/sittings/${id}/account`)).body;
    expect(account.events.map(e => e.kind)).toEqual([
      'takeTrimmed',
      'takeTrimmed',
      'takeMadeWhole',
      'takeTrimmed',
      'handedIn',
    ]);
    // Handed in, it stays as it is.
    expect(await trim(student, takeId, 0, 1_500)).toMatchObject({ status: 409 });
    expect((await student.ask('DELETE', `/api/takes/${takeId}/trim`)).status).toBe(409);
  });

  it('has a copy of the stretch to play in the end, also when the copy of the whole was under way', async () => {
    const { student, takeId } = await taken({ trimAllowed: true });
    await trim(student, takeId, 1_000, 2_000);
    const standing = async () => {
      const [rows] = await t.ecoute.pool.query(
        "SELECT (SELECT COUNT(*) FROM jobs WHERE kind = 'makePlayable') AS open, playable_at AS at FROM recordings WHERE id = ?",
        [takeId],
      );
      return (rows as { open: number; at: Date | null }[])[0]!;
    };
    for (let now = await standing(); now.at === null || now.open > 0; now = await standing())
      await new Promise(resolve => setTimeout(resolve, 50));
    const copy = await measure(join(t.config.dataDir, 'sounds', playable(takeId)), 60_000);
    // An encoder's priming is all that may be added.
    expect(copy!.durationMs).toBeGreaterThan(950);
    expect(copy!.durationMs).toBeLessThan(1_100);
  });

  it('is one stretch that all say the same of, when it is cut twice at once', async () => {
    const { student, id, takeId } = await taken({ trimAllowed: true });
    const cuts = [
      { fromMs: 900, toMs: 3_100 },
      { fromMs: 500, toMs: 1_500 },
    ];
    await Promise.all(cuts.map(({ fromMs, toMs }) => trim(student, takeId, fromMs, toMs)));
    const { body } = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    const { trim: holds, durationMs } = body.takes[0]!.recording;
    expect(cuts).toContainEqual({ fromMs: holds!.fromMs, toMs: holds!.toMs });
    const wantedMs = holds!.toMs - holds!.fromMs;
    expect(Math.abs(durationMs! - wantedMs)).toBeLessThan(30);
    expect(Math.abs((await lengthOf(student, takeId)) - wantedMs)).toBeLessThan(30);
    const copy = join(t.config.dataDir, 'sounds', playable(takeId));
    const long = async () => {
      const measured = await measure(copy, 60_000).catch(() => null);
      return Math.abs((measured?.durationMs ?? 0) - wantedMs);
    };
    while ((await long()) > 120) await new Promise(resolve => setTimeout(resolve, 50));
  });

  it('stays whole where the item says so, where too little would be left, and for anybody else', async () => {
    const fixed = await taken({ trimAllowed: false });
    const refused = await trim(fixed.student, fixed.takeId, 1_000, 3_000);
    expect([refused.status, refused.body.message]).toEqual([
      409,
      expect.stringContaining('stay as they were'),
    ]);

    const { student, takeId } = await taken({ trimAllowed: true, shortestAnswerMs: 3_000 });
    const short = await trim(student, takeId, 1_000, 3_000);
    expect([short.status, short.body.message]).toEqual([422, expect.stringContaining('Too little')]);
    for (const [fromMs, toMs] of [
      [500, 9_000],
      [3_500, 500],
      [-1, 3_900],
    ] as const)
      expect((await trim(student, takeId, fromMs, toMs)).status).toBe(422);
    expect(await lengthOf(student, takeId)).toBe(4_000);

    const other = await t.person('student', [classId]);
    expect((await trim(other, takeId, 0, 3_500)).status).toBe(404);
    expect((await trim(teacher, takeId, 0, 3_500)).status).toBe(404);
  });
});
