/**
 * How the words of a text sound, as a reference voice says them (espeak-ng, started as a program; it writes the sounds down in
 * the International Phonetic Alphabet). Runs in worker threads.
 */
import { soundsOfWord } from '@ecoute/core/words/ipa';
import { inFull } from '@ecoute/core/words/abbreviations';
import type { TextWord } from '@ecoute/core/words/textHeard';
import type { WrittenWord } from '@ecoute/core/words/writtenWords';
import { asked } from '../recordings/tools';

export type Reference =
  | { words: TextWord[] }
  /** Why there is none, for whoever reads the figures. */
  | { unknown: Unknown };
export type Unknown = 'noLanguage' | 'noVoice' | 'notInstalled';

/** Of a language tag, what a voice can be named by; nothing else is handed to the program. */
const TAG = /^[a-z]{2,3}(-[a-z0-9]{2,8})*$/;
/** Chinese is spoken in many languages; this is the one that the voice speaks. */
const OWN_NAMES: Record<string, string> = { zh: 'cmn' };
/** Accents of one language that sound differently enough to be taken for other words; who reads may have any of them. */
const ACCENTS: Record<string, readonly string[]> = {
  en: ['en', 'en-us'],
  es: ['es', 'es-419'],
  pt: ['pt', 'pt-br'],
};
/** A pause between two words makes a line for each. */
const BREAK = ' <break time="100ms"/> ';
const WORDS_AT_ONCE = 150;
const TIMEOUT_MS = 20_000;
/** Signs that it cannot read in a language are named in English; where more than so many words are, it does not read this script. */
const MOST_NAMED = 0.3;

/**
 * @param language BCP 47, or empty
 * @returns each word in the accent that the language names, and in the others of that language
 * @throws Error when the program fails for another reason than that it is not there
 */
export async function referenceOf(written: readonly WrittenWord[], language: string): Promise<Reference> {
  const tag = language.toLowerCase();
  if (!TAG.test(tag)) return { unknown: 'noLanguage' };
  const primary = tag.split('-')[0]!;
  for (const name of new Set([OWN_NAMES[primary] ?? tag, OWN_NAMES[primary] ?? primary])) {
    let ipa: string[] | null;
    const words = written.map(w => w.written);
    try {
      ipa = await said(words, name);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return { unknown: 'notInstalled' };
      throw error;
    }
    if (!ipa) continue;
    const named = ipa.filter(i => i.includes('(en)')).length;
    if (primary !== 'en' && named > MOST_NAMED * ipa.length) return { unknown: 'noVoice' };
    const others: (string | null)[][] = [
      await saidTogether(written, ipa, name),
      ...(await saidInFull(words, primary, name)),
    ];
    for (const accent of ACCENTS[primary] ?? []) {
      const other = accent === name ? null : await said(words, accent);
      if (other) others.push(other);
    }
    return {
      words: written.map((w, i) =>
        inAccents(
          ipa[i]!,
          others.flatMap(o => o[i] ?? []),
          w,
        ),
      ),
    };
  }
  return { unknown: 'noVoice' };
}

/** A word by itself as one accent has it, and as it is said otherwise beside its neighbours and in other accents. */
function inAccents(own: string, others: readonly string[], { after }: WrittenWord): TextWord {
  const soundsAs = (ipa: string) =>
    soundsOfWord(ipa)
      .map(s => s.kinds.join())
      .join(' ');
  const [ipa, ...rest] = [own, ...others].map(said => said.replace(/\([a-z-]+\)/g, ''));
  // What another accent leaves out altogether is no way to say it.
  const alike = new Set([soundsAs(ipa!), '']);
  const otherIpa = rest.filter(said => !alike.has(soundsAs(said)) && alike.add(soundsAs(said)));
  return otherIpa.length > 0 ? { ipa: ipa!, otherIpa, after } : { ipa: ipa!, after };
}

/** Abbreviations as people read them out: in each list one way of each word, null for words that are none. */
async function saidInFull(
  words: readonly string[],
  primary: string,
  voice: string,
): Promise<(string | null)[][]> {
  const ways = inFull(words, primary);
  const all = await said(ways.flat(), voice);
  if (!all) return [];
  let at = 0;
  const ofEach = ways.map(own => own.map(() => all[at++]!));
  const most = Math.max(0, ...ofEach.map(own => own.length));
  return Array.from({ length: most }, (_, k) => ofEach.map(own => own[k] ?? null));
}

