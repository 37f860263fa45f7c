import { t } from '../../base/i18n';

/** In the place of what is fetched only when it is asked for, and could not be. */
export function NotFetched() {
  return (
    <p role="status">
      {t('This could not be fetched just now. Check the connection and open this page once more.')}
    </p>
  );
}
