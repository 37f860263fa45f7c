import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { IsId, ListOf, Nested } from './decorators';
import { STUDENT_LANGUAGES, type StudentLanguage } from './languages';
import { LIMITS } from './limits';

/** One recording in a portfolio, with what its student puts beside it. */
export class PortfolioPiece {
  @IsId()
  id!: string;

  @IsId()
  takeId!: string;

  /** Empty for what it was recorded for. */
  @IsString()
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  /** The written reflection. */
  @IsString()
  @MaxLength(LIMITS.reply, { message: `A reflection has at most ${LIMITS.reply} characters.` })
  words!: string;

  @IsOptional()
  @IsId()
  pictureId!: string | null;

  /** What is in the picture, for whoever does not see it. */
  @IsString()
  @MaxLength(LIMITS.stimulusWords)
  pictureWords!: string;

  /** The spoken reflection. */
  @IsOptional()
  @IsId()
  voiceId!: string | null;
}

export class PortfolioContent {
  @IsString()
  @Matches(/\S/, { message: 'Give it a title.' })
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsString()
  @MaxLength(LIMITS.reply, { message: `These words have at most ${LIMITS.reply} characters.` })
  words!: string;

  @IsArray()
  @ArrayMaxSize(LIMITS.pieces, { message: `A portfolio has at most ${LIMITS.pieces} recordings.` })
  @ArrayUnique((piece: { id?: unknown }) => piece?.id)
  @ListOf(() => PortfolioPiece)
  pieces!: PortfolioPiece[];
}

/** All of it, over the wording that the page had. */
export class SavePortfolio {
  @IsInt()
  @Min(1)
  revision!: number;

  @Nested(() => PortfolioContent)
  content!: PortfolioContent;
}

/** A picture or a spoken reflection, before its bytes come. */
export class NewPortfolioFile {
  @IsId()
  recordingId!: string;

  @IsString()
  @MaxLength(120)
  mediaType!: string;

  @IsIn(['picture', 'sound'])
  wanted!: 'picture' | 'sound';
}

/** Teachers of one's own who see it; all others do not. */
export class ShowPortfolio {
  @IsArray()
  @ArrayMaxSize(200)
  @IsId({ each: true })
  teacherIds!: string[];
}

export class NewPortfolioAddress {
  /** Whom it is for, so that the right one is ended later. */
  @IsString()
  @Matches(/\S/, { message: 'Say whom it is for, so that you know it again.' })
  @MaxLength(LIMITS.name, { message: `This has at most ${LIMITS.name} characters.` })
  name!: string;

  /** After so many days it leads nowhere. */
  @IsInt()
  @Min(1)
  @Max(366, { message: 'An address lives for at most a year. Make another one then.' })
  days!: number;

  /** Of the page's own words. */
  @IsIn(STUDENT_LANGUAGES)
  language!: StudentLanguage;
}

export class SuggestForPortfolio {
  @IsId()
  takeId!: string;

  @IsString()
  @MaxLength(LIMITS.reason, { message: `This has at most ${LIMITS.reason} characters.` })
  words!: string;
}

/** `heard`: whoever it is shown to hears it. `feedbackNotYet`: only its student does. */
export type PieceState = 'heard' | 'feedbackNotYet';

/** What is known of a recording that stands in a portfolio, or may. */
export interface PortfolioTake {
  takeId: string;
  assessment: string;
  className: string;
  itemNumber: number;
  at: string;
  durationMs: number | null;
  medium: 'sound' | 'video';
  state: PieceState;
}

export interface PortfolioAddress {
  id: string;
  name: string;
  url: string;
  endsAt: string;
  state: 'lives' | 'over' | 'revoked';
}

export interface PortfolioSuggestion {
  id: string;
  teacherName: string;
  words: string;
  at: string;
  take: PortfolioTake;
}

export interface PortfolioSummary {
  id: string;
  title: string;
  pieces: number;
  changedAt: string;
  /** Addresses that live, and teachers who see it. */
  addresses: number;
  shownTo: string[];
  removedAt: string | null;
}

export interface OwnPortfolios {
  portfolios: PortfolioSummary[];
  /** Thrown away lately, to be had back. */
  removed: PortfolioSummary[];
  suggestions: PortfolioSuggestion[];
}

/** A portfolio as its student works on it. */
export interface PortfolioView {
  id: string;
  revision: number;
  content: PortfolioContent;
  /** The name that others read on it. */
  ownerName: string;
  /** Of the pieces whose recordings are here. */
  takes: PortfolioTake[];
  teachers: { id: string; displayName: string; sees: boolean }[];
  addresses: PortfolioAddress[];
}

/** A portfolio as it is shown to others: what may be heard of it, and nothing else. */
export interface ShownPortfolio {
  title: string;
  words: string;
  ownerName: string;
  pieces: ShownPiece[];
}

export interface ShownPiece {
  id: string;
  title: string;
  at: string;
  words: string;
  takeId: string;
  medium: 'sound' | 'video';
  durationMs: number | null;
  pictureId: string | null;
  pictureWords: string;
  voiceId: string | null;
  voiceMs: number | null;
}

/** What a teacher sees of a student's portfolios: those that are shown to them, and what they suggested. */
export interface StudentPortfolios {
  portfolios: { id: string; title: string; pieces: number; changedAt: string }[];
  suggested: { takeId: string; state: 'open' | 'taken' | 'declined' }[];
}
