import {
  beatOf,
  CLICK_HZ,
  CLICK_SEC,
  FIRST_CLICK_HZ,
  hzOf,
  layoutOf,
  STARTING_NOTE_MS,
  type Layout,
} from '@ecoute/core/timing/accompaniment';
import { beatMs, type Beat } from '@ecoute/core/timing/takeClock';
import type { ItemMusic } from '@ecoute/contract/music';
import { loadSound } from './run';

/** The beat is scheduled this far ahead: a page in the background is woken once a second. */
const AHEAD_SEC = 3;
const LOOK_EVERY_MS = 500;

/** What sounds along with a take. */
export interface Accompanist {
  layout: Layout;
  /** Length of what sounds before the gate (the starting note), in seconds. */
  beforeSec: number;
  /** Lets the starting note sound. @param sec of the context */
  giveNote(sec: number): void;
  /** Schedules all that sounds along. @param gateSec when the recorder's gate opens, in seconds of the context */
  begin(gateSec: number, lengthMs: number): void;
  /** Ms since the first beat; null where there is none, or before it. */
  beatPositionMs(): number | null;
  stop(): void;
}

/** A tone that neither clicks nor shouts: a few soft partials. */
export function tone(
  context: AudioContext,
  midi: number,
  fromSec: number,
  lengthSec: number,
  loud = 0.16,
): () => void {
  const gain = context.createGain();
  const fade = 0.03;
  gain.gain.setValueAtTime(0, fromSec);
  gain.gain.linearRampToValueAtTime(loud, fromSec + fade);
  gain.gain.setValueAtTime(loud, Math.max(fromSec + fade, fromSec + lengthSec - fade));
  gain.gain.linearRampToValueAtTime(0, fromSec + lengthSec);
  const source = context.createOscillator();
  source.setPeriodicWave(context.createPeriodicWave([0, 0, 0, 0, 0], [0, 1, 0.35, 0.18, 0.08]));
  source.frequency.value = hzOf(midi);
  source.connect(gain).connect(context.destination);
  source.start(fromSec);
  source.stop(fromSec + lengthSec);
  return () => {
    gain.disconnect();
    source.disconnect();
  };
}

/** One click of a metronome: high on the first beat of a bar. */
function click(context: AudioContext, sec: number, isFirst: boolean): AudioScheduledSourceNode {
  const source = context.createOscillator();
  const gain = context.createGain();
  source.frequency.value = isFirst ? FIRST_CLICK_HZ : CLICK_HZ;
  gain.gain.setValueAtTime(isFirst ? 0.5 : 0.3, sec);
  gain.gain.exponentialRampToValueAtTime(0.001, sec + CLICK_SEC);
  source.connect(gain).connect(context.destination);
  source.start(sec);
  source.stop(sec + CLICK_SEC);
  return source;
}

/** Schedules clicks a little ahead, each at its own place on the clock, so that none inherits another's rounding. */
function keepBeat(context: AudioContext, beat: Beat, fromSec: number, untilSec: number): () => void {
  const step = beatMs(beat) / 1000;
  let next = 0;
  const pending = new Set<AudioScheduledSourceNode>();
  const look = () => {
    while (fromSec + next * step < Math.min(untilSec, context.currentTime + AHEAD_SEC)) {
      const inBar = (((next - beat.countIn) % beat.beats) + beat.beats) % beat.beats;
      const sounding = click(context, fromSec + next * step, inBar === 0);
      pending.add(sounding);
      sounding.onended = () => pending.delete(sounding);
      next += 1;
    }
  };
  look();
  const timer = setInterval(look, LOOK_EVERY_MS);
  return () => {
    clearInterval(timer);
    pending.forEach(s => s.disconnect());
  };
}

/**
 * Makes ready what sounds along with an item's answer; what has to be fetched is fetched now.
 * @throws Error in words when the backing track cannot be had
 */
export async function accompanist(context: AudioContext, music: ItemMusic): Promise<Accompanist> {
  const backing = music.backing && (await loadSound(context, music.backing.recordingId));
  const { metronome, drone, startingNote } = music;
  const layout = layoutOf({ metronome, drone, startingNote, backingMs: music.backing?.durationMs ?? null });
  let firstBeatSec: number | null = null;
  const ends: (() => void)[] = [];
  return {
    layout,
    beforeSec: startingNote === null ? 0 : STARTING_NOTE_MS / 1000,
    giveNote(sec) {
      if (startingNote !== null) tone(context, startingNote, sec, STARTING_NOTE_MS / 1000 - 0.2);
    },
    begin(gateSec, lengthMs) {
      const soundSec = gateSec + (layout.soundFromMs ?? 0) / 1000;
      const answerSec = gateSec + layout.answerFromMs / 1000;
      const endSec = answerSec + lengthMs / 1000;
      const beat = beatOf(metronome);
      if (beat) {
        firstBeatSec = soundSec;
        ends.push(keepBeat(context, beat, soundSec, metronome!.heard ? endSec : answerSec - 0.001));
      }
      if (drone !== null) ends.push(tone(context, drone, soundSec, endSec - soundSec, 0.1));
      if (backing && layout.backingFromMs !== null) {
        const source = context.createBufferSource();
        source.buffer = backing;
        source.connect(context.destination);
        source.start(gateSec + layout.backingFromMs / 1000, 0, lengthMs / 1000);
        ends.push(() => source.disconnect());
      }
    },
    beatPositionMs() {
      if (firstBeatSec === null) return null;
      // What is heard now was sent out a little earlier.
      const ms = (context.currentTime - (context.outputLatency || 0) - firstBeatSec) * 1000;
      return ms < 0 ? null : ms;
    },
    stop() {
      ends.splice(0).forEach(end => end());
      firstBeatSec = null;
    },
  };
}
