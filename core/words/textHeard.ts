/** A text that was to be spoken, laid on what was heard: each word at its time, and where the two part. */
import { FRAME_SEC } from './cepstra';
import { isSpeaking, likelihood, SOUNDS, soundsHeard } from './speechSounds';
import { soundsOfWord } from './ipa';
import { shareSaid } from './shareSaid';
import { soundTimes } from './soundTimes';
import { LEAST_FRAMES, PUT_IN_FRAME, wordPath, type Said, type Sound } from './wordPath';
import type { Stretch } from '../audio/activity';
import type { Boundary } from './boundary';

export interface TextWord {
  /** As a reference voice says it, in signs of the IPA. */
  ipa: string;
  /** As voices with other accents of the language say it, where that is not the same. */
  otherIpa?: readonly string[];
  after: Boundary;
  /** As somebody was heard to say them; left out, as the signs have them. */
  sounds?: readonly Sound[];
}

export interface Extra extends Stretch {
  /** Words said again, or what is none of the text. */
  kind: 'repeat' | 'inserted';
  /** First and last word of what was said again; of what was put in, null. */
  fromIndex: number | null;
  toIndex: number | null;
  /** The word that was said before it; −1 before the first. */
  afterIndex: number;
}

export interface TextHeard {
  /** False where what is heard is not this text, or in another language; nothing is laid then. */
  fits: boolean;
  /** When each word was said, the first time; null where it was left out. */
  words: (Stretch | null)[];
  extra: Extra[];
  /** Syllables of what was said of the text, those said again too. */
  syllables: number;
  /** Of a text of which a part was spoken, the indexes of its words: all others are somebody else's. Null where it is all of it. */
  asked: readonly number[] | null;
}

/** Over the frames in which somebody speaks, the text may fall so far behind the likeliest sounds. */
const MOST_BEHIND = 0.9;
/** From far off or in a room that rings even the right text falls further behind: then it must nearly all be there, in its order. */
const MOST_BEHIND_WHOLE = 1.25;
/** A short text may be met in another by chance, and has to be nearer. */
const SHORT_TEXT = { words: 5, mostBehind: 1.2 };
const WHOLE = { read: 0.75, covered: 0.75, jumps: 2, jumpsEach: 0.1 } as const;
/** So little is no text. */
const LEAST_WORDS = 3;
/** Of the words that are said, so many come out of their order: more is another text that shares words with this. */
const MOST_JUMPS = 0.2;
/** So many words are still in one's mouth. */
const JUST_SAID = 4;
/** Of words that are said again, so many are away from the one before: more tells in one's own words what was read. */
const MOST_JUMPS_AGAIN = 0.1;
/** Of the words, or of the time in which somebody speaks: the one where a part of the text is read, the other where more is said. */
const LEAST_SHARE = 0.6;
/** So few words may be strays, where they lie further than this from their neighbours. */
const MOST_STRAY = 2;
/** And so few, where they were said before and lead nowhere. */
const MOST_STRAY_AGAIN = 4;
const NEAR_WORDS = 2;
/** What is put in and shorter than this is a breath or a slip of the tongue. */
const LEAST_PUT_IN_SEC = 0.25;
/** Nearer to each other, two things that are put in are one; before the text and behind it all is one, whatever pauses it has. */
const JOINED_SEC = 0.3;

/**
 * @param cepstra of the recording
 * @param ways what of the text may have been spoken, each as the indexes of its words; the one that says most of what is heard is taken
 * @returns times in seconds of the recording; what does not fit has no times
 */
export function textHeard(
  cepstra: Float32Array,
  text: readonly TextWord[],
  ways: readonly (readonly number[])[] | null = null,
): TextHeard {
  const heard = soundsHeard(cepstra);
  if (!ways) return laidOn(heard, text);
  let best: TextHeard | null = null;
  let most = 0;
  for (const asked of ways) {
    const found = laidOn(
      heard,
      asked.map(w => text[w]!),
    );
    const share = found.fits ? shareSaid(found) : 0;
    if (share > most) {
      most = share;
      best = amongAll(found, asked, text.length);
    }
  }
  return best ?? notHeard(text);
}

const notHeard = (text: readonly TextWord[]): TextHeard => ({
  fits: false,
  words: text.map(() => null),
  extra: [],
  syllables: 0,
  asked: null,
});

