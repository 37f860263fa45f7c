// Voices with a known number of syllables: synthetic ones, and recordings of people that a list names.
import { readFileSync } from 'node:fs';
import { ran, samplesOf } from './sounds.mjs';

const VOWEL = /^[ˈˌ]?[aeiouyæɐɑɒɔəɚɛɜɪɨɵøœʊʌʉɯɤʏ]/;

/** What synthetic voices say in the bench of measures. */
export const TEXTS = {
  en: 'The old bell of the harbour rings at six in the morning, and the fishermen carry their nets down to the boats. Yesterday my sister bought bread, three lemons and a bottle of oil at the market.',
  pt: 'O velho sino do porto toca às seis da manhã e os pescadores levam as redes para os barcos. Ontem a minha irmã comprou pão, três limões e uma garrafa de azeite no mercado.',
  fr: 'La vieille cloche du port sonne à six heures du matin et les pêcheurs portent leurs filets vers les bateaux. Hier ma soeur a acheté du pain, trois citrons et une bouteille d’huile.',
  pl: 'Stary dzwon w porcie dzwoni o szóstej rano, a rybacy niosą sieci do łodzi. Wczoraj siostra kupiła chleb, trzy cytryny i butelkę oliwy na targu.',
};
/** And in learning, besides. */
const MORE_TEXTS = {
  de: 'Die alte Glocke im Hafen läutet um sechs Uhr morgens, und die Fischer tragen ihre Netze zu den Booten.',
  es: 'La vieja campana del puerto suena a las seis de la mañana. El perro de Ramón corre rápido por la carretera.',
  it: 'La vecchia campana del porto suona alle sei del mattino e i pescatori portano le reti alle barche.',
  fi: 'Sataman vanha kello soi kuudelta aamulla, ja kalastajat kantavat verkkonsa veneisiin.',
  ru: 'Старый колокол в порту звонит в шесть часов утра, и рыбаки несут сети к лодкам.',
  tr: 'Limanın eski çanı sabah altıda çalar ve balıkçılar ağlarını teknelere taşır.',
  sw: 'Kengele ya zamani ya bandari hulia saa kumi na mbili asubuhi, na wavuvi hubeba nyavu zao.',
};

/** Synthetic speakers of some texts by language, one after the other: { language, syllables, samples }. */
export function* syntheticSpeakers(texts, wav, { filter, variants = ['', '+f2', '+m3'] } = {}) {
  for (const [language, text] of Object.entries(texts))
    for (const variant of variants)
      for (const speed of [120, 150, 185]) {
        const voice = language + variant;
        ran('espeak-ng', ['-v', voice, '-s', String(speed), '-w', wav, text]);
        const phonemes = ran('espeak-ng', ['-q', '-v', voice, '--ipa', '--sep=_', text]).toString();
        const syllables = phonemes.split(/[_\s]+/).filter(p => VOWEL.test(p.normalize('NFD'))).length;
        yield { language, syllables, samples: samplesOf(wav, filter) };
      }
}

/** Recordings of people by a list: a JSON array of { file, lang, text, syllables }. */
export function* realSpeakers(list, filterOf) {
  const rows = JSON.parse(readFileSync(list, 'utf8'));
  for (const [i, { file, lang, syllables }] of rows.entries())
    yield { language: lang, syllables, samples: samplesOf(file, filterOf?.(i)) };
}

/** Quicker, slower, in a room with an echo; every fourth as it is. */
const CHANGES = ['atempo=1.25', 'atempo=0.85', 'aecho=0.9:0.6:35|61|89|127:0.35|0.25|0.2|0.12', 'anull'];
const FARTHER = 'aecho=0.9:0.8:23|41|67|97|139|193|251:0.5|0.42|0.36|0.3|0.24|0.18|0.13';
const LOUDER = 'acompressor=threshold=-30dB:ratio=6:makeup=8';
const TELEPHONE = 'highpass=200,lowpass=3400,lowpass=3400,aresample=8000,aresample=16000';

/** Learns the network anew, and says how well it counts and what `core/audio/syllableWeights.json` would be. */
export function fitSyllables(core, wav, list, say) {
  const { exampleOf, overNoise } = core;
  const examples = [];
  const add = (speakers, groupOf, floor) => {
    for (const s of speakers)
      examples.push(exampleOf(floor ? overNoise(s.samples, floor) : s.samples, s.syllables, groupOf(s)));
  };
  say('reading the voices …');
  add(realSpeakers(list), s => s.language);
  add(
    realSpeakers(list, i => CHANGES[i % 4]),
    s => `${s.language}, changed`,
  );
  add(
    realSpeakers(list, () => FARTHER),
    s => `${s.language}, in a hall`,
    -50,
  );
  add(
    realSpeakers(list, i => [LOUDER, TELEPHONE][i % 2]),
    s => `${s.language}, by other devices`,
  );
  const texts = { ...TEXTS, ...MORE_TEXTS };
  add(syntheticSpeakers(texts, wav), () => 'synthetic', -60);
  add(syntheticSpeakers(texts, wav, { filter: TELEPHONE }), () => 'telephone', -50);
  add(syntheticSpeakers(texts, wav, { variants: ['+f1', '+f4', '+m1'] }), () => 'in a loud room', -44);
  add(syntheticSpeakers(texts, wav, { variants: ['+croak'] }), () => 'creaking', -60);
  add(syntheticSpeakers(texts, wav, { variants: ['+whisper', '+whisperf'] }), () => 'breath alone', -60);
  for (let seed = 1; seed <= 30; seed++) {
    const { samples, syllables } = core.babble([6, 4, 9], seed, 0.5, [0.14, 0.16, 0.2, 0.24, 0.3][seed % 5]);
    examples.push(exampleOf(overNoise(samples, -60, seed), syllables, 'babble'));
  }
  const layers = core.fitted(examples, { creaking: 0.5, 'breath alone': 0.3, babble: 0.5 }, (epoch, loss) =>
    say(`time ${epoch} through all: ${loss.toFixed(4)}`),
  );
  for (const group of new Set(examples.map(e => e.group))) {
    const own = examples.filter(e => e.group === group);
    const off = own.map(e => core.counted(e, layers) / e.syllables - 1);
    const mean = values => (100 * values.reduce((a, b) => a + b, 0)) / values.length;
    console.log(
      `${group.padEnd(20)} ${own.length} recordings, mean error ${mean(off.map(Math.abs)).toFixed(1)} %, mean ${mean(off).toFixed(1)} %`,
    );
  }
  console.log(core.asStored(layers));
}
