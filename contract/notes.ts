import { IsInt, IsOptional, IsString, MaxLength, Min } from 'class-validator';
import { LIMITS } from './limits';

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

  /** The wording this one follows; 0 for a new note. */
  @IsInt()
  @Min(0)
  revision!: number;
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
  words: string;
  revision: number;
  authorName: string;
}