/** What was found of some words of a text, by their indexes among all of it. */
function amongAll(found: TextHeard, asked: readonly number[], count: number): TextHeard {
  const words: TextHeard['words'] = Array.from({ length: count }, () => null);
  asked.forEach((w, k) => (words[w] = found.words[k]!));
  const of = (k: number | null) => (k === null ? null : k < 0 ? k : asked[k]!);
  const extra = found.extra.map(e => ({
    ...e,
    fromIndex: of(e.fromIndex),
    toIndex: of(e.toIndex),
    afterIndex: of(e.afterIndex)!,
  }));
  return { ...found, words, extra, asked: asked.length === count ? null : asked };
}

const laidOn = (heard: Float32Array, text: readonly TextWord[]): TextHeard => laid(heard, text).found;

/** How far, each frame, what is none of the text has to be behind what the text itself loses of this voice. */
const BEYOND_OWN = 1.1;

/**
 * The way of a voice through a text. Who is heard well falls little behind, so another word in place of one is told sooner;
 * who is heard badly would have many words that are none.
 */
function wayThrough(heard: Float32Array, text: readonly TextWord[]) {
  const words = text.map(word => ({ ways: waysOf(word), after: word.after }));
  const laidFor = (putInFrame: number) => {
    const { said, free } = wordPath(heard, words, putInFrame);
    return { said: withSlurred(heard, text, withoutTalk(withoutStrays(said))), free };
  };
  const first = laidFor(PUT_IN_FRAME);
  if (!first.said.some(s => s.word >= 0)) return first;
  const own = behind(heard, first.free, first.said) + BEYOND_OWN;
  return own < PUT_IN_FRAME ? laidFor(own) : first;
}

/** @returns what was found, and each word as it was said; nothing said where it does not fit */
function laid(heard: Float32Array, text: readonly TextWord[]): { found: TextHeard; spoken: readonly Said[] } {
  const none = { found: notHeard(text), spoken: [] };
  const { said, free } = wayThrough(heard, text);
  const spoken = said.filter(s => s.word >= 0);
  if (spoken.length < Math.max(1, Math.min(LEAST_WORDS, text.length))) return none;
  const read = shareRead(spoken, text.length);
  const covered = shareCovered(heard, spoken);
  if (Math.max(read, covered) < LEAST_SHARE) return none;
  const jumped = jumps(spoken);
  if (jumped > 1 + MOST_JUMPS * spoken.length) return none;
  const isWhole =
    read >= WHOLE.read &&
    covered >= WHOLE.covered &&
    jumped <= Math.max(WHOLE.jumps, WHOLE.jumpsEach * spoken.length);
  const mostWhole = text.length > SHORT_TEXT.words ? MOST_BEHIND_WHOLE : SHORT_TEXT.mostBehind;
  if (behind(heard, free, said) > (isWhole ? mostWhole : MOST_BEHIND)) return none;
  const found: (Stretch | null)[] = text.map(() => null);
  const extra: Extra[] = [];
  let before = -1;
  for (const s of said) {
    const stretch = { startSec: s.start * FRAME_SEC, endSec: s.end * FRAME_SEC };
    const last = extra.at(-1);
    if (s.word < 0) {
      const isOutside = s.end <= spoken[0]!.start || s.start >= spoken.at(-1)!.end;
      if (
        last?.kind === 'inserted' &&
        last.afterIndex === before &&
        (isOutside || stretch.startSec - last.endSec < JOINED_SEC)
      )
        last.endSec = stretch.endSec;
      else if (isPutIn(heard, s))
        extra.push({ ...stretch, kind: 'inserted', fromIndex: null, toIndex: null, afterIndex: before });
      continue;
    }
    if (!found[s.word]) found[s.word] = stretch;
    else if (last?.kind === 'repeat' && last.toIndex === s.word - 1 && before === s.word - 1) {
      last.endSec = stretch.endSec;
      last.toIndex = s.word;
    } else extra.push({ ...stretch, kind: 'repeat', fromIndex: s.word, toIndex: s.word, afterIndex: before });
    before = s.word;
  }
  // What has no sound cannot be left out: it goes with the word before it.
  text.forEach((word, w) => {
    const beside = found[w - 1];
    if (waysOf(word)[0]!.length === 0 && beside)
      found[w] = { startSec: beside.endSec, endSec: beside.endSec };
  });
  const syllables = spoken.reduce((sum, s) => sum + syllablesOf(ipasOf(text[s.word]!)[s.way]!), 0);
  return { found: { fits: true, words: found, extra, syllables, asked: null }, spoken };
}

const ipasOf = ({ ipa, otherIpa = [] }: TextWord) => [ipa, ...otherIpa];

