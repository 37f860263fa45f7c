import type { Arrangement } from '@ecoute/core/timing/arrangements';

/** What an arrangement grants, in a few words each; nothing for an ordinary student. */
export function arrangementWords(a: Arrangement, languageName: (tag: string) => string): string[] {
  const percent = Math.round((a.extraTime - 1) * 100);
  return [
    percent > 0 && `${percent} % more time`,
    a.extraHearings > 0 && (a.extraHearings === 1 ? 'one more hearing' : `${a.extraHearings} more hearings`),
    a.readAloud && 'prompts read aloud',
    a.byEar && 'pictures and sound in place of words',
    a.breakMs > 0 && `${Math.round(a.breakMs / 60_000)} minutes of breaks`,
    a.directionsLanguage && `directions in ${languageName(a.directionsLanguage)}`,
  ].filter(words => words !== false && words !== null && words !== '') as string[];
}
