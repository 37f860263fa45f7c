import { describe, expect, it } from '@jest/globals';
import { estimatedSyllables, passageWords, readingHeard, readingOf } from './reading';

const TEXT =
  'The ferry leaves Larkhaven at seven. Nobody waits for it, not even the baker, who is always late. ' +
  'On the water it is cold and quiet. When the lights of Brackwater come up behind the point, the children begin to sing. ' +
  'They know only one song. The captain knows it too, but he never joins in.';
const WORDS = passageWords(TEXT, 'en');
/** Words after which a sentence ends. */
const ENDS = WORDS.flatMap((w, i) => (w.after === 'sentence' && i < WORDS.length - 1 ? [i] : []));

/** Somebody reads it: each word with its syllables, pausing behind some; vowels are missed and doubled now and then. */
function read(pausesAfter: readonly number[], seed: number, count = WORDS.length) {
  let state = seed;
  const random = () => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647;
  const nuclei: number[] = [];
  const pauses: { startSec: number; endSec: number }[] = [];
  let sec = 0.6;
  WORDS.slice(0, count).forEach((w, i) => {
    for (let s = 0; s < w.syllables; s++) {
      const times = random() < 0.06 ? 0 : random() < 0.06 ? 2 : 1;
      for (let k = 0; k < times; k++) nuclei.push(sec + 0.1 + 0.04 * k);
      sec += 0.17 + 0.06 * random();
    }
    if (!pausesAfter.includes(i)) return;
    pauses.push({ startSec: sec, endSec: sec + 0.6 });
    sec += 0.6;
  });
  return { nuclei, pauses };
}

describe('a passage read aloud', () => {
  it('has words with syllables and boundaries, in any script', () => {
    const count = (text: string) => passageWords(text).map(w => w.syllables);
    expect(count('quiet water, 3 o’clock')).toHaveLength(4);
    expect(estimatedSyllables('Ervamoira')).toBe(4);
    expect(estimatedSyllables('Привет')).toBe(2);
    expect(estimatedSyllables('渡船')).toBe(2);
    expect(estimatedSyllables('مرحبا')).toBe(2);
    expect(estimatedSyllables('hm')).toBe(1);
    expect(passageWords('Um dia, à noite. Fim').map(w => w.after)).toEqual([
      'inside',
      'clause',
      'inside',
      'sentence',
      'inside',
    ]);
    expect(passageWords('“Go!” he said').map(w => w.after)).toEqual(['sentence', 'inside', 'inside']);
  });

  it('has its pauses where its reader made them', () => {
    let right = 0;
    let all = 0;
    const ended: boolean[] = [];
    for (let seed = 1; seed <= 20; seed++) {
      // At the ends of sentences but one, and twice in the middle of one.
      const inside = [5 + seed, 40 + (seed % 5)].filter(w => WORDS[w]!.after === 'inside');
      const truth = [...ENDS.slice(0, -1), ...inside].sort((a, b) => a - b);
      const { nuclei, pauses } = read(truth, seed);
      const reading = readingOf(WORDS, nuclei, pauses);
      expect(reading.pauses).toHaveLength(truth.length);
      reading.pauses.forEach((p, i) => {
        all += 1;
        right += Number(Math.abs(p.word - truth[i]!) <= 1);
        if (WORDS[truth[i]!]!.after === 'sentence') ended.push(p.place === 'sentence');
      });
    }
    expect(right / all).toBeGreaterThan(0.85);
    expect(ended.filter(Boolean).length / ended.length).toBeGreaterThan(0.8);
  });

  it('is found again behind a hesitation and a beginning that was given up', () => {
    let state = 5;
    const nuclei: number[] = [];
    const pauses: { startSec: number; endSec: number }[] = [];
    const truth: number[] = [];
    let sec = 0;
    const say = (syllables: number) => {
      for (let s = 0; s < syllables; s++) nuclei.push((sec += 0.2) - 0.1);
    };
    const pause = (word: number, length: number) => {
      pauses.push({ startSec: sec, endSec: (sec += length) });
      truth.push(word);
    };
    WORDS.forEach((w, i) => {
      say(w.syllables);
      if (!ENDS.includes(i)) return;
      pause(i, 0.9);
      state = (state * 7) % 11;
      if (state % 2) return;
      // "Hm" once, and the first two words twice.
      say(state % 4 === 0 ? 1 : WORDS[i + 1]!.syllables + WORDS[i + 2]!.syllables);
      pause(i, 0.5);
    });
    expect(pauses.length).toBeGreaterThan(ENDS.length);
    const { pauses: placed } = readingOf(WORDS, nuclei, pauses);
    const right = placed.filter((p, i) => Math.abs(p.word - truth[i]!) <= 1).length;
    expect(right / truth.length).toBeGreaterThan(0.85);
  });

  it('read from sentence to sentence is told as such, with its speed', () => {
    const { nuclei, pauses } = read(ENDS, 7);
    const reading = readingOf(WORDS, nuclei, pauses);
    expect(reading).toMatchObject({ sentenceEnds: ENDS.length, sentenceEndsPaused: ENDS.length });
    expect(reading.pauses.map(p => p.word)).toEqual(ENDS);
    const minutes = (nuclei.at(-1)! - nuclei[0]!) / 60;
    expect(reading.wordsPerMinute).toBeCloseTo(WORDS.length / minutes, 6);
  });

  it('is not judged where what was heard is not this passage, or not all of it, or nothing', () => {
    const half = read(ENDS, 3, Math.round(WORDS.length / 2));
    for (const { nuclei, pauses } of [half, { nuclei: [], pauses: [] }])
      expect(readingOf(WORDS, nuclei, pauses)).toMatchObject({
        words: WORDS.length,
        wordsPerMinute: null,
        pauses: [],
      });
    expect(readingOf([], [1, 2, 3], []).wordsPerMinute).toBeNull();
  });
});

