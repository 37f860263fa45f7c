import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { IsDay, IsId, IsInstant, ListOf } from './decorators';
import type { Holiday } from '@ecoute/core/timing/series';
import type { Phase } from '@ecoute/core/timing/itemRun';
import type { SittingState } from '@ecoute/core/timing/sittingState';
import { promptMs, type TimedItem } from '@ecoute/core/timing/strip';
import type { AssessmentContent } from './assessments';
import type { Subject } from './classes';
import { LIMITS } from './limits';

/** Whom a release is for. Every release belongs to a class, whose teachers hear it. */
export const AUDIENCES = ['class', 'group', 'students', 'link'] as const;
export type Audience = (typeof AUDIENCES)[number];

/** Which other students may hear what a student handed in. */
export const HEARD_BY = ['nobody', 'class'] as const;
export type HeardBy = (typeof HEARD_BY)[number];

const NOTE = { message: `A note has at most ${LIMITS.releaseNote} characters.` };

/** When and how a release takes place; what is left out keeps its usual value. Instants are ISO 8601. */
export class ReleaseTerms {
  /** Now when left out. */
  @IsOptional()
  @IsInstant('Say when it opens.')
  opensAt?: string | null;

  @IsInstant('Say when it is due.')
  dueAt!: string;

  /** When late work is no longer taken; never when left out. */
  @IsOptional()
  @IsInstant('Say when it closes, or leave that open.')
  closesAt?: string | null;

  @IsBoolean()
  lateAccepted!: boolean;

  /** Kept out of sight until it is shown by hand. */
  @IsOptional()
  @IsBoolean()
  hidden?: boolean;

  /** 0 for no limit. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LIMITS.sittings, { message: `At most ${LIMITS.sittings} sittings, or any number.` })
  sittingsAllowed?: number;

  @IsOptional()
  @IsIn(HEARD_BY)
  heardBy?: HeardBy;

  /** Feedback shows scores only when they are shown. */
  @IsOptional()
  @IsBoolean()
  scoresHeld?: boolean;

  /** Tell the students by mail when it opens. */
  @IsOptional()
  @IsBoolean()
  notify?: boolean;

  @IsString()
  @MaxLength(LIMITS.releaseNote, NOTE)
  note!: string;

  /** IANA name of the zone in which its days and hours are meant. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  timeZone?: string;
}

/** Whom a release is for, and of what. */
class Given extends ReleaseTerms {
  @IsId({ message: 'Choose an assessment.' })
  assessmentId!: string;

  @IsId({ message: 'Choose a class.' })
  classId!: string;

  @IsOptional()
  @IsIn(AUDIENCES)
  audience?: Audience;

  @IsOptional()
  @IsId({ message: 'Choose a group.' })
  groupId?: string | null;

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(1_000)
  @IsId({ each: true })
  studentIds?: string[];
}

export class NewRelease extends Given {}

export class AlsoTo {
  @IsId({ message: 'Choose a class.' })
  classId!: string;

  @IsOptional()
  @IsId({ message: 'Choose a group.' })
  groupId?: string | null;
}

export class SeriesDate {
  @IsInstant('Say when it opens.')
  opensAt!: string;

  @IsInstant('Say when it is due.')
  dueAt!: string;

  @IsString()
  @MaxLength(LIMITS.releaseNote, NOTE)
  note!: string;
}

/** The same release on several dates; its own `opensAt`, `dueAt` and `note` are those of each date. */
export class NewSeries extends Given {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one date.' })
  @ArrayMaxSize(60, { message: 'A series has at most 60 dates.' })
  @ListOf(() => SeriesDate)
  each!: SeriesDate[];

  /** Other classes, or groups of them, that get the same on the same dates; each is a series of its own. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(30)
  @ListOf(() => AlsoTo)
  alsoTo?: AlsoTo[];
}

/** What one student is granted; what is left out stays as it is. */
export class NewException {
  /** An extension; null for none. */
  @IsOptional()
  @IsInstant('Say until when.')
  dueAt?: string | null;

  @IsOptional()
  @IsBoolean()
  excused?: boolean;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LIMITS.sittings)
  extraSittings?: number;

  /** As many more sittings as it takes that one may be begun. */
  @IsOptional()
  @IsBoolean()
  another?: boolean;
}

/** How far a change of one release of a series reaches. */
export const REACHES = ['this', 'later', 'all'] as const;
export type Reach = (typeof REACHES)[number];

/** A change of one release, and of those of its series that it reaches: each changed as this one was, with its own line. */
export class ChangeSeries extends ReleaseTerms {
  @IsIn(REACHES)
  reach!: Reach;
}

export class FollowAssessment {
  /** False: it is held as it is. */
  @IsBoolean()
  follows!: boolean;
}

/** What became of a change to a series. */
export interface SeriesChanged {
  changed: ReleaseEntry[];
  /** The same as they were: what was different among them is put back as it was. */
  before: ReleaseEntry[];
  /** Releases that were over, or begun, and stayed as they were. */
  stayed: number;
}

/** Releases moved together, by whole days on the wall of their zone. */
export class MoveReleases {
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(60)
  @IsId({ each: true })
  releaseIds!: string[];

