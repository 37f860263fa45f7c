/** Measures a take as its item wants it. Runs in worker threads. */
import { readFile, writeFile } from 'node:fs/promises';
import { evidenceOf, figuresOf, type Evidence, type Figures } from '@ecoute/core/audio/evidence';
import { hearClicks, type SentClick, type Stumble } from '@ecoute/core/audio/clicks';
import { besideModel, isFollowing, mayFollow } from '@ecoute/core/audio/besideModel';
import { besideTune, lineOfModel } from '@ecoute/core/audio/besideScore';
import { TOO_LONG_FOR_WORDS, type HeardAs, type Measures } from '@ecoute/core/audio/measure';
import { passageWords } from '@ecoute/core/audio/reading';
import { playedScore, type PlayedScore } from '@ecoute/core/formats/scoreNotes';
import { waysToSpeak } from '@ecoute/core/words/parts';
import { writtenWords } from '@ecoute/core/words/writtenWords';
import type { KnownText } from '@ecoute/contract/evidence';
import type { BeatUnknown } from '@ecoute/core/timing/takeClock';
import type { CopyBeside, Span } from './decode';
import { measureAndCopy, measureFile, NotDecoded, samplesOf, soundsIn } from './measureFile';
import { referenceOf, type Unknown } from './referenceVoice';
import { jsonOf } from './table';

export interface ToMeasure {
  path: string;
  /** Where the evidence is written, as JSON. */
  output: string;
  as: HeardAs;
  /** The copy that plays, where it is to be made besides. */
  copy?: CopyBeside | null;
  /** Where the answer begins in the recording; what sounds before is not measured. In ms, like all times here. */
  fromMs: number;
  /** A MusicXML file, which of its parts, and moved by how much. */
  score: { path: string; part: string; semitones: number } | null;
  /** A text that is known, whose words are looked for. */
  text: KnownText | null;
  /** Sounds that the answer may follow; the first that it does is taken. */
  models: readonly { of: 'model' | 'prompt'; recordingId: string; path: string }[];
  /** The gaps of a conversation, and the beats of a metronome. */
  gapsMs: readonly { startMs: number; endMs: number }[] | null;
  /** Nobody measured how long a sound is under way on that device: the gaps lie there but for a tenth of a second or two. */
  areGapsRough: boolean;
  beatsMs: readonly number[] | null;
  /** Why nothing is said against the beat, or against its later part; null where nothing stands in the way. */
  beatUnknown: BeatUnknown | null;
  /** The same beats as they were sent out, and whether each was to be heard; looked for in the recording itself. */
  sentBeats: readonly (SentClick & { isHeard: boolean })[];
}

export interface MeasuredInBrief {
  /** Why nothing could be measured; null where something was. */
  problem: string | null;
  figures: Figures;
  /** In ms of the recording, beginnings and ends one after the other. */
  pauses: number[];
  /** The copy that plays was written, and is whole. */
  isCopied: boolean;
}

const BEAT_UNKNOWN: Record<BeatUnknown, string> = {
  loopNotMeasured:
    'A beat ran along, but how long sound takes on that device was not measured, so nothing is said against it.',
  paused: 'The recording was paused: only what lies before the first pause is held against the beat.',
};

const ROUGH_GAPS =
  'How long sound takes on that device was not measured: the time before each answer may be off by up to 0.2 s.';
const UNREADABLE_SCORE = 'The score could not be read, so the notes are not held against it.';

const NO_WORDS: Record<Unknown, string> = {
  noLanguage: 'The passage names no language, so its words are not looked for.',
  noVoice:
    'The voice of this server does not speak the language of the passage, so its words are not looked for.',
  notInstalled: 'espeak-ng is not installed on this server, so the words of the passage are not looked for.',
};

const referenceFor = ({ text, language }: KnownText) => referenceOf(writtenWords(text, language), language);

