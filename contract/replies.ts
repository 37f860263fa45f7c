import 'reflect-metadata';
import { IsIn, IsOptional, IsString, MaxLength } from 'class-validator';
import { IsId, Nested } from './decorators';
import { LIMITS } from './limits';
import type { RecordingState } from './recordings';

/** What a student is asked to do with feedback: say that it was heard, reply, say what they would change, record again. */
export const ASKS = ['acknowledge', 'reply', 'change', 'recordAgain'] as const;
export type AskKind = (typeof ASKS)[number];

/** Asks for an answer, in place of what was asked before; null asks for nothing any more. */
export class SaveAsk {
  /** Left out for the sitting as a whole. */
  @IsOptional()
  @IsId()
  itemId?: string | null;

  @IsOptional()
  @IsIn(ASKS)
  kind!: AskKind | null;

  @IsString()
  @MaxLength(LIMITS.remark, { message: `A request has at most ${LIMITS.remark} characters.` })
  words!: string;
}

export class NewVoice {
  @IsId()
  recordingId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;
}

/** Something said in the exchange about an answer. */
export class NewReply {
  /** Chosen by the browser, so that sending it twice is harmless. */
  @IsId()
  id!: string;

  @IsOptional()
  @IsId()
  itemId?: string | null;

  /** What it answers. */
  @IsOptional()
  @IsId()
  askId?: string | null;

  @IsString()
  @MaxLength(LIMITS.reply, { message: `A reply has at most ${LIMITS.reply} characters.` })
  words!: string;

  @IsOptional()
  @Nested(() => NewVoice)
  voice?: NewVoice | null;
}

export interface Ask {
  id: string;
  itemId: string | null;
  kind: AskKind;
  words: string;
  askedBy: string;
  answeredAt: string | null;
}

export interface Reply {
  id: string;
  itemId: string | null;
  askId: string | null;
  fromStudent: boolean;
  /** Empty for the student while names are hidden. */
  authorName: string;
  words: string;
  voiceId: string | null;
  voiceMs: number | null;
  voiceState: RecordingState | null;
  madeAt: string;
  /** The teacher lets it stand without an answer. */
  settled: boolean;
}
