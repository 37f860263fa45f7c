// ./ecoute bench words: how well the words of a known text are found in what was said. People come from the list that
// ECOUTE_VOICES names; they were learnt from, so expect somebody new to do worse.
import { readFileSync } from 'node:fs';
import { performance } from 'node:perf_hooks';
import { RATE, ran, samplesOf } from './sounds.mjs';
import { TEXTS } from './speakers.mjs';

const GAP = new Float32Array(0.3 * RATE);
const joined = parts => {
  const all = new Float32Array(parts.reduce((n, p) => n + p.length + GAP.length, 0));
  parts.reduce((at, p) => (all.set(p, at), at + p.length + GAP.length), 0);
  return all;
};
const share = (hits, of) => `${hits} of ${of}`;
const per100 = (n, of) => `${((100 * n) / Math.max(1, of)).toFixed(2)} in 100`;
const middle = values => [...values].sort((a, b) => a - b)[values.length >> 1];
const at95 = values => [...values].sort((a, b) => a - b)[Math.floor(0.95 * values.length)];

/** Sentences with their sounds, by who says them: { name, language, said: { text, samples, syllables | null }[] }. */
function* speakers(wav) {
  const list = process.env.ECOUTE_VOICES;
  const people = list ? JSON.parse(readFileSync(list, 'utf8')) : [];
  for (const language of new Set(people.map(p => p.lang)))
    yield {
      name: `one who speaks ${language}`,
      language,
      said: people
        .filter(p => p.lang === language && p.syllables >= 8 && p.syllables <= 30 && !/\d/.test(p.text))
        .map(p => ({ text: p.text, samples: samplesOf(p.file), syllables: p.syllables })),
    };
  for (const [language, text] of Object.entries(TEXTS))
    yield {
      name: `synthetic voices, ${language}`,
      language,
      said: ['+f3', '+m2', '+f5'].flatMap(variant =>
        text.split(/(?<=[.,])\s+/).map(sentence => {
          ran('espeak-ng', ['-v', language + variant, '-s', '165', '-w', wav, sentence]);
          return { text: sentence, samples: samplesOf(wav), syllables: null };
        }),
      ),
    };
}

