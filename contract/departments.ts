import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsBoolean, IsString, MaxLength, MinLength } from 'class-validator';
import { IsId, ListOf } from './decorators';
import type { AssessmentSummary } from './assessments';
import { LIMITS } from './limits';

export class NewDepartment {
  @IsString()
  @MinLength(1, { message: 'Give the department a name.' })
  @MaxLength(LIMITS.title, { message: `A department’s name has at most ${LIMITS.title} characters.` })
  name!: string;
}

export class NewColleague {
  @IsString()
  @MinLength(1, { message: 'Type the name that your colleague signs in with.' })
  @MaxLength(LIMITS.signInName)
  signInName!: string;
}

export class Share {
  @IsId()
  departmentId!: string;

  /** Colleagues may change the assessment as well, not only take copies. */
  @IsBoolean()
  edits!: boolean;
}

export class Shares {
  @IsArray()
  @ArrayMaxSize(50)
  @ListOf(() => Share)
  shares!: Share[];
}

export class KeepAsTemplate {
  @IsBoolean()
  isTemplate!: boolean;
}

export interface Department {
  id: string;
  name: string;
  members: { id: string; displayName: string }[];
}

/** An assessment of a colleague's that stands on a department's shelf. */
export interface SharedAssessment extends AssessmentSummary {
  departmentName: string;
  edits: boolean;
}
