import 'reflect-metadata';
import {
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  registerDecorator,
} from 'class-validator';
import { IsId } from './decorators';
import { isLanguage } from '@ecoute/core/formats/languages';
import { isSafeLink, richTextProblem, type RichNode } from '@ecoute/core/formats/richText';
import { LIMITS } from './limits';

/** A sound or a film that speaks in a text's place or beside it. */
export class Voice {
  @IsId()
  recordingId!: string;

  /** Measured by the server from the sound; what a browser sends is replaced. */
  @IsInt()
  @Min(0)
  durationMs!: number;

  /** True when there is something to see as well. Found out by the server. */
  @IsBoolean()
  isVideo!: boolean;
}

/** What a student sees beside the words: shown, read, or opened elsewhere. */
export const STIMULUS_KINDS = ['picture', 'pages', 'notation', 'passage', 'link'] as const;
export type StimulusKind = (typeof STIMULUS_KINDS)[number];

/** Kinds that are a stored file. */
export function isFile(kind: StimulusKind): kind is 'picture' | 'pages' | 'notation' {
  return kind === 'picture' || kind === 'pages' || kind === 'notation';
}

/** One thing to look at or read with directions or a prompt. Each kind uses its own part of the fields. */
export class Stimulus {
  @IsId()
  id!: string;

  @IsIn(STIMULUS_KINDS)
  kind!: StimulusKind;

  /** The stored file of a picture, of pages (PDF, slides), or of notation (MusicXML). */
  @IsOptional()
  @IsId()
  recordingId!: string | null;

  /** What a picture shows, for those who do not see it; what a link or a passage is called. */
  @IsString()
  @MaxLength(LIMITS.stimulusWords, { message: `This has at most ${LIMITS.stimulusWords} characters.` })
  words!: string;

  @IsString()
  @MaxLength(2_000, { message: 'An address has at most 2000 characters.' })
  @Fits(
    (url, stimulus) => (stimulus as Stimulus).kind !== 'link' || url === '' || isSafeLink(url),
    'An address begins with https:// or http://, such as https://tides.example/today.',
  )
  url!: string;

  /** The passage to be read. */
  @IsString()
  @MaxLength(LIMITS.passage, { message: `A passage has at most ${LIMITS.passage} characters.` })
  text!: string;

  /** Language of the passage, BCP 47; empty for the language of the page. */
  @IsString()
  @Fits(tag => tag === '' || isLanguage(tag), 'Choose the language from the list.')
  language!: string;

  /** Which of the pages is shown, from 1; 0 for all of them. */
  @IsInt()
  @Min(0)
  @Max(LIMITS.pages)
  page!: number;

  /** The part of the score that is drawn, by its id; empty for all parts. */
  @IsString()
  @MaxLength(80)
  part!: string;

  /** Notation is drawn (and its starting note sounds) so many half tones higher. */
  @IsInt()
  @Min(-12, { message: 'At most an octave lower.' })
  @Max(12, { message: 'At most an octave higher.' })
  semitones!: number;

  /** Students can hear the note on which the part begins. */
  @IsBoolean()
  startingNote!: boolean;
}

/** A check on one value, with a message in words. */
export function Fits(fits: (value: unknown, whole: object) => boolean, message: string): PropertyDecorator {
  return (target, propertyName) =>
    registerDecorator({
      name: 'fits',
      target: target.constructor,
      propertyName: String(propertyName),
      options: { message },
      validator: { validate: (value, whole) => fits(value, whole!.object) },
    });
}

/** A formatted text as `core/formats/richText` knows it. */
export function IsRichText(): PropertyDecorator {
  return (target, propertyName) =>
    registerDecorator({
      name: 'isRichText',
      target: target.constructor,
      propertyName: String(propertyName),
      validator: {
        validate: value => richTextProblem(value) === null,
        defaultMessage: args => richTextProblem(args?.value) ?? '',
      },
    });
}

export type RichText = RichNode;
