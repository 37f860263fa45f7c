/** One release in numbers: what its answers and marks add up to, item by item and criterion by criterion. */
import type { Hundredths } from '../scoring/points';
import { isNumbered, type Choice, type Scheme } from '../scoring/scheme';
import { barsOf } from './bars';
import { itemRestCorrelations, reliabilityOf, type Reliability } from './reliability';
import { meanOf, spreadOf } from './spread';

export interface AnalysedItem {
  id: string;
  carries: Hundredths;
  answerLimitMs: number;
}

/** The sitting of one student that counts, handed in. */
export interface AnalysedSitting {
  id: string;
  /** Everything in it is marked. */
  isMarked: boolean;
  level: number | null;
}

export interface AnalysedAnswer {
  sittingId: string;
  itemId: string;
  /** Of a finished mark. */
  points: Hundredths | null;
  choices: readonly Choice[];
  /** Of what was recorded. */
  durationMs: number | null;
  takes: number;
  hearings: number;
  passed: boolean;
}

/** A bar, and the sittings in it. */
export interface FigureBar {
  from: number;
  to: number;
  count: number;
  sittingIds: string[];
}

export interface ItemFigures {
  itemId: string;
  answered: number;
  passed: number;
  /** Sittings that were handed in without an answer to it. */
  unanswered: number;
  /** Of those that are wholly marked: mean share of the points, 0 to 1; null where it carries none or nothing is marked. */
  share: number | null;
  /** Standard deviation, in hundredths of points. */
  spread: number | null;
  /** Corrected item–total correlation. */
  tells: number | null;
  /** How many are answered done, where the scheme says done or not done. */
  done: number | null;
  /** Middle values over those who answered. */
  takes: number | null;
  hearings: number | null;
  timeMs: number | null;
  /** Middle share of the limit that was used, 0 to 1. */
  timeShare: number | null;
  bars: FigureBar[];
}

export interface CriterionFigures {
  criterionId: string;
  /** How many answers were given each level. */
  counts: number[];
  /** Mean share of the highest level's points. */
  share: number | null;
  /** Standard deviation of the level's points. */
  spread: number | null;
  tells: number | null;
}

export interface ReleaseFigures {
  handedIn: number;
  marked: number;
  /** Of the points of those that are wholly marked. */
  bars: FigureBar[];
  /** How many have each overall level, from the lowest; null where the scheme has none. */
  levels: { count: number; sittingIds: string[] }[] | null;
  /** Mean and middle of the points, in hundredths. */
  mean: number | null;
  middle: number | null;
  spread: number | null;
  items: ItemFigures[];
  criteria: CriterionFigures[];
  /** Of the sum of the items; null before there are enough, or where nothing is added up. */
  reliability: Reliability | null;
}

export interface AnalysedScheme {
  kind: Scheme;
  levels: number;
  rubric: { levels: readonly { points: number }[]; criteria: readonly { id: string }[] } | null;
}

