import { babble } from '../testing/sounds';
import { inFull } from './abbreviations';
import { cepstraOf, CEPSTRA, CepstraMeter } from './cepstra';
import { soundsOfWord } from './ipa';
import { SOUNDS, soundsHeard } from './speechSounds';
import { inVoiceOf, syllablesOf, textHeard, withoutTalk, withSlurred } from './textHeard';
import { writtenTokens, writtenWords } from './writtenWords';
import { passageWords } from '../audio/reading';

const kindsOf = (ipa: string) => soundsOfWord(ipa).map(s => s.kinds.map(k => SOUNDS[k]).join('/'));

describe('words in the signs of the IPA', () => {
  it('are kinds of sounds, whatever stands above and below a letter', () => {
    expect(kindsOf('ˈhɑːbə')).toEqual(['h', 'a', 'b', 'ə']);
    expect(kindsOf('sɐ̃w̃')).toEqual(['s', 'a/ə', 'w']);
    expect(kindsOf('tʃ')).toEqual(['t', 'ʃ']);
    expect(kindsOf('5 1_ˈ')).toEqual([]);
    for (const { kinds, shares } of soundsOfWord('pɪʁœʒʎɥðŋæ')) {
      expect(kinds.every(k => k >= 0)).toBe(true);
      expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1);
    }
  });

  it('have a syllable for each vowel, glide and vowel-like consonant', () => {
    expect(syllablesOf('h_ˈɑː_b_ə')).toBe(2);
    expect(syllablesOf('l_ˈaɪ_t_h_aʊ_s')).toBe(2);
    expect(syllablesOf('p_ɾ_ˈa_h_a')).toBe(2);
    expect(syllablesOf('v_l̩_k')).toBe(1);
    expect(syllablesOf('ʃ_t')).toBe(0);
  });
});

describe('words as they are handed to a voice', () => {
  it('take with them what changes how they are read, and know where sentences end', () => {
    const text = 'Dr. Alda paid €5, or 3.5 % of “it”. Não?';
    expect(writtenWords(text, 'en').map(w => w.written)).toEqual([
      'Dr.',
      'Alda',
      'paid',
      '€5',
      'or',
      '3.5 %',
      'of',
      'it',
      'Não',
    ]);
    expect(writtenWords(text, 'en')).toHaveLength(passageWords(text, 'en').length);
    expect(writtenTokens(' One (two), — three. ')).toEqual([
      { written: 'One', after: 'inside' },
      { written: 'two,', after: 'clause' },
      { written: 'three.', after: 'sentence' },
    ]);
    expect(writtenTokens('… — !')).toEqual([]);
  });

  it('take a sign that stands by itself with them, where it is said and belongs to no number behind it', () => {
    for (const end of ['', ' ', '.'])
      expect(writtenWords(`Pão por 4,50 €. Sal & mel, 20 %${end}`, 'pt').map(w => w.written)).toEqual([
        ...['Pão', 'por', '4,50 €', 'Sal &', 'mel', '20 %'],
      ]);
    expect(writtenWords('for $5 – or 3', 'en').map(w => w.written)).toEqual(['for', '$5', 'or', '3']);
    expect(writtenTokens('& 4,50 €. Sal & mel — 3')).toEqual([
      { written: '4,50 €.', after: 'sentence' },
      { written: 'Sal &', after: 'inside' },
      { written: 'mel', after: 'inside' },
      { written: '3', after: 'inside' },
    ]);
  });
});

describe('abbreviations', () => {
  const read = (text: string, primary: string) => inFull(text.split(' '), primary);

  it('are read out in full, also those of two parts, and before a comma', () => {
    expect(read('ca. zwei Tage, z. B. heute usw.,', 'de')).toEqual([
      ...[['zirka'], [], [], ['zum'], ['Beispiel'], [], ['und so weiter']],
    ]);
    expect(read('u. a.', 'de')).toEqual([
      ['unter', 'und'],
      ['anderem', 'andere'],
    ]);
    expect(read('z. B.', 'xx')).toEqual([[], []]);
    expect(read('z.', 'de')).toEqual([[]]);
  });

  it('are hours with the word between their numbers, as German says them', () => {
    expect(read('um 14:30 Uhr, um 9.00 Uhr', 'de')).toEqual([...[[], ['14 Uhr'], ['30'], [], ['9'], []]]);
    expect(read('14 30 Uhr', 'de')).toEqual([[], ['Uhr'], ['30']]);
    expect(read('7 Uhr. 14:30 h', 'de')).toEqual([[], [], [], ['Stunden', 'Uhr']]);
  });

  it('are units only behind a number, and no words that look like them', () => {
    expect(read('3 kg. kg l 12 l', 'pt')).toEqual([
      ...[[], ['quilogramas', 'quilos'], [], [], [], ['litros']],
    ]);
    expect(read('no, no. m 5 m.', 'en')).toEqual([[], ['number'], [], [], ['metres']]);
  });
});

