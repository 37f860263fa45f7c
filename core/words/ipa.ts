/** Words in the signs of the International Phonetic Alphabet, as kinds of speech sound. */
import { SOUNDS } from './speechSounds';
import type { Sound } from './wordPath';

type Kind = (typeof SOUNDS)[number];

/** Signs that may be any of several kinds, and those that are none of their own. A sign not named here is not heard. */
const KINDS: Record<string, readonly Kind[]> = {
  ...Object.fromEntries(SOUNDS.filter(s => s !== 'pause').map(s => [s, [s]])),
  ...{ ɪ: ['i', 'e'], æ: ['ɛ', 'a'], ɑ: ['a'], ɐ: ['a', 'ə'], ʌ: ['ə', 'a'], ä: ['a'] },
  ...{ ɜ: ['ɹ', 'ə'], ɚ: ['ɹ'], ɝ: ['ɹ'], ɵ: ['o', 'ə'], ɒ: ['ɔ', 'a'], ʊ: ['u', 'o'], ɯ: ['u', 'ə'] },
  ...{
    ɨ: ['i', 'ə'],
    ᵻ: ['i', 'ə'],
    ʉ: ['u', 'y'],
    ʏ: ['y'],
    ø: ['y', 'e'],
    œ: ['y', 'ɛ'],
    ɤ: ['ə'],
    ɘ: ['ə'],
  },
  ...{ ɞ: ['ə', 'ɹ'], ɶ: ['a'] },
  ...{ q: ['k'], c: ['t', 'k'], ʔ: ['pause', 'k'], ʈ: ['t'], ɡ: ['g'], ɖ: ['d'], ɟ: ['d', 'g'], ɢ: ['g'] },
  ...{ ɓ: ['b'], ɗ: ['d'], ɠ: ['g'] },
  ...{
    β: ['b', 'v', 'w'],
    ð: ['v', 'd'],
    ɣ: ['g', 'w'],
    ʁ: ['h', 'r', 'ɹ', 'g'],
    θ: ['f', 's'],
    ʒ: ['ʃ', 'z'],
  },
  ...{ ɕ: ['ʃ'], ʑ: ['ʃ'], ʂ: ['ʃ'], ʐ: ['ʃ'], ç: ['ʃ', 'h'], ʋ: ['v', 'w'], x: ['h'], χ: ['h'], ħ: ['h'] },
  ...{ ɦ: ['h'], ʕ: ['a', 'h'], ɸ: ['f', 'h'], ɬ: ['ʃ', 'l'] },
  ...{ ɲ: ['n'], ŋ: ['n'], ɳ: ['n'], ɴ: ['n'], ɱ: ['m'] },
  ...{ ɫ: ['l'], ʎ: ['l', 'j'], ɭ: ['l'], ɾ: ['r', 'd'], ɽ: ['r', 'd'], ɻ: ['ɹ'], ʀ: ['r', 'h'] },
  ...{ ɥ: ['j', 'w'], ɰ: ['w'] },
};
const OF_SIGN: ReadonlyMap<string, Sound> = new Map(
  Object.entries(KINDS).map(([sign, kinds]) => [
    sign,
    { kinds: kinds.map(k => SOUNDS.indexOf(k)), shares: kinds.map(() => 1 / kinds.length) },
  ]),
);

/**
 * The sounds of a word, one after the other.
 * Lengths, tones, stress and signs above and below a letter are left out of account.
 * @param ipa for example `ˈhɑːbə`
 */
export function soundsOfWord(ipa: string): Sound[] {
  return [...ipa.normalize('NFC')].flatMap(sign => {
    const sound = OF_SIGN.get(sign) ?? OF_SIGN.get(sign.normalize('NFD')[0]!);
    return sound ? [sound] : [];
  });
}
