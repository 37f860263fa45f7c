import { Podcast as Icon } from 'lucide-react';
import { t } from '../../../base/i18n';
import { PrivateAddress } from '../../../parts/PrivateAddress';
import { usePodcastQuery, useRenewPodcastMutation, useRevokePodcastMutation } from './podcastEndpoints';

/** What came back, in a program that plays podcasts: an address to subscribe to, renewed or revoked at will. */
export function Podcast() {
  const { data } = usePodcastQuery();
  const [renew] = useRenewPodcastMutation();
  const [revoke] = useRevokePodcastMutation();
  return (
    <PrivateAddress
      opens={
        <>
          <Icon aria-hidden className="size-5" /> {t('In a podcast program …')}
        </>
      }
      title={t('Your recordings as a podcast')}
      says={t(
        'A podcast program subscribes to an address. Whoever has the address hears your recordings that have feedback, and reads your name and what was asked; no comment and no score. A new address ends the one before.',
      )}
      url={data?.url ?? null}
      onRenew={() => void renew()}
      onRevoke={() => void revoke()}
    />
  );
}
