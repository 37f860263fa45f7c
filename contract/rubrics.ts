import 'reflect-metadata';
import { IsBoolean, IsString, Matches, MaxLength } from 'class-validator';
import { Rubric } from './assessments';
import { Nested } from './decorators';
import { LIMITS } from './limits';

/** A rubric on the shelf: to be begun with in any assessment. */
export interface KeptRubric {
  id: string;
  name: string;
  rubric: Rubric;
  /** Students read it. */
  shown: boolean;
  keptAt: string;
  /** When it was taken off the shelf; null while it is on it. */
  takenAt: string | null;
}

export class NewKeptRubric {
  @IsString()
  @Matches(/\S/, { message: 'Give the rubric a name, so that it is found again.' })
  @MaxLength(LIMITS.title, { message: `A rubric’s name has at most ${LIMITS.title} characters.` })
  name!: string;

  @Nested(() => Rubric)
  rubric!: Rubric;

  @IsBoolean()
  shown!: boolean;
}

export class TakeRubric {
  /** Off the shelf, or back on it. */
  @IsBoolean()
  taken!: boolean;
}
