/**
 * The server's clock, as well as this browser can know it. Deadlines are the server's; every answer that
 * carries `now` corrects the difference, and the correction with the shortest round trip is trusted most.
 */
let offsetMs = 0;
let bestRoundTripMs = Infinity;

/** @param serverNow ISO instant in an answer; `askedAtMs` this browser's time when it was asked for */
export function learnClock(serverNow: string, askedAtMs: number): void {
  const roundTrip = Date.now() - askedAtMs;
  if (roundTrip > bestRoundTripMs) return;
  bestRoundTripMs = roundTrip;
  offsetMs = Date.parse(serverNow) + roundTrip / 2 - Date.now();
}

/** Ms since 1970 by the server's clock. */
export function serverNow(): number {
  return Date.now() + offsetMs;
}
