/** Files that a teacher might bring, made on the spot. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import PDFDocument from 'pdfkit';
import type { Page } from '@playwright/test';

export interface Brought {
  name: string;
  mimeType: string;
  buffer: Buffer;
}

/** A PDF with some words on each page; with a password it cannot be opened without. */
export async function pdfOf(name: string, pages: string[], userPassword?: string): Promise<Brought> {
  const document = new PDFDocument({ autoFirstPage: false, userPassword });
  const parts: Buffer[] = [];
  document.on('data', (part: Buffer) => parts.push(part));
  const ended = new Promise(resolve => document.once('end', resolve));
  for (const words of pages) document.addPage().fontSize(32).text(words);
  document.end();
  await ended;
  return { name, mimeType: 'application/pdf', buffer: Buffer.concat(parts) };
}

/** A tune of four notes for each part, as MusicXML. */
export function scoreOf(name: string, parts: Record<string, string>): Brought {
  const note = (step: string) =>
    `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>1</duration><type>quarter</type></note>`;
  const attributes =
    '<attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef></attributes>';
  const list = Object.keys(parts).map(
    (part, i) => `<score-part id="P${i + 1}"><part-name>${part}</part-name></score-part>`,
  );
  const bodies = Object.values(parts).map(
    (steps, i) =>
      `<part id="P${i + 1}"><measure number="1">${attributes}${[...steps].map(note).join('')}</measure></part>`,
  );
  const xml = `<?xml version="1.0"?><score-partwise version="4.0"><part-list>${list.join('')}</part-list>${bodies.join('')}</score-partwise>`;
  return { name, mimeType: 'application/vnd.recordare.musicxml+xml', buffer: Buffer.from(xml) };
}

/** A drawn picture of a size in px. */
export function pictureOf(path: string, size = '320x200'): Brought {
  const made = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=size=${size}:d=1`, '-frames:v', '1', path],
  ]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
  return { name: 'quay.png', mimeType: 'image/png', buffer: readFileSync(path) };
}

/** Goes on with Tab until something with this name has the focus, as somebody without a mouse does. */
export async function reach(page: Page, name: RegExp, most = 120): Promise<void> {
  const focused = () =>
    page.evaluate(() => {
      const e = document.activeElement as HTMLElement | null;
      if (!e) return '';
      const labelled = e.getAttribute('aria-labelledby');
      const words = labelled && document.getElementById(labelled)?.textContent;
      const label = (e as HTMLInputElement).labels?.[0]?.textContent;
      return e.getAttribute('aria-label') ?? words ?? label ?? e.textContent ?? '';
    });
  for (let n = 0; n < most; n++) {
    if (name.test((await focused()).trim())) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`Nothing called ${name} can be reached by Tab; the focus is on “${await focused()}”.`);
}
