import { useBlocker } from 'react-router';
import { Confirm } from '../../../parts/Confirm';
import { t } from '../../../base/i18n';

/**
 * Another page, Back and the logo ask first: the recording that runs would end there. Closing the tab asks by itself. Shown
 * while one runs only: a router knows one question at a time, and a page may show many items.
 */
export function LeavingAsks() {
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => nextLocation.pathname !== currentLocation.pathname,
  );
  return (
    <Confirm
      isGrave
      open={blocker.state === 'blocked'}
      onClose={() => blocker.reset?.()}
      title={t('A recording is running')}
      no={t('Stay and go on')}
      yes={t('End it and leave')}
      onYes={() => blocker.proceed?.()}
    >
      {t('If you leave this page now, it ends here. What was recorded until now is kept.')}
    </Confirm>
  );
}
