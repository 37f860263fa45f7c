/**
 * The pitch of one voice, each hundredth of a second.
 *
 * Candidates are the peaks of the autocorrelation of a Hann-windowed stretch, divided by that of the window (P. Boersma,
 * "Accurate short-term analysis of the fundamental frequency and the harmonics-to-noise ratio of a sampled sound", IFA
 * Proceedings 17, 1993); the path through them is found by dynamic programming, which weighs octaves and the change between
 * voiced and unvoiced. The pitch on that path is then read from the phases of the partials (`partials.ts`).
 *
 * What it cannot do: several voices at once; it follows one of them. Below 57 and above 2150 Hz it hears nothing.
 */
import FFT from 'fft.js';
import { HALF_HZ } from './halves';
import { HIGHEST_HZ, MOST_PARTIALS, PartialReader } from './partials';
import { Series } from './series';
import { Tail } from './tail';

export const HOP_SEC = 0.01;
const LOWEST_HZ = 57;
/**
 * As long as the window: the correlation at a lag then has that at 512 − lag in it as well, which the window makes small (one
 * fiftieth at the lowest pitch, nothing from 100 Hz on).
 */
const FFT_SIZE = 512;
/** Half of the stretch that is looked at, in samples: 64 ms in all, almost four periods of the lowest pitch. */
const HALF = 255;
const SIZE = 2 * HALF + 1;
const HOP = HOP_SEC * HALF_HZ;
/**
 * What is kept of each frequency before the correlation: nothing from 3.8 kHz, so that what lies between its samples can be
 * told, and by parts down to 3 kHz.
 */
const KEPT = Float64Array.from({ length: FFT_SIZE / 2 + 1 }, (_, k) => {
  const x = ((k * HALF_HZ) / FFT_SIZE - 3_000) / 800;
  return x <= 0 ? 1 : x >= 1 ? 0 : 0.5 + 0.5 * Math.cos(Math.PI * x);
});
/** Periods in samples. */
const SHORTEST = HALF_HZ / HIGHEST_HZ;
const LONGEST = Math.ceil(HALF_HZ / LOWEST_HZ) + 1;
const WINDOW = Float64Array.from({ length: SIZE }, (_, k) => {
  return 0.5 + 0.5 * Math.cos((Math.PI * (k - HALF)) / (HALF + 1));
});
/** 1 / autocorrelation of the window, by lag, so that a periodic sound has 1 at its period. */
const UNBIAS = Float64Array.from({ length: LONGEST + 2 }, (_, lag) => {
  let whole = 0;
  let sum = 0;
  for (let k = 0; k < SIZE; k++) {
    whole += WINDOW[k]! ** 2;
    if (k + lag < SIZE) sum += WINDOW[k]! * WINDOW[k + lag]!;
  }
  return whole / sum;
});
/** The correlation is looked at up to the longest period, and between its samples by some beyond. */
const CORRELATED = LONGEST + 14;
/** Frequencies from 0 to the highest, but for that one. */
const BANDS = FFT_SIZE / 2;
const COSINE = Float64Array.from({ length: BANDS }, (_, k) => Math.cos((Math.PI * k) / BANDS));
const SINE = Float64Array.from({ length: BANDS }, (_, k) => Math.sin((Math.PI * k) / BANDS));
const MOST_CANDIDATES = 9;
const LEAST_STRENGTH = 0.25;
/** Softer than this nothing is heard, whatever its shape. Power of a full-scale square wave is 1. */
const SILENT_POWER = 1e-9;

/** Costs of a path, as in Boersma's article but for the octave's, which is higher. */
const OCTAVE_COST = 0.02;
const OCTAVE_JUMP_COST = 0.35;
const VOICING_COST = 0.14;
const VOICING_THRESHOLD = 0.45;

/** What a partial is read from may reach so far back: half of the longest window, from the hop before the oldest frame. */
const MOST_BEHIND = 360 + HOP;
/** A path is taken as it stands when so many frames lie behind it. */
const OPEN_FRAMES = 250;
const UNDECIDED_FRAMES = 75;
/** Neighbours within a tone agree. */
const NEAR_OCTAVES = 1 / 6;

