import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { IsId, IsInstant, ListOf } from './decorators';
import { MAX_ITEM_POINTS } from '@ecoute/core/scoring/points';
import type { NamesChange } from './decisions';
import type { AssessmentContent } from './assessments';
import { RubricChoice, type Judgement } from './judgements';
import { LIMITS } from './limits';
import type { Medium } from './recordings';
import type { Markup, MarkupKind } from './markups';
import type { Note } from './notes';
import { ASKS, type Ask, type AskKind, type Reply } from './replies';
import type { TakeSource } from './recordings';
import type { TogetherView } from './together';
import type { Given } from '@ecoute/core/discussions/talk';
import type { PlacedTake } from '@ecoute/core/timing/takeClock';
import type { SittingState } from '@ecoute/core/timing/sittingState';

export class SaveMark {
  /** The revision that the change was made on; 0 for a first mark. */
  @IsInt()
  @Min(0)
  revision!: number;

  @IsOptional()
  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'Points have at most two decimals.' })
  @Min(0, { message: 'Points cannot be below zero.' })
  @Max(MAX_ITEM_POINTS)
  points!: number | null;

  @IsString()
  @MaxLength(LIMITS.comment, { message: `A comment has at most ${LIMITS.comment} characters.` })
  comment!: string;

  /** Levels on the rubric; empty where the scheme has none. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(LIMITS.criteria)
  @ListOf(() => RubricChoice)
  choices?: RubricChoice[];

  /** Why the points are not the rubric's, or not those from before; asked for when finishing. */
  @IsOptional()
  @IsString()
  @MaxLength(LIMITS.reason, { message: `A reason has at most ${LIMITS.reason} characters.` })
  reason?: string;

  /** True once the teacher is done with this answer. */
  @IsBoolean()
  finished!: boolean;
}

/** The overall level of a sitting: an index into the scale, or null for none yet. */
export class SaveLevel {
  @IsOptional()
  @IsInt()
  @Min(0)
  level!: number | null;

  /** How many were given when this one was chosen. */
  @IsInt()
  @Min(0)
  revision!: number;

  /** Why it is another than before. */
  @IsOptional()
  @IsString()
  @MaxLength(LIMITS.reason, { message: `A reason has at most ${LIMITS.reason} characters.` })
  reason?: string;
}

/** Who listens to which sitting just now; null for the list of them. */
export class ListenTo {
  @IsOptional()
  @IsId()
  sittingId!: string | null;

  /** The page is being left. */
  @IsOptional()
  @IsBoolean()
  leaves?: boolean;
}

export interface Listener {
  personId: string;
  displayName: string;
  sittingId: string | null;
}

export class GiveFeedback {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one sitting.' })
  @ArrayMaxSize(2_000)
  @IsId({ each: true })
  sittingIds!: string[];

  /** Not before this instant; at once when left out. ISO 8601. */
  @IsOptional()
  @IsInstant('Say when the feedback is given.')
  at?: string | null;

  /** Asks each of these students for an answer, where nothing is asked for yet. */
  @IsOptional()
  @IsIn(ASKS)
  ask?: AskKind | null;
}

/** A word of praise, put on an answer or taken from it. */
export class GivePraise {
  @IsString()
  @Matches(/\S/)
  @MaxLength(LIMITS.praise)
  words!: string;

  @IsBoolean()
  given!: boolean;
}

/** Sittings whose feedback at a set time is called off. */
export class CallOffFeedback {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(2_000)
  @IsId({ each: true })
  sittingIds!: string[];
}

export interface Mark {
  revision: number;
  points: number | null;
  comment: string;
  choices: RubricChoice[];
  finished: boolean;
  /** Why it is not the rubric's, or not the one before. */
  reason: string;
  authorName: string;
  updatedAt: string;
}

export interface OverallLevel {
  level: number | null;
  /** How many were given so far. */
  revision: number;
}

/** What was given when, by whom, why; newest first. Only what was finished. */
export interface MarkHistory {
  marks: {
    itemId: string;
    points: number | null;
    choices: RubricChoice[];
    comment: string;
    reason: string;
    authorName: string;
    at: string;
  }[];
  levels: { level: number | null; reason: string; authorName: string; at: string }[];
}

