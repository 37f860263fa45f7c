import { randomUUID } from 'node:crypto';
import { chmodSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RecordingView, Wanted } from '@ecoute/contract/recordings';
import { blankContent, blankStimulus } from '@ecoute/contract/blank';
import { recordTake, send, settled, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { folder, made, pdf, score, zip } from '../../testing/files';

describe('files to look at', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let classId: string;
  let assessmentId: string;

  beforeAll(async () => {
    t = await TestEcoute.open({ withCopies: true });
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    assessmentId = (await teacher.ask<{ id: string }>('POST', '/api/assessments', blankContent())).body.id;
  });
  afterAll(() => t.close());

  const bring = async (bytes: Uint8Array, wanted: Wanted = 'show', fileName = 'a file') => {
    const recordingId = randomUUID();
    await teacher.ask('POST', `/api/assessments/${assessmentId}/prompts`, {
      recordingId,
      mediaType: 'application/octet-stream',
      source: 'uploaded',
      fileName,
      wanted,
    });
    await send(teacher, recordingId, bytes);
    return (await settled(teacher, recordingId)) as unknown as RecordingView;
  };
  const shown = (id: string, page?: number) =>
    teacher.ask<string>('GET', `/api/recordings/${id}/shown${page ? `?page=${page}` : ''}`);

  it('shows a picture as a copy of its own, scaled down and without where it was taken', async () => {
    const jpeg = made(
      'large.jpg',
      '-i',
      'testsrc=size=3000x1500:d=1',
      '-frames:v',
      '1',
      '-metadata',
      'comment=at the quay',
    );
    const view = await bring(jpeg);
    expect(view).toMatchObject({
      state: 'stored',
      medium: 'picture',
      details: { widthPx: 2000, heightPx: 1000 },
    });
    const copy = await shown(view.id);
    expect([copy.status, copy.headers.get('content-type')]).toEqual([200, 'image/webp']);
    expect(copy.body).not.toContain('at the quay');
    const png = made('small.png', '-i', 'testsrc=size=40x30:d=1', '-frames:v', '1');
    expect(await bring(png, 'picture')).toMatchObject({ details: { widthPx: 40, heightPx: 30 } });
  });

  it('refuses what does not belong, by content and not by name', async () => {
    const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>');
    expect((await bring(svg, 'picture', 'a.png')).message).toContain('not a picture that we know');
    expect((await bring(tone(1))).message).toContain('neither a picture, a PDF, slides (PPTX) nor notation');
    expect((await bring(Buffer.from('words'))).problem).toBe('notWanted');
    const broken = made('b.png', '-i', 'testsrc=size=40x30:d=1', '-frames:v', '1').subarray(0, 40);
    expect((await bring(broken)).problem).toBe('damaged');
    expect((await bring(Buffer.alloc(0))).message).toBe('This file is empty. Choose another file.');
  });

  it('draws each page of a PDF and reads its words', async () => {
    const view = await bring(await pdf(['Low water at six.', 'The ferry waits.', 'Say why.']));
    expect(view).toMatchObject({ state: 'stored', medium: 'pages', details: { pages: 3, pagesReady: 3 } });
    expect(view.details!.pageTexts).toEqual(['Low water at six.', 'The ferry waits.', 'Say why.']);
    for (const page of [1, 2, 3])
      expect((await shown(view.id, page)).headers.get('content-type')).toBe('image/jpeg');
    expect((await shown(view.id, 4)).status).toBe(404);
    expect((await shown(view.id)).status).toBe(404);
  });

  it('says that a PDF is locked, damaged, or too long', async () => {
    expect((await bring(await pdf(['secret'], 'quay'))).message).toContain('asks for a password');
    expect((await bring(Buffer.from('%PDF-1.7\nnothing more'))).problem).toBe('damaged');
    expect((await bring(await pdf(Array(301).fill('x')))).message).toContain('more than 300 pages');
    // Handed in as a file it stands: only drawing it is not possible.
    expect(await bring(await pdf(['secret'], 'quay'), 'file')).toMatchObject({
      state: 'stored',
      medium: 'file',
    });
  });

  it('lets go of pages while they are drawn', async () => {
    const recordingId = randomUUID();
    await teacher.ask('POST', `/api/assessments/${assessmentId}/prompts`, {
      recordingId,
      mediaType: 'application/pdf',
      source: 'uploaded',
      fileName: 'long.pdf',
      wanted: 'show',
    });
    await send(teacher, recordingId, await pdf(Array(200).fill('a page')));
    const now = async () => (await teacher.ask<RecordingView>('GET', `/api/recordings/${recordingId}`)).body;
    let seen = await now();
    while (!seen.details?.pagesReady) seen = await now();
    expect(seen.state).toBe('checking');
    await teacher.ask('POST', `/api/recordings/${recordingId}/cancel`);
    expect(await now()).toMatchObject({ state: 'refused', problem: 'cancelled' });
    const pages = (await now()).details!.pagesReady!;
    expect(pages).toBeLessThan(200);
  });

  it('makes pages of slides where there is a program for it, and says so where there is none', async () => {
    const slides = await zip({
      '[Content_Types].xml':
        '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Override PartName="/ppt/presentation.xml" ContentType="application/vnd.openxmlformats-officedocument.presentationml.presentation.main+xml"/></Types>',
      'ppt/presentation.xml': '<p/>',
    });
    const before = process.env.ECOUTE_SOFFICE;
    process.env.ECOUTE_SOFFICE = '/nowhere/soffice';
    expect((await bring(slides)).message).toBe(
      'Slides cannot be turned into pages here. Save them as a PDF, then choose the PDF.',
    );
    // A stand-in that answers as the real one does: a PDF in the folder after --outdir.
    const standIn = join(folder, 'soffice');
    writeFileSync(join(folder, 'slides.pdf'), await pdf(['First slide', 'Second slide']));
    writeFileSync(standIn, `#!/bin/sh\nmkdir -p "$7" && cp ${join(folder, 'slides.pdf')} "$7/made.pdf"\n`);
    chmodSync(standIn, 0o755);
    process.env.ECOUTE_SOFFICE = standIn;
    const view = await bring(slides);
    expect(view.details).toMatchObject({ pages: 2, pageTexts: ['First slide', 'Second slide'] });
    if (before === undefined) delete process.env.ECOUTE_SOFFICE;
    else process.env.ECOUTE_SOFFICE = before;
  });

  it('reads notation, compressed or not, and says how it is broken', async () => {
    const two = await bring(Buffer.from(score(['Treble', 'Tenor'])));
    expect(two).toMatchObject({
      medium: 'notation',
      details: { score: { measures: 1, parts: [{ firstMidi: 67 }, {}] } },
    });
    expect((await shown(two.id)).body).toContain('<part-name>Tenor</part-name>');
    const container = '<container><rootfiles><rootfile full-path="quay.xml"/></rootfiles></container>';
    const mxl = await bring(
      await zip({ 'META-INF/container.xml': container, 'quay.xml': score(['Treble']) }),
    );
    expect(mxl).toMatchObject({ state: 'stored', medium: 'notation' });
    expect((await shown(mxl.id)).body).toContain('score-partwise');
    const utf16 = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(score(['Bass']), 'utf16le')]);
    expect(await bring(utf16)).toMatchObject({ medium: 'notation' });
    expect((await bring(Buffer.from(score(['A']).replace('</measure>', '')))).message).toMatch(
      /breaks off in line 1/,
    );
    expect((await bring(Buffer.from('<html><p>x</p></html>'))).problem).toBe('notNotation');
    expect((await bring(Buffer.from('<score-timewise/>'))).message).toContain('score-partwise');
    expect(
      (await bring(await zip({ 'META-INF/container.xml': container, 'quay.xml': '<score-part' }))).problem,
    ).toBe('brokenNotation');
  });

  it('takes a film as a voice, with sound or without, and cuts excerpts to the sample', async () => {
    const film = made(
      'film.mp4',
      '-i',
      'testsrc=size=320x240:rate=10:d=3',
      '-f',
      'lavfi',
      '-i',
      'sine=d=3',
      '-shortest',
    );
    const view = await bring(film, 'voice');
    expect(view).toMatchObject({ state: 'stored', medium: 'video' });
    expect(Math.abs(view.durationMs! - 3_000)).toBeLessThan(60);
    const still = await shown(view.id);
    expect([still.status, still.headers.get('content-type')]).toEqual([200, 'image/webp']);
    // As a browser records it: frames without a duration.
    const live = await bring(
      made(
        'live.webm',
        '-i',
        'testsrc=size=320x240:rate=10:d=3',
        '-f',
        'lavfi',
        '-i',
        'sine=d=3',
        '-cluster_time_limit',
        '200',
        '-live',
        '1',
      ),
      'voice',
    );
    expect((await shown(live.id)).status).toBe(200);
    const mute = made('mute.webm', '-i', 'testsrc=size=320x240:rate=10:d=2');
    const quiet = await bring(mute, 'voice');
    expect(quiet).toMatchObject({ state: 'stored', medium: 'video', silent: false });
    expect(quiet.durationMs).toBeGreaterThan(1_700);

    const long = await bring(tone(4), 'voice');
    const excerpt = (source: string, fromMs: number, toMs: number) =>
      teacher.ask<RecordingView>('POST', `/api/recordings/${source}/excerpts`, {
        recordingId: randomUUID(),
        fromMs,
        toMs,
      });
    expect((await excerpt(long.id, 1_000, 2_500)).body).toMatchObject({ state: 'stored', durationMs: 1_500 });
    const filmed = (await excerpt(view.id, 500, 1_500)).body;
    expect(filmed).toMatchObject({ state: 'stored', medium: 'video' });
    expect(Math.abs(filmed.durationMs! - 1_000)).toBeLessThan(80);
    expect((await excerpt(long.id, 3_900, 3_950)).status).toBe(422);
    expect((await excerpt(long.id, 3_000, 9_000)).status).toBe(422);
    expect((await excerpt(randomUUID(), 0, 1_000)).status).toBe(404);
    // A student's answer is not made into a prompt.
    const release = await t.release(teacher, classId);
    const sitting = await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    const take = await recordTake(student, sitting.body.id, release.itemId, tone(3));
    expect((await excerpt(take.recordingId, 0, 1_000)).status).toBe(404);
  });

  it('are seen by the students of a release, once it is open, and fit their places', async () => {
    const picture = await bring(made('p.png', '-i', 'testsrc=size=40x30:d=1', '-frames:v', '1'));
    const stimulus = blankStimulus(randomUUID(), 'picture', { recordingId: picture.id, words: 'test bars' });
    const look = () => student.ask('GET', `/api/recordings/${picture.id}/shown`);
    expect((await look()).status).toBe(404);
    const release = await t.release(teacher, classId, { stimuli: [stimulus] });
    expect((await look()).status).toBe(200);
    const save = (kind: 'pages' | 'picture') =>
      teacher.ask('PUT', `/api/assessments/${release.assessmentId}`, {
        revision: 1,
        content: blankContent('homework', {
          title: 'x',
          items: [spokenItem({ stimuli: [{ ...stimulus, kind }] })],
        }),
      });
    expect(await save('pages')).toMatchObject({
      status: 422,
      body: { fields: { 'content.items.0.stimuli.0': expect.stringContaining('not here yet') } },
    });
    expect((await save('picture')).status).toBe(200);
  });
});
