import { promptMs } from '@ecoute/core/timing/strip';
import type { AssessmentContent } from '../assessments';

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
