/**
 * Where things lie in a take. The recorder lets the microphone through a gate that opens at a known moment of the
 * audio clock; before it there is digital silence, so the moment is found again in the file to the sample
 * (`core/audio/gate`). Whatever sounds on the same clock (a conversation's turns, a backing track, the beat) is
 * known by its distance from the gate, and by the time that sound takes from the loudspeaker's queue to the
 * microphone's.
 */

/** The beat that ran along with a take. */
export interface Beat {
  /** Quarter notes a minute, or whatever the beat is. */
  bpm: number;
  /** Beats in a bar. */
  beats: number;
  /** Beats counted before the answer begins. */
  countIn: number;
}

/** What the recorder knows of a take when it begins. Distances in ms from the opening of the gate. */
export interface TakeClock {
  /** False for what was recorded without a gate, or came as a file. */
  gated: boolean;
  /** The first sample of what sounds along; null where nothing does. */
  soundFromMs: number | null;
  /** The answer's window begins here: 0, or after a count-in. */
  answerFromMs: number;
  /** From sending a sound out to finding it in the recording. */
  loopMs: number;
  /** The loop was measured in the device check; else it is what the browser says of its queues. */
  loopMeasured: boolean;
  /** The first beat of the count-in lies at `soundFromMs`. */
  beat: Beat | null;
}

/** A take's place in time, as the server keeps it. */
export interface PlacedTake {
  clock: TakeClock | null;
  /** Where the gate opens in the file, in ms; null where none was found. */
  gateMs: number | null;
}

/** Milliseconds between two beats. */
export function beatMs({ bpm }: Pick<Beat, 'bpm'>): number {
  return 60_000 / bpm;
}

/** How long a count-in lasts. */
export function countInMs(beat: Beat | null): number {
  return beat ? beat.countIn * beatMs(beat) : 0;
}

/** Where the answer's window begins in the file, in ms. */
export function answerFromMs({ clock, gateMs }: PlacedTake): number {
  if (!clock) return 0;
  // With a beat the window begins as the player hears it: later by the way through the air and the queues.
  return (gateMs ?? 0) + clock.answerFromMs + (clock.soundFromMs === null ? 0 : clock.loopMs);
}

/**
 * Where in the file a moment lies of what sounded along, as it was heard.
 * @param atMs from the first sample of what sounded
 * @param fallbackMs where it began in takes that have no clock
 */
export function heardAtMs({ clock, gateMs }: PlacedTake, atMs: number, fallbackMs = 0): number {
  if (!clock || clock.soundFromMs === null) return fallbackMs + atMs;
  return (gateMs ?? 0) + clock.soundFromMs + clock.loopMs + atMs;
}

/**
 * The beats that fall into a stretch of the file.
 * @returns place of each in ms, and whether it is the first of its bar; beats of the count-in have negative numbers
 */
export function beatsIn(
  take: PlacedTake,
  fromMs: number,
  toMs: number,
): { atMs: number; number: number; isFirst: boolean }[] {
  const beat = take.clock?.beat;
  if (!beat) return [];
  const step = beatMs(beat);
  const zero = heardAtMs(take, 0);
  const first = Math.max(0, Math.ceil((fromMs - zero) / step - 1e-9));
  const found = [];
  for (let n = first; zero + n * step <= toMs; n++) {
    const number = n - beat.countIn;
    found.push({
      atMs: zero + n * step,
      number,
      isFirst: ((number % beat.beats) + beat.beats) % beat.beats === 0,
    });
  }
  return found;
}

/** The same as they were sent out: how long a sound is under way is left out. */
export function sentBeats({ clock, gateMs }: PlacedTake, toMs: number): ReturnType<typeof beatsIn> {
  return beatsIn({ clock: clock && { ...clock, loopMs: 0 }, gateMs }, 0, toMs);
}

/** Why nothing is said against the beat that ran along with a take, or with its later part. */
export type BeatUnknown =
  /** Nobody knows how long a sound is under way on that device. */
  | 'loopNotMeasured'
  /** A pause: what the recorder let in or left out at it is not known to the hundredth of a second. */
  | 'paused';

/**
 * The beats that something may be said against: those whose place is known to 15 ms.
 * @param pausedAtMs when the recording was first paused, in ms of the answer; null where it was not
 * @returns places in the file, in ms
 */
export function knownBeats(
  take: PlacedTake,
  durationMs: number,
  pausedAtMs: number | null,
): { atMs: number[]; unknown: BeatUnknown | null } {
  if (!take.clock?.beat) return { atMs: [], unknown: null };
  if (!take.clock.loopMeasured) return { atMs: [], unknown: 'loopNotMeasured' };
  const endMs = pausedAtMs === null ? durationMs : Math.min(durationMs, answerFromMs(take) + pausedAtMs);
  return {
    atMs: beatsIn(take, 0, endMs).map(b => b.atMs),
    unknown: pausedAtMs === null ? null : 'paused',
  };
}
