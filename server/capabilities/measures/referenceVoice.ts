/**
 * How the words of a text sound, as a reference voice says them (espeak-ng, started as a program; it writes the sounds down in
 * the International Phonetic Alphabet). Runs in worker threads.
 */
import { soundsOfWord } from '@ecoute/core/words/ipa';
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
    const others: string[][] = [];
    for (const accent of ACCENTS[primary] ?? []) {
      const other = accent === name ? null : await said(words, accent);
      if (other) others.push(other);
    }
    return {
      words: written.map((w, i) =>
        inAccents(
          ipa[i]!,
          others.map(o => o[i]!),
          w,
        ),
      ),
    };
  }
  return { unknown: 'noVoice' };
}

/** A word as one accent has it, and as others have it that say it otherwise. */
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
