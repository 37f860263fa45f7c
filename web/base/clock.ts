/**
 * The server's clock, as well as this browser can know it. Deadlines are the server's; every answer that
 * carries `now` corrects the difference, and the correction with the shortest round trip is trusted most, until it is
 * old or this device's clock was set.
 */
let offsetMs = 0;
let bestRoundTripMs = Infinity;
let learntAtMs = 0;
/** Between this device's clock and its count of time that passes; it changes when the clock is set, or after sleep. */
let apartMs = 0;

const TRUSTED_MS = 5 * 60_000;
const SET_MS = 2_000;

/** @param serverNow ISO instant in an answer; `askedAtMs` this browser's time when it was asked for */
export function learnClock(serverNow: string, askedAtMs: number): void {
  const nowMs = Date.now();
  const roundTrip = nowMs - askedAtMs;
  const apart = nowMs - performance.now();
  const isOver = nowMs - learntAtMs > TRUSTED_MS || Math.abs(apart - apartMs) > SET_MS;
  // Asked before the clock was set: the answer says nothing of the time between.
  if (roundTrip < 0 || (roundTrip > bestRoundTripMs && !isOver)) return;
  [bestRoundTripMs, learntAtMs, apartMs] = [roundTrip, nowMs, apart];
  offsetMs = Date.parse(serverNow) + roundTrip / 2 - nowMs;
}

/** Ms since 1970 by the server's clock. */
export function serverNow(): number {
  return Date.now() + offsetMs;
}
