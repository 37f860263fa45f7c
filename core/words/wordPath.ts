/**
 * The likeliest way of a voice through a text: which word is spoken when, and where text and voice part. Time is warped
 * freely (dynamic programming over frames; H. Sakoe and S. Chiba, "Dynamic programming algorithm optimization for spoken word
 * recognition", IEEE Transactions on Acoustics, Speech and Signal Processing 26(1), 1978), and between two words the voice may
 * pause, leave words out, go back, or say what is no word of the text. Ways are followed together and carry where each of
 * their words began (S. J. Young, N. H. Russell and J. H. S. Thornton, "Token passing", 1989); what falls far behind the best
 * is dropped.
 */
import type { Boundary } from './boundary';
import { PAUSE, SOUNDS } from './speechSounds';

const KINDS = SOUNDS.length;

/** What speaks against a way, in the same unit as the sounds (natural logarithms of how much likelier). */
interface Costs {
  /** Words that are left out: to begin with, and each. */
  leftOut: number;
  leftOutEach: number;
  /** Going back: to begin with, and each word. */
  back: number;
  backEach: number;
  /** To begin with what is none of the text. */
  putIn: number;
  /** A word that is left out where something else was said: the commonest of all slips. */
  instead: number;
  /** Leaving the text, or coming back to it, inside of a sentence; half as much at a comma. */
  insideSentence: number;
  /** Each frame for which a sound goes on beyond `LONG_FRAMES`: a word is not drawn out over another that was said in its stead. */
  longFrame: number;
}
const COSTS: Costs = {
  ...{ leftOut: 9, leftOutEach: 1, back: 18, backEach: 0.02 },
  ...{ putIn: 14, instead: 4, insideSentence: 4, longFrame: 0.8 },
};

/** A sound: how likely it is to be heard as each of some kinds, by their place in `SOUNDS`. */
export interface Sound {
  kinds: readonly number[];
  shares: readonly number[];
}

/** A word of the text as it is looked for. */
export interface WordToHear {
  /** How it may be said, each as `soundsOfWord`; a word that is said without any sound is passed over. */
  ways: readonly (readonly Sound[])[];
  /** What stands behind it. */
  after: Boundary;
}

/** A word of the text, or (−1) what is none; frames from the first, the end not included. */
export interface Said {
  word: number;
  /** Which of its ways it was said in. */
  way: number;
  start: number;
  end: number;
  /** How well the whole way goes up to its beginning and its end. */
  scoreBefore: number;
  score: number;
}

export interface WordPath {
  said: Said[];
  /** Of the likeliest sound at each frame, whatever the text, up to each frame: the nearer a way comes to it, the better it fits. */
  free: Float64Array;
}

const INSIDE: Record<Boundary, number> = { sentence: 0, clause: 0.5, inside: 1 };
/** Ways that are so far behind the best are dropped. */
const BEAM = 110;
/** And sooner at the end of a word, where they would go on to many others. */
const END_BEAM = 80;
/** Nobody goes back further than this, in words: it would keep every word of a long text in play. */
const MOST_BACK = 80;
/** Each sound takes so many frames at least … */
export const LEAST_FRAMES = 2;
/** … and in all but the shortest words, which are slurred, so many: in the rest of another word there is no room for one. */
const LEAST_IN_WORD = 3;
const SHORTEST_SOUNDS = 2;
/** Few sounds of people who read last longer than so many. */
const LONG_FRAMES = 15;

/** What was said on a way before, as a list that ways share. */
interface Step extends Said {
  before: Step | null;
}

/** What is none of the text costs so much for each frame, beside the likeliest sound, where nothing is known of who speaks. */
export const PUT_IN_FRAME = 2;

/**
 * @param heard `soundsHeard` of the recording
 * @param putInFrame what is none of the text costs so much for each frame: well above what the text itself loses there
 */
export function wordPath(
  heard: Float32Array,
  words: readonly WordToHear[],
  putInFrame = PUT_IN_FRAME,
): WordPath {
  const frames = heard.length / KINDS;
  return new Search(heard, frames, words, putInFrame).run();
}

