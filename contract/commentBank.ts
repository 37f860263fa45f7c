import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { IsId, ListOf, Nested } from './decorators';
import { NewVoice } from './replies';
import { LIMITS } from './limits';
import type { RecordingState } from './recordings';

const WORDS = { message: `A comment has at most ${LIMITS.note} characters.` };

export class BankWords {
  @IsString()
  @Matches(/\S/, { message: 'A comment needs words.' })
  @MaxLength(LIMITS.note, WORDS)
  words!: string;

  /** The address of a page that helps; may be empty. */
  @IsString()
  @MaxLength(LIMITS.link)
  @Matches(/^(https?:\/\/\S+)?$/i, { message: 'A link begins with https://' })
  link!: string;
}

/** A topic, with its first comments where it is made from a rubric, a list of statements or a file. */
export class NewTopic {
  @IsString()
  @Matches(/\S/, { message: 'Give the topic a name.' })
  @MaxLength(LIMITS.title)
  name!: string;

  /** Of one of the teacher's departments; the teacher's own when left out. */
  @IsOptional()
  @IsId()
  departmentId?: string | null;

  /** Holds small praise instead of comments. */
  @IsOptional()
  @IsBoolean()
  praise?: boolean;

  @IsArray()
  @ArrayMaxSize(LIMITS.topicComments)
  @ListOf(() => BankWords)
  comments!: BankWords[];
}

export class NewTopics {
  @IsArray()
  @ArrayMaxSize(200, { message: 'At most 200 topics at once.' })
  @ListOf(() => NewTopic)
  topics!: NewTopic[];
}

/** A comment just written, kept under a topic: an own one, or a new one of that name. */
export class KeepInBank extends BankWords {
  @IsString()
  @Matches(/\S/, { message: 'Give the topic a name.' })
  @MaxLength(LIMITS.title)
  topic!: string;
}

/** Where a comment that was kept is now. */
export interface KeptInBank {
  topicId: string;
  commentId: string;
  /** It was there already. */
  known: boolean;
  /** The topic was made for it. */
  newTopic: boolean;
  topics: Topic[];
}

/** A topic renamed, or its comments in another order. */
export class ChangeTopic {
  @IsString()
  @Matches(/\S/, { message: 'Give the topic a name.' })
  @MaxLength(LIMITS.title)
  name!: string;

  /** Comments that are here now, in order; those of other topics move here. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(LIMITS.topicComments)
  @IsId({ each: true })
  order?: string[];
}

export class OrderTopics {
  @IsArray()
  @ArrayMaxSize(1_000)
  @IsId({ each: true })
  topicIds!: string[];
}

/** A comment, new or reworded. */
export class SaveBankComment extends BankWords {
  /** A voice clip to go with it, announced by this. */
  @IsOptional()
  @Nested(() => NewVoice)
  voice?: NewVoice | null;

  /** Takes the clip away. */
  @IsOptional()
  @IsBoolean()
  withoutVoice?: boolean;
}

/** A comment of a file: `BankRow` of the core. */
export class BankFileRow extends BankWords {
  @IsString()
  @Matches(/\S/, { message: 'Give the topic a name.' })
  @MaxLength(LIMITS.title)
  topic!: string;

  @IsBoolean()
  praise!: boolean;

  @IsString()
  @MaxLength(LIMITS.title)
  department!: string;

  /** Id of a clip; empty without one. */
  @Matches(/^([0-9a-f-]{36})?$/i)
  clip!: string;

  @IsInt()
  @Min(0)
  @Max(999_999)
  used!: number;
}

/** A file read into the bank, or only what that would do. */
export class ReadInBank {
  @IsString()
  @MaxLength(255)
  fileName!: string;

  @IsArray()
  @ArrayMaxSize(LIMITS.bankRows, { message: `A file has at most ${LIMITS.bankRows} comments. Divide it.` })
  @ListOf(() => BankFileRow)
  rows!: BankFileRow[];

  /** Nothing is stored. */
  @IsBoolean()
  trial!: boolean;
}

/** What reading a file in does, or did, topic by topic. */
export interface BankImport {
  parts: {
    name: string;
    praise: boolean;
    departmentName: string | null;
    isNew: boolean;
    /** The comments that come in. */
    comes: string[];
    /** How many are there already. */
    known: number;
    /** How many have no room in the topic. */
    over: number;
  }[];
  /** Clips that are named in the file and not here: their comments come without them. */
  clipsLost: number;
  /** Departments that are named in the file and not one’s own: their comments become one’s own. */
  departmentsLost: string[];
  /** Null for a trial, and where nothing came in. */
  importId: string | null;
}

/** What happened to the bank lately and can be taken back, newest first. */
export interface BankLately {
  imports: { id: string; fileName: string; madeAt: string; comments: number; topics: number }[];
  topics: { id: string; name: string; comments: number; removedAt: string }[];
  comments: { id: string; topicId: string; topicName: string; words: string; removedAt: string }[];
}

export interface BankComment {
  id: string;
  words: string;
  link: string;
  voiceId: string | null;
  voiceMs: number | null;
  voiceState: RecordingState | null;
  used: number;
}

export interface Topic {
  id: string;
  name: string;
  praise: boolean;
  departmentId: string | null;
  departmentName: string | null;
  comments: BankComment[];
}
