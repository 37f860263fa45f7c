import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsIn, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { IsId, Nested } from './decorators';
import { LIMITS } from './limits';
import type { RecordingState } from './recordings';
import { NewVoice } from './replies';

/** Who hears it: the students themselves, their families, or both. */
export const REACHES = ['students', 'families', 'both'] as const;
export type Reaches = (typeof REACHES)[number];

/** Something that a teacher has said to a class, a group of it, or some of its students. */
export class NewSpokenMessage {
  /** Chosen by the browser, so that sending it twice is harmless. */
  @IsId()
  id!: string;

  @Nested(() => NewVoice)
  voice!: NewVoice;

  @IsString()
  @Matches(/\S/, { message: 'Say in a few words what it is about.' })
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  /** What is said, to be read. */
  @IsString()
  @MaxLength(LIMITS.messageWords, { message: `The words have at most ${LIMITS.messageWords} characters.` })
  words!: string;

  /** Left out for the whole class. */
  @IsOptional()
  @IsId()
  groupId?: string | null;

  /** Left out for everybody. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(2_000)
  @IsId({ each: true })
  studentIds?: string[] | null;

  @IsIn(REACHES, { message: 'Choose who hears it: students, families, or both.' })
  reaches!: Reaches;
}

/** A message as the teachers of the class see it in a list. */
export interface SpokenMessage {
  id: string;
  title: string;
  words: string;
  authorName: string;
  voiceId: string;
  voiceMs: number | null;
  voiceState: RecordingState;
  madeAt: string;
  /** When it went out: its sound has come, and can be heard. */
  sentAt: string | null;
  takenBackAt: string | null;
  /** Whom it was meant for, in words: a group's name, names, or empty for the class. */
  meantFor: string;
  /** How many it went to, and how many of them have played it. */
  students: { all: number; heard: number };
  families: { all: number; heard: number };
}

export interface MessageRecipient {
  id: string;
  studentName: string;
  /** The address of the family that it went to; null for the student. */
  email: string | null;
  /** Who of the family that is. */
  name: string;
  /** Where it plays for them. */
  address: string;
  /** Mail can go to them: the family's address, or the student's own. */
  isMailed: boolean;
  mailedAt: string | null;
  heardAt: string | null;
  /** Why it plays for them no more: this address was ended, or the family's was. */
  ended: 'address' | 'family' | null;
}

export interface SpokenMessageDetail extends SpokenMessage {
  recipients: MessageRecipient[];
}

/** A message as the student whom it went to hears it. */
export interface MessageToMe {
  id: string;
  title: string;
  words: string;
  authorName: string;
  className: string;
  voiceId: string;
  voiceMs: number | null;
  sentAt: string;
  heardAt: string | null;
}
