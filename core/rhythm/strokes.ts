/** Strokes of what has no pitch (hands, a drum, syllables spoken in rhythm): when each was, and how strong. */
import { BAND_HOP_SEC, type BandLevels } from '../audio/bands';
import { rises } from '../audio/notes';
import { percentile } from '../audio/ranks';

export interface Stroke {
  sec: number;
  /** How much rose with it, in dB as a mean over narrow bands. */
  riseDb: number;
  /** How loud it was at most. dBFS */
  mostDb: number;
}

/** A stroke is at its loudest within so long. */
const LOUDEST_SEC = 0.08;
/** Two beginnings so near each other are one stroke: a consonant and its vowel, two hands that are not quite together. */
const ONE_STROKE_SEC = 0.07;

/** A stroke is louder than the room by this, which is as soft as a tenth of the time is. */
const ABOVE_ROOM_DB = 6;
const ROOM_SHARE = 0.1;
/** After a stroke its echo is softer by this, and by so much more each second: what is no louder is the echo. */
const ECHO_DB = 4;
const ECHO_DB_PER_SEC = 60;
const ECHO_SEC = 0.25;
/** And rises less by this part. */
const ECHO_RISE = 0.75;

/** @returns in order of time */
export function strokesOf(bands: BandLevels): Stroke[] {
  const strokes: Stroke[] = [];
  const most = (fromSec: number, toSec: number) => {
    const from = Math.max(0, Math.round(fromSec / BAND_HOP_SEC));
    return bands.total
      .subarray(from, Math.round(toSec / BAND_HOP_SEC) + 1)
      .reduce((a, b) => Math.max(a, b), -120);
  };
  const room = percentile(bands.total, ROOM_SHARE);
  for (const { sec, db } of rises(bands)) {
    const mostDb = most(sec, sec + LOUDEST_SEC);
    if (mostDb < room + ABOVE_ROOM_DB) continue;
    const last = strokes.at(-1);
    const afterSec = last ? sec - last.sec : Infinity;
    if (last && afterSec < ONE_STROKE_SEC) {
      last.mostDb = Math.max(last.mostDb, mostDb);
      // The stronger of the two says when.
      if (db > 2 * last.riseDb) [last.sec, last.riseDb] = [sec, db];
      continue;
    }
    const isEcho =
      last &&
      afterSec < ECHO_SEC &&
      db < ECHO_RISE * last.riseDb &&
      mostDb < last.mostDb - ECHO_DB - ECHO_DB_PER_SEC * afterSec;
    if (!isEcho) strokes.push({ sec, riseDb: db, mostDb });
  }
  return strokes;
}
