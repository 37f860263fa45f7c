import { t } from '../base/i18n';

/** A length as a person decides by it, in the language of the screen: "45 seconds", "about 6 minutes", "1 h 3 min". */
export function lengthWords(ms: number): string {
  const seconds = Math.round(ms / 1000);
  if (seconds < 120) return t('{{count}} seconds', { count: seconds });
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return t('about {{count}} minutes', { count: minutes });
  const rest = minutes % 60;
  const hours = Math.floor(minutes / 60);
  return rest ? t('{{hours}} h {{minutes}} min', { hours, minutes: rest }) : t('{{hours}} h', { hours });
}
