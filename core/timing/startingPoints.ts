/**
 * Five starting points: each sets every policy of an item sensibly, and each policy can then be changed. What
 * differs from the starting point is worked out here, never stored.
 */

export const STARTING_POINTS = ['practice', 'homework', 'exam', 'placement', 'discussion'] as const;
export type StartingPoint = (typeof STARTING_POINTS)[number];

export type StartsBy = 'student' | 'itself';

/** Everything a starting point decides for an item. Durations in ms; 0 hearings or takes mean no limit. */
export interface ItemPolicies {
  prepareMs: number;
  hearingsAllowed: number;
  answerLimitMs: number;
  shortestAnswerMs: number;
  startsBy: StartsBy;
  pauseAllowed: boolean;
  /** A take may be cut to a stretch of itself before it is handed in. */
  trimAllowed: boolean;
  takesAllowed: number;
  required: boolean;
  passAllowed: boolean;
}

export type PolicyName = keyof ItemPolicies;

const POLICIES: Record<StartingPoint, ItemPolicies> = {
  practice: {
    prepareMs: 0,
    hearingsAllowed: 0,
    answerLimitMs: 120_000,
    shortestAnswerMs: 0,
    startsBy: 'student',
    pauseAllowed: true,
    trimAllowed: true,
    takesAllowed: 0,
    required: false,
    passAllowed: false,
  },
  homework: {
    prepareMs: 15_000,
    hearingsAllowed: 0,
    answerLimitMs: 45_000,
    shortestAnswerMs: 0,
    startsBy: 'student',
    pauseAllowed: false,
    trimAllowed: false,
    takesAllowed: 2,
    required: true,
    passAllowed: false,
  },
  exam: {
    prepareMs: 120_000,
    hearingsAllowed: 1,
    answerLimitMs: 240_000,
    shortestAnswerMs: 0,
    startsBy: 'itself',
    pauseAllowed: false,
    trimAllowed: false,
    takesAllowed: 1,
    required: true,
    passAllowed: false,
  },
  placement: {
    prepareMs: 20_000,
    hearingsAllowed: 2,
    answerLimitMs: 90_000,
    shortestAnswerMs: 0,
    startsBy: 'student',
    pauseAllowed: false,
    trimAllowed: false,
    takesAllowed: 1,
    required: true,
    passAllowed: true,
  },
  // A contribution: recorded as often as one likes before it is put in.
  discussion: {
    prepareMs: 0,
    hearingsAllowed: 0,
    answerLimitMs: 120_000,
    shortestAnswerMs: 0,
    startsBy: 'student',
    pauseAllowed: false,
    trimAllowed: false,
    takesAllowed: 0,
    required: false,
    passAllowed: false,
  },
};

/** The policies that an item begins with. */
export function policiesOf(point: StartingPoint): ItemPolicies {
  return { ...POLICIES[point] };
}

/** Names of the policies in which an item differs from its starting point, in the order of the strip. */
export function differences(item: ItemPolicies, point: StartingPoint): PolicyName[] {
  const standard = POLICIES[point];
  return (Object.keys(standard) as PolicyName[]).filter(name => item[name] !== standard[name]);
}

/** Everything a starting point decides for the whole sitting. */
export interface SittingPolicies {
  /** A recording made elsewhere may be brought as a file. */
  mayBring: boolean;
  /** What is handed in may be taken back until it is due. */
  mayWithdraw: boolean;
  modelOpens: 'afterHandIn' | 'afterReturn' | 'atOnce';
  evidenceOpens: 'never' | 'afterReturn' | 'atOnce';
}

const SITTING: Record<StartingPoint, SittingPolicies> = {
  practice: { mayBring: true, mayWithdraw: true, modelOpens: 'afterReturn', evidenceOpens: 'atOnce' },
  homework: { mayBring: true, mayWithdraw: true, modelOpens: 'afterReturn', evidenceOpens: 'never' },
  exam: { mayBring: false, mayWithdraw: false, modelOpens: 'afterReturn', evidenceOpens: 'never' },
  placement: { mayBring: false, mayWithdraw: false, modelOpens: 'afterReturn', evidenceOpens: 'never' },
  discussion: { mayBring: false, mayWithdraw: false, modelOpens: 'afterReturn', evidenceOpens: 'never' },
};

/** The policies that a whole sitting begins with. */
export function sittingPoliciesOf(point: StartingPoint): SittingPolicies {
  return { ...SITTING[point] };
}

/** Names of the policies in which a whole sitting differs from its starting point. */
export function sittingDifferences(
  content: SittingPolicies,
  point: StartingPoint,
): (keyof SittingPolicies)[] {
  const standard = SITTING[point];
  return (Object.keys(standard) as (keyof SittingPolicies)[]).filter(n => content[n] !== standard[n]);
}

/** What an item's times contradict, by the policy to mend; empty when they agree. */
export function timeProblems(item: ItemPolicies): Partial<Record<PolicyName, string>> {
  const problems: Partial<Record<PolicyName, string>> = {};
  if (item.shortestAnswerMs > item.answerLimitMs)
    problems.shortestAnswerMs =
      'The shortest answer is longer than the answer limit. Lower it, or raise the limit.';
  return problems;
}
