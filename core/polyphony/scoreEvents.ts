/** The moments of a score at which something begins: what a performance of several notes at once is followed by. */
import type { PlayedScore } from '../formats/scoreNotes';

export interface ScoreEvent {
  startQuarters: number;
  /** Until something else begins; of the last one, until it ends. */
  quarters: number;
  /** What begins, and what sounds on from before. MIDI numbers, rising. */
  begins: number[];
  holds: number[];
  /** Number of its measure. */
  measure: string;
  /** Whether it is the first of its measure: where players begin again. */
  isBarStart: boolean;
}

/** Notes of one chord may be written so far from each other, in quarter notes. */
const SAME_MOMENT = 0.03;

export function eventsOf({ all, bars }: Pick<PlayedScore, 'all' | 'bars'>): ScoreEvent[] {
  const events: ScoreEvent[] = [];
  let bar = -1;
  let sounding: PlayedScore['all'] = [];
  for (let i = 0; i < all.length;) {
    const { startQuarters, measure } = all[i]!;
    let to = i;
    while (to < all.length && all[to]!.startQuarters < startQuarters + SAME_MOMENT) to += 1;
    const begins = all.slice(i, to);
    const before = bar;
    while (bars[bar + 1] && bars[bar + 1]!.startQuarters < startQuarters + SAME_MOMENT) bar += 1;
    sounding = sounding.filter(n => n.startQuarters + n.quarters > startQuarters + SAME_MOMENT);
    const midis = new Set(begins.map(n => n.midi));
    events.push({
      startQuarters,
      quarters: Math.max(...begins.map(n => n.quarters)),
      begins: [...midis].sort((a, b) => a - b),
      holds: [...new Set(sounding.map(n => n.midi))].filter(m => !midis.has(m)).sort((a, b) => a - b),
      measure: bars[bar]?.measure ?? measure,
      isBarStart: bar > before,
    });
    sounding.push(...begins);
    i = to;
  }
  events.forEach((event, i) => {
    const next = events[i + 1];
    if (next) event.quarters = next.startQuarters - event.startQuarters;
  });
  return events;
}
