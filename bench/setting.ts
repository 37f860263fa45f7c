/** What setting costs: finding the gaps of a long track, and reckoning a long strip anew at each step of a drag. */
import { envelopeOf, soundStretches } from '@ecoute/core/audio/gaps';
import { PeakMeter, type Peaks } from '@ecoute/core/audio/peaks';
import { stripOf, type TimedItem } from '@ecoute/core/timing/strip';

const RATE = 16_000;

/** Ten minutes of sounds of three seconds with silences of two, in a room that is not quite still. */
export function longTrack(minutes: number): Peaks {
  const meter = new PeakMeter(RATE);
  let state = 1;
  const piece = new Float32Array(RATE);
  for (let second = 0; second < minutes * 60; second++) {
    const loud = second % 5 < 3 ? 0.5 : 0.01;
    for (let i = 0; i < RATE; i++) {
      state = (Math.imul(state, 1_103_515_245) + 12_345) >>> 0;
      piece[i] = loud * (state / 2 ** 31 - 1);
    }
    meter.push(piece);
  }
  return meter.finish().peaks;
}

/** An assessment of `n` spoken items. */
export function longStrip(n: number): TimedItem[] {
  return Array.from({ length: n }, (_, i) => ({
    id: String(i),
    promptText: 'Say what you see on the quay this morning.',
    promptDurationMs: 4_000,
    prepareMs: 15_000,
    answerLimitMs: 45_000 + i * 1_000,
    answerBy: 'audio' as const,
    isConversation: false,
    turns: [],
  }));
}

/** Median and extremes of the time that a function takes, in ms. */
export function timed(runs: number, work: () => unknown): { median: number; least: number; most: number } {
  const times = Array.from({ length: runs }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  }).sort((a, b) => a - b);
  return { median: times[runs >> 1]!, least: times[0]!, most: times.at(-1)! };
}

export function settingInNode(): {
  name: string;
  median: number;
  least: number;
  most: number;
  budgetMs: number;
}[] {
  const track = longTrack(10);
  const items = longStrip(60);
  const gaps = () => soundStretches(envelopeOf(track), 10, { shortestGapMs: 1_500 });
  if (gaps().length !== 120) throw new Error(`The track has 120 sounds, ${gaps().length} were found.`);
  return [
    { name: 'gaps of a 10-minute track', ...timed(15, gaps), budgetMs: 1_000 },
    { name: 'strip of 60 items, laid out anew', ...timed(200, () => stripOf(items)), budgetMs: 16 },
  ];
}
