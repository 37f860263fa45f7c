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
import { givesPoints, schemeProblems, SCHEMES, type Scheme } from '@ecoute/core/scoring/scheme';
import {
  STARTING_POINTS,
  timeProblems,
  type StartingPoint,
  type StartsBy,
} from '@ecoute/core/timing/startingPoints';
import { conversationProblems, takeLengthMs } from '@ecoute/core/timing/conversation';
import { isRecorded, ANSWERS, type AnswerBy, promptMs } from '@ecoute/core/timing/strip';
import { picturesIn, plainTextOf } from '@ecoute/core/formats/richText';
import { LIMITS } from './limits';
import type { Medium } from './recordings';
import { isLanguage } from '@ecoute/core/formats/languages';
import { Fits, isFile, IsRichText, Stimulus, Voice, type RichText } from './stimuli';
import { ItemMusic } from './music';
import { Tag } from './tags';

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

  /** What sounds along with a musical answer; null for an answer in silence. */
  @IsOptional()
  @Nested(() => ItemMusic)
  music!: ItemMusic | null;

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

  @IsString()
  @MaxLength(LIMITS.hint, { message: `A hint has at most ${LIMITS.hint} characters.` })
  hintText!: string;

  @IsOptional()
  @Nested(() => Voice)
  hintVoice!: Voice | null;

  @IsString()
  @MaxLength(LIMITS.model, { message: `A model answer has at most ${LIMITS.model} characters.` })
  modelText!: string;

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

/** Everything a teacher puts into an assessment; a draft while it is edited, frozen when released. */
/** The directions once more, in a language that some students need. */
export class OtherDirections {
  @IsString()
  @Fits(isLanguage, 'Choose the language from the list.')
  language!: string;

  @IsString()
  @MaxLength(LIMITS.directions, { message: `Directions have at most ${LIMITS.directions} characters.` })
  text!: string;
}

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
}

export class SaveAssessment {
  /** The revision that the changes were made on; another one stored meanwhile is a conflict. */
  @IsInt()
  @Min(0)
  revision!: number;

  @Nested(() => AssessmentContent)
  content!: AssessmentContent;
}

export interface AssessmentDraft {
  id: string;
  revision: number;
  content: AssessmentContent;
  updatedAt: string;
  /** Who saved it last; null where nobody noted it. */
  savedBy: string | null;
  releases: number;
  isTemplate: boolean;
  ownerId: string;
  ownerName: string;
}

export type AssessmentSummary = Omit<AssessmentDraft, 'revision'>;

/** A stored file's place in an assessment, by the path of the field that names it. */
export interface FilePlace {
  recordingId: string;
  path: string;
  media: readonly Medium[];
}

const VOICES: readonly Medium[] = ['sound', 'video'];

/** Every stored file that an assessment speaks with or shows. */
export function filesOf(content: AssessmentContent): FilePlace[] {
  const places: FilePlace[] = [];
  const add = (recordingId: string | null | undefined, path: string, media = VOICES) => {
    if (recordingId) places.push({ recordingId, path, media });
  };
  const show = (stimuli: readonly Stimulus[], rich: RichText | null, path: string, richPath: string) => {
    stimuli.forEach((s, n) => {
      if (isFile(s.kind)) add(s.recordingId, `${path}.${n}`, [s.kind]);
    });
    picturesIn(rich).forEach(id => add(id, richPath, ['picture']));
  };
  add(content.directionsVoice?.recordingId, 'directionsVoice');
  show(content.stimuli, content.directionsRich, 'stimuli', 'directionsRich');
  content.items.forEach((item, i) => {
    add(item.promptRecordingId, `items.${i}.promptRecordingId`);
    add(item.readAloudVoice?.recordingId, `items.${i}.readAloudVoice`);
    show(item.stimuli, item.promptRich, `items.${i}.stimuli`, `items.${i}.promptRich`);
    add(item.hintVoice?.recordingId, `items.${i}.hintVoice`);
    add(item.modelVoice?.recordingId, `items.${i}.modelVoice`);
    add(item.music?.backing?.recordingId, `items.${i}.music.backing`);
    item.turns.forEach((turn, n) => add(turn.recordingId, `items.${i}.turns.${n}`));
  });
  return places;
}

/** What the server knows of a stored file. */
export interface Measure {
  durationMs: number | null;
  isVideo: boolean;
}

/**
 * The content with each sound's length as measured, plain words as the formatted text says them, turns kept inside their sounds, and the answer limit of a
 * conversation as long as its run. A sound without a known length keeps what it has.
 */