function middleOf(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  const sorted = values.toSorted((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** The narrowest bars: half a point. */
const LEAST_BAR = 50;

/** Everything about one release. What was not answered in a sitting that is marked counts as none of its points. */
export function releaseFigures(
  scheme: AnalysedScheme,
  items: readonly AnalysedItem[],
  sittings: readonly AnalysedSitting[],
  answers: readonly AnalysedAnswer[],
): ReleaseFigures {
  const numbered = isNumbered(scheme.kind);
  const byItem = new Map<string, Map<string, AnalysedAnswer>>(items.map(i => [i.id, new Map()]));
  for (const answer of answers) byItem.get(answer.itemId)?.set(answer.sittingId, answer);
  const marked = sittings.filter(s => s.isMarked);
  const scored = numbered ? items.filter(i => i.carries > 0) : [];
  const pointsOf = (sitting: AnalysedSitting, item: AnalysedItem) =>
    byItem.get(item.id)!.get(sitting.id)?.points ?? 0;
  const table = marked.map(s => scored.map(i => pointsOf(s, i)));
  const sums = table.map(row => row.reduce((sum, p) => sum + p, 0));
  const tells = itemRestCorrelations(table);
  const most = scored.reduce((sum, i) => sum + i.carries, 0);
  const bars = (all: readonly { id: string; points: number }[], reach: number): FigureBar[] =>
    barsOf(all, one => one.points, { most: reach, least: LEAST_BAR }).map(({ from, to, of }) => ({
      from,
      to,
      count: of.length,
      sittingIds: of.map(one => one.id),
    }));
  return {
    handedIn: sittings.length,
    marked: marked.length,
    bars: bars(
      marked.map((s, i) => ({ id: s.id, points: sums[i]! })),
      most,
    ),
    levels:
      scheme.kind === 'level'
        ? Array.from({ length: scheme.levels }, (_, level) => {
            const at = sittings.filter(s => s.level === level);
            return { count: at.length, sittingIds: at.map(s => s.id) };
          })
        : null,
    mean: scored.length > 0 ? meanOf(sums) : null,
    middle: scored.length > 0 ? middleOf(sums) : null,
    spread: scored.length > 0 ? spreadOf(sums) : null,
    items: items.map(item => {
      const own = byItem.get(item.id)!;
      const given = [...own.values()];
      const said = given.filter(a => !a.passed);
      const place = scored.indexOf(item);
      const points = place < 0 ? [] : table.map(row => row[place]!);
      const lengths = said.flatMap(a => (a.durationMs === null ? [] : [a.durationMs]));
      return {
        itemId: item.id,
        answered: said.length,
        passed: given.length - said.length,
        unanswered: sittings.length - given.length,
        share: points.length > 0 ? meanOf(points)! / item.carries : null,
        spread: spreadOf(points),
        tells: place < 0 ? null : (tells[place] ?? null),
        done: scheme.kind === 'done' ? said.filter(a => (a.points ?? 0) > 0).length : null,
        takes: middleOf(said.filter(a => a.takes > 0).map(a => a.takes)),
        hearings: middleOf(said.map(a => a.hearings)),
        timeMs: middleOf(lengths),
        timeShare:
          item.answerLimitMs > 0 ? middleOf(lengths.map(ms => Math.min(1, ms / item.answerLimitMs))) : null,
        bars:
          place < 0
            ? []
            : bars(
                marked.map((s, i) => ({ id: s.id, points: points[i]! })),
                item.carries,
              ),
      };
    }),
    criteria: scheme.kind === 'rubric' && scheme.rubric ? criteriaOf(scheme.rubric, answers) : [],
    reliability: scored.length > 1 ? reliabilityOf(table) : null,
  };
}

function criteriaOf(
  { levels, criteria }: NonNullable<AnalysedScheme['rubric']>,
  answers: readonly AnalysedAnswer[],
): CriterionFigures[] {
  const highest = Math.max(0, ...levels.map(l => l.points));
  // A student's level on a criterion is the middle of those on their answers; only whoever has one on each is compared.
  const bySitting = new Map<string, Map<string, number[]>>();
  for (const { sittingId, choices, points } of answers) {
    if (points === null) continue;
    const own = bySitting.get(sittingId) ?? new Map<string, number[]>();
    bySitting.set(sittingId, own);
    for (const { criterionId, level } of choices) {
      const value = levels[level]?.points;
      if (value === undefined) continue;
      const of = own.get(criterionId);
      if (of) of.push(value);
      else own.set(criterionId, [value]);
    }
  }
  const table = [...bySitting.values()]
    .filter(own => criteria.every(c => own.has(c.id)))
    .map(own => criteria.map(c => meanOf(own.get(c.id)!)!));
  const tells = itemRestCorrelations(table);
  return criteria.map((criterion, place) => {
    const counts = levels.map(() => 0);
    const values: number[] = [];
    for (const { choices, points } of answers) {
      const level = points === null ? undefined : choices.find(c => c.criterionId === criterion.id)?.level;
      if (level === undefined || counts[level] === undefined) continue;
      counts[level] += 1;
      values.push(levels[level]!.points);
    }
    const mean = meanOf(values);
    return {
      criterionId: criterion.id,
      counts,
      share: mean === null || highest === 0 ? null : mean / highest,
      spread: spreadOf(values),
      tells: tells[place] ?? null,
    };
  });
}
