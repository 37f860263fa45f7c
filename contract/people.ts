import 'reflect-metadata';
import { IsString, Length, Matches, MinLength, MaxLength } from 'class-validator';
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

  @IsString()
  @MinLength(10, { message: 'A password needs at least 10 characters.' })
  @MaxLength(LIMITS.password, { message: `A password has at most ${LIMITS.password} characters.` })
  password!: string;
}

/** A one-time code, as it was printed or mailed. */
export class LookAtCode {
  @IsString()
  @Length(1, 40, { message: 'Type the code.' })
  code!: string;
}

export class FirstSignIn extends LookAtCode {
  @IsString()
  @MinLength(10, { message: 'A password needs at least 10 characters.' })
  @MaxLength(LIMITS.password, { message: `A password has at most ${LIMITS.password} characters.` })
  password!: string;
}

export interface Me {
  id: string;
  displayName: string;
  role: Role;
  /** Came by a link, without a sign-in. */
  isGuest?: boolean;
}

/** Who is looking, if anybody; `needsFirstTeacher` on a new, empty Ecoute. */
export interface SessionState {
  me: Me | null;
  needsFirstTeacher: boolean;
  /** There is a simulated mailbox to look into. */
  showsMailbox: boolean;
  /** The server's clock, so that the browser can correct its own. ISO 8601. */
  now: string;
}
