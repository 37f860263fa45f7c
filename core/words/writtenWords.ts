/** Words as they are handed to whoever speaks them. */
import { passageWords } from '../audio/reading';
import { boundaryIn, type Boundary } from './boundary';
import { wordsOf } from '../feedback/runningRecord';

/** A word with the signs that belong to it, and what stands behind it. */
export interface WrittenWord {
  written: string;
  after: Boundary;
}

/** What changes how a word is read: a sign of money or number before it, a full stop, a sign of share or degree behind it. */
const SIGNS_BEFORE = /[\p{Sc}#+−-]$/u;
const SIGNS_BEHIND = /^(?:[.%‰°]|\p{Sc}|\s(?:[%‰°&+=]|\p{Sc})(?=[^\p{L}\p{N}]))/u;
/** A sign that stands by itself and is said. */
const SIGN = /^(?:[%‰°&+=]|\p{Sc})[.,;:!?…]*$/u;

/** The words of a passage, one for each of `passageWords`. @param language BCP 47, or empty */
export function writtenWords(text: string, language = ''): WrittenWord[] {
  const pieces = wordsOf(text, language);
  const places = passageWords(text, language);
  return pieces.flatMap((piece, i) => {
    if (!piece.isWord) return [];
    const before = SIGNS_BEFORE.exec(pieces[i - 1]?.text ?? '')?.[0] ?? '';
    let between = '';
    let next = i + 1;
    for (; next < pieces.length && !pieces[next]!.isWord; next++) between += pieces[next]!.text;
    // At the end of the text there is nothing that a sign could belong to instead.
    if (next === pieces.length) between += '\n';
    const behind = SIGNS_BEHIND.exec(between)?.[0] ?? '';
    return [{ written: `${before}${piece.text}${behind}`, after: places[piece.index]!.after }];
  });
}

/** The words of a text as they stand between spaces, those that have a letter or a digit; a sign that is said goes with the word before it. */
export function writtenTokens(text: string): WrittenWord[] {
  const words: WrittenWord[] = [];
  for (const token of text.split(/\s+/)) {
    const after = boundaryIn(/[^\p{L}\p{N}]*$/u.exec(token)![0]);
    // Marks of speech are no words; a voice would make a line of them.
    const written = token.replace(/["“”„«»()[\]{}]/g, '');
    const last = words.at(-1);
    if (/[\p{L}\p{N}]/u.test(token)) words.push({ written, after });
    else if (last && SIGN.test(token))
      words[words.length - 1] = { written: `${last.written} ${written}`, after };
  }
  return words;
}
