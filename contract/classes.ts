import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator';
import { IsId, IsNewPassword, ListOf } from './decorators';
import type { Arrangement } from '@ecoute/core/timing/arrangements';
import { LIMITS } from './limits';

export type Subject = 'language' | 'music';

/** What somebody is in a class. A coordinator plans for it and sees where everybody stands, but hears nobody. */
export const CLASS_ROLES = ['student', 'teacher', 'coordinator'] as const;
export type ClassRole = (typeof CLASS_ROLES)[number];

export class NewClass {
  @IsString()
  @Matches(/\S/, { message: 'Give the class a name.' })
  @MaxLength(LIMITS.title, { message: `A class name has at most ${LIMITS.title} characters.` })
  name!: string;

  @IsIn(['language', 'music'], { message: 'Choose language or music.' })
  subject!: Subject;

  /** Names of its first students; each is given a sign-in name, and begins with a one-time code. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200, { message: 'At most 200 students at once. Bring the others in as a list.' })
  @IsString({ each: true })
  @Matches(/\S/, { each: true, message: 'A student’s name is empty.' })
  @MaxLength(LIMITS.name, { each: true, message: `A name has at most ${LIMITS.name} characters.` })
  students?: string[];
}

export class NewStudent {
  @IsString()
  @Matches(/\S/, { message: 'Type the student’s name.' })
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  displayName!: string;

  /** Made from the name when left out. */
  @IsOptional()
  @ValidateIf((s: NewStudent) => s.signInName !== '')
  @IsString()
  @Matches(/^\S+$/, { message: 'Choose a sign-in name without spaces.' })
  @MaxLength(LIMITS.signInName, { message: `A sign-in name has at most ${LIMITS.signInName} characters.` })
  signInName?: string;

  @IsOptional()
  @ValidateIf((s: NewStudent) => s.email !== '')
  @IsEmail({}, { message: 'This is no mail address.' })
  @MaxLength(254)
  email?: string;

  /** Without one, the student begins with a one-time code. */
  @IsOptional()
  @ValidateIf((s: NewStudent) => s.password !== '')
  @IsNewPassword()
  password?: string;
}

/** Somebody who has a sign-in already. */
export class NewMember {
  @IsString()
  @Matches(/\S/, { message: 'Type the sign-in name.' })
  @MaxLength(LIMITS.signInName)
  signInName!: string;

  @IsIn(CLASS_ROLES)
  role!: ClassRole;

  /** For a colleague who has no sign-in yet: their name, so that one is made. */
  @IsOptional()
  @IsString()
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  displayName?: string;
}

export class NewGroup {
  @IsString()
  @Matches(/\S/, { message: 'Give the group a name.' })
  @MaxLength(LIMITS.title, { message: `A group name has at most ${LIMITS.title} characters.` })
  name!: string;

  @IsArray()
  @ArrayMaxSize(2_000)
  @IsId({ each: true })
  memberIds!: string[];
}

export class SetArrangement implements Arrangement {
  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'Say the time as a factor, for example 1.25.' })
  @Min(1, { message: 'A factor on time is at least 1.' })
  @Max(4, { message: 'A factor on time is at most 4.' })
  extraTime!: number;

  @IsInt()
  @Min(0)
  @Max(LIMITS.hearings)
  extraHearings!: number;

  @IsBoolean()
  readAloud!: boolean;

  @IsInt()
  @Min(0)
  @Max(LIMITS.breakMs, { message: 'Breaks last at most an hour in all.' })
  breakMs!: number;

  @IsOptional()
  @IsString()
  @MaxLength(35)
  directionsLanguage!: string | null;

  @IsBoolean()
  byEar = false;
}

/** Whom to make slips with a picture code for. */
export class SlipsFor {
  @IsArray()
  @ArrayMaxSize(2_000)
  @IsId({ each: true })
  personIds!: string[];
}

/** A slip as it is printed, once: a camera reads its address. */
export interface SignInSlip {
  personId: string;
  displayName: string;
  address: string;
}