class Search {
  private readonly count: number;
  /** First way of each word among those of all words; the last entry is how many there are. None of a word that is passed over. */
  private readonly firstWay: Int32Array;
  /** First state of each way; the last entry is the number of states. */
  private readonly first: Int32Array;
  /** The best of all ways up to the last frame. */
  private best = 0;
  /** Of each way, the states of each of its sounds. */
  private readonly least: number[] = [];
  /** Each sound once, and which of them each state is. */
  private readonly sounds: Sound[] = [];
  private readonly soundOf: number[] = [];
  private readonly likely: Float64Array;
  private readonly score: Float64Array;
  private readonly began: Int32Array;
  /** Since when each way has stayed in its state. */
  private readonly since: Int32Array;
  private readonly scoreBefore: Float64Array;
  private readonly before: (Step | null)[];
  /** Between the words, by how many are passed: out of the word, in a pause, in what is none of the text. */
  private readonly out: Float64Array;
  private readonly outStep: (Step | null)[];
  private readonly outBegan: Int32Array;
  private readonly outScoreBefore: Float64Array;
  private readonly outBefore: (Step | null)[];
  private readonly outWay: Int32Array;
  private readonly pause: Float64Array;
  private readonly pauseStep: (Step | null)[];
  private readonly none: Float64Array;
  private readonly noneStep: (Step | null)[];
  private readonly noneMade: (Step | null)[];
  private readonly noneBegan: Int32Array;
  private readonly noneScoreBefore: Float64Array;
  private readonly live: Uint8Array;
  /** What leaving or coming to each place between the words costs besides. */
  private readonly inside: Float64Array;

  constructor(
    private readonly heard: Float32Array,
    private readonly frames: number,
    words: readonly WordToHear[],
    private readonly putInFrame: number,
  ) {
    this.count = words.length;
    this.firstWay = new Int32Array(words.length + 1);
    this.inside = Float64Array.from({ length: this.count + 1 }, (_, p) => {
      if (p === 0 || p === this.count) return 0;
      return COSTS.insideSentence * INSIDE[words[p - 1]!.after];
    });
    const numbers = new Map<Sound, number>();
    const first = [0];
    words.forEach(({ ways }, w) => {
      for (const sounds of ways.every(way => way.length > 0) ? ways : []) {
        const least = sounds.length > SHORTEST_SOUNDS ? LEAST_IN_WORD : LEAST_FRAMES;
        this.least.push(least);
        for (const sound of sounds) {
          const number = numbers.get(sound) ?? this.sounds.push(sound) - 1;
          numbers.set(sound, number);
          for (let k = 0; k < least; k++) this.soundOf.push(number);
        }
        first.push(this.soundOf.length);
      }
      this.firstWay[w + 1] = first.length - 1;
    });
    this.first = Int32Array.from(first);
    this.likely = new Float64Array(this.sounds.length);
    const states = this.soundOf.length;
    const places = this.count + 1;
    this.score = new Float64Array(states).fill(-Infinity);
    this.began = new Int32Array(states);
    this.since = new Int32Array(states);
    this.scoreBefore = new Float64Array(states);
    this.before = new Array<Step | null>(states).fill(null);
    const nothing = () => new Float64Array(places).fill(-Infinity);
    this.out = nothing();
    this.pause = nothing();
    this.none = nothing();
    this.outStep = new Array<Step | null>(places).fill(null);
    this.outBegan = new Int32Array(places);
    this.outScoreBefore = new Float64Array(places);
    this.outBefore = new Array<Step | null>(places).fill(null);
    this.outWay = new Int32Array(places);
    this.pauseStep = new Array<Step | null>(places).fill(null);
    this.noneStep = new Array<Step | null>(places).fill(null);
    this.noneMade = new Array<Step | null>(places).fill(null);
    this.noneBegan = new Int32Array(places);
    this.noneScoreBefore = new Float64Array(places);
    this.live = new Uint8Array(first.length - 1);
  }

  run(): WordPath {
    const { frames, count } = this;
    const freeSum = new Float64Array(frames + 1);
    const emissions = new Float64Array(KINDS);
    const entry = new Float64Array(count);
    const entryFrom = new Int32Array(count);
    this.pause[0] = 0;
    for (let t = 0; t < frames; t++) {
      let free = -Infinity;
      for (let k = 0; k < KINDS; k++) {
        emissions[k] = this.heard[t * KINDS + k]!;
        free = Math.max(free, emissions[k]!);
      }
      freeSum[t + 1] = freeSum[t]! + free;
      this.leave(t);
      this.enter(entry, entryFrom);
      this.sounds.forEach((sound, n) => (this.likely[n] = likelyOf(sound, emissions)));
      let best = this.rest(t, emissions[PAUSE]!, free);
      for (let w = 0; w < count; w++) {
        if (entry[w]! < best - END_BEAM) entry[w] = -Infinity;
        for (let way = this.firstWay[w]!; way < this.firstWay[w + 1]!; way++)
          if (this.live[way] || entry[w]! > -Infinity)
            best = Math.max(best, this.speak(way, t, entry[w]!, entryFrom[w]!));
      }
      this.best = best;
      this.drop(best - BEAM);
    }
    return this.ended(freeSum);
  }

