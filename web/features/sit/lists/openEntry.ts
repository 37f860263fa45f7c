import type { TodoEntry } from '@ecoute/contract/sittings';

/** There is something to do: to begin, or to go on with. */
export const isOpenEntry = (e: TodoEntry): boolean =>
  !e.excused && (e.goesOn || (e.mayBegin && (e.handedInAt === null || e.askedAgainFor !== null)));
