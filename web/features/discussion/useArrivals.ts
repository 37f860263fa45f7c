import { useEffect } from 'react';
import type { Contribution } from '@ecoute/contract/discussions';
import { api } from '../../base/api';
import { onSaid } from '../../base/arrivals';
import { store } from '../../base/store';
import { discussionApi, doorUrl, type Door } from './endpoints';

/** Puts one contribution among the others: in its place by time, or over what was known of it. */
export function withArrival(contributions: Contribution[], come: Contribution): void {
  const at = contributions.findIndex(c => c.id === come.id);
  if (at >= 0) contributions[at] = come;
  else {
    const after = contributions.findIndex(c => c.at > come.at);
    contributions.splice(after < 0 ? contributions.length : after, 0, come);
  }
  const parent = contributions.find(c => c.id === come.parentId);
  // Somebody has replied: what is one's own stays from here on.
  if (parent && parent.author !== come.author) parent.mayTakeBack = false;
}

/** What comes while a discussion is open appears in it, each asked for alone; what cannot be seen alone has all of it asked for again. */
export function useArrivals(door: Door, releaseId: string): void {
  useEffect(
    () =>
      onSaid(id => {
        const again = () =>
          void store.dispatch(api.util.invalidateTags([{ type: 'Discussion', id: releaseId }]));
        void fetch(`/${doorUrl({ door, releaseId })}/contributions/${id}`)
          .then(async response => {
            if (!response.ok) return again();
            const { contribution: come } = (await response.json()) as { contribution: Contribution | null };
            // Somebody's own changes what they have given; what a teacher sees of people does with each.
            if (!come || come.isMine || door === 'lead') return again();
            void store.dispatch(
              discussionApi.util.updateQueryData('discussion', releaseId, view =>
                withArrival(view.contributions, come),
              ),
            );
          })
          .catch(again);
      }),
    [door, releaseId],
  );
}
