import { IsIn, IsISO8601, IsOptional, IsString, IsUUID, MaxLength } from 'class-validator';

/** Announces a sound before its bytes come. The browser chooses the id, so that announcing twice is harmless. */
export class NewTake {
  @IsUUID('all')
  recordingId!: string;

  @IsUUID('all')
  itemId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;

  /** When recording began, by the server's clock. ISO 8601. */
  @IsISO8601()
  beganAt!: string;
}

export class NewPromptRecording {
  @IsUUID('all')
  recordingId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;

  @IsIn(['recorded', 'uploaded'])
  source!: 'recorded' | 'uploaded';

  @IsOptional()
  @IsString()
  @MaxLength(255)
  fileName!: string | null;
}

/**
 * `arriving`: bytes still come. `checking`: all here, being looked at. `stored`: stands, can be heard.
 * `refused`: kept as it came, but does not stand; `problem` says why.
 */
export type RecordingState = 'arriving' | 'checking' | 'stored' | 'refused';

export type RecordingProblem = 'empty' | 'notAudio' | 'damaged' | 'tooLong';

export interface RecordingView {
  id: string;
  state: RecordingState;
  problem: RecordingProblem | null;
  /** The problem in words, with the next step. */
  message: string | null;
  durationMs: number | null;
  /** Nothing can be heard in it. */
  silent: boolean;
  sizeBytes: number | null;
  sha256: string | null;
}
