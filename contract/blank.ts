/** What assessments and items begin as. Apart from the classes, so that tools without decorators can use it. */
import { CEFR } from '@ecoute/core/scoring/scales';
import type { Scheme } from '@ecoute/core/scoring/scheme';
import { policiesOf, sittingPoliciesOf, type StartingPoint } from '@ecoute/core/timing/startingPoints';
import type { AssessmentContent, DiscussionPlan, Item, Scoring } from './assessments';
import type { ItemMusic } from './music';
import type { Stimulus, StimulusKind } from './stimuli';

/** How a starting point scores. */
export const SCHEME_OF: Record<StartingPoint, Scheme> = {
  practice: 'none',
  homework: 'points',
  exam: 'points',
  placement: 'level',
  discussion: 'points',
};

/** A scheme as it begins; the scale is there in case an overall level is chosen. */
export function blankScoring(point: StartingPoint): Scoring {
  return {
    kind: SCHEME_OF[point],
    rubric: null,
    scale: CEFR.map(l => ({ ...l })),
    shown: point !== 'placement',
    passMark: null,
  };
}

/** An item as a starting point begins it. */
export function blankItem(id: string, point: StartingPoint = 'homework', over: Partial<Item> = {}): Item {
  return {
    id,
    sectionId: null,
    answerBy: 'audio',
    promptText: '',
    promptRecordingId: null,
    promptDurationMs: null,
    promptIsVideo: false,
    promptRich: null,
    readAloudVoice: null,
    stimuli: [],
    tags: [],
    turns: [],
    isConversation: false,
    music: null,
    ...policiesOf(point),
    hintText: '',
    hintVoice: null,
    modelText: '',
    modelVoice: null,
    points: point === 'exam' ? 10 : 5,
    ...over,
  };
}

/** An assessment as a starting point begins it, without items. */
export function blankContent(
  point: StartingPoint = 'homework',
  over: Partial<AssessmentContent> = {},
): AssessmentContent {
  return {
    title: '',
    directions: '',
    directionsVoice: null,
    directionsRich: null,
    otherDirections: [],
    stimuli: [],
    tags: [],
    startingPoint: point,
    sittingLimitMs: null,
    sections: [],
    items: [],
    scoring: blankScoring(point),
    closingWords: '',
    layout: 'one',
    ...sittingPoliciesOf(point),
    selfAssessment: 'none',
    screenLanguage: '',
    recorderWords: null,
    ...(point === 'discussion' && { discussion: blankDiscussion() }),
    ...over,
  };
}

/** What is asked in a discussion, as it begins. */
export function blankDiscussion(over: Partial<DiscussionPlan> = {}): DiscussionPlan {
  return {
    contributionsAsked: 1,
    repliesAsked: 2,
    contributeDaysBefore: 2,
    writtenAllowed: false,
    pictureAllowed: false,
    hearsAfter: false,
    namesShown: true,
    ownSubjects: true,
    moderated: false,
    circles: 'together',
    circleSize: 2,
    ...over,
  };
}

/** What sounds along with a musical answer, as it begins: nothing yet. */
export function blankMusic(over: Partial<ItemMusic> = {}): ItemMusic {
  return { metronome: null, startingNote: null, drone: null, backing: null, ...over };
}

/** A thing to look at, as it begins. */
export function blankStimulus(id: string, kind: StimulusKind, over: Partial<Stimulus> = {}): Stimulus {
  return {
    id,
    kind,
    recordingId: null,
    words: '',
    url: '',
    text: '',
    language: '',
    page: 0,
    part: '',
    semitones: 0,
    startingNote: kind === 'notation',
    ...over,
  };
}

/**
 * Content that was stored before some of today's fields were thought of, with those as they begin. What was
 * stored stays as it is.
 */
export function completed(stored: AssessmentContent): AssessmentContent {
  const voice = <T extends { isVideo: boolean } | null>(v: T): T =>
    v && { ...v, isVideo: v.isVideo ?? false };
  return {
    ...blankContent(stored.startingPoint),
    ...stored,
    // What was set before anything was measured says nothing of it.
    evidenceOpens: stored.evidenceOpens ?? 'never',
    directionsVoice: voice(stored.directionsVoice ?? null),
    items: stored.items.map(item => ({
      // What was set before takes could be cut does not allow it.
      ...blankItem(item.id, stored.startingPoint, { trimAllowed: false }),
      ...item,
      hintVoice: voice(item.hintVoice ?? null),
      modelVoice: voice(item.modelVoice ?? null),
    })),
  };
}
