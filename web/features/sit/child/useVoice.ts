import { useCallback, useEffect, useRef, useState } from 'react';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { screenLanguage } from '../../../base/i18n';
import { browserMeans, sayAll, type Says } from './voice';

export interface ChildVoice {
  isSpeaking: boolean;
  /** Says it once more. */
  again: () => void;
  stop: () => void;
}

/**
 * Says what belongs to what is on the screen, as soon as it comes up, and again when it is another thing.
 * @param says null to be silent
 * @param name tells one thing from the next: the same words after the same name are not said twice
 */
export function useVoice(
  says: readonly Says[] | null,
  name: string,
  content?: Pick<AssessmentContent, 'screenLanguage' | 'spokenWords'>,
): ChildVoice {
  const [isSpeaking, setIsSpeaking] = useState(false);
  const running = useRef<AbortController | null>(null);
  const latest = useRef(says);
  latest.current = says;
  const stop = useCallback(() => {
    running.current?.abort();
    running.current = null;
    setIsSpeaking(false);
  }, []);
  const recorded = content?.spokenWords;
  const tag = content?.screenLanguage || screenLanguage();
  const again = useCallback(() => {
    stop();
    const what = latest.current;
    if (!what || what.length === 0) return;
    const own = new AbortController();
    running.current = own;
    setIsSpeaking(true);
    const byTeacher = new Map(recorded?.map(r => [r.word as string, r.voice.recordingId]));
    void sayAll(what, byTeacher, tag, browserMeans(tag), own.signal).then(() => {
      if (running.current === own) stop();
    });
  }, [recorded, stop, tag]);
  const isSilent = says === null;
  useEffect(() => {
    if (!isSilent) again();
    return stop;
  }, [again, isSilent, name, stop]);
  return { isSpeaking, again, stop };
}
