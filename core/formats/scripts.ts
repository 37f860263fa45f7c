/** Which way a text runs, and how a line of it is laid out. */

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

/**
 * Where the words of a line stand, from the left. In a line that runs from right to left the words do; stretches of the
 * other direction keep their own order within it (a plain form of the Unicode bidirectional algorithm: words, no nesting).
 */
export function placed(
  line: readonly WordOnLine[],
  direction: 'ltr' | 'rtl',
  width: number,
  space: number,
): { text: string; x: number }[] {
  const against = (word: WordOnLine) => LETTER.test(word.text) && baseDirection(word.text) !== direction;
  const order: WordOnLine[] = [];
  for (let i = 0; i < line.length;) {
    let j = i;
    while (j < line.length && against(line[j]!)) j++;
    if (j > i) order.push(...line.slice(i, j).reverse());
    else order.push(line[j++]!);
    i = Math.max(j, i + 1);
  }
  let x = 0;
  const out = order.map((word, i) => {
    if (i > 0 && word.spaced) x += space;
    const at = x;
    x += word.width;
    return { text: word.text, at, width: word.width };
  });
  return out.map(({ text, at, width: w }) => ({ text, x: direction === 'ltr' ? at : width - at - w }));
}
