/** Tables as files that other programs read: a workbook (OOXML), or one CSV a table in a ZIP. */
import { createWriteStream } from 'node:fs';
import { setImmediate } from 'node:timers/promises';
import { finished } from 'node:stream/promises';
import { PassThrough } from 'node:stream';
import ExcelJS from 'exceljs';
import Papa from 'papaparse';
import yazl from 'yazl';
import type { Table, TableColumn, Value } from './tables';

/** Told of each step; false where nobody wants it any more. */
export type OnStep = () => Promise<boolean>;

/** Whoever asked for it does not want it any more. */
export class NotWanted extends Error {}

const FORMATS: Record<NonNullable<TableColumn['shows']>, string> = {
  number: 'General',
  percent: '0%',
  day: 'yyyy-mm-dd',
  instant: 'yyyy-mm-dd hh:mm',
};

async function stepped(onStep: OnStep): Promise<void> {
  if (!(await onStep())) throw new NotWanted();
  // Others are answered between two steps.
  await setImmediate();
}

/**
 * Writes a workbook row by row: what is written is let go of. Text is text whatever it begins with; nothing is a formula.
 * @throws NotWanted where a step is told so
 */
export async function writeWorkbook(path: string, tables: readonly Table[], onStep: OnStep): Promise<void> {
  const out = createWriteStream(path, { mode: 0o600 });
  try {
    await filled(new ExcelJS.stream.xlsx.WorkbookWriter({ stream: out, useStyles: true }), tables, onStep);
    await finished(out);
  } finally {
    out.destroy();
  }
}

async function filled(
  book: ExcelJS.stream.xlsx.WorkbookWriter,
  tables: readonly Table[],
  onStep: OnStep,
): Promise<void> {
  for (const table of tables) {
    const sheet = book.addWorksheet(table.name, { views: [{ state: 'frozen', xSplit: 1, ySplit: 1 }] });
    sheet.columns = table.columns.map(c => ({
      header: c.title,
      width: c.width,
      style: c.shows ? { numFmt: FORMATS[c.shows] } : {},
    }));
    sheet.getRow(1).font = { bold: true };
    for await (const group of table.rows()) {
      for (const values of group) {
        const row = sheet.addRow(values);
        values.forEach((value, i) => {
          if (value instanceof Date && table.columns[i]!.shows !== 'instant')
            row.getCell(i + 1).numFmt = FORMATS.day;
        });
        row.commit();
      }
      await stepped(onStep);
    }
    sheet.commit();
  }
  await book.commit();
}

/** A cell as CSV has it: numbers with a point, instants by ISO 8601. */
function plain(value: Value): string | number {
  if (value === null) return '';
  if (value instanceof Date) return value.toISOString();
  return typeof value === 'number' ? Number(value.toFixed(6)) : value;
}

/**
 * Writes one CSV a table (RFC 4180, UTF-8 with its mark) into a ZIP. What would be a formula in a spreadsheet is text there.
 * @throws NotWanted where a step is told so
 */
export async function writeTables(path: string, tables: readonly Table[], onStep: OnStep): Promise<void> {
  await zipped(path, async zip => {
    for (const table of tables) {
      const entry = new PassThrough();
      zip.addReadStream(entry, `${table.name.toLowerCase()}.csv`);
      const write = async (rows: (string | number)[][]) => {
        if (!entry.write(Papa.unparse(rows, { escapeFormulae: true }) + '\r\n'))
          await new Promise(resolve => entry.once('drain', resolve));
      };
      entry.write('\ufeff');
      await write([table.columns.map(c => c.title)]);
      for await (const group of table.rows()) {
        if (group.length > 0) await write(group.map(row => row.map(plain)));
        await stepped(onStep);
      }
      entry.end();
    }
  });
}

/** Writes texts as files of a ZIP. */
export async function writeFiles(path: string, files: Readonly<Record<string, string>>): Promise<void> {
  await zipped(path, async zip => {
    for (const [name, text] of Object.entries(files)) zip.addBuffer(Buffer.from(text), name);
  });
}

/** Writes a ZIP; where filling it fails, its file is shut and the failure goes on. */
export async function zipped(path: string, fill: (zip: yazl.ZipFile) => Promise<void>): Promise<void> {
  const zip = new yazl.ZipFile();
  const out = createWriteStream(path, { mode: 0o600 });
  const written = finished(out);
  (zip.outputStream as NodeJS.ReadableStream).pipe(out);
  try {
    await fill(zip);
    zip.end();
    await written;
  } catch (error) {
    out.destroy();
    await written.catch(() => undefined);
    throw error;
  }
}
