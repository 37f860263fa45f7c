import type { CirclesBy } from '@ecoute/core/discussions/circles';

/** Who talks with whom, as a teacher reads it. */
export const CIRCLE_WORDS: Record<CirclesBy, { name: string; says: string }> = {
  together: { name: 'all together', says: 'Everybody hears everybody.' },
  groups: {
    name: 'by the groups of the class',
    says: 'Each group among itself; nobody hears another group. You can move people by hand later.',
  },
  lot: {
    name: 'in circles by lot',
    says: 'Shared out when the first one opens it; nobody hears another circle. You can move people by hand later.',
  },
};

/** When contributions are due, against the replies. */
export function dueWords(days: number): string {
  if (days === 0) return 'with the replies';
  return days === 1 ? 'a day before the replies' : `${days} days before the replies`;
}
