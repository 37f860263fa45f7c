/** Pages: what a PDF or a slide deck looks like, one picture a page, and the words on it. */
import { copyFile, mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { LIMITS } from '@ecoute/contract/limits';
import type { RecordingProblem } from '@ecoute/contract/recordings';
import { asked, tool } from './tools';

const SLIDES: Record<string, string> = {
  'application/vnd.openxmlformats-officedocument.presentationml.presentation': 'pptx',
  'application/vnd.openxmlformats-officedocument.presentationml.slideshow': 'ppsx',
  'application/vnd.oasis.opendocument.presentation': 'odp',
};
const PAGE_SIDE_PX = 1_600;
const ONE_PAGE_MS = 60_000;
const CONVERTING_MS = 5 * 60_000;

export function isPages(mime: string | null): boolean {
  return mime === 'application/pdf' || isSlides(mime);
}

export function isSlides(mime: string | null): boolean {
  return mime !== null && mime in SLIDES;
}

/** How many pages a PDF has, or what is wrong with it. */
export async function countPages(pdf: string): Promise<{ pages: number } | { problem: RecordingProblem }> {
  const { code, out, stderr } = await asked('pdfinfo', [pdf]);
  if (/password/i.test(stderr)) return { problem: 'locked' };
  const pages = Number(/^Pages:\s+(\d+)/m.exec(out)?.[1] ?? 0);
  if (code !== 0 || pages === 0) return { problem: 'damaged' };
  return pages > LIMITS.pages ? { problem: 'tooManyPages' } : { pages };
}

/**
 * Makes a PDF of slides, where LibreOffice is installed.
 * @returns the problem, or null when the PDF lies at `pdf`
 */
export async function slidesToPdf(slides: string, pdf: string): Promise<RecordingProblem | null> {
  const folder = await mkdtemp(join(tmpdir(), 'ecoute-slides-'));
  try {
    // A profile of its own: another LibreOffice of this user must not be in the way.
    const profile = `-env:UserInstallation=${pathToFileURL(join(folder, 'profile')).href}`;
    const out = join(folder, 'out');
    const args = [profile, '--headless', '--norestore', '--convert-to', 'pdf', '--outdir', out, slides];
    const finished = await tool(process.env.ECOUTE_SOFFICE ?? 'soffice', args, undefined, {
      timeoutMs: CONVERTING_MS,
      memoryBytes: 16 * 1024 ** 3,
      inBackground: true,
    }).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT') return null;
      throw error;
    });
    if (finished === null) return 'slidesNeedPdf';
    const made = (await readdir(out).catch(() => [])).find(name => name.endsWith('.pdf'));
    if (!made) return 'damaged';
    await copyFile(join(out, made), pdf);
    return null;
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/**
 * Draws one page, `folder/N.jpg`, and reads its words.
 * @param number from 1
 * @throws Error when the page cannot be drawn
 */
export async function makePage(pdf: string, number: number, folder: string): Promise<string> {
  await mkdir(folder, { recursive: true });
  const page = String(number);
  const which = ['-f', page, '-l', page];
  const size = ['-scale-to', String(PAGE_SIDE_PX)];
  const drawing = [
    '-jpeg',
    '-jpegopt',
    'quality=86',
    '-singlefile',
    ...which,
    ...size,
    pdf,
    join(folder, page),
  ];
  const { code, stderr } = await tool('pdftoppm', drawing, undefined, {
    timeoutMs: ONE_PAGE_MS,
  });
  if (code !== 0) throw new Error(`Page ${page} could not be drawn: ${stderr}`);
  const { out } = await asked('pdftotext', [...which, '-enc', 'UTF-8', pdf, '-'], ONE_PAGE_MS);
  return out
    .replace(/\f/g, '')
    .replace(/[ \t]+\n/g, '\n')
    .trim();
}
