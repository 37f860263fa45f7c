/** Which way a text runs, and how a line of it is laid out. */
import bidiFactory from 'bidi-js';

const bidi = bidiFactory();

const RTL = /[\p{Script=Arabic}\p{Script=Hebrew}\p{Script=Syriac}\p{Script=Thaana}]/u;
const LETTER = /\p{L}/u;

/** The direction of a text: that of its first letter. */
export function baseDirection(text: string): 'ltr' | 'rtl' {
  for (const letter of text) if (LETTER.test(letter)) return RTL.test(letter) ? 'rtl' : 'ltr';
  return 'ltr';
}

export interface WordOnLine {
  text: string;
  width: number;
  /** Places a space before it, unless it begins the line. */
  spaced: boolean;
}

/** Ideographs may be parted anywhere; everything else at its spaces. */
const PARTED =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}]|[^\s\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}]+/gu;

/** A line of text cut where it may be parted. */
export function partsOf(line: string): { text: string; spaced: boolean }[] {
  let end = 0;
  return [...line.matchAll(PARTED)].map(match => {
    const spaced = match.index > end;
    end = match.index + match[0].length;
    return { text: match[0], spaced };
  });
}

/**
 * Words set into lines no wider than `width`; a word that is wider stands alone.
 * @param measure width of a word; @param space width of a space, in the same units
 */
export function linesOf(
  text: string,
  width: number,
  measure: (word: string) => number,
  space: number,
): WordOnLine[][] {
  const lines: WordOnLine[][] = [];
  for (const paragraph of text.split('\n')) {
    let line: WordOnLine[] = [];
    let used = 0;
    for (const { text: word, spaced } of partsOf(paragraph)) {
      const wide = measure(word);
      const gap = spaced && line.length > 0 ? space : 0;
      if (line.length > 0 && used + gap + wide > width) {
        lines.push(line);
        line = [];
        used = 0;
      }
      line.push({ text: word, width: wide, spaced });
      used += (line.length > 1 ? gap : 0) + wide;
    }
    lines.push(line);
  }
  return lines;
}

interface Piece {
  text: string;
  /** Where it begins and ends among all letters and spaces of the line, as they are seen from the left. */
  from: number;
  to: number;
}

/** Text as it stands on paper where it runs from right to left and no letter of a script says so itself: brackets and such. */
function turned(text: string): string {
  return [...text]
    .reverse()
    .map(sign => bidi.getMirroredCharacter(sign) ?? sign)
    .join('');
}

/** The words of a line, cut where the direction changes within one, from the left as they are seen. */
function piecesOf(line: readonly WordOnLine[], direction: 'ltr' | 'rtl'): Piece[] {
  let text = '';
  const begins = line.map((word, i) => {
    if (i > 0 && word.spaced) text += ' ';
    const at = text.length;
    text += word.text;
    return at;
  });
  const embedding = bidi.getEmbeddingLevels(text, direction);
  const { levels } = embedding;
  const seen: number[] = [];
  bidi.getReorderedIndices(text, embedding).forEach((at, place) => (seen[at] = place));
  const pieces = line.flatMap((word, i) => {
    const own: Piece[] = [];
    const end = begins[i]! + word.text.length;
    for (let from = begins[i]!, to = from; from < end; from = to) {
      while (to < end && levels[to] === levels[from]) to += 1;
      const cut = text.slice(from, to);
      const isTurned = levels[from]! % 2 === 1 && !RTL.test(cut);
      const places = seen.slice(from, to);
      const at = Math.min(...places);
      own.push({ text: isTurned ? turned(cut) : cut, from: at, to: at + places.length });
    }
    return own;
  });
  return pieces.sort((a, b) => a.from - b.from);
}

/**
 * Where the words of a line stand, from the left, by the Unicode Bidirectional Algorithm (UAX 9, `bidi-js`). A line that runs
 * from right to left begins at the right.
 * @param width of the whole line; `space` between words; `measure` of a text: all in the same unit
 */
export function placed(
  line: readonly WordOnLine[],
  direction: 'ltr' | 'rtl',
  width: number,
  space: number,
  measure: (text: string) => number,
): { text: string; x: number }[] {
  let x = 0;
  let end = 0;
  const out = piecesOf(line, direction).map(({ text, from, to }) => {
    // What is not a piece is the space between two.
    if (from > end) x += space;
    const at = x;
    x += measure(text);
    end = to;
    return { text, x: at };
  });
  const from = direction === 'ltr' ? 0 : width - x;
  return out.map(word => ({ ...word, x: word.x + from }));
}
