/**
 * A metronome that is heard in a recording: where its clicks lie, held against where they were sent out. It tells how long a sound is
 * under way on that device where nobody measured it, and that the card stumbled, to the millisecond.
 *
 * Each click is a decaying tone of known pitch, so it is looked for by a matched filter (D. O. North, 1943); the lag that most clicks
 * agree on to 2 ms is theirs. Notes that somebody plays along do not agree so closely: people keep to a beat within 10 to 30 ms
 * (B. H. Repp, “Sensorimotor Synchronization: A Review of the Tapping Literature”, 2005).
 *
 * What it cannot do: hear clicks through headphones, or under a drone of their own pitch; then it says so with null.
 */
import { CLICK_HZ, CLICK_SEC, FIRST_CLICK_HZ } from '../timing/accompaniment';
import { ANALYSIS_HZ } from './halves';
import { median } from './ranks';

export interface SentClick {
  /** When it was sent out, in ms of the recording. */
  atMs: number;
  isFirst: boolean;
}

export interface Stumble {
  /** It lies between two clicks as they were heard, in ms of the recording. */
  fromMs: number;
  toMs: number;
  /** So much later everything is from then on. */
  byMs: number;
}

export interface HeardClicks {
  /** For each click that was sent, how much later it lies in the recording, in ms. */
  lagsMs: number[];
  stumbles: Stumble[];
}

const HOP = ANALYSIS_HZ / 1_000;
const FALL_PER_SEC = Math.log(1_000) / CLICK_SEC;
const KERNEL = Math.round(0.02 * ANALYSIS_HZ);
/** No sound is longer under way. */
const LONGEST_MS = 600;
/** An event stands so much (in power) above what sounds just before it, and above the other pitch. */
const STANDS_OUT = 4;
const OTHER_PITCH = 1.5;
const BEFORE_FROM_MS = 30;
const BEFORE_TO_MS = 12;
/** Clicks agree when their lags differ by no more. */
const AGREE_MS = 2;
const LEAST_CLICKS = 4;
const LEAST_SHARE = 0.6;
/** The next best lag must be so much poorer. */
const POORER = 0.75;
/** So many clicks in a row are asked what their lag is. */
const ROW = 6;
/** A stumble is at most so long, or it is taken for something else; a shorter one than the least is none. */
const LONGEST_STUMBLE_MS = 200;
const LEAST_STUMBLE_MS = 4;

/** Power of a decaying tone that begins at each millisecond. */
function powers(samples: Float32Array, hz: number): Float32Array {
  const [re, im] = [new Float32Array(KERNEL), new Float32Array(KERNEL)];
  for (let u = 0; u < KERNEL; u++) {
    const sec = u / ANALYSIS_HZ;
    const gain = Math.exp(-FALL_PER_SEC * sec);
    re[u] = gain * Math.cos(2 * Math.PI * hz * sec);
    im[u] = gain * Math.sin(2 * Math.PI * hz * sec);
  }
  const out = new Float32Array(Math.max(0, Math.floor((samples.length - KERNEL) / HOP)));
  for (let k = 0; k < out.length; k++) {
    const from = k * HOP;
    let a = 0;
    let b = 0;
    for (let u = 0; u < KERNEL; u++) {
      const x = samples[from + u]!;
      a += x * re[u]!;
      b += x * im[u]!;
    }
    out[k] = a * a + b * b;
  }
  return out;
}

/** Milliseconds at which a tone of one pitch, and not of the other, sets in. */
function eventsIn(own: Float32Array, other: Float32Array): number[] {
  const found: number[] = [];
  let floor = 0;
  for (const power of own) floor += power;
  floor = (floor / Math.max(1, own.length)) * 1e-4;
  for (let k = BEFORE_FROM_MS; k < own.length - 1; k++) {
    const power = own[k]!;
    if (power < own[k - 1]! || power <= own[k + 1]!) continue;
    let before = 0;
    for (let i = k - BEFORE_FROM_MS; i < k - BEFORE_TO_MS; i++) before += own[i]!;
    before /= BEFORE_FROM_MS - BEFORE_TO_MS;
    if (power < STANDS_OUT * (before + floor) || power < OTHER_PITCH * other[k]!) continue;
    // Between the milliseconds, by a parabola through the three powers.
    const [left, right] = [own[k - 1]!, own[k + 1]!];
    const bend = left - 2 * power + right;
    found.push(k + (bend === 0 ? 0 : (0.5 * (left - right)) / bend));
  }
  return found;
}

/** Lags at which clicks were heard within a range, one list for each click. */
function lagsOf(
  clicks: readonly SentClick[],
  events: { plain: number[]; first: number[] },
  fromMs: number,
  toMs: number,
) {
  return clicks.map(({ atMs, isFirst }) =>
    (isFirst ? events.first : events.plain).map(e => e - atMs).filter(lag => lag >= fromMs && lag <= toMs),
  );
}

/** The lag that most clicks agree on; null where too few do, or another one would do nearly as well. */
function agreed(lags: readonly number[][], least: number): number | null {
  const all = lags.flat();
  const around = (lag: number) => lags.flatMap(own => own.find(l => Math.abs(l - lag) <= AGREE_MS) ?? []);
  let best: number[] = [];
  let at = 0;
  for (const lag of all) {
    const own = around(lag);
    if (own.length > best.length) [best, at] = [own, lag];
  }
  if (best.length < least || best.length < LEAST_SHARE * lags.length) return null;
  const rivals = all.filter(l => Math.abs(l - at) > 6 * AGREE_MS).map(l => around(l).length);
  return rivals.some(n => n > POORER * best.length) ? null : median(best);
}

/**
 * Looks for a metronome in a recording.
 * @param samples mono, at `ANALYSIS_HZ`
 * @param clicks  in order; only those that were to be heard
 * @returns null where they are not heard
 */
export function hearClicks(samples: Float32Array, clicks: readonly SentClick[]): HeardClicks | null {
  if (clicks.length < LEAST_CLICKS) return null;
  const [plain, first] = [powers(samples, CLICK_HZ), powers(samples, FIRST_CLICK_HZ)];
  const events = { plain: eventsIn(plain, first), first: eventsIn(first, plain) };
  const begins = agreed(lagsOf(clicks.slice(0, 2 * ROW), events, 0, LONGEST_MS), LEAST_CLICKS);
  if (begins === null) return null;
  const lagsMs: number[] = [];
  const stumbles: Stumble[] = [];
  let lag = begins;
  /** The last one that was heard where it was awaited. */
  let heard = 0;
  for (let n = 0; n < clicks.length; n++) {
    const row = lagsOf(clicks.slice(n, n + ROW), events, lag - LONGEST_STUMBLE_MS, lag + LONGEST_STUMBLE_MS);
    const isAt = (wanted: number, within: number) => row[0]!.some(l => Math.abs(l - wanted) <= within);
    if (isAt(lag, LEAST_STUMBLE_MS)) heard = n;
    else {
      // Another lag, on which this click and the next ones agree.
      const next = agreed(row, LEAST_CLICKS);
      if (next !== null && isAt(next, AGREE_MS)) {
        const [fromMs, toMs] = [clicks[heard]!.atMs + lag, clicks[n]!.atMs + next];
        stumbles.push({ fromMs, toMs, byMs: next - lag });
        lag = next;
        // Nobody heard on which side of it these were.
        lagsMs.fill(lag, heard + 1);
        heard = n;
      }
    }
    lagsMs.push(lag);
  }
  return { lagsMs, stumbles };
}
