import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { tool } from '../recordings/tools';
import { Trouble } from '../../platform/trouble';

/** Languages that the voice of the server speaks, by their own tags; others have none. */
const VOICES = new Set([
  'ar', 'bg', 'bn', 'ca', 'cs', 'cy', 'da', 'de', 'el', 'en', 'es', 'et', 'eu', 'fa', 'fi', 'fr', 'ga', 'he', 'hi', 'hr',
  'hu', 'id', 'is', 'it', 'ja', 'ko', 'la', 'lt', 'lv', 'mi', 'ms', 'mt', 'nb', 'nl', 'pl', 'pt', 'ro', 'ru', 'sk', 'sl', 'sq', 'sr',
  'sv', 'sw', 'th', 'tr', 'uk', 'ur', 'vi',
]); // prettier-ignore

/** Slower than it would speak to somebody who listens to it all day. Words a minute. */
const RATE = '135';
/** Longer texts are for reading. */
const MOST_CHARACTERS = 3_000;
const TIMEOUT_MS = 20_000;

/** So many are said at a time; whoever comes later waits a moment. */
const AT_ONCE = 2;
let lanes: Promise<unknown>[] = Array.from({ length: AT_ONCE }, () => Promise.resolve());

/**
 * A text as sound, MP3, by the voice that ships with the server (espeak-ng): for devices that have none of their own.
 * @throws Trouble notFound for a language that it does not speak, or a text that is empty
 */
export function speak(language: string, text: string): Promise<Buffer> {
  const voice = language.split('-')[0]!.toLowerCase();
  const says = text.trim().slice(0, MOST_CHARACTERS);
  if (!VOICES.has(voice) || says === '')
    return Promise.reject(new Trouble('notFound', 'Nothing can be said here in this language.'));
  const [first, ...rest] = lanes;
  const said = first!.then(() => say(voice, says));
  lanes = [...rest, said.catch(() => undefined)];
  return said;
}

async function say(voice: string, says: string): Promise<Buffer> {
  const folder = await mkdtemp(join(tmpdir(), 'ecoute-says-'));
  try {
    const [raw, sound] = [join(folder, 'said.wav'), join(folder, 'said.mp3')];
    // Behind the two dashes a text is never an option.
    const bounds = { timeoutMs: TIMEOUT_MS };
    const said = await tool('espeak-ng', ['-v', voice, '-s', RATE, '-w', raw, '--', says], undefined, bounds);
    if (said.code !== 0) throw new Error(`The voice failed: ${said.stderr}`);
    const args = ['-v', 'error', '-i', raw, '-af', 'loudnorm=I=-18', '-ar', '24000', '-b:a', '40k', sound];
    const packed = await tool('ffmpeg', args, undefined, bounds);
    if (packed.code !== 0) throw new Error(`The voice could not be packed: ${packed.stderr}`);
    return await readFile(sound);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
