/** When each moment of a path began, to a few hundredths of a second: by what rises in its own half tones, and over all bands. */
import { BAND_HOP_SEC, type BandLevels } from '../audio/bands';
import { expectedTones } from './heardTones';
import type { ScoreEvent } from './scoreEvents';
import { SEMITONE_HOP_SEC, SEMITONES, type SemitoneLevels } from './semitones';

/** It is looked for so long before where the path has it, and after: a rise is seen when it is over. */
const BEFORE_SEC = 0.16;
const AFTER_SEC = 0.06;
/** Where it usually lies beside the path's place, and from how far off it is worth a little less. */
const USUAL_SEC = -0.05;
const FAR_SEC = 0.12;
const FAR_COST = 0.15;
/** What rises over all bands, beside what rises in its own tones. */
const ALL_SHARE = 0.7;
/** A rise over all bands that is less is none. dB */
const LEAST_RISE_DB = 0.5;
const STEPS = Math.round(SEMITONE_HOP_SEC / BAND_HOP_SEC);

/**
 * @param roughSec where the path has it
 * @returns the moment near it at which its notes come most
 */
export function beginningOf(
  levels: SemitoneLevels,
  bands: BandLevels,
  event: ScoreEvent,
  roughSec: number,
): number {
  const first = Math.max(1, Math.round((roughSec - BEFORE_SEC) / SEMITONE_HOP_SEC));
  const last = Math.min(levels.count - 2, Math.round((roughSec + AFTER_SEC) / SEMITONE_HOP_SEC));
  if (last <= first) return roughSec;
  const tones = expectedTones(event.begins);
  // Not in decibels: by those a long window rises as soon as it touches a note.
  const loudness = (frame: number, tone: number) => 10 ** (levels.db(frame, tone) / 40);
  const own = Float64Array.from({ length: last - first + 1 }, (_, k) => {
    let sum = 0;
    for (let s = 0; s < SEMITONES; s++)
      if (tones[s]! > 0)
        sum += tones[s]! * Math.max(0, loudness(first + k + 1, s) - loudness(first + k - 1, s));
    return sum;
  });
  const mostOwn = Math.max(...own) || 1;
  const rise = (hop: number) => bands.rise[hop] ?? 0;
  let mostRise = LEAST_RISE_DB;
  for (let hop = first * STEPS; hop <= last * STEPS; hop++) mostRise = Math.max(mostRise, rise(hop));
  let at = roughSec;
  let most = -Infinity;
  for (let hop = first * STEPS; hop <= last * STEPS; hop++) {
    const place = hop / STEPS - first;
    const k = Math.min(own.length - 2, Math.floor(place));
    const ownHere = own[k]! + (own[k + 1]! - own[k]!) * (place - k);
    const allHere = rise(hop) / 2 + (rise(hop - 1) + rise(hop + 1)) / 4;
    const off = (hop * BAND_HOP_SEC - roughSec - USUAL_SEC) / FAR_SEC;
    const worth = (ownHere / mostOwn + (ALL_SHARE * allHere) / mostRise) * (1 - FAR_COST * off * off);
    if (worth > most) [most, at] = [worth, hop * BAND_HOP_SEC];
  }
  return at;
}
