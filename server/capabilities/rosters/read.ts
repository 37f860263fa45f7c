/** From the bytes of a file to what it says: a table, or the files of a OneRoster package. */
import Papa from 'papaparse';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { encodingOf } from '@ecoute/core/formats/encoding';
import type { RosterFiles } from '@ecoute/core/formats/oneRoster';
import { LIMITS } from '@ecoute/contract/limits';

export type Read = { kind: 'list'; rows: string[][] } | { kind: 'oneRoster'; files: RosterFiles };

const MOST_FILES = 60;
/** Tables shrink well, but not to less than a hundredth. */
const MOST_BYTES = 200 * 1024 * 1024;
const NO_LIST =
  'This is no list that can be read. Save it as CSV (comma-separated values), or export OneRoster CSV as a ZIP.';

/** @throws Error, in words with the next step, for what is no list, or is too long */
export async function readList(bytes: Buffer): Promise<Read> {
  if (bytes.subarray(0, 4).toString('latin1') === 'PK\u0003\u0004') {
    const files = await unzippedTexts(bytes);
    const names = Object.keys(files);
    if (names.some(n => /(^|\/)users\.csv$/i.test(n))) return { kind: 'oneRoster', files };
    const tables = names.filter(n => /\.csv$/i.test(n));
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
  });
  if (data.length === 0) throw new Error('This file is empty. Choose another.');
  if (data.length > LIMITS.importRows)
    throw new Error(
      `This list has ${data.length} rows; at most ${LIMITS.importRows} are read at once. Split it in two.`,
    );
  return data;
}

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
      total += entry.uncompressedSize;
      if (total > MOST_BYTES)
        throw new Error('This ZIP would unpack to far more than a list and was not opened.');
      if (!/\.csv$/i.test(entry.fileName)) {
        files[entry.fileName] ??= '';
        continue;
      }
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
