/**
 * Where somebody sounds, their syllables and their pitch, of recordings of any length in the memory of ten minutes: once there
 * is as much as that, what is found in the earlier part of it is settled, and its levels are forgotten. What is settled is learnt
 * from at least as much sound after it; a shorter recording is looked at as a whole.
 */
import { PAUSE_SEC, RANGE_DB, pitchedStretches, soundingStretches, type Stretch } from './activity';
import { BAND_HOP_SEC, type BandLevels, type BandMeter } from './bands';
import { HOP_SEC, type Pitch, type PitchTracker } from './pitch';
import { percentile } from './ranks';
import { Series } from './series';
import { syllableNuclei } from './syllables';

/** With so much sound the earlier part is settled. */
export const SECTION_SEC = 600;
/** It ends in the longest pause between these shares of them, or halfway where there is none. */
const EARLIEST = 0.3;
const LATEST = 0.5;
/** Hops of the bands in a hop of the pitch. */
const PER_PITCH = Math.round(HOP_SEC / BAND_HOP_SEC);
/** Softer than this beside the loud moments, a pitch between stretches of sound is the hum of a room. */
const PITCH_RANGE_DB = 25;

/** Times in seconds from the first sample. */
interface Found {
  /** With their highest level. dBFS */
  stretches: (Stretch & { topDb: number })[];
  /** Middles of the syllables; none where it is not heard as speech. */
  nuclei: number[];
}

export interface Heard extends Pick<Found, 'nuclei'> {
  stretches: Stretch[];
  /** Hops of the pitch at which something sounds. */
  sounding: number;
  /** 0 Hz where nothing does. */
  pitch: Pitch;
}

export class Sections {
  private readonly found: Found = { stretches: [], nuclei: [] };
  /** Tones that never stop, which stand out of nothing: what is heard where nothing else is, in no section. */
  private readonly tones: Found = { stretches: [], nuclei: [] };
  /** Hops of the pitch in which nothing else was heard. */
  private readonly toneHops: [number, number][] = [];
  private sounding = 0;
  /** What the softer parts are held against: of the loudest section. dBFS */
  private loudDb = -Infinity;
  /** Hops of the bands that were settled. */
  private settled = 0;
  /** Of what was settled. */
  private readonly hz: Series<Float32Array>;
  private readonly confidence: Series<Float32Array>;

  /** @param roomSec how long the recording is at most, about */
  constructor(roomSec: number) {
    this.hz = Series.floats(Math.ceil(roomSec / HOP_SEC));
    this.confidence = Series.floats(Math.ceil(roomSec / HOP_SEC));
  }

  /** Settles the earlier part of the speech that is kept, and has it forgotten. */
  pass(meter: BandMeter, tracker: PitchTracker): void {
    const bands = meter.soFar();
    const stretches = soundingStretches(bands);
    const end = endOf(stretches, bands.count);
    const pitch = tracker.soFar(end / PER_PITCH);
    this.settle(bands, pitch, stretches, end, true);
    this.keep(pitch);
    meter.forget(end);
    tracker.forget(end / PER_PITCH);
    this.settled += end;
  }

  /**
   * Settles the rest, and hands out all.
   * @param bands,pitch what is kept of it; the pitch is changed
   * @param isSpeech whether syllables are wanted
   */
  finish(bands: BandLevels, pitch: Pitch, isSpeech: boolean): Heard {
    this.settle(bands, pitch, soundingStretches(bands), bands.count, isSpeech);
    const whole = this.settled === 0 ? pitch : this.together(pitch);
    const isFound = this.found.stretches.length > 0;
    if (isFound) for (const [from, to] of this.toneHops) whole.hz.fill(0, from, to);
    const { stretches, nuclei } = isFound ? this.withoutSoft(whole) : this.tones;
    return {
      stretches: stretches.map(({ startSec, endSec }) => ({ startSec, endSec })),
      nuclei,
      sounding: this.sounding,
      pitch: whole,
    };
  }