export interface Pitch {
  hopSec: number;
  /** One for each hop, the first at 0 s; 0 where there is none. */
  hz: Float32Array;
  /** How periodic the sound is there, 0…1. */
  confidence: Float32Array;
  /** Power of the first `MOST_PARTIALS` multiples of the pitch at each hop, as shares of 255. None where they were not asked for. */
  partials: Uint8Array;
}

interface Frame {
  /** Index of the hop. */
  hop: number;
  hz: Float64Array;
  strength: Float64Array;
  count: number;
  /** Of each state, the last being "unvoiced": what the best path to it is worth, and where it came from. */
  worth: Float64Array;
  from: Int8Array;
}

/**
 * Follows the pitch of a sound that comes in pieces. Every other hop is searched; those between are read where their
 * neighbours agree, and searched where they do not.
 * @example
 * const tracker = new PitchTracker(); tracker.push(samples); tracker.finish().hz
 */
export class PitchTracker {
  private readonly fft = new FFT(FFT_SIZE);
  private readonly input = new Float64Array(2 * FFT_SIZE);
  private readonly spectrum = new Float64Array(2 * FFT_SIZE);
  private readonly power = new Float64Array(2 * (BANDS + 1));
  private readonly half = new FFT(BANDS);
  private readonly folded = new Float64Array(2 * BANDS);
  private readonly turned = new Float64Array(2 * BANDS);
  /** At each lag, of both hops. */
  private readonly correlation = new Float64Array(2 * CORRELATED + 2);
  /** The same of one of them, with that at 0 being 1 and without the window. */
  private readonly ratios = new Float64Array(LONGEST + 1);
  private readonly reader = new PartialReader(HALF_HZ);
  /** Samples from `base` on. */
  private readonly tail = new Tail();
  private samples = this.tail.samples;
  private base = 0;
  private forgotten = 0;
  /** The next hop to be searched. */
  private next = 0;
  private open: Frame[] = [];
  /** Frames to be used again: making them anew for each hop is half of the work of forgetting them. */
  private readonly spare: Frame[] = [];
  private last: { hz: number; strength: number } | null = null;
  private readonly hz: Series<Float32Array>;
  private readonly confidence: Series<Float32Array>;
  private readonly multiples: Series<Uint8Array>;
  private partials: Uint8Array | null;

  /** @param wanted how many hops there is room for at first, and whether partials are wanted: of speech they are not */
  constructor({ room = 1_024, partials = true }: { room?: number; partials?: boolean } = {}) {
    this.hz = Series.floats(room);
    this.confidence = Series.floats(room);
    this.multiples = Series.bytes(room);
    this.partials = partials ? new Uint8Array(room * MOST_PARTIALS) : null;
  }

  /** @param pushed mono samples at 8 kHz, −1…1 */
  push(pushed: Float32Array): void {
    this.tail.add(pushed);
    this.samples = this.tail.samples;
    const end = this.base + this.samples.length;
    while ((this.next + 2) * HOP + HALF < end) {
      this.search();
      // Here and not once a piece, or what is said would change with the pieces that a sound comes in.
      if (this.open.length >= OPEN_FRAMES) this.decide(UNDECIDED_FRAMES);
    }
    this.dropSamples();
  }

  /**
   * The first hops that are kept, where they lie, with tones that were followed too low put right: asked for once, and forgotten
   * before more is.
   * @param hops as many as are wanted; what lies less than six seconds back is not known yet
   */
  soFar(hops: number): Pitch {
    const known = Math.min(hops, this.hz.length);
    const partials = this.partials?.subarray(0, known * MOST_PARTIALS) ?? new Uint8Array(0);
    const hz = this.hz.take(known);
    raise(hz, this.multiples.take(known), partials);
    return { hopSec: HOP_SEC, hz, confidence: this.confidence.take(known), partials };
  }

  /** Lets go of the oldest hops: the first that is kept is then hop 0 of what is handed out. Of music nothing may be let go of. */
  forget(hops: number): void {
    for (const row of [this.hz, this.confidence, this.multiples]) row.drop(hops);
    this.forgotten += hops;
  }

  /** All that is kept, of which nothing is open any more. */
  finish(): Pitch {
    const end = this.base + this.samples.length;
    const hops = end === 0 ? 0 : Math.floor((end - 1) / HOP) + 1;
    // One beyond the last, for a hop between two needs both.
    while (this.next <= hops) this.search();
    this.decide(0);
    return this.soFar(hops - this.forgotten);
  }

