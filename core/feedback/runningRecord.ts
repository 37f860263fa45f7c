/**
 * A running record: what happened to each word of a passage that was read aloud, and the figures that follow from it.
 *
 * Conventions, as they are usual in reading assessment: a substitution, an omission, an insertion and a word that had to be
 * told are errors; a self-correction and a repetition are not. A word that was read wrong and then put right counts as
 * self-corrected alone. Words correct in a minute count words of the text: an insertion, which is none, takes nothing away.
 */

export const MISCUES = [
  'substitution',
  'omission',
  'insertion',
  'selfCorrection',
  'told',
  'repetition',
] as const;
export type Miscue = (typeof MISCUES)[number];

/** What stands at a word, as it is usual in running records. */
export const MISCUE_LETTERS: Record<Miscue, string> = {
  substitution: 'S',
  omission: 'O',
  insertion: 'I',
  selfCorrection: 'SC',
  told: 'T',
  repetition: 'R',
};

export interface MiscueMark {
  /** Index of the word in the passage, from 0. An insertion stands behind it; −1 puts it before the first word. */
  word: number;
  kind: Miscue;
  /** What was said instead, or put in. May be empty. */
  said: string;
  /** Where in the recording it was heard, in ms; null where nobody listened. */
  atMs: number | null;
}

export interface RunningRecord {
  /** Index of the last word that was read; null for the whole passage. */
  lastWord: number | null;
  /** When reading began and ended in the recording, in ms; null for the length of the answer. */
  fromMs: number | null;
  toMs: number | null;
  marks: MiscueMark[];
  /** Suggestions that were refused, by their keys: they are not offered again. */
  refused?: string[];
  /** Of a dialogue, the part that was spoken, by its name; `*` for all of them without the names; null for the text as it is written. */
  part?: string | null;
}

export const BLANK_RECORD: RunningRecord = { lastWord: null, fromMs: null, toMs: null, marks: [] };

export interface Word {
  text: string;
  /** False for what stands between words: spaces, punctuation. */
  isWord: boolean;
  /** Its number among the words, from 0; that of the word before it for what is none (−1 before the first). */
  index: number;
}

/**
 * A passage cut into its words and what stands between them, by the rules of its language (Unicode text segmentation).
 * Put together the pieces are the text. @param language BCP 47; empty for none in particular
 */
export function wordsOf(text: string, language = ''): Word[] {
  let locale: string | undefined = language || undefined;
  try {
    Intl.getCanonicalLocales(locale);
  } catch {
    locale = undefined;
  }
  const pieces: Word[] = [];
  let index = -1;
  for (const { segment, isWordLike } of new Intl.Segmenter(locale, { granularity: 'word' }).segment(text)) {
    const last = pieces.at(-1);
    // A hyphen or an apostrophe inside a word makes no two words of it: “levanto-me” is read as one.
    const joins =
      pieces.length > 1 && last && !last.isWord && /^[-‐’']$/.test(last.text) && pieces.at(-2)!.isWord;
    if (isWordLike && joins) {
      const before = pieces.at(-2)!;
      before.text += last.text + segment;
      pieces.pop();
    } else
      pieces.push({ text: segment, isWord: Boolean(isWordLike), index: isWordLike ? (index += 1) : index });
  }
  return pieces;
}

export const countWords = (words: readonly Word[]) => words.filter(w => w.isWord).length;

export interface ReadingFigures {
  /** Words of the passage that were read or should have been, up to the last. */
  words: number;
  errors: number;
  selfCorrections: number;
  repetitions: number;
  insertions: number;
  /** Share of words without an error, 0…1; null where nothing was to be read. */
  accuracy: number | null;
  /** Words of the text read correctly, self-corrected ones included. */
  wordsCorrect: number;
  /** In a minute; null where no time is known. */
  wordsCorrectPerMinute: number | null;
  wordsPerMinute: number | null;
  /** One self-correction to so many chances (errors and self-corrections); null where there was none. */
  selfCorrectionOneIn: number | null;
  readingMs: number | null;
}

/**
 * The figures of a running record.
 * @param words      words of the passage
 * @param record     what happened to them; marks beyond the last word that was read are left out of account
 * @param answerMs   length of the answer in the recording, used where no times are given; null for none
 * @param asked      the words that were to be read, by their indexes, rising; null for all: what is marked elsewhere counts nowhere
 */
export function readingFigures(
  words: number,
  record: RunningRecord,
  answerMs: number | null,
  asked: readonly number[] | null = null,
): ReadingFigures {
  const end = Math.min(words, record.lastWord === null ? words : record.lastWord + 1);
  const own = asked && new Set(asked);
  // What is put in before the first word stands behind none.
  const marks = record.marks.filter(m => m.word < end && (!own || m.word < 0 || own.has(m.word)));
  const read = asked ? asked.filter(w => w < end).length : end;
  const corrected = new Set(marks.filter(m => m.kind === 'selfCorrection').map(m => m.word));
  const wrong = new Set<number>();
  for (const m of marks)
    if (['substitution', 'omission', 'told'].includes(m.kind) && m.word >= 0 && !corrected.has(m.word))
      wrong.add(m.word);
  const insertions = marks.filter(m => m.kind === 'insertion').length;
  const errors = wrong.size + insertions;
  const selfCorrections = corrected.size;
  const wordsCorrect = read - wrong.size;
  const fromMs = record.fromMs ?? 0;
  const toMs = record.toMs ?? answerMs;
  const readingMs = toMs !== null && toMs > fromMs ? toMs - fromMs : null;
  const perMinute = (n: number) => (readingMs === null ? null : (n * 60_000) / readingMs);
  return {
    words: read,
    errors,
    selfCorrections,
    repetitions: marks.filter(m => m.kind === 'repetition').length,
    insertions,
    // More errors than words (many insertions) is no accuracy below nothing.
    accuracy: read === 0 ? null : Math.max(0, read - errors) / read,
    wordsCorrect,
    wordsCorrectPerMinute: perMinute(wordsCorrect),
    wordsPerMinute: perMinute(read),
    selfCorrectionOneIn: selfCorrections === 0 ? null : (errors + selfCorrections) / selfCorrections,
    readingMs,
  };
}

/** What is wrong with a record of a passage; null when it stands. */
export function recordProblem(words: number, record: RunningRecord): string | null {
  const { lastWord, fromMs, toMs, marks } = record;
  if (lastWord !== null && lastWord >= words) return 'The last word read lies beyond the passage.';
  if (marks.some(m => m.word >= words || (m.word < 0 && m.kind !== 'insertion')))
    return 'A mark lies beyond the passage. Reload the page to see the passage as it is.';
  if (fromMs !== null && toMs !== null && toMs <= fromMs) return 'The reading ends before it begins.';
  return null;
}

/** Sets a mark on a word, or takes the same one away: what a click does. An insertion can stand there several times. */
export function toggled(record: RunningRecord, mark: MiscueMark): RunningRecord {
  const same = (m: MiscueMark) => m.word === mark.word && m.kind === mark.kind;
  if (mark.kind !== 'insertion' && record.marks.some(same))
    return { ...record, marks: record.marks.filter(m => !same(m)) };
  return { ...record, marks: [...record.marks, mark].sort((a, b) => a.word - b.word) };
}