async function scoreIn(wanted: ToMeasure['score']): Promise<PlayedScore | null> {
  if (!wanted) return null;
  const score = playedScore(await readFile(wanted.path, 'utf8'), wanted.part, wanted.semitones);
  return score.notes.length > 0 ? score : null;
}

/** Clicks are looked for in takes up to so long: their samples are held at once. */
const LONGEST_LOOKED_MS = 15 * 60_000;

/** The beats as the recording itself shows them, in ms; null where its metronome is not heard. */
async function beatsHeard({
  path,
  sentBeats,
}: ToMeasure): Promise<{ atMs: number[]; stumbles: Stumble[] } | null> {
  const clicks = sentBeats.filter(b => b.isHeard);
  if ((sentBeats.at(-1)?.atMs ?? Infinity) > LONGEST_LOOKED_MS) return null;
  const samples = await samplesOf(path, (clicks.at(-1)?.atMs ?? 0) / 1000 + 1);
  const heard = samples && hearClicks(samples, clicks);
  if (!heard) return null;
  let n = 0;
  // After a count-in nothing is heard any more: what it showed holds.
  const last = heard.lagsMs.at(-1)!;
  const atMs = sentBeats.map(b => b.atMs + (b.isHeard ? heard.lagsMs[n++]! : last));
  return { atMs, stumbles: heard.stumbles };
}

/** @returns what the teacher should know, in words */
function stumbled(stumbles: Stumble[]): string[] {
  if (stumbles.length === 0) return [];
  const most = Math.round(Math.max(...stumbles.map(s => Math.abs(s.byMs))));
  const often = stumbles.length === 1 ? 'once' : `${stumbles.length} times`;
  return [
    `The device stumbled ${often} while it recorded, by up to ${most} ms: the beat is taken from the clicks that are heard in the recording.`,
  ];
}

async function evidenceFor(wanted: ToMeasure): Promise<{ evidence: Evidence; isCopied: boolean }> {
  const fromSec = wanted.fromMs / 1000;
  const score = await scoreIn(wanted.score).catch(() => undefined);
  const sec = (ms: number) => ms / 1000 - fromSec;
  const gaps = wanted.gapsMs?.map(g => ({ startSec: sec(g.startMs), endSec: sec(g.endMs) })) ?? null;
  const reference = wanted.text && (await referenceFor(wanted.text));
  const text = reference && 'words' in reference ? reference.words : null;
  const ways = wanted.text && waysToSpeak(wanted.text.text, wanted.text.language);
  const given = [wanted.path, wanted.as, { score, gaps, text, ways }, { fromSec, toSec: null }] as const;
  const { measures, isCopied } = wanted.copy
    ? await measureAndCopy(...given, wanted.copy)
    : { measures: await measureFile(...given), isCopied: false };
  const heard = wanted.as === 'music' ? await beatsHeard(wanted) : null;
  const beatsMs = heard && heard.atMs.length > 1 ? heard.atMs : wanted.beatsMs;
  const beatUnknown = heard && wanted.beatUnknown === 'loopNotMeasured' ? null : wanted.beatUnknown;
  const found = await besideOf(wanted, measures);
  // A tune without a score has its model's notes to be held against.
  const line = found && wanted.as === 'music' ? lineOfModel(found.model.notes ?? []) : null;
  const target = line && line.length > 0 ? besideTune(line, measures.notes ?? []) : measures.target;
  const evidence = evidenceOf(
    { ...measures, target },
    {
      as: wanted.as,
      fromSec,
      line: score?.notes ?? line,
      heardBeatsSec: heard?.atMs.map(ms => ms / 1000) ?? null,
      beatsSec: beatsMs?.map(ms => ms / 1000) ?? null,
      unsureSec: heard?.stumbles.map(({ fromMs, toMs }) => ({
        startSec: fromMs / 1000,
        endSec: toMs / 1000,
      })),
      passage: wanted.text && passageWords(wanted.text.text, wanted.text.language),
      textOf: wanted.text?.of,
    },
  );
  const isRead = wanted.text?.of === 'passage';
  const remarks = [
    // Of a model answer nobody expects words: where they cannot be looked for, nothing is said of it.
    ...evidence.remarks.filter(r => isRead || r !== TOO_LONG_FOR_WORDS),
    ...(score === undefined ? [UNREADABLE_SCORE] : []),
    ...(wanted.gapsMs && wanted.areGapsRough ? [ROUGH_GAPS] : []),
    ...(isRead && reference && 'unknown' in reference ? [NO_WORDS[reference.unknown]] : []),
    ...(wanted.as === 'music' && beatUnknown ? [BEAT_UNKNOWN[beatUnknown]] : []),
    ...stumbled(heard?.stumbles ?? []),
  ];
  return { evidence: { ...evidence, remarks, beside: found?.beside ?? null }, isCopied };
}