  @IsInt()
  @Min(-400)
  @Max(400)
  days!: number;

  /** With those of the series of the first of them that it reaches. */
  @IsOptional()
  @IsIn(REACHES)
  reach?: Reach;
}

export class NewHoliday {
  @IsString()
  @Matches(/\S/, { message: 'Give these days a name.' })
  @MaxLength(LIMITS.title)
  name!: string;

  @IsDay('Choose the first day.')
  firstOn!: string;

  @IsDay('Choose the last day.')
  lastOn!: string;
}

export interface HolidayView extends Holiday {
  id: string;
}

export interface StateCounts {
  students: number;
  notOpened: number;
  underWay: number;
  handedIn: number;
  marked: number;
  feedbackGiven: number;
  /** Feedback is given, and everything that was asked for is answered. */
  answered: number;
  /** Students whose last word waits for the teacher's. */
  repliesWait: number;
  askedAgain: number;
  late: number;
  missing: number;
  excused: number;
}

/** What lists draw of an assessment's version: the lengths of its items and nothing else. */
export interface Outline {
  title: string;
  /** People talk with each other in it; left out: no. */
  isDiscussion?: true;
  items: TimedItem[];
}

/** The outline of an assessment: as long in every part, without a word of it but the title. */
export function outlineOf({
  title,
  startingPoint,
  items,
}: {
  title: string;
  startingPoint?: string;
  items: readonly TimedItem[];
}): Outline {
  return {
    title,
    ...(startingPoint === 'discussion' && { isDiscussion: true as const }),
    items: items.map(item => ({
      id: item.id,
      promptText: '',
      promptDurationMs: promptMs(item),
      prepareMs: item.prepareMs,
      answerLimitMs: item.answerLimitMs,
      answerBy: item.answerBy,
      isConversation: item.isConversation,
      turns: item.turns.map(({ id, fromMs, toMs, gapMs }) => ({ id, fromMs, toMs, gapMs, recordingId: '' })),
    })),
  };
}

/** A release without its students: on a calendar, in a list. */
export interface ReleaseEntry {
  id: string;
  assessmentId: string;
  title: string;
  className: string;
  classId: string;
  subject: Subject;
  audience: Audience;
  groupId: string | null;
  groupName: string | null;
  opensAt: string;
  dueAt: string;
  closesAt: string | null;
  lateAccepted: boolean;
  hidden: boolean;
  sittingsAllowed: number;
  heardBy: HeardBy;
  scoresHeld: boolean;
  notify: boolean;
  timeZone: string;
  seriesId: string | null;
  /** Until it opens it is what its assessment is; held as it is where not. */
  follows: boolean;
  note: string;
  outline: Outline;
}

export interface ReleaseSummary extends ReleaseEntry {
  /** Whoever looks teaches the class, and hears and marks what is recorded; a coordinator does not. */
  hears: boolean;
  counts: StateCounts;
  /** Listening that waits: length of the takes that count in sittings handed in and not yet marked. */
  waitingMs: number;
  waitingSittings: number;
}

/** What a student does just now, as their own account of the sitting tells. */
export interface LiveView {
  /** From 1; null before the first item. */
  itemNumber: number | null;
  phase: Phase | null;
  /** Since when, by the server's clock. */
  sinceAt: string;
  /** False when nothing was heard of the page for a while, or it said that it left. */
  here: boolean;
}

export interface ReleaseStudent {
  id: string;
  displayName: string;
  /** The sitting that counts. */
  sittingId: string | null;
  /** Sittings begun. */
  sittings: number;
  state: SittingState;
  late: boolean;
  missing: boolean;
  excused: boolean;
  askedAgain: boolean;
  /** Due for this student, with an extension. */
  dueAt: string;
  extended: boolean;
  extraSittings: number;
  handedInAt: string | null;
  feedbackAt: string | null;
  answered: number;
  live: LiveView | null;
  /** Hearings of each prompt, by item id. */
  hearings: Record<string, number>;
  remindedAt: string | null;
  /** The takes that count of the sitting that counts, in the order of the items; none while names are hidden. */
  takes: { itemId: string; takeId: string; durationMs: number | null }[];
}

export interface ReleaseDetail extends ReleaseSummary {
  content: AssessmentContent;
  students: ReleaseStudent[];
}

/** What came of reminding. */
export interface ReminderResult {
  sent: number;
  /** Reminded within the last hour already. */
  already: number;
  /** Names of those who have no mail address. */
  without: string[];
}

/** What lies on some days: releases that touch them, and days without school. */
export interface CalendarView {
  releases: ReleaseEntry[];
  holidays: HolidayView[];
}
