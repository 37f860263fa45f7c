/** Measures as a table to read, and as JSON without digits that mean nothing. */
import { noteName } from '@ecoute/core/formats/musicXml';
import type { BesideModel } from '@ecoute/core/audio/besideModel';
import type { Measures } from '@ecoute/core/audio/measure';

/** Decimals that are kept; a tenth of a millisecond and a hundredth of a cent are less than can be measured. */
const DECIMALS = 4;

/** One JSON object; what is not finite is null. */
export function jsonOf(measures: object): string {
  return JSON.stringify(measures, (_, value: unknown) => {
    if (typeof value !== 'number') return value;
    return Number.isFinite(value) ? Number(value.toFixed(DECIMALS)) : null;
  });
}

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
  if (m.target) {
    const t = m.target;
    const missed = t.notes.filter(n => n.status === 'missed').length;
    lines.push(
      `${'against the score'.padEnd(28)}${t.notes.length - missed} of ${t.notes.length} notes played, ${t.extra} extra`,
      `${'tempo beside the mark'.padEnd(28)}${t.tempoRatio === null ? '–' : t.tempoRatio.toFixed(3)}`,
      `${'drift of the tempo'.padEnd(28)}${t.driftPercent === null ? '–' : `${t.driftPercent.toFixed(1)} %`}`,
      `${'common tuning'.padEnd(28)}${t.tuningCents === null ? '–' : `${t.tuningCents.toFixed(0)} cents`}`,
      '',
      'note      at        cents   ms off',
      ...t.notes.map(n => {
        const at = n.startSec === null ? 'missed' : sec(n.startSec);
        const cents = n.centsOff === null ? '' : n.centsOff.toFixed(0);
        const ms = n.onsetOffSec === null ? '' : (1000 * n.onsetOffSec).toFixed(0);
        return `${String(n.index + 1).padEnd(10)}${at.padEnd(10)}${cents.padStart(5)}${ms.padStart(9)}`;
      }),
    );
  } else if (m.notes && m.notes.length > 0)
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
