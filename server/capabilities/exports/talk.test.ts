import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Papa from 'papaparse';
import type { ExportView } from '@ecoute/contract/exports';
import { execute } from '../../platform/database';
import { heldDiscussion, putIn, spokenDraft, type HeldDiscussion } from '../../testing/discussion';
import { TestEcoute, type Visitor } from '../../testing/ecoute';
import { unzipped } from '../../testing/unzipped';

describe('a discussion taken along', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let held: HeldDiscussion;
  let folder: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    folder = mkdtempSync(join(tmpdir(), 'ecoute-talk-'));
    const classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    const ana = await t.person('student', [classId]);
    const ben = await t.person('student', [classId]);
    const called = (who: Visitor, name: string) =>
      execute(t.ecoute.pool, 'UPDATE people SET display_name = :name WHERE id = :id', { id: who.id, name });
    await called(ana, 'Ana <b>');
    await called(ben, 'Ben');
    held = await heldDiscussion(teacher, classId);
    const page = { topicId: held.page.id };
    const first = await spokenDraft(ana, 'discussion', held.id, page, 2);
    await putIn(ana, 'discussion', held.id, first, page, { words: '=1+1 <script>alert(1)</script>' });
    const reply = { parentId: first, fromMs: 500, toMs: 1_500 };
    await putIn(ben, 'discussion', held.id, await spokenDraft(ben, 'discussion', held.id, reply), reply);
    await putIn(teacher, 'lead', held.id, await spokenDraft(teacher, 'lead', held.id));
    // What is not in, and what is hidden, stays behind.
    await spokenDraft(ben, 'discussion', held.id);
    const hidden = await spokenDraft(ben, 'discussion', held.id);
    await putIn(ben, 'discussion', held.id, hidden, {}, { words: 'hidden words' });
    await teacher.ask('PUT', `/api/releases/${held.id}/lead/contributions/${hidden}/hidden`, { reason: 'x' });
  });
  afterAll(async () => {
    rmSync(folder, { recursive: true, force: true });
    await t.close();
  });

  const taken = async (kind: string): Promise<Map<string, Buffer>> => {
    const asked = await teacher.ask<ExportView>('POST', `/api/releases/${held.id}/exports`, { kind });
    expect(asked.status).toBe(200);
    for (;;) {
      const { body } = await teacher.ask<ExportView[]>('GET', '/api/exports');
      const made = body.find(e => e.id === asked.body.id)!;
      expect(['failed', 'cancelled']).not.toContain(made.state);
      if (made.state === 'done') break;
      await new Promise(resolve => setTimeout(resolve, 50));
    }
    const file = await fetch(`${t.base}/api/exports/${asked.body.id}/file`, { headers: teacher.cookies() });
    return unzipped(Buffer.from(await file.arrayBuffer()));
  };

  it('is a page in threads whose every file is beside it, and a table', async () => {
    const files = await taken('talk');
    const html = files.get('index.html')!.toString();
    for (const [, source] of html.matchAll(/src="([^"]+)"/g))
      expect(files.has(decodeURI(source!))).toBe(true);
    expect([...html.matchAll(/<audio /g)]).toHaveLength(3);
    // The teacher's stands at the subject, before the starting point.
    expect(html.indexOf('1. Name of teacher')).toBeGreaterThan(0);
    expect(html.indexOf('2. Ana &lt;b&gt;')).toBeGreaterThan(html.indexOf('The ferry'));
    expect(html).toContain('to <span dir="auto">Ana &lt;b&gt;</span>, 0:00–0:01');
    expect(html).toContain('&lt;script&gt;');
    expect(html).not.toContain('<script');
    expect(html).not.toContain('hidden words');
    const { data } = Papa.parse<Record<string, string>>(files.get('contributions.csv')!.toString().slice(1), {
      header: true,
      skipEmptyLines: true,
    });
    expect(data.map(d => [d.number, d.thread, d.who, d['replies to'], d['length (s)']])).toEqual([
      ['1', '1', expect.stringContaining('Name of teacher'), '', '1'],
      ['2', '2', 'Ana <b>', '', '2'],
      ['3', '2', 'Ben', 'Ana <b>', '1'],
    ]);
    // No spreadsheet takes words for a formula.
    expect(data[1]!.words).toBe("'=1+1 <script>alert(1)</script>");
  });

  it('is one sound whose chapters are read back from it, from Matroska and from WebVTT', async () => {
    const files = await taken('talkSound');
    const read = (name: string) => {
      const path = join(folder, name);
      writeFileSync(path, files.get(name)!);
      const { chapters, format } = JSON.parse(
        execFileSync('ffprobe', ['-v', 'error', '-show_chapters', '-show_format', '-of', 'json', path], {
          encoding: 'utf8',
        }),
      ) as {
        chapters: { start_time: string; end_time: string; tags: { title: string } }[];
        format: { duration: string };
      };
      return {
        chapters: chapters.map(c => [Number(c.start_time).toFixed(1), c.tags.title]),
        sec: Number(format.duration),
      };
    };
    const [whole, matroska, vtt] = ['m4a', 'mka', 'chapters.vtt'].map(ending =>
      [...files.keys()].find(n => n.endsWith(`.${ending}`))!,
    );
    const expected = [
      ['0.0', expect.stringContaining('Name of teacher')],
      ['1.6', 'Ana <b>'],
      ['4.2', 'Ben to Ana <b>'],
    ];
    expect(read(whole!).chapters).toEqual(expected);
    expect(read(matroska!).chapters).toEqual(expected);
    // Three sounds of 1, 2 and 1 s, and quiet after each.
    expect(read(whole!).sec).toBeCloseTo(5.8, 1);
    expect(files.get(vtt!)!.toString()).toContain('00:00:04.200 --> 00:00:05.800\nBen to Ana &lt;b&gt;\n');
  });

  it('is nothing for whoever does not teach it, and of nothing says so', async () => {
    const other = await t.person('teacher', [await t.class()]);
    expect((await other.ask('POST', `/api/releases/${held.id}/exports`, { kind: 'talk' })).status).toBe(404);
    const ordinaryClass = await t.class();
    const own = await t.person('teacher', [ordinaryClass]);
    const ordinary = await t.release(own, ordinaryClass);
    expect((await own.ask('POST', `/api/releases/${ordinary.id}/exports`, { kind: 'talk' })).status).toBe(
      404,
    );
    const empty = await heldDiscussion(own, ordinaryClass);
    const asked = await own.ask<ExportView>('POST', `/api/releases/${empty.id}/exports`, {
      kind: 'talkSound',
    });
    for (;;) {
      const { body } = await own.ask<ExportView[]>('GET', '/api/exports');
      const made = body.find(e => e.id === asked.body.id)!;
      if (made.state === 'failed') {
        expect(made.problem).toContain('Nobody has said anything');
        break;
      }
      await new Promise(resolve => setTimeout(resolve, 50));
    }
  });
});
