/** A poster for the wall, as PDF: letters of any script that is shipped, and a QR code that a phone reads from afar. */
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import PDFDocument from 'pdfkit';
import { qrCode } from '../../platform/paper/qrCode';

export interface PosterWords {
  title: string;
  className: string;
  url: string;
  classCodeAsked: boolean;
  keepDays: number;
}

const A4 = { width: 595.28, height: 841.89 };
const MARGIN = 56;

const require = createRequire(join(process.cwd(), 'package.json'));

/** The file of a shipped font. */
function fontFile(family: string, subset: string, weight = 400): string {
  const folder = dirname(require.resolve(`@fontsource/${family}/package.json`));
  return join(folder, 'files', `${family}-${subset}-${weight}-normal.woff`);
}

/** Which font has the letters of a word. Scripts that are shipped in hundreds of pieces are written as they come. */
const SCRIPTS: [RegExp, string, string][] = [
  [/\p{Script=Arabic}/u, 'noto-sans-arabic', 'arabic'],
  [/\p{Script=Hebrew}/u, 'noto-sans-hebrew', 'hebrew'],
  [/\p{Script=Devanagari}/u, 'noto-sans-devanagari', 'devanagari'],
];

/** @returns the bytes of a PDF of one page */
export async function poster({
  title,
  className,
  url,
  classCodeAsked,
  keepDays,
}: PosterWords): Promise<Buffer> {
  const page = new PDFDocument({ size: 'A4', margin: MARGIN, info: { Title: title, Creator: 'Ecoute' } });
  const parts: Buffer[] = [];
  page.on('data', (part: Buffer) => parts.push(part));
  const ended = new Promise<void>(resolve => page.once('end', resolve));
  const write = (text: string, size: number, weight: 400 | 700 = 400) => {
    const script = SCRIPTS.find(([letters]) => letters.test(text));
    page.font(
      script ? fontFile(script[1], script[2]) : fontFile('atkinson-hyperlegible-next', 'latin', weight),
    );
    page
      .fontSize(size)
      .fillColor('#152230')
      .text(text, { align: 'center', width: A4.width - 2 * MARGIN });
  };
  // The teacher’s slanted stretch above, the student’s square one below, as everywhere.
  page
    .polygon([MARGIN + 12, 40], [A4.width - MARGIN, 40], [A4.width - MARGIN, 52], [MARGIN, 52])
    .fill('#e6a51c');
  page.y = 84;
  write(title, 30, 700);
  page.moveDown(0.3);
  write(className, 16);
  const side = 300;
  const top = Math.max(page.y + 28, 210);
  qrCode(page, url, (A4.width - side) / 2, top, side);
  page.y = top + side + 28;
  write('Point your phone here, or type', 14);
  page.moveDown(0.3);
  write(url.replace(/^https?:\/\//, ''), 20, 700);
  page.moveDown(1);
  write(classCodeAsked ? 'Type your name and the class code, and speak.' : 'Type your name, and speak.', 16);
  page.moveDown(0.6);
  write(
    `It costs nothing and needs no account. Your name and your recordings are heard by the teacher, and forgotten ${keepDays} days after you came.`,
    12,
  );
  page.rect(MARGIN, A4.height - 52, A4.width - 2 * MARGIN, 12).fill('#1d7f8a');
  page.end();
  await ended;
  return Buffer.concat(parts);
}
