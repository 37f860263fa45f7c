import { CalendarPlus } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { t } from '../../../base/i18n';
import { Button } from '../../../parts/Button';
import { useFeedQuery, useRenewFeedMutation, useRevokeFeedMutation } from './feedEndpoints';

/** What is due, in one’s own calendar program: an address to subscribe to, renewed or revoked at will. */
export function Feed() {
  const { data } = useFeedQuery();
  const [renew] = useRenewFeedMutation();
  const [revoke] = useRevokeFeedMutation();
  const [copied, setCopied] = useState<string | null>(null);
  const url = data?.url ?? null;
  return (
    <Dialog.Root onOpenChange={() => setCopied(null)}>
      <Dialog.Trigger asChild>
        <Button look="quiet">
          <CalendarPlus aria-hidden className="size-5" /> {t('In my own calendar …')}
        </Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content className="fixed inset-x-4 top-[18vh] z-50 mx-auto grid max-w-lg gap-4 border-2 border-ink bg-sheet p-6">
          <Dialog.Title className="text-xl">{t('Due dates in your own calendar')}</Dialog.Title>
          <Dialog.Description>
            {t(
              'Your calendar program subscribes to an address. Whoever has the address sees what is due; it shows nothing else. A new address ends the one before.',
            )}
          </Dialog.Description>
          {url && <p className="tabular bg-sunk p-3 text-sm break-all">{url}</p>}
          <div className="flex flex-wrap gap-3">
            {url && (
              <Button
                look="main"
                onClick={() =>
                  void navigator.clipboard.writeText(url).then(
                    () => setCopied(url),
                    () => undefined,
                  )
                }
              >
                {copied === url ? t('Copied') : t('Copy the address')}
              </Button>
            )}
            <Button look={url ? 'plain' : 'main'} onClick={() => void renew()}>
              {url ? t('A new address') : t('Make an address')}
            </Button>
            {url && <Button onClick={() => void revoke()}>{t('No address any more')}</Button>}
            <Dialog.Close asChild>
              <Button>{t('Close')}</Button>
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
