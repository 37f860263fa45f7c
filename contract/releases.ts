import { IsBoolean, IsISO8601, IsOptional, IsString, IsUUID, MaxLength } from 'class-validator';
import type { SittingState } from '@ecoute/core/timing/sittingState';
import type { AssessmentContent } from './assessments';
import { LIMITS } from './limits';

export class NewRelease {
  @IsUUID('all', { message: 'Choose an assessment.' })
  assessmentId!: string;

  @IsUUID('all', { message: 'Choose a class.' })
  classId!: string;

  /** Now when left out. ISO 8601. */
  @IsOptional()
  @IsISO8601({}, { message: 'Say when it opens.' })
  opensAt?: string | null;

  @IsISO8601({}, { message: 'Say when it is due.' })
  dueAt!: string;

  @IsBoolean()
  lateAccepted!: boolean;

  @IsString()
  @MaxLength(LIMITS.releaseNote, { message: `A note has at most ${LIMITS.releaseNote} characters.` })
  note!: string;
}

export interface StateCounts {
  students: number;
  notOpened: number;
  underWay: number;
  handedIn: number;
  marked: number;
  returned: number;
  late: number;
  missing: number;
}

export interface ReleaseSummary {
  id: string;
  assessmentId: string;
  title: string;
  className: string;
  classId: string;
  opensAt: string;
  dueAt: string;
  lateAccepted: boolean;
  note: string;
  content: AssessmentContent;
  counts: StateCounts;
  /** Listening that waits: length of the takes that count in sittings handed in and not yet marked. */
  waitingMs: number;
  waitingSittings: number;
}

export interface ReleaseStudent {
  id: string;
  displayName: string;
  sittingId: string | null;
  state: SittingState;
  late: boolean;
  missing: boolean;
  handedInAt: string | null;
  returnedAt: string | null;
  answered: number;
  givenPoints: number | null;
}

export interface ReleaseDetail extends ReleaseSummary {
  students: ReleaseStudent[];
}
