import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MOST_TOGETHER, WAYS_TOGETHER, type WayTogether } from '@ecoute/core/takes/together';
import { IsId } from './decorators';
import type { RecordingState } from './recordings';

/** How an item is answered by some people as one. */
export class Together {
  @IsIn(WAYS_TOGETHER, { message: 'Choose how they record together.' })
  way!: WayTogether;

  /** People in all, at most. */
  @IsInt({ message: 'How many people is a whole number.' })
  @Min(2, { message: 'At least two people answer together.' })
  @Max(MOST_TOGETHER, { message: `At most ${MOST_TOGETHER} people answer together.` })
  most!: number;

  /** In turns: how many each has. The answer limit is the length of one. */
  @IsInt({ message: 'Turns are a whole number.' })
  @Min(1, { message: 'Each has one turn at least.' })
  @Max(10, { message: 'Each has ten turns at most.' })
  turnsEach!: number;
}

/** Begins a run of turns; whoever begins speaks first, the others in the order of the list. */
export class BeginTurns {
  /** Chosen by the browser, so that sending it twice is harmless. */
  @IsId()
  id!: string;

  @IsId()
  itemId!: string;

  @IsArray()
  @ArrayMinSize(1, { message: 'Choose who speaks with you.' })
  @ArrayMaxSize(MOST_TOGETHER - 1, { message: `At most ${MOST_TOGETHER} people speak together.` })
  @IsId({ each: true })
  personIds!: string[];
}

/** A turn that was spoken, and is given on to whoever comes next. */
export class GiveTurn {
  @IsId()
  recordingId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;

  /** From 0; a turn that has its recording takes no other. */
  @IsInt()
  @Min(0)
  @Max(MOST_TOGETHER * 10)
  number!: number;
}

/** Who else is heard in a recording that was made here, said after it was made. */
export class SetCompanions {
  @IsArray()
  @ArrayMaxSize(MOST_TOGETHER)
  @IsId({ each: true })
  personIds!: string[];
}

export class ScoreApart {
  @IsBoolean()
  apart!: boolean;
}

/** Somebody whom an item can be answered with. */
export interface Companion {
  id: string;
  displayName: string;
  /** They have handed it in already: an answer given with them could not become theirs. */
  handedIn: boolean;
}

export interface TurnView {
  number: number;
  personId: string;
  displayName: string;
  isMine: boolean;
  /** Null until it was spoken. */
  recordingId: string | null;
  durationMs: number | null;
  state: RecordingState | null;
}

/** A run of turns as those see it who speak in it. */
export interface TurnsView {
  id: string;
  itemId: string;
  /** Names in the order in which they speak. */
  names: string[];
  beganBy: string;
  turns: TurnView[];
  /** The turn that comes next; null once all were spoken, or it was ended. */
  next: number | null;
  isMyTurn: boolean;
  /** Ended before all turns were spoken, or with the last. */
  isOver: boolean;
  /** It is one recording, and everybody’s answer. */
  isJoined: boolean;
}

/** Who else is in a recording, as a teacher sees it on the lane, and each of them with their own. */
export interface TogetherView {
  jointId: string;
  /** The others. */
  names: string[];
  /** Whose device it was, or who began the turns. */
  leadName: string;
  /** Ids of the others, for whose own recording it is; empty for everybody else. */
  personIds: string[];
  way: WayTogether;
  /** It is this one's own recording, or they began the turns. */
  isLead: boolean;
  apart: boolean;
  /** Those of them who have no part in it, and why, in words. */
  without: string[];
  /** Who speaks from when to when; empty where nobody knows. */
  stretches: { name: string; fromMs: number; toMs: number }[];
}
