import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ANALYSIS_HZ } from '@ecoute/core/audio/halves';
import { cepstraOf } from '@ecoute/core/words/cepstra';
import { inVoiceOf, textHeard, type TextHeard, type TextWord } from '@ecoute/core/words/textHeard';
import { writtenTokens, writtenWords } from '@ecoute/core/words/writtenWords';
import { referenceOf } from './referenceVoice';

const SENTENCES = {
  en: [
    'The old bell of the harbour rings at six in the morning.',
    'Yesterday my sister bought bread and three lemons at the market.',
    'When the fog lies low, nobody can see the other shore.',
  ],
  pt: [
    'O velho sino do porto toca às seis da manhã.',
    'Ontem a minha irmã comprou pão e três limões no mercado.',
    'Quando há nevoeiro, ninguém vê a outra margem.',
  ],
};
type Language = keyof typeof SENTENCES;
/** Between words that are spoken one by one there is so much silence: their true beginnings are where it ends. */
const BREAK = '<break time="300ms"/>';

const NOISE = 0.000_5;

let folder = '';
beforeAll(() => (folder = mkdtempSync(join(tmpdir(), 'ecoute-words-'))));
afterAll(() => rmSync(folder, { recursive: true }));

/** Text, or SSML, spoken by a voice; samples at 16 kHz over the noise of a room. @param filter changes the voice */
function spoken(text: string, voice: string, rate = 150, filter = 'anull'): Float32Array {
  const file = join(folder, 'said.wav');
  const said = spawnSync('espeak-ng', ['-m', '-v', voice, '-s', String(rate), '-w', file, '--', text]);
  if (said.status !== 0) throw new Error(String(said.stderr));
  const form = ['-ar', String(ANALYSIS_HZ), '-ac', '1', '-f', 'f32le', '-'];
  const args = ['-v', 'error', '-i', file, '-af', filter, ...form];
  const { stdout } = spawnSync('ffmpeg', args, { maxBuffer: 1 << 28 });
  const samples = new Float32Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + stdout.length));
  return samples.map((x, i) => x + NOISE * Math.sin(i * i * 0.37));
}
const texts = new Map<string, TextWord[]>();
async function textOf(text: string, language: string): Promise<TextWord[]> {
  const key = `${language} ${text}`;
  if (!texts.has(key)) {
    const reference = await referenceOf(writtenTokens(text), language);
    if (!('words' in reference)) throw new Error(reference.unknown);
    texts.set(key, reference.words);
  }
  return texts.get(key)!;
}
async function heard(sound: Float32Array, text: string, language: string): Promise<TextHeard> {
  return textHeard(cepstraOf(sound), await textOf(text, language));
}
const missed = (h: TextHeard) => h.words.flatMap((w, i) => (w ? [] : [i]));
const count = (sentence: string) => writtenTokens(sentence).length;

