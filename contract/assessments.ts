import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { MAX_ITEM_POINTS } from '@ecoute/core/scoring/points';
import { givesPoints, schemeProblems, SCHEMES, type Scheme } from '@ecoute/core/scoring/scheme';
import {
  STARTING_POINTS,
  timeProblems,
  type StartingPoint,
  type StartsBy,
} from '@ecoute/core/timing/startingPoints';
import { conversationProblems, takeLengthMs } from '@ecoute/core/timing/conversation';
import { ANSWERS, type AnswerBy } from '@ecoute/core/timing/strip';
import { LIMITS } from './limits';

/** A sound that stands in a text's place or beside it. */
export class Voice {
  @IsUUID('all')
  recordingId!: string;

  /** Measured by the server from the sound; what a browser sends is replaced. */
  @IsInt()
  @Min(0)
  durationMs!: number;
}

/** Items that belong together under a heading; shuffled means: in another order for each sitting. */
export class Section {
  @IsUUID('all')
  id!: string;

  @IsString()
  @MaxLength(LIMITS.title, { message: `A section’s title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsBoolean()
  shuffled!: boolean;
}

/** One turn of the teacher's in a simulated conversation, and the gap to answer in. */
export class Turn {
  @IsUUID('all')
  id!: string;

  @IsUUID('all')
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

/** One thing to answer, or to study. Durations in ms; 0 hearings or takes mean no limit. */
export class Item {
  @IsUUID('all')
  id!: string;

  @IsOptional()
  @IsUUID('all')
  sectionId!: string | null;

  @IsIn(ANSWERS, { message: 'Choose how this item is answered.' })
  answerBy!: AnswerBy;

  @IsString()
  @MaxLength(LIMITS.promptText, { message: `A prompt has at most ${LIMITS.promptText} characters.` })
  promptText!: string;

  /** The prompt as sound, if it has a voice. */
  @IsOptional()
  @IsUUID('all')
  promptRecordingId!: string | null;

  /** Measured by the server from the sound; what a browser sends is replaced. */
  @IsOptional()
  @IsInt()
  @Min(0)
  promptDurationMs!: number | null;

  /** The turns of a conversation that the answer is given in; empty for an answer in one piece. */
  @IsArray()
  @ArrayMaxSize(LIMITS.turns, { message: `A conversation has at most ${LIMITS.turns} turns.` })
  @ValidateNested({ each: true })
  @Type(() => Turn)
  turns!: Turn[];

  /** True for a conversation, also while it has no turns yet. */
  @IsBoolean()
  isConversation!: boolean;

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
  @Max(LIMITS.answerMs, { message: 'An answer is at most 30 minutes.' })
  answerLimitMs!: number;

  @IsInt({ message: 'The shortest answer is a length such as 0:10.' })
  @Min(0)
  @Max(LIMITS.answerMs, { message: 'The shortest answer is at most 30 minutes.' })
  shortestAnswerMs!: number;

  /** Whether the answer begins when the student says so, or by itself with a beep once the way to it is over. */
  @IsIn(['student', 'itself'])
  startsBy!: StartsBy;

  @IsBoolean()
  pauseAllowed!: boolean;

  @IsInt({ message: 'Takes are a whole number.' })
  @Min(0)
  @Max(LIMITS.takes, { message: `At most ${LIMITS.takes} takes, or no limit.` })
  takesAllowed!: number;

  @IsBoolean()
  required!: boolean;

  /** A student may pass on the item with dignity; it counts as an answer. */
  @IsBoolean()
  passAllowed!: boolean;

  @IsString()
  @MaxLength(LIMITS.hint, { message: `A hint has at most ${LIMITS.hint} characters.` })
  hintText!: string;

  @IsOptional()
  @ValidateNested()
  @Type(() => Voice)
  hintVoice!: Voice | null;

  @IsString()
  @MaxLength(LIMITS.model, { message: `A model answer has at most ${LIMITS.model} characters.` })
  modelText!: string;

  @IsOptional()
  @ValidateNested()
  @Type(() => Voice)
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
  @IsUUID('all')
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
  @ValidateNested({ each: true })
  @Type(() => RubricLevel)
  levels!: RubricLevel[];

  @IsArray()
  @ArrayMaxSize(LIMITS.criteria, { message: `A rubric has at most ${LIMITS.criteria} criteria.` })
  @ValidateNested({ each: true })
  @Type(() => Criterion)
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
  @ValidateNested()
  @Type(() => Rubric)
  rubric!: Rubric | null;

  @IsArray()
  @ArrayMaxSize(LIMITS.levels, { message: `A scale has at most ${LIMITS.levels} levels.` })
  @ValidateNested({ each: true })
  @Type(() => ScaleLevel)
  scale!: ScaleLevel[];

  /** Students read rubric or scale before and after. */
  @IsBoolean()
  shown!: boolean;

  @IsOptional()
  @IsNumber({ maxDecimalPlaces: 2 }, { message: 'A pass mark has at most two decimals.' })
  @Min(0)
  @Max(1_000_000)
  passMark!: number | null;
}

/** When model answers open to a student. */
export const MODEL_OPENS = ['afterHandIn', 'afterReturn'] as const;

/** Everything a teacher puts into an assessment; a draft while it is edited, frozen when released. */
export class AssessmentContent {
  @IsString()
  @MaxLength(LIMITS.title, { message: `A title has at most ${LIMITS.title} characters.` })
  title!: string;

  @IsString()
  @MaxLength(LIMITS.directions, { message: `Directions have at most ${LIMITS.directions} characters.` })
  directions!: string;

  @IsOptional()
  @ValidateNested()
  @Type(() => Voice)
  directionsVoice!: Voice | null;

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
  @ValidateNested({ each: true })
  @Type(() => Section)
  sections!: Section[];

  @IsArray()
  @ArrayMaxSize(LIMITS.items, { message: `An assessment has at most ${LIMITS.items} items.` })
  @ValidateNested({ each: true })
  @Type(() => Item)
  items!: Item[];

  @ValidateNested()
  @Type(() => Scoring)
  scoring!: Scoring;

  /** What a student reads after handing in. */
  @IsString()
  @MaxLength(LIMITS.closingWords, {
    message: `Closing words have at most ${LIMITS.closingWords} characters.`,
  })
  closingWords!: string;

  @IsIn(MODEL_OPENS)
  modelOpens!: (typeof MODEL_OPENS)[number];
}

export class SaveAssessment {
  /** The revision that the changes were made on; another one stored meanwhile is a conflict. */
  @IsInt()
  @Min(0)
  revision!: number;

  @ValidateNested()
  @Type(() => AssessmentContent)
  content!: AssessmentContent;
}

export interface AssessmentDraft {
  id: string;
  revision: number;
  content: AssessmentContent;
  updatedAt: string;
  releases: number;
}

export interface AssessmentSummary {
  id: string;
  content: AssessmentContent;
  updatedAt: string;
  releases: number;
}

/** A sound's place in an assessment, by the path of the field that names it. */
export interface SoundPlace {
  recordingId: string;
  path: string;
}

/** Every sound that an assessment speaks with. */
export function soundsOf(content: AssessmentContent): SoundPlace[] {
  const places: SoundPlace[] = [];
  const add = (recordingId: string | null | undefined, path: string) => {
    if (recordingId) places.push({ recordingId, path });
  };
  add(content.directionsVoice?.recordingId, 'directionsVoice');
  content.items.forEach((item, i) => {
    add(item.promptRecordingId, `items.${i}.promptRecordingId`);
    add(item.hintVoice?.recordingId, `items.${i}.hintVoice`);
    add(item.modelVoice?.recordingId, `items.${i}.modelVoice`);
    item.turns.forEach((turn, n) => add(turn.recordingId, `items.${i}.turns.${n}`));
  });
  return places;
}

/**
 * The content with each sound's length as measured, turns kept inside their sounds, and the answer limit of a
 * conversation as long as its run. A sound without a known length keeps what it has.
 */
export function withSoundLengths(
  content: AssessmentContent,
  lengths: ReadonlyMap<string, number>,
): AssessmentContent {
  const voice = (v: Voice | null): Voice | null =>
    v && { recordingId: v.recordingId, durationMs: lengths.get(v.recordingId) ?? v.durationMs };
  return {
    ...content,
    directionsVoice: voice(content.directionsVoice ?? null),
    items: content.items.map(item => ({
      ...item,
      promptRecordingId: item.promptRecordingId ?? null,
      promptDurationMs: item.promptRecordingId
        ? (lengths.get(item.promptRecordingId) ?? item.promptDurationMs)
        : null,
      hintVoice: voice(item.hintVoice ?? null),
      modelVoice: voice(item.modelVoice ?? null),
      ...withRun(item, lengths),
    })),
  };
}

function withRun(item: Item, lengths: ReadonlyMap<string, number>): Pick<Item, 'turns' | 'answerLimitMs'> {
  const turns = item.turns.map(turn => {
    const most = lengths.get(turn.recordingId) ?? turn.toMs;
    return { ...turn, fromMs: Math.min(turn.fromMs, most), toMs: Math.min(turn.toMs, most) };
  });
  const runMs = item.isConversation && turns.length > 0 ? takeLengthMs(turns) : item.answerLimitMs;
  return {
    turns,
    answerLimitMs: Math.min(LIMITS.answerMs, Math.max(LIMITS.shortestAnswerLimitMs, runMs)),
  };
}

/** The content without what a student may not see yet: hints stay, model answers go. */
export function withoutModels(content: AssessmentContent): AssessmentContent {
  return { ...content, items: content.items.map(i => ({ ...i, modelText: '', modelVoice: null })) };
}

/** The content as students see it: a rubric or scale that is not shown to them is left out. */
export function forStudents(content: AssessmentContent): AssessmentContent {
  const { scoring } = content;
  return scoring.shown ? content : { ...content, scoring: { ...scoring, rubric: null, scale: [] } };
}

/** Points an item carries under the assessment's scheme; 0 where its answer is given none. */
export function carriedBy(content: Pick<AssessmentContent, 'scoring'>, item: Item): number {
  if (item.answerBy === 'nothing' || !givesPoints(content.scoring.kind)) return 0;
  return content.scoring.kind === 'done' ? 1 : item.points;
}

/** Points of the items that are answered, as they stand on the items. */
export function carriedPoints(content: AssessmentContent): number[] {
  return content.items.filter(i => i.answerBy !== 'nothing').map(i => i.points);
}

/** What keeps an assessment from being released, in the order a teacher would mend it; empty when ready. */
export function releaseProblems(content: AssessmentContent): string[] {
  const problems: string[] = [];
  if (!content.title.trim()) problems.push('Give the assessment a title.');
  if (content.items.length === 0) problems.push('Add an item to answer.');
  content.items.forEach((item, i) => {
    if (!item.promptText.trim() && !item.promptRecordingId) problems.push(`Item ${i + 1} has no prompt yet.`);
    if (item.isConversation && item.answerBy === 'audio') {
      for (const problem of conversationProblems(item.turns)) problems.push(`Item ${i + 1}: ${problem}`);
      if (takeLengthMs(item.turns) > LIMITS.answerMs)
        problems.push(`Item ${i + 1}: the conversation runs longer than 30 minutes. Shorten some gaps.`);
    }
    const contradiction = Object.values(timeProblems(item))[0];
    if (contradiction && item.answerBy === 'audio') problems.push(`Item ${i + 1}: ${contradiction}`);
  });
  problems.push(...schemeProblems(content.scoring, carriedPoints(content)));
  if (content.items.length > 0 && content.items.every(i => i.answerBy === 'nothing'))
    problems.push('Nothing here is answered: let at least one item be spoken or written.');
  return problems;
}