/** The sounds of a word in each accent; in one reader's own voice only as they say it. */
const waysOf = (word: TextWord): (readonly Sound[])[] =>
  word.sounds ? [word.sounds] : ipasOf(word).map(soundsOfWord);

/** A consonant with a stroke under it is a syllable, too. */
const VOWEL = /[iyɨʉɯuɪʏʊeøɘɵɤoəɛœɜɞʌɔæɐaɶɑɒɚɝᵻ]|\u0329/u;

/** Syllables of a word in IPA whose phonemes are parted by `_`: one for each vowel or glide, and consonants that are one. */
export function syllablesOf(ipa: string): number {
  return ipa.split('_').filter(phoneme => VOWEL.test(phoneme.normalize('NFD'))).length;
}

/**
 * A hum or a breath may sound like a short word from far off in the text. So few words, away from what was said before and
 * from what was said next, were not read there: they are none of the text. The shortest goes first, for beside it others
 * look strayed that are not.
 */
function withoutStrays(said: readonly Said[]): Said[] {
  for (let all = [...said]; ;) {
    const stray = strays(all).sort((a, b) => length(a) - length(b))[0];
    if (!stray) return all;
    all = all.map(s => (stray.includes(s) ? { ...s, word: -1 } : s));
  }
}

const length = (run: readonly Said[]) => run.at(-1)!.end - run[0]!.start;

/** The runs of words in their order that are short and lie far from their neighbours. */
function strays(said: readonly Said[]): Said[][] {
  const runs: Said[][] = [];
  for (const s of said.filter(one => one.word >= 0)) {
    const last = runs.at(-1)?.at(-1);
    if (last && s.word === last.word + 1) runs.at(-1)!.push(s);
    else runs.push([s]);
  }
  const isFar = (run: readonly Said[], from: number | undefined) =>
    from === undefined || from < run[0]!.word - NEAR_WORDS || from > run.at(-1)!.word + NEAR_WORDS;
  return runs.filter((run, i) => {
    const next = runs[i + 1]?.[0]!.word;
    if (run.length > MOST_STRAY || next === undefined) return false;
    return isFar(run, runs[i - 1]?.at(-1)!.word) && isFar(run, next);
  });
}

/**
 * Who goes on to speak freely, or is asked something in between, says words of the text, too. They were not read there where
 * they are a few at a time and have no order, or were read before and lead nowhere: then all of it is none of the text.
 */
export function withoutTalk(said: readonly Said[]): Said[] {
  const talk = new Set<Said>();
  let furthest = -1;
  let between: Said[] = [];
  const settle = () => {
    const few = between.filter(s => s.word >= 0);
    if (isTalk(between, furthest)) few.forEach(s => talk.add(s));
    else furthest = Math.max(furthest, ...few.map(s => s.word));
    between = [];
  };
  for (const run of runsOf(said)) {
    if (new Set(run.map(s => s.word)).size > MOST_STRAY_AGAIN) {
      settle();
      furthest = Math.max(furthest, run.at(-1)!.word);
    } else between.push(...run);
  }
  settle();
  return said.map(s => (talk.has(s) ? { ...s, word: -1 } : s));
}

/** What was said in one go: words that follow each other, each perhaps more than once; what is none of the text by itself. */
function runsOf(said: readonly Said[]): Said[][] {
  const runs: Said[][] = [];
  for (const s of said) {
    const last = runs.at(-1)?.at(-1);
    if (last && s.word >= 0 && last.word >= 0 && (s.word === last.word || s.word === last.word + 1))
      runs.at(-1)!.push(s);
    else runs.push([s]);
  }
  return runs;
}

/** @param between what was said between words that were read for certain @param furthest the last of those before it */
function isTalk(between: readonly Said[], furthest: number): boolean {
  const few = between.filter(s => s.word >= 0);
  const [first, last] = [few[0], few.at(-1)];
  if (!first || !last) return false;
  // Back to a word that was just said is a stammer: who struggles with two words says them again and again.
  const jumped = few.filter((s, i) => {
    const by = s.word - (few[i - 1] ?? s).word;
    return (
      by > 1 + NEAR_WORDS ||
      (by < 0 && few.slice(Math.max(0, i - JUST_SAID), i).every(b => b.word !== s.word))
    );
  }).length;
  const isNew = few.some(s => s.word > furthest);
  if (jumped > 1 + (isNew ? MOST_JUMPS : MOST_JUMPS_AGAIN) * few.length) return true;
  if (isNew) return false;
  const isAway = ({ word }: Said) => word < furthest - NEAR_WORDS;
  if (few.length <= MOST_STRAY_AGAIN) return isAway(first) && isAway(last);
  const framesOf = (all: readonly Said[]) => all.reduce((sum, s) => sum + s.end - s.start, 0);
  const besides = between.slice(between.indexOf(first), between.indexOf(last)).filter(s => s.word < 0);
  return framesOf(besides) > framesOf(few);
}

