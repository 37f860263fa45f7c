/** What somebody takes along, made by a job and kept for a day. */
import 'reflect-metadata';
import { IsIn, IsOptional } from 'class-validator';
import { IsDay } from './decorators';

/** Of a class. */
export const EXPORT_KINDS = ['workbook', 'tables', 'sheets', 'sheetFiles', 'gradebook'] as const;
/** Of one discussion: heard offline in threads, or one sound with chapters. */
export const TALK_EXPORT_KINDS = ['talk', 'talkSound'] as const;
export type TalkExportKind = (typeof TALK_EXPORT_KINDS)[number];
export type ExportKind = (typeof EXPORT_KINDS)[number] | TalkExportKind;

export class NewTalkExport {
  @IsIn(TALK_EXPORT_KINDS, { message: 'Choose what to take along.' })
  kind!: TalkExportKind;
}

export class NewExport {
  @IsIn(EXPORT_KINDS, { message: 'Choose what to take along.' })
  kind!: (typeof EXPORT_KINDS)[number];

  /** What was due from this day to that one; left out for all there is. */
  @IsOptional()
  @IsDay('Choose the first day.')
  from?: string | null;

  @IsOptional()
  @IsDay('Choose the last day.')
  to?: string | null;
}

export type ExportState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

export interface ExportView {
  id: string;
  kind: ExportKind;
  classId: string;
  className: string;
  state: ExportState;
  done: number;
  total: number;
  fileName: string | null;
  sizeBytes: number | null;
  /** Why nothing came of it. */
  problem: string | null;
  madeAt: string;
  /** When its file is thrown away; null before it is made. */
  until: string | null;
}

/** So long is a file kept. */
export const KEPT_MS = 24 * 3_600_000;
