import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsBoolean, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
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