describe('talk among what is read', () => {
  /** Each for as long as the others; −1 is none of the text. */
  const read = (...words: number[]) =>
    withoutTalk(
      words.map((word, i) => ({ word, way: 0, start: 10 * i, end: 10 * (i + 1), score: 0, scoreBefore: 0 })),
    ).map(s => s.word);
  const from = (first: number, last: number) => Array.from({ length: last - first + 1 }, (_, k) => first + k);

  it('is what jumps about, and not what a reader stammers or reads again', () => {
    const talk = [3, 4, -1, 12, 13, 2, -1, 8, 9, 10, 1];
    const none = talk.map(() => -1);
    expect(read(...from(0, 15), ...talk)).toEqual([...from(0, 15), ...none]);
    expect(read(...from(0, 8), ...talk, ...from(9, 15))).toEqual([...from(0, 8), ...none, ...from(9, 15)]);
    for (const stammered of [
      [0, 1, 0, 1, 0, 1, 0, 1, ...from(2, 15)],
      [...from(0, 8), 7, 8, 7, 8, 6, 7, 8, ...from(9, 15)],
      [...from(0, 15), ...from(2, 7)],
      [0, 2, 3, 5, 6, 8, 9, 11],
      [],
    ])
      expect(read(...stammered)).toEqual(stammered);
  });

  it('is few words that were read before and lead nowhere, or little beside what is none of the text', () => {
    expect(read(...from(0, 15), 3, 4, 5)).toEqual([...from(0, 15), -1, -1, -1]);
    expect(read(...from(0, 15), 14, 15)).toEqual([...from(0, 15), 14, 15]);
    const little = [3, -1, -1, 4, 5, -1, -1, 6, -1, -1, 7];
    expect(read(...from(0, 15), ...little)).toEqual([...from(0, 15), ...little.map(() => -1)]);
    // Of a first reading nothing is lost, however little of it was heard.
    expect(read(...little)).toEqual(little);
  });
});

describe('a short word that was slurred', () => {
  // Somebody speaks all the time.
  const heard = new Float32Array(100 * SOUNDS.length).fill(-3);
  const wordsOf = (slurred: string, frames: number) => {
    const text = ['k_ˈa_z_a', slurred, 'p_ˈɔ_r_t_u'].map(ipa => ({ ipa, after: 'inside' as const }));
    const at = { way: 0, scoreBefore: 0, score: 0 };
    const said = [
      { ...at, word: 0, start: 0, end: 20 },
      { ...at, word: -1, start: 20, end: 20 + frames },
      { ...at, word: 2, start: 20 + frames, end: 80 },
    ];
    return withSlurred(heard, text, said).map(s => s.word);
  };

  it('was read where something short is put in that has room for it', () => {
    expect(wordsOf('i', 2)).toEqual([0, 1, 2]);
    expect(wordsOf('d_u', 12)).toEqual([0, 1, 2]);
  });

  it('was not where there is no room for its sounds, nor where it is long, silent, or more was put in', () => {
    expect(wordsOf('i', 1)).toEqual([0, -1, 2]);
    expect(wordsOf('d_u', 3)).toEqual([0, -1, 2]);
    expect(wordsOf('m_a_r', 12)).toEqual([0, -1, 2]);
    expect(wordsOf('', 12)).toEqual([0, -1, 2]);
    expect(wordsOf('i', 30)).toEqual([0, -1, 2]);
  });
});

describe('what a voice sounds like', () => {
  it('is the same whether it comes in one piece or in many, and however loud it is', () => {
    const sound = babble([8, 6], 4).samples;
    const whole = cepstraOf(sound);
    const meter = new CepstraMeter();
    const low = Float32Array.from(sound.filter((_, i) => i % 2 === 0));
    for (let at = 0; at < low.length; at += 777) meter.push(low.subarray(at, at + 777));
    const pieces = meter.finish();
    const again = new CepstraMeter();
    again.push(low.map(x => 0.1 * x));
    expect(pieces.length / CEPSTRA).toBe(Math.floor(low.length / 80) + 1);
    expect(Math.abs(whole.length - pieces.length)).toBeLessThanOrEqual(CEPSTRA);
    again.finish().forEach((v, i) => expect(v).toBeCloseTo(pieces[i]!, 2));
  });

  it('gives each kind of sound a share, which together are one', () => {
    const heard = soundsHeard(cepstraOf(babble([4], 4).samples));
    expect(heard.length % SOUNDS.length).toBe(0);
    expect(heard.every(Number.isFinite)).toBe(true);
    // However long the sound: what is heard in one go is what is heard at once, up to an odd last frame.
    const cepstra = cepstraOf(babble([4, 5, 3, 6, 4, 5, 3, 6, 4], 4).samples);
    const frames = 551;
    expect(cepstra.length / CEPSTRA).toBeGreaterThan(frames);
    const [all, some] = [soundsHeard(cepstra), soundsHeard(cepstra.subarray(0, frames * CEPSTRA))];
    expect(some).toHaveLength(frames * SOUNDS.length);
    const apart = some.subarray(0, (frames - 25) * SOUNDS.length).map((v, i) => Math.abs(v - all[i]!));
    expect(Math.max(...apart)).toBeLessThan(1e-6);
  });

  it('is no text where nothing sounds, or nothing was to be said', () => {
    const text = ['h_ˈɑː_b_ə', 'ˈiː_v_n_ɪ_ŋ', 'f_ˈɛ_ɹ_i'].map(ipa => ({ ipa, after: 'inside' as const }));
    const silence = cepstraOf(new Float32Array(32_000));
    expect(textHeard(silence, text)).toEqual({
      ...{ fits: false, words: [null, null, null], extra: [], syllables: 0, asked: null },
    });
    expect(textHeard(cepstraOf(babble([8, 6], 4).samples), text).fits).toBe(false);
    expect(textHeard(silence, []).fits).toBe(false);
    expect(textHeard(new Float32Array(0), text).fits).toBe(false);
    expect(inVoiceOf(silence, text)).toBeNull();
  });
});
