import { createApi, fetchBaseQuery, type BaseQueryFn } from '@reduxjs/toolkit/query/react';
import type { TroubleBody } from '@ecoute/contract/trouble';
import { learnClock } from './clock';
import { AWAY, type Refusal } from './refusal';

export { refusalOf, type Refusal } from './refusal';

const raw = fetchBaseQuery({ baseUrl: '/' });

/** Every answer that is not good becomes a `Refusal`, also when nothing answered at all. */
const base: BaseQueryFn<Parameters<typeof raw>[0], unknown, Refusal> = async (args, api, extra) => {
  const askedAt = Date.now();
  // Contract classes are not plain objects, which alone are sent as JSON.
  const plain =
    typeof args === 'object' && args.body && !(args.body instanceof Blob)
      ? { ...args, body: { ...(args.body as object) } }
      : args;
  const result = await raw(plain, api, extra);
  if (!result.error) {
    const now = (result.data as { now?: unknown } | null)?.now;
    if (typeof now === 'string') learnClock(now, askedAt);
    return { data: result.data };
  }
  const body = result.error.data as TroubleBody | undefined;
  if (typeof result.error.status === 'number' && body?.message)
    return { error: { ...body, status: result.error.status } };
  return {
    error: {
      status: 0,
      code: 'away',
      message: AWAY,
    },
  };
};

/** The one API; features add their endpoints beside their screens. */
export const api = createApi({
  baseQuery: base,
  tagTypes: [
    'Session',
    'Assessment',
    'Release',
    'Calendar',
    'Import',
    'Feed',
    'Class',
    'Sitting',
    'Discussion',
    'Phone',
    'Todo',
    'Lanes',
    'Evidence',
    'Decisions',
    'Listeners',
    'Scores',
    'Feedback',
    'Recordings',
    'Portfolios',
    'School',
    'Shelf',
    'Department',
    'Tags',
    'Rubrics',
    'Terms',
    'Exports',
    'Account',
    'BankLately',
    'Invitations',
    'Administration',
    'Messages',
    'ToldMe',
    'Families',
    'Turns',
  ],
  refetchOnReconnect: true,
  refetchOnFocus: true,
  endpoints: () => ({}),
});
