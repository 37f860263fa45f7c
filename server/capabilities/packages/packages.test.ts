import { createHash, randomUUID } from 'node:crypto';
import { ZipFile } from 'yazl';
import type { AssessmentContent, AssessmentDraft } from '@ecoute/contract/assessments';
import { blankContent, blankScoring, blankStimulus } from '@ecoute/contract/blank';
import type { RichText } from '@ecoute/contract/stimuli';
import type { PackageReport } from '@ecoute/contract/packages';
import { send, settled, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { made, pdf, score } from '../../testing/files';
import type { Manifest } from './manifest';
import { unzipped } from './zip';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A ZIP of some entries. */
function zipOf(entries: Record<string, string | Uint8Array>, compress = false): Promise<Buffer> {
  const zip = new ZipFile();
  for (const [name, data] of Object.entries(entries))
    zip.addBuffer(Buffer.from(data as string), name, { compress });
  zip.end();
  return new Promise(resolve => {
    const parts: Buffer[] = [];
    zip.outputStream.on('data', (part: Buffer) => parts.push(part));
    zip.outputStream.on('end', () => resolve(Buffer.concat(parts)));
  });
}

describe('assessment packages', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let colleague: Visitor;
  const folder = mkdtempSync(join(tmpdir(), 'ecoute-packages-test-'));
  beforeAll(async () => {
    t = await TestEcoute.open();
    teacher = await t.person('teacher', [await t.class()]);
    colleague = await t.person('teacher', [await t.class()]);
  });
  afterAll(async () => {
    await t.close();
    rmSync(folder, { recursive: true, force: true });
  });

  async function full(): Promise<string> {
    const { body } = await teacher.ask<AssessmentDraft>('POST', '/api/assessments', blankContent());
    const sound = async (seconds: number) => {
      const recordingId = randomUUID();
      await teacher.ask('POST', `/api/assessments/${body.id}/prompts`, {
        recordingId,
        mediaType: 'audio/wav',
        source: 'uploaded',
        fileName: 'a.wav',
      });
      await send(teacher, recordingId, tone(seconds));
      await settled(teacher, recordingId);
      return recordingId;
    };
    const [prompt, track] = [await sound(1), await sound(3)];
    const section = { id: randomUUID(), title: 'Aloud', shuffled: true };
    const turn = (fromMs: number, toMs: number) => ({
      id: randomUUID(),
      recordingId: track,
      fromMs,
      toMs,
      gapMs: 4_000,
      says: 'greets',
    });
    const content: AssessmentContent = blankContent('exam', {
      title: 'Para levar: ções & “aspas”',
      sections: [section],
      items: [
        spokenItem({ promptRecordingId: prompt, sectionId: section.id, points: 2.5 }),
        spokenItem({
          isConversation: true,
          turns: [turn(0, 900), turn(1_500, 2_800)],
          hintVoice: { recordingId: prompt, durationMs: 0, isVideo: false },
        }),
      ],
      scoring: {
        ...blankScoring('exam'),
        kind: 'rubric',
        rubric: {
          levels: [
            { name: 'no', points: 0 },
            { name: 'yes', points: 1.5 },
          ],
          criteria: [{ id: randomUUID(), name: 'Flow', weight: 0.5, descriptors: ['a', 'b'] }],
        },
      },
    });
    const saved = await teacher.ask('PUT', `/api/assessments/${body.id}`, { revision: 1, content });
    expect(saved.status).toBe(200);
    return body.id;
  }

  const out = async (who: Visitor, id: string) => {
    const response = await fetch(`${t.base}/api/assessments/${id}/package`, {
      headers: who.cookies(),
    });
    return {
      status: response.status,
      headers: response.headers,
      bytes: Buffer.from(await response.arrayBuffer()),
    };
  };
  const bring = (who: Visitor, bytes: Uint8Array) =>
    who.ask<PackageReport>('POST', '/api/packages', new Uint8Array(bytes), {
      'Content-Type': 'application/zip',
    });
  const shelf = async () => (await colleague.ask<unknown[]>('GET', '/api/assessments')).body.length;
  const open = async (bytes: Uint8Array) => {
    const file = join(folder, `${randomUUID()}.zip`);
    writeFileSync(file, bytes);
    const found = await unzipped(file, folder);
    return { ...found, parsed: JSON.parse(found.manifest) as Manifest };
  };
  /** A package with its parts changed. */
  async function changed(
    bytes: Buffer,
    change: (manifest: Manifest & Record<string, unknown>) => void,
    media: Record<string, Uint8Array> = {},
  ): Promise<Buffer> {
    const { parsed, media: files } = await open(bytes);
    const { readFileSync } = await import('node:fs');
    change(parsed as Manifest & Record<string, unknown>);
    const entries: Record<string, string | Uint8Array> = { 'manifest.json': JSON.stringify(parsed) };
    for (const [name, { file }] of files) entries[name] = media[name] ?? readFileSync(file);
    return zipOf({ ...entries, ...media });
  }

  it('go out and in and out again bit for bit, with everything in its place', async () => {
    const id = await full();
    const first = await out(teacher, id);
    expect(first.headers.get('content-disposition')).toContain('.ecoute.zip');
    const { parsed, media } = await open(first.bytes);
    expect(parsed).toMatchObject({ format: 'ecoute-assessment', version: 2 });
    expect(parsed.media.map(m => m.label)).toEqual(['m1', 'm2']);
    expect(JSON.stringify(parsed)).not.toContain(id);
    for (const entry of parsed.media) expect(media.get(entry.path)).toMatchObject({ sha256: entry.sha256 });

    const { body: report } = await bring(colleague, first.bytes);
    expect(report).toMatchObject({
      arrived: ['“Para levar: ções & “aspas””', '2 items', '2 files, checksums as sent'],
      adapted: [],
      refused: [],
    });
    const again = await out(colleague, report.assessmentId!);
    expect(createHash('sha256').update(again.bytes).digest('hex')).toBe(
      createHash('sha256').update(first.bytes).digest('hex'),
    );
    // It is the colleague's own now: sounds, ids and all.
    const [mine, theirs] = [
      (await teacher.ask<AssessmentDraft>('GET', `/api/assessments/${id}`)).body.content,
      (await colleague.ask<AssessmentDraft>('GET', `/api/assessments/${report.assessmentId}`)).body.content,
    ];
    expect(theirs.items[1]!.turns[0]!.recordingId).not.toBe(mine.items[1]!.turns[0]!.recordingId);
    expect(theirs.items[0]!.sectionId).toBe(theirs.sections[0]!.id);
    expect(theirs.items[1]!.answerLimitMs).toBe(mine.items[1]!.answerLimitMs);
  });

  it('carry pictures, pages and notation, each to its own place', async () => {
    const { body: draft } = await teacher.ask<{ id: string }>('POST', '/api/assessments', blankContent());
    const shown = async (bytes: Uint8Array, kind: 'picture' | 'pages' | 'notation') => {
      const recordingId = randomUUID();
      await teacher.ask('POST', `/api/assessments/${draft.id}/prompts`, {
        recordingId,
        mediaType: 'application/octet-stream',
        source: 'uploaded',
        fileName: null,
        wanted: 'show',
      });
      await send(teacher, recordingId, bytes);
      expect(await settled(teacher, recordingId)).toMatchObject({ state: 'stored' });
      return blankStimulus(randomUUID(), kind, { recordingId, words: kind });
    };
    const picture = await shown(made('p.png', '-i', 'testsrc=size=40x30:d=1', '-frames:v', '1'), 'picture');
    const rich: RichText = {
      type: 'doc',
      content: [
        { type: 'paragraph', content: [{ type: 'text', text: 'Look', marks: [{ type: 'bold' }] }] },
        { type: 'image', attrs: { recordingId: picture.recordingId!, alt: 'the quay' } },
      ],
    };
    const content = blankContent('homework', {
      title: 'Shown',
      directionsRich: rich,
      tags: [{ code: 'S1', words: 'can look' }],
      items: [
        spokenItem({
          stimuli: [
            picture,
            await shown(await pdf(['one', 'two']), 'pages'),
            await shown(Buffer.from(score(['Treble'])), 'notation'),
            blankStimulus(randomUUID(), 'passage', { text: 'שלום', language: 'he' }),
          ],
        }),
      ],
    });
    const saved = await teacher.ask('PUT', `/api/assessments/${draft.id}`, { revision: 1, content });
    expect(saved.status).toBe(200);
    const first = await out(teacher, draft.id);
    const { body: report } = await bring(colleague, first.bytes);
    expect(report).toMatchObject({
      adapted: [],
      refused: [],
      arrived: ['“Shown”', '1 item', '3 files, checksums as sent'],
    });
    const second = await out(colleague, report.assessmentId!);
    expect(second.bytes.equals(first.bytes)).toBe(true);
    const arrived = await colleague.ask<AssessmentDraft>('GET', `/api/assessments/${report.assessmentId}`);
    expect(arrived.body.content).toMatchObject({ directions: 'Look', tags: [{ code: 'S1' }] });
    const pages = arrived.body.content.items[0]!.stimuli[1]!.recordingId;
    expect((await colleague.ask('GET', `/api/recordings/${pages}/shown?page=2`)).status).toBe(200);

    // A file of another kind than its place is refused, and nothing is made.
    const wrong = await changed(first.bytes, m => {
      const { items } = m.content as { items: { stimuli: { kind: string }[] }[] };
      items[0]!.stimuli[1]!.kind = 'notation';
    });
    expect((await bring(colleague, wrong)).body.refused).toEqual([
      expect.stringContaining('another kind of file'),
    ]);
  });

  it('of the first format are read as well', async () => {
    const { bytes } = await out(teacher, await full());
    const old = await changed(bytes, m => {
      m.version = 1;
      const content = m.content as Record<string, unknown> & { items: Record<string, unknown>[] };
      for (const name of [
        'stimuli',
        'tags',
        'directionsRich',
        'selfAssessment',
        'screenLanguage',
        'recorderWords',
      ])
        delete content[name];
      for (const item of content.items)
        for (const name of ['stimuli', 'tags', 'promptRich', 'promptIsVideo', 'readAloudVoice'])
          delete item[name];
    });
    const { body } = await bring(colleague, old);
    expect(body).toMatchObject({ refused: [], adapted: [] });
    expect(body.assessmentId).not.toBeNull();
  });

  it('of another teacher do not go out', async () => {
    const id = await full();
    expect((await out(colleague, id)).status).toBe(404);
    expect((await out(await t.person('student'), id)).status).toBe(404);
  });

  it('say what they leave out', async () => {
    const { bytes } = await out(teacher, await full());
    const strange = await changed(bytes, m => ((m.content as Record<string, unknown>).mood = 'calm'), {
      'media/m9': tone(1),
    });
    const { body } = await bring(colleague, strange);
    expect(body.assessmentId).not.toBeNull();
    expect(body.adapted).toEqual([
      'mood is not known to this Ecoute and was left out.',
      'media/m9 is not named in the manifest and was left out.',
    ]);
  });

  it('are taken whole or not at all: each defect has its own words, and nothing is made', async () => {
    const { bytes } = await out(teacher, await full());
    const before = await shelf();
    const [rowsBefore] = await t.ecoute.pool.query('SELECT COUNT(*) AS n FROM recordings');
    const traversal = Buffer.from(bytes.toString('latin1').replaceAll('media/m1', '../../m1'), 'latin1');
    const content = (m: Record<string, unknown>) => m.content as { items: Record<string, unknown>[] };
    const cases: [string, Buffer, string][] = [
      ['no ZIP', Buffer.from('hello'), 'no ZIP file'],
      ['cut short', bytes.subarray(0, bytes.length - 100), 'no ZIP file'],
      ['another ZIP', await zipOf({ 'readme.txt': 'hi' }), 'no manifest.json'],
      ['another manifest', await zipOf({ 'manifest.json': '{"format":"else"}' }), 'says something else'],
      ['no JSON', await zipOf({ 'manifest.json': '{' }), 'cannot be read'],
      ['a newer version', await changed(bytes, m => (m.version = 3)), 'made by a newer Ecoute (format 3'],
      [
        'an incomplete manifest',
        await changed(bytes, m => delete (m as Partial<Manifest>).media),
        'incomplete',
      ],
      ['names that lead out', traversal, 'files outside itself'],
      [
        'a bomb',
        await zipOf({ 'manifest.json': '{}', 'media/m1': Buffer.alloc(30_000_000) }, true),
        'far more',
      ],
      [
        'another sound',
        await changed(bytes, () => undefined, { 'media/m1': tone(2) }),
        'its checksum differs',
      ],
      [
        'a sound too few',
        await changed(bytes, m => m.media.push({ ...m.media[0]!, label: 'm7', path: 'media/m7' })),
        'is not in the package',
      ],
      ['an unknown sound', await changed(bytes, m => m.media.pop()), 'that the package does not hold'],
      [
        'impossible content',
        await changed(bytes, m => (content(m).items[0]!.points = -1)),
        'Points cannot be below zero',
      ],
      [
        'no sound',
        await changed(
          bytes,
          m => {
            const text = Buffer.from('not a sound');
            m.media[0]!.sizeBytes = text.length;
            m.media[0]!.sha256 = createHash('sha256').update(text).digest('hex');
          },
          { 'media/m1': Buffer.from('not a sound') },
        ),
        'is no sound that can be played',
      ],
    ];
    for (const [name, package_, words] of cases) {
      const { status, body } = await bring(colleague, package_);
      expect([name, status, body.assessmentId]).toEqual([name, 200, null]);
      expect([name, body.refused.join(' ')]).toEqual([name, expect.stringContaining(words)]);
    }
    expect(await shelf()).toBe(before);
    expect((await t.ecoute.pool.query('SELECT COUNT(*) AS n FROM recordings'))[0]).toEqual(rowsBefore);
  });
});
