/**
 * A passage read aloud, beside what was heard of it: how fast it was read, and where its reader paused.
 *
 * No word is recognised. How many syllables lie between two pauses is counted in the sound, how many each word has is
 * estimated from its letters; the pauses are laid on the passage by dynamic programming so that the two agree as far as they
 * can, a short piece between two pauses may be a hesitation or a false start, and a boundary between sentences is believed
 * sooner than the middle of one.
 *
 * What it cannot do: know what was said. Of ten pauses about nine lie within a word of where they were made. Of those at the
 * ends of sentences about nine in ten are told as such; of those inside a sentence one in three is taken for one at its edge:
 * where it errs, it errs in favour of the reader. Where the counts do not fit together at all, nothing is said.
 */
import { wordsOf } from '../feedback/runningRecord';
import { boundaryIn, type Boundary } from '../words/boundary';
import type { TextHeard } from '../words/textHeard';
import type { Stretch } from './activity';

export interface PassageWord {
  /** Estimated syllables. */
  syllables: number;
  after: Boundary;
}

export interface PlacedPause {
  /** Index of the word before it. */
  word: number;
  place: Boundary;
  /** The pause itself, in seconds of the recording. */
  startSec: number;
  endSec: number;
}

export interface Reading {
  words: number;
  /** From the first to the last speech, if the passage was read as a whole; null where the sound does not fit it. */
  wordsPerMinute: number | null;
  /** Between these, in seconds of the recording: the first and the last syllable of it; null like the figure. */
  spanSec: readonly [number, number] | null;
  /** Ends of sentences inside the passage, and how many of them were paused at. */
  sentenceEnds: number;
  sentenceEndsPaused: number;
  pauses: PlacedPause[];
}

const VOWELS = /[aeiouyæœøаеиоуыэюяєіїαεηιουω]+/giu;
const ONE_EACH = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]/gu;
/** Where no vowels can be told, so many letters make a syllable. */
const LETTERS_EACH = 2.3;

/** Syllables of a word, as far as its letters tell: groups of vowels, or signs where each is one. Any language. */
export function estimatedSyllables(word: string): number {
  const signs = word.match(ONE_EACH)?.length ?? 0;
  if (signs > 0) return signs;
  // A letter with its sign taken off is another one: й is no vowel.
  const plain = word.replace(/й/gi, '').normalize('NFD').replace(/\p{M}/gu, '');
  const groups = plain.match(VOWELS)?.length ?? 0;
  return groups > 0 ? groups : Math.max(1, Math.round([...plain].length / LETTERS_EACH));
}

/** The words of a passage with what stands behind each. @param language BCP 47, or empty */
export function passageWords(text: string, language = ''): PassageWord[] {
  const words: PassageWord[] = [];
  for (const { text: piece, isWord } of wordsOf(text, language)) {
    const last = words.at(-1);
    if (isWord) words.push({ syllables: estimatedSyllables(piece), after: 'inside' });
    else if (last && last.after !== 'sentence') {
      const boundary = boundaryIn(piece);
      if (boundary !== 'inside') last.after = boundary;
    }
  }
  return words;
}

/** In squared deviations: what speaks against a pause at a place; more against a long one. */
const AGAINST: Record<Boundary, number> = { sentence: 0, clause: 0.5, inside: 1.8 };
const againstLength = (sec: number) => Math.min(1.6, Math.max(0.6, 0.5 + 0.6 * sec));
/** Syllables between two pauses are off by about this many, and by this share of them. */
const SPREAD_LEAST = 0.7;
const SPREAD_SHARE = 0.1;
/** A short piece between two pauses may be none of the passage: a hesitation, or a beginning that was given up.
 *  Mostly they come where something new begins. */
const EXTRA_COST: Record<Boundary, number> = { sentence: 0.6, clause: 0.9, inside: 1.6 };
const EXTRA_EACH = 0.2;
const MOST_EXTRA = 8;
/** Words on either side of the expected one that are looked at. */
const WINDOW_WORDS = 16;
/** The two ways of counting syllables agree on a whole passage to within this; what is more was said besides. */
const RATIO: readonly [number, number] = [0.92, 1.08];
/** Outside of this, what was heard is not this passage, read once. */
const FITS: readonly [number, number] = [0.7, 1.5];

/**
 * Lays the pauses of a reading on its passage.
 * @param nuclei middles of the syllables that were heard, in seconds
 * @param pauses between the first and the last of them
 */
export function readingOf(
  words: readonly PassageWord[],
  nuclei: readonly number[],
  pauses: readonly Stretch[],
): Reading {
  const ends = words.slice(0, -1).filter(w => w.after === 'sentence').length;
  const none: Reading = {
    words: words.length,
    wordsPerMinute: null,
    spanSec: null,
    sentenceEnds: ends,
    sentenceEndsPaused: 0,
    pauses: [],
  };
  const total = words.reduce((sum, w) => sum + w.syllables, 0);
  const heard = nuclei.length;
  if (total === 0 || heard < 2 || heard / total < FITS[0] || heard / total > FITS[1]) return none;
  const span = [nuclei[0]!, nuclei.at(-1)!] as const;
  const lengthSec = span[1] - span[0];
  const counts = pauses.map(p => nuclei.filter(n => n < p.startSec).length);
  const places = laid(words, pauses, counts, heard);
  const placed = pauses.map((p, i): PlacedPause => {
    const word = places[i]!;
    return { word, place: words[word]!.after, startSec: p.startSec, endSec: p.endSec };
  });
  return {
    ...none,
    wordsPerMinute: lengthSec > 0 ? (60 * words.length) / lengthSec : null,
    spanSec: lengthSec > 0 ? span : null,
    sentenceEndsPaused: new Set(placed.filter(p => p.place === 'sentence').map(p => p.word)).size,
    pauses: placed,
  };
}

