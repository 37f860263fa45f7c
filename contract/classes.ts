import { IsIn, IsString, Matches, MaxLength, MinLength } from 'class-validator';
import { LIMITS } from './limits';
import type { Role } from './people';

export type Subject = 'language' | 'music';

export class NewClass {
  @IsString()
  @Matches(/\S/, { message: 'Give the class a name.' })
  @MaxLength(LIMITS.title, { message: `A class name has at most ${LIMITS.title} characters.` })
  name!: string;

  @IsIn(['language', 'music'], { message: 'Choose language or music.' })
  subject!: Subject;
}

export class NewStudent {
  @IsString()
  @Matches(/\S/, { message: 'Type the student’s name.' })
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  displayName!: string;

  @IsString()
  @Matches(/^\S+$/, { message: 'Choose a sign-in name without spaces.' })
  @MaxLength(LIMITS.signInName, { message: `A sign-in name has at most ${LIMITS.signInName} characters.` })
  signInName!: string;

  @IsString()
  @MinLength(10, { message: 'A password needs at least 10 characters.' })
  @MaxLength(LIMITS.password, { message: `A password has at most ${LIMITS.password} characters.` })
  password!: string;
}

export interface ClassSummary {
  id: string;
  name: string;
  subject: Subject;
  students: number;
  teachers: string[];
}

export interface Member {
  id: string;
  displayName: string;
  signInName: string;
  role: Role;
}

export interface ClassDetail {
  id: string;
  name: string;
  subject: Subject;
  members: Member[];
}