/** Words of so few sounds are slurred. */
const SLURRED_SOUNDS = 2;

/** What is put in where one such word is missing, and is too short for anything else but has room for its sounds, is that word. */
export function withSlurred(heard: Float32Array, text: readonly TextWord[], said: readonly Said[]): Said[] {
  return said.map((s, i) => {
    const word = (said[i - 1]?.word ?? -1) + 1;
    const isInPlace = s.word < 0 && said[i + 1]?.word === word + 1;
    if (!isInPlace || isPutIn(heard, s)) return s;
    const sounds = waysOf(text[word]!)[0]!.length;
    const isSlurred = sounds > 0 && sounds <= SLURRED_SOUNDS && s.end - s.start >= LEAST_FRAMES * sounds;
    return isSlurred ? { ...s, word } : s;
  });
}

const isPutIn = (heard: Float32Array, { start, end }: Said) =>
  speakingFrames(heard, start, end) * FRAME_SEC >= LEAST_PUT_IN_SEC;

const shareRead = (spoken: readonly Said[], words: number) => new Set(spoken.map(s => s.word)).size / words;

function jumps(spoken: readonly Said[]): number {
  return spoken.filter((s, i) => i > 0 && s.word !== spoken[i - 1]!.word + 1).length;
}

function shareCovered(heard: Float32Array, spoken: readonly Said[]): number {
  const all = speakingFrames(heard, 0, heard.length / SOUNDS.length);
  return spoken.reduce((sum, s) => sum + speakingFrames(heard, s.start, s.end), 0) / Math.max(1, all);
}

function speakingFrames(heard: Float32Array, from: number, to: number): number {
  let frames = 0;
  for (let t = from; t < to; t++) frames += Number(isSpeaking(heard, t));
  return frames;
}

/** How far the text falls behind the likeliest sounds, in each frame of speech between its first and its last word. */
function behind(heard: Float32Array, free: Float64Array, said: readonly Said[]): number {
  const spoken = said.filter(s => s.word >= 0);
  const [first, last] = [spoken[0]!, spoken.at(-1)!];
  const lost = free[last.end]! - free[first.start]! - (last.score - first.scoreBefore);
  return lost / Math.max(1, speakingFrames(heard, first.start, last.end));
}

/** Half of what is expected of a sound is what its signs say, half what was heard of it. */
const OWN_SHARE = 0.5;
/** A kind that was heard less than this is left out. */
const LEAST_KIND = 0.02;

/**
 * The words of a text as one reader says them: each sound as it was heard from them, as far as they read it.
 * @param cepstra of their reading
 * @returns null where it is no reading of this text
 */
export function inVoiceOf(cepstra: Float32Array, text: readonly TextWord[]): TextWord[] | null {
  const heard = soundsHeard(cepstra);
  const { found, spoken } = laid(heard, text);
  if (!found.fits) return null;
  return text.map((word, w) => {
    const said = spoken.find(s => s.word === w);
    if (!said) return word;
    const ipa = ipasOf(word)[said.way]!;
    const sounds = soundsOfWord(ipa);
    const times = soundTimes(heard, sounds, said.start, said.end);
    return { ipa, after: word.after, sounds: sounds.map((s, k) => asHeard(heard, s, k, times, said.start)) };
  });
}

function asHeard(heard: Float32Array, sound: Sound, index: number, times: Uint16Array, start: number): Sound {
  const shares = new Float64Array(SOUNDS.length);
  let frames = 0;
  times.forEach((at, t) => {
    if (at !== index) return;
    frames += 1;
    for (let k = 0; k < shares.length; k++) shares[k]! += likelihood(heard, start + t, k);
  });
  for (let k = 0; k < shares.length; k++) shares[k] = (OWN_SHARE * shares[k]!) / frames;
  sound.kinds.forEach((kind, i) => (shares[kind]! += (1 - OWN_SHARE) * sound.shares[i]!));
  const kinds = Array.from(shares.keys()).filter(k => shares[k]! >= LEAST_KIND);
  return { kinds, shares: kinds.map(k => shares[k]!) };
}