describe.each<[Language, string, number]>([
  ['en', 'en-us+f2', 175],
  ['pt', 'pt-br+f4', 160],
])('a text in %s, read by the voice %s', (language, voice, rate) => {
  const [one, two, three] = SENTENCES[language] as [string, string, string];
  const whole = `${one} ${two} ${three}`;

  it('has all its words, and nothing besides', async () => {
    const found = await heard(spoken(whole, voice, rate), whole, language);
    expect(found.fits).toBe(true);
    expect(missed(found)).toEqual([]);
    expect(found.extra).toEqual([]);
  });

  it('has its words where they begin', async () => {
    const sound = spoken(`<speak>${whole.split(' ').join(` ${BREAK} `)}</speak>`, voice, rate);
    const found = await heard(sound, whole, language);
    const begins = beginnings(sound);
    const starts = found.words.map(w => w!.startSec);
    // Some silences are too short to be told: what is known is where the others end.
    expect(begins.length).toBeGreaterThan(0.75 * starts.length);
    const off = begins.map(b => Math.min(...starts.map(s => Math.abs(b - s)))).sort((x, y) => x - y);
    expect(off[Math.floor(off.length / 2)]).toBeLessThan(0.06);
    expect(off[Math.floor(0.95 * off.length)]).toBeLessThan(0.25);
    starts.slice(1).forEach((s, i) => expect(s).toBeGreaterThan(starts[i]!));
  });

  it('shows a sentence that was left out, and one that was said twice', async () => {
    const without = await heard(spoken(`${one} ${three}`, voice, rate), whole, language);
    const from = count(one);
    expect(missed(without)).toEqual(Array.from({ length: count(two) }, (_, k) => from + k));
    const twice = await heard(spoken(`${one} ${two} ${two} ${three}`, voice, rate), whole, language);
    expect(missed(twice)).toEqual([]);
    expect(twice.extra).toMatchObject([{ kind: 'repeat', fromIndex: from, toIndex: from + count(two) - 1 }]);
    expect(twice.syllables).toBeGreaterThan(
      (await heard(spoken(whole, voice, rate), whole, language)).syllables,
    );
  });

  it('is not found where another text, another language or nothing is heard', async () => {
    const other = language === 'en' ? 'pt' : 'en';
    const its = spoken(SENTENCES[other].join(' '), other, rate);
    expect((await heard(its, whole, language)).fits).toBe(false);
    expect((await heard(spoken(one, voice, rate), two, language)).fits).toBe(false);
    expect((await heard(new Float32Array(ANALYSIS_HZ), whole, language)).fits).toBe(false);
  });
});

/** Where sound begins after at least 45 ms of silence, in seconds. */
function beginnings(sound: Float32Array): number[] {
  const hop = ANALYSIS_HZ / 200;
  const level = (n: number) => sound.subarray(n * hop, (n + 1) * hop).reduce((a, x) => a + x * x, 0) / hop;
  const found: number[] = [];
  for (let n = 0, quiet = 99; n * hop < sound.length; n++) {
    if (level(n) < 2 * NOISE ** 2) quiet += 1;
    else {
      if (quiet > 8) found.push(n / 200);
      quiet = 0;
    }
  }
  return found;
}

describe('a text in one accent, read in another', () => {
  it('has all its words, and nothing besides', async () => {
    const said = 'After the party our daughter parked your car under the arch of the larger theatre.';
    for (const voice of ['en-us+f2', 'en-gb+m3', 'en-us+m1']) {
      for (const language of ['en', 'en-US']) {
        const found = await heard(spoken(said, voice), said, language);
        expect([found.fits, missed(found), found.extra]).toEqual([true, [], []]);
      }
    }
  });
});

describe('a word that is said otherwise among others', () => {
  it('has both ways, whether the voice writes the two as one word or as two', async () => {
    const waysOf = async (text: string, language: string, word: number) => {
      const { ipa, otherIpa = [] } = (await textOf(text, language))[word]!;
      return [ipa, ...otherIpa].map(w => w.replace(/[ˈˌ_ː]/g, ''));
    };
    // Alone, it is the name of the letter.
    const greek = await waysOf('Πράσινο μήλο. Η γιαγιά.', 'el', 2);
    expect(greek).toEqual(['ita', 'i']);
    expect(await waysOf('I said that a dog went.', 'en', 3)).toContain('ə');
    expect(await waysOf('Les amis, nous avons.', 'fr', 0)).toContain('le-z');
    // “of the” is written as one word and “21” as two: no word is said as its neighbour is.
    expect(await waysOf('The end of the 21 boats.', 'en', 3)).not.toContain('twɛnti');
    // What stands alone between two pauses has no neighbour.
    expect(await waysOf('Η. Η.', 'el', 0)).toEqual(['ita']);
  });

  it('is no word left out', async () => {
    const said = 'Η γιαγιά και ο παππούς πίνουν καφέ. Η βάρκα είναι κόκκινη, ή ίσως πράσινη.';
    const found = await heard(spoken(said, 'el+f2'), said, 'el');
    expect([found.fits, missed(found), found.extra]).toEqual([true, [], []]);
  });
});