  private dropSamples(): void {
    const oldest = (this.open[0]?.hop ?? this.next) * HOP;
    const gone = Math.max(0, oldest - this.base - MOST_BEHIND);
    this.tail.drop(gone);
    this.samples = this.tail.samples;
    this.base += Math.max(0, gone);
  }

  /** The next two hops to be searched, and the best paths to them. */
  private search(): void {
    for (const frame of this.candidates(this.next, this.next + 2)) {
      this.reach(frame);
      this.open.push(frame);
    }
    this.next += 4;
  }

  /** Two hops by one transform: the one as real, the other as imaginary part. */
  private candidates(...hops: [number, number]): [Frame, Frame] {
    const { input, spectrum, power, fft } = this;
    const powers = this.fill(hops);
    fft.transform(spectrum, input);
    // The powers of both, from the even and odd parts of the whole.
    for (let k = 0; k <= BANDS; k++) {
      const m = (FFT_SIZE - k) % FFT_SIZE;
      const ar = spectrum[2 * k]!;
      const ai = spectrum[2 * k + 1]!;
      const br = spectrum[2 * m]!;
      const bi = spectrum[2 * m + 1]!;
      const kept = KEPT[k]!;
      power[2 * k] = kept * ((ar + br) * (ar + br) + (ai - bi) * (ai - bi));
      power[2 * k + 1] = kept * ((ai + bi) * (ai + bi) + (ar - br) * (ar - br));
    }
    this.correlate();
    return [this.peaks(hops[0], 0, powers[0]), this.peaks(hops[1], 1, powers[1])];
  }

  /**
   * The correlation at each lag is a sum of cosines of the powers. Both are got by one complex transform of half the size, as in
   * J. W. Cooley, P. A. W. Lewis and P. D. Welch, "The fast Fourier transform algorithm: programming considerations in the
   * calculation of sine, cosine and Laplace transforms", Journal of Sound and Vibration 12(3), 1970.
   */
  private correlate(): void {
    const { power, folded, turned, correlation } = this;
    // The sum at lag 1, which those at the other odd lags follow from.
    let first = 0.5 * (power[0]! - power[2 * BANDS]!);
    let second = 0.5 * (power[1]! - power[2 * BANDS + 1]!);
    folded[0] = 0.5 * (power[0]! + power[2 * BANDS]!);
    folded[1] = 0.5 * (power[1]! + power[2 * BANDS + 1]!);
    for (let k = 1, m = BANDS - 1; k <= m; k++, m--) {
      const cos = COSINE[k]!;
      const sin = SINE[k]!;
      const off = power[2 * k]! - power[2 * m]!;
      const off2 = power[2 * k + 1]! - power[2 * m + 1]!;
      const mean = 0.5 * (power[2 * k]! + power[2 * m]!);
      const mean2 = 0.5 * (power[2 * k + 1]! + power[2 * m + 1]!);
      folded[2 * k] = mean - sin * off;
      folded[2 * k + 1] = mean2 - sin * off2;
      folded[2 * m] = mean + sin * off;
      folded[2 * m + 1] = mean2 + sin * off2;
      first += cos * off;
      second += cos * off2;
    }
    this.half.transform(turned, folded);
    // Of what was packed into one: the even lags, and by how much each odd one differs from that before it.
    for (let k = 0; 2 * k < CORRELATED; k++) {
      const m = (BANDS - k) % BANDS;
      const ar = turned[2 * k]!;
      const ai = turned[2 * k + 1]!;
      const br = turned[2 * m]!;
      const bi = turned[2 * m + 1]!;
      correlation[4 * k] = 0.5 * (ar + br);
      correlation[4 * k + 1] = 0.5 * (ai + bi);
      if (k > 0) {
        first -= 0.5 * (ai - bi);
        second += 0.5 * (ar - br);
      }
      correlation[4 * k + 2] = first;
      correlation[4 * k + 3] = second;
    }
  }

