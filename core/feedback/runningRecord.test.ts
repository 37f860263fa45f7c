import fc from 'fast-check';
import {
  BLANK_RECORD,
  countWords,
  MISCUES,
  readingFigures,
  recordProblem,
  toggled,
  wordsOf,
  type Miscue,
  type MiscueMark,
} from './runningRecord';

const mark = (word: number, kind: Miscue, said = ''): MiscueMark => ({ word, kind, said, atMs: null });
const record = (...marks: MiscueMark[]) => ({ ...BLANK_RECORD, marks });

describe('the words of a passage', () => {
  it('are counted by the language’s rules, hyphens and apostrophes inside them', () => {
    const words = wordsOf('De manhã levanto-me às sete; d’água, não?', 'pt');
    expect(words.filter(w => w.isWord).map(w => w.text)).toEqual([
      'De',
      'manhã',
      'levanto-me',
      'às',
      'sete',
      'd’água',
      'não',
    ]);
    expect(words.filter(w => w.isWord).map(w => w.index)).toEqual([0, 1, 2, 3, 4, 5, 6]);
    expect(countWords(wordsOf('صباح الخير يا ميناء', 'ar'))).toBe(4);
    expect(countWords(wordsOf('今日は港へ行きます', 'ja'))).toBeGreaterThan(3);
    expect(countWords(wordsOf('one two', 'not a language!'))).toBe(2);
    expect(countWords(wordsOf(' … '))).toBe(0);
  });

  it('put together are the text', () => {
    fc.assert(
      fc.property(
        fc.string(),
        text =>
          wordsOf(text)
            .map(w => w.text)
            .join('') === text,
      ),
    );
  });
});

describe('the figures of a running record, checked by hand', () => {
  it('of 100 words in a minute and a half', () => {
    // Four words wrong and one word put in: five errors in 100 words, 95 %. 96 words of the text were right, in 90 s
    // that is 64 a minute. Two self-corrections beside five errors: one in 3.5.
    const marks = [
      mark(3, 'substitution', 'barco'),
      mark(10, 'omission'),
      mark(11, 'omission'),
      mark(40, 'told'),
      mark(55, 'insertion', 'muito'),
      mark(60, 'selfCorrection', 'sino'),
      mark(61, 'repetition'),
      mark(80, 'selfCorrection'),
    ];
    expect(readingFigures(100, record(...marks), 90_000)).toEqual({
      words: 100,
      errors: 5,
      selfCorrections: 2,
      repetitions: 1,
      insertions: 1,
      accuracy: 0.95,
      wordsCorrect: 96,
      wordsCorrectPerMinute: 64,
      wordsPerMinute: 100 / 1.5,
      selfCorrectionOneIn: 3.5,
      readingMs: 90_000,
    });
  });

  it('of a reading that was broken off, from its first to its last word', () => {
    // 30 of 100 words in 20 s, one of them wrong; what is marked behind the last word counts for nothing.
    const broken = {
      ...record(mark(5, 'omission'), mark(70, 'omission')),
      lastWord: 29,
      fromMs: 2_000,
      toMs: 22_000,
    };
    expect(readingFigures(100, broken, 60_000)).toMatchObject({
      words: 30,
      errors: 1,
      wordsCorrect: 29,
      wordsCorrectPerMinute: 87,
      accuracy: 29 / 30,
    });
  });

  it('count a word once, and one that was put right as right', () => {
    const twice = record(
      mark(1, 'substitution'),
      mark(1, 'told'),
      mark(2, 'substitution'),
      mark(2, 'selfCorrection'),
    );
    expect(readingFigures(10, twice, null)).toMatchObject({
      errors: 1,
      selfCorrections: 1,
      wordsCorrect: 9,
      wordsCorrectPerMinute: null,
      selfCorrectionOneIn: 2,
    });
  });

  it('know no speed without a time, and count a word put in before the first', () => {
    const before = record(mark(-1, 'insertion', 'então'));
    expect(readingFigures(4, before, 8_000)).toMatchObject({
      errors: 1,
      wordsCorrect: 4,
      accuracy: 0.75,
      wordsCorrectPerMinute: 30,
    });
    for (const times of [
      { fromMs: 5_000, toMs: 5_000 },
      { fromMs: 9_000, toMs: null },
    ])
      expect(readingFigures(4, { ...before, ...times }, 8_000)).toMatchObject({
        readingMs: null,
        wordsPerMinute: null,
        wordsCorrectPerMinute: null,
      });
    expect(readingFigures(0, BLANK_RECORD, 8_000).accuracy).toBeNull();
  });

  it('stay figures, whatever is marked', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 50 }),
        fc.array(fc.record({ word: fc.integer({ min: -1, max: 60 }), kind: fc.constantFrom(...MISCUES) })),
        fc.option(fc.integer({ min: 0, max: 60 })),
        (words, marks, lastWord) => {
          const all = marks.map(m => mark(m.word, m.kind));
          const f = readingFigures(words, { ...record(...all), lastWord }, 30_000);
          expect(f.accuracy === null || (f.accuracy >= 0 && f.accuracy <= 1)).toBe(true);
          expect(f.wordsCorrect >= 0 && f.wordsCorrect <= f.words && f.words <= words).toBe(true);
        },
      ),
    );
  });
});

describe('marking words', () => {
  it('sets and takes away; a word put in may stand several times', () => {
    const once = toggled(BLANK_RECORD, mark(4, 'omission'));
    expect(once.marks).toHaveLength(1);
    expect(toggled(once, mark(4, 'omission')).marks).toEqual([]);
    const inserted = toggled(toggled(once, mark(2, 'insertion', 'a')), mark(2, 'insertion', 'b'));
    expect(inserted.marks.map(m => m.word)).toEqual([2, 2, 4]);
  });

  it('refuses what lies beyond the passage', () => {
    expect(recordProblem(5, record(mark(4, 'told'), mark(-1, 'insertion')))).toBeNull();
    expect(recordProblem(5, record(mark(5, 'told')))).not.toBeNull();
    expect(recordProblem(5, record(mark(-1, 'told')))).not.toBeNull();
    expect(recordProblem(5, { ...BLANK_RECORD, lastWord: 5 })).not.toBeNull();
    expect(recordProblem(5, { ...BLANK_RECORD, fromMs: 5, toMs: 5 })).not.toBeNull();
  });
});
