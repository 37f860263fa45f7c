import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MOST_TOGETHER } from '@ecoute/core/takes/together';
import { IsId, IsInstant, Nested } from './decorators';
import type { Score } from '@ecoute/core/formats/musicXml';
import type { Beat, TakeClock } from '@ecoute/core/timing/takeClock';

class KnownBeat implements Beat {
  @IsNumber()
  @Min(20)
  @Max(400)
  bpm!: number;

  @IsInt()
  @Min(1)
  @Max(16)
  beats!: number;

  @IsInt()
  @Min(0)
  @Max(64)
  countIn!: number;
}

/** What the recorder knows of a take's place in time. */
export class NewTakeClock implements TakeClock {
  @IsBoolean()
  gated!: boolean;

  @IsOptional()
  @IsNumber()
  @Min(0)
  @Max(600_000)
  soundFromMs!: number | null;

  @IsNumber()
  @Min(0)
  @Max(600_000)
  answerFromMs!: number;

  @IsNumber()
  @Min(0)
  @Max(2_000)
  loopMs!: number;

  @IsBoolean()
  loopMeasured!: boolean;

  @IsOptional()
  @Nested(() => KnownBeat)
  beat!: KnownBeat | null;
}

/** Announces a sound before its bytes come. The browser chooses the id, so that announcing twice is harmless. */
export class NewTake {
  @IsId()
  recordingId!: string;

  @IsId()
  itemId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;

  /** When recording began, by the server's clock. ISO 8601. */
  @IsInstant()
  beganAt!: string;

  /** Of an answer that is a file, or a recording brought instead of made here. */
  @IsOptional()
  @IsString()
  @MaxLength(255)
  fileName?: string | null;

  /** Recorded here where nothing is said. */
  @IsOptional()
  @IsIn(['recorded', 'uploaded'])
  source?: 'recorded' | 'uploaded';

  @IsOptional()
  @Nested(() => NewTakeClock)
  clock?: NewTakeClock | null;

  /** Who else is heard in it, where an item is answered together on one device. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_TOGETHER)
  @IsId({ each: true })
  withIds?: string[];
}

/** What a stored file is, found out by looking into it. */
export const MEDIA = ['sound', 'video', 'picture', 'pages', 'notation', 'file'] as const;
export type Medium = (typeof MEDIA)[number];

/**
 * What may come into a place: a `voice` is a sound or a film; `show` is anything to look at; a `file` is
 * whatever a student hands in.
 */
export const WANTED = ['sound', 'voice', 'picture', 'show', 'file', 'video'] as const;
export type Wanted = (typeof WANTED)[number];

export class NewPromptRecording {
  @IsId()
  recordingId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;

  @IsIn(['recorded', 'uploaded'])
  source!: 'recorded' | 'uploaded';

  @IsOptional()
  @IsString()
  @MaxLength(255)
  fileName!: string | null;

  /** What is wanted in its place; anything else is refused. A voice where nothing is said. */
  @IsOptional()
  @IsIn(WANTED)
  wanted?: Wanted;
}

/** An excerpt of a sound or film that is here already, to become a file of its own. */
export class NewExcerpt {
  @IsId()
  recordingId!: string;

  @IsInt()
  @Min(0)
  fromMs!: number;

  @IsInt()
  @Min(0)
  toMs!: number;
}

/**
 * `arriving`: bytes still come. `checking`: all here, being looked at. `stored`: stands, can be heard.
 * `refused`: kept as it came, but does not stand; `problem` says why.
 */
export type RecordingState = 'arriving' | 'checking' | 'stored' | 'refused';

export type RecordingProblem =
  | 'empty'
  | 'notAudio'
  | 'damaged'
  /** A film in which nothing sounds, where a sound is wanted. */
  | 'noSound'
  | 'tooLong'
  /** Not one of the kinds that may stand in its place. */
  | 'notWanted'
  | 'noVideo'
  /** A PDF that asks for a password. */
  | 'locked'
  | 'tooManyPages'
  /** Slides, and no program here that makes pages of them. */
  | 'slidesNeedPdf'
  | 'brokenNotation'
  | 'notNotation'
  | 'timewiseNotation'
  | 'emptyNotation'
  /** Nothing of it ever came. */
  | 'lost'
  /** Its owner let go of it before it was ready. */
  | 'cancelled';

/** A stretch of a sound. In ms of the whole. */
export class Stretch {
  @IsInt()
  @Min(0)
  fromMs!: number;

  @IsInt()
  @Min(0)
  toMs!: number;
}

export interface Trim extends Stretch {
  wholeMs: number;
}

/** What is known of a file that is not (only) a sound. */
export interface MediaDetails {
  widthPx?: number;
  heightPx?: number;
  /** Of pages: how many, how many are ready, and the words on each. */
  pages?: number;
  pagesReady?: number;
  pageTexts?: string[];
  /** Of notation. */
  score?: Score;
  /** Of a sound: stretches in which its device recorded nothing; they are silence wherever it is heard or measured. In ms. */
  holes?: { fromMs: number; toMs: number }[];
  /** Where a broken text breaks off, from 1. */
  line?: number;
}

export interface RecordingView {
  id: string;
  state: RecordingState;
  /** Null until it was looked at. */
  medium: Medium | null;
  details: MediaDetails | null;
  fileName: string | null;
  problem: RecordingProblem | null;
  /** The problem in words, with the next step. */
  message: string | null;
  durationMs: number | null;
  /** How long it may be, in ms. */
  limitMs: number;
  /** Nothing can be heard in it. */
  silent: boolean;
  /** Where the recorder's gate opens in what is heard, in ms; null for what was not recorded here. */
  gateMs: number | null;
  /** The stretch of the whole that is heard and counts, where its student cut it; `durationMs` is the stretch's. */
  trim: Trim | null;
  sizeBytes: number | null;
  sha256: string | null;
  /** It was ended before all of it had come, and counts as far as it came. */
  cutShort: boolean;
  /** Bytes that are here, and how many there are in all once its device has said so. */
  bytes: number;
  length: number | null;
  /** Since the last byte came, or since it was announced; in ms. */
  quietMs: number;
}

/** Recorded in the sitting, brought as a file, or recorded on the student's phone for another screen. */
export type TakeSource = 'recorded' | 'uploaded' | 'phone';
