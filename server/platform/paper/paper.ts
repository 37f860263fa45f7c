/** Pages of a PDF that fill from the top: text of any script, with page breaks where they are needed. */
import PDFDocument from 'pdfkit';
import { baseDirection, linesOf, placed } from '@ecoute/core/formats/scripts';
import { runsOf } from './fonts';

export const A4 = { width: 595.28, height: 841.89 };
export const MARGIN = 48;
export const WIDE = A4.width - 2 * MARGIN;

export const INK = '#152230';
export const SOFT = '#4d5d6b';
export const LINE = '#c9d3da';
export const SAFFRON = '#e6a51c';
export const SAFFRON_INK = '#7d5200';
export const PETROL = '#1f7f8b';

export interface Style {
  size?: number;
  weight?: 400 | 700;
  color?: string;
  /** From the left margin, and how wide; the whole width when left out. */
  x?: number;
  width?: number;
}

export class Paper {
  readonly doc: PDFKit.PDFDocument;
  /** Where the next thing begins. */
  y = MARGIN;
  private readonly parts: Buffer[] = [];
  private readonly ended: Promise<void>;

  constructor(title: string) {
    this.doc = new PDFDocument({ size: 'A4', margin: MARGIN, info: { Title: title, Creator: 'Ecoute' } });
    this.doc.on('data', (part: Buffer) => this.parts.push(part));
    this.ended = new Promise(resolve => this.doc.once('end', resolve));
  }

  /** Begins another page when so much does not fit on this one. */
  room(height: number): void {
    if (this.y + height <= A4.height - MARGIN) return;
    this.doc.addPage();
    this.y = MARGIN;
  }

  gap(height: number): void {
    this.y += height;
  }

  private widthOf(word: string, size: number, weight: 400 | 700): number {
    return runsOf(word, weight).reduce(
      (sum, run) => sum + this.doc.font(run.font).fontSize(size).widthOfString(run.text),
      0,
    );
  }

  /** Writes text from here down. */
  text(text: string, { size = 11, weight = 400, color = INK, x = 0, width = WIDE - x }: Style = {}): void {
    const space = size * 0.27;
    const measure = (word: string) => this.widthOf(word, size, weight);
    const lines = linesOf(text, width, measure, space);
    const direction = baseDirection(text);
    for (const line of lines) {
      this.room(size * 1.4);
      for (const word of placed(line, direction, width, space, measure)) {
        let at = MARGIN + x + word.x;
        for (const run of runsOf(word.text, weight)) {
          this.doc.font(run.font).fontSize(size).fillColor(color);
          this.doc.text(run.text, at, this.y, { lineBreak: false });
          at += this.doc.widthOfString(run.text);
        }
      }
      this.y += size * 1.4;
    }
  }

  /** @returns the whole as bytes */
  async finish(): Promise<Buffer> {
    this.doc.end();
    await this.ended;
    return Buffer.concat(this.parts);
  }
}
