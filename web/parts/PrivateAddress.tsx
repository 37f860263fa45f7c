import { Dialog } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { t } from '../base/i18n';
import { Button } from './Button';

/** An address that is a key itself: copied, made anew, or taken away, with what whoever has it gets to know. */
export function PrivateAddress({
  opens,
  title,
  says,
  url,
  onRenew,
  onRevoke,
}: {
  /** On the button that opens it. */
  opens: ReactNode;
  title: string;
  says: string;
  url: string | null;
  onRenew: () => void;
  onRevoke: () => void;
}) {
  const [copied, setCopied] = useState<string | null>(null);
  return (
    <Dialog.Root onOpenChange={() => setCopied(null)}>
      <Dialog.Trigger asChild>
        <Button look="quiet">{opens}</Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content className="fixed inset-x-4 top-[18vh] z-50 mx-auto grid max-h-[78vh] max-w-lg gap-4 overflow-y-auto border-2 border-ink bg-sheet p-6">
          <Dialog.Title className="text-xl">{title}</Dialog.Title>
          <Dialog.Description>{says}</Dialog.Description>
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
            <Button look={url ? 'plain' : 'main'} onClick={onRenew}>
              {url ? t('A new address') : t('Make an address')}
            </Button>
            {url && <Button onClick={onRevoke}>{t('No address any more')}</Button>}
            <Dialog.Close asChild>
              <Button>{t('Close')}</Button>
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
