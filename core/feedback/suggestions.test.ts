import fc from 'fast-check';
import type { Extra } from '../words/textHeard';
import { BLANK_RECORD, MISCUES, readingFigures, type RunningRecord } from './runningRecord';
import {
  openSuggestions,
  refusedIn,
  SUGGESTION_KEY,
  suggestionKey,
  suggestionsOf,
  taken,
} from './suggestions';

/** Ten words of five letters, half a second each; those of `out` were left out. */
const LETTERS = new Array<number>(10).fill(5);
const heard = (out: readonly number[] = [], extra: Partial<Extra>[] = []) => ({
  fits: true,
  words: LETTERS.map((_, i) => (out.includes(i) ? null : { startSec: 1 + i / 2, endSec: 1.5 + i / 2 })),
  extra: extra.map(e => ({
    ...{ startSec: 3, endSec: 3.4, kind: 'inserted' as const, fromIndex: null, toIndex: null, afterIndex: 3 },
    ...e,
  })),
});
const brief = (s: ReturnType<typeof suggestionsOf>) => s.map(x => `${x.kind} ${x.from}-${x.to}`);

describe('what is suggested of a reading', () => {
  it('is nothing where it was read as it stands, or is no reading of it', () => {
    expect(suggestionsOf(heard(), LETTERS)).toEqual([]);
    expect(suggestionsOf({ ...heard([4]), fits: false }, LETTERS)).toEqual([]);
  });

  it('names what was left out, said again, put in and said instead', () => {
    expect(brief(suggestionsOf(heard([4, 5, 6]), LETTERS))).toEqual(['omission 4-6']);
    expect(brief(suggestionsOf(heard([0]), LETTERS))).toEqual(['omission 0-0']);
    expect(brief(suggestionsOf(heard([], [{}]), LETTERS))).toEqual(['insertion 3-3']);
    expect(brief(suggestionsOf(heard([4], [{}]), LETTERS))).toEqual(['substitution 4-4']);
    expect(brief(suggestionsOf(heard([], [{ kind: 'repeat', fromIndex: 2, toIndex: 4 }]), LETTERS))).toEqual([
      'repetition 2-4',
    ]);
  });

  it('does not take what was said before and after the reading for a part of it', () => {
    const around = [
      { afterIndex: -1, startSec: 0, endSec: 0.6 },
      { afterIndex: 9, startSec: 6.5, endSec: 9 },
    ];
    expect(suggestionsOf(heard([], around), LETTERS)).toEqual([]);
  });

  it('says where the reading stops, and which word took a long try', () => {
    expect(brief(suggestionsOf(heard([7, 8, 9]), LETTERS))).toEqual(['last 6-6']);
    expect(brief(suggestionsOf(heard([9]), LETTERS))).toEqual(['omission 9-9']);
    const slow = heard();
    slow.words[9] = { startSec: 5.5, endSec: 8.2 };
    expect(suggestionsOf(slow, LETTERS)).toMatchObject([
      { kind: 'selfCorrection', from: 9, isLongTry: true },
    ]);
  });

  it('of a part in a dialogue says nothing of the words of others', () => {
    // Words 0, 1, 5, 6, 9 are spoken here; all others are somebody else's.
    const asked = [0, 1, 5, 6, 9];
    const others = LETTERS.flatMap((_, i) => (asked.includes(i) ? [] : [i]));
    const part = (out: number[] = [], extra: Partial<Extra>[] = []) => ({
      ...heard([...others, ...out], extra),
      asked,
    });
    expect(suggestionsOf(part(), LETTERS)).toEqual([]);
    expect(brief(suggestionsOf(part([1, 5]), LETTERS))).toEqual(['omission 1-1', 'omission 5-5']);
    expect(brief(suggestionsOf(part([5, 6]), LETTERS))).toEqual(['omission 5-6']);
    expect(brief(suggestionsOf(part([6, 9]), LETTERS))).toEqual(['last 5-5']);
    expect(brief(suggestionsOf(part([], [{ kind: 'repeat', fromIndex: 1, toIndex: 5 }]), LETTERS))).toEqual([
      'repetition 1-5',
    ]);
    expect(brief(suggestionsOf(part([], [{ afterIndex: 6 }]), LETTERS))).toEqual(['insertion 6-6']);
  });

  it('counts only when it is taken, and is not offered again when it was taken, refused or settled by hand', () => {
    const all = suggestionsOf(heard([4, 5], [{ kind: 'repeat', fromIndex: 2, toIndex: 3 }]), LETTERS);
    expect(brief(openSuggestions(all, BLANK_RECORD))).toEqual(['repetition 2-3', 'omission 4-5']);
    expect(readingFigures(10, BLANK_RECORD, null).errors).toBe(0);
    const record = taken(BLANK_RECORD, all[1]!);
    expect(record.marks.map(m => [m.word, m.kind])).toEqual([
      [4, 'omission'],
      [5, 'omission'],
    ]);
    expect(readingFigures(10, record, null).errors).toBe(2);
    const rest = openSuggestions(all, record);
    expect(brief(rest)).toEqual(['repetition 2-3']);
    const refused = refusedIn(record, rest[0]!);
    expect(openSuggestions(all, refused)).toEqual([]);
    expect(readingFigures(10, refused, null)).toEqual(readingFigures(10, record, null));
    const byHand: RunningRecord = {
      ...BLANK_RECORD,
      marks: [{ word: 5, kind: 'told', said: '', atMs: null }],
    };
    expect(brief(openSuggestions(all, byHand))).toEqual(['repetition 2-3']);
    expect(taken(BLANK_RECORD, { ...all[0]!, kind: 'last', from: 6 }).lastWord).toBe(6);
  });

  it('has a name that can be kept, whatever it is about', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...MISCUES, 'last' as const),
        fc.nat(9_999),
        fc.nat(9_999),
        (kind, from, to) => SUGGESTION_KEY.test(suggestionKey({ kind, from, to })),
      ),
    );
  });
});
