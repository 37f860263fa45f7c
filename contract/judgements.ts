/** What is said of an answer on a scheme, by teachers and by students of their own. */
import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MAX_ITEM_POINTS } from '@ecoute/core/scoring/points';
import { IsId, ListOf } from './decorators';
import { LIMITS } from './limits';

/** The level chosen on one criterion of the rubric. */
export class RubricChoice {
  @IsId()
  criterionId!: string;

  @IsInt()
  @Min(0)
  level!: number;
}

/**
 * What a student says of an answer of their own, or of the whole sitting, on the assessment's scheme: levels of
 * the rubric, points, done (1) or not (0), or a level of the scale; and a remark.
 */
export class Judgement {
  @IsArray()
  @ArrayMaxSize(LIMITS.criteria)
  @ListOf(() => RubricChoice)
  choices!: RubricChoice[];

  @IsOptional()
  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'Points have at most two decimals.' })
  @Min(0)
  @Max(MAX_ITEM_POINTS)
  points!: number | null;

  @IsOptional()
  @IsInt()
  @Min(0)
  @Max(LIMITS.levels)
  level!: number | null;

  @IsString()
  @MaxLength(LIMITS.remark, { message: `A remark has at most ${LIMITS.remark} characters.` })
  remark!: string;
}
