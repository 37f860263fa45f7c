import 'reflect-metadata';
import { IsInt, IsOptional, IsString, Matches, Max, MaxLength, Min, ValidateIf } from 'class-validator';
import { IsId, IsInstant } from './decorators';
import { LIMITS } from './limits';
import type { Outline } from './releases';

/** A way in for guests. What is left out sets no limit. */
export class NewLink {
  /** A word that is said in class and asked for at the door. */
  @IsOptional()
  @ValidateIf((l: NewLink) => l.classCode !== '')
  @IsString()
  @MaxLength(40, { message: 'A class code has at most 40 characters.' })
  classCode?: string | null;

  @IsOptional()
  @IsInt()
  @Min(1, { message: 'Let at least one guest in.' })
  @Max(10_000)
  mostGuests?: number | null;

  @IsOptional()
  @IsInstant('Say when the link closes, or leave that open.')
  closesAt?: string | null;

  /** How long what guests leave behind is kept after they came. */
  @IsInt()
  @Min(1)
  @Max(730)
  keepDays!: number;
}

/** A link as its teachers see it. */
export interface LinkView {
  id: string;
  url: string;
  code: string;
  classCode: string | null;
  mostGuests: number | null;
  keepDays: number;
  closesAt: string | null;
  closedAt: string | null;
  guests: number;
}

/** What a guest is told at the door. */
export interface DoorView {
  title: string;
  teacherName: string;
  outline: Outline;
  dueAt: string;
  asksClassCode: boolean;
  keepDays: number;
  /** The release, for somebody who is known here already: a guest who comes back, a student of the class. */
  releaseId: string | null;
}

export class NewGuest {
  @IsString()
  @Matches(/[\p{L}\p{N}]/u, { message: 'Type your name, so that your teacher knows whose voice it is.' })
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  name!: string;

  @IsOptional()
  @IsString()
  @MaxLength(40)
  classCode?: string | null;
}

/** Where a guest goes on, and the address by which they come back. */
export interface GuestWelcome {
  releaseId: string;
  token: string;
}

export class GuestReturn {
  @IsId()
  token!: string;
}

/** Somebody whom a guest probably is. */
export interface LikelyPerson {
  id: string;
  displayName: string;
  isGuest: boolean;
}

/** A guest of a release, as its teachers see them. */
export interface GuestView {
  id: string;
  displayName: string;
  cameAt: string;
  likely: LikelyPerson[];
}

export class MergeGuest {
  @IsId({ message: 'Choose who this is.' })
  into!: string;
}
