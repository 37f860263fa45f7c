/** Points of the longer views, apart from the charts that draw them. */
import { hzOfMidi } from '@ecoute/core/formats/musicXml';
import type { Evidence } from '@ecoute/core/audio/evidence';

/** More points than this are not seen apart. */
const MOST_POINTS = 3_000;

/** Pitch in Hz over seconds, at most `MOST_POINTS`; null where nothing has one. */
export function contourPoints({ cents, hopSec, fromSec }: Evidence['pitch']): {
  x: number[];
  y: (number | null)[];
} {
  const step = Math.max(1, Math.ceil(cents.length / MOST_POINTS));
  const x: number[] = [];
  const y: (number | null)[] = [];
  for (let i = 0; i < cents.length; i += step) {
    const some = cents
      .slice(i, i + step)
      .filter(c => c > 0)
      .sort((a, b) => a - b);
    x.push(fromSec + i * hopSec);
    y.push(some.length === 0 ? null : hzOfMidi(some[some.length >> 1]! / 100));
  }
  return { x, y };
}

/** So many places lie side by side; what falls into the same one is put on top of the others. */
const PLACES = 40;

/** A height for each value, so that dots of like values do not lie on each other. */
export function stacked(values: readonly number[]): number[] {
  const low = Math.min(...values);
  const width = (Math.max(...values) - low) / PLACES || 1;
  const heights = new Map<number, number>();
  return values.map(v => {
    const place = Math.round((v - low) / width);
    const height = heights.get(place) ?? 0;
    heights.set(place, height + 1);
    return height;
  });
}
