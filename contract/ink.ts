import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsInt, IsNumber, IsOptional, Max, Min } from 'class-validator';
import { MOST_POINTS, MOST_STROKES, PENS, type Ink, type InkStroke } from '@ecoute/core/takes/ink';
import { ListOf } from './decorators';

/** What a student draws on while they speak: nothing, the teacher's picture, or one of their own. */
export const SHEETS = ['empty', 'picture', 'own'] as const;
export type Sheet = (typeof SHEETS)[number];

/** The picture of the teacher's that is drawn on: the item's first, where that is what it asks for. */
export function drawnOn(item: {
  sheet?: Sheet | null;
  stimuli: readonly { kind: string; recordingId: string | null }[];
}): string | null {
  if (item.sheet !== 'picture') return null;
  return item.stimuli.find(s => s.kind === 'picture' && s.recordingId)?.recordingId ?? null;
}

export class InkStrokeData implements InkStroke {
  @IsInt()
  @Min(0)
  @Max(PENS.length - 1)
  pen!: number;

  @IsArray()
  @ArrayMaxSize(3 * MOST_POINTS)
  points!: number[];

  @IsOptional()
  @IsNumber()
  goneMs?: number;
}

/** What was drawn while a take was recorded, as the device sends it. */
export class NewInk implements Ink {
  @IsNumber()
  height!: number;

  @IsArray()
  @ArrayMaxSize(MOST_STROKES, { message: `A sheet holds ${MOST_STROKES} strokes at most.` })
  @ListOf(() => InkStrokeData)
  strokes!: InkStrokeData[];
}

/** What was drawn while a take was recorded, to be seen while it is heard. */
export interface SheetView {
  ink: Ink;
  /** Where in what is heard the first moment of the drawing lies, in ms; below 0 where it was cut away. */
  fromMs: number;
  /** The picture under it. */
  overId: string | null;
}
