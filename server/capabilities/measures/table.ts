/** Measures as a table to read, and as JSON without digits that mean nothing. */
import { noteName } from '@ecoute/core/formats/musicXml';
import type { BesideModel } from '@ecoute/core/audio/besideModel';
import type { MeasuredTarget } from '@ecoute/core/audio/besideScore';
import type { Measures } from '@ecoute/core/audio/measure';
import type { Followed } from '@ecoute/core/polyphony/followed';

/** Decimals that are kept; a tenth of a millisecond and a hundredth of a cent are less than can be measured. */
const DECIMALS = 4;

/** Stands where a row of numbers goes; a character that no text has. */
const ROW = '\u{F0000}';
const ROW_PIECE = 512;

/** The same digits as `rounded`: what a number's own text is, is kept by the engine for a while, and an hour has a million. */
function digits(n: number): string {
  if (!Number.isFinite(n)) return 'null';
  const text = n.toFixed(DECIMALS);
  let end = text.length;
  while (text[end - 1] === '0') end -= 1;
  if (text[end - 1] === '.') end -= 1;
  const short = text.slice(0, end);
  return short === '-0' ? '0' : short;
}

const rounded = (n: number) => (Number.isFinite(n) ? Number(n.toFixed(DECIMALS)) : null);

/** One JSON object in pieces, so that the rows of an hour are never all text at once; what is not finite is null. */
export function* jsonPieces(measures: object): Generator<string, void> {
  const rows: Float32Array[] = [];
  const text = JSON.stringify(measures, (_, value: unknown) => {
    if (value instanceof Float32Array) rows.push(value);
    return value instanceof Float32Array ? ROW : typeof value === 'number' ? rounded(value) : value;
  });
  for (const [i, part] of text.split(`"${ROW}"`).entries()) {
    if (i > 0) yield* rowPieces(rows[i - 1]!);
    yield part;
  }
}

function* rowPieces(row: Float32Array): Generator<string, void> {
  yield '[';
  for (let at = 0; at < row.length; at += ROW_PIECE) {
    const piece = Array.from(row.subarray(at, at + ROW_PIECE), digits);
    yield `${at > 0 ? ',' : ''}${piece.join(',')}`;
  }
  yield ']';
}

export const jsonOf = (measures: object): string => [...jsonPieces(measures)].join('');

const sec = (n: number | null) => (n === null ? '–' : `${n.toFixed(2)} s`);
const db = (n: number | null, unit = 'dBFS') => (n === null ? '–' : `${n.toFixed(1)} ${unit}`);
const rate = (n: number | null) => (n === null ? '–' : `${n.toFixed(2)} a second`);

/** Lines for somebody who reads them in a terminal. */
export function tableOf(m: Measures): string {
  const rows: [string, string][] = [
    ['length', sec(m.durationSec)],
    ['peak', db(m.level.peakDbfs)],
    ['mean power', db(m.level.rmsDbfs)],
    ['loudness', db(m.level.loudnessLufs, 'LUFS')],
    ['room', db(m.level.noiseFloorDbfs)],
    ['samples at full scale', String(m.level.clippedSamples)],
  ];
  const { range } = m.pitch;
  if (range)
    rows.push([
      'pitch, middle nine tenths',
      `${range.lowHz.toFixed(1)} to ${range.highHz.toFixed(1)} Hz, ${range.semitones.toFixed(1)} half tones`,
    ]);
  if (m.speech) {
    const s = m.speech;
    rows.push(
      ['speaking', sec(s.speakingSec)],
      ['silence before', sec(s.initialSilenceSec)],
      ['pauses', `${s.pauseCount}, together ${sec(s.pauseSec)}, longest ${sec(s.longestPauseSec)}`],
      ['syllables', String(s.syllables)],
      ['speech rate', rate(s.speechRate)],
      ['articulation rate', rate(s.articulationRate)],
      ['mean run', sec(s.meanRunSec)],
    );
  }
  if (m.notes) rows.push(['notes', String(m.notes.length)]);
  if (m.tempo)
    rows.push([
      'tempo',
      `${m.tempo.bpm.toFixed(1)} quarters a minute, steady to ${m.tempo.stabilityPercent.toFixed(0)} %`,
    ]);
  const lines = rows.map(([name, value]) => `${name.padEnd(28)}${value}`);
  if (m.target?.followed) lines.push(...followedLines(m.target, m.target.followed));
  else if (m.target) lines.push(...targetLines(m.target));
  else if (m.notes && m.notes.length > 0)
    lines.push(
      '',
      'note      from      to        cents',
      ...m.notes.map(
        n =>
          `${noteName(n.midi).padEnd(10)}${sec(n.startSec).padEnd(10)}${sec(n.endSec).padEnd(10)}${n.cents.toFixed(0).padStart(5)}`,
      ),
    );
  return [...lines, ...m.remarks.map(r => `\n${r}`)].join('\n');
}

