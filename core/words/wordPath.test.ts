import { soundsOfWord } from './ipa';
import { soundTimes } from './soundTimes';
import { SOUNDS } from './speechSounds';
import { wordPath, type WordToHear } from './wordPath';

/** Each phoneme is heard for so many frames. */
const FRAMES = 8;
const TEXT = 'ˈhɑːbə ˈiːvnɪŋ ˈfɛri ˈwɔːtə ˈlaɪthaʊs ˈmɔːnɪŋ ˈfɪʃəmən ˈmɑːkɪt'.split(' ');
const WORDS: WordToHear[] = TEXT.map((ipa, i) => ({
  ways: [soundsOfWord(ipa)],
  after: i === 3 || i === 7 ? 'sentence' : 'inside',
}));

/** What is heard where somebody says words (by their number) or pauses (null); a string is something else, in IPA. */
function heardOf(said: readonly (number | string | null)[]): { heard: Float32Array; starts: number[] } {
  const frames: number[] = [];
  const starts: number[] = [];
  const say = (kind: number, count = FRAMES) => {
    for (let k = 0; k < count; k++)
      frames.push(...SOUNDS.map((_, s) => (s === kind ? 2.5 : -2 + 0.3 * Math.sin(s * 7 + frames.length))));
  };
  for (const one of said) {
    starts.push(frames.length / SOUNDS.length);
    if (one === null) say(0, 30);
    else
      for (const { kinds } of typeof one === 'number' ? WORDS[one]!.ways[0]! : soundsOfWord(one))
        say(kinds[0]!);
  }
  return { heard: Float32Array.from(frames), starts };
}
const numbers = (said: readonly (number | string | null)[], putInFrame?: number) =>
  wordPath(heardOf(said).heard, WORDS, putInFrame).said.map(s => s.word);
/** Of a voice that is heard well. */
const NEAR = 1.4;

describe('the way of a voice through a text', () => {
  it('has each word at its frames, with pauses anywhere', () => {
    const order = [null, 0, 1, null, 2, 3, null, 4, 5, 6, 7, null];
    const { heard, starts } = heardOf(order);
    const { said } = wordPath(heard, WORDS);
    expect(said.map(s => s.word)).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    for (const s of said) expect(Math.abs(s.start - starts[order.indexOf(s.word)]!)).toBeLessThanOrEqual(1);
  });

  it('leaves out what was not said, goes back to what was said again, and passes over what is none of the text', () => {
    expect(numbers([0, 1, 3, 4, 5, 6, 7])).toEqual([0, 1, 3, 4, 5, 6, 7]);
    expect(numbers([0, 1, 2, 3])).toEqual([0, 1, 2, 3]);
    expect(numbers([4, 5, 6, 7])).toEqual([4, 5, 6, 7]);
    expect(numbers([0, 1, 2, 3, null, 0, 1, 2, 3, 4, 5, 6, 7])).toEqual([0, 1, 2, 3, 0, 1, 2, 3, 4, 5, 6, 7]);
    expect(numbers([0, 1, 2, 2, 3, 4, 5, 6, 7])).toEqual([0, 1, 2, 2, 3, 4, 5, 6, 7]);
    expect(numbers([0, 1, 'ˈspuːkizoʊ', 2, 3, 4, 5, 6, 7])).toEqual([0, 1, -1, 2, 3, 4, 5, 6, 7]);
    expect(numbers([0, 1, 'ʃupuz', 3, 4, 5, 6, 7])).toEqual([0, 1, -1, 3, 4, 5, 6, 7]);
  });

  it('is nothing in silence, and passes over words without a sound', () => {
    expect(numbers([null, null, null])).toEqual([]);
    expect(wordPath(new Float32Array(0), WORDS).said).toEqual([]);
    expect(wordPath(heardOf([0, 1]).heard, []).said.every(s => s.word < 0)).toBe(true);
    const silent: WordToHear[] = [WORDS[0]!, { ways: [[]], after: 'inside' }, WORDS[1]!];
    expect(wordPath(heardOf([0, 1]).heard, silent).said.map(s => s.word)).toEqual([0, 2]);
    const first: WordToHear[] = [{ ways: [[]], after: 'inside' }, WORDS[0]!, WORDS[1]!];
    expect(wordPath(heardOf([null, 0, 1]).heard, first).said.map(s => s.word)).toEqual([1, 2]);
  });

  it('has each word in whichever way it was said', () => {
    const ways = [soundsOfWord('ˈwɔːtə'), soundsOfWord('ˈwɑːɾɚ')];
    const text = WORDS.map((word, w) => (w === 3 ? { ...word, ways } : word));
    const said = (way: number) => {
      const { heard } = heardOf([0, 1, 2, ['ˈwɔːtə', 'ˈwɑːɾɚ'][way]!, 4, 5, 6, 7]);
      return wordPath(heard, text).said.map(s => [s.word, s.way]);
    };
    for (const way of [0, 1])
      expect(said(way)).toEqual([0, 1, 2, 3, 4, 5, 6, 7].map(w => [w, w === 3 ? way : 0]));
    // The other accent alone is not that word.
    expect(numbers([0, 1, 2, 'ˈmaɾijus', 4, 5, 6, 7])).toEqual([0, 1, 2, -1, 4, 5, 6, 7]);
  });

  it('does not draw a word out over another that was said instead of the next', () => {
    // The word before ends in the same vowel.
    expect(numbers([0, 1, 2, 'tii', 4, 5, 6, 7], NEAR)).toEqual([0, 1, 2, -1, 4, 5, 6, 7]);
    expect(numbers([0, 1, 2, 'ʃupu', null, 4, 5, 6, 7], NEAR)).toEqual([0, 1, 2, -1, 4, 5, 6, 7]);
  });

  it('finds its way in a long text whose words come again and again', () => {
    const long: WordToHear[] = Array.from({ length: 160 }, (_, i) => WORDS[i % 8]!);
    const order = Array.from({ length: 24 }, (_, i) => i % 8);
    const { heard } = heardOf([...order, null, ...order.slice(16)]);
    const said = wordPath(heard, long).said.map(s => s.word);
    expect(said.slice(0, 24)).toEqual(Array.from({ length: 24 }, (_, i) => i));
    expect(said).toHaveLength(32);
  });

  it('finds each sound of a word in it', () => {
    const times = soundTimes(heardOf([2]).heard, WORDS[2]!.ways[0]!, 0, 4 * FRAMES);
    expect([...times]).toEqual([0, 1, 2, 3].flatMap(k => new Array<number>(FRAMES).fill(k)));
  });
});
