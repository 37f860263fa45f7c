import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  Min,
} from 'class-validator';
import { ListOf, Nested } from './decorators';
import { MOST_INK, MOST_NUMBERS, MOST_SHAPES, PATH_DATA, type Drawing } from '@ecoute/core/feedback/drawing';
import { SUGGESTION_KEY } from '@ecoute/core/feedback/suggestions';
import { MISCUES, type Miscue, type RunningRecord } from '@ecoute/core/feedback/runningRecord';

/** What a teacher marks on what was read or looked at: miscues on a passage; drawing and text. */
export const MARKUP_KINDS = ['record', 'drawing'] as const;
export type MarkupKind = (typeof MARKUP_KINDS)[number];

export class MiscueData {
  @IsInt()
  @Min(-1)
  word!: number;

  @IsIn(MISCUES)
  kind!: Miscue;

  @IsString()
  @MaxLength(120, { message: 'What was said has at most 120 characters.' })
  said!: string;

  @IsOptional()
  @IsInt()
  @Min(0)
  atMs!: number | null;
}

export class RecordData {
  @IsOptional()
  @IsInt()
  @Min(0)
  lastWord!: number | null;

  @IsOptional()
  @IsInt()
  @Min(0)
  fromMs!: number | null;

  @IsOptional()
  @IsInt()
  @Min(0)
  toMs!: number | null;

  @IsArray()
  @ArrayMaxSize(3_000, { message: 'A running record holds 3000 marks at most.' })
  @ListOf(() => MiscueData)
  marks!: MiscueData[];

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(3_000, { message: 'A running record holds 3000 refused suggestions at most.' })
  @Matches(SUGGESTION_KEY, { each: true, message: 'A refused suggestion names its kind and its words.' })
  refused?: string[];

  /** Of a dialogue: whose lines were spoken. */
  @IsOptional()
  @IsString()
  @MaxLength(40)
  part?: string | null;
}

export class ShapeData {
  @IsIn(['stroke', 'text'])
  kind!: 'stroke' | 'text';

  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_NUMBERS)
  points?: number[];

  @IsOptional()
  @IsNumber()
  x?: number;

  @IsOptional()
  @IsNumber()
  y?: number;

  @IsOptional()
  @IsString()
  text?: string;
}

export class LineData {
  @IsNumber()
  x!: number;

  @IsNumber()
  y!: number;

  @IsNumber()
  @Min(1)
  size!: number;

  @IsString()
  @MaxLength(2_000)
  text!: string;
}

export class InkData {
  @IsString()
  @MaxLength(MOST_INK)
  @Matches(PATH_DATA)
  d!: string;

  @IsOptional()
  @IsNumber()
  @Min(0)
  width?: number;
}

export class ScoreInkData {
  @IsNumber()
  x!: number;

  @IsNumber()
  y!: number;

  @IsNumber()
  @Min(0.01)
  scale!: number;

  @IsArray()
  @ArrayMaxSize(10_000)
  @ListOf(() => InkData)
  ink!: InkData[];
}

export class DrawingData {
  @IsNumber()
  height!: number;

  @IsArray()
  @ArrayMaxSize(MOST_SHAPES, { message: `A drawing holds ${MOST_SHAPES} strokes at most. Take some away.` })
  @ListOf(() => ShapeData)
  shapes!: ShapeData[];

  /** The lines of a passage as they lay under the strokes. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(1_000)
  @ListOf(() => LineData)
  underlay?: LineData[];

  @IsOptional()
  @Nested(() => ScoreInkData)
  score?: ScoreInkData;
}

/** One of the two, by the kind; both left out takes the markup away. */
export class SaveMarkup {
  @IsIn(MARKUP_KINDS)
  kind!: MarkupKind;

  /** The version that this one follows; 0 for a first one. */
  @IsInt()
  @Min(0)
  revision!: number;

  @IsOptional()
  @Nested(() => RecordData)
  record?: RecordData | null;

  @IsOptional()
  @Nested(() => DrawingData)
  drawing?: DrawingData | null;
}

export interface Markup {
  itemId: string;
  /** The stimulus, or the picture beside the take. */
  targetId: string;
  kind: MarkupKind;
  revision: number;
  record: RunningRecord | null;
  drawing: Drawing | null;
  authorName: string;
}
