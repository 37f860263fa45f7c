/** Shipped fonts by the characters they have, so that a PDF shows every script that the interface shows. */
import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

const require = createRequire(join(process.cwd(), 'package.json'));

const FAMILIES = [
  'atkinson-hyperlegible-next',
  'noto-sans-arabic',
  'noto-sans-hebrew',
  'noto-sans-devanagari',
  'noto-sans-jp',
  'noto-sans-kr',
  'noto-sans-sc',
] as const;

interface Piece {
  ranges: [number, number][];
  file: (weight: 400 | 700) => string;
}

let pieces: Piece[] | null = null;

function rangesIn(text: string): [number, number][] {
  return text.split(',').flatMap((range): [number, number][] => {
    const [from, to] = range.trim().replace(/^U\+/i, '').split('-');
    const start = parseInt(from ?? '', 16);
    return Number.isNaN(start) ? [] : [[start, to ? parseInt(to, 16) : start]];
  });
}

/** Every piece of every family: some scripts come in more than a hundred. */
function allPieces(): Piece[] {
  pieces ??= FAMILIES.flatMap(family => {
    const folder = dirname(require.resolve(`@fontsource/${family}/package.json`));
    const subsets = JSON.parse(readFileSync(join(folder, 'unicode.json'), 'utf8')) as Record<string, string>;
    const made = Object.entries(subsets).map(([subset, ranges]) => ({
      ranges: rangesIn(ranges),
      // Numbered pieces are named “[12]” in the list and “12” on the disk.
      file: (weight: 400 | 700) =>
        join(folder, 'files', `${family}-${subset.replace(/[[\]]/g, '')}-${weight}-normal.woff`),
    }));
    // The basic letters first: what two pieces have is taken from the plainer one.
    return made.sort((a, b) => (a.ranges[0]?.[0] ?? 0) - (b.ranges[0]?.[0] ?? 0));
  });
  return pieces;
}

const known = new Map<number, Piece | null>();

function pieceFor(codePoint: number): Piece | null {
  const before = known.get(codePoint);
  if (before !== undefined) return before;
  const found =
    allPieces().find(p => p.ranges.some(([from, to]) => codePoint >= from && codePoint <= to)) ?? null;
  known.set(codePoint, found);
  return found;
}

/**
 * A text cut into runs that one font has. What no shipped font has (emoji, rare signs) is written as a small square, as a
 * reader would see it with a missing font: nothing is left out without a trace.
 */
export function runsOf(text: string, weight: 400 | 700 = 400): { text: string; font: string }[] {
  const runs: { text: string; font: string }[] = [];
  let last: Piece | null = null;
  for (const letter of text) {
    // Joiners and marks belong to the letter before them.
    const joins = /\p{M}|\u200c|\u200d/u.test(letter);
    const own: Piece | null = joins && last ? last : pieceFor(letter.codePointAt(0)!);
    const written = own ? letter : joins ? '' : '·';
    if (written === '') continue;
    const piece: Piece = own ?? pieceFor(0xb7)!;
    if (piece === last) runs.at(-1)!.text += written;
    else runs.push({ text: written, font: piece.file(weight) });
    last = piece;
  }
  return runs;
}
