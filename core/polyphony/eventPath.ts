/**
 * The way through a score that a performance of several notes at once took: when each moment of the score began, and where it
 * was broken off and begun again. By dynamic programming over the moments and the time, a moment having a length of its own (a
 * hidden semi-Markov model; M. Ostendorf, V. Digalakis and O. A. Kimball, "From HMM's to segment models", IEEE Transactions on
 * Speech and Audio Processing 4(5), 1996), with leaps to the beginnings of measures, and something else in between, at a price.
 */
import type { EventCosts } from './eventCosts';
import { FRAME_SEC } from './heardTones';
import type { ScoreEvent } from './scoreEvents';

/** Where the way lies at some time. */
export interface PathPlace {
  /** Which event. */
  event: number;
  /** Frames of `FRAME_SEC`: the first of it, and the first that is no longer its own. */
  from: number;
  to: number;
  /** Whether it does not follow from the one before. */
  isLeap: boolean;
}

export interface Path {
  /** In order of time; empty where there is no way. */
  places: PathPlace[];
  /** What it costs: less is likelier. */
  cost: number;
}

/** Lengths of a moment beside those expected; beyond the longest it is waited for, at one price. */
const SHORTEST = 0.25;
const LONGEST = 3;
const LONGEST_FRAMES = 4;
/** What another tempo costs, by the square of the logarithm of it, and at most. */
const TEMPO_COST = 2;
const MOST_TEMPO_COST = 4;
/** Each beginning costs this, for there is always a little that rises. */
const BEGIN_COST = 0.5;
/** A leap: any, for each quarter note, at most for those, onwards, and elsewhere than to the beginning of a measure. */
const LEAP_COST = 4;
const LEAP_QUARTER_COST = 0.15;
const MOST_QUARTERS_COST = 4;
const ONWARDS_COST = 3;
const INSIDE_COST = 4;
/** Something else is heard, each frame: a wait, a word, a try of a note; and what it costs to begin and to end that. */
const ELSE_COST = 0.42;
const ELSE_SILENT_COST = 0.38;
const ELSE_BEGIN_COST = 1.5;
const GO_ON_COST = 0.5;
/** Ways that are so much worse than the best are not leapt from. */
const HOPELESS = 12;

/** How an event was come to. */
const NEXT = 1;
const LEAP = 2;
const ELSE = 3;
const FIRST = 4;

/** How the best way that leaves an event at some frame came to be there. */
interface Leaving {
  cost: Float32Array;
  /** Frames that the event lasted. */
  frames: Int32Array;
}

/** Cells of the lattice, events times frames, that are laid at the most: they take 5 bytes each. And frames: 43 minutes. */
export const MOST_CELLS = 12_000_000;
const MOST_FRAMES = 65_535;

/**
 * @param sounds 1 for each frame in which something sounds
 * @param secPerQuarter about how long a quarter note lasts
 * @throws RangeError for more than `MOST_CELLS`, or more than 43 minutes
 */
export function eventPath(
  costs: EventCosts,
  sounds: Uint8Array,
  events: readonly ScoreEvent[],
  secPerQuarter: number,
): Path {
  if (sounds.length * events.length > MOST_CELLS || sounds.length > MOST_FRAMES)
    throw new RangeError('Too long to be followed.');
  return sounds.length < 2 || events.length === 0
    ? { places: [], cost: Infinity }
    : new Lattice(costs, sounds, events, secPerQuarter).path();
}

class Lattice {
  private readonly frames: number;
  private readonly count: number;
  /** What each kind costs up to a frame, and what it costs that something else is heard. */
  private readonly sums: Float32Array;
  private readonly elseSums: Float32Array;
  private readonly shortest: Int32Array;
  private readonly tempoCosts: Float32Array[];
  /** Of each event and frame: the best way on which it begins there, how it was come to, from where and after how long. */
  private readonly began: Float32Array;
  /** Frames of which that is held: no event is looked back on for longer. */
  private readonly rows: number;
  private readonly came: Uint8Array;
  private readonly cameBy: Uint16Array;
  private readonly cameFrom: Int16Array;
  /** Of each event, the best way on which it has lasted too long already, and from when. */
  private readonly waited: Float32Array;
  private readonly waitedFrom: Int32Array;
  private readonly leaving: Leaving;
  private readonly bars: number[];
  /** Something else: its best way so far, and for each frame the one at which that left the score. */
  private otherwise = 0;
  private readonly leftAt: Int32Array;
  private readonly leftEvent: Int32Array;
  private readonly leftFrames: Int32Array;

