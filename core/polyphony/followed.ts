/**
 * A performance of several notes at once beside its score: when each moment of the score began, how the tempo went, where
 * somebody waited, stopped, went back or left out measures. Tuning and wrong notes are not told: what sounds together cannot be
 * taken apart well enough to accuse anybody.
 */
import type { BandLevels } from '../audio/bands';
import { median } from '../audio/ranks';
import type { PlayedScore } from '../formats/scoreNotes';
import { eventCosts, type EventCosts } from './eventCosts';
import { eventPath, MOST_CELLS, unexplained, type PathPlace } from './eventPath';
import { beginningOf } from './eventTimes';
import {
  centred,
  expectedTones,
  folded,
  FRAME_SEC,
  heardTones,
  product,
  type HeardTones,
} from './heardTones';
import { eventsOf, type ScoreEvent } from './scoreEvents';
import { LOWEST_MIDI, SEMITONES, type SemitoneLevels } from './semitones';

export interface FollowedEvent {
  index: number;
  /** From the beginning of the first measure. */
  scoreQuarters: number;
  /** When it was first played; null where it was not, or surely not as written. */
  startSec: number | null;
  /** Number of its measure. */
  measure: string;
}

export interface Restart {
  /** When it was begun again, and when it had been broken off. */
  atSec: number;
  stoppedSec: number;
  backToIndex: number;
  fromIndex: number;
}

export interface Wait {
  /** The event that came late, when, and by how much. */
  index: number;
  atSec: number;
  lateSec: number;
}

export interface Followed {
  /** Whether it is this score at all; else nothing is said of it. */
  fits: boolean;
  events: FollowedEvent[];
  restarts: Restart[];
  waits: Wait[];
  /** First and last event of what was left out. */
  leftOut: { fromIndex: number; toIndex: number }[];
  tempoCurve: { index: number; atSec: number; bpm: number }[];
  /** Quarter notes a minute: half of the time it was faster. */
  bpm: number | null;
  /** 100 less how much the tempo varies from one moment to the next, in percent. */
  steadyPercent: number | null;
  /** Half tones from the written key: a capo, another instrument. */
  semitones: number;
}

/** More of what sounds than this stays unexplained, and it is another piece: right ones were 0.13 to 0.40, others from 0.54. */
const MOST_UNEXPLAINED = 0.5;
/** Of one line among others as much as this may be unexplained, where in other keys still more is, by this. */
const MOST_BESIDE_LINE = 0.65;
const OTHER_KEYS = [1, -1, 6];
const LINE_GAIN = 0.28;
/** Another key is tried where the written one explains so little, and is believed if it explains this much more. */
const KEY_TRIED_FROM = 0.45;
const KEY_GAIN = 0.1;
/** So many events or fewer between two leaps are a wrong note, not a way through the score. */
const STRAY_EVENTS = 3;
/** An event is surely not played where nothing of its own is heard: less begins, sounds and rises than in any that was. */
const MISSED = { onset: 2, tone: 0.45, rise: 0.2 };
/** Nor where nothing at all begins, whatever still sounds from before. */
const NOTHING_BEGINS = { onset: 0.7, rise: 0.02 };
/** Frames around its beginning in which it is listened for, and after. */
const AROUND = 2;
const LISTENED = 6;

/** Nobody plays one piece for longer. */
const MOST_SEC = 40 * 60;

/** Whether a sound is too long to be followed through a score. @param durationSec of the recording */
export function isTooLongToFollow(score: Pick<PlayedScore, 'all' | 'bars'>, durationSec: number): boolean {
  return (durationSec / FRAME_SEC) * eventsOf(score).length > MOST_CELLS || durationSec > MOST_SEC;
}
/** What is said of a performance that is not this score, or could not be followed: all its moments, none of them heard. */
export function notFollowed(score: Pick<PlayedScore, 'all' | 'bars'>): Followed {
  return {
    fits: false,
    events: eventsOf(score).map((e, index) => {
      return { index, scoreQuarters: e.startQuarters, startSec: null, measure: e.measure };
    }),
    ...{ restarts: [], waits: [], leftOut: [], tempoCurve: [] },
    ...{ bpm: null, steadyPercent: null, semitones: 0 },
  };
}

