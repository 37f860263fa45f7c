import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import yauzl from 'yauzl';
import Papa from 'papaparse';
import { blankScoring, blankStimulus } from '@ecoute/contract/blank';
import type { Rubric } from '@ecoute/contract/assessments';
import { made } from '../../testing/files';
import { handInOne, recordTake, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

/** The files of a ZIP by name. */
async function unzip(bytes: Buffer): Promise<Map<string, Buffer>> {
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.fromBuffer(bytes, { lazyEntries: true }, (error, opened) =>
      error ? reject(error) : resolve(opened),
    ),
  );
  const files = new Map<string, Buffer>();
  await new Promise<void>((resolve, reject) => {
    zip.on('end', resolve).on('error', reject);
    zip.on('entry', (entry: yauzl.Entry) =>
      zip.openReadStream(entry, async (error, stream) => {
        if (error) return reject(error);
        const parts: Buffer[] = [];
        for await (const part of stream) parts.push(part as Buffer);
        files.set(entry.fileName, Buffer.concat(parts));
        zip.readEntry();
      }),
    );
    zip.readEntry();
  });
  return files;
}

describe('what is kept outside', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open({ withCopies: true });
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const bytes = async (who: Visitor, path: string) => {
    const response = await fetch(t.base + path, { headers: who.cookies() });
    return { response, body: Buffer.from(await response.arrayBuffer()) };
  };

  it('is a sheet with every note and its time, the rubric, the reading and its figures, in every script', async () => {
    const rubric: Rubric = {
      levels: [
        { name: 'low', points: 0 },
        { name: 'high', points: 4 },
      ],
      criteria: [
        { id: randomUUID(), name: 'Flow', weight: 1, descriptors: ['Breaks off.', 'Hangs together.'] },
      ],
    };
    const passage = blankStimulus(randomUUID(), 'passage', { text: 'O sino toca às seis.', language: 'pt' });
    const student = await t.person('student', [classId]);
    const scoring = { ...blankScoring('homework'), kind: 'rubric' as const, rubric };
    const release = await t.release(
      teacher,
      classId,
      { points: 10, promptText: 'Lê em voz alta: 今日は', stimuli: [passage] },
      3_600_000,
      { scoring },
    );
    const { id, takeId } = await handInOne(student, release, 5);
    const item = `/api/sittings/${id}/items/${release.itemId}`;
    const note = (fromMs: number, toMs: number | null, words: string) =>
      teacher.ask('PUT', `/api/takes/${takeId}/notes/${randomUUID()}`, { fromMs, toMs, words, revision: 0 });
    await note(1_000, null, 'The vowel here. שלום עולם');
    await note(2_000, 4_000, 'Calm and clear — 🙂 bem!');
    const voice = randomUUID();
    const spoken = { noteId: randomUUID(), recordingId: voice, fromMs: 3_000, mediaType: 'audio/wav' };
    await teacher.ask('POST', `/api/takes/${takeId}/spoken-notes`, spoken);
    await send(teacher, voice, tone(2));
    await settled(teacher, voice);
    await teacher.ask('PUT', `${item}/markups/${passage.id}`, {
      kind: 'record',
      revision: 0,
      record: {
        lastWord: null,
        fromMs: 0,
        toMs: 6_000,
        marks: [{ word: 1, kind: 'substitution', said: 'sinal', atMs: 500 }],
      },
    });
    await teacher.ask('PUT', `${item}/markups/${passage.id}`, {
      kind: 'drawing',
      revision: 0,
      drawing: {
        height: 200,
        shapes: [
          { kind: 'stroke', points: [10, 10, 60, 40] },
          { kind: 'text', x: 20, y: 60, text: 'breathe here' },
        ],
        score: { x: 4, y: 8, scale: 1, ink: [{ d: 'M0 0h800', width: 1 }, { d: 'M5 5h6v6h-6Z' }] },
        underlay: [{ x: 30, y: 20, size: 26, text: 'O sino toca às seis.' }],
      },
    });
    await teacher.ask('PUT', `/api/sittings/${id}/marks/${release.itemId}`, {
      revision: 0,
      points: 10,
      choices: [{ criterionId: rubric.criteria[0]!.id, level: 1 }],
      comment: 'Well read. <b>Not bold.</b>',
      finished: true,
    });
    await teacher.ask('PUT', `${item}/praise`, { words: 'A voice to listen to', given: true });
    expect((await student.ask('GET', `/api/sittings/${id}/feedback.pdf`)).status).toBe(404);
    await teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [id] });
    const { response, body } = await bytes(student, `/api/sittings/${id}/feedback.pdf`);
    expect(response.headers.get('content-type')).toBe('application/pdf');
    const text = execFileSync('pdftotext', ['-layout', '-enc', 'UTF-8', '-', '-'], {
      input: body,
    }).toString();
    for (const words of [
      'Name of student',
      '10 of 10 points',
      'Lê em voz alta: 今日は',
      '0:01',
      'The vowel here.',
      'שלום',
      '0:02–0:04',
      'Calm and clear — · bem!',
      '(spoken, 0:02)',
      'sino[S sinal]',
      '4 of 5 words right · 80 % accuracy · 40 words correct a minute · errors: 1',
      'breathe here',
      'Flow',
      'high: Hangs together.',
      'Well read. <b>Not bold.</b>',
      'A voice to listen to',
    ])
      expect(text).toContain(words);
    expect(body.length).toBeLessThan(2_000_000);
    // In the language of its student's screen; what people wrote stays as it is, and nonsense is English.
    for (const [language, says] of [
      ['pt', ['10 de 10 pontos', '4 de 5 palavras certas', 'Calm and clear', 'Entregue:']],
      ['ja', ['10 点中 10 点', '提出']],
      ['de', ['10 von 10 Punkten']],
      ['xx', ['10 of 10 points']],
    ] as const) {
      const other = await bytes(student, `/api/sittings/${id}/feedback.pdf?language=${language}`);
      const found = execFileSync('pdftotext', ['-layout', '-enc', 'UTF-8', '-', '-'], { input: other.body });
      for (const words of says) expect(found.toString()).toContain(words);
    }
  });

  it('shows a teacher the sheet before the feedback, without a name while names are hidden', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    const { id } = await handInOne(student, release, 2);
    const read = async () => {
      const { body, response } = await bytes(teacher, `/api/sittings/${id}/sheet.pdf`);
      const name = response.headers.get('content-disposition')!;
      return { text: execFileSync('pdftotext', ['-', '-'], { input: body }).toString(), name };
    };
    const named = await read();
    expect(named.text).toContain('Name of student');
    // Nothing is given and nothing scored: neither is said.
    expect(named.text).toContain('feedback not given yet');
    expect(named.text).not.toMatch(/0 of \d+ points/);
    expect(named.name).toContain('.pdf');
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: true });
    const { text, name } = await read();
    expect([text, name].join()).not.toContain('Name of student');
    expect(text).toMatch(/Voice \d+/);
    expect((await student.ask('GET', `/api/sittings/${id}/sheet.pdf`)).status).toBe(404);
    // Nothing is on paper of what is still under way.
    const other = await t.person('student', [classId]);
    const next = await t.release(teacher, classId);
    const begun = await other.ask<{ id: string }>('POST', `/api/releases/${next.id}/sitting`);
    expect((await teacher.ask('GET', `/api/sittings/${begun.body.id}/sheet.pdf`)).status).toBe(404);
  });

  it('ends the packing when the download is given up, and packs again', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId);
    await handInOne(student, release, 4);
    const path = `${t.base}/api/releases/${release.id}/recordings.zip`;
    const stop = new AbortController();
    const response = await fetch(path, { headers: teacher.cookies(), signal: stop.signal });
    expect(response.status).toBe(200);
    stop.abort();
    await expect(response.arrayBuffer()).rejects.toThrow();
    const again = await bytes(teacher, `/api/releases/${release.id}/recordings.zip`);
    expect((await unzip(again.body)).size).toBe(2);
  });

  it('gives a file that was handed in the ending of its own name', async () => {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, { answerBy: 'file' });
    const { body } = await student.ask<{ id: string }>('POST', `/api/releases/${release.id}/sitting`);
    const picture = made('drawing.png', '-i', 'testsrc=size=64x64:d=1', '-frames:v', '1');
    const take = await recordTake(student, body.id, release.itemId, picture, 'My drawing.PNG');
    expect(take.recording!.state).toBe('stored');
    await student.ask('POST', `/api/sittings/${body.id}/hand-in`, { withGaps: true });
    const packed = await bytes(teacher, `/api/releases/${release.id}/recordings.zip`);
    expect([...(await unzip(packed.body)).keys()].filter(n => n !== 'index.csv')).toEqual([
      expect.stringMatching(/ - item 1\.png$/),
    ]);
  });

  it('is every recording of a release under a name that says whose, with an index', async () => {
    const people = await Promise.all([1, 2].map(() => t.person('student', [classId])));
    await t.ecoute.pool.query('UPDATE people SET display_name = ? WHERE id = ?', [
      'Zoë / “Z” ليلى',
      people[0]!.id,
    ]);
    await t.ecoute.pool.query('UPDATE people SET display_name = ? WHERE id = ?', ['=Ana', people[1]!.id]);
    const release = await t.release(teacher, classId, { takesAllowed: 2 });
    const path = `/api/releases/${release.id}/recordings.zip`;
    expect((await teacher.ask('GET', path)).status).toBe(409);
    const sounds = [];
    for (const one of people) sounds.push(await handInOne(one, release, 1));
    const { response, body } = await bytes(teacher, path);
    expect(Number(response.headers.get('content-length'))).toBe(body.length);
    const files = await unzip(body);
    expect([...files.keys()].sort()).toEqual(
      ['=Ana/=Ana - item 1.m4a', 'Zoë “Z” ليلى/Zoë “Z” ليلى - item 1.m4a', 'index.csv'].map(name =>
        name.endsWith('.m4a') && !files.has(name) ? name.replace('.m4a', '.wav') : name,
      ),
    );
    for (const [name, data] of files) if (name !== 'index.csv') expect(data.length).toBeGreaterThan(1_000);
    const index = Papa.parse<Record<string, string>>(
      files.get('index.csv')!.toString('utf8').replace('\ufeff', ''),
      {
        header: true,
      },
    ).data;
    expect(index.map(r => [r.student, r.item, r.counts, r.seconds])).toEqual([
      ["'=Ana", '1', 'yes', '1.0'],
      ['Zoë / “Z” ليلى', '1', 'yes', '1.0'],
    ]);
    expect(index.every(r => files.has(r.file!.replace(/^'/, '')))).toBe(true);
    await teacher.ask('PUT', `/api/releases/${release.id}/names`, { hidden: true });
    const hidden = await unzip((await bytes(teacher, path)).body);
    expect([...hidden.keys()].join()).not.toMatch(/Ana|Zoë/);
    expect(hidden.get('index.csv')!.toString()).not.toMatch(/Ana|Zoë/);
    expect(sounds).toHaveLength(2);
  });
});
