import 'reflect-metadata';
import { IsBoolean, IsEmail, IsIn, IsString, MaxLength } from 'class-validator';
import { STUDENT_LANGUAGES, type StudentLanguage } from './languages';
import { LIMITS } from './limits';

/** How somebody of a student's family is called, and in which language they are written to. */
export class ChangeFamilyAddress {
  @IsString()
  @MaxLength(LIMITS.name, { message: `A name has at most ${LIMITS.name} characters.` })
  name!: string;

  @IsIn(STUDENT_LANGUAGES, { message: 'Choose a language from the list.' })
  language!: StudentLanguage;
}

export class NewFamilyAddress extends ChangeFamilyAddress {
  @IsEmail({}, { message: 'This is no mail address.' })
  @MaxLength(254)
  email!: string;
}

export class SetAdult {
  @IsBoolean()
  isAdult!: boolean;
}

export interface FamilyAddress {
  id: string;
  email: string;
  name: string;
  language: StudentLanguage;
  /** Who ended it, where it is no longer written to. What a student or the family ended, a teacher does not begin again. */
  endedBy: 'teacher' | 'student' | 'family' | null;
}

/** Where a student's family is written to, as the teachers of the student see it. */
export interface FamilyView {
  /** A student of age sees the addresses, and may end them. */
  isAdult: boolean;
  addresses: FamilyAddress[];
}
