import type { Figure, Figures } from '@ecoute/core/audio/evidence';
import { locale, t } from '../base/i18n';

interface Words {
  name: () => string;
  unit?: () => string;
  digits: number;
  /** With a sign: it goes in two directions. */
  signed?: boolean;
}

const sec = () => t('s');
const ms = () => t('ms');
const cents = () => t('cents');

/** How each figure is called. */
export const FIGURE_WORDS: Record<Figure, Words> = {
  speakingSec: { name: () => t('speaking'), unit: sec, digits: 1 },
  initialSilenceSec: { name: () => t('before the first word'), unit: sec, digits: 1 },
  latencySec: { name: () => t('until an answer begins'), unit: sec, digits: 1 },
  wordsPerMinute: { name: () => t('words a minute'), digits: 0 },
  articulationRate: { name: () => t('syllables a second, while speaking'), digits: 1 },
  speechRate: { name: () => t('syllables a second, with pauses'), digits: 1 },
  pauseCount: { name: () => t('pauses'), digits: 0 },
  longestPauseSec: { name: () => t('longest pause'), unit: sec, digits: 1 },
  meanRunSec: { name: () => t('speech between pauses'), unit: sec, digits: 1 },
  sentencePauses: { name: () => t('ends of sentences paused at'), digits: 0 },
  insidePauses: { name: () => t('pauses inside a sentence'), digits: 0 },
  rangeSemitones: { name: () => t('range of the voice'), unit: () => t('half tones'), digits: 0 },
  playedPercent: { name: () => t('notes of the score played'), unit: () => '%', digits: 0 },
  extraNotes: { name: () => t('notes that the score has not'), digits: 0 },
  noteCount: { name: () => t('notes heard'), digits: 0 },
  offCents: { name: () => t('off in pitch, typically'), unit: cents, digits: 0 },
  tuningCents: { name: () => t('tuned as a whole'), unit: cents, digits: 0, signed: true },
  offMs: { name: () => t('off in time, typically'), unit: ms, digits: 0 },
  beatMs: { name: () => t('off the beat, typically'), unit: ms, digits: 0 },
  bpm: { name: () => t('quarter notes a minute'), digits: 0 },
  driftPercent: { name: () => t('faster or slower at the end'), unit: () => '%', digits: 0, signed: true },
  steadyPercent: { name: () => t('steadiness of the beat'), unit: () => '%', digits: 0 },
};

/** The few that are read first, of what is there. */
const FIRST: readonly Figure[] = [
  'playedPercent',
  'extraNotes',
  'noteCount',
  'offCents',
  'tuningCents',
  'offMs',
  'beatMs',
  'bpm',
  'speakingSec',
  'latencySec',
  'initialSilenceSec',
  'wordsPerMinute',
  'articulationRate',
  'pauseCount',
  'longestPauseSec',
  'insidePauses',
];
/** More of them are not a few. */
const FEW = 6;

export function firstFigures(figures: Figures): Figure[] {
  return FIRST.filter(name => figures[name] !== undefined).slice(0, FEW);
}

/** A number as it is read in the language of the screen. */
export function inFigures(value: number, digits: number, signed = false): string {
  const rounded = Number(value.toFixed(digits)) || 0;
  return new Intl.NumberFormat(locale(), {
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
    signDisplay: signed ? 'exceptZero' : 'auto',
  })
    .format(rounded)
    .replace('-', '−');
}

/** The value of a figure, without its unit. */
export function figureText(name: Figure, value: number): string {
  const { digits, signed } = FIGURE_WORDS[name];
  return inFigures(value, digits, signed);
}

/** The value with its unit. */
export function figureWords(name: Figure, value: number): string {
  const unit = FIGURE_WORDS[name].unit?.();
  return `${figureText(name, value)}${unit ? ` ${unit}` : ''}`;
}
