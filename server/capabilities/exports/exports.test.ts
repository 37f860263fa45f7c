import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import ExcelJS from 'exceljs';
import Papa from 'papaparse';
import { PDFDocument } from 'pdf-lib';
import { blankScoring } from '@ecoute/contract/blank';
import type { ExportKind, ExportView } from '@ecoute/contract/exports';
import { handInOne, TestEcoute, type Visitor } from '../../testing/ecoute';
import { unzipped } from '../../testing/unzipped';
import { execute } from '../../platform/database';
import type { Table } from './tables';
import { NotWanted, writeTables, writeWorkbook } from './write';

describe('exports', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  let first: Visitor;
  let second: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    first = await t.person('student', [classId]);
    second = await t.person('student', [classId]);
    // A name that a spreadsheet would take for a formula.
    await execute(t.ecoute.pool, `UPDATE people SET display_name = '=SUM(1,2)' WHERE id = :id`, first);
    await execute(t.ecoute.pool, `UPDATE people SET display_name = 'Zora Quill' WHERE id = :id`, second);
    const scored = await t.release(teacher, classId, { points: 10 }, 3_600_000, { title: '+Points' });
    const scoring = { ...blankScoring('placement'), kind: 'level' as const };
    const levelled = await t.release(teacher, classId, { points: 0 }, 7_200_000, {
      title: 'Levels',
      startingPoint: 'placement',
      scoring,
    });
    const mark = (id: string, itemId: string, points: number | null) =>
      teacher.ask('PUT', `/api/sittings/${id}/marks/${itemId}`, {
        revision: 0,
        points,
        comment: 'Heard with pleasure.',
        finished: true,
        reason: '',
      });
    for (const [student, points] of [
      [first, 7.5],
      [second, 10],
    ] as const) {
      const sat = await handInOne(student, scored);
      await mark(sat.id, scored.itemId, points);
      await teacher.ask('POST', `/api/releases/${scored.id}/feedback`, { sittingIds: [sat.id] });
    }
    const sat = await handInOne(second, levelled);
    await mark(sat.id, levelled.itemId, null);
    await teacher.ask('PUT', `/api/sittings/${sat.id}/level`, { level: 2, revision: 0 });
  });
  afterAll(() => t.close());

  const ask = (kind: ExportKind, who = teacher, over: object = {}) =>
    who.ask<ExportView>('POST', `/api/classes/${classId}/exports`, { kind, ...over });
  const ended = async (id: string, who = teacher): Promise<ExportView> => {
    for (;;) {
      const { body } = await who.ask<ExportView[]>('GET', '/api/exports');
      const found = body.find(e => e.id === id)!;
      if (!['waiting', 'running'].includes(found.state)) return found;
      await new Promise(resolve => setTimeout(resolve, 30));
    }
  };
  const fileOf = async (id: string): Promise<Buffer> => {
    const response = await fetch(`${t.base}/api/exports/${id}/file`, { headers: teacher.cookies() });
    expect(response.status).toBe(200);
    return Buffer.from(await response.arrayBuffer());
  };

  it('are a workbook that a library reads again cell by cell: numbers, days, levels, and a name that is no formula', async () => {
    const made = await ended((await ask('workbook')).body.id);
    expect(made).toMatchObject({ state: 'done', problem: null });
    expect(made.done).toBe(made.total);
    expect(made.fileName).toMatch(/results.*\.xlsx$/);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await fileOf(made.id)) as never);
    expect(book.worksheets.map(w => w.name)).toEqual(['Scores', 'Levels', 'Measures']);
    const scores = book.getWorksheet('Scores')!;
    expect(scores.getRow(1).values).toEqual([
      undefined,
      'Student',
      'Groups',
      'Average',
      'of so many',
      '+Points',
    ]);
    expect(scores.getCell('E2').value).toBeInstanceOf(Date);
    expect(scores.getCell('E3').value).toBe(10);
    const name = scores.getCell('A4');
    expect([name.value, name.type]).toEqual(['=SUM(1,2)', ExcelJS.ValueType.String]);
    expect([scores.getCell('C4').value, scores.getCell('E4').value]).toEqual([0.75, 7.5]);
    expect(scores.getCell('C4').numFmt).toBe('0%');
    expect([scores.getCell('A5').value, scores.getCell('E5').value]).toEqual(['Zora Quill', 10]);
    const levels = book.getWorksheet('Levels')!;
    expect([levels.getCell('E1').value, levels.getCell('E4').value, levels.getCell('E5').value]).toEqual([
      'Levels',
      null,
      'A2',
    ]);
    const measures = book.getWorksheet('Measures')!;
    expect(measures.rowCount).toBe(4);
    expect([
      measures.getCell('A2').value,
      measures.getCell('D2').value,
      measures.getCell('F2').value,
    ]).toEqual(['=SUM(1,2)', 1, 2]);
    expect(measures.getCell('C2').value).toBeInstanceOf(Date);
  });

  it('are tables whose cells are no formulas either', async () => {
    const { id } = await ended((await ask('tables')).body.id);
    const files = await unzipped(await fileOf(id));
    expect([...files.keys()]).toEqual(['scores.csv', 'levels.csv', 'measures.csv']);
    const text = files.get('scores.csv')!.toString('utf8');
    expect(text.startsWith('\ufeff')).toBe(true);
    const { data, errors } = Papa.parse<string[]>(text.slice(1).trim());
    expect(errors).toEqual([]);
    expect(data[0]).toEqual(['Student', 'Groups', 'Average', 'of so many', "'+Points"]);
    expect(data[3]).toEqual(["'=SUM(1,2)", '', '0.75', '1', '7.5']);
    expect(data[1]![4]).toMatch(/^\d{4}-\d\d-\d\dT/);
  });

  it('are the feedback sheets of a class, in one document or each for itself', async () => {
    const { id } = await ended((await ask('sheets')).body.id);
    expect((await PDFDocument.load(await fileOf(id))).getPageCount()).toBeGreaterThanOrEqual(2);
    const files = await unzipped(await fileOf((await ended((await ask('sheetFiles')).body.id)).id));
    expect(files.size).toBe(2);
    for (const [name, bytes] of files) {
      expect(name).toMatch(/\.pdf$/);
      expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
    }
  });

  it('are a gradebook of what students have seen: no score before its feedback, the school’s own ids', async () => {
    await execute(t.ecoute.pool, `UPDATE people SET external_id = 'pupil-7' WHERE id = :id`, second);
    const { id } = await ended((await ask('gradebook')).body.id);
    const files = await unzipped(await fileOf(id));
    const read = (name: string) =>
      Papa.parse<Record<string, string>>(files.get(name)!.toString('utf8'), {
        header: true,
        skipEmptyLines: true,
      }).data;
    expect(read('lineItems.csv').map(l => [l.title, l.resultValueMax])).toEqual([
      ["'+Points", '10'],
      ['Levels', ''],
    ]);
    const scored = read('results.csv').filter(r => r.scoreStatus === 'fully graded');
    // The level is marked and not given yet.
    expect(scored.map(r => [r.studentSourcedId, r.score, r.textScore])).toEqual([
      [first.id, '7.5', ''],
      ['pupil-7', '10', ''],
    ]);
    await execute(t.ecoute.pool, `UPDATE people SET external_id = NULL WHERE id = :id`, second);
  });

  it('say why there is nothing, and refuse days that are none', async () => {
    const later = await ended((await ask('workbook', teacher, { from: '2099-01-01' })).body.id);
    expect(later).toMatchObject({ state: 'failed', problem: expect.stringContaining('has opened yet') });
    expect((await ended((await ask('sheets', teacher, { from: '2099-01-01' })).body.id)).problem).toContain(
      'no sheet',
    );
    expect((await ask('workbook', teacher, { from: '2026-12-01', to: '2026-11-01' })).status).toBe(422);
    expect((await ask('everything' as ExportKind)).status).toBe(422);
  });

  it('belong to whoever asked, as long as they teach the class, and for a day', async () => {
    const leaver = await t.person('teacher', [classId]);
    const made = await ended((await ask('workbook', leaver)).body.id, leaver);
    expect((await teacher.ask('GET', `/api/exports/${made.id}/file`)).status).toBe(404);
    expect((await first.ask('POST', `/api/classes/${classId}/exports`, { kind: 'workbook' })).status).toBe(
      404,
    );
    expect((await leaver.ask('GET', `/api/exports/${made.id}/file`)).status).toBe(200);
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${leaver.id}`);
    expect((await leaver.ask('GET', `/api/exports/${made.id}/file`)).status).toBe(404);
    const own = await ended((await ask('workbook')).body.id);
    await execute(
      t.ecoute.pool,
      `UPDATE exports SET made_at = made_at - INTERVAL 25 HOUR WHERE id = :id`,
      own,
    );
    expect((await teacher.ask('GET', `/api/exports/${own.id}/file`)).status).toBe(404);
    await t.ecoute.jobs.sweep();
    expect((await teacher.ask<ExportView[]>('GET', '/api/exports')).body.map(e => e.id)).not.toContain(
      own.id,
    );
    expect(readdirSync(join(t.config.dataDir, 'exports'))).not.toContain(own.id);
  });

  it('are asked for by somebody who teaches no longer: nothing is made', async () => {
    const { id } = (await ask('workbook')).body;
    await ended(id);
    const guest = await t.person('teacher', [classId]);
    await execute(
      t.ecoute.pool,
      `INSERT INTO exports (id, owner_id, class_id, kind, state, made_at) VALUES ('00000000-0000-4000-8000-00000000e001', :id, :classId, 'workbook', 'waiting', UTC_TIMESTAMP(3))`,
      { id: guest.id, classId },
    );
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${guest.id}`);
    await t.ecoute.jobs.add(t.ecoute.pool, 'runExport', { id: '00000000-0000-4000-8000-00000000e001' });
    expect((await ended('00000000-0000-4000-8000-00000000e001', guest)).problem).toContain(
      'not teach this class',
    );
  });

  it('can be let go of: what is being made is not made on, what is made is thrown away', async () => {
    const made = await ended((await ask('tables')).body.id);
    await teacher.ask('DELETE', `/api/exports/${made.id}`);
    expect(readdirSync(join(t.config.dataDir, 'exports'))).not.toContain(made.id);
    const folder = mkdtempSync(join(tmpdir(), 'ecoute-exports-'));
    let steps = 0;
    const endless: Table = {
      name: 'Endless',
      columns: [{ title: 'a', width: 5 }],
      steps: 9,
      *rows() {
        for (;;) yield [['x']];
      },
    };
    for (const write of [writeWorkbook, writeTables])
      await expect(write(join(folder, 'file'), [endless], async () => ++steps % 5 !== 0)).rejects.toThrow(
        NotWanted,
      );
    rmSync(folder, { recursive: true });
  });

  it('are three at a time for one person', async () => {
    for (let n = 0; n < 3; n++)
      await execute(
        t.ecoute.pool,
        `INSERT INTO exports (id, owner_id, class_id, kind, state, made_at) VALUES (UUID(), :id, :classId, 'workbook', 'waiting', UTC_TIMESTAMP(3))`,
        { id: teacher.id, classId },
      );
    const refused = await teacher.ask<{ code: string }>('POST', `/api/classes/${classId}/exports`, {
      kind: 'workbook',
    });
    expect([refused.status, refused.body.code]).toEqual([expect.any(Number), 'busy']);
    await execute(t.ecoute.pool, `DELETE FROM exports WHERE owner_id = :id AND state = 'waiting'`, teacher);
  });

  it('leave no half file where writing fails', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'ecoute-exports-'));
    writeFileSync(join(folder, 'taken'), '');
    const broken: Table = {
      name: 'Broken',
      columns: [{ title: 'a', width: 5 }],
      steps: 1,
      rows: () => {
        throw new Error('no rows');
      },
    };
    await expect(writeTables(join(folder, 'file'), [broken], async () => true)).rejects.toThrow('no rows');
    rmSync(folder, { recursive: true });
  });
});
