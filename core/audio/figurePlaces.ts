/** Where in a recording a figure can be heard best: the longest pause, the note that is furthest off, the bar that was begun again. */
import type { Stretch } from './activity';
import type { Evidence, Figure } from './evidence';

/** Heard from so long before, so that the ear has something to compare with. Seconds. */
const LEAD_SEC = 1;
const NOTE_LEAD_SEC = 0.5;

const furthest = <T>(list: readonly T[], size: (of: T) => number): T | null =>
  list.reduce<T | null>((best, one) => (best === null || size(one) > size(best) ? one : best), null);
const length = ({ startSec, endSec }: Stretch) => endSec - startSec;
const before = (sec: number | undefined | null, lead = NOTE_LEAD_SEC) =>
  sec === undefined || sec === null ? null : Math.max(0, sec - lead);

/** Speech from one pause to the next. */
function runsIn({ fromSec, durationSec, speech, pauses }: Evidence): Stretch[] {
  const begins = fromSec + (speech?.initialSilenceSec ?? 0);
  const starts = [begins, ...pauses.map(p => p.endSec)];
  return starts.map((startSec, i) => ({ startSec, endSec: pauses[i]?.startSec ?? durationSec }));
}

/** A note of the target that was not played lies behind the last one that was. */
function firstMissed({ target }: Evidence): number | null {
  const heard = target?.followed
    ? target.followed.events.map(e => e.startSec)
    : (target?.notes ?? []).map(n => n.startSec);
  const missed = heard.indexOf(null);
  if (missed < 0) return null;
  return heard.slice(0, missed).findLast(sec => sec !== null) ?? heard.find(sec => sec !== null) ?? null;
}

function highest({ pitch }: Evidence): number | null {
  const at = pitch.cents.reduce((best, c, i) => (c > pitch.cents[best]! ? i : best), 0);
  return pitch.cents[at] ? pitch.fromSec + at * pitch.hopSec : null;
}

/** Where the tempo is furthest from the whole's. */
function mostUneven({ target }: Evidence): number | null {
  const whole = target?.bpm;
  if (!whole) return null;
  return furthest(target.tempoCurve, p => Math.abs(Math.log(p.bpm / whole)))?.atSec ?? null;
}

function offMost(
  notes: readonly { startSec: number | null }[],
  size: (index: number) => number | null,
): number | null {
  const known = notes.flatMap((n, i) => {
    const off = size(i);
    return n.startSec === null || off === null ? [] : [{ sec: n.startSec, off: Math.abs(off) }];
  });
  return furthest(known, k => k.off)?.sec ?? null;
}

/** The first sound of the answer. */
function beginning({ fromSec, speech, notes, target }: Evidence): number {
  const first =
    notes?.[0]?.startSec ??
    target?.tempoCurve[0]?.atSec ??
    target?.notes.find(n => n.startSec !== null)?.startSec;
  return first ?? fromSec + (speech?.initialSilenceSec ?? 0);
}

/**
 * From where to play a recording to hear what a figure says.
 * @returns seconds of the recording; null where no place shows it
 */
export function placeOf(figure: Figure, evidence: Evidence): number | null {
  const { fromSec, pauses, reading, target, notes, beats, durationSec, turns } = evidence;
  switch (figure) {
    case 'initialSilenceSec':
    case 'latencySec':
      return turns ? null : fromSec;
    case 'articulationRate':
    case 'speechRate':
    case 'meanRunSec':
    case 'speakingSec':
      return turns ? null : (furthest(runsIn(evidence), length)?.startSec ?? null);
    case 'wordsPerMinute':
      return before(reading?.spanSec?.[0], 0);
    case 'pauseCount':
    case 'longestPauseSec':
      return before(furthest(pauses, length)?.startSec, LEAD_SEC);
    case 'sentencePauses':
      return before(reading?.pauses.find(p => p.place === 'sentence')?.startSec, LEAD_SEC);
    case 'insidePauses':
      return before(
        furthest(reading?.pauses.filter(p => p.place === 'inside') ?? [], length)?.startSec,
        LEAD_SEC,
      );
    case 'rangeSemitones':
      return before(highest(evidence), LEAD_SEC);
    case 'playedPercent':
      return before(firstMissed(evidence));
    case 'restarts':
      return before(target?.followed?.restarts[0]?.stoppedSec, 2 * LEAD_SEC);
    case 'waits':
      return before(furthest(target?.followed?.waits ?? [], w => w.lateSec)?.atSec, 2 * LEAD_SEC);
    case 'offCents':
      return before(
        target
          ? offMost(target.notes, i => target.notes[i]!.centsOff)
          : offMost(notes ?? [], i => notes![i]!.cents),
      );
    case 'offMs':
      return before(
        offMost(target?.notes ?? [], i => target!.notes[i]!.onsetOffSec),
        LEAD_SEC,
      );
    case 'beatMs':
      return before(furthest(beats ?? [], b => Math.abs(b.offSec))?.atSec, LEAD_SEC);
    case 'driftPercent':
      return before(target?.tempoCurve[Math.floor(0.75 * target.tempoCurve.length)]?.atSec ?? null);
    case 'steadyPercent':
      return before(mostUneven(evidence), LEAD_SEC);
    case 'tuningCents':
    case 'noteCount':
    case 'bpm':
      return before(Math.min(beginning(evidence), durationSec));
    case 'extraNotes':
      return null;
  }
}