export function asMeasured(
  content: AssessmentContent,
  measures: ReadonlyMap<string, Measure>,
): AssessmentContent {
  const voice = (v: Voice | null): Voice | null => {
    const measure = v && measures.get(v.recordingId);
    return (
      v && {
        recordingId: v.recordingId,
        durationMs: measure?.durationMs ?? v.durationMs,
        isVideo: measure?.isVideo ?? v.isVideo,
      }
    );
  };
  return {
    ...content,
    ...(content.directionsRich && { directions: plainTextOf(content.directionsRich) }),
    directionsVoice: voice(content.directionsVoice ?? null),
    items: content.items.map(item => ({
      ...item,
      ...(item.promptRich && { promptText: plainTextOf(item.promptRich) }),
      promptRecordingId: item.promptRecordingId ?? null,
      promptDurationMs: item.promptRecordingId
        ? (measures.get(item.promptRecordingId)?.durationMs ?? item.promptDurationMs)
        : null,
      promptIsVideo: item.promptRecordingId
        ? (measures.get(item.promptRecordingId)?.isVideo ?? item.promptIsVideo)
        : false,
      readAloudVoice: voice(item.readAloudVoice ?? null),
      hintVoice: voice(item.hintVoice ?? null),
      modelVoice: voice(item.modelVoice ?? null),
      music: item.music && { ...item.music, backing: voice(item.music.backing ?? null) },
      ...withRun(item, measures),
    })),
  };
}

function withRun(item: Item, measures: ReadonlyMap<string, Measure>): Pick<Item, 'turns' | 'answerLimitMs'> {
  const turns = item.turns.map(turn => {
    const most = measures.get(turn.recordingId)?.durationMs ?? turn.toMs;
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

/**
 * The content as a student sees it: a rubric or scale that is not shown to them is left out, unless they judge
 * themselves by it; prompts read aloud, and directions in another language, are for those whose arrangement asks
 * for them.
 */
export function forStudents(
  content: AssessmentContent,
  readAloud = false,
  directionsLanguage: string | null = null,
): AssessmentContent {
  const { scoring } = content;
  const seen = scoring.shown || content.selfAssessment !== 'none';
  return {
    ...content,
    otherDirections: content.otherDirections.filter(d => d.language === directionsLanguage),
    ...(!seen && { scoring: { ...scoring, rubric: null, scale: [] } }),
    ...(!readAloud && { items: content.items.map(i => ({ ...i, readAloudVoice: null })) }),
  };
}

/**
 * The content before the clock of a limited sitting runs: how long everything takes, and nothing of what is asked.
 */
export function unseen(content: AssessmentContent): AssessmentContent {
  return {
    ...content,
    items: content.items.map(item => ({
      ...item,
      // As long on the strip as what is not shown.
      promptDurationMs: promptMs(item),
      promptText: '',
      promptRich: null,
      promptRecordingId: null,
      promptIsVideo: false,
      readAloudVoice: null,
      stimuli: [],
      hintText: '',
      hintVoice: null,
      modelText: '',
      modelVoice: null,
      music: item.music && { ...item.music, backing: null },
      turns: item.turns.map(turn => ({ ...turn, says: '' })),
    })),
  };
}

/** True when a student is given something to answer or study: words, a voice, or something to look at. */
export function hasPrompt(item: Pick<Item, 'promptText' | 'promptRecordingId' | 'stimuli'>): boolean {
  return item.promptText.trim() !== '' || item.promptRecordingId !== null || item.stimuli.length > 0;
}

/** What is missing of a thing to look at; null when it is whole. */
export function stimulusProblem(stimulus: Stimulus): string | null {
  switch (stimulus.kind) {
    case 'link':
      return stimulus.url.trim() ? null : 'A link has no address yet.';
    case 'passage':
      return stimulus.text.trim() ? null : 'A passage has no words yet.';
    default:
      return stimulus.recordingId ? null : 'A file is not here yet.';
  }
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
  for (const stimulus of content.stimuli) {
    const problem = stimulusProblem(stimulus);
    if (problem) problems.push(`Directions: ${problem}`);
  }
  content.items.forEach((item, i) => {
    if (!hasPrompt(item)) problems.push(`Item ${i + 1} has no prompt yet.`);
    for (const stimulus of item.stimuli) {
      const problem = stimulusProblem(stimulus);
      if (problem) problems.push(`Item ${i + 1}: ${problem}`);
    }
    if (item.isConversation && item.answerBy === 'audio') {
      for (const problem of conversationProblems(item.turns)) problems.push(`Item ${i + 1}: ${problem}`);
      if (takeLengthMs(item.turns) > LIMITS.answerMs)
        problems.push(`Item ${i + 1}: the conversation runs longer than 30 minutes. Shorten some gaps.`);
    }
    const contradiction = Object.values(timeProblems(item))[0];
    if (contradiction && isRecorded(item.answerBy)) problems.push(`Item ${i + 1}: ${contradiction}`);
  });
  problems.push(...schemeProblems(content.scoring, carriedPoints(content)));
  if (content.items.length > 0 && content.items.every(i => i.answerBy === 'nothing'))
    problems.push('Nothing here is answered: let at least one item be spoken or written.');
  return problems;
}
