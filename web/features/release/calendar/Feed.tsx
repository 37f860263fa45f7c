import { CalendarPlus } from 'lucide-react';
import { t } from '../../../base/i18n';
import { PrivateAddress } from '../../../parts/PrivateAddress';
import { useFeedQuery, useRenewFeedMutation, useRevokeFeedMutation } from './feedEndpoints';

/** What is due, in one’s own calendar program: an address to subscribe to, renewed or revoked at will. */
export function Feed() {
  const { data } = useFeedQuery();
  const [renew] = useRenewFeedMutation();
  const [revoke] = useRevokeFeedMutation();
  return (
    <PrivateAddress
      opens={
        <>
          <CalendarPlus aria-hidden className="size-5" /> {t('In my own calendar …')}
        </>
      }
      title={t('Due dates in your own calendar')}
      says={t(
        'Your calendar program subscribes to an address. Whoever has the address sees what is due; it shows nothing else. A new address ends the one before.',
      )}
      url={data?.url ?? null}
      onRenew={() => void renew()}
      onRevoke={() => void revoke()}
    />
  );
}
