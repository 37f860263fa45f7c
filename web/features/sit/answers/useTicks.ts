import { useEffect, useState } from 'react';
import { serverNow } from '../../../base/clock';

/** The server's time, renewed ten times a second while `running`. */
export function useTicks(running: boolean): number {
  const [now, setNow] = useState(serverNow);
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => setNow(serverNow()), 100);
    return () => clearInterval(timer);
  }, [running]);
  return running ? now : serverNow();
}
