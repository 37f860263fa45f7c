import 'reflect-metadata';
import {
  ArrayMaxSize,
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
import { CIRCLES, type CirclesBy } from '@ecoute/core/discussions/circles';
import type { Given } from '@ecoute/core/discussions/talk';
import type { Openness } from '@ecoute/core/timing/sittingState';
import type { AssessmentContent } from './assessments';
import { IsId, IsInstant, ListOf, Nested } from './decorators';
import { LIMITS } from './limits';
import { NewTakeClock, type Medium, type RecordingState } from './recordings';

/** Where a contribution belongs: a thread of its own (at a starting point, or the subject), or a reply. */
export class Place {
  @IsOptional()
  @IsId()
  topicId?: string | null;

  @IsOptional()
  @IsId()
  parentId?: string | null;

  /** The stretch of the parent that it replies to, in ms. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LIMITS.contributionMs * 2)
  fromMs?: number | null;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LIMITS.contributionMs * 2)
  toMs?: number | null;

  /** An own contribution whose place it takes. */
  @IsOptional()
  @IsId()
  correctsId?: string | null;

  /** Of a teacher: whom it is for; everybody when left out. */
  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(10_000)
  circle?: number | null;
}

/** Announces something spoken before its bytes come. Nobody else hears it until it is put in. */
export class NewContribution {
  /** The contribution's own id, and its recording's. */
  @IsId()
  recordingId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;

  /** When recording began, by the server's clock. ISO 8601. */
  @IsInstant()
  beganAt!: string;

  @IsOptional()
  @Nested(() => NewTakeClock)
  clock?: NewTakeClock | null;

  @Nested(() => Place)
  place!: Place;
}

/** Puts a contribution in: what was spoken under this id, or words alone. */
export class PutIn {
  @Nested(() => Place)
  place!: Place;

  /** Something was spoken under this id: its device may not have told of it yet. */
  @IsBoolean()
  isSpoken!: boolean;

  @IsString()
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsString()
  @MaxLength(LIMITS.contributionWords, {
    message: `What is written has at most ${LIMITS.contributionWords} characters.`,
  })
  words!: string;
}

/** What somebody has heard, or read, by now. */
export class Heard {
  @IsArray()
  @ArrayMaxSize(2_000)
  @IsId({ each: true })
  ids!: string[];
}

/** Takes a contribution out of sight; its author is told why. */
export class Hide {
  @IsString()
  @Matches(/\S/, { message: 'Say why: its author is told.' })
  @MaxLength(LIMITS.reason, { message: `A reason has at most ${LIMITS.reason} characters.` })
  reason!: string;
}

export class CircleOf {
  @IsId()
  personId!: string;

  /** From 1. */
  @IsInt()
  @Min(1)
  @Max(1_000)
  circle!: number;
}

/** Shares people out: again by lot or by groups, or each by hand. */
export class ShareOut {
  @IsIn([...CIRCLES, 'hand'], { message: 'Choose who talks with whom.' })
  by!: CirclesBy | 'hand';

  @IsOptional()
  @IsInt()
  @Min(2, { message: 'Two people at least talk with each other.' })
  @Max(LIMITS.circleSize, { message: `At most ${LIMITS.circleSize} in a circle.` })
  size?: number;

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(2_000)
  @ListOf(() => CircleOf)
  people?: CircleOf[];
}

/**
 * `draft`: recorded, not put in; `coming`: put in, its sound is on its way; `waiting`: for the teacher to let it in;
 * `here`: heard by everybody in its circle; `hidden`: by the teacher; `takenBack`: by its author.
 */
export type ContributionState = 'draft' | 'coming' | 'waiting' | 'here' | 'hidden' | 'takenBack';

export interface Contribution {
  id: string;
  /** Stays the same for one person within the discussion, and says nothing of who it is where names do not show. */
  author: string;
  /** Empty where names do not show; then a number stands for it. */
  authorName: string;
  number: number | null;
  isTeacher: boolean;
  isMine: boolean;
  circle: number;
  topicId: string | null;
  parentId: string | null;
  fromMs: number | null;
  toMs: number | null;
  /** Of a draft: the own contribution whose place it is to take. */
  correctsId: string | null;
  /** When it was put in; of a draft, when it was made. */
  at: string;
  state: ContributionState;
  /** What was spoken; null for words alone, and where it is not to be heard. */
  voiceId: string | null;
  voiceState: RecordingState | null;
  /** Why what was spoken does not stand, in words. */
  problem: string | null;
  durationMs: number | null;
  medium: Medium | null;
  pictureId: string | null;
  title: string;
  words: string;
  /** What stood here before it was corrected, newest first; for its author and teachers. */
  earlier: { id: string; voiceId: string | null; durationMs: number | null; words: string }[];
  /** Why the teacher hid it; for its author and teachers. */
  hiddenFor: string | null;
  /** Whoever looks has heard it. One's own is always heard. */
  heard: boolean;
  /** Nobody has replied to it yet. */
  mayTakeBack: boolean;
}

/** What is said in a discussion, as far as whoever looks may hear it. */
interface Talk {
  releaseId: string;
  title: string;
  className: string;
  content: AssessmentContent;
  dueAt: string;
  contributeBy: string;
  openness: Openness;
  contributions: Contribution[];
  now: string;
}

/** A discussion as a student takes part in it. */
export interface DiscussionView extends Talk {
  given: Given;
  /** Who is in the circle, by name, where names show; oneself left out. */
  with: string[];
  /** Contributions of others that are heard once one has contributed oneself. */
  behindOwn: number;
  /** Why nothing can be put in, in words; null when it can. */
  closedFor: string | null;
  /** The sitting whose feedback is given. */
  feedbackSittingId: string | null;
}

/** Somebody in a discussion, as their teacher sees them. */
export interface InDiscussion {
  /** As `author` of their contributions. */
  author: string;
  name: string;
  /** Null while names are hidden from whoever marks. */
  personId: string | null;
  circle: number;
  given: Given;
  lastAt: string | null;
  remindedAt: string | null;
  excused: boolean;
  /** Has left the class since. */
  left: boolean;
}

/** A discussion as its teacher leads it. */
export interface LeadView extends Talk {
  classId: string;
  people: InDiscussion[];
  /** Circles there are; empty where everybody talks together. */
  circles: number[];
  namesHidden: boolean;
}
