import { useEffect, useRef } from 'react';

/** For the heading of what comes next: whoever cannot see it is taken there. Give it `tabIndex={-1}`. */
export function useArrival<T extends HTMLElement>(isArriving = true) {
  const heading = useRef<T>(null);
  useEffect(() => {
    if (isArriving) heading.current?.focus({ preventScroll: true });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when it comes up
  }, []);
  return heading;
}
