import { useRef } from 'react';
import { useBlocker } from 'react-router';
import { useAsksBeforeUnload } from '../../../base/useAsksBeforeUnload';
import { t } from '../../../base/i18n';

export type Running = 'recording' | 'prepare';

/**
 * Another page, Back and the logo ask first: the recording that runs would end there, the time to prepare would go on. So does
 * closing the tab, in the browser's own words. For while something runs only: a router knows one question at a time, and a
 * page may show many items.
 */
export function useLeaving(running: Running) {
  const records = running === 'recording';
  /** The question shuts as it is answered: that is no wish to stay, and Back takes a moment to go. */
  const isGoing = useRef(false);
  const blocker = useBlocker(({ currentLocation, nextLocation }) => {
    isGoing.current = false;
    return nextLocation.pathname !== currentLocation.pathname;
  });
  useAsksBeforeUnload(true);
  return {
    isAsked: blocker.state === 'blocked',
    stay: () => {
      if (!isGoing.current) blocker.reset?.();
    },
    leave: () => {
      isGoing.current = true;
      blocker.proceed?.();
    },
    title: records ? t('A recording is running') : t('Your time to prepare is running'),
    says: records
      ? t('If you leave this page now, it ends here. What was recorded until now is kept.')
      : t('It goes on while you are away. Nothing is recorded before you are back.'),
    yes: records ? t('End it and leave') : t('Leave all the same'),
    no: t('Stay and go on'),
  };
}
