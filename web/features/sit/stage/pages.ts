/** Turning pages of what is longer than the stage: pure, so that each turn can be tried. All lengths in px. */

/** What is looked at: how much lies above it, how much of it is seen, and how long the whole is. */
export interface View {
  top: number;
  height: number;
  whole: number;
}

/** A line of music: it is never cut by a turn. */
export interface Line {
  top: number;
  bottom: number;
}

/** So much of the end of a page stands at the beginning of the next one where there are no lines to go by. */
const LEAD = 64;
/** A line this little cut is whole. */
const SLACK = 4;

/** True where not everything is in sight. */
export function isLonger({ height, whole }: View): boolean {
  return whole > height + 2 * SLACK;
}

/** Where there is more to come, or more before. */
export function moreOf(view: View): { before: boolean; after: boolean } {
  return { before: view.top > SLACK, after: view.top + view.height < view.whole - 2 * SLACK };
}

/**
 * Where a turn leads to.
 * @param lines lines of music in order, or none for words
 * @param by    1 for the next page, -1 for the one before
 * @returns the new `top`, inside the whole
 */
export function turned(view: View, lines: readonly Line[], by: 1 | -1): number {
  const { top, height, whole } = view;
  const last = Math.max(0, whole - height);
  const within = (to: number) => Math.round(Math.min(last, Math.max(0, to)));
  if (by === 1) {
    const cut = lines.find(l => l.bottom > top + height + SLACK && l.top > top + SLACK);
    // Nothing is skipped: what was not whole stands first.
    if (cut) return within(Math.min(cut.top - 2 * SLACK, top + height));
    return within(top + height - Math.min(LEAD, height / 4));
  }
  const from = top - height;
  // The first line from which everything up to here still fits.
  const first = lines.find(l => l.top >= from + 2 * SLACK && l.top < top - SLACK);
  if (first) return within(first.top - 2 * SLACK);
  return within(from + Math.min(LEAD, height / 4));
}

/** A reader's line is kept at this part of what is in sight, so that more is before them than behind. */
const READ_AT = 1 / 3;

/**
 * Where a text lies that follows its reader.
 * @param readPx how far they have read, in px of the whole; null to find them where the text lies now
 * @param byPx   how much they have read since
 */
export function followedTo(
  { top, height, whole }: View,
  readPx: number | null,
  byPx: number,
): { readPx: number; top: number } {
  // At its beginning they begin at the first line; further on, where the text was put for them.
  const from = readPx ?? (top === 0 ? 0 : top + height * READ_AT);
  const read = Math.min(whole, from + byPx);
  return { readPx: read, top: Math.max(top, Math.min(whole - height, read - height * READ_AT)) };
}