  /** Puts a windowed stretch around each hop, without its mean, into a part of the input. @returns their mean powers */
  private fill([first, second]: readonly [number, number]): [number, number] {
    const { samples, input } = this;
    const a = first * HOP - HALF - this.base;
    const b = second * HOP - HALF - this.base;
    if (a < 0 || b < 0 || Math.max(a, b) + SIZE > samples.length) {
      input.fill(0);
      return [this.fillAtEnd(a, 0), this.fillAtEnd(b, 1)];
    }
    // Both in one go: a sum waits for itself, and two of them no longer than one.
    let sumA = 0;
    let sumB = 0;
    for (let k = 0; k < SIZE; k++) {
      sumA += samples[(a + k) | 0]!;
      sumB += samples[(b + k) | 0]!;
    }
    const meanA = sumA / SIZE;
    const meanB = sumB / SIZE;
    let powerA = 0;
    let powerB = 0;
    for (let k = 0; k < SIZE; k++) {
      const w = WINDOW[k]!;
      const x = samples[(a + k) | 0]! - meanA;
      const y = samples[(b + k) | 0]! - meanB;
      powerA += x * x;
      powerB += y * y;
      input[2 * k] = x * w;
      input[2 * k + 1] = y * w;
    }
    input.fill(0, 2 * SIZE);
    return [powerA / SIZE, powerB / SIZE];
  }

  /** The same of one hop, where its stretch reaches beyond what there is. */
  private fillAtEnd(start: number, part: number): number {
    const { samples, input } = this;
    const from = Math.max(0, -start);
    const to = Math.min(SIZE, samples.length - start);
    let sum = 0;
    for (let k = from; k < to; k++) sum += samples[start + k]!;
    const mean = sum / Math.max(1, to - from);
    let power = 0;
    for (let k = from, at = 2 * from + part; k < to; k++, at += 2) {
      const x = samples[start + k]! - mean;
      power += x * x;
      input[at] = x * WINDOW[k]!;
    }
    return power / SIZE;
  }

  /** The best paths to the states of a frame, from those before it. */
  private reach(frame: Frame): void {
    const before = this.open.at(-1);
    const { count } = frame;
    for (let s = 0; s <= count; s++) {
      const own = s === count ? VOICING_THRESHOLD : frame.strength[s]!;
      let best = before ? -Infinity : 0;
      for (let p = 0; before && p <= before.count; p++) {
        const worth = before.worth[p]! - change(before.hz[p]!, frame.hz[s]!, p === before.count, s === count);
        if (worth > best) {
          best = worth;
          frame.from[s] = p;
        }
      }
      frame.worth[s] = best + own;
    }
  }

  private peaks(hop: number, part: number, power: number): Frame {
    const frame = this.spare.pop() ?? blankFrame();
    frame.hop = hop;
    frame.count = 0;
    const { correlation } = this;
    const zero = correlation[part]!;
    if (power < SILENT_POWER || !(zero > 0)) return frame;
    const { ratios } = this;
    for (let lag = 1; lag <= LONGEST; lag++)
      ratios[lag] = (correlation[2 * lag + part]! / zero) * UNBIAS[lag]!;
    for (let lag = 2; lag < LONGEST; lag++) {
      const before = ratios[lag - 1]!;
      const here = ratios[lag]!;
      const after = ratios[lag + 1]!;
      if (here > LEAST_STRENGTH && here >= before && here > after) {
        const { period, height } = this.peak(lag, part, zero, before, here, after);
        if (period >= SHORTEST) {
          // The shorter of equal periods: the longer ones are its multiples.
          const strength = Math.min(height, 1 / height) - OCTAVE_COST * Math.log2(period / SHORTEST);
          keep(frame, HALF_HZ / period, strength);
        }
      }
    }
    return frame;
  }

  /**
   * The top of the correlation near a lag. A sound with strong overtones has tops narrower than a sample; between samples
   * the correlation is known all the same, for it has no frequencies that the sound has not.
   */
  private peak(lag: number, part: number, zero: number, before: number, here: number, after: number) {
    const { correlation } = this;
    const value = (step: number) => {
      const whole = Math.floor(step / STEPS);
      const taps = SINC[step - whole * STEPS]!;
      let sum = 0;
      for (let k = 0; k < 2 * SINC_HALF; k++) {
        const at = Math.abs(whole - SINC_HALF + 1 + k);
        sum += taps[k]! * correlation[2 * at + part]!;
      }
      const weight = UNBIAS[whole]! + (UNBIAS[whole + 1]! - UNBIAS[whole]!) * (step / STEPS - whole);
      return (sum / zero) * weight;
    };
    let step = Math.round((lag + offsetOf(before, here, after)) * STEPS);
    let low = value(step - 1);
    let mid = value(step);
    let high = value(step + 1);
    for (let n = 0; n < STEPS && (low > mid || high > mid); n++) {
      if (high > low) {
        low = mid;
        mid = high;
        high = value(++step + 1);
      } else {
        high = mid;
        mid = low;
        low = value(--step - 1);
      }
    }
    const bend = low - 2 * mid + high;
    const offset = bend < 0 ? (0.5 * (low - high)) / bend : 0;
    return { period: (step + offset) / STEPS, height: mid - 0.25 * (low - high) * offset };
  }

