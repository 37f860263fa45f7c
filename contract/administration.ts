import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsEmail,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  ValidateIf,
} from 'class-validator';
import { LIMITS } from './limits';
import type { Role } from './people';

/** Somebody new: they begin with a one-time code. */
export class NewAccount {
  @IsString()
  @Matches(/\S/, { message: 'Type the name that others will see.' })
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  displayName!: string;

  @IsString()
  @Matches(/^\S+$/, { message: 'Choose a sign-in name without spaces, for example the mail address.' })
  @MaxLength(LIMITS.signInName, { message: `A sign-in name has at most ${LIMITS.signInName} characters.` })
  signInName!: string;

  @IsOptional()
  @ValidateIf((a: NewAccount) => a.email !== '')
  @IsEmail({}, { message: 'This is no mail address.' })
  @MaxLength(254)
  email?: string;

  @IsIn(['teacher', 'student'])
  role!: Role;
}

export class NameAdmin {
  @IsBoolean()
  isAdmin!: boolean;
}

export class CloseAccount {
  @IsBoolean()
  closed!: boolean;
}

export class SendCode {
  @IsOptional()
  @IsBoolean()
  byMail?: boolean;
}

/** What becomes of jobs that were given up. */
export class JobsAgain {
  @IsIn(['again', 'dismiss'])
  what!: 'again' | 'dismiss';

  /** Those meant; all of them when left out. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(500)
  @IsInt({ each: true })
  ids?: number[];
}

export interface AccountRow {
  id: string;
  displayName: string;
  signInName: string;
  role: Role;
  isAdmin: boolean;
  /** Has signed in with a password of their own. */
  hasSignIn: boolean;
  hasMail: boolean;
  /** Its one-time code may be shown: whoever asks made the account, and nobody uses it yet. */
  showsCode: boolean;
  closedAt: string | null;
  /** Browsers in which they are signed in. */
  sessions: number;
}

export interface AccountList {
  people: AccountRow[];
  /** There are more: the name after which they come. */
  after: string | null;
}

export interface GivenUpJobView {
  id: number;
  kind: string;
  /** What it is about, in words. */
  about: string;
  error: string;
  failures: number;
  askedAt: string;
  failedAt: string | null;
}

export interface SafetyEntry {
  id: number;
  at: string;
  kind: string;
  person: string | null;
  by: string | null;
}

/** How this Ecoute is, for whoever looks after it. */
export interface Administration {
  people: { teachers: number; students: number; guests: number; closed: number };
  /** In bytes. */
  room: { disk: number; free: number; byPurpose: Record<string, number> };
  quotas: Record<'guest' | 'student' | 'teacher' | 'release' | 'door', number>;
  /** Those who keep most. */
  largest: { id: string; displayName: string; bytes: number }[];
  jobs: { waiting: number; running: number; failed: number; longestWaitMs: number };
  sendsMail: boolean;
  /** Takes whose bytes stopped coming. */
  quietTakes: number;
}
