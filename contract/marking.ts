import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MAX_ITEM_POINTS } from '@ecoute/core/scoring/points';
import type { AssessmentContent } from './assessments';
import { LIMITS } from './limits';
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

  /** True once the teacher is done with this answer. */
  @IsBoolean()
  finished!: boolean;
}

export class ReturnSittings {
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one sitting to return.' })
  @ArrayMaxSize(2_000)
  @IsUUID('all', { each: true })
  sittingIds!: string[];
}

export interface Mark {
  revision: number;
  points: number | null;
  comment: string;
  finished: boolean;
  authorName: string;
  updatedAt: string;
}

/** One answer of one student on one item, with what the teacher has said of it. */
export interface Lane {
  sittingId: string;
  studentId: string;
  studentName: string;
  itemId: string;
  state: SittingState;
  late: boolean;
  takeId: string | null;
  durationMs: number | null;
  silent: boolean;
  takes: number;
  /** The answer in writing, where the item asks for one. */
  written: string | null;
  /** The student passed on the item. */
  passed: boolean;
  mark: Mark | null;
}

export interface ListenView {
  releaseId: string;
  title: string;
  className: string;
  dueAt: string;
  content: AssessmentContent;
  lanes: Lane[];
  missing: { id: string; displayName: string }[];
}

export interface ReturnResult {
  returned: number;
  /** Sittings left alone because an answer is not finished yet. */
  unfinished: { sittingId: string; studentName: string; items: number[] }[];
}

export interface ReturnedItem {
  itemId: string;
  takeId: string | null;
  durationMs: number | null;
  written: string | null;
  passed: boolean;
  points: number | null;
  comment: string;
  authorName: string | null;
}

export interface ReturnedView {
  sittingId: string;
  title: string;
  className: string;
  handedInAt: string;
  returnedAt: string;
  late: boolean;
  content: AssessmentContent;
  items: ReturnedItem[];
  total: { given: number; maximum: number } | null;
}

export interface ReturnedEntry {
  sittingId: string;
  title: string;
  className: string;
  returnedAt: string;
  total: { given: number; maximum: number } | null;
}
