import type { StudentLanguage } from '@ecoute/contract/languages';
import type { Peaks } from '@ecoute/core/audio/peaks';
import { clock } from '@ecoute/core/timing/words';
import type { ShownPortfolio } from '@ecoute/contract/portfolios';
import { INK, LINE, MARGIN, Paper, PETROL, SOFT, WIDE } from '../../platform/paper/paper';
import { qrCode } from '../../platform/paper/qrCode';
import { waveform } from '../../platform/paper/waveform';
import { dayIn, portfolioWords } from './words';

export interface PaperSources {
  language: StudentLanguage;
  peaksOf: (recordingId: string) => Promise<Peaks | null>;
  /** A picture as JPEG; null where it cannot be had. */
  pictureOf: (recordingId: string) => Promise<Buffer | null>;
  /** The address that the codes lead to; null for a sheet without codes. */
  address: { url: string; endsAt: Date } | null;
}

/** What its types leave out: how large a picture is, in pixels. */
interface Opens {
  openImage(picture: Buffer): { width: number; height: number };
}

const QR_SIDE = 78;
/** A picture takes at most so much of a page. */
const TALLEST = 300;

/** A portfolio on paper: each recording as its shape, with a code that leads to its sound. @returns the bytes of the PDF */
export async function portfolioPaper(shown: ShownPortfolio, from: PaperSources): Promise<Buffer> {
  const says = portfolioWords(from.language);
  const day = dayIn(from.language);
  const { address } = from;
  const paper = new Paper(`${shown.title} – ${shown.ownerName}`);
  // The square edge of the student's voice.
  paper.doc.rect(MARGIN, 32, WIDE, 7).fill(PETROL);
  paper.y = 52;
  paper.text(shown.title, { size: 20, weight: 700 });
  paper.text(shown.ownerName, { size: 12, color: SOFT });
  if (shown.words.trim()) {
    paper.gap(6);
    paper.text(shown.words);
  }
  if (shown.pieces.length === 0) paper.text(says('empty'));
  for (const [i, piece] of shown.pieces.entries()) {
    paper.gap(10);
    paper.room(QR_SIDE + 80);
    paper.doc.rect(MARGIN, paper.y, WIDE, 0.8).fill(LINE);
    paper.gap(8);
    const top = paper.y;
    const width = address ? WIDE - QR_SIDE - 16 : WIDE;
    if (address) qrCode(paper.doc, `${address.url}#${i + 1}`, MARGIN + WIDE - QR_SIDE, top, QR_SIDE);
    paper.text(`${i + 1}  ${piece.title}`, { size: 13, weight: 700, color: INK, width });
    const length = piece.durationMs === null ? '' : ` · ${clock(piece.durationMs)}`;
    paper.text(`${says('recorded', { when: day(piece.at) })}${length}`, { size: 9, color: SOFT, width });
    // Nothing runs into the code.
    if (address && paper.y < top + QR_SIDE + 6) paper.y = top + QR_SIDE + 6;
    const peaks = await from.peaksOf(piece.takeId);
    if (peaks) waveform(paper, peaks);
    const picture = piece.pictureId ? await from.pictureOf(piece.pictureId) : null;
    if (picture) {
      const image = (paper.doc as unknown as Opens).openImage(picture);
      const scale = Math.min(WIDE / image.width, TALLEST / image.height, 1);
      paper.gap(6);
      paper.room(image.height * scale + 6);
      paper.doc.image(picture, MARGIN, paper.y, { width: image.width * scale });
      paper.y += image.height * scale + 6;
    }
    if (piece.words.trim() || piece.voiceId) {
      paper.gap(4);
      paper.room(32);
      paper.text(says('about'), { weight: 700 });
      if (piece.words.trim()) paper.text(piece.words, { x: 10 });
      if (piece.voiceId)
        paper.text(`${says('spoken')}${piece.voiceMs === null ? '' : `, ${clock(piece.voiceMs)}`}`, {
          size: 9,
          color: SOFT,
          x: 10,
        });
    }
  }
  if (address && shown.pieces.length > 0) {
    paper.gap(12);
    paper.text(says('codesUntil', { when: day(address.endsAt) }), { size: 9, color: SOFT });
  }
  return paper.finish();
}
