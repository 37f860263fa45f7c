import { useBlocker } from 'react-router';
import { useAsksBeforeUnload } from '../../../base/useAsksBeforeUnload';
import { Confirm } from '../../../parts/Confirm';
import { t } from '../../../base/i18n';

/**
 * Another page, Back and the logo ask first: the recording that runs would end there, the time to prepare would go on. So does
 * closing the tab, in the browser's own words. Shown while something runs only: a router knows one question at a time,
 * and a page may show many items.
 */
export function LeavingAsks({ running }: { running: 'recording' | 'prepare' }) {
  const records = running === 'recording';
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => nextLocation.pathname !== currentLocation.pathname,
  );
  useAsksBeforeUnload(true);
  return (
    <Confirm
      isGrave
      open={blocker.state === 'blocked'}
      onClose={() => blocker.reset?.()}
      title={records ? t('A recording is running') : t('Your time to prepare is running')}
      no={t('Stay and go on')}
      yes={records ? t('End it and leave') : t('Leave all the same')}
      onYes={() => blocker.proceed?.()}
    >
      {records
        ? t('If you leave this page now, it ends here. What was recorded until now is kept.')
        : t('It goes on while you are away. Nothing is recorded before you are back.')}
    </Confirm>
  );
}