/** Whom to make codes for. */
export class CodesFor extends SlipsFor {
  /** Mails each code to its student, where there is an address, instead of showing it. */
  @IsOptional()
  @IsBoolean()
  byMail?: boolean;
}

/** A one-time code: said once, to whoever made it, and not to be had again. */
export interface FirstCode {
  personId: string;
  displayName: string;
  signInName: string;
  /** Null where it went out by mail. */
  code: string | null;
  /** Where it is typed; with the code behind a “#” it opens with it. */
  address: string;
  expiresAt: string;
}

/** A student's name or mail address, corrected. */
export class CorrectStudent {
  @IsString()
  @Matches(/\S/, { message: 'Type the student’s name.' })
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  displayName!: string;

  /** Empty for none; left out where it stays as it is. */
  @IsOptional()
  @ValidateIf((s: CorrectStudent) => s.email !== '')
  @IsEmail({}, { message: 'This is no mail address.' })
  @MaxLength(254)
  email?: string;
}

export class MoveStudent {
  @IsId()
  toClassId!: string;
}

export class PutClassAway {
  @IsBoolean()
  away!: boolean;
}

export interface ClassSummary {
  id: string;
  /** When it was put away; null while it is in use. */
  putAwayAt: string | null;
  name: string;
  subject: Subject;
  students: number;
  teachers: string[];
  groups: { id: string; name: string; students: number }[];
}

export interface Member {
  id: string;
  displayName: string;
  /** What comments call them; empty for what their name gives. */
  called: string;
  signInName: string;
  email: string | null;
  role: ClassRole;
  /** Has a password of their own. */
  hasSignIn: boolean;
  /** A slip with a picture code that is good. */
  hasSlip: boolean;
  /** A code that was made and is still good. */
  codeUntil: string | null;
  /** Addresses of their family that are written to. */
  families: number;
  groupIds: string[];
  arrangement: Arrangement;
}

export interface ClassDetail {
  id: string;
  putAwayAt: string | null;
  name: string;
  subject: Subject;
  /** What whoever looks is in it. A coordinator sees no mail addresses, codes or access arrangements. */
  own: 'teacher' | 'coordinator';
  /** Asked to join, and nothing said yet. */
  asked: Asked[];
  members: Member[];
  groups: { id: string; name: string }[];
}

export class ListColumn {
  @IsOptional()
  @IsString()
  @MaxLength(30)
  field!: string | null;
}

/** How a list is read, and what becomes of names that are in the class already. */
export class ImportChoices {
  @IsArray()
  @ArrayMaxSize(200)
  @ListOf(() => ListColumn)
  columns!: ListColumn[];

  @IsBoolean()
  hasHeader!: boolean;

  /** Rows whose name somebody in the class has already, without anything else that tells them apart. */
  @IsIn(['leaveOut', 'add'])
  sameNames!: 'leaveOut' | 'add';

  @IsIn(['language', 'music'])
  subject!: Subject;
}

/** What becomes of a row. */
export type RowFate = 'new' | 'joins' | 'asked' | 'already' | 'sameName' | 'leftOut';

export interface ImportRow {
  row: number;
  name: string;
  signInName: string | null;
  className: string | null;
  fate: RowFate;
  /** Why, in words that follow “row 7”. */
  why: string | null;
}

export interface ImportView {
  id: string;
  kind: 'list' | 'oneRoster';
  fileName: string;
  classId: string | null;
  className: string | null;
  choices: ImportChoices;
  /** The first rows as they were read. */
  sample: string[][];
  state: 'planned' | 'waiting' | 'running' | 'cancelled' | 'done' | 'failed';
  done: number;
  total: number;
  counts: Record<RowFate, number> & { newClasses: number };
  /** What becomes of each row; of very many, those with something to say and the first others. */
  rows: ImportRow[];
  /** Classes that people were added to, once it is done. */
  classes: { id: string; name: string }[];
}

/** Somebody who was asked to join, and has not said anything yet. */
export interface Asked {
  id: string;
  /** As it was typed: nothing else is known of somebody who has not said yes. */
  signInName: string;
  role: ClassRole;
  madeAt: string;
}
