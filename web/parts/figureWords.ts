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
const syllables = () => t('syllables a second');

/** How each figure is called. */
export const FIGURE_WORDS: Record<Figure, Words> = {
  speakingSec: { name: () => t('speaking'), unit: sec, digits: 1 },
  initialSilenceSec: { name: () => t('before the first word'), unit: sec, digits: 1 },
  latencySec: { name: () => t('until an answer begins'), unit: sec, digits: 1 },
  wordsPerMinute: { name: () => t('words a minute'), digits: 0 },
  articulationRate: { name: () => t('pace while speaking'), unit: syllables, digits: 1 },
  speechRate: { name: () => t('pace with its pauses'), unit: syllables, digits: 1 },
  pauseCount: { name: () => t('pauses'), digits: 0 },
  longestPauseSec: { name: () => t('longest pause'), unit: sec, digits: 1 },
  meanRunSec: { name: () => t('goes on without a pause for'), unit: sec, digits: 1 },
  sentencePauses: { name: () => t('ends of sentences paused at'), digits: 0 },
  insidePauses: { name: () => t('pauses inside a sentence'), digits: 0 },
  rangeSemitones: {
    name: () => t('how far the voice rises and falls'),
    unit: () => t('half tones'),
    digits: 0,
  },
  playedPercent: { name: () => t('of the target heard'), unit: () => '%', digits: 0 },
  extraNotes: { name: () => t('notes not in the target'), digits: 0 },
  restarts: { name: () => t('times begun again'), digits: 0 },
  waits: { name: () => t('times waited'), digits: 0 },
  noteCount: { name: () => t('notes heard'), digits: 0 },
  offCents: { name: () => t('out of tune, as a rule'), unit: cents, digits: 0 },
  tuningCents: { name: () => t('all of it higher or lower'), unit: cents, digits: 0, signed: true },
  offMs: { name: () => t('early or late, as a rule'), unit: ms, digits: 0 },
  beatMs: { name: () => t('beside the beat, as a rule'), unit: ms, digits: 0 },
  bpm: { name: () => t('quarter notes a minute'), digits: 0 },
  driftPercent: { name: () => t('faster or slower at the end'), unit: () => '%', digits: 0, signed: true },
  steadyPercent: { name: () => t('evenness of the beat'), unit: () => '%', digits: 0 },
};

/** The few that are read first, of what is there. */
const FIRST: readonly Figure[] = [
  'playedPercent',
  'extraNotes',
  'restarts',
  'waits',
  'noteCount',
  'offCents',
  'tuningCents',
  'offMs',
  'beatMs',
  'bpm',
  'driftPercent',
  'steadyPercent',
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
