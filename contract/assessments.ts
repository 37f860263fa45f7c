import 'reflect-metadata';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { IsId, ListOf, Nested } from './decorators';
import { MAX_ITEM_POINTS } from '@ecoute/core/scoring/points';
import { SCHEMES, type Scheme } from '@ecoute/core/scoring/scheme';
import { STARTING_POINTS, type StartingPoint, type StartsBy } from '@ecoute/core/timing/startingPoints';
import { CIRCLES, type CirclesBy } from '@ecoute/core/discussions/circles';
import { SPOKEN_WORDS, type SpokenWord } from '@ecoute/core/voice/spokenWords';
import { ANSWERS, type AnswerBy } from '@ecoute/core/timing/strip';
import { LIMITS } from './limits';
import { isLanguage } from '@ecoute/core/formats/languages';
import { Fits, IsRichText, Stimulus, Voice, type RichText } from './stimuli';
import { SHEETS, type Sheet } from './ink';
import { ItemMusic } from './music';
import { Tag } from './tags';
import { Together } from './together';

export { Stimulus, Voice };

/** Items that belong together under a heading; shuffled means: in another order for each sitting. */
export class Section {
  @IsId()
  id!: string;

  @IsString()
  @MaxLength(LIMITS.title, { message: `A section’s title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsBoolean()
  shuffled!: boolean;
}

/** One turn of the teacher's in a simulated conversation, and the gap to answer in. */
export class Turn {
  @IsId()
  id!: string;

  @IsId()
  recordingId!: string;

  @IsInt()
  @Min(0)
  fromMs!: number;

  @IsInt()
  @Min(0)
  toMs!: number;

  @IsInt({ message: 'A gap is a length such as 0:20.' })
  @Min(0)
  @Max(LIMITS.gapMs, { message: 'A gap is at most 10 minutes.' })
  gapMs!: number;

  /** What the turn is about, in short: labels the answer. */
  @IsString()
  @MaxLength(LIMITS.turnWords, { message: `A turn’s words have at most ${LIMITS.turnWords} characters.` })
  says!: string;
}

/** What a teacher says between two items: encouragement, a change of subject, a rest. */
export class WordsBefore {
  @IsString()
  @MaxLength(LIMITS.closingWords, {
    message: `Words between items have at most ${LIMITS.closingWords} characters.`,
  })
  text!: string;

  @IsOptional()
  @Nested(() => Voice)
  voice!: Voice | null;
}

/** One thing to answer, or to study. Durations in ms; 0 hearings or takes mean no limit. */
export class Item {
  @IsId()
  id!: string;

  @IsOptional()
  @IsId()
  sectionId!: string | null;

  @IsIn(ANSWERS, { message: 'Choose how this item is answered.' })
  answerBy!: AnswerBy;

  @IsString()
  @MaxLength(LIMITS.promptText, { message: `A prompt has at most ${LIMITS.promptText} characters.` })
  promptText!: string;

  /** The prompt with its formats, where it has any; `promptText` is then its plain words. */
  @IsOptional()
  @IsRichText()
  promptRich!: RichText | null;

  /** The prompt as sound or film, if it has a voice. */
  @IsOptional()
  @IsId()
  promptRecordingId!: string | null;

  /** Measured by the server from the sound; what a browser sends is replaced. */
  @IsOptional()
  @IsInt()
  @Min(0)
  promptDurationMs!: number | null;

  /** Found out by the server. */
  @IsBoolean()
  promptIsVideo!: boolean;

  /** A written prompt read aloud, for students whose access arrangement asks for it. */
  @IsOptional()
  @Nested(() => Voice)
  readAloudVoice!: Voice | null;

  @IsArray()
  @ArrayMaxSize(LIMITS.stimuli, { message: `An item shows at most ${LIMITS.stimuli} things.` })
  @ListOf(() => Stimulus)
  stimuli!: Stimulus[];

  @IsArray()
  @ArrayMaxSize(LIMITS.tags, { message: `An item has at most ${LIMITS.tags} tags.` })
  @ListOf(() => Tag)
  tags!: Tag[];

  /** The turns of a conversation that the answer is given in; empty for an answer in one piece. */
  @IsArray()
  @ArrayMaxSize(LIMITS.turns, { message: `A conversation has at most ${LIMITS.turns} turns.` })
  @ListOf(() => Turn)
  turns!: Turn[];

  /** True for a conversation, also while it has no turns yet. */
  @IsBoolean()
  isConversation!: boolean;

  /** What is drawn while the answer is spoken, and on what; left out where nothing is. */
  @IsOptional()
  @IsIn(SHEETS, { message: 'Choose what is drawn on.' })
  sheet?: Sheet | null;

  /** What sounds along with a musical answer; null for an answer in silence. */
  @IsOptional()
  @Nested(() => ItemMusic)
  music!: ItemMusic | null;

  /** Answered by some people as one; left out, and null, where each answers alone. */
  @IsOptional()
  @Nested(() => Together)
  together?: Together | null;

  @IsInt({ message: 'Hearings are a whole number.' })
  @Min(0)
  @Max(LIMITS.hearings, { message: `At most ${LIMITS.hearings} hearings, or no limit.` })
  hearingsAllowed!: number;

  @IsInt({ message: 'Time to prepare is a length such as 0:30.' })
  @Min(0, { message: 'Time to prepare cannot be below zero.' })
  @Max(LIMITS.prepareMs, { message: 'Time to prepare is at most 15 minutes.' })
  prepareMs!: number;

  @IsInt({ message: 'The answer limit is a length such as 1:30.' })
  @Min(LIMITS.shortestAnswerLimitMs, { message: 'An answer needs at least 1 second.' })
  @Max(LIMITS.answerMs, { message: 'An answer is at most 60 minutes.' })
  answerLimitMs!: number;

  @IsInt({ message: 'The shortest answer is a length such as 0:10.' })
  @Min(0)
  @Max(LIMITS.answerMs, { message: 'The shortest answer is at most 60 minutes.' })
  shortestAnswerMs!: number;

  /** Whether the answer begins when the student says so, or automatically with a beep once the way to it is over. */
  @IsIn(['student', 'itself'])
  startsBy!: StartsBy;

  @IsBoolean()
  pauseAllowed!: boolean;

  @IsBoolean()
  trimAllowed!: boolean;

  @IsInt({ message: 'Takes are a whole number.' })
  @Min(0)
  @Max(LIMITS.takes, { message: `At most ${LIMITS.takes} takes, or no limit.` })
  takesAllowed!: number;

  @IsBoolean()
  required!: boolean;

  /** A student may pass on the item with dignity; it counts as an answer. */
  @IsBoolean()
  passAllowed!: boolean;

  /** Words on the way to this item, read or heard: no item, nothing to tick, no number. */
  @IsOptional()
  @Nested(() => WordsBefore)
  wordsBefore?: WordsBefore | null;

  @IsString()
  @MaxLength(LIMITS.hint, { message: `A hint has at most ${LIMITS.hint} characters.` })
  hintText!: string;

  @IsOptional()
  @Nested(() => Voice)
  hintVoice!: Voice | null;

  @IsString()
  @MaxLength(LIMITS.model, { message: `A model answer has at most ${LIMITS.model} characters.` })
  modelText!: string;

  /** Language of the written model answer, BCP 47: its words are then looked for in answers that say the same. Empty: they are not. */
  @IsOptional()
  @Fits(tag => tag === '' || isLanguage(tag), 'Choose the language from the list.')
  modelLanguage?: string;

  @IsOptional()
  @Nested(() => Voice)
  modelVoice!: Voice | null;

  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'Points have at most two decimals.' })
  @Min(0, { message: 'Points cannot be below zero.' })
  @Max(MAX_ITEM_POINTS, { message: `An item carries at most ${MAX_ITEM_POINTS} points.` })
  points!: number;
}

export class RubricLevel {
  @IsString()
  @MaxLength(LIMITS.name, { message: `A level’s name has at most ${LIMITS.name} characters.` })
  name!: string;

  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'Points of a level have at most two decimals.' })
  @Min(0, { message: 'Points of a level cannot be below zero.' })
  @Max(MAX_ITEM_POINTS)
  points!: number;
}

export class Criterion {
  @IsId()
  id!: string;

  @IsString()
  @MaxLength(LIMITS.title, { message: `A criterion’s name has at most ${LIMITS.title} characters.` })
  name!: string;

  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'A weight has at most two decimals.' })
  @Min(0, { message: 'A weight cannot be below zero.' })
  @Max(MAX_ITEM_POINTS, { message: `A weight is at most ${MAX_ITEM_POINTS}.` })
  weight!: number;

  @IsArray()
  @ArrayMaxSize(LIMITS.levels)
  @IsString({ each: true })
  @MaxLength(LIMITS.descriptor, {
    each: true,
    message: `A descriptor has at most ${LIMITS.descriptor} characters.`,
  })
  descriptors!: string[];
}

export class Rubric {
  @IsArray()
  @ArrayMaxSize(LIMITS.levels, { message: `A rubric has at most ${LIMITS.levels} levels.` })
  @ListOf(() => RubricLevel)
  levels!: RubricLevel[];

  @IsArray()
  @ArrayMaxSize(LIMITS.criteria, { message: `A rubric has at most ${LIMITS.criteria} criteria.` })
  @ListOf(() => Criterion)
  criteria!: Criterion[];
}

export class ScaleLevel {
  @IsString()
  @MaxLength(LIMITS.name, { message: `A level’s name has at most ${LIMITS.name} characters.` })
  name!: string;

  @IsString()
  @MaxLength(LIMITS.descriptor, { message: `A descriptor has at most ${LIMITS.descriptor} characters.` })
  descriptor!: string;
}

/** How answers are scored. Parts of other schemes are kept while one is chosen, so that trying costs nothing. */
export class Scoring {
  @IsIn(SCHEMES, { message: 'Choose how answers are scored.' })
  kind!: Scheme;

  @IsOptional()
  @Nested(() => Rubric)
  rubric!: Rubric | null;

  @IsArray()
  @ArrayMaxSize(LIMITS.levels, { message: `A scale has at most ${LIMITS.levels} levels.` })
  @ListOf(() => ScaleLevel)
  scale!: ScaleLevel[];

  /** Students read rubric or scale before and after. */
  @IsBoolean()
  shown!: boolean;

  @IsOptional()
  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'A pass mark has at most two decimals.' })
  @Min(0)
  @Max(1_000_000)
  passMark!: number | null;

  /** The pass mark as a share of what can be reached, in per cent; the mark in points follows it. */
  @IsOptional()
  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'A share to pass is a number such as 60 %.' })
  @Min(0)
  @Max(100, { message: 'A share to pass is at most 100 %.' })
  passPercent?: number | null;
}

/** How students meet the items. */
export const LAYOUTS = ['one', 'all'] as const;

/** When model answers open to a student. */
export const MODEL_OPENS = ['atOnce', 'afterHandIn', 'afterReturn'] as const;

/** When students see what is measured of their own answers. */
export const EVIDENCE_OPENS = ['never', 'afterReturn', 'atOnce'] as const;
export type EvidenceOpens = (typeof EVIDENCE_OPENS)[number];

/** When students judge their own answers: not at all, before they may hear them, or once they have heard them. */
export const SELF_ASSESSMENTS = ['none', 'beforeHearing', 'afterHearing'] as const;
export type SelfAssessment = (typeof SELF_ASSESSMENTS)[number];

/** The recorder's labels in a teacher's own words, for a language that has no dictionary; empty ones stay English. */
export class RecorderWords {
  @IsString() @MaxLength(LIMITS.label) hearPrompt!: string;
  @IsString() @MaxLength(LIMITS.label) prepare!: string;
  @IsString() @MaxLength(LIMITS.label) answer!: string;
  @IsString() @MaxLength(LIMITS.label) recording!: string;
  @IsString() @MaxLength(LIMITS.label) stop!: string;
  @IsString() @MaxLength(LIMITS.label) pause!: string;
  @IsString() @MaxLength(LIMITS.label) goOn!: string;
  @IsString() @MaxLength(LIMITS.label) again!: string;
  @IsString() @MaxLength(LIMITS.label) handIn!: string;
}

/** A sentence of the student's screens in a teacher's own words; what stands in {{ }} is filled in there as well. */
export class ScreenWord {
  @IsString()
  @MaxLength(LIMITS.sentence)
  english!: string;

  @IsString()
  @MaxLength(LIMITS.sentence, { message: `A sentence has at most ${LIMITS.sentence} characters.` })
  own!: string;
}

/** One of the sentences that lead a child who cannot read through a sitting, as the teacher says it. */
export class SpokenByTeacher {
  @IsIn(SPOKEN_WORDS)
  word!: SpokenWord;

  @Nested(() => Voice)
  voice!: Voice;
}

/** What is asked of everybody in a discussion, and how it goes on. */
export class DiscussionPlan {
  @IsInt({ message: 'Contributions are a whole number.' })
  @Min(0)
  @Max(LIMITS.contributionsAsked, {
    message: `At most ${LIMITS.contributionsAsked} contributions are asked for.`,
  })
  contributionsAsked!: number;

  @IsInt({ message: 'Replies are a whole number.' })
  @Min(0)
  @Max(LIMITS.contributionsAsked, { message: `At most ${LIMITS.contributionsAsked} replies are asked for.` })
  repliesAsked!: number;

  /** Contributions are due so many days before the replies, which are due when the release is. */
  @IsInt({ message: 'Days are a whole number.' })
  @Min(0)
  @Max(LIMITS.daysBefore, { message: `At most ${LIMITS.daysBefore} days before.` })
  contributeDaysBefore!: number;

  /** A contribution may be written instead of spoken. */
  @IsBoolean()
  writtenAllowed!: boolean;

  /** A picture may go with what is spoken. */
  @IsBoolean()
  pictureAllowed!: boolean;

  /** Others are heard once one has contributed oneself. */
  @IsBoolean()
  hearsAfter!: boolean;

  /** Students see who speaks; the teacher always does. */
  @IsBoolean()
  namesShown!: boolean;

  /** Threads may begin at the subject itself; otherwise only at a starting point, or as a reply. */
  @IsBoolean()
  ownSubjects!: boolean;

  /** The teacher hears each contribution before others do. */
  @IsBoolean()
  moderated!: boolean;

  @IsIn(CIRCLES, { message: 'Choose who talks with whom.' })
  circles!: CirclesBy;

  /** By lot, so many are in each circle. */
  @IsInt()
  @Min(2, { message: 'Two people at least talk with each other.' })
  @Max(LIMITS.circleSize, { message: `At most ${LIMITS.circleSize} in a circle.` })
  circleSize!: number;
}

/** The directions once more, in a language that some students need. */
export class OtherDirections {
  @IsString()
  @Fits(isLanguage, 'Choose the language from the list.')
  language!: string;

  @IsString()
  @MaxLength(LIMITS.directions, { message: `Directions have at most ${LIMITS.directions} characters.` })
  text!: string;

  /** The same, said. */
  @IsOptional()
  @Nested(() => Voice)
  voice?: Voice | null;
}

/** Everything a teacher puts into an assessment; a draft while it is edited, frozen when released. */
export class AssessmentContent {
  @IsString()
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsString()
  @MaxLength(LIMITS.directions, { message: `Directions have at most ${LIMITS.directions} characters.` })
  directions!: string;

  @IsOptional()
  @Nested(() => Voice)
  directionsVoice!: Voice | null;

  /** The directions with their formats, where they have any; `directions` are then their plain words. */
  @IsOptional()
  @IsRichText()
  directionsRich!: RichText | null;

  /** Shown beside the directions to those whose access arrangement asks for the language. */
  @IsArray()
  @ArrayMaxSize(LIMITS.otherDirections, {
    message: `Directions come in at most ${LIMITS.otherDirections} more languages.`,
  })
  @ListOf(() => OtherDirections)
  otherDirections!: OtherDirections[];

  @IsArray()
  @ArrayMaxSize(LIMITS.stimuli, { message: `Directions show at most ${LIMITS.stimuli} things.` })
  @ListOf(() => Stimulus)
  stimuli!: Stimulus[];

  @IsArray()
  @ArrayMaxSize(LIMITS.tags, { message: `An assessment has at most ${LIMITS.tags} tags.` })
  @ListOf(() => Tag)
  tags!: Tag[];

  @IsIn(STARTING_POINTS, { message: 'Choose a starting point.' })
  startingPoint!: StartingPoint;

  /** From the first sight of the items; null for no limit. */
  @IsOptional()
  @IsInt({ message: 'The limit of a sitting is a length such as 20 min.' })
  @Min(30_000, { message: 'A sitting needs at least 30 seconds.' })
  @Max(LIMITS.sittingMs, { message: 'A sitting is at most 4 hours.' })
  sittingLimitMs!: number | null;

  @IsArray()
  @ArrayMaxSize(LIMITS.sections, { message: `An assessment has at most ${LIMITS.sections} sections.` })
  @ListOf(() => Section)
  sections!: Section[];

  @IsArray()
  @ArrayMaxSize(LIMITS.items, { message: `An assessment has at most ${LIMITS.items} items.` })
  @ListOf(() => Item)
  items!: Item[];

  @Nested(() => Scoring)
  scoring!: Scoring;

  /** What a student reads after handing in. */
  @IsString()
  @MaxLength(LIMITS.closingWords, {
    message: `Closing words have at most ${LIMITS.closingWords} characters.`,
  })
  closingWords!: string;

  /** Students meet one item at a time, or all of them on one page. */
  @IsIn(LAYOUTS)
  layout!: (typeof LAYOUTS)[number];

  /** A spoken answer may be brought as a file instead of recorded here. */
  @IsBoolean()
  mayBring!: boolean;

  /** What was handed in may be taken back until it is due, as long as nobody has begun to mark it. */
  @IsBoolean()
  mayWithdraw!: boolean;

  /** A short tone when the time of a recording is nearly over; left out: none. */
  @IsOptional()
  @IsBoolean()
  endTone?: boolean;

  /** For children who do not read yet: pictures and sound, one big thing at a time. Left out: no. */
  @IsOptional()
  @IsBoolean()
  byEar?: boolean;

  /** What such a child hears at the steps of a sitting, in the teacher's own voice; the device says the others. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(SPOKEN_WORDS.length)
  @ListOf(() => SpokenByTeacher)
  spokenWords?: SpokenByTeacher[];

  /** Of a discussion: what is asked of everybody. Its one answered item is the talk; the others are its starting points. */
  @IsOptional()
  @Nested(() => DiscussionPlan)
  discussion?: DiscussionPlan | null;

  @IsIn(MODEL_OPENS)
  modelOpens!: (typeof MODEL_OPENS)[number];

  /** When students see what is measured of their own answers. */
  @IsIn(EVIDENCE_OPENS)
  evidenceOpens!: EvidenceOpens;

  /** Whether students judge their own work by the scheme, and when. */
  @IsIn(SELF_ASSESSMENTS)
  selfAssessment!: SelfAssessment;

  /** Language of the screens while this is sat, BCP 47; empty for the one that each student has chosen. */
  @IsString()
  @Fits(tag => tag === '' || isLanguage(tag), 'Choose the language from the list.')
  screenLanguage!: string;

  @IsOptional()
  @Nested(() => RecorderWords)
  recorderWords!: RecorderWords | null;

  /** Further sentences in the teacher's own words; what is left out is said as usual. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(LIMITS.sentences)
  @ListOf(() => ScreenWord)
  screenWords?: ScreenWord[];
}

export class SaveAssessment {
  /** The revision that the changes were made on; another one stored meanwhile is a conflict. */
  @IsInt()
  @Min(0)
  revision!: number;

  @Nested(() => AssessmentContent)
  content!: AssessmentContent;
}

/** A sound that was recorded or brought for an assessment, in use or not. */
export interface EarlierVoice extends Voice {
  at: string;
  /** Null where it was recorded in place, or cut from another. */
  fileName: string | null;
}

export const AWAY = ['kept', 'thrown'] as const;
export type Away = (typeof AWAY)[number];

export class PutAway {
  /** Put away, thrown away (only what was never released), or null: back on the shelf. */
  @IsOptional()
  @IsIn(AWAY)
  away!: Away | null;
}

export interface AssessmentDraft {
  id: string;
  revision: number;
  content: AssessmentContent;
  updatedAt: string;
  /** Who saved it last; null where nobody noted it. */
  savedBy: string | null;
  releases: number;
  /** Releases that have not opened, and take what is changed here until they do. */
  following: number;
  isTemplate: boolean;
  /** Put away, or thrown away (for thirty days); null while it is on the shelf. */
  away: Away | null;
  awayAt: string | null;
  ownerId: string;
  ownerName: string;
}

export type AssessmentSummary = Omit<AssessmentDraft, 'revision'>;
