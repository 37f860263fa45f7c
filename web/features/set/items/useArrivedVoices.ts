import { useEffect } from 'react';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { desk } from '../../../parts/recorder/delivery';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { failed, stands } from '../material/brought';
import { placeWords, withVoiceAt } from './voices';

/**
 * Puts each voice in its place as soon as it is stored, whether or not its item is open: nobody has to keep it. What comes
 * for an item that was taken out meanwhile is let go of here; it is found among the earlier recordings.
 * @returns what keeps the assessment from being whole, in words: a file on its way, or one that its own editor has to take;
 * null where nothing does
 */
export function useArrivedVoices(
  assessmentId: string,
  content: AssessmentContent,
  change: (next: (content: AssessmentContent) => AssessmentContent) => void,
): string | null {
  const deliveries = useDeliveries().filter(d => d.sound.place.assessmentId === assessmentId);
  const arrived = deliveries.filter(stands);
  useEffect(() => {
    for (const { sound, recording } of arrived) {
      const [id] = (sound.place.itemId ?? assessmentId).split(' ');
      if (id !== assessmentId && !content.items.some(i => i.id === id)) {
        desk.forget(sound.id);
        continue;
      }
      if (sound.announce === null || !isVoice(sound.announce.body)) continue;
      const voice = {
        recordingId: sound.id,
        durationMs: recording?.durationMs ?? 0,
        isVideo: recording?.medium === 'video',
      };
      const place = sound.place.itemId ?? assessmentId;
      if (!withVoiceAt(content, assessmentId, place, voice)) continue;
      desk.forget(sound.id);
      change(c => withVoiceAt(c, assessmentId, place, voice) ?? c);
    }
  });
  const waiting = deliveries.find(d => !failed(d));
  if (!waiting) return null;
  const where = placeWords(content, waiting.sound.place.itemId ?? assessmentId);
  return stands(waiting)
    ? `A file has arrived for ${where}: open it there.`
    : `A file for ${where} is still being stored.`;
}

/** True of what is to be heard; files to look at are put in their place by their own editors. */
const isVoice = (body: object) => 'wanted' in body && body.wanted === 'voice';