  /** Ways that came to the end of a word: they stand between it and the next. */
  private leave(t: number): void {
    this.out[0] = -Infinity;
    for (let w = 0; w < this.count; w++) {
      this.out[w + 1] = -Infinity;
      this.outStep[w + 1] = null;
      for (let way = this.firstWay[w]!; way < this.firstWay[w + 1]!; way++) {
        const last = this.first[way + 1]! - 1;
        const score = this.live[way] === 1 ? this.score[last]! : -Infinity;
        if (!(score > this.best - END_BEAM && score > this.out[w + 1]!)) continue;
        this.out[w + 1] = score;
        this.outWay[w + 1] = way - this.firstWay[w]!;
        this.outBegan[w + 1] = this.began[last]!;
        this.outScoreBefore[w + 1] = this.scoreBefore[last]!;
        this.outBefore[w + 1] = this.before[last]!;
      }
    }
    // A word without sounds is passed at once.
    for (let w = 0; w < this.count; w++)
      if (this.isPassed(w)) {
        this.out[w + 1] = Math.max(this.out[w]!, this.pause[w]!);
        this.outStep[w + 1] = this.out[w]! >= this.pause[w]! ? this.outStepAt(w, t) : this.pauseStep[w]!;
      }
  }

  private isPassed(word: number): boolean {
    return this.firstWay[word] === this.firstWay[word + 1];
  }

  /** The best way that stands after so many words, and the place it stands in: 0 out, 1 pause, 2 none of the text. */
  private bestAt(place: number): number {
    return Math.max(this.out[place]!, this.pause[place]!, this.none[place]!);
  }

  private stepAt(place: number, t: number): Step | null {
    const best = this.bestAt(place);
    if (best === this.out[place]) return this.outStepAt(place, t);
    if (best === this.pause[place]) return this.pauseStep[place]!;
    return this.noneStepAt(place, t);
  }

  /** The word that ended there, made only where a way goes on from it: most ends are never used. */
  private outStepAt(place: number, t: number): Step | null {
    if (place === 0 || this.isPassed(place - 1) || this.outStep[place] || this.out[place] === -Infinity)
      return this.outStep[place]!;
    return (this.outStep[place] = {
      ...{ word: place - 1, way: this.outWay[place]!, start: this.outBegan[place]!, end: t },
      ...{
        scoreBefore: this.outScoreBefore[place]!,
        score: this.out[place]!,
        before: this.outBefore[place]!,
      },
    });
  }

  /** What is none of the text up to now; made once for all words that are entered from there. */
  private noneStepAt(place: number, t: number): Step {
    const made = this.noneMade[place];
    if (made && made.end === t && made.start === this.noneBegan[place] && made.score === this.none[place])
      return made;
    return (this.noneMade[place] = {
      ...{ word: -1, way: 0, start: this.noneBegan[place]!, end: t },
      ...{
        scoreBefore: this.noneScoreBefore[place]!,
        score: this.none[place]!,
        before: this.noneStep[place]!,
      },
    });
  }

  private otherStepAt(place: number, t: number): Step {
    const isPaused = this.otherAt(place) > this.none[place]!;
    return isPaused ? this.pauseStep[place]! : this.noneStepAt(place, t);
  }

  /** The best way on which something else was said last; there may have been a pause since. */
  private otherAt(place: number): number {
    const paused = this.pauseStep[place]?.word === -1 ? this.pause[place]! : -Infinity;
    return Math.max(this.none[place]!, paused);
  }

  /** What it costs to begin each word now, and from which place; from −w where something else was said instead of word w − 1. */
  private enter(entry: Float64Array, from: Int32Array): void {
    const { leftOut, leftOutEach, back, backEach, instead } = COSTS;
    const { count } = this;
    let [skip, skipFrom] = [-Infinity, -1];
    for (let w = 0; w < count; w++) {
      const plain = this.bestAt(w);
      [entry[w], from[w]] = [plain, w];
      if (skip - this.inside[w]! > plain) [entry[w], from[w]] = [skip - this.inside[w]!, skipFrom];
      skip -= leftOutEach;
      const begun = plain - leftOut - leftOutEach - this.inside[w]!;
      if (begun > skip) [skip, skipFrom] = [begun, w];
      const other = w > 0 ? this.otherAt(w - 1) - instead : -Infinity;
      if (other > entry[w]!) [entry[w], from[w]] = [other, -w];
    }
    let [again, againFrom] = [-Infinity, count];
    for (let w = count - 1; w >= 0; w--) {
      again -= backEach;
      for (let p = againFrom - w > MOST_BACK ? w + MOST_BACK : w + 1; p > w; p--) {
        const begun = this.bestAt(p) - back - backEach * (p - w) - this.inside[p]!;
        if (begun > again || againFrom > w + MOST_BACK) [again, againFrom] = [begun, p];
      }
      if (again === -Infinity) againFrom = w + 1;
      if (again - this.inside[w]! > entry[w]!) [entry[w], from[w]] = [again - this.inside[w]!, againFrom];
    }
  }