/** Longer than this no phrase is that is repeated. */
const LONGEST_FOLLOWED_SEC = 90;

const FOLLOWED: Span = { fromSec: 0, toSec: LONGEST_FOLLOWED_SEC };

/** What was found in the models that were followed last: a class follows one, take after take. A path never holds another sound. */
const ofModels = new Map<string, Promise<unknown>>();
const KEPT = 8;

function kept<T>(key: string, find: () => Promise<T>): Promise<T> {
  const known = ofModels.get(key) as Promise<T> | undefined;
  const found = known ?? find();
  // What failed once is tried again.
  found.catch(() => ofModels.delete(key));
  // The one that was asked for last is let go of last.
  ofModels.delete(key);
  ofModels.set(key, found);
  if (ofModels.size > KEPT) ofModels.delete(ofModels.keys().next().value!);
  return found;
}

/** The take beside the first sound that it says or plays again. */
async function besideOf(
  { path: takePath, as, fromMs, models }: ToMeasure,
  measures: Measures,
): Promise<{ beside: NonNullable<Evidence['beside']>; model: Measures } | null> {
  if (models.length === 0 || measures.durationSec > LONGEST_FOLLOWED_SEC) return null;
  const fromSec = fromMs / 1000;
  let own: Promise<Float32Array | null> | null = null;
  for (const { of, recordingId, path: modelPath } of models) {
    const model = await kept(`${as} ${modelPath}`, () =>
      measureFile(modelPath, as, {}, FOLLOWED).catch(() => null),
    );
    if (!model || !mayFollow(measures, model)) continue;
    own ??= soundsIn(takePath, as, { fromSec, toSec: fromSec + LONGEST_FOLLOWED_SEC });
    const heard = await kept(`sounds ${as} ${modelPath}`, () => soundsIn(modelPath, as, FOLLOWED));
    const found = besideModel({ measures, heard: await own }, { measures: model, heard });
    if (!found || !isFollowing(found, as)) continue;
    const { unlike: _, ...beside } = found;
    const path = beside.path.map(([sec, modelSec]): [number, number] => [sec + fromSec, modelSec]);
    return { beside: { ...beside, path, of, recordingId }, model };
  }
  return null;
}

/** Measures one take and writes what is kept of it. @throws Error when ffmpeg is missing or the disk is full */
export async function measureTake(wanted: ToMeasure): Promise<MeasuredInBrief> {
  try {
    const { evidence, isCopied } = await evidenceFor(wanted);
    await writeFile(wanted.output, jsonOf(evidence));
    return {
      problem: null,
      figures: figuresOf(evidence),
      pauses: evidence.pauses.flatMap(p => [Math.round(1000 * p.startSec), Math.round(1000 * p.endSec)]),
      isCopied,
    };
  } catch (error) {
    if (!(error instanceof NotDecoded)) throw error;
    return { problem: error.message, figures: {}, pauses: [], isCopied: false };
  }
}