describe('a reading of a part of the text', () => {
  const whole = SENTENCES.en.join(' ');

  it('that begins in the middle, or stops early, has what was read', async () => {
    const [one, two, three] = SENTENCES.en as [string, string, string];
    const late = await heard(spoken(`${two} ${three}`, 'en-us+f3'), whole, 'en');
    expect(missed(late)).toEqual(Array.from({ length: count(one) }, (_, k) => k));
    const early = await heard(spoken(`${one} ${two}`, 'en-us+f3'), whole, 'en');
    expect(missed(early)).toHaveLength(count(three));
  });

  it('is held beside somebody’s own reading as well', async () => {
    const own = inVoiceOf(cepstraOf(spoken(whole, 'en-us+f2')), await textOf(whole, 'en'))!;
    const found = textHeard(cepstraOf(spoken(whole, 'en+m3', 170)), own);
    expect(found.fits && missed(found)).toEqual([]);
    expect(
      inVoiceOf(cepstraOf(spoken('Something else altogether.', 'en')), await textOf(whole, 'en')),
    ).toBeNull();
  });
});

describe('abbreviations, units and signs', () => {
  it('are read, whether they are said in full or spelled', async () => {
    const text =
      'Um 14:30 Uhr kamen ca. 25 Kinder, d. h. fast alle; z. B. Anna, die 40 kg wiegt. Brot kostet 4,50 €, bzw. 20 % mehr usw.';
    const inFull =
      'Um 14 Uhr 30 kamen zirka 25 Kinder, das heißt fast alle; zum Beispiel Anna, die 40 Kilo wiegt. ' +
      'Brot kostet 4,50 Euro, beziehungsweise 20 Prozent mehr und so weiter.';
    for (const said of [inFull, text.replace(' usw.', ' und so weiter.')]) {
      const found = await heard(spoken(said, 'de+f2', 140), text, 'de');
      expect([found.fits, missed(found), found.extra]).toEqual([true, [], []]);
    }
  });
});

describe('somebody who goes on to speak freely', () => {
  const { en } = SENTENCES;
  const passage = en.join(' ');
  const freely =
    'So I like the market best, and in the morning I would rather see the shore than hear a bell. ' +
    'My brother says that nobody buys lemons when the fog is there. The other harbour has an old light.';

  it('has read the text, and put in one thing behind it', async () => {
    const found = await heard(spoken(`${passage} ${freely}`, 'en-us+f3'), passage, 'en');
    expect([found.fits, missed(found)]).toEqual([true, []]);
    expect(found.extra).toMatchObject([{ kind: 'inserted', afterIndex: count(passage) - 1 }]);
    const [{ startSec, endSec }] = found.extra as [TextHeard['extra'][number]];
    expect(startSec).toBeGreaterThanOrEqual(found.words.at(-1)!.endSec);
    expect(endSec - startSec).toBeGreaterThan(10);
  });

  it('and tells with its words what was read, has not said them again', async () => {
    const text =
      'O sino do porto tocava sempre às cinco. Uma noite, ninguém o ouviu. A velha Matilde foi ver: uma gaivota ' +
      'tinha feito o ninho dentro do sino. Desde então, em Brackwater, o dia começa quando a gaivota quer.';
    const told =
      'Bom, o sino não tocou porque uma gaivota fez a casa lá dentro. A senhora subiu à torre e viu os ovos. ' +
      'Ninguém ficou zangado, e agora o dia só começa quando ela acorda.';
    const found = await heard(spoken(`${text} ${told}`, 'pt+f3', 140), text, 'pt');
    expect(missed(found)).toEqual([]);
    expect(found.extra).toMatchObject([{ kind: 'inserted', afterIndex: count(text) - 1 }]);
  });

  it('or is asked something in between, has read on behind it', async () => {
    const asked = `${en[0]!} ${en[1]!} ${freely} ${en[2]!}`;
    const found = await heard(spoken(asked, 'en-us+f3'), passage, 'en');
    expect([found.fits, missed(found)]).toEqual([true, []]);
    // Whoever takes it up again may begin with the word that was read last; of what was said in between nothing was read.
    for (const e of found.extra.filter(one => one.kind === 'repeat')) expect(e.toIndex).toBe(e.afterIndex);
    const behind = count(`${en[0]!} ${en[1]!}`) - 1;
    expect(new Set(found.extra.map(e => e.afterIndex))).toEqual(new Set([behind]));
  });

  it('and reads a sentence again behind the end has read it again', async () => {
    const found = await heard(spoken(`${passage} ${en[0]!}`, 'en-us+f3'), passage, 'en');
    expect(found.extra).toMatchObject([{ kind: 'repeat', fromIndex: 0, toIndex: count(en[0]!) - 1 }]);
  });
});

