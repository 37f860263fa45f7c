import { useEffect, useState } from 'react';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { isScreenLanguage, ownLanguage, setOwnWords, setScreenLanguage } from '../../base/i18n';

/**
 * Puts the screen into the language that an assessment is sat in, and afterwards back.
 * @returns false until the words are there; a dictionary that does not come leaves English
 */
export function useSittingLanguage(content: AssessmentContent | undefined): boolean {
  const wanted = content?.screenLanguage;
  const words = content?.screenWords;
  const [ready, setReady] = useState<string | null>(null);
  useEffect(() => {
    if (wanted === undefined) return;
    let current = true;
    setOwnWords(words ? new Map(words.filter(w => w.own.trim()).map(w => [w.english, w.own])) : null);
    // A language without a dictionary: English, with the teacher's own words on the recorder.
    const language = wanted === '' ? ownLanguage() : isScreenLanguage(wanted) ? wanted : 'en';
    void setScreenLanguage(language)
      .catch(() => undefined)
      .then(() => current && setReady(wanted));
    return () => {
      current = false;
      setOwnWords(null);
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the words of what is sat do not change while it is
  }, [wanted]);
  return wanted !== undefined && ready === wanted;
}
