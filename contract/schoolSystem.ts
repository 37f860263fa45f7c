import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsOptional, IsString, Length, MaxLength, ValidateBy } from 'class-validator';
import { IsId, ListOf } from './decorators';

/** Secrets travel there: only by HTTPS, but for a system on this very machine. */
export function isSafeAddress(value: unknown): boolean {
  if (typeof value !== 'string' || value.length > 500 || !URL.canParse(value)) return false;
  const { protocol, hostname, username, password, search, hash } = new URL(value);
  if (username || password || search || hash) return false;
  return (
    protocol === 'https:' || (protocol === 'http:' && ['localhost', '127.0.0.1', '[::1]'].includes(hostname))
  );
}

const IsSafeAddress = () =>
  ValidateBy({
    name: 'isSafeAddress',
    validator: {
      validate: isSafeAddress,
      defaultMessage: () =>
        'Give an address that begins with https:// and has no question mark, for example https://school.example/oneroster.',
    },
  });

/** Where the school's system is, and as whom Ecoute comes. */
export class SaveSchoolSystem {
  /** Before `/ims/oneroster/…`. */
  @IsSafeAddress()
  baseUrl!: string;

  @IsSafeAddress()
  tokenUrl!: string;

  @IsString()
  @Length(1, 200, { message: 'Type the client id that the school’s system gave.' })
  clientId!: string;

  /** Left out, the one before stays. */
  @IsOptional()
  @IsString()
  @MaxLength(400)
  secret!: string | null;
}

export class LinkSchoolClass {
  @IsString()
  @Length(1, 255)
  sourcedId!: string;
}

class SchoolMatch {
  @IsId()
  personId!: string;

  /** Null for somebody who is not in the school's class. */
  @IsOptional()
  @IsString()
  @Length(1, 255)
  sourcedId!: string | null;
}

export class SaveSchoolMatches {
  @IsArray()
  @ArrayMaxSize(1_000)
  @ListOf(() => SchoolMatch)
  matches!: SchoolMatch[];
}

/** What was looked at is what is sent: anything else is looked at again first. */
export class HandOver {
  @IsString()
  @Length(64, 64)
  digest!: string;
}

export interface SchoolSystemView {
  /** Null where nobody has set it up. */
  system: { baseUrl: string; tokenUrl: string; clientId: string; changedAt: string | null } | null;
  /** It is the simulated one of the demo. */
  isSimulated: boolean;
}

/** What a try to get in came to. */
export interface SchoolTried {
  /** Titles of some of its classes. */
  classes: string[];
  count: number;
}

export interface SchoolClassChoice {
  sourcedId: string;
  title: string;
}

export interface SchoolStudent {
  sourcedId: string;
  name: string;
}

/** Somebody of a class, and who they are in the school's. */
export interface MatchedStudent {
  personId: string;
  displayName: string;
  sourcedId: string | null;
  /** Nothing is kept yet: this one was found by the school's id, the mail address or the name. */
  isProposed: boolean;
}

/** How a class stands with the school's system. */
export interface ClassAtSchool {
  isSetUp: boolean;
  isSimulated: boolean;
  linked: SchoolClassChoice | null;
  /** Who is who, as it was kept. */
  matched: number;
  unmatched: string[];
  handings: HandingView[];
}

export interface ClassMatches {
  students: MatchedStudent[];
  /** Everybody in the school's class. */
  school: SchoolStudent[];
}

export type HandingState = 'waiting' | 'running' | 'done' | 'stopped' | 'cancelled';

export interface HandingView {
  id: string;
  byName: string;
  state: HandingState;
  /** Why it stopped. */
  problem: string | null;
  madeAt: string;
  endedAt: string | null;
  total: number;
  taken: number;
  refused: number;
  withdrawn: number;
  /** What was refused or not sent, in words. */
  troubles: { what: string; why: string }[];
}

/** One line of what would be sent. */
export interface HandOverLine {
  act: 'put' | 'remove';
  kind: 'category' | 'lineItem' | 'result';
  /** The student, or the title of what it is. */
  what: string;
  before: string;
  now: string;
}

export interface HandOverDifference {
  digest: string;
  /** By assessment, in the order of the markbook; the same one released twice is two. */
  groups: { id: string; title: string; dueAt: string | null; lines: HandOverLine[] }[];
  total: number;
  /** Students who have results and nobody in the school's class. */
  left: string[];
}
