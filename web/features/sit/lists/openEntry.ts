import type { TodoEntry } from '@ecoute/contract/sittings';

/** There is something to do: to begin, or to go on with. */
export const isOpenEntry = (e: TodoEntry): boolean =>
  // A discussion goes on after one has done one's part: the others go on.
  (e.discussion !== null && e.openness === 'open') ||
  (e.discussion !== null && e.discussion.unheard > 0) ||
  (!e.excused && (e.goesOn || (e.mayBegin && (e.handedInAt === null || e.askedAgainFor !== null))));
