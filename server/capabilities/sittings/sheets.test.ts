import type { NewInk, SheetView } from '@ecoute/contract/ink';
import { handInOne, recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

/** What is drawn while one speaks belongs to its take: it comes once, from whoever recorded it, and stays. */
describe('sheets that are drawn on while one speaks', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
  });
  afterAll(() => t.close());

  const ink: NewInk = {
    height: 700,
    strokes: [
      { pen: 0, points: [10, 10, 100, 200, 10, 900] },
      { pen: 3, points: [10, 90, 1000], goneMs: 1500 },
    ],
  };
  const put = (who: Visitor, takeId: string, body: unknown = ink) =>
    who.ask<{ code: string }>('PUT', `/api/takes/${takeId}/sheet`, body as object);
  const seen = async (who: Visitor, takeId: string) => {
    const { status, body } = await who.ask<{ sheet: SheetView | null }>('GET', `/api/takes/${takeId}/sheet`);
    return status === 200 ? body.sheet : status;
  };
  const taken = async (over: object = { sheet: 'empty' }) => {
    const release = await t.release(teacher, classId, over);
    const { body } = await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    const take = await recordTake(student, body.id, release.itemId, tone(2));
    return { release, sittingId: body.id, takeId: take.recordingId };
  };

  it('are seen by their student and the teachers of the class, and by nobody else', async () => {
    const { takeId } = await taken();
    expect(await seen(student, takeId)).toBeNull();
    expect((await put(student, takeId)).status).toBe(204);
    expect(await seen(student, takeId)).toEqual({ ink, fromMs: 0, overId: null });
    expect(await seen(teacher, takeId)).toMatchObject({ ink });
    const others = [await t.person('student', [classId]), await t.person('teacher', [await t.class()])];
    for (const other of others) {
      expect(await seen(other, takeId)).toBe(404);
      expect((await put(other, takeId)).status).toBe(404);
    }
    expect((await put(teacher, takeId)).status).toBe(404);
  });

  it('stay as they came: the same again is harmless, another one is refused', async () => {
    const { takeId } = await taken();
    await put(student, takeId);
    expect((await put(student, takeId)).status).toBe(204);
    const other = await put(student, takeId, { height: 700, strokes: [] });
    expect([other.status, other.body.code]).toEqual([409, 'stale']);
    expect(await seen(student, takeId)).toMatchObject({ ink });
  });

  it('come as late as their take does, until feedback is given', async () => {
    const late = await taken();
    await student.ask('POST', `/api/sittings/${late.sittingId}/hand-in`, { withGaps: true });
    expect((await put(student, late.takeId)).status).toBe(204);
    // Not thought of afterwards.
    const after = await taken();
    await student.ask('POST', `/api/sittings/${after.sittingId}/hand-in`, { withGaps: true });
    await t.ecoute.pool.query(
      'UPDATE recordings SET arrived_at = UTC_TIMESTAMP(3) - INTERVAL 1 HOUR WHERE id = ?',
      [after.takeId],
    );
    expect((await put(student, after.takeId)).body.code).toBe('handedIn');
    expect(await seen(student, after.takeId)).toBeNull();
    const back = await taken();
    await student.ask('POST', `/api/sittings/${back.sittingId}/hand-in`, { withGaps: true });
    await t.ecoute.pool.query('UPDATE sittings SET feedback_at = UTC_TIMESTAMP(3) WHERE id = ?', [
      back.sittingId,
    ]);
    expect((await put(student, back.takeId)).body.code).toBe('feedbackGiven');
  });

  it('are not kept where nothing is drawn, nor what is no ink', async () => {
    const plain = await taken({});
    expect((await put(student, plain.takeId)).body.code).toBe('notForThisItem');
    const { takeId } = await taken();
    const bad = [
      { height: 700 },
      { height: -1, strokes: [] },
      { height: 700, strokes: [{ pen: 0, points: ['"/><script>', 0, 0] }] },
      { height: 700, strokes: [{ pen: 17, points: [0, 0, 0] }] },
      { height: 700, strokes: [{ pen: 0, points: [0, 0, 0], d: 'M0 0' }] },
    ];
    for (const body of bad.slice(0, 4)) expect((await put(student, takeId, body)).status).toBe(422);
    expect(await seen(student, takeId)).toBeNull();
    // What does not belong is left behind.
    await put(student, takeId, bad[4]);
    expect(JSON.stringify(await seen(student, takeId))).not.toContain('M0');
  });

  it('lie beside what is heard also where it was cut', async () => {
    const { takeId } = await taken({ sheet: 'empty', trimAllowed: true });
    await put(student, takeId);
    const cut = await student.ask('PUT', `/api/takes/${takeId}/trim`, { fromMs: 500, toMs: 1800 });
    expect(cut.status).toBe(200);
    const recorded = await t.ecoute.pool.query('UPDATE takes SET clock = ? WHERE id = ?', [
      JSON.stringify({
        gated: false,
        soundFromMs: null,
        answerFromMs: 0,
        loopMs: 0,
        loopMeasured: false,
        beat: null,
      }),
      takeId,
    ]);
    expect(recorded).toBeDefined();
    expect(await seen(student, takeId)).toMatchObject({ fromMs: -500 });
  });

  it('go onto paper and into what is kept, as SVG and as InkML', async () => {
    const other = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, { sheet: 'empty' });
    const handed = await handInOne(other, release, 1);
    await put(other, handed.takeId);
    const paper = (
      await fetch(`${t.base}/api/sittings/${handed.id}/sheet.pdf`, { headers: teacher.cookies() })
    ).status;
    expect(paper).toBe(200);
    const zip = await fetch(`${t.base}/api/releases/${release.id}/recordings.zip`, {
      headers: teacher.cookies(),
    });
    const bytes = Buffer.from(await zip.arrayBuffer()).toString('latin1');
    expect(Number(zip.headers.get('content-length'))).toBe(bytes.length);
    expect(bytes).toContain('item 1.svg');
    expect(bytes).toContain('<trace brushRef="#pen0">10 10 100, 200 10 900</trace>');
  });
});