  constructor(
    private readonly costs: EventCosts,
    sounds: Uint8Array,
    private readonly events: readonly ScoreEvent[],
    secPerQuarter: number,
  ) {
    const frames = (this.frames = sounds.length);
    const count = (this.count = events.length);
    const { kinds, unlike } = costs;
    this.sums = new Float32Array((frames + 1) * kinds);
    this.elseSums = new Float32Array(frames + 1);
    for (let t = 0; t < frames; t++) {
      this.elseSums[t + 1] = this.elseSums[t]! + (sounds[t] ? ELSE_COST : ELSE_SILENT_COST);
      for (let k = 0; k < kinds; k++)
        this.sums[(t + 1) * kinds + k] = this.sums[t * kinds + k]! + unlike[t * kinds + k]!;
    }
    const expected = events.map(e => Math.max(1, (e.quarters * secPerQuarter) / FRAME_SEC));
    this.shortest = Int32Array.from(expected, f => Math.max(1, Math.floor(f * SHORTEST)));
    this.tempoCosts = expected.map(f =>
      Float32Array.from({ length: Math.ceil(f * LONGEST) + LONGEST_FRAMES + 1 }, (_, d) =>
        Math.min(MOST_TEMPO_COST, TEMPO_COST * Math.log(Math.max(1, d) / f) ** 2),
      ),
    );
    this.rows = Math.max(...this.tempoCosts.map(c => c.length)) + 1;
    this.began = new Float32Array(this.rows * count);
    this.came = new Uint8Array(frames * count);
    this.cameBy = new Uint16Array(frames * count);
    this.cameFrom = new Int16Array(frames * count);
    this.waited = new Float32Array(count).fill(Infinity);
    this.waitedFrom = new Int32Array(count);
    this.leaving = { cost: new Float32Array(count), frames: new Int32Array(count) };
    this.bars = events.flatMap((e, i) => (e.isBarStart ? [i] : []));
    this.leftAt = new Int32Array(frames + 1).fill(-1);
    this.leftEvent = new Int32Array(frames + 1).fill(-1);
    this.leftFrames = new Int32Array(frames + 1);
  }

  path(): Path {
    const { frames, elseSums } = this;
    let least = Infinity;
    let end = { at: 0, event: -1, frames: 0 };
    for (let t = 0; t <= frames; t++) {
      const best = this.leave(t);
      const whole = best < 0 ? Infinity : this.leaving.cost[best]! + elseSums[frames]! - elseSums[t]!;
      if (whole < least) {
        least = whole;
        end = { at: t, event: best, frames: this.leaving.frames[best]! };
      }
      if (t > 0) this.listenElse(t, best);
      if (t < frames) this.begin(t, best);
    }
    return { places: end.event < 0 ? [] : this.wayTo(end), cost: least };
  }

  /** How each event may end at a frame. @returns the one that does best; −1 for none */
  private leave(t: number): number {
    const { costs, count, rows, began, sums, tempoCosts, shortest, waited, waitedFrom, leaving } = this;
    let best = -1;
    for (let e = 0; e < count; e++) {
      const kind = costs.kindOf[e]!;
      const here = sums[t * costs.kinds + kind]!;
      const tempo = tempoCosts[e]!;
      const longest = tempo.length - 1;
      let least = Infinity;
      let lasted = 0;
      for (let d = shortest[e]!; d <= longest && d <= t; d++) {
        const from = t - d;
        const cost = began[(from % rows) * count + e]! + here - sums[from * costs.kinds + kind]! + tempo[d]!;
        if (cost < least) {
          least = cost;
          lasted = d;
        }
      }
      const old = t - longest - 1;
      if (old >= 0) {
        const cost = began[(old % rows) * count + e]! - sums[old * costs.kinds + kind]!;
        if (cost < waited[e]!) {
          waited[e] = cost;
          waitedFrom[e] = old;
        }
        if (waited[e]! + here + MOST_TEMPO_COST < least) {
          least = waited[e]! + here + MOST_TEMPO_COST;
          lasted = t - waitedFrom[e]!;
        }
      }
      leaving.cost[e] = least;
      leaving.frames[e] = lasted;
      if (least < Infinity && (best < 0 || least < leaving.cost[best]!)) best = e;
    }
    return best;
  }