  /** Takes the best path, but for its last frames, and reads the pitch on it. */
  private decide(undecided: number): void {
    const { open } = this;
    const last = open.at(-1);
    if (!last) return;
    let state = 0;
    for (let s = 1; s <= last.count; s++) if (last.worth[s]! > last.worth[state]!) state = s;
    const states = new Int8Array(open.length);
    for (let f = open.length - 1; f >= 0; f--) {
      states[f] = state;
      state = open[f]!.from[state]!;
    }
    const decided = Math.max(0, open.length - undecided);
    for (let f = 0; f < decided; f++) {
      const frame = open[f]!;
      const taken = stateOf(frame, states[f]!);
      if (this.last) this.put(frame.hop - 1, this.between(frame.hop - 1, this.last, taken));
      this.put(frame.hop, taken);
      this.last = taken;
    }
    this.spare.push(...open.splice(0, decided));
  }

  /** The hop between two that were searched. */
  private between(hop: number, before: Taken, after: Taken): Taken {
    if (before.hz === 0 && after.hz === 0) return { hz: 0, strength: (before.strength + after.strength) / 2 };
    if (before.hz > 0 && after.hz > 0 && Math.abs(Math.log2(before.hz / after.hz)) < NEAR_OCTAVES)
      return { hz: Math.sqrt(before.hz * after.hz), strength: (before.strength + after.strength) / 2 };
    const [frame, same] = this.candidates(hop, hop);
    this.spare.push(frame, same);
    let best: Taken = { hz: 0, strength: 0 };
    let most = -Infinity;
    for (let s = 0; s <= frame.count; s++) {
      const taken = stateOf(frame, s);
      const none = taken.hz === 0;
      const worth =
        (none ? VOICING_THRESHOLD : frame.strength[s]!) -
        change(before.hz, taken.hz, before.hz === 0, none) -
        change(taken.hz, after.hz, none, after.hz === 0);
      if (worth > most) [most, best] = [worth, taken];
    }
    return best;
  }

  private put(hop: number, { hz, strength }: Taken): void {
    const read = hz > 0 ? this.reader.fundamental(this.samples, hop * HOP - this.base, hz) : null;
    if (this.partials) {
      const first = this.hz.length * MOST_PARTIALS;
      if (first + MOST_PARTIALS > this.partials.length) {
        const larger = new Uint8Array(2 * this.partials.length);
        larger.set(this.partials);
        this.partials = larger;
      }
      for (let n = 0; read && n < MOST_PARTIALS; n++) this.partials[first + n] = 255 * read.shares[n]! + 0.5;
    }
    this.hz.push(read?.hz ?? hz);
    this.multiples.push(read?.multiple ?? 1);
    this.confidence.push(Math.max(0, Math.min(1, strength)));
  }
}

/** A step further than this is another tone. */
const SAME_TONE_OCTAVES = 1 / 12;
/** What it costs that a hop says otherwise: more where a tone is raised than where it is left. */
const UNHEARD_COST = 1;
const UNSAID_COST = 1.5;
/** What it costs to go over to another multiple within a tone: so many hops that say otherwise. */
const OTHER_MULTIPLE_COST = 6;

/**
 * Tones that were followed an octave or more too low are put right, by what most of their hops say. A tone followed too low and
 * the next one may be followed at one pitch, so what is said may change once or twice on the way.
 */
