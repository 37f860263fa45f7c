/** What it costs that a moment of a score sounds at some time, and what it is worth that it begins there. */
import { centred, expectedTones, folded, product, type HeardTones } from './heardTones';
import type { ScoreEvent } from './scoreEvents';
import { SEMITONES } from './semitones';

export interface EventCosts {
  /** Of each event, which kind it is: those of one kind sound the same. */
  kindOf: Uint16Array;
  kinds: number;
  /** For each frame and kind, how unlike what is heard is to what is written, 0…1. */
  unlike: Float32Array;
  /** For each frame and kind, how much speaks for its beginning there, from 0 to `ANY_ONSET` and `OWN_ONSET` together. */
  onset: Float32Array;
}

/** Silence in which something should sound: notes end early, and die away. */
const SILENT_COST = 0.42;
/** Something begins there; and it is what should. */
const ANY_ONSET = 1.5;
const OWN_ONSET = 4;

/** Rises over all half tones: less is nothing, more is as much as can be. */
const LEAST_RISE = 0.2;
const WHOLE_RISE = 1.5;

export function eventCosts(heard: HeardTones, events: readonly ScoreEvent[]): EventCosts {
  const { count, tones, rises, sounds } = heard;
  const byKey = new Map<string, number>();
  const samples: ScoreEvent[] = [];
  const kindOf = Uint16Array.from(events, event => {
    const key = `${event.begins.join()}|${event.holds.join()}`;
    const known = byKey.get(key);
    if (known !== undefined) return known;
    byKey.set(key, samples.length);
    return samples.push(event) - 1;
  });
  const kinds = samples.length;
  const written = samples.map(e => expectedTones(e.begins, e.holds));
  const [whole, octave] = [written.map(centred), written.map(w => centred(folded(w)))];
  const beginning = samples.map(e => {
    const own = expectedTones(e.begins);
    const length = Math.hypot(...own) || 1;
    return own.map(x => x / length);
  });
  const unlike = new Float32Array(count * kinds).fill(SILENT_COST);
  const onset = new Float32Array(count * kinds);
  for (let t = 0; t < count; t++) {
    const frame = tones.subarray(t * SEMITONES, (t + 1) * SEMITONES);
    const risen = rises.subarray(t * SEMITONES, (t + 1) * SEMITONES);
    const rise = Math.hypot(...risen);
    const strength = rise < LEAST_RISE ? 0 : Math.min(1, rise / WHOLE_RISE);
    const [own, ownOctave] = [centred(frame), centred(folded(frame))];
    for (let k = 0; k < kinds; k++) {
      const i = t * kinds + k;
      if (sounds[t]) {
        const alike = (product(own, whole[k]!) + product(ownOctave, octave[k]!)) / 2;
        unlike[i] = 1 - Math.max(0, alike);
      }
      if (strength > 0)
        onset[i] = strength * (ANY_ONSET + (OWN_ONSET * product(risen, beginning[k]!)) / rise);
    }
  }
  return { kindOf, kinds, unlike, onset };
}
