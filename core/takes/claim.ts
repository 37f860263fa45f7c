/**
 * When a recording began is said by the browser: somebody who lost the network brings it long afterwards, and that is
 * right. What the server heard meanwhile says how far it can be believed.
 */

/** What came of a sitting's account, and when it reached the server. Instants in ms since 1970 (UTC). */
export interface Heard {
  kind: string;
  itemId: string | null;
  atMs: number;
  receivedMs: number;
}

/** Clocks, and a request on its way. */
const SOON_MS = 5_000;
/** Told within this time of beginning, the account is a witness. */
const WITNESS_MS = 60_000;
/** After a network is back, everything that waited comes within this time, in any order. */
const FLUSH_MS = 30_000;

/**
 * - `known`: the server heard of it when it began.
 * - `said`: nobody knows but the browser; it may have been offline.
 * - `contradicted`: the browser was heard in between and did not tell of it.
 */
export type Claim = 'known' | 'said' | 'contradicted';

/**
 * What a claim to have begun at an instant is worth.
 * @param nowMs when the server is told of the recording
 */
export function claimOf(
  { itemId, beganAtMs, sittingBeganAtMs }: { itemId: string; beganAtMs: number; sittingBeganAtMs: number },
  heard: readonly Heard[],
  nowMs: number,
): Claim {
  if (beganAtMs > nowMs + SOON_MS || beganAtMs < sittingBeganAtMs - SOON_MS) return 'contradicted';
  if (nowMs - beganAtMs <= SOON_MS) return 'known';
  const witness = heard.some(
    h =>
      h.kind === 'recordingBegan' &&
      h.itemId === itemId &&
      Math.abs(h.atMs - beganAtMs) <= SOON_MS &&
      h.receivedMs - beganAtMs <= WITNESS_MS,
  );
  if (witness) return 'known';
  const between = heard.some(h => h.receivedMs > beganAtMs + WITNESS_MS && h.receivedMs < nowMs - FLUSH_MS);
  return between ? 'contradicted' : 'said';
}