describe('a passage whose words are known', () => {
  const words = passageWords('One two three. Four five, six seven. Eight nine ten.', 'en');
  /** Half a second each, with a second of pause behind the third and inside the second sentence. */
  const at = [0, 0.5, 1, 2.5, 3, 4.5, 5, 5.5, 6, 6.5].map(startSec => ({ startSec, endSec: startSec + 0.5 }));
  const pauses = [
    { startSec: 1.5, endSec: 2.5 },
    { startSec: 3.5, endSec: 4.5 },
  ];

  it('has its pauses where they are, and counts the words that were read', () => {
    const whole = readingHeard(words, { words: at, extra: [] }, pauses);
    expect(whole.pauses.map(p => [p.word, p.place])).toEqual([
      [2, 'sentence'],
      [4, 'clause'],
    ]);
    expect(whole).toMatchObject({ words: 10, sentenceEnds: 2, sentenceEndsPaused: 1, spanSec: [0, 7] });
    expect(whole.wordsPerMinute).toBeCloseTo((60 * 10) / 7);
    const part = readingHeard(words, { words: at.map((w, i) => (i === 1 ? null : w)), extra: [] }, pauses);
    expect(part.wordsPerMinute).toBeCloseTo((60 * 9) / 7);
  });

  it('takes a pause before words that are said again for one inside the sentence', () => {
    const again = {
      ...{ startSec: 4.5, endSec: 5, kind: 'repeat' as const },
      ...{ fromIndex: 4, toIndex: 4, afterIndex: 4 },
    };
    const moved = at.map((w, i) => (i > 4 ? { startSec: w.startSec + 0.5, endSec: w.endSec + 0.5 } : w));
    const reading = readingHeard(words, { words: moved, extra: [again] }, pauses);
    expect(reading.pauses.map(p => [p.word, p.place])).toEqual([
      [2, 'sentence'],
      [4, 'inside'],
    ]);
  });

  it('has no pause before its first word and behind its last', () => {
    const outside = [
      { startSec: -2, endSec: -0.2 },
      { startSec: 7.2, endSec: 9 },
    ];
    expect(readingHeard(words, { words: at, extra: [] }, outside).pauses).toEqual([]);
  });
});