  /** A frame on, for the ways that stand between words. @returns the best of them */
  private rest(t: number, pause: number, free: number): number {
    const { putIn } = COSTS;
    let best = -Infinity;
    for (let p = 0; p <= this.count; p++) {
      const out = this.out[p]!;
      const before = Math.max(out, this.pause[p]!);
      const begun = before - putIn;
      if (begun > this.none[p]!) {
        this.noneStep[p] = out >= this.pause[p]! ? this.outStepAt(p, t) : this.pauseStep[p]!;
        this.noneBegan[p] = t;
        this.noneScoreBefore[p] = before;
        this.none[p] = begun;
      }
      const noneBefore = this.none[p]!;
      // After what is none of the text there may be a pause, and then the text goes on.
      if (noneBefore > before) {
        const known = this.pauseStep[p];
        // The same one, gone on: another for each frame would be many.
        if (known?.word === -1 && known.start === this.noneBegan[p] && known.before === this.noneStep[p]) {
          known.end = t;
          known.score = noneBefore;
        } else this.pauseStep[p] = this.noneStepAt(p, t);
        this.pause[p] = noneBefore + pause;
      } else {
        if (out > this.pause[p]!) this.pauseStep[p] = this.outStepAt(p, t);
        this.pause[p] = before + pause;
      }
      this.none[p] = noneBefore + free - this.putInFrame;
      best = Math.max(best, this.none[p]!, this.pause[p]!);
    }
    return best;
  }

  /** A frame on, inside one of the ways to say a word. @returns the best of what stands there */
  private speak(way: number, t: number, entry: number, entryFrom: number): number {
    const [from, to] = [this.first[way]!, this.first[way + 1]!];
    const least = this.least[way]!;
    const { score, began, since, before, scoreBefore } = this;
    let best = -Infinity;
    for (let j = to - 1; j >= from; j--) {
      const own = this.likely[this.soundOf[j]!]!;
      // Only the last of a sound's states is stayed in.
      const canStay = (j - from) % least === least - 1;
      const isLong = t - since[j]! > LONG_FRAMES - least;
      const stay = canStay ? score[j]! - (isLong ? COSTS.longFrame : 0) : -Infinity;
      if (j > from) {
        const on = score[j - 1]!;
        if (on >= stay) {
          score[j] = on + own;
          since[j] = t;
          began[j] = began[j - 1]!;
          before[j] = before[j - 1]!;
          scoreBefore[j] = scoreBefore[j - 1]!;
        } else score[j] = stay + own;
      } else if (entry > -Infinity) {
        score[j] = entry + own;
        began[j] = t;
        before[j] = entryFrom < 0 ? this.otherStepAt(-entryFrom - 1, t) : this.stepAt(entryFrom, t);
        scoreBefore[j] = entry;
      } else score[j] = -Infinity;
      best = Math.max(best, score[j]!);
    }
    return best;
  }

  private drop(least: number): void {
    const { score, live } = this;
    for (let way = 0; way < live.length; way++) {
      live[way] = 0;
      for (let j = this.first[way]!; j < this.first[way + 1]!; j++) {
        if (score[j]! < least) {
          score[j] = -Infinity;
          this.before[j] = null;
        } else live[way] = 1;
      }
    }
    for (let p = 0; p <= this.count; p++) {
      if (this.pause[p]! < least) this.pause[p] = -Infinity;
      if (this.none[p]! < least) this.none[p] = -Infinity;
    }
  }

  private ended(free: Float64Array): WordPath {
    const { leftOut, leftOutEach } = COSTS;
    this.leave(this.frames);
    let [best, at] = [-Infinity, 0];
    for (let p = 0; p <= this.count; p++) {
      const missing = this.count - p;
      const score = this.bestAt(p) - (missing > 0 ? leftOut + leftOutEach * missing + this.inside[p]! : 0);
      if (score > best) [best, at] = [score, p];
    }
    const said: Said[] = [];
    for (let s = this.stepAt(at, this.frames); s; s = s.before) {
      const { before: _, ...own } = s;
      said.push({ ...own, end: Math.min(own.end, said.at(-1)?.start ?? Infinity) });
    }
    return { said: said.reverse(), free };
  }
}

/** How likely a sound is at a frame, as a logarithm. @param emissions of each kind */
export function likelyOf({ kinds, shares }: Sound, emissions: ArrayLike<number>): number {
  if (kinds.length === 1) return emissions[kinds[0]!]!;
  let sum = 0;
  for (let k = 0; k < kinds.length; k++) sum += shares[k]! * Math.exp(emissions[kinds[k]!]!);
  return Math.log(sum);
}
