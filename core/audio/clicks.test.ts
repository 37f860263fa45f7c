import { addClicks } from '../testing/sounds';
import { hearClicks, type SentClick } from './clicks';
import { ANALYSIS_HZ } from './halves';

const STEP_MS = 500;
const BEATS = 4;

/** Numbers that look random and are the same each time, −1…1. */
function noise(seed: number): () => number {
  let s = seed;
  return () => {
    s = (s * 1_664_525 + 1_013_904_223) % 4_294_967_296;
    return s / 2_147_483_648 - 1;
  };
}

const sent = (count: number, fromMs = 300): SentClick[] =>
  Array.from({ length: count }, (_, n) => ({ atMs: fromMs + n * STEP_MS, isFirst: n % BEATS === 0 }));

interface Scene {
  clicks: SentClick[];
  /** Of each click, in ms. */
  lag: (n: number) => number;
  loud: number;
  /** How far a player's notes are from the beat, in ms; left out: nobody plays. */
  strays?: number;
}

/** A room: clicks as the accompanist plays them, through the air; a flute that plays along; a little hiss. */
function room({ clicks, lag, loud, strays }: Scene): Float32Array {
  const random = noise(5);
  const out = new Float32Array(Math.ceil(((clicks.at(-1)!.atMs + 1_500) / 1_000) * ANALYSIS_HZ));
  for (let i = 0; i < out.length; i++) out[i] = 0.001 * random();
  const put = (atMs: number, sec: number, of: (t: number) => number) => {
    const from = (atMs / 1_000) * ANALYSIS_HZ;
    for (let i = Math.ceil(from); i < from + sec * ANALYSIS_HZ && i < out.length; i++)
      out[i]! += of((i - from) / ANALYSIS_HZ);
  };
  addClicks(out, clicks, lag, loud);
  clicks.forEach(({ atMs }, n) => {
    if (strays === undefined) return;
    const midi = 69 + ((n * 5) % 12);
    const tone = 440 * 2 ** ((midi - 69) / 12);
    put(atMs + 120 + strays * (random() + random() + random()), 0.35, t => {
      const swells = Math.min(1, t / 0.02) * Math.min(1, (0.35 - t) / 0.04);
      return 0.2 * swells * (Math.sin(2 * Math.PI * tone * t) + 0.4 * Math.sin(4 * Math.PI * tone * t));
    });
  });
  return out;
}

const near = (lags: number[] | undefined, wanted: (n: number) => number) =>
  lags!.forEach((lag, n) => expect(Math.abs(lag - wanted(n))).toBeLessThan(2));

describe('hearClicks', () => {
  it('finds how long clicks were under way, soft ones too, while somebody plays over them', () => {
    const clicks = sent(24);
    for (const loud of [0.3, 0.03]) {
      const heard = hearClicks(room({ clicks, lag: () => 93.4, loud, strays: 12 }), clicks);
      near(heard?.lagsMs, () => 93.4);
      expect(heard!.stumbles).toEqual([]);
    }
  });

  it('needs no more than a count-in', () => {
    const clicks = sent(4);
    near(hearClicks(room({ clicks, lag: () => 212, loud: 0.1 }), clicks)?.lagsMs, () => 212);
    expect(hearClicks(room({ clicks: sent(3), lag: () => 50, loud: 0.1 }), sent(3))).toBeNull();
  });

  it('tells where the card stumbled, and by how much', () => {
    const clicks = sent(30);
    const lag = (n: number) => (n < 13 ? 40 : 84);
    const heard = hearClicks(room({ clicks, lag, loud: 0.1, strays: 12 }), clicks);
    const [stumble, ...others] = heard!.stumbles;
    expect(others).toEqual([]);
    expect(Math.abs(stumble!.byMs - 44)).toBeLessThan(1);
    // It lies between clicks that were heard; those around it may hide under notes.
    const [before, after] = [clicks[12]!.atMs + 40, clicks[13]!.atMs + 84];
    expect(stumble!.fromMs).toBeLessThan(before + 2);
    expect(stumble!.toMs).toBeGreaterThan(after - 2);
    expect(stumble!.toMs - stumble!.fromMs).toBeLessThan(3.2 * STEP_MS);
    const isKnown = ({ atMs }: SentClick) => atMs < stumble!.fromMs || atMs > stumble!.toMs;
    near(
      heard!.lagsMs.filter((_lag, n) => isKnown(clicks[n]!)),
      n => lag(clicks.map((_c, i) => i).filter(i => isKnown(clicks[i]!))[n]!),
    );
  });

  it('does not take somebody who plays along for a metronome', () => {
    const clicks = sent(40);
    for (const strays of [8, 20])
      expect(hearClicks(room({ clicks, lag: () => 0, loud: 0, strays }), clicks)).toBeNull();
  });
});