/** @param core what `bench/hearing.ts` hands on */
export async function words(core, wav, say) {
  const { cepstraOf, randomFrom, referenceOf, suggestionsOf, textHeard, writtenTokens } = core;
  const texts = new Map();
  const textOf = async (text, language) => {
    const key = `${language} ${text}`;
    if (!texts.has(key)) texts.set(key, (await referenceOf(writtenTokens(text), language)).words);
    return texts.get(key);
  };
  const rows = [];
  for (const { name, language, said } of speakers(wav)) {
    say(`${name} …`);
    const random = randomFrom(7);
    const pick = list => list[Math.floor(random() * list.length)];
    const own = [];
    for (const s of said)
      own.push({
        ...s,
        cepstra: cepstraOf(s.samples),
        words: await textOf(s.text, language),
        letters: writtenTokens(s.text).map(w => w.written.replace(/[^\p{L}\p{N}]/gu, '').length),
      });
    const sum = {
      fits: 0,
      others: 0,
      words: 0,
      out: 0,
      back: 0,
      put: 0,
      offered: 0,
      off: 0,
      planted: 0,
      found: 0,
      sec: 0,
      ms: 0,
    };
    for (const s of own) {
      const began = performance.now();
      const heard = textHeard(cepstraOf(s.samples), s.words);
      sum.ms += performance.now() - began;
      sum.sec += s.samples.length / RATE;
      sum.words += s.words.length;
      sum.fits += Number(heard.fits);
      if (heard.fits) {
        sum.out += heard.words.filter(w => !w).length;
        sum.back += heard.extra.filter(e => e.kind === 'repeat').length;
        sum.put += heard.extra.filter(e => e.kind === 'inserted').length;
        sum.offered += suggestionsOf(heard, s.letters).length;
        if (s.syllables) sum.off += Math.abs(heard.syllables - s.syllables) / s.syllables;
      }
      const other = pick(own.filter(o => o.text !== s.text));
      sum.others += Number(textHeard(s.cepstra, other.words).fits);
      // A word more in the text is a word that was left out.
      const more = pick(own.flatMap(o => o.words).filter(w => w.ipa.split('_').length > 2));
      const at = 1 + Math.floor(random() * Math.max(1, s.words.length - 1));
      const withMore = textHeard(s.cepstra, [...s.words.slice(0, at), more, ...s.words.slice(at)]);
      sum.planted += 1;
      sum.found += Number(withMore.fits && withMore.words[at] === null);
    }
    const sentences = { left: 0, twice: 0, tried: 0 };
    for (let k = 0; k < 40; k++) {
      const three = [pick(own), pick(own), pick(own)];
      if (new Set(three.map(s => s.text)).size < 3) continue;
      const [a, b, c] = three;
      const all = three.flatMap(s => s.words);
      const from = a.words.length;
      const isOfB = i => i >= from && i < from + b.words.length;
      const left = textHeard(cepstraOf(joined([a.samples, c.samples])), all);
      const twice = textHeard(cepstraOf(joined([a.samples, b.samples, b.samples, c.samples])), all);
      sentences.tried += 1;
      const gone = left.words.filter((w, i) => !w && isOfB(i)).length;
      sentences.left += Number(left.fits && gone >= 0.8 * b.words.length);
      const again = twice.extra
        .filter(e => e.kind === 'repeat' && isOfB(e.fromIndex))
        .reduce((n, e) => n + e.toIndex - e.fromIndex + 1, 0);
      sentences.twice += Number(twice.fits && again >= 0.7 * b.words.length);
    }
    rows.push(
      [`${name}: sentences that fit, and others that do`, `${share(sum.fits, said.length)}, ${sum.others}`],
      ['  words read rightly, said to be left out', per100(sum.out, sum.words)],
      ['  … said again', per100(sum.back, sum.words)],
      ['  … with something put in', per100(sum.put, sum.words)],
      ['  … and so suggested to whoever keeps the record', per100(sum.offered, sum.words)],
      ['  a word left out found', share(sum.found, sum.planted)],
      ['  a sentence left out, said twice', `${sentences.left}, ${sentences.twice} of ${sentences.tried}`],
      ...(own[0].syllables
        ? [
            [
              '  syllables by the words that were read, mean error',
              `${((100 * sum.off) / sum.fits).toFixed(1)} %`,
            ],
          ]
        : []),
      ['  a minute of reading, on one core', `${((60 * sum.ms) / sum.sec).toFixed(0)} ms`],
    );
  }
  rows.push(...(await beginnings(core, wav, textOf)));
  return rows;
}

/** Words spoken one by one: each begins where a silence ends. */
async function beginnings({ cepstraOf, textHeard }, wav, textOf) {
  const off = [];
  for (const [language, text] of Object.entries(TEXTS))
    for (const [variant, rate] of [
      ['+f2', 175],
      ['+m4', 130],
    ]) {
      const parted = `<speak>${text.split(/\s+/).join(' <break time="250ms"/> ')}</speak>`;
      ran('espeak-ng', ['-m', '-v', language + variant, '-s', String(rate), '-w', wav, '--', parted]);
      const samples = samplesOf(wav).map((x, i) => x + 0.0005 * Math.sin(i * i * 0.37));
      const heard = textHeard(cepstraOf(samples), await textOf(text, language));
      const starts = heard.words.flatMap(w => (w ? [w.startSec] : []));
      for (const sec of ends(samples)) off.push(Math.min(...starts.map(s => Math.abs(s - sec))));
    }
  return [
    [
      'words spoken one by one: beginnings off, middle and 95 %',
      `${(1000 * middle(off)).toFixed(0)}, ${(1000 * at95(off)).toFixed(0)} ms`,
    ],
  ];
}

/** Where silences of 150 ms and more end, in seconds: what closes inside of a word is shorter. */
function ends(samples) {
  const hop = RATE / 200;
  const found = [];
  for (let n = 0, quiet = 0; (n + 1) * hop < samples.length; n++) {
    const level = samples.subarray(n * hop, (n + 1) * hop).reduce((sum, x) => sum + x * x, 0) / hop;
    if (level < 5e-7) quiet += 1;
    else {
      if (quiet > 30) found.push(n / 200);
      quiet = 0;
    }
  }
  return found;
}

export function printWords(rows) {
  for (const [name, here] of rows) console.log(`${name.padEnd(64)}${here}`);
}
