import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  MaxLength,
  Min,
} from 'class-validator';
import { IsId, IsInstant, ListOf, Nested } from './decorators';
import type { Arrangement } from '@ecoute/core/timing/arrangements';
import type { ItemEvent, ItemEventKind } from '@ecoute/core/timing/itemRun';
import type { Openness, SittingState } from '@ecoute/core/timing/sittingState';
import type { AnswerBy } from '@ecoute/core/timing/strip';
import type { TakeClock } from '@ecoute/core/timing/takeClock';
import type { AssessmentContent } from './assessments';
import type { TakeSource } from './recordings';
import type { TogetherView } from './together';
import { LIMITS } from './limits';
import type { Subject } from './classes';
import type { Judgement } from './judgements';
import type { Medium, RecordingView } from './recordings';
import type { Outline } from './releases';

export const SITTING_EVENT_KINDS = [
  'promptBegan',
  'promptEnded',
  'promptCut',
  'prepareBegan',
  'prepareSkipped',
  'recordingBegan',
  'recordingPaused',
  'recordingResumed',
  'recordingEnded',
  'hintOpened',
  'passed',
  'passTakenBack',
  'studied',
  'itemsOpened',
  'pageHidden',
  'pageShown',
  'connectionLost',
  'connectionBack',
  'resumed',
  'breakBegan',
  'breakEnded',
  /** A phone continues the item. */
  'phoneOpened',
  /** Its phone has done its part, or was sent away. */
  'phoneLeft',
  /** The sitting is gone on with on another device than before. */
  'movedHere',
  /** Somebody else's device recorded it, with them. */
  'recordedTogether',
  /** They say that they were not there, and that it is not theirs. */
  'saidNotThere',
  'handedIn',
  /** When its student wanted it handed in, on a device without a connection. */
  'handInWanted',
  /** What was handed in was taken back, to go on. */
  'withdrawn',
  /** A take was cut to a stretch of itself, or put back whole. */
  'takeTrimmed',
  'takeMadeWhole',
  /** The prompt in words was heard: by its teacher's voice or the browser's. */
  'readAloud',
  /** A take was ended before all of it had come, and counts as far as it came. */
  'takeCutShort',
  /** Nothing of a take ever came; it is given back. */
  'takeLost',
  /** Its student let go of a take that was on its way. */
  'takeLetGo',
  /** The device came back with a take that had been ended without it. */
  'takeCameBack',
  /** A take reached the server after the end, and is said to have begun before it. */
  'takeSaidEarlier',
  'modelsOpened',
  'othersOpened',
  /** Of an item whose time is part of what is asked: its student saw it. */
  'itemShown',
  /** The microphone was taken away, or muted to the end, while it recorded. */
  'microphoneLost',
  /** A take in which nothing is heard did not count: one more was let in. */
  'takeGivenBack',
  /** The page went away while it recorded (a reload, a crash); told by the page that came after it. */
  'recordingCut',
] as const;
export type SittingEventKind = (typeof SITTING_EVENT_KINDS)[number];

/** The engine's own kinds, one by one: a kind that is missing here, or that the account does not keep, does not compile. */
const ENGINE = {
  promptBegan: true,
  promptEnded: true,
  promptCut: true,
  prepareBegan: true,
  prepareSkipped: true,
  recordingBegan: true,
  recordingPaused: true,
  recordingResumed: true,
  recordingEnded: true,
  hintOpened: true,
  passed: true,
  passTakenBack: true,
  studied: true,
} satisfies Record<ItemEventKind & SittingEventKind, true> & Record<ItemEventKind, true>;
export const ENGINE_KINDS: ReadonlySet<string> = new Set(Object.keys(ENGINE));

/** What only the server writes into an account: what it saw and decided itself. */
const OF_SERVER = new Set<SittingEventKind>([
  'phoneOpened',
  'phoneLeft',
  'movedHere',
  'handedIn',
  'handInWanted',
  'withdrawn',
  'takeTrimmed',
  'takeMadeWhole',
  'takeCutShort',
  'takeLost',
  'takeLetGo',
  'takeCameBack',
  'takeSaidEarlier',
  'modelsOpened',
  'othersOpened',
  'itemShown',
  'takeGivenBack',
]);
/** What a browser may tell of a sitting. */
export const TOLD_EVENT_KINDS = SITTING_EVENT_KINDS.filter(kind => !OF_SERVER.has(kind));

export class SittingEvent {
  /** Chosen by the browser, so that sending twice is harmless. */
  @IsId()
  id!: string;

  @IsOptional()
  @IsId()
  itemId!: string | null;

  @IsIn(TOLD_EVENT_KINDS)
  kind!: SittingEventKind;

  @IsInstant()
  at!: string;
}

