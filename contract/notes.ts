import 'reflect-metadata';
import { IsInt, IsOptional, IsString, MaxLength, Min } from 'class-validator';
import { IsId } from './decorators';
import { LIMITS } from './limits';
import type { RecordingState } from './recordings';

/** A note at a moment or along a stretch of a take, as its teacher writes it. */
export class SaveNote {
  /** In ms of what is heard of the take. */
  @IsInt()
  @Min(0)
  fromMs!: number;

  /** Null for a moment. */
  @IsOptional()
  @IsInt()
  @Min(1)
  toMs!: number | null;

  @IsString()
  @MaxLength(LIMITS.note, { message: `A note has at most ${LIMITS.note} characters.` })
  words!: string;

  /** Put in from the comment bank: its voice clip comes along. */
  @IsOptional()
  @IsId()
  commentId?: string | null;

  /** The wording this one follows; 0 for a new note. */
  @IsInt()
  @Min(0)
  revision!: number;
}

/** A note that is spoken: told before its first second comes. */
export class NewSpokenNote {
  /** Chosen by the browser, so that telling it twice is harmless. */
  @IsId()
  noteId!: string;

  @IsId()
  recordingId!: string;

  @IsInt()
  @Min(0)
  fromMs!: number;

  @IsString()
  @MaxLength(120)
  mediaType!: string;
}

export class RemoveNote {
  @IsInt()
  @Min(1)
  revision!: number;
}

export interface Note {
  id: string;
  takeId: string;
  fromMs: number;
  toMs: number | null;
  /** May be empty where the note is spoken. */
  words: string;
  revision: number;
  authorName: string;
  /** The recording of a spoken note, its length once it is known, and whether it can be heard yet. */
  voiceId: string | null;
  voiceMs: number | null;
  voiceState: RecordingState | null;
}
