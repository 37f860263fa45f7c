/** From the bytes of a file to what it says: a table, or the people and classes of a OneRoster package. Runs in a worker. */
import Papa from 'papaparse';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { encodingOf } from '@ecoute/core/formats/encoding';
import { rosterOfOneRoster, type RosterFiles } from '@ecoute/core/formats/oneRoster';
import type { Roster } from '@ecoute/core/formats/roster';
import { LIMITS } from '@ecoute/contract/limits';

export type Read = { kind: 'list'; rows: string[][] } | { kind: 'oneRoster'; roster: Roster };

const MOST_FILES = 60;
/** What the tables of people and classes unpack to: a school of 25,000 has less. Others are not opened. */
const MOST_BYTES = 64 * 1024 * 1024;
const isCsv = (name: string) => /\.csv$/i.test(name);
const TABLES = /(^|\/)(users|classes|enrollments)\.csv$/i;
const NO_LIST =
  'This is no list that can be read. Save it as CSV (comma-separated values), or export OneRoster CSV as a ZIP.';

/** @throws Error, in words with the next step, for what is no list, or is too long */
export async function readList(file: Uint8Array): Promise<Read> {
  const bytes = Buffer.from(file.buffer, file.byteOffset, file.byteLength);
  if (bytes.subarray(0, 4).toString('latin1') === 'PK\u0003\u0004') {
    const files = await unzippedTexts(bytes);
    const names = Object.keys(files);
    if (names.some(n => /(^|\/)users\.csv$/i.test(n))) {
      const roster = rosterOfOneRoster(files);
      if (roster.people.length > LIMITS.importRows) throw tooMany(roster.people.length);
      return { kind: 'oneRoster', roster };
    }
    const tables = names.filter(isCsv);
    if (tables.length === 1) return { kind: 'list', rows: tableOf(files[tables[0]!]!) };
    throw new Error(
      names.some(n => /workbook|worksheets/.test(n))
        ? 'This is a spreadsheet file. Save it as CSV in your spreadsheet program and choose that.'
        : 'This ZIP holds no users.csv, so it is no OneRoster package. Choose another, or a single CSV file.',
    );
  }
  return { kind: 'list', rows: tableOf(textOfBytes(bytes)) };
}

function textOfBytes(bytes: Uint8Array): string {
  return new TextDecoder(encodingOf(bytes)).decode(bytes);
}

function tableOf(text: string): string[][] {
  // A zero byte, or hardly a printable letter: not a text at all.
  if (text.includes('\0')) throw new Error(NO_LIST);
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    skipEmptyLines: 'greedy',
    delimitersToGuess: [',', ';', '\t', '|'],
    // What is beyond is counted as too much, and not read.
    preview: LIMITS.importRows + 1,
  });
  if (data.length === 0) throw new Error('This file is empty. Choose another.');
  if (data.length > LIMITS.importRows) throw tooMany();
  const columns = data.reduce((most, row) => Math.max(most, row.length), 0);
  if (columns > LIMITS.importColumns)
    throw new Error(
      `This file has ${columns} columns, and a list of people has at most ${LIMITS.importColumns}. Keep those with names, addresses and groups, and choose it again.`,
    );
  return data;
}

const tooMany = (people?: number) =>
  new Error(
    `This list has ${people === undefined ? `more than ${LIMITS.importRows} rows` : `${people} people`}; at most ${LIMITS.importRows} are read at once. Split it in two.`,
  );

async function unzippedTexts(bytes: Buffer): Promise<RosterFiles> {
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    yauzl.fromBuffer(bytes, { lazyEntries: true, validateEntrySizes: true }, (error, opened) =>
      error ? reject(new Error(NO_LIST, { cause: error })) : resolve(opened),
    ),
  );
  const files: RosterFiles = {};
  let total = 0;
  try {
    if (zip.entryCount > MOST_FILES * 20) throw new Error(NO_LIST);
    for (;;) {
      const entry = await new Promise<Entry | null>((resolve, reject) => {
        zip.once('entry', resolve);
        zip.once('end', () => resolve(null));
        zip.once('error', reject);
        zip.readEntry();
      });
      zip.removeAllListeners();
      if (!entry) return files;
      // Of other tables, only one that may be the list itself.
      const isFirst = !Object.keys(files).some(isCsv);
      if (!TABLES.test(entry.fileName) && !(isCsv(entry.fileName) && isFirst)) {
        files[entry.fileName] ??= '';
        continue;
      }
      total += entry.uncompressedSize;
      if (total > MOST_BYTES)
        throw new Error('This ZIP would unpack to far more than a list and was not opened.');
      const parts: Buffer[] = [];
      const stream = await new Promise<NodeJS.ReadableStream>((resolve, reject) =>
        zip.openReadStream(entry, (error, readable) => (error ? reject(error) : resolve(readable))),
      );
      for await (const part of stream) parts.push(part as Buffer);
      files[entry.fileName] = textOfBytes(Buffer.concat(parts));
    }
  } catch (error) {
    if (/ZIP|list|CSV/.test((error as Error).message)) throw error;
    throw new Error('This ZIP arrived damaged. Export it once more.', { cause: error });
  } finally {
    zip.close();
  }
}
