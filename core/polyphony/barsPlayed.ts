/** The measures of a performance that was followed, in the order in which they were played. */
import type { TempoPlace } from '../audio/tempo';
import type { Followed } from './followed';

export interface PlayedBar {
  measure: string;
  atSec: number;
  /** Quarter notes a minute in it. */
  bpm: number;
  /** Whether it was begun again here, after a stop or to go back. */
  isAgain: boolean;
  /** How long it was waited in it. */
  waitedSec: number;
  /** Moments of it that are surely not as written. */
  missed: number;
}

export interface LeftOutBars {
  leftOut: { from: string; to: string };
}

/** @param curve the tempo at each moment, in order of time */
export function barsPlayed(
  { events, waits, leftOut }: Followed,
  curve: readonly TempoPlace[],
): (PlayedBar | LeftOutBars)[] {
  const bars: (PlayedBar | LeftOutBars)[] = [];
  const gaps = leftOut.map(l => ({
    ...l,
    leftOut: { from: events[l.fromIndex]!.measure, to: events[l.toIndex]!.measure },
  }));
  let last: TempoPlace | null = null;
  let bar: (PlayedBar & { bpms: number[] }) | null = null;
  for (const place of curve) {
    const { measure } = events[place.index]!;
    const isAgain = last !== null && place.index <= last.index;
    const gap = last && gaps.find(g => g.fromIndex === last!.index + 1 && g.toIndex === place.index - 1);
    if (gap) bars.push({ leftOut: gap.leftOut });
    if (!bar || isAgain || gap || measure !== bar.measure) {
      bar = { measure, atSec: place.atSec, bpm: 0, isAgain, waitedSec: 0, missed: 0, bpms: [] };
      bars.push(bar);
    }
    bar.bpms.push(place.bpm);
    bar.bpm = bar.bpms.reduce((a, b) => a + b, 0) / bar.bpms.length;
    if (events[place.index]!.startSec === null) bar.missed += 1;
    for (const wait of waits)
      if (wait.index === place.index && Math.abs(wait.atSec - place.atSec) < 0.01)
        bar.waitedSec += wait.lateSec;
    last = place;
  }
  return bars.map(b => {
    if ('leftOut' in b) return b;
    const { measure, atSec, bpm, isAgain, waitedSec, missed } = b;
    return { measure, atSec, bpm, isAgain, waitedSec, missed };
  });
}