  /** What sounds in a section in which nobody speaks, as a chair does, and is far softer than the speech of another. */
  private withoutSoft({ hz }: Pitch): Found {
    const { stretches, nuclei } = this.found;
    const isSoft = (s: Found['stretches'][number]) => s.topDb < this.loudDb - RANGE_DB;
    const soft = stretches.filter(isSoft);
    for (const s of soft) hz.fill(0, Math.floor(s.startSec / HOP_SEC), Math.ceil(s.endSec / HOP_SEC) + 1);
    return {
      stretches: stretches.filter(s => !isSoft(s)),
      nuclei: nuclei.filter(sec => !soft.some(s => sec >= s.startSec && sec <= s.endSec)),
    };
  }

  private keep({ hz, confidence }: Pitch): void {
    for (const f of hz) this.hz.push(f);
    for (const sure of confidence) this.confidence.push(sure);
  }

  private together(last: Pitch): Pitch {
    this.keep(last);
    return { ...last, hz: this.hz.take(), confidence: this.confidence.take() };
  }

  /** @param stretches of all that is kept, of which what lies before `end` is settled: a hop of the bands */
  private settle(
    bands: BandLevels,
    pitch: Pitch,
    stretches: Stretch[],
    end: number,
    isSpeech: boolean,
  ): void {
    const endSec = end * BAND_HOP_SEC;
    const tones = stretches.length > 0 ? null : pitchedStretches(pitch, endSec);
    const all = tones ?? stretches;
    const own = all.flatMap(s => (s.startSec < endSec ? { ...s, endSec: Math.min(s.endSec, endSec) } : []));
    const loudDb = percentile(bands.total, 0.95);
    this.loudDb = Math.max(this.loudDb, loudDb);
    const isSounding = soundingHops(all, bands, pitch, loudDb - PITCH_RANGE_DB);
    this.sounding += isSounding.reduce((n, hop) => n + hop, 0);
    pitch.hz.forEach((_, i) => {
      if (!isSounding[i]) pitch.hz[i] = 0;
    });
    const before = this.settled * BAND_HOP_SEC;
    if (tones) this.toneHops.push([this.settled / PER_PITCH, this.settled / PER_PITCH + pitch.hz.length]);
    const into = tones ? this.tones : this.found;
    for (const { startSec, endSec: until } of own) {
      const topDb = bands.total
        .subarray(hopOf(startSec), hopOf(until) + 1)
        .reduce((a, b) => Math.max(a, b), -120);
      const last = into.stretches.at(-1);
      // What was cut where there is no pause is one.
      if (last && last.endSec <= before && before + startSec - last.endSec < PAUSE_SEC) {
        last.endSec = before + until;
        last.topDb = Math.max(last.topDb, topDb);
      } else into.stretches.push({ startSec: before + startSec, endSec: before + until, topDb });
    }
    if (isSpeech) for (const sec of syllableNuclei(bands, pitch, own)) into.nuclei.push(before + sec);
  }
}

/** Where the earlier part ends: a hop of the bands, and of the pitch. */
function endOf(stretches: readonly Stretch[], count: number): number {
  const [from, to] = [EARLIEST, LATEST].map(share => share * count * BAND_HOP_SEC) as [number, number];
  const pauses = [0, ...stretches.map(s => s.endSec)].map((startSec, i) => ({
    startSec: Math.max(from, startSec),
    endSec: Math.min(to, stretches[i]?.startSec ?? to),
  }));
  let longest = { startSec: to, endSec: to };
  for (const p of pauses) if (p.endSec - p.startSec > longest.endSec - longest.startSec) longest = p;
  return PER_PITCH * Math.floor((longest.startSec + longest.endSec) / (2 * HOP_SEC));
}

const hopOf = (sec: number) => Math.round(sec / BAND_HOP_SEC);

/** 1 for each hop of the pitch at which something sounds, or that is louder than `leastDb`: not much softer than what does. */
function soundingHops(
  stretches: readonly Stretch[],
  { total }: BandLevels,
  { hz, hopSec }: Pitch,
  leastDb: number,
): Uint8Array {
  const out = new Uint8Array(hz.length);
  for (const { startSec, endSec } of stretches)
    out.fill(1, Math.max(0, Math.round(startSec / hopSec) - 1), Math.round(endSec / hopSec) + 2);
  if (stretches.length > 0)
    for (let i = 0; i < hz.length; i++)
      if ((total[Math.round((i * hopSec) / BAND_HOP_SEC)] ?? -120) > leastDb) out[i] = 1;
  return out;
}
