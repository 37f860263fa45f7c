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
const SIGNS_BEHIND = /^(?:[.%‰°]|\p{Sc})/u;

/** The words of a passage, one for each of `passageWords`. @param language BCP 47, or empty */
export function writtenWords(text: string, language = ''): WrittenWord[] {
  const pieces = wordsOf(text, language);
  const places = passageWords(text, language);
  return pieces.flatMap((piece, i) => {
    if (!piece.isWord) return [];
    const before = SIGNS_BEFORE.exec(pieces[i - 1]?.text ?? '')?.[0] ?? '';
    const behind = SIGNS_BEHIND.exec(pieces[i + 1]?.text ?? '')?.[0] ?? '';
    return [{ written: `${before}${piece.text}${behind}`, after: places[piece.index]!.after }];
  });
}

/** The words of a text as they stand between spaces, those that have a letter or a digit. */
export function writtenTokens(text: string): WrittenWord[] {
  const tokens = text.split(/\s+/).filter(token => /[\p{L}\p{N}]/u.test(token));
  return tokens.map(written => ({
    // Marks of speech are no words; a voice would make a line of them.
    written: written.replace(/["“”„«»()[\]{}]/g, ''),
    after: boundaryIn(/[^\p{L}\p{N}]*$/u.exec(written)![0]),
  }));
}
