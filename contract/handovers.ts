import 'reflect-metadata';
import { IsString, MaxLength, MinLength } from 'class-validator';
import type { SittingView } from './sittings';

/** What the first screen shows, so that a phone continues one item. */
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

/** One item of a sitting, as the phone meets it. */
export interface PhoneView {
  sitting: SittingView;
  /** The sitting was handed in meanwhile. */
  over: boolean;
}