/** Where words run into each other, the voice writes them as one: then two by two are said together. */
const TWO = 2;

/**
 * Each word as it is said with its neighbours up to the next pause: articles and prepositions of one letter are named where
 * they stand alone (“η” is “ita”), others are reduced or bound. Null where it cannot be told from them.
 * @param alone each word said by itself
 */
async function saidTogether(
  written: readonly WrittenWord[],
  alone: readonly string[],
  voice: string,
): Promise<(string | null)[]> {
  const ipa = written.map((): string | null => null);
  // A number may be several words, and would be shared out among its neighbours.
  const isOne = (w: number) => !/\p{N}/u.test(written[w]!.written);
  let runs = runsOf(written);
  for (const most of [Infinity, TWO]) {
    runs = runs.flatMap(run => inParts(run, most)).filter(run => run.length > 1);
    const lines = await said(
      runs.map(run => run.map(w => written[w]!.written).join(' ')),
      voice,
    );
    if (!lines) return ipa;
    runs = runs.filter((run, r) => {
      const parts = lines[r]!.split(/\s+/);
      const [first, second] = [run[0]!, run[1]!];
      if (parts.length === run.length && run.every(isOne)) run.forEach((w, k) => (ipa[w] = parts[k]!));
      else if (run.length > TWO) return true;
      else if (parts.length === 1) {
        ipa[first] = before(parts[0]!, alone[second]!);
        ipa[second] = after(parts[0]!, alone[first]!);
      }
      return false;
    });
  }
  return ipa;
}

const plain = (ipa: string) => ipa.replace(/[ˈˌ]/g, '');

/** Of two words written as one, the first; null where that does not end as the second is said by itself. */
function before(both: string, second: string): string | null {
  const end = `_${plain(second)}`;
  return plain(both).endsWith(end) ? plain(both).slice(0, -end.length) : null;
}

/** The second, where that begins as the first is said by itself. */
function after(both: string, first: string): string | null {
  const begin = `${plain(first)}_`;
  return plain(both).startsWith(begin) ? plain(both).slice(begin.length) : null;
}

/** The indexes of words that nothing parts. */
function runsOf(written: readonly WrittenWord[]): number[][] {
  const runs: number[][] = [[]];
  written.forEach(({ after }, w) => {
    runs.at(-1)!.push(w);
    if (after !== 'inside') runs.push([]);
  });
  return runs;
}

function inParts(run: readonly number[], most: number): number[][] {
  const size = Math.min(most, run.length);
  return Array.from({ length: Math.ceil(run.length / size) || 0 }, (_, k) =>
    run.slice(k * size, (k + 1) * size),
  );
}

/** Each word in IPA, its phonemes parted by `_`; null where there is no such voice. */
async function said(words: readonly string[], voice: string): Promise<string[] | null> {
  const all: string[] = [];
  for (let at = 0; at < words.length; at += WORDS_AT_ONCE) {
    const some = await saidAtOnce(words.slice(at, at + WORDS_AT_ONCE), voice);
    if (!some) return null;
    all.push(...some);
  }
  return all;
}

async function saidAtOnce(words: readonly string[], voice: string): Promise<string[] | null> {
  const marked = words
    .map(w => w.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;'))
    .join(BREAK);
  const args = ['-q', '-m', '--ipa', '--sep=_', '-v', voice, '--', `<speak>${marked}</speak>`];
  const { code, out } = await asked('espeak-ng', args, TIMEOUT_MS);
  if (code === null) throw new Error('The reference voice did not come to an end.');
  if (code !== 0) return null;
  const lines = out
    .split('\n')
    .map(l => l.trim())
    .filter(l => l !== '');
  if (lines.length === words.length) return lines;
  // A number may be run together with what follows, or a word be said in two clauses: the place is found by halves.
  if (words.length === 1) return [lines.join('_')];
  const middle = words.length >> 1;
  const before = await saidAtOnce(words.slice(0, middle), voice);
  const after = before && (await saidAtOnce(words.slice(middle), voice));
  return before && after && [...before, ...after];
}
