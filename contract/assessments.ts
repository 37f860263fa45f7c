import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { MAX_ITEM_POINTS } from '@ecoute/core/scoring/points';
import { LIMITS } from './limits';

/** One thing to answer aloud. Durations in ms. */
export class Item {
  @IsUUID('all')
  id!: string;

  @IsString()
  @MaxLength(LIMITS.promptText, { message: `A prompt has at most ${LIMITS.promptText} characters.` })
  promptText!: string;

  /** The prompt as sound, if it has a voice. */
  @IsOptional()
  @IsUUID('all')
  promptRecordingId!: string | null;

  /** Measured by the server from the sound; what a browser sends is replaced. */
  @IsOptional()
  @IsInt()
  @Min(0)
  promptDurationMs!: number | null;

  @IsInt({ message: 'Time to prepare is a length such as 0:30.' })
  @Min(0, { message: 'Time to prepare cannot be below zero.' })
  @Max(LIMITS.prepareMs, { message: 'Time to prepare is at most 15 minutes.' })
  prepareMs!: number;

  @IsInt({ message: 'The answer limit is a length such as 1:30.' })
  @Min(LIMITS.shortestAnswerLimitMs, { message: 'An answer needs at least 1 second.' })
  @Max(LIMITS.answerMs, { message: 'An answer is at most 30 minutes.' })
  answerLimitMs!: number;

  /** Takes a student may record; 0 means as many as they like. */
  @IsInt({ message: 'Takes are a whole number.' })
  @Min(0)
  @Max(LIMITS.takes, { message: `At most ${LIMITS.takes} takes, or no limit.` })
  takesAllowed!: number;

  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'Points have at most two decimals.' })
  @Min(0, { message: 'Points cannot be below zero.' })
  @Max(MAX_ITEM_POINTS, { message: `An item carries at most ${MAX_ITEM_POINTS} points.` })
  points!: number;
}

/** Everything a teacher puts into an assessment; a draft while it is edited, frozen when released. */
export class AssessmentContent {
  @IsString()
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsString()
  @MaxLength(LIMITS.directions, { message: `Directions have at most ${LIMITS.directions} characters.` })
  directions!: string;

  @IsArray()
  @ArrayMaxSize(LIMITS.items, { message: `An assessment has at most ${LIMITS.items} items.` })
  @ValidateNested({ each: true })
  @Type(() => Item)
  items!: Item[];
}

export class SaveAssessment {
  /** The revision that the changes were made on; another one stored meanwhile is a conflict. */
  @IsInt()
  @Min(0)
  revision!: number;

  @ValidateNested()
  @Type(() => AssessmentContent)
  content!: AssessmentContent;
}

export interface AssessmentDraft {
  id: string;
  revision: number;
  content: AssessmentContent;
  updatedAt: string;
  releases: number;
}

export interface AssessmentSummary {
  id: string;
  content: AssessmentContent;
  updatedAt: string;
  releases: number;
}

/** What keeps an assessment from being released, in the order a teacher would mend it; empty when ready. */
export function releaseProblems(content: AssessmentContent): string[] {
  const problems: string[] = [];
  if (!content.title.trim()) problems.push('Give the assessment a title.');
  if (content.items.length === 0) problems.push('Add an item to answer.');
  content.items.forEach((item, i) => {
    if (!item.promptText.trim() && !item.promptRecordingId) problems.push(`Item ${i + 1} has no prompt yet.`);
  });
  return problems;
}
