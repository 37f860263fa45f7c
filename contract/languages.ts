/** Languages that students' screens, and what students take along, speak. */
export const STUDENT_LANGUAGES = ['en', 'pt', 'es', 'fr', 'de', 'ar', 'ja'] as const;
export type StudentLanguage = (typeof STUDENT_LANGUAGES)[number];

/** The language that is asked for, where there is one of ours; English for whatever else is said. */
export function studentLanguage(asked: unknown): StudentLanguage {
  return STUDENT_LANGUAGES.find(language => language === asked) ?? 'en';
}
