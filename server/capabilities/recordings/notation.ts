/** Notation: MusicXML as text, or compressed (.mxl). */
import { readFile } from 'node:fs/promises';
import yauzl, { type ZipFile } from 'yauzl';
import { readScore, ScoreError, type Score } from '@ecoute/core/formats/musicXml';
import type { RecordingProblem } from '@ecoute/contract/recordings';

const MOST_BYTES = 20 * 1024 * 1024;

export type Notation = { xml: string; score: Score } | { problem: RecordingProblem; line?: number };

/** Looks into a file for a score. @returns null when it is no notation at all, not even a broken one */
export async function readNotation(path: string, mime: string | null): Promise<Notation | null> {
  const bytes = await readFile(path);
  if (bytes.length > MOST_BYTES) return null;
  let xml: string | null;
  if (bytes.subarray(0, 2).toString('latin1') === 'PK') {
    const inside = await mxl(path).catch(() => null);
    // A ZIP that is no .mxl is something else.
    if (inside === null) return /musicxml|recordare/.test(mime ?? '') ? { problem: 'brokenNotation' } : null;
    xml = inside;
  } else xml = textOf(bytes);
  if (xml === null || !/^\s*</.test(xml)) return null;
  try {
    return { xml, score: readScore(xml) };
  } catch (error) {
    if (!(error instanceof ScoreError)) throw error;
    const problems = {
      broken: 'brokenNotation',
      notScore: 'notNotation',
      timewise: 'timewiseNotation',
      empty: 'emptyNotation',
    } as const;
    // Another XML or a web page is no notation.
    if (error.problem === 'notScore' && !xml.includes('score-')) return { problem: 'notNotation' };
    return { problem: problems[error.problem], ...(error.line !== null && { line: error.line }) };
  }
}

/** UTF-8, or UTF-16 with its mark, as notation programs write. */
function textOf(bytes: Buffer): string | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return bytes.subarray(2).toString('utf16le');
  if (bytes[0] === 0xfe && bytes[1] === 0xff)
    return Buffer.from(bytes.subarray(2, bytes.length - (bytes.length % 2)))
      .swap16()
      .toString('utf16le');
  const text = bytes.toString('utf8').replace(/^\uFEFF/, '');
  return text.slice(0, 1_000).includes('\u0000') ? null : text;
}

/** The score inside a compressed MusicXML: the file that its container names first. */
async function mxl(path: string): Promise<string | null> {
  const zip = await new Promise<ZipFile>((resolve, reject) =>
    yauzl.open(path, { lazyEntries: true, validateEntrySizes: true }, (error, opened) =>
      error ? reject(error) : resolve(opened),
    ),
  );
  try {
    const files = new Map<string, string>();
    await new Promise<void>((resolve, reject) => {
      zip.on('entry', entry => {
        const { fileName: name, uncompressedSize } = entry;
        if (!/\.(musicxml|xml)$/i.test(name) || uncompressedSize > MOST_BYTES || files.size > 20) {
          zip.readEntry();
          return;
        }
        zip.openReadStream(entry, (error, stream) => {
          if (error) return reject(error);
          const parts: Buffer[] = [];
          stream.on('data', (part: Buffer) => parts.push(part));
          stream.on('error', reject);
          stream.on('end', () => {
            files.set(name, textOf(Buffer.concat(parts)) ?? '');
            zip.readEntry();
          });
        });
      });
      zip.on('end', () => resolve());
      zip.on('error', reject);
      zip.readEntry();
    });
    const container = files.get('META-INF/container.xml');
    if (container === undefined) return null;
    const named = /full-path="([^"]+)"/.exec(container)?.[1] ?? '';
    return files.get(named) ?? null;
  } finally {
    zip.close();
  }
}
