/** A distribution as bars of like width, each with what lies in it. */
export interface Bar<T> {
  /** From this value on … */
  from: number;
  /** … to below that one; the last bar holds the highest value too. */
  to: number;
  of: T[];
}

/** More bars than these are not told apart at a glance. */
const MOST_BARS = 12;
const STEPS = [1, 2, 5];

/** The narrowest round width (1, 2 or 5 times a power of ten, at least `least`) with which a span has few bars. */
function widthFor(span: number, least: number): number {
  for (let power = least; ; power *= 10)
    for (const step of STEPS) if (Math.ceil(span / (step * power)) <= MOST_BARS) return step * power;
}

/**
 * Bars over everything that could be reached, the empty ones too: a gap in a class is something to see.
 * @param most  the highest value that could be; values lie from 0 to it
 * @param least the narrowest width that makes sense, in the values' unit
 * @returns none where nothing could be reached or nobody has a value
 */
export function barsOf<T>(
  all: readonly T[],
  valueOf: (one: T) => number,
  { most, least }: { most: number; least: number },
): Bar<T>[] {
  if (!(most > 0) || all.length === 0) return [];
  const width = widthFor(most, least);
  const bars = Array.from({ length: Math.ceil(most / width) }, (_, i): Bar<T> => ({
    from: i * width,
    to: Math.min((i + 1) * width, most),
    of: [],
  }));
  for (const one of all) {
    const place = Math.floor(valueOf(one) / width);
    bars[Math.max(0, Math.min(place, bars.length - 1))]!.of.push(one);
  }
  return bars;
}
