import 'reflect-metadata';
import { ArrayMaxSize, ArrayMinSize, IsArray, IsString, MaxLength, MinLength } from 'class-validator';
import { ListOf } from './decorators';
import { LIMITS } from './limits';

/**
 * A can-do statement or a curriculum standard, as it stood when it was put on. Code and words together are its
 * identity: the same statement is the same tag in every assessment, class and package.
 */
export class Tag {
  @IsString()
  @MaxLength(LIMITS.tagCode, { message: `A code has at most ${LIMITS.tagCode} characters.` })
  code!: string;

  @IsString()
  @MinLength(1, { message: 'A statement needs words.' })
  @MaxLength(LIMITS.tagWords, { message: `A statement has at most ${LIMITS.tagWords} characters.` })
  words!: string;
}

export class NewTagList {
  @IsString()
  @MinLength(1, { message: 'Give the list a name.' })
  @MaxLength(LIMITS.title, { message: `A list’s name has at most ${LIMITS.title} characters.` })
  name!: string;

  @IsArray()
  @ArrayMinSize(1, { message: 'The list holds no statement.' })
  @ArrayMaxSize(LIMITS.statements, { message: `A list has at most ${LIMITS.statements} statements.` })
  @ListOf(() => Tag)
  statements!: Tag[];
}

export interface TagList {
  id: string;
  name: string;
  tags: Tag[];
}

export function sameTag(a: Tag, b: Tag): boolean {
  return a.code === b.code && a.words === b.words;
}
