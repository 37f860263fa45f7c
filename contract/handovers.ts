import 'reflect-metadata';
import { IsString, MaxLength, MinLength } from 'class-validator';
import { IsId } from './decorators';
import type { SittingView } from './sittings';

/** What the first screen shows, so that a phone records for it. */
export interface HandoverView {
  code: string;
  url: string;
  expiresAt: string;
}

export class OpenHandover {
  @IsString()
  @MinLength(1, { message: 'Type the code that the first screen shows.' })
  @MaxLength(40, { message: 'That is not a code of the first screen.' })
  code!: string;
}

export class MovePhone {
  @IsId()
  itemId!: string;
}

/** The item of a sitting where its phone is. */
export interface PhoneView {
  /** With this one item. */
  sitting: SittingView;
  /** Items that a phone can answer, in their order. */
  itemIds: string[];
  /** Their numbers in the whole, from 1. */
  numbers: number[];
  /** The sitting was handed in meanwhile. */
  over: boolean;
}
