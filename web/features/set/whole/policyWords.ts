import { clock } from '@ecoute/core/timing/words';
import type { ItemPolicies, PolicyName, StartingPoint } from '@ecoute/core/timing/startingPoints';

/** The starting points as a teacher reads them. */
export const POINT_WORDS: Record<StartingPoint, { name: string; says: string }> = {
  practice: { name: 'Practice', says: 'As many takes as they like, pausing allowed, nothing numbered.' },
  homework: { name: 'Homework', says: 'A little time to prepare, two takes, points.' },
  exam: {
    name: 'Exam conditions',
    says: 'The prompt once, time to prepare, then the answer begins automatically; one take, no pause.',
  },
  placement: { name: 'Placement', says: 'One take, passing allowed, no numbers for the student.' },
};

const times = (n: number, none: string) => (n === 0 ? none : n === 1 ? 'once' : `${n} times`);

/** The value of a policy in plain words. */
export function policyInWords<N extends PolicyName>(name: N, policies: ItemPolicies): string {
  switch (name as PolicyName) {
    case 'prepareMs':
      return policies.prepareMs ? clock(policies.prepareMs) : 'no time to prepare';
    case 'answerLimitMs':
      return clock(policies.answerLimitMs);
    case 'shortestAnswerMs':
      return policies.shortestAnswerMs ? clock(policies.shortestAnswerMs) : 'any length';
    case 'hearingsAllowed':
      return times(policies.hearingsAllowed, 'as often as they like');
    case 'takesAllowed':
      return policies.takesAllowed === 0
        ? 'no limit'
        : policies.takesAllowed === 1
          ? 'one only'
          : String(policies.takesAllowed);
    case 'startsBy':
      return policies.startsBy === 'itself' ? 'automatically' : 'by the student';
    case 'pauseAllowed':
      return policies.pauseAllowed ? 'may pause' : 'no pausing';
    case 'trimAllowed':
      return policies.trimAllowed ? 'takes may be cut' : 'takes stay whole';
    case 'required':
      return policies.required ? 'must be answered' : 'may be left out';
    case 'passAllowed':
      return policies.passAllowed ? 'passing allowed' : 'no passing';
  }
}