/** The events that the engine needs of one item. */
export function engineEvents(events: readonly SittingEvent[], itemId: string): ItemEvent[] {
  return events
    .filter(e => e.itemId === itemId && ENGINE_KINDS.has(e.kind))
    .map(e => ({ kind: e.kind as ItemEventKind, atMs: Date.parse(e.at) }));
}

export class NewEvents {
  @IsArray()
  @ArrayMaxSize(500)
  @ListOf(() => SittingEvent)
  events!: SittingEvent[];
}

export interface TodoEntry {
  releaseId: string;
  title: string;
  className: string;
  note: string;
  opensAt: string;
  dueAt: string;
  /** Due later for this student than for the others. */
  extended: boolean;
  openness: Openness;
  state: SittingState;
  late: boolean;
  missing: boolean;
  excused: boolean;
  askedAgain: boolean;
  /** The sitting that is gone on with, or else the one that counts. */
  sittingId: string | null;
  /** That sitting is under way. */
  goesOn: boolean;
  /** A (or another) sitting may be begun now. */
  mayBegin: boolean;
  /** Sittings begun. */
  sittings: number;
  /** A teacher allows one more than the release does. */
  isAllowedAnother: boolean;
  handedInAt: string | null;
  feedbackAt: string | null;
  feedbackSittingId: string | null;
  /** Why it is to be recorded again; null where it is not. */
  askedAgainFor: string | null;
  /** Why what was handed in counts no more, where nothing else does; null where that is not so. */
  setAsideFor: string | null;
  /** Answers that the teacher still waits for. */
  asked: number;
  /** The sitting under way whose notes may be heard already. */
  notesOfSittingId: string | null;
  /** What the others handed in may be heard. */
  hearsOthers: boolean;
  outline: Outline;
  answeredItemIds: string[];
  /** Of a discussion: how much there is that was not heard yet. */
  discussion: { unheard: number } | null;
}

export interface TakeView {
  id: string;
  itemId: string;
  number: number;
  beganAt: string;
  chosenAt: string | null;
  clock: TakeClock | null;
  source: TakeSource;
  /** In the student's own words. */
  title: string;
  note: string;
  /** The page read from, the score, or whatever belongs to it. */
  pictureId: string | null;
  recording: RecordingView;
  /** When the server first heard of it, where it is said to have begun long before; null where that agrees. */
  saidAt: string | null;
  /** So much of the answer was recorded by the clock and is not in the sound, in ms; null where nothing is missing. */
  missingMs: number | null;
  /** Who else is heard in it; left out for one's own alone. */
  together?: TogetherView;
}

export class WriteAnswer {
  @IsString()
  @MaxLength(LIMITS.writtenAnswer, {
    message: `A written answer has at most ${LIMITS.writtenAnswer} characters.`,
  })
  text!: string;

  /** The wording that it was changed from; 0 for the first. Another one stored meanwhile is a conflict. */
  @IsInt()
  @Min(0)
  revision!: number;
}

export interface WrittenAnswer {
  itemId: string;
  text: string;
  revision: number;
  updatedAt: string;
}

/** What was handed in of one item: a take, a written answer, a pass, studied material, or nothing. */
export interface ReceiptLine {
  itemId: string;
  takeId: string | null;
  written: boolean;
  passed: boolean;
  studied: boolean;
  /** What the take is, and its name where it came as a file. */
  medium: Medium | null;
  fileName: string | null;
  durationMs: number | null;
  sizeBytes: number | null;
  sha256: string | null;
  /** It counts as far as it came: its device did not bring the rest. */
  cutShort?: boolean;
  /** A take of which nothing came; it was recorded on another device. */
  lost?: boolean;
}

export interface Receipt {
  sittingId: string;
  handedInAt: string;
  late: boolean;
  /** The sitting's time was up and the server handed in. */
  byItself: boolean;
  /** When the server heard of it, where `handedInAt` is an earlier wish of a device without a connection. */
  heardAt?: string;
  lines: ReceiptLine[];
}

/** Of an item that is not shown yet, what begins with it. */
export interface HiddenItem {
  itemId: string;
  /** A prompt sounds first. */
  isVoiced: boolean;
}