/** How often the student heard the prompt, opened the hint, had the words read aloud. */
export interface Used {
  hearings: number;
  hints: number;
  readAlouds: number;
}

/** An answer that was recorded again after its feedback, because that was asked for. */
export interface RecordedAgain {
  recordedAt: string;
  /** The take that was handed in, with what was said of it. */
  first: { takeId: string; durationMs: number | null; notes: Note[] } | null;
  /** The mark is of the take that was handed in. */
  isOfFirst: boolean;
}

/** One of a student's contributions to a discussion, with what it replies to. */
export interface SaidInTalk {
  id: string;
  /** Null for words alone. */
  takeId: string | null;
  durationMs: number | null;
  medium: Medium | null;
  silent: boolean;
  placed: PlacedTake;
  title: string;
  words: string;
  pictureId: string | null;
  at: string;
  /** After contributions, or replies, were due. */
  late: boolean;
  /** Put in when the feedback was given already: that feedback is not about it. */
  afterFeedback: boolean;
  /** The starting point that its thread is about; null for the subject. */
  topicId: string | null;
  /** It waits for the teacher to let it in. */
  waits: boolean;
  /** Out of sight of the others: by the teacher, for this reason. It is not counted. */
  hiddenFor: string | null;
  /** What it replies to, and the stretch that it is about; null where it begins a thread. */
  to: {
    authorName: string;
    takeId: string | null;
    durationMs: number | null;
    words: string;
    fromMs: number | null;
    toMs: number | null;
  } | null;
  notes: Note[];
}

/** A student's part in a discussion: everything they said, oldest first, and how much that is. */
export interface TalkInLane {
  given: Given;
  contributions: SaidInTalk[];
}

/** One answer of one student on one item, with what the teacher has said of it. */
export interface Lane {
  sittingId: string;
  /** Null while names are hidden; then the name is a number. */
  studentId: string | null;
  studentName: string;
  /** What a comment calls them; null while names are hidden. */
  studentCalled: string | null;
  itemId: string;
  state: SittingState;
  late: boolean;
  /** To be recorded again. */
  askedAgain: boolean;
  /** Its student need not do it: nothing of it waits. False while names are hidden. */
  excused: boolean;
  takeId: string | null;
  durationMs: number | null;
  silent: boolean;
  /** Who else is heard in it; left out for an answer that was given alone. */
  together?: TogetherView;
  /** What the take is, and its name where it came as a file. */
  medium: Medium | null;
  fileName: string | null;
  /** Where things lie in the take. */
  placed: PlacedTake;
  source: TakeSource | null;
  /** What is marked on what was read or seen: a running record, drawings. */
  marked: MarkupKind[];
  /** Recorded again on request; null for what was handed in. */
  again: RecordedAgain | null;
  /** Which sitting of its student this is, from 1; 1 while names are hidden. */
  sittingNumber: number;
  /** Beyond those that the release allows: a teacher allowed it. */
  isAllowed: boolean;
  /** Why it was recorded again as a sitting; null where it was not. */
  againFor: string | null;
  /** Length before its student cut it, in ms; null where nobody did. */
  wholeMs: number | null;
  /** It counts as far as it came: its device did not bring the rest. */
  cutShort: boolean;
  /** Stretches in which its device recorded nothing: silence. In ms of what is heard. */
  holes: { fromMs: number; toMs: number }[];
  /** Something was recorded on a device that never brought it. */
  lost: boolean;
  /** The server first heard of it after the end, so long after it is said to have begun; null where that agrees. In ms. */
  saidMs: number | null;
  /** The student's own words on the take, and a picture that belongs to it. */
  title: string;
  note: string;
  pictureId: string | null;
  /** What the student says of this answer, and of the sitting as a whole. */
  judgement: Judgement | null;
  overallJudgement: Judgement | null;
  takes: number;
  /** What its teachers say at moments of the take. */
  notes: Note[];
  /** What the student is asked to do with the feedback, on this item or the whole, and what was said since. */
  asks: Ask[];
  replies: Reply[];
  /** When the student first heard what came back on this item. */
  heardAt: string | null;
  /** When the sitting has its feedback automatically. */
  feedbackComesAt: string | null;
  /** Its student has looked at the feedback: it can no longer be taken back. */
  feedbackOpened: boolean;
  /** Small praise for the answer. */
  praise: string[];
  /** What the student used on the way to it. */
  used: Used;
  /** The answer in writing, where the item asks for one. */
  written: string | null;
  /** The student passed on the item. */
  passed: boolean;
  /** The overall level of the sitting that the lane belongs to; index into the scale. */
  level: number | null;
  levelRevision: number;
  mark: Mark | null;
  /** Of a discussion: everything that the student said in it; the take is the first of it. */
  talk?: TalkInLane;
}

