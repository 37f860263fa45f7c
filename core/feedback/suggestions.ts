/**
 * Where the sound of a reading and its text part, offered to whoever keeps the running record. Nothing of it counts until it
 * is taken; what is refused is not offered again.
 */
import type { TextHeard } from '../words/textHeard';
import type { Miscue, MiscueMark, RunningRecord } from './runningRecord';

export interface Suggestion {
  /** Of the marks that it would make; `last` says that the reading stops at a word. */
  kind: Miscue | 'last';
  /** First and last word that it is about. */
  from: number;
  to: number;
  /** Where it is heard, in ms of the recording. */
  atMs: number;
  /** The word came in the end, but took much longer than the others. */
  isLongTry: boolean;
}

/** A word is a long try where it takes so many times what its length would have, and so much longer. */
const LONG_TIMES = 3;
const LONG_BY_SEC = 0.7;
/** So many words are replaced by what was said instead; where more are missing, they were left out and something was put in. */
const MOST_REPLACED = 2;

/** Names a suggestion, for those that were refused. */
export const suggestionKey = ({ kind, from, to }: Pick<Suggestion, 'kind' | 'from' | 'to'>) =>
  `${kind}:${from}-${to}`;
export const SUGGESTION_KEY = /^[a-zA-Z]{4,20}:\d{1,5}-\d{1,5}$/;

type Heard = Pick<TextHeard, 'fits' | 'words' | 'extra'> & Partial<Pick<TextHeard, 'asked'>>;

/**
 * What a reading suggests, in the order of the passage.
 * @param heard  the passage's words at their times, in seconds
 * @param letters how many letters each word has: a long word takes longer
 */
export function suggestionsOf(heard: Heard, letters: readonly number[]): Suggestion[] {
  if (!heard.fits) return [];
  const { asked } = heard;
  if (asked) return suggestionsInPart(heard, asked, letters);
  const { words, extra } = heard;
  const first = words.findIndex(w => w !== null);
  const last = words.findLastIndex(w => w !== null);
  const found: Suggestion[] = [];
  const offer = (kind: Suggestion['kind'], from: number, to: number, sec: number, isLongTry = false) =>
    found.push({ kind, from, to, atMs: Math.round(1000 * sec), isLongTry });
  const inserted = extra.filter(e => e.kind === 'inserted');
  const replacing = new Set<(typeof extra)[number]>();
  for (let w = 0; w <= last; w++) {
    if (words[w]) continue;
    const from = w;
    while (w < last && !words[w + 1]) w += 1;
    const before = words[from - 1]?.endSec ?? words[first]!.startSec;
    const instead = inserted.find(e => e.afterIndex === from - 1 && from > 0);
    if (instead && w - from < MOST_REPLACED) {
      replacing.add(instead);
      offer('substitution', from, w, instead.startSec);
    } else offer('omission', from, w, before);
  }
  for (const e of extra) {
    if (e.kind === 'repeat') offer('repetition', e.fromIndex!, e.toIndex!, e.startSec);
    // What is said before the reading, and after it, is none of it.
    else if (!replacing.has(e) && e.afterIndex >= 0 && e.endSec < words[last]!.endSec)
      offer('insertion', e.afterIndex, e.afterIndex, e.startSec);
  }
  for (const w of longTries(heard, letters)) offer('selfCorrection', w, w, words[w]!.startSec, true);
  const rest = words.length - 1 - last;
  if (rest === 1) offer('omission', last + 1, last + 1, words[last]!.endSec);
  if (rest > 1) offer('last', last, last, words[last]!.startSec);
  return found.sort((a, b) => a.from - b.from || a.atMs - b.atMs);
}

/** The same of a part that was to be spoken: nothing is said of the words of others. */
function suggestionsInPart(
  { words, extra }: Heard,
  asked: readonly number[],
  letters: readonly number[],
): Suggestion[] {
  const place = new Map(asked.map((w, k) => [w, k]));
  const placeOf = (w: number | null) => (w === null ? null : (place.get(w) ?? -1));
  const within = {
    fits: true,
    words: asked.map(w => words[w]!),
    extra: extra.map(e => ({
      ...e,
      fromIndex: placeOf(e.fromIndex),
      toIndex: placeOf(e.toIndex),
      afterIndex: placeOf(e.afterIndex)!,
    })),
  };
  const found = suggestionsOf(
    within,
    asked.map(w => letters[w]!),
  );
  return found.flatMap(s => {
    // A run of words that another part comes between is two.
    const runs: Suggestion[] = [];
    for (let k = s.from; k <= s.to; k++) {
      const last = runs.at(-1);
      if (last && last.to + 1 === asked[k]) last.to = asked[k]!;
      else runs.push({ ...s, from: asked[k]!, to: asked[k]! });
    }
    return s.kind === 'repetition' ? [{ ...runs[0]!, to: asked[s.to]! }] : runs;
  });
}

/** Words that took much longer than others of their length. */
function longTries({ words, extra }: Heard, letters: readonly number[]): number[] {
  const each = words
    .flatMap((w, i) => (w ? [(w.endSec - w.startSec) / Math.max(2, letters[i]!)] : []))
    .sort((a, b) => a - b);
  const usual = each[each.length >> 1] ?? 0;
  return words.flatMap((w, i) => {
    if (!w || extra.some(e => e.fromIndex === i)) return [];
    const expected = usual * Math.max(2, letters[i]!);
    const took = w.endSec - w.startSec;
    return took > LONG_TIMES * expected && took > expected + LONG_BY_SEC ? [i] : [];
  });
}

/** The marks that a suggestion makes. */
function marksOf({ kind, from, to, atMs }: Suggestion): MiscueMark[] {
  if (kind === 'last') return [];
  const mark = (word: number): MiscueMark => ({ word, kind, said: '', atMs });
  // Said again is one repetition, however many words; each word that was left out is one of its own.
  if (kind === 'repetition' || kind === 'insertion') return [mark(from)];
  return Array.from({ length: to - from + 1 }, (_, k) => mark(from + k));
}

/** Those that were neither taken, nor refused, nor settled by other marks on the same words. */
export function openSuggestions(all: readonly Suggestion[], record: RunningRecord): Suggestion[] {
  const refused = new Set(record.refused ?? []);
  const lastWord = record.lastWord ?? Infinity;
  return all.filter(s => {
    if (refused.has(suggestionKey(s))) return false;
    if (s.kind === 'last') return record.lastWord === null;
    if (s.from > lastWord) return false;
    const kinds: readonly Miscue[] =
      s.kind === 'repetition' || s.kind === 'insertion'
        ? [s.kind]
        : ['substitution', 'omission', 'told', 'selfCorrection'];
    return !record.marks.some(m => kinds.includes(m.kind) && m.word >= s.from && m.word <= s.to);
  });
}

/** A suggestion becomes marks like those that somebody made. */
export function taken(record: RunningRecord, suggestion: Suggestion): RunningRecord {
  if (suggestion.kind === 'last') return { ...record, lastWord: suggestion.from };
  const marks = [...record.marks, ...marksOf(suggestion)].sort((a, b) => a.word - b.word);
  return { ...record, marks };
}

export function refusedIn(record: RunningRecord, suggestion: Suggestion): RunningRecord {
  return { ...record, refused: [...(record.refused ?? []), suggestionKey(suggestion)] };
}