describe('a voice that the sounds were not learnt from', () => {
  const shrill = `aresample=16000,asetrate=${1.9 * ANALYSIS_HZ},aresample=16000,atempo=${1 / 1.9}`;
  const sound = () => spoken(SENTENCES.en.join(' '), 'en-us+m3', 150, shrill);

  it('reads its text where that is nearly all there, though each sound is less like itself', async () => {
    const whole = SENTENCES.en.join(' ');
    const found = await heard(sound(), whole, 'en');
    expect(found.fits).toBe(true);
    expect(missed(found).length).toBeLessThanOrEqual(3);
    // Neither the same words the other way round nor another language.
    const turned = [...SENTENCES.en].reverse().map(one => one.split(' ').reverse().join(' '));
    expect((await heard(sound(), turned.join(' '), 'en')).fits).toBe(false);
    expect((await heard(sound(), SENTENCES.pt.join(' '), 'pt')).fits).toBe(false);
  });
});

describe('the reference voice', () => {
  it('says numbers, abbreviations and scripts from right to left, a line for each word', async () => {
    for (const [text, language] of [
      ['Dr. Alda paid €5 for 3.5 kg, or 8 to 12, on 2 May 1984.', 'en'],
      ['السلام عليكم ورحمة الله', 'ar'],
      ['<break/> & "quotes" > «Olá» (não)', 'pt'],
      ['Der 1. Mai kostet 12,50 € z. B. heute', 'de'],
    ] as const) {
      const tokens = writtenTokens(text);
      const reference = await referenceOf(tokens, language);
      expect('words' in reference && reference.words).toHaveLength(tokens.length);
    }
    const many = 'or 8 to 9 '.repeat(120);
    expect(await textOf(many, 'en')).toHaveLength(480);
    expect(writtenWords(many, 'en')).toHaveLength(480);
  });

  it('says a word in each accent of its language in which it has other sounds', async () => {
    const otherOf = async (word: string, language: string) =>
      (await textOf(`${word} ${word}`, language))[0]!.otherIpa ?? [];
    expect(await otherOf('harbour', 'en')).toEqual([expect.stringContaining('ɚ')]);
    expect(await otherOf('harbour', 'en-US')).toEqual([expect.stringMatching(/b_ə$/)]);
    expect(await otherOf('cena', 'es')).toEqual([expect.stringMatching(/^s_/)]);
    expect(await otherOf('tarde', 'pt')).toEqual([expect.stringContaining('ʒ')]);
    for (const [word, language] of [
      ['six', 'en'],
      ['gato', 'es'],
      ['morze', 'pl'],
    ] as const)
      expect(await otherOf(word, language)).toEqual([]);
  });

  it('says plainly what it cannot do', async () => {
    const words = writtenTokens('one two three');
    expect(await referenceOf(words, '')).toEqual({ unknown: 'noLanguage' });
    expect(await referenceOf(words, '../../etc')).toEqual({ unknown: 'noLanguage' });
    expect(await referenceOf(words, 'qq')).toEqual({ unknown: 'noVoice' });
    // It reads these signs as the names that they have in English.
    expect(await referenceOf(writtenTokens('今日 天気 明日'), 'ja')).toEqual({ unknown: 'noVoice' });
    expect(await referenceOf(words, 'en-AU')).toHaveProperty('words');
  });
});
