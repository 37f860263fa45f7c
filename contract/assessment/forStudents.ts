import { isRecorded, promptMs } from '@ecoute/core/timing/strip';
import type { AssessmentContent, Item } from '../assessments';
import type { HiddenItem, SittingEvent } from '../sittings';

/** Nor is it told in which language one is. */
const NO_MODEL = { modelText: '', modelLanguage: '', modelVoice: null };

/** The content without what a student may not see yet: hints stay, model answers go. */
export function withoutModels(content: AssessmentContent): AssessmentContent {
  return { ...content, items: content.items.map(i => ({ ...i, ...NO_MODEL })) };
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
 * An item as long on the strip as it is, without a word, picture or sound of what is asked. What is said on the way to it
 * asks nothing, and stays.
 */
function withoutWhatIsAsked(item: Item): Item {
  return {
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
    ...NO_MODEL,
    music: item.music && { ...item.music, backing: null },
    turns: item.turns.map(turn => ({ ...turn, says: '', recordingId: '' })),
  };
}

/**
 * The content before the clock of a limited sitting runs: how long everything takes, and nothing of what is asked.
 */
export function unseen(content: AssessmentContent): AssessmentContent {
  return {
    ...content,
    items: content.items.map(item => ({ ...withoutWhatIsAsked(item), wordsBefore: null })),
  };
}

/**
 * Whether the time before an answer is part of what is asked: it is the same for everybody, so nothing is seen before it
 * begins. Where the student says when to begin, or nothing comes before the answer, there is no such time.
 */
export function isTimed(
  item: Pick<Item, 'answerBy' | 'startsBy' | 'prepareMs' | 'promptRecordingId'>,
): boolean {
  return (
    isRecorded(item.answerBy) &&
    item.startsBy === 'itself' &&
    (item.prepareMs > 0 || item.promptRecordingId !== null)
  );
}

/** The items of a content whose time has not begun, and the content without them. @param seen items that were shown, or answered */
export function hideTimed(
  content: AssessmentContent,
  seen: ReadonlySet<string>,
): { content: AssessmentContent; hidden: HiddenItem[] } {
  const isHidden = (item: Item) => isTimed(item) && !seen.has(item.id);
  return {
    content: { ...content, items: content.items.map(i => (isHidden(i) ? withoutWhatIsAsked(i) : i)) },
    hidden: content.items
      .filter(isHidden)
      .map(i => ({ itemId: i.id, isVoiced: i.promptRecordingId !== null })),
  };
}

/** The items that were shown to a sitting's student. By the server's own word and the takes: what a browser says shows nothing. */
export function seenItems(
  events: readonly Pick<SittingEvent, 'kind' | 'itemId'>[],
  takes: readonly { itemId: string }[],
): Set<string> {
  return new Set([
    ...events.flatMap(e => (e.itemId && e.kind === 'itemShown' ? [e.itemId] : [])),
    ...takes.map(t => t.itemId),
  ]);
}
