import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsISO8601,
  IsOptional,
  IsUUID,
  ValidateNested,
} from 'class-validator';
import { Type } from 'class-transformer';
import type { ItemEventKind } from '@ecoute/core/timing/itemRun';
import type { Openness, SittingState } from '@ecoute/core/timing/sittingState';
import type { AssessmentContent } from './assessments';
import type { Subject } from './classes';
import type { RecordingView } from './recordings';

export const SITTING_EVENT_KINDS = [
  'promptBegan',
  'promptEnded',
  'prepareBegan',
  'prepareSkipped',
  'recordingBegan',
  'recordingEnded',
  'pageHidden',
  'pageShown',
  'connectionLost',
  'connectionBack',
  'resumed',
] as const;
export type SittingEventKind = (typeof SITTING_EVENT_KINDS)[number];

/** The engine's own kinds are a part of the account that is kept: this line does not compile otherwise. */
export const ENGINE_KINDS: ReadonlySet<SittingEventKind & ItemEventKind> = new Set<ItemEventKind>(
  SITTING_EVENT_KINDS.slice(0, 6) as ItemEventKind[],
);

export class SittingEvent {
  /** Chosen by the browser, so that sending twice is harmless. */
  @IsUUID('all')
  id!: string;

  @IsOptional()
  @IsUUID('all')
  itemId!: string | null;

  @IsIn(SITTING_EVENT_KINDS)
  kind!: SittingEventKind;

  @IsISO8601()
  at!: string;
}

export class NewEvents {
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => SittingEvent)
  events!: SittingEvent[];
}

export interface TodoEntry {
  releaseId: string;
  title: string;
  className: string;
  note: string;
  opensAt: string;
  dueAt: string;
  openness: Openness;
  state: SittingState;
  late: boolean;
  missing: boolean;
  sittingId: string | null;
  handedInAt: string | null;
  returnedAt: string | null;
  content: AssessmentContent;
  answeredItemIds: string[];
}

export interface TakeView {
  id: string;
  itemId: string;
  number: number;
  beganAt: string;
  chosenAt: string | null;
  recording: RecordingView;
}

export interface ReceiptLine {
  itemId: string;
  takeId: string | null;
  durationMs: number | null;
  sizeBytes: number | null;
  sha256: string | null;
}

export interface Receipt {
  sittingId: string;
  handedInAt: string;
  late: boolean;
  lines: ReceiptLine[];
}

/** A sitting as its student sees it: nothing of marks before the return. */
export interface SittingView {
  id: string;
  releaseId: string;
  title: string;
  className: string;
  subject: Subject;
  dueAt: string;
  openness: Openness;
  state: SittingState;
  content: AssessmentContent;
  events: SittingEvent[];
  takes: TakeView[];
  receipt: Receipt | null;
  now: string;
}

export interface MyRecording {
  takeId: string;
  sittingId: string;
  title: string;
  className: string;
  promptText: string;
  itemNumber: number;
  takeNumber: number;
  beganAt: string;
  durationMs: number | null;
}

export class HandIn {
  /** True when the student was told that items have no answer, and hands in all the same. */
  @IsBoolean()
  withGaps!: boolean;
}
