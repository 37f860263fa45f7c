/** Files as teachers and students bring them, made on the spot. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import PDFDocument from 'pdfkit';
import { ZipFile } from 'yazl';

/** Where test files are made; the system clears it. */
export const folder = mkdtempSync(join(tmpdir(), 'ecoute-media-'));

/** What ffmpeg makes of a drawn source. */
export function made(name: string, ...args: string[]): Buffer {
  const path = join(folder, name);
  const { status, stderr } = spawnSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', ...args, path]);
  if (status !== 0) throw new Error(String(stderr));
  return readFileSync(path);
}

/**
 * What an old phone's recorder writes: AMR narrow band, 12.2 kbit/s, fifty frames a second (RFC 4867, section 5).
 * The frames are random, which sounds like a bad line.
 */
export function amr(seconds: number): Buffer {
  const frames = Array.from({ length: 50 * seconds }, (_, i) =>
    Buffer.concat([Buffer.from([0x3c]), createHash('sha256').update(String(i)).digest().subarray(0, 31)]),
  );
  return Buffer.concat([Buffer.from('#!AMR\n'), ...frames]);
}

export async function pdf(pages: string[], userPassword?: string): Promise<Buffer> {
  const document = new PDFDocument({ autoFirstPage: false, userPassword });
  const parts: Buffer[] = [];
  document.on('data', (part: Buffer) => parts.push(part));
  for (const words of pages) document.addPage().text(words);
  document.end();
  await new Promise(resolve => document.once('end', resolve));
  return Buffer.concat(parts);
}

export async function zip(files: Record<string, string | Uint8Array>): Promise<Buffer> {
  const out = new ZipFile();
  for (const [name, text] of Object.entries(files)) out.addBuffer(Buffer.from(text as string), name);
  out.end();
  const parts: Buffer[] = [];
  for await (const part of out.outputStream) parts.push(part as Buffer);
  return Buffer.concat(parts);
}

const note = '<note><pitch><step>G</step><octave>4</octave></pitch><duration>1</duration></note>';
/** A score of one note in each part, as MusicXML. */
export const score = (parts: string[]) =>
  `<?xml version="1.0"?><score-partwise version="4.0"><part-list>${parts.map(p => `<score-part id="${p}"><part-name>${p}</part-name></score-part>`).join('')}</part-list>${parts.map(p => `<part id="${p}"><measure number="1">${note}</measure></part>`).join('')}</score-partwise>`;
