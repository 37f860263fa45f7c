import type { AssessmentContent, Item, Voice } from '@ecoute/contract/assessments';
import { SPOKEN_WORDS } from '@ecoute/core/voice/spokenWords';
import { blankMusic } from '@ecoute/contract/blank';
import { withItem } from '../draft';
import { wholeTurn } from './turns';

/** Each place of an item that a voice may have, by what its name ends with; the turns' track is cut by its own editor. */
const OF_ITEM: Record<string, (item: Item, voice: Voice) => Partial<Item>> = {
  '': (_item, { recordingId, durationMs, isVideo }) => ({
    promptRecordingId: recordingId,
    promptDurationMs: durationMs,
    promptIsVideo: isVideo,
  }),
  before: (item, voice) => ({ wordsBefore: { text: item.wordsBefore?.text ?? '', voice } }),
  hint: (_item, hintVoice) => ({ hintVoice }),
  aloud: (_item, readAloudVoice) => ({ readAloudVoice }),
  model: (_item, modelVoice) => ({ modelVoice }),
  backing: (item, backing) => ({ music: { ...(item.music ?? blankMusic()), backing } }),
  turn: ({ turns }, { recordingId, durationMs }) => ({
    turns: [...turns, wholeTurn(recordingId, durationMs, turns.at(-1)?.gapMs)],
  }),
};

/**
 * The content with a voice that has arrived for one of its places.
 * @param place as `VoiceSlot` names it
 * @returns null where the place is none of these, or is gone
 */
export function withVoiceAt(
  content: AssessmentContent,
  assessmentId: string,
  place: string,
  voice: Voice,
): AssessmentContent | null {
  const [id, kind = '', word] = place.split(' ');
  if (id === assessmentId) {
    if (kind === '') return { ...content, directionsVoice: voice };
    // In the order in which they stand: one taken away in between leaves its voice nowhere.
    if (kind === 'directions' && content.otherDirections[Number(word)])
      return {
        ...content,
        otherDirections: content.otherDirections.map((d, n) => (n === Number(word) ? { ...d, voice } : d)),
      };
    const known = SPOKEN_WORDS.find(w => w === word);
    if (kind !== 'says' || !known) return null;
    const others = (content.spokenWords ?? []).filter(s => s.word !== known);
    return { ...content, spokenWords: [...others, { word: known, voice }] };
  }
  const item = content.items.find(i => i.id === id);
  const put = OF_ITEM[kind];
  return item && put ? withItem(content, item.id, put(item, voice)) : null;
}

/** Where a place is, in words for its teacher: “item 2”, “the directions”. */
export function placeWords(content: AssessmentContent, place: string): string {
  const at = content.items.findIndex(i => place.startsWith(i.id));
  return at < 0 ? 'the directions' : `item ${at + 1}`;
}
