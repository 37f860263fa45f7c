import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsOptional,
  IsString,
  MaxLength,
} from 'class-validator';
import { IsId, IsInstant } from './decorators';
import { LIMITS } from './limits';

/**
 * What a teacher may decide about one student's part in a release: give it back to be done again, leave one sitting out
 * of account, let a late one count as in time, excuse the student, allow another sitting, let notes be heard before the
 * hand-in.
 */
export const DECISIONS = ['askAgain', 'setAside', 'acceptLate', 'excuse', 'another', 'showNotes'] as const;
export type DecisionKind = (typeof DECISIONS)[number];

export class NewDecision {
  @IsIn(DECISIONS)
  kind!: DecisionKind;

  /** The sitting that it is about; left out for a student who has none. */
  @IsOptional()
  @IsId()
  sittingId?: string | null;

  @IsOptional()
  @IsId()
  personId?: string | null;

  /** For the student where something is to be recorded again; for the record elsewhere. */
  @IsString()
  @MaxLength(LIMITS.reason, { message: `A reason has at most ${LIMITS.reason} characters.` })
  reason!: string;

  /** The items to be recorded again; left out, or all of them: the whole sitting. */
  @IsOptional()
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one item.' })
  @ArrayMaxSize(LIMITS.items)
  @IsId({ each: true })
  itemIds?: string[] | null;

  /** Until when it is done again; ISO 8601. */
  @IsOptional()
  @IsInstant('Say until when.')
  until?: string | null;
}

export class HideNames {
  @IsBoolean()
  hidden!: boolean;
}

/** Names hidden, or shown again. */
export interface NamesChange {
  hidden: boolean;
  by: string;
  at: string;
}

export interface Decision {
  id: string;
  kind: DecisionKind;
  sittingId: string | null;
  /** As the lanes name the student: a number where names are hidden. */
  studentName: string;
  reason: string;
  madeBy: string;
  madeAt: string;
  undoneBy: string | null;
  undoneAt: string | null;
}
