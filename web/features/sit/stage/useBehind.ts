import { useEffect } from 'react';

/** While a stage fills the screen, what lies behind it (`data-behind-stage`) is out of reach and does not scroll. */
export function useBehind(isOn: boolean): void {
  useEffect(() => {
    if (!isOn) return;
    const behind = [...document.querySelectorAll<HTMLElement>('[data-behind-stage]')];
    for (const part of behind) part.inert = true;
    const { overflow } = document.documentElement.style;
    document.documentElement.style.overflow = 'hidden';
    return () => {
      for (const part of behind) part.inert = false;
      document.documentElement.style.overflow = overflow;
    };
  }, [isOn]);
}
