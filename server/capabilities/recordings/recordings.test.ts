import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { columnsOf, type Peaks } from '@ecoute/core/audio/peaks';
import { recordTake, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { made } from '../../testing/files';

describe('recordings', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let release: { id: string; itemId: string; assessmentId: string };
  let sittingId: string;

  beforeAll(async () => {
    t = await TestEcoute.open();
    const classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    release = await t.release(teacher, classId, { takesAllowed: 0 });
    sittingId = (await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`)).body.id;
  });
  afterAll(() => t.close());

  const take = (bytes?: Uint8Array) => recordTake(student, sittingId, release.itemId, bytes);

  it('keeps every byte as it came and measures what is in it', async () => {
    const bytes = tone(2.5);
    const { recordingId, recording } = await take(bytes);
    expect(recording).toMatchObject({ state: 'stored', problem: null, durationMs: 2_500, silent: false });
    const file = readFileSync(join(t.config.dataDir, 'sounds/originals', recordingId));
    expect(file.equals(Buffer.from(bytes))).toBe(true);
    expect(recording!.sha256).toBe(createHash('sha256').update(bytes).digest('hex'));
  });

  it('decides by content: text, an empty file, a damaged one and too long a one are refused and told apart', async () => {
    expect((await take(Buffer.from('just text'.repeat(99)))).recording).toMatchObject({
      state: 'refused',
      problem: 'notAudio',
    });
    expect((await take(Buffer.alloc(0))).recording).toMatchObject({ state: 'refused', problem: 'empty' });
    expect((await take(Buffer.concat([tone(1).subarray(0, 40)]))).recording).toMatchObject({
      state: 'refused',
    });
    const long = await take(tone(8));
    expect(long.recording).toMatchObject({ state: 'refused', problem: 'tooLong', durationMs: 8_000 });
    expect(long.recording!.message).toContain('0:08 long; the limit is 5 seconds');
    // A playlist could make the decoder read other files: it is a text, and refused as one.
    const playlist = await take(Buffer.from('#EXTM3U\n#EXTINF:1,\nfile:///etc/passwd\n'.repeat(20)));
    expect(playlist.recording).toMatchObject({ problem: 'notAudio' });
  });

  it('keeps what is there of a file that was cut off', async () => {
    const cut = tone(3);
    const { recording } = await take(cut.subarray(0, 44 + 32_000));
    expect(recording).toMatchObject({ state: 'stored', durationMs: 1_000 });
  });

  it('knows a hole in the times of a file: silence wherever it is drawn, heard or measured, and named', async () => {
    // A microphone that was away for a second, a second and a half after the beginning.
    const holed = made(
      'holed.webm',
      '-i',
      'sine=440:d=3',
      '-af',
      "asetpts='PTS+if(gt(T,1.5),1/TB,0)'",
      '-c:a',
      'libopus',
    );
    const { recordingId, recording } = await take(holed);
    expect(recording).toMatchObject({ state: 'stored' });
    const [hole, ...more] = recording!.details!.holes!;
    expect(more).toEqual([]);
    expect([Math.round(hole!.fromMs / 100), Math.round(hole!.toMs / 100)]).toEqual([15, 25]);
    expect(Math.abs(recording!.durationMs! - 4_000)).toBeLessThan(60);
    // A peak for each stretch; nothing in the middle of the hole, and sound on both sides.
    const { body } = await student.ask<Peaks>('GET', `/api/recordings/${recordingId}/peaks`);
    const around = (ms: number) => columnsOf(body, 400)[Math.round(ms / (body.durationMs / 400))]![1];
    expect(around(1_000)).toBeGreaterThan(0.05);
    expect(around(2_000)).toBeLessThan(0.01);
    expect(around(3_000)).toBeGreaterThan(0.05);
    expect((await take(tone(1))).recording!.details).toBeNull();
  });

  it('says when nothing can be heard', async () => {
    expect((await take(tone(1, 0.0005))).recording).toMatchObject({ state: 'stored', silent: true });
  });

  it('resumes where it stopped, and takes no piece twice or out of order', async () => {
    const bytes = tone(2);
    const recordingId = randomUUID();
    const announce = {
      recordingId,
      itemId: release.itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    };
    await student.ask('POST', `/api/sittings/${sittingId}/takes`, announce);
    const piece = (at: number, to: number, extra = {}) =>
      student.ask('PATCH', `/api/uploads/${recordingId}`, bytes.subarray(at, to), {
        'Tus-Resumable': '1.0.0',
        'Content-Type': 'application/offset+octet-stream',
        'Upload-Offset': String(at),
        ...extra,
      });
    expect((await piece(0, 10_000)).status).toBe(204);
    expect((await piece(0, 10_000)).status).toBe(409);
    expect((await piece(20_000, 30_000)).status).toBe(409);
    // Announcing again after a lost answer changes nothing.
    expect((await student.ask('POST', `/api/sittings/${sittingId}/takes`, announce)).status).toBe(200);
    const where = await student.ask('HEAD', `/api/uploads/${recordingId}`, undefined, {
      'Tus-Resumable': '1.0.0',
    });
    expect(where.headers.get('upload-offset')).toBe('10000');
    expect((await piece(10_000, bytes.length, { 'Upload-Length': String(bytes.length) })).status).toBe(204);
    expect((await settled(student, recordingId)).sha256).toBe(
      createHash('sha256').update(bytes).digest('hex'),
    );
  });

  it('goes on where the last piece broke off after its length was said, and takes no other length', async () => {
    const bytes = tone(2);
    const recordingId = randomUUID();
    await student.ask('POST', `/api/sittings/${sittingId}/takes`, {
      recordingId,
      itemId: release.itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    });
    const piece = (at: number, to: number, length: number) =>
      student.ask('PATCH', `/api/uploads/${recordingId}`, bytes.subarray(at, to), {
        'Tus-Resumable': '1.0.0',
        'Content-Type': 'application/offset+octet-stream',
        'Upload-Offset': String(at),
        'Upload-Length': String(length),
      });
    // The page is left in the middle of it: the length has come, and some of the bytes. Its next visit says the length again.
    expect((await piece(0, 10_000, bytes.length)).status).toBe(204);
    expect((await piece(10_000, 12_000, bytes.length + 1)).status).toBe(400);
    expect((await piece(10_000, bytes.length, bytes.length)).status).toBe(204);
    expect((await settled(student, recordingId)).sha256).toBe(
      createHash('sha256').update(bytes).digest('hex'),
    );
  });

  /** A take that went through a recorder's gate, or says that it did not. @returns it, once it was looked at */
  async function throughGate(gated: boolean, bytes: Uint8Array, mediaType = 'audio/wav') {
    const recordingId = randomUUID();
    await student.ask('POST', `/api/sittings/${sittingId}/takes`, {
      recordingId,
      itemId: release.itemId,
      mediaType,
      beganAt: new Date().toISOString(),
      clock: { gated, soundFromMs: null, answerFromMs: 0, loopMs: 0, loopMeasured: false, beat: null },
    });
    await send(student, recordingId, bytes);
    return { recordingId, ...(await settled(student, recordingId)) };
  }

  it('takes silence at the beginning for the recorder’s gate only where there was one', async () => {
    // Digital silence, then the voice: so begins what went through a gate, and many a quiet room as well.
    const bytes = Buffer.from(tone(3));
    bytes.fill(0, 44, 44 + 32_000);
    const gateOf = async (gated: boolean) => {
      const { recordingId } = await throughGate(gated, bytes);
      const [rows] = await t.ecoute.pool.query('SELECT gate_ms AS ms FROM recordings WHERE id = ?', [
        recordingId,
      ]);
      return (rows as { ms: number | null }[])[0]!.ms;
    };
    expect(await gateOf(false)).toBeNull();
    expect(await gateOf(true)).toBeGreaterThan(900);
  });

  it('holds against the limit what went through the gate, not how late a busy machine stopped the recorder', async () => {
    const byte = (sec: number) => 44 + 2 * Math.round(16_000 * sec);
    const said = async (gated: boolean, untilSec: number, lengthSec: number) => {
      const bytes = Buffer.from(tone(lengthSec));
      bytes.fill(0, 44, byte(0.5));
      bytes.fill(0, byte(untilSec));
      return (await throughGate(gated, bytes)).problem;
    };
    // The limit is five seconds: all of them were used, and it stopped two and a half later.
    expect(await said(true, 5.5, 8)).toBeNull();
    expect(await said(true, 7.5, 8)).toBe('tooLong');
    expect(await said(false, 5.5, 8)).toBe('tooLong');
    // What is so much longer that it was not listened to to its end is not taken to be silent there.
    expect(await said(true, 5.5, 16)).toBe('tooLong');
  });

  it('does not hold against the limit what a device lost of a take', async () => {
    // Half a second of digital silence, then sound, of which some was lost in the middle.
    const said = async (soundSec: number, lostSec: number, gated = true) => {
      const path = made(
        'lost.webm',
        '-i',
        `sine=440:d=${soundSec}`,
        '-af',
        `adelay=500,asetpts='PTS+if(gt(T,2),${lostSec}/TB,0)'`,
        '-c:a',
        'libopus',
      );
      return (await throughGate(gated, path, 'audio/webm;codecs=opus')).problem;
    };
    // The limit is five seconds, and a second and a half more is let pass.
    expect(await said(5, 2)).toBeNull();
    expect(await said(7, 0)).toBe('tooLong');
    expect(await said(5, 2, false)).toBe('tooLong');
    // What was lost is taken off once, and no more than it was.
    expect(await said(7.5, 0.5)).toBe('tooLong');
    // What was lost for so long that it is not listened to to its end does not stand without its end.
    expect(await said(5, 30)).toBe('tooLong');
  });

  it('stops a sound that is far larger than its limit allows', async () => {
    const recordingId = randomUUID();
    await student.ask('POST', `/api/sittings/${sittingId}/takes`, {
      recordingId,
      itemId: release.itemId,
      mediaType: 'audio/wav',
      beganAt: new Date().toISOString(),
    });
    const answer = await send(student, recordingId, new Uint8Array(6 * 1024 * 1024), 2);
    expect(answer.status).toBe(413);
  });

  it('plays in ranges, first the original, then the copy that every browser knows', async () => {
    const { recordingId } = await take(tone(2));
    const sound = `/api/recordings/${recordingId}/sound`;
    const part = await teacher.ask('GET', sound, undefined, { Range: 'bytes=0-99' });
    expect(part.status).toBe(206);
    expect(part.headers.get('content-range')).toMatch(/^bytes 0-99\/\d+$/);
    for (;;) {
      const { headers } = await teacher.ask('HEAD', sound);
      if (headers.get('content-type') === 'audio/mp4') break;
      await new Promise(resolve => setTimeout(resolve, 50));
    }
    const peaks = await teacher.ask<{ durationMs: number; values: number[] }>(
      'GET',
      `/api/recordings/${recordingId}/peaks`,
    );
    expect(peaks.body.durationMs).toBe(2_000);
    expect(Math.max(...peaks.body.values)).toBeCloseTo(0.4 * 127, -1);
  });

  it('takes up the looking that a killed server left undone', async () => {
    const { pool, recordings } = t.ecoute;
    const { recordingId } = await take(tone(1));
    // As a kill between the last byte and the check leaves it.
    await pool.query("UPDATE recordings SET state = 'checking', duration_ms = NULL WHERE id = ?", [
      recordingId,
    ]);
    await pool.query(
      "INSERT INTO jobs (kind, payload, state, attempts, run_after, locked_until, created_at) VALUES ('inspectRecording', ?, 'running', 1, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) - INTERVAL 1 SECOND, UTC_TIMESTAMP(3))",
      [JSON.stringify({ id: recordingId })],
    );
    await recordings.view(recordingId);
    expect(await settled(student, recordingId)).toMatchObject({ state: 'stored', durationMs: 1_000 });
  });
});