  /** Goes on hearing something else, or begins to. */
  private listenElse(t: number, best: number): void {
    const { elseSums, leaving, leftAt } = this;
    const stays = this.otherwise + elseSums[t]! - elseSums[t - 1]!;
    const begins = best < 0 ? Infinity : leaving.cost[best]! + ELSE_BEGIN_COST;
    if (begins < stays) {
      leftAt[t] = t;
      this.leftEvent[t] = best;
      this.leftFrames[t] = leaving.frames[best]!;
    } else leftAt[t] = leftAt[t - 1]!;
    this.otherwise = Math.min(begins, stays);
  }

  /** How each event may begin at a frame. */
  private begin(t: number, best: number): void {
    const { costs, count, began, leaving, leftAt, leftEvent, otherwise } = this;
    const row = t * count;
    const held = (t % this.rows) * count;
    began.fill(Infinity, held, held + count);
    const left = leftAt[t]! < 0 ? -1 : leftEvent[leftAt[t]!]!;
    const offer = (e: number, cost: number, how: number, by: number, from: number) => {
      if (cost >= began[held + e]!) return;
      began[held + e] = cost;
      this.came[row + e] = how;
      this.cameBy[row + e] = by;
      this.cameFrom[row + e] = from;
    };
    for (let e = 0; e < count; e++) {
      if (e > 0) offer(e, leaving.cost[e - 1]!, NEXT, leaving.frames[e - 1]!, e - 1);
      if (left < 0) offer(e, otherwise + (e === 0 ? 0 : this.into(e)), FIRST, 0, 0);
      else offer(e, otherwise + (e === left + 1 ? GO_ON_COST : this.leap(left, e)), ELSE, 0, left);
    }
    if (best >= 0)
      for (let from = 0; from < count; from++) {
        if (!(leaving.cost[from]! < leaving.cost[best]! + HOPELESS)) continue;
        for (const bar of this.bars)
          offer(bar, leaving.cost[from]! + this.leap(from, bar), LEAP, leaving.frames[from]!, from);
      }
    for (let e = 0; e < count; e++)
      began[held + e]! += BEGIN_COST - costs.onset[t * costs.kinds + costs.kindOf[e]!]!;
  }

  private into(event: number): number {
    return LEAP_COST + (this.events[event]!.isBarStart ? 0 : INSIDE_COST);
  }

  private leap(from: number, to: number): number {
    const quarters = this.events[to]!.startQuarters - this.events[from]!.startQuarters;
    const far = Math.min(MOST_QUARTERS_COST, LEAP_QUARTER_COST * Math.abs(quarters));
    return this.into(to) + far + (quarters > 0 ? ONWARDS_COST : 0);
  }

  private wayTo(end: { at: number; event: number; frames: number }): PathPlace[] {
    const places: PathPlace[] = [];
    let { at, event, frames } = end;
    for (;;) {
      const from = at - frames;
      const cell = from * this.count + event;
      const how = this.came[cell]!;
      const before = this.cameFrom[cell]!;
      places.push({ event, from, to: at, isLeap: how !== FIRST && before !== event - 1 });
      if (how === FIRST) return places.reverse();
      at = how === ELSE ? this.leftAt[from]! : from;
      frames = how === ELSE ? this.leftFrames[at]! : this.cameBy[cell]!;
      event = before;
    }
  }
}

/** Share of what sounds that the way leaves unexplained, 0…1. */
export function unexplained(places: readonly PathPlace[], costs: EventCosts, sounds: Uint8Array): number {
  const sounding = sounds.reduce((n, s) => n + s, 0);
  let explained = 0;
  for (const { event, from, to } of places)
    for (let t = from; t < to; t++)
      if (sounds[t]) explained += 1 - costs.unlike[t * costs.kinds + costs.kindOf[event]!]!;
  return 1 - explained / Math.max(1, sounding);
}
