/**
 * The voice that leads a child: says one thing after another, and is silent as soon as something else begins. A teacher's
 * recording first, then a voice of the device that speaks the language, then the server's. Never while something is recorded.
 */
import { sentenceOf, spokenLanguage, type SpokenWord } from '@ecoute/core/voice/spokenWords';

export type Says =
  /** One of the sentences that lead on. */
  | { word: SpokenWord }
  /** A recording of the teacher's. */
  | { recordingId: string }
  /** Words of the teacher's, and where the server says them. */
  | { text: string; url: string };

export interface VoiceMeans {
  /** Plays a sound to its end. Rejects where it cannot be had, or the browser keeps the page silent. */
  play: (url: string, signal: AbortSignal) => Promise<void>;
  /** Speaks with a voice of the device; null where it has none for the language. */
  speak: ((text: string, signal: AbortSignal) => Promise<void>) | null;
}

/**
 * @param recorded the teacher's own recordings of the sentences
 * @param tag      the language of the screens, BCP 47
 * @returns whether all of it was said; false where it was stopped, or something could not be
 */
export async function sayAll(
  says: readonly Says[],
  recorded: ReadonlyMap<string, string>,
  tag: string,
  means: VoiceMeans,
  signal: AbortSignal,
): Promise<boolean> {
  const language = spokenLanguage(tag) ?? 'en';
  const sound = (id: string) => `/api/recordings/${id}/sound`;
  let isAll = true;
  for (const one of says) {
    if (signal.aborted) return false;
    try {
      if ('recordingId' in one) await means.play(sound(one.recordingId), signal);
      else if ('word' in one && recorded.has(one.word))
        await means.play(sound(recorded.get(one.word)!), signal);
      else if (means.speak)
        await means.speak('word' in one ? sentenceOf(one.word, language) : one.text, signal);
      else if ('word' in one) await means.play(`/api/spoken-words/${language}-${one.word}`, signal);
      else await means.play(`${one.url}?language=${encodeURIComponent(tag)}`, signal);
    } catch {
      isAll = false;
    }
  }
  return isAll && !signal.aborted;
}

/** A voice of the device, for a language; null where it has none. */
export function deviceVoice(tag: string): SpeechSynthesisVoice | null {
  if (!('speechSynthesis' in globalThis)) return null;
  const language = tag.split('-')[0]!.toLowerCase();
  const voices = speechSynthesis.getVoices().filter(v => v.lang.toLowerCase().startsWith(language));
  // One that needs no network speaks at once, and everywhere.
  return voices.find(v => v.localService) ?? voices[0] ?? null;
}

/** Slow enough for a child. */
const RATE = 0.85;

/** What the browser does it with. */
export function browserMeans(tag: string): VoiceMeans {
  const voice = deviceVoice(tag);
  return {
    play: (url, signal) =>
      new Promise((resolve, reject) => {
        const audio = new Audio(url);
        const over = () => {
          signal.removeEventListener('abort', stop);
          resolve();
        };
        const stop = () => {
          audio.pause();
          audio.removeAttribute('src');
          over();
        };
        signal.addEventListener('abort', stop);
        audio.onended = over;
        audio.onerror = () => reject(new Error('not to be had'));
        audio.play().catch(reject);
      }),
    speak:
      voice &&
      ((text, signal) =>
        new Promise(resolve => {
          const said = new SpeechSynthesisUtterance(text);
          said.voice = voice;
          said.lang = voice.lang;
          said.rate = RATE;
          said.onend = said.onerror = () => resolve();
          signal.addEventListener('abort', () => {
            speechSynthesis.cancel();
            resolve();
          });
          speechSynthesis.cancel();
          speechSynthesis.speak(said);
        })),
  };
}