/** Another recording to hold a take against: another try, or an answer of the same student from before. */
export interface Beside {
  takeId: string;
  medium: Medium | null;
  durationMs: number | null;
  /** From 1, within its sitting. */
  number: number;
  /** Null while names are hidden. */
  recordedAt: string | null;
  /** The release it was made for; null for another take of the same sitting. */
  title: string | null;
  /** The same item, or only one of the same kind. */
  same: boolean;
  points: number | null;
  comment: string;
}

export interface ListenView {
  releaseId: string;
  title: string;
  className: string;
  dueAt: string;
  content: AssessmentContent;
  lanes: Lane[];
  namesHidden: boolean;
  /** Who hid names and who showed them again, newest first. */
  namesChanges: NamesChange[];
  missing: {
    id: string | null;
    displayName: string;
    /** What was handed in is set aside. */ setAside: boolean;
  }[];
}

export interface FeedbackResult {
  /** How many sittings have it, or will have it. */
  given: number;
  /** Which. */
  givenIds: string[];
  /** When, where that is later. */
  at: string | null;
  /** Sittings left alone because an answer is not finished yet. */
  unfinished: { sittingId: string; studentName: string; items: number[]; level: boolean }[];
}

/** What became of feedback that was to be taken back. */
export interface CalledOff {
  calledOff: number;
  /** How many stay, because their student has seen it. */
  opened: number;
}

/** Feedback that a student has had on the same item in an earlier sitting. */
export interface EarlierFeedback {
  sittingId: string;
  title: string;
  feedbackAt: string;
  comment: string;
  authorName: string | null;
}

export interface FeedbackItem {
  itemId: string;
  /** Who else is heard in it; left out for an answer that was given alone. */
  together?: TogetherView;
  takeId: string | null;
  /** The picture beside the take. */
  pictureId: string | null;
  durationMs: number | null;
  medium: Medium | null;
  fileName: string | null;
  placed: PlacedTake;
  judgement: Judgement | null;
  written: string | null;
  passed: boolean;
  /** Recorded again on request; null for what was handed in. */
  again: RecordedAgain | null;
  /** Not to be recorded again: its answer has gone along into the sitting that was made anew. */
  stands: boolean;
  points: number | null;
  choices: RubricChoice[];
  comment: string;
  notes: Note[];
  /** What is marked on what was read or looked at. */
  markups: Markup[];
  /** What was said of the same item before, newest first. */
  before: EarlierFeedback[];
  praise: string[];
  asks: Ask[];
  replies: Reply[];
  authorName: string | null;
  /** Of a discussion: everything that the student said in it. */
  talk?: TalkInLane;
}

export interface FeedbackView {
  sittingId: string;
  releaseId: string;
  title: string;
  className: string;
  /** Null while it is under way: its notes may be heard already. */
  handedInAt: string | null;
  /** When it was given; null while it is not: a teacher looks at it before, and notes may be heard before. */
  feedbackAt: string | null;
  late: boolean;
  content: AssessmentContent;
  items: FeedbackItem[];
  /** Why it is to be recorded again: then notes and comments are here and no scores. */
  askedAgainFor: string | null;
  /** Asked and said about the sitting as a whole. */
  asks: Ask[];
  replies: Reply[];
  /** Scores are kept back for now: points, levels and total are null. */
  scoresHeld: boolean;
  /** The overall level in words, where the scheme gives one. */
  level: { name: string; descriptor: string } | null;
  /** Whether the pass mark was reached; null where there is none. */
  enough: boolean | null;
  total: { given: number; maximum: number } | null;
}

export interface FeedbackEntry {
  sittingId: string;
  title: string;
  className: string;
  feedbackAt: string;
  /** Answers that the teacher still waits for. */
  asked: number;
  total: { given: number; maximum: number } | null;
}