/**
 * Follows a performance through its score.
 * @throws RangeError where `isTooLongToFollow`
 */
export function followed(
  score: Pick<PlayedScore, 'all' | 'bars' | 'bpm'>,
  levels: SemitoneLevels,
  bands: BandLevels,
): Followed {
  const heard = heardTones(levels);
  const written = eventsOf(score);
  if (!heard.sounds.includes(1)) return notFollowed(score);
  let way = wayThrough(heard, written, score.bpm);
  let semitones = 0;
  if (way.unexplained > KEY_TRIED_FROM) {
    const shift = likelyKey(heard, written);
    const other =
      shift === 0
        ? null
        : wayThrough(
            heard,
            written.map(e => movedBy(e, shift)),
            score.bpm,
          );
    if (other && other.unexplained < way.unexplained - KEY_GAIN) [way, semitones] = [other, shift];
  }
  const isThis =
    way.unexplained <= MOST_UNEXPLAINED ||
    (isOneLine(written) && isLineAmongOthers(way, heard, written, score.bpm));
  if (!isThis || way.places.length === 0) return notFollowed(score);
  const { events } = notFollowed(score);
  const places = withoutStrays(way.places);
  const begins = inOrder(
    places.map(p => beginningOf(levels, bands, way.events[p.event]!, p.from * FRAME_SEC)),
  );
  const isSure = places.map(p => !isMissed(p, heard, way.costs, way.events[p.event]!));
  places.forEach(({ event }, k) => {
    if (isSure[k]) events[event]!.startSec ??= begins[k]!;
  });
  const legs = legsOf(places);
  return {
    fits: true,
    events,
    ...breaksOf(legs, places, begins),
    ...tempoOf(legs, begins, way.events),
    semitones,
  };
}

const isOneLine = (events: readonly ScoreEvent[]) =>
  events.every(e => e.begins.length === 1 && e.holds.length === 0);

/** Much of what sounds is not the line's; but no other key of it would fit nearly as well. */
function isLineAmongOthers(
  way: Way,
  heard: HeardTones,
  line: readonly ScoreEvent[],
  marked: number | null,
): boolean {
  if (way.unexplained > MOST_BESIDE_LINE) return false;
  return OTHER_KEYS.every(shift => {
    const other = wayThrough(
      heard,
      line.map(e => movedBy(e, shift)),
      marked,
    );
    return other.unexplained >= way.unexplained + LINE_GAIN;
  });
}

interface Way {
  events: readonly ScoreEvent[];
  costs: EventCosts;
  places: PathPlace[];
  unexplained: number;
}

/** So much of the beginning says which tempo is likeliest: all of it may not be played, or some of it twice. Seconds. */
const TEMPO_TRIED_SEC = 25;
/** Beside the one at which all of it would fill what sounds. */
const TEMPI_TRIED = [1, 0.63, 1.6, 2.5];
/** Where a tempo is not the right one, the way is full of leaps; and the first that is tried is likelier than others. */
const LEAP_WORTH = 20;
const OTHER_TEMPO = 10;

function wayThrough(heard: HeardTones, events: readonly ScoreEvent[], marked: number | null): Way {
  const costs = eventCosts(heard, events);
  const { sounds } = heard;
  const last = events.at(-1)!;
  const quarters = last.startQuarters + last.quarters - events[0]!.startQuarters;
  const from = sounds.indexOf(1);
  const filling = ((sounds.lastIndexOf(1) - from) * FRAME_SEC) / quarters;
  const tempi = TEMPI_TRIED.map(t => t * filling);
  if (marked !== null) tempi.push(60 / marked);
  const until = Math.min(sounds.length, from + Math.round(TEMPO_TRIED_SEC / FRAME_SEC));
  const tried = tempi.map((beat, n) => {
    const path = eventPath(costs, sounds.subarray(0, until), events, beat);
    const leaps = path.places.filter(p => p.isLeap).length;
    return { beat, ...path, worth: path.cost + LEAP_WORTH * leaps + (n > 0 ? OTHER_TEMPO : 0) };
  });
  const best = tried.reduce((a, b) => (b.worth < a.worth ? b : a));
  const { places } = until === sounds.length ? best : eventPath(costs, sounds, events, best.beat);
  return { events, costs, places, unexplained: unexplained(places, costs, sounds) };
}