/** A sitting as its student sees it: nothing of marks before the feedback. */
export interface SittingView {
  id: string;
  /** From 1. */
  number: number;
  /** What the student's needs change in it; its times are in `content` already. */
  arrangement: Arrangement;
  /** For a child who does not read yet: pictures and sound. */
  isByEar: boolean;
  releaseId: string;
  title: string;
  className: string;
  subject: Subject;
  dueAt: string;
  openness: Openness;
  state: SittingState;
  content: AssessmentContent;
  events: SittingEvent[];
  takes: TakeView[];
  written: WrittenAnswer[];
  /** What the student says of their own answers, by item; of the whole by the sitting's own id. */
  judgements: Record<string, Judgement>;
  /** When the items came into sight; the limit of the sitting runs from there. */
  clockBeganAt: string | null;
  /** What was handed in may be taken back now. */
  mayWithdraw: boolean;
  /** Items whose time is part of what is asked, and has not begun: nothing of them is here. */
  hidden: HiddenItem[];
  /** Of a limited sitting whose clock does not run yet: nothing of what is asked is here. */
  unseen: boolean;
  /** There are model answers that open when the student wants; after that nothing is taken back. */
  modelsWait: boolean;
  /** Bytes of recordings that the server still takes here; null where nothing is limited. */
  roomLeftBytes: number | null;
  /** Items that are open because they are to be recorded again, the others stand; null where all are open. */
  openItemIds: string[] | null;
  /** Why it is sat again, in the teacher's words; null where it was not asked for. */
  againFor: string | null;
  /** When the sitting is handed in automatically; null where no limit runs. */
  timeUpAt: string | null;
  /** What others recorded with this student, who says that they were not there. */
  notThere: { jointId: string; itemId: string; by: string }[];
  receipt: Receipt | null;
  now: string;
}

/** What the others of a release handed in, to be heard by those who have handed in themselves. */
export class HoldSitting {
  /** This browser's own id. */
  @IsId()
  deviceId!: string;

  /** The student was told of the other device, and goes on here. */
  @IsBoolean()
  takeOver!: boolean;

  /** The page is left: another device need not be told of this one. */
  @IsOptional()
  @IsBoolean()
  leaves?: boolean;
}

/** Whether this browser may go on with a sitting. */
export interface Hold {
  held: boolean;
  /** When the other device was last seen; null when this one holds it. */
  otherSeenAt: string | null;
}

/** Begins a sitting, or goes on with it. */
export class BeginSitting {
  /** This browser's own id, where it goes on with the sitting. */
  @IsOptional()
  @IsId()
  deviceId?: string;
}

/** A sitting as it was begun, and whether this browser holds it; null where it did not ask, or nothing is left to hold. */
export interface BegunSitting extends SittingView {
  hold: Hold | null;
}

/** What a student says of a take in their own words. */
export class TakeWords {
  @IsString()
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsString()
  @MaxLength(LIMITS.takeNote, { message: `A note has at most ${LIMITS.takeNote} characters.` })
  note!: string;
}

export class NewTakePicture {
  @IsId()
  recordingId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;
}

/** What happened in a sitting, as its teacher may read it. */
export interface SittingAccount {
  studentName: string;
  beganAt: string;
  handedInAt: string | null;
  events: SittingEvent[];
  takes: {
    id: string;
    itemId: string;
    number: number;
    source: TakeSource;
    durationMs: number | null;
    /** What became of it, where it does not simply stand. */
    fate: 'cutShort' | 'lost' | 'letGo' | null;
    /** First heard of so long after it is said to have begun, in ms, and after the end; null where that agrees. */
    saidMs: number | null;
    /** So much is missing in it, in ms; null where nothing is. */
    missingMs: number | null;
  }[];
  /** Names are hidden: instants are told from the beginning of the sitting, which stands at 1970. */
  relative: boolean;
}

export interface OthersView {
  title: string;
  items: {
    number: number;
    promptText: string;
    answers: { takeId: string; studentName: string; durationMs: number | null; medium: Medium | null }[];
  }[];
}

export interface MyRecording {
  takeId: string;
  sittingId: string;
  assessment: string;
  className: string;
  promptText: string;
  itemNumber: number;
  takeNumber: number;
  beganAt: string;
  durationMs: number | null;
  /** In the student's own words. */
  title: string;
  note: string;
  pictureId: string | null;
  /** There are other takes of the same item in its sitting; the one that counts is what is handed in. */
  several: boolean;
  counts: boolean;
  isHandedIn: boolean;
  hasFeedback: boolean;
}

/** A hand-in that could not be heard when it was wanted. */
export class EarlierWish {
  @IsInstant()
  at!: string;

  /** The browser where it was wanted. Where the sitting went on elsewhere since, it is no wish any more. */
  @IsId()
  deviceId!: string;
}

export class HandIn {
  /** True when the student was told that items have no answer, and hands in all the same. */
  @IsBoolean()
  withGaps!: boolean;

  /** True when the student was told of recordings that nobody brings just now, and hands in as far as they came. */
  @IsOptional()
  @IsBoolean()
  asTheyCame?: boolean;

  /** It was wanted earlier, on a device that had no connection. */
  @IsOptional()
  @Nested(() => EarlierWish)
  wish?: EarlierWish;
}

/** True when an item that asks for an answer got none, not even a pass. */
export function isGap(answerBy: AnswerBy, line: Pick<ReceiptLine, 'takeId' | 'written' | 'passed'>): boolean {
  return answerBy !== 'nothing' && line.takeId === null && !line.written && !line.passed;
}