function raise(hz: Float32Array, multiples: Uint8Array, partials: Uint8Array): void {
  for (let from = 0; from < hz.length; from++) {
    if (!(hz[from]! > 0)) continue;
    let to = from + 1;
    while (to < hz.length && hz[to]! > 0 && Math.abs(Math.log2(hz[to]! / hz[to - 1]!)) < SAME_TONE_OCTAVES)
      to++;
    const said = multiples.subarray(from, to);
    if (said.some(m => m > 1))
      steadily(said).forEach((multiple, k) => {
        if (multiple === 1) return;
        const i = from + k;
        hz[i]! *= multiple;
        const own = partials.subarray(i * MOST_PARTIALS, (i + 1) * MOST_PARTIALS);
        for (let n = 1; n <= MOST_PARTIALS; n++) own[n - 1] = own[n * multiple - 1] ?? 0;
      });
    from = to - 1;
  }
}

/** What hops say, without those that stand alone: the way with the least cost. */
function steadily(said: Uint8Array): Uint8Array {
  const cost = new Float64Array(MOST_PARTIALS);
  const from = new Uint8Array(said.length * MOST_PARTIALS);
  const least = () => cost.reduce((best, c, m) => (c < cost[best]! ? m : best), 0);
  said.forEach((own, i) => {
    const best = least();
    const changed = cost[best]! + OTHER_MULTIPLE_COST;
    for (let m = 0; m < MOST_PARTIALS; m++) {
      const stays = i === 0 || cost[m]! <= changed;
      from[i * MOST_PARTIALS + m] = stays ? m : best;
      const saidOtherwise = own === m + 1 ? 0 : m === 0 ? UNHEARD_COST : UNSAID_COST;
      cost[m] = (stays ? cost[m]! : changed) + saidOtherwise;
    }
  });
  const way = new Uint8Array(said.length);
  for (let i = said.length - 1, m = least(); i >= 0; i--) {
    way[i] = m + 1;
    m = from[i * MOST_PARTIALS + m]!;
  }
  return way;
}

function blankFrame(): Frame {
  return {
    hop: 0,
    hz: new Float64Array(MOST_CANDIDATES),
    strength: new Float64Array(MOST_CANDIDATES),
    count: 0,
    worth: new Float64Array(MOST_CANDIDATES + 1),
    from: new Int8Array(MOST_CANDIDATES + 1),
  };
}

interface Taken {
  /** 0 for none. */
  hz: number;
  strength: number;
}

/** What a state of a frame says; the strength of what is not voiced is that of its best candidate. */
function stateOf(frame: Frame, state: number): Taken {
  const at = state < frame.count ? state : 0;
  const hz = frame.hz[at]!;
  const strength =
    frame.count > 0 ? frame.strength[at]! + OCTAVE_COST * Math.log2(HALF_HZ / hz / SHORTEST) : 0;
  return { hz: state < frame.count ? hz : 0, strength };
}

/** What it costs to go from one pitch, or none, to another. */
function change(fromHz: number, toHz: number, fromNone: boolean, toNone: boolean): number {
  if (fromNone || toNone) return fromNone && toNone ? 0 : VOICING_COST;
  return OCTAVE_JUMP_COST * Math.abs(Math.log2(toHz / fromHz));
}

/** Between two samples the correlation is looked at in so many steps, with so many neighbours on each side. */
const STEPS = 8;
const SINC_HALF = 10;
const SINC = Array.from({ length: STEPS }, (_, step) =>
  Float64Array.from({ length: 2 * SINC_HALF }, (__, k) => {
    const x = SINC_HALF - 1 - k + step / STEPS;
    const hann = 0.5 + 0.5 * Math.cos((Math.PI * x) / (SINC_HALF + 0.5));
    return x === 0 ? 1 : (Math.sin(Math.PI * x) / (Math.PI * x)) * hann;
  }),
);

/** About where the top of three samples lies, from the middle one. */
function offsetOf(before: number, here: number, after: number): number {
  const bend = before - 2 * here + after;
  return bend < 0 ? (0.5 * (before - after)) / bend : 0;
}

/** Puts a candidate among the best, best first. */
function keep(frame: Frame, hz: number, strength: number): void {
  let at = frame.count;
  while (at > 0 && frame.strength[at - 1]! < strength) at--;
  if (at >= MOST_CANDIDATES) return;
  const end = Math.min(frame.count, MOST_CANDIDATES - 1);
  for (let i = end; i > at; i--) {
    frame.hz[i] = frame.hz[i - 1]!;
    frame.strength[i] = frame.strength[i - 1]!;
  }
  frame.hz[at] = hz;
  frame.strength[at] = strength;
  frame.count = Math.min(MOST_CANDIDATES, frame.count + 1);
}