/** By which half tones up or down the tones of the whole score fit those that are heard best. −5…6 */
function likelyKey(heard: HeardTones, events: readonly ScoreEvent[]): number {
  const written = new Float32Array(12);
  for (const { begins, holds, quarters } of events)
    folded(expectedTones(begins, holds)).forEach((x, k) => (written[k]! += quarters * x));
  const sounded = new Float32Array(12);
  for (let t = 0; t < heard.count; t++)
    if (heard.sounds[t])
      folded(heard.tones.subarray(t * SEMITONES, (t + 1) * SEMITONES)).forEach((x, k) => (sounded[k]! += x));
  const own = centred(sounded);
  let [best, most] = [0, -Infinity];
  for (let shift = -5; shift <= 6; shift++) {
    const alike = product(own, centred(written.map((_, k) => written[(k - shift + 12) % 12]!)));
    if (alike > most) [best, most] = [shift, alike];
  }
  return best;
}

const movedBy = (event: ScoreEvent, semitones: number): ScoreEvent => ({
  ...event,
  begins: event.begins.map(m => m + semitones),
  holds: event.holds.map(m => m + semitones),
});

/** The way without what was only a wrong note: a leap somewhere, and back to where it would have gone on. */
function withoutStrays(places: readonly PathPlace[]): PathPlace[] {
  const legs = legsOf(places);
  const kept: PathPlace[] = [];
  for (let i = 0; i < legs.length; i++) {
    const leg = legs[i]!;
    const [before, after] = [kept.at(-1), legs[i + 1]?.[0]];
    const isShort = leg.length <= STRAY_EVENTS && before && after;
    if (isShort && after.event > before.event && after.event <= before.event + STRAY_EVENTS + 1) {
      kept.push({ ...after, isLeap: false });
      kept.push(...legs[i + 1]!.slice(1));
      i += 1;
    } else kept.push(...leg);
  }
  return kept;
}

/** Stretches without leaps. */
function legsOf(places: readonly PathPlace[]): PathPlace[][] {
  const legs: PathPlace[][] = [];
  for (const place of places)
    if (place.isLeap || legs.length === 0) legs.push([place]);
    else legs.at(-1)!.push(place);
  return legs;
}

/** Two moments that are near each other may be found the wrong way round. */
function inOrder(secs: readonly number[]): number[] {
  let last = -Infinity;
  return secs.map(sec => (last = Math.max(last, sec)));
}

function isMissed(place: PathPlace, heard: HeardTones, costs: EventCosts, { begins }: ScoreEvent): boolean {
  const around = {
    from: Math.max(0, place.from - AROUND),
    to: Math.min(heard.count, place.from + AROUND + 1),
  };
  const tones = begins.map(m => m - LOWEST_MIDI).filter(s => s >= 0 && s < SEMITONES);
  // What lies above what is heard cannot be missed by it.
  if (tones.length < begins.length) return false;
  let [onset, tone, rise] = [0, 0, 0];
  for (let t = around.from; t < around.to; t++) {
    onset = Math.max(onset, costs.onset[t * costs.kinds + costs.kindOf[place.event]!]!);
    for (const s of tones) rise = Math.max(rise, heard.rises[t * SEMITONES + s]!);
  }
  for (let t = place.from; t < Math.min(place.to, place.from + LISTENED); t++)
    if (heard.sounds[t]) for (const s of tones) tone = Math.max(tone, heard.tones[t * SEMITONES + s]!);
  const isSilent = onset < MISSED.onset && tone < MISSED.tone && rise < MISSED.rise;
  return isSilent || (onset < NOTHING_BEGINS.onset && rise < NOTHING_BEGINS.rise);
}

