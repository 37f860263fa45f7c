import { clock } from '@ecoute/core/timing/words';
import type {
  ItemPolicies,
  PolicyName,
  SittingPolicies,
  StartingPoint,
} from '@ecoute/core/timing/startingPoints';

/** The starting points as a teacher reads them. */
export const POINT_WORDS: Record<StartingPoint, { name: string; says: string }> = {
  practice: { name: 'Practice', says: 'As many takes as they like, pausing allowed, nothing numbered.' },
  homework: {
    name: 'Homework',
    says: 'A little time to prepare, two takes, points; taken back until it is due.',
  },
  exam: {
    name: 'Exam conditions',
    says: 'The prompt once, time to prepare, then the answer begins automatically; one take, no pause, no file brought, nothing taken back.',
  },
  placement: {
    name: 'Placement',
    says: 'One take, passing allowed, no file brought, nothing taken back, no numbers for the student.',
  },
  discussion: {
    name: 'Discussion',
    says: 'People talk with each other over days: contributions and replies, recorded as often as they like before they are put in.',
  },
};

/** The value of a policy of the whole sitting in plain words. */
export function sittingPolicyInWords(name: keyof SittingPolicies, policies: SittingPolicies): string {
  switch (name) {
    case 'mayBring':
      return policies.mayBring ? 'a file may be brought' : 'no file is brought';
    case 'mayWithdraw':
      return policies.mayWithdraw ? 'may be taken back' : 'nothing is taken back';
    case 'modelOpens':
      return {
        afterReturn: 'with the feedback',
        afterHandIn: 'after the hand-in',
        atOnce: 'from the beginning',
      }[policies.modelOpens];
    case 'evidenceOpens':
      return { never: 'never', afterReturn: 'with the feedback', atOnce: 'as soon as they have recorded' }[
        policies.evidenceOpens
      ];
  }
}

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