/** A pause this far inside of a word belongs to the edge that is nearer. */
const isBefore = (said: Stretch, pause: Stretch) => said.endSec <= (pause.startSec + pause.endSec) / 2;

/**
 * The same where each word is known with its times: nothing is reckoned then.
 * @param heard what was heard of the passage
 * @param asked of a passage of which a part was to be spoken, the indexes of its words
 */
export function readingHeard(
  passage: readonly PassageWord[],
  heard: Pick<TextHeard, 'words' | 'extra'>,
  pauses: readonly Stretch[],
  asked: readonly number[] | null = null,
): Reading {
  // What somebody else says is no part of a sentence that is spoken here.
  const words = asked
    ? asked.map((w, k): PassageWord => {
        const isBroken = asked[k + 1] !== undefined && asked[k + 1] !== w + 1;
        return isBroken ? { ...passage[w]!, after: 'sentence' } : passage[w]!;
      })
    : passage;
  /** The place of a word among those that are spoken. */
  const placeIn = asked ? new Map(asked.map((w, k) => [w, k])) : null;
  const placeOf = (w: number) => placeIn?.get(w) ?? w;
  const said = heard.words.flatMap((w, word) => (w ? [{ ...w, first: word, last: word }] : []));
  for (const e of heard.extra)
    if (e.fromIndex !== null) said.push({ ...e, first: e.fromIndex, last: e.toIndex! });
  said.sort((a, b) => a.startSec - b.startSec);
  const [startSec, endSec] = [said[0]!.startSec, Math.max(...said.map(s => s.endSec))];
  const placed = pauses.flatMap((p): PlacedPause[] => {
    const at = said.findLastIndex(s => isBefore(s, p));
    if (at < 0 || at === said.length - 1) return [];
    const word = said[at]!.last;
    const { after } = words[placeOf(word)]!;
    // Before a word that is said again, or after what was left out, a pause is none of the sentence's.
    const goesOn = placeOf(said[at + 1]!.first) === placeOf(word) + 1;
    const place = goesOn || after === 'sentence' ? after : 'inside';
    return [{ word, place, startSec: p.startSec, endSec: p.endSec }];
  });
  const read = heard.words.filter(w => w !== null).length;
  return {
    words: words.length,
    wordsPerMinute: endSec > startSec ? (60 * read) / (endSec - startSec) : null,
    spanSec: [startSec, endSec],
    sentenceEnds: words.slice(0, -1).filter(w => w.after === 'sentence').length,
    sentenceEndsPaused: new Set(placed.filter(p => p.place === 'sentence').map(p => p.word)).size,
    pauses: placed,
  };
}

interface Way {
  word: number;
  cost: number;
  before: Way | null;
}

/** The word before each pause. @param counts syllables heard before each pause, and in all */
function laid(
  words: readonly PassageWord[],
  pauses: readonly Stretch[],
  counts: readonly number[],
  heard: number,
): number[] {
  const total = words.reduce((sum, w) => sum + w.syllables, 0);
  const ratio = Math.min(RATIO[1], Math.max(RATIO[0], heard / total));
  // Syllables of the passage up to and with each word, as they would be heard.
  const upTo: number[] = [];
  words.reduce((sum, w, i) => (upTo[i] = sum + w.syllables * ratio), 0);
  const end = upTo.at(-1)!;
  const from = (word: number) => (word < 0 ? 0 : upTo[word]!);
  const step = (passed: number, said: number) => {
    const spread = SPREAD_LEAST + SPREAD_SHARE * said;
    return ((passed - said) / spread) ** 2;
  };
  const last = words.length - 1;
  let ways: Way[] = [{ word: -1, cost: 0, before: null }];
  counts.forEach((count, i) => {
    const said = count - (counts[i - 1] ?? 0);
    const middle = upTo.findIndex(n => n >= (count * end) / heard);
    const at = middle < 0 ? last : middle;
    const best = new Map<number, Way>();
    const offer = (word: number, cost: number, before: Way) => {
      const known = best.get(word);
      if (!known || cost < known.cost) best.set(word, { word, cost, before });
    };
    for (const way of ways) {
      // A pause behind the last word is none of the reading: the last one that may be is behind the last but one.
      const most = Math.min(Math.max(0, last - 1), at + WINDOW_WORDS);
      for (let w = Math.max(0, way.word, at - WINDOW_WORDS); w <= most; w++) {
        const { startSec, endSec } = pauses[i]!;
        const against = AGAINST[words[w]!.after] * againstLength(endSec - startSec);
        offer(w, way.cost + step(upTo[w]! - from(way.word), said) + against, way);
      }
      const place = words[way.word]?.after ?? 'sentence';
      if (said <= MOST_EXTRA) offer(way.word, way.cost + EXTRA_COST[place] + EXTRA_EACH * said, way);
    }
    if (best.size > 0) ways = [...best.values()];
    else ways = ways.map(way => ({ word: way.word, cost: way.cost, before: way }));
  });
  const rest = heard - (counts.at(-1) ?? 0);
  const closed = (way: Way) => way.cost + step(end - from(way.word), rest);
  let way: Way | null = ways.reduce((a, b) => (closed(b) < closed(a) ? b : a));
  const found: number[] = [];
  while (way && way.before) {
    // Before the first word was read, a pause belongs to the first.
    found.unshift(Math.max(0, way.word));
    way = way.before;
  }
  return found;
}
