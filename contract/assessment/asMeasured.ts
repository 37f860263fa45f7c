import { plainTextOf } from '@ecoute/core/formats/richText';
import { takeLengthMs } from '@ecoute/core/timing/conversation';
import type { AssessmentContent, Item } from '../assessments';
import { LIMITS } from '../limits';
import type { Voice } from '../stimuli';
import { withPassMark } from './points';

/** What the server knows of a stored file. */
export interface FileFacts {
  durationMs: number | null;
  isVideo: boolean;
}

/**
 * The content with each sound's length as measured, plain words as the formatted text says them, turns kept inside their sounds, and the answer limit of a
 * conversation as long as its run. A sound without a known length keeps what it has.
 */
export function asMeasured(
  content: AssessmentContent,
  measures: ReadonlyMap<string, FileFacts>,
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
  return withPassMark({
    ...content,
    ...(content.directionsRich && { directions: plainTextOf(content.directionsRich) }),
    directionsVoice: voice(content.directionsVoice ?? null),
    otherDirections: content.otherDirections.map(d => (d.voice ? { ...d, voice: voice(d.voice) } : d)),
    ...(content.spokenWords && {
      spokenWords: content.spokenWords.map(spoken => ({ ...spoken, voice: voice(spoken.voice)! })),
    }),
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
      ...(item.wordsBefore && {
        wordsBefore: { text: item.wordsBefore.text, voice: voice(item.wordsBefore.voice ?? null) },
      }),
      hintVoice: voice(item.hintVoice ?? null),
      modelVoice: voice(item.modelVoice ?? null),
      music: item.music && { ...item.music, backing: voice(item.music.backing ?? null) },
      ...withRun(item, measures),
    })),
  });
}

function withRun(
  item: Item,
  measures: ReadonlyMap<string, FileFacts>,
): Pick<Item, 'turns' | 'answerLimitMs'> {
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