const named = (name: string, value: string) => `${name.padEnd(28)}${value}`;

/** What holds of all of a performance, whatever it was held against. */
function wholeLines({ tempoRatio, driftPercent }: MeasuredTarget): string[] {
  return [
    named('tempo beside the mark', tempoRatio === null ? '–' : tempoRatio.toFixed(3)),
    named('drift of the tempo', driftPercent === null ? '–' : `${driftPercent.toFixed(1)} %`),
  ];
}

function targetLines(target: MeasuredTarget): string[] {
  const { notes, extra, tuningCents, isRhythm } = target;
  const missed = notes.filter(n => n.status === 'missed').length;
  return [
    named('against the score', `${notes.length - missed} of ${notes.length} notes played, ${extra} extra`),
    ...wholeLines(target),
    ...(isRhythm
      ? []
      : [named('common tuning', tuningCents === null ? '–' : `${tuningCents.toFixed(0)} cents`)]),
    '',
    'note      at        cents   ms off',
    ...notes.map(n => {
      const at = n.startSec === null ? 'missed' : sec(n.startSec);
      const cents = n.centsOff === null ? '' : n.centsOff.toFixed(0);
      const ms = n.onsetOffSec === null ? '' : (1000 * n.onsetOffSec).toFixed(0);
      return `${String(n.index + 1).padEnd(10)}${at.padEnd(10)}${cents.padStart(5)}${ms.padStart(9)}`;
    }),
  ];
}

function followedLines(
  target: MeasuredTarget,
  { fits, events, restarts, waits, leftOut }: Followed,
): string[] {
  if (!fits) return [];
  const bar = (index: number) => events[index]!.measure;
  const begun = events.filter(e => e.startSec !== null).length;
  return [
    named('against the score', `${begun} of ${events.length} moments found`),
    ...wholeLines(target),
    ...restarts.map(r =>
      named(
        `begun again at ${sec(r.atSec)}`,
        `from bar ${bar(r.fromIndex)} back to bar ${bar(r.backToIndex)}`,
      ),
    ),
    ...waits.map(w => named(`waited at ${sec(w.atSec)}`, `${sec(w.lateSec)} in bar ${bar(w.index)}`)),
    ...leftOut.map(l => named('left out', `bar ${bar(l.fromIndex)} to bar ${bar(l.toIndex)}`)),
    '',
    'moment    bar       at',
    ...events.map(
      e =>
        `${String(e.index + 1).padEnd(10)}${e.measure.padEnd(10)}${e.startSec === null ? 'not heard' : sec(e.startSec)}`,
    ),
  ];
}

/** Beside a model, in lines like those above. */
export function besideTable({ melodySemitones, placesApart, places, lengthRatio }: BesideModel): string {
  const rows: [string, string][] = [
    [
      'melody beside the model',
      melodySemitones === null ? '–' : `${melodySemitones.toFixed(1)} half tones apart`,
    ],
    ['moves against it', `${placesApart} of ${places} places`],
    ['length beside it', lengthRatio.toFixed(2)],
  ];
  return rows.map(([name, value]) => `${name.padEnd(28)}${value}`).join('\n');
}
