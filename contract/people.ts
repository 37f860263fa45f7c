import 'reflect-metadata';
import { IsString, Length, Matches, MaxLength } from 'class-validator';
import { IsNewPassword } from './decorators';
import { LIMITS } from './limits';

export type Role = 'teacher' | 'student';

export class SignIn {
  @IsString()
  @Length(1, LIMITS.signInName, { message: 'Type your sign-in name.' })
  signInName!: string;

  @IsString()
  @Length(1, LIMITS.password, { message: 'Type your password.' })
  password!: string;
}

/** The first visit to an empty Ecoute makes the first teacher. */
export class FirstTeacher {
  @IsString()
  @Matches(/\S/, { message: 'Type the name that students will see.' })
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  displayName!: string;

  @IsString()
  @Matches(/^\S+$/, { message: 'Choose a sign-in name without spaces, for example your mail address.' })
  @MaxLength(LIMITS.signInName, { message: `A sign-in name has at most ${LIMITS.signInName} characters.` })
  signInName!: string;

  @IsNewPassword()
  password!: string;
}

/** A one-time code, as it was printed or mailed. */
export class LookAtCode {
  @IsString()
  @Length(1, 40, { message: 'Type the code.' })
  code!: string;
}

export class FirstSignIn extends LookAtCode {
  @IsNewPassword()
  password!: string;
}

/** What stands on a slip with a picture code, which a camera reads. */
export class SlipSignIn {
  @IsString()
  @Matches(/^[\w-]{20,64}$/, { message: 'This is no slip of Ecoute.' })
  token!: string;
}

/** One's own password, changed by oneself; every other session ends. */
export class ChangePassword {
  @IsString()
  @Length(1, LIMITS.password, { message: 'Type the password that you have now.' })
  current!: string;

  @IsNewPassword()
  password!: string;
}

/** What somebody is called in comments; empty for what their name gives. */
export class SetCalled {
  @IsString()
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  called!: string;
}

/** A new password is asked for by whoever forgot theirs; a code goes to their own mail address, where there is one. */
export class ForgottenPassword {
  @IsString()
  @Length(1, LIMITS.signInName, { message: 'Type your sign-in name.' })
  signInName!: string;
}

/** A browser in which somebody is signed in. */
export interface OwnSession {
  id: string;
  /** In words, as the browser calls itself. */
  browser: string;
  signedInAt: string;
  usedAt: string;
  isThis: boolean;
}

/** One's own account: where one is signed in, how much one keeps here, and what others did to it. */
export interface OwnAccount {
  signInName: string;
  email: string | null;
  /** What comments call them; empty for what their name gives. */
  called: string;
  hasPassword: boolean;
  sessions: OwnSession[];
  usedBytes: number;
  /** 0 for no limit. */
  quotaBytes: number;
  doneByOthers: { at: string; kind: string; by: string | null }[];
}

export interface Me {
  id: string;
  displayName: string;
  role: Role;
  /** Came by a link, without a sign-in. */
  isGuest?: boolean;
  /** Looks after this Ecoute: people, roles, what failed, room. That lets nobody hear anything. */
  isAdmin?: boolean;
}

/** Who is looking, if anybody; `needsFirstTeacher` on a new, empty Ecoute. */
export interface SessionState {
  me: Me | null;
  needsFirstTeacher: boolean;
  /** Does not read yet: pictures and sound in place of words. */
  byEar: boolean;
  /** There is a simulated mailbox to look into. */
  showsMailbox: boolean;
  /** Mail goes out, so that a forgotten password can be replaced by it. */
  sendsMail: boolean;
  /** The server's clock, so that the browser can correct its own. ISO 8601. */
  now: string;
}
