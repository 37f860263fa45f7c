/** Whether a group moved from one measurement to another: signed ranks, which suit few values in an order. */

export interface Shift {
  /** Pairs whose second value is higher, lower, the same. */
  up: number;
  down: number;
  same: number;
  /** Sum of the ranks of those that rose, and of those that fell. */
  rankUp: number;
  rankDown: number;
  /**
   * Probability of so uneven sums in either direction if rising and falling were equally likely; null where nothing
   * moved.
   */
  p: number | null;
  /** Counted out, not approached. */
  isExact: boolean;
}

/** Up to so many pairs every way in which signs could fall is counted. */
const MOST_EXACT = 200;

/**
 * Wilcoxon's signed ranks (F. Wilcoxon, Biometrics Bulletin 1, 1945) with Pratt's way with pairs that stand still: they
 * are ranked with the others and then left out, so that many of them make a shift less sure (J. W. Pratt, Journal of the
 * American Statistical Association 54, 1959). Like differences share the middle of their ranks. Which sums of ranks
 * come about by chance is counted over all signs, ties and all; beyond `MOST_EXACT` pairs a normal curve with
 * continuity correction stands for it.
 * @param pairs before and after, in any unit that has an order and like steps
 */
export function signedRanks(pairs: readonly { before: number; after: number }[]): Shift {
  const differences = pairs.map(({ before, after }) => after - before);
  const size = (d: number) => Math.round(Math.abs(d) * 1e9);
  const ordered = differences.toSorted((a, b) => size(a) - size(b));
  // Twice the rank: the middle of an even number of ranks is a half.
  const up: number[] = [];
  const down: number[] = [];
  for (let from = 0; from < ordered.length;) {
    let to = from;
    while (to < ordered.length && size(ordered[to]!) === size(ordered[from]!)) to++;
    const doubled = from + 1 + to;
    for (const d of ordered.slice(from, to)) if (size(d) > 0) (d > 0 ? up : down).push(doubled);
    from = to;
  }
  const sum = (ranks: readonly number[]) => ranks.reduce((all, r) => all + r, 0);
  const [rankUp, rankDown] = [sum(up), sum(down)];
  const moved = [...up, ...down];
  const isExact = moved.length <= MOST_EXACT;
  return {
    up: up.length,
    down: down.length,
    same: pairs.length - moved.length,
    rankUp: rankUp / 2,
    rankDown: rankDown / 2,
    p:
      moved.length === 0
        ? null
        : isExact
          ? counted(moved, Math.min(rankUp, rankDown))
          : normal(moved, rankUp),
    isExact,
  };
}

/** Share of all signs under which the smaller sum is at most this one; both directions. */
function counted(doubledRanks: readonly number[], smaller: number): number {
  const whole = doubledRanks.reduce((all, r) => all + r, 0);
  // How likely each sum of the ranks that rise is, one pair after the other.
  let ways = new Float64Array(whole + 1);
  ways[0] = 1;
  let reached = 0;
  for (const rank of doubledRanks) {
    const next = new Float64Array(whole + 1);
    for (let at = 0; at <= reached; at++) {
      const half = ways[at]! / 2;
      if (half === 0) continue;
      next[at]! += half;
      next[at + rank]! += half;
    }
    ways = next;
    reached += rank;
  }
  let below = 0;
  for (let at = 0; at <= smaller; at++) below += ways[at]!;
  return Math.min(1, 2 * below);
}

/** The same by a normal curve. */
function normal(doubledRanks: readonly number[], doubledUp: number): number {
  const whole = doubledRanks.reduce((all, r) => all + r, 0) / 2;
  const variance = doubledRanks.reduce((all, r) => all + (r / 2) ** 2, 0) / 4;
  const off = Math.max(0, Math.abs(doubledUp / 2 - whole / 2) - 0.5);
  return 2 * upperTail(off / Math.sqrt(variance));
}

/** Share of a normal curve beyond z ≥ 0 (M. Abramowitz and I. Stegun, 26.2.17; off by less than 7.5 · 10⁻⁸). */
function upperTail(z: number): number {
  const t = 1 / (1 + 0.2316419 * z);
  const sum =
    t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * sum;
}
