/** A dialogue that is written out, each line beginning with who says it: which words belong to whom. */
import { wordsOf } from '../feedback/runningRecord';

export interface Part {
  name: string;
  /** Indexes of its words among all words of the text, in order. */
  words: number[];
}

/** A short name, then a colon, then what is said. */
const LINE = /^[ \t]*(\p{L}[\p{L}\p{M}\p{N} .’'-]{0,29}?)[ \t]*[:：](?=[ \t]*\S)/u;
const MOST_NAME_WORDS = 3;
/** More names than this are a list, and no dialogue. */
const MOST_PARTS = 8;

/**
 * The parts of a dialogue, in the order in which they begin; null where a text is none: at least two speak. A line without a name goes on
 * with the part before it; what stands before the first is nobody's.
 * @param language BCP 47, or empty
 */
export function partsOf(text: string, language = ''): Part[] | null {
  const parts = new Map<string, Part>();
  let at = 0;
  let speaker: Part | null = null;
  const pieces = wordsOf(text, language);
  /** Where each word begins, in UTF-16 units. */
  const starts: number[] = [];
  for (const piece of pieces) {
    if (piece.isWord) starts.push(at);
    at += piece.text.length;
  }
  let word = 0;
  let from = 0;
  for (const line of text.split('\n')) {
    const named = LINE.exec(line);
    const isName = named !== null && named[1]!.split(/\s+/).length <= MOST_NAME_WORDS;
    const saidFrom = isName ? from + named[0].length : from;
    if (isName) {
      const name = named[1]!;
      speaker = parts.get(name) ?? { name, words: [] };
      parts.set(name, speaker);
    }
    const end = from + line.length;
    for (; word < starts.length && starts[word]! < end; word++)
      if (starts[word]! >= saidFrom) speaker?.words.push(word);
    from = end + 1;
  }
  const all = [...parts.values()].filter(p => p.words.length > 0);
  return all.length >= 2 && all.length <= MOST_PARTS ? all : null;
}

/** All parts of a dialogue, without the names. */
export const ALL_PARTS = '*';

/**
 * The words that one part has to speak, rising; null for all of the text, as it is written.
 * @param part the name of one, `ALL_PARTS`, or null; where the text has no such part, all is asked for
 */
export function wordsOfPart(
  text: string,
  language: string,
  part: string | null | undefined,
): number[] | null {
  const parts = part ? partsOf(text, language) : null;
  if (!parts) return null;
  if (part === ALL_PARTS) return parts.flatMap(p => p.words).sort((a, b) => a - b);
  return parts.find(p => p.name === part)?.words ?? null;
}

/** Which part certain words are, as it is named in `wordsOfPart`; null for none of them. */
export function partWithWords(text: string, language: string, asked: readonly number[]): string | null {
  const parts = partsOf(text, language) ?? [];
  return (
    [ALL_PARTS, ...parts.map(p => p.name)].find(
      name => wordsOfPart(text, language, name)?.join() === asked.join(),
    ) ?? null
  );
}

/**
 * What of a text may have been spoken, each as the indexes of its words: of a dialogue all as it is written, all but the names, and each part
 * by itself; null where there is but one way.
 */
export function waysToSpeak(text: string, language = ''): number[][] | null {
  const parts = partsOf(text, language);
  if (!parts) return null;
  const count = wordsOf(text, language).filter(w => w.isWord).length;
  return [
    wordsOfPart(text, language, ALL_PARTS)!,
    ...parts.map(p => p.words),
    Array.from({ length: count }, (_, i) => i),
  ];
}
