import { useEffect, useRef } from 'react';
import { announce } from '../../../base/announce';
import { t } from '../../../base/i18n';

/** Announced when so much is left, at that second and no other. */
const SAID_AT_SEC = [30, 10];

/**
 * Announces time that runs out, once at each mark that is passed.
 * @param remainingMs null where no clock runs
 * @param what what ends then, in words
 */
export function useTimeSaid(remainingMs: number | null, what: string): void {
  const before = useRef<number | null>(null);
  useEffect(() => {
    const was = before.current;
    before.current = remainingMs;
    if (was === null || remainingMs === null) return;
    const passed = SAID_AT_SEC.find(sec => was > sec * 1000 && remainingMs <= sec * 1000);
    if (passed !== undefined) announce(t('{{what}}: {{seconds}} seconds left', { what, seconds: passed }));
  }, [remainingMs, what]);
}
