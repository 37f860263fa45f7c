import { t } from '../../base/i18n';

/** In the place of charts that could not be fetched. */
export function NoCharts() {
  return (
    <p>{t('The charts could not be fetched just now. Check the connection and open this page once more.')}</p>
  );
}