/** Where it was begun again, and what was left out. */
function breaksOf(
  legs: readonly PathPlace[][],
  places: readonly PathPlace[],
  begins: readonly number[],
): Pick<Followed, 'restarts' | 'leftOut'> {
  const restarts: Restart[] = [];
  const leftOut: Followed['leftOut'] = [];
  let k = 0;
  legs.forEach((leg, i) => {
    const last = legs[i - 1]?.at(-1);
    const to = leg[0]!.event;
    if (last && to <= last.event)
      restarts.push({
        atSec: begins[k]!,
        stoppedSec: Math.min(last.to * FRAME_SEC, begins[k]!),
        backToIndex: to,
        fromIndex: last.event,
      });
    else if (last && !places.slice(0, k).some(p => p.event === to - 1))
      leftOut.push({ fromIndex: last.event + 1, toIndex: to - 1 });
    k += leg.length;
  });
  return { restarts, leftOut };
}

/** Quarter notes on each side from which the tempo at a moment is told. */
const TEMPO_QUARTERS = 2;
/** It was waited where a moment lasted longer than the tempo around it says, by this and by this part. */
const LEAST_WAIT_SEC = 0.35;
const LEAST_WAIT_SHARE = 0.6;

function tempoOf(
  legs: readonly PathPlace[][],
  begins: readonly number[],
  events: readonly ScoreEvent[],
): Pick<Followed, 'tempoCurve' | 'waits' | 'bpm' | 'steadyPercent'> {
  const tempoCurve: Followed['tempoCurve'] = [];
  const waits: Wait[] = [];
  const ratios: number[] = [];
  const beats: number[] = [];
  let from = 0;
  for (const leg of legs) {
    const own = leg.map((p, i) => {
      const [event, next] = [events[p.event]!, leg[i + 1]];
      const quarters = next ? events[next.event]!.startQuarters - event.startQuarters : 0;
      const sec = next ? begins[from + i + 1]! - begins[from + i]! : 0;
      return { index: p.event, atSec: begins[from + i]!, at: event.startQuarters, quarters, sec };
    });
    for (const [i, here] of own.entries()) {
      const near = own.filter(o => o.quarters > 0 && Math.abs(o.at - here.at) <= TEMPO_QUARTERS);
      const others = near.filter(o => o !== here);
      const beat = middleBeat(others.length >= 2 ? others : near);
      if (beat === null) continue;
      tempoCurve.push({ index: here.index, atSec: here.atSec, bpm: 60 / beat });
      if (here.quarters === 0) continue;
      beats.push(beat);
      const late = here.sec - beat * here.quarters;
      if (late > LEAST_WAIT_SEC && late > LEAST_WAIT_SHARE * beat * here.quarters)
        waits.push({ index: leg[i + 1]!.event, atSec: here.atSec + here.sec, lateSec: late });
      else ratios.push(here.sec / (beat * here.quarters));
    }
    from += leg.length;
  }
  const mean = ratios.reduce((a, r) => a + r, 0) / Math.max(1, ratios.length);
  const spread = Math.sqrt(ratios.reduce((a, r) => a + (r - mean) ** 2, 0) / Math.max(1, ratios.length));
  return {
    tempoCurve,
    waits,
    bpm: beats.length > 0 ? 60 / median(beats) : null,
    steadyPercent: ratios.length > 3 ? Math.max(0, 100 * (1 - spread / mean)) : null,
  };
}

/** Seconds of a quarter note, by intervals of which long ones count for more. */
function middleBeat(intervals: readonly { quarters: number; sec: number }[]): number | null {
  const said = intervals
    .map(({ quarters, sec }) => ({ beat: sec / quarters, weight: quarters }))
    .sort((a, b) => a.beat - b.beat);
  const half = said.reduce((sum, s) => sum + s.weight, 0) / 2;
  let sum = 0;
  return said.find(s => (sum += s.weight) >= half)?.beat ?? null;
}
