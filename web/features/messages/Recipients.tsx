import { MoreVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import type { MessageRecipient } from '@ecoute/contract/spokenMessages';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { when } from '../../parts/when';
import { useEndAddressMutation, useMessageQuery, useRenewAddressMutation } from './endpoints';

/** Where a message is with one of those whom it went to, in words. */
function stands(r: MessageRecipient): string {
  if (r.ended === 'address') return 'this address leads nowhere any more';
  const played = r.heardAt ? `played ${when(r.heardAt)}` : 'not played yet';
  const mailed = r.mailedAt
    ? `mailed ${when(r.mailedAt)}`
    : r.isMailed
      ? 'its mail is on its way'
      : 'no mail address; on their first page';
  return r.ended === 'family' ? `${played} · no longer written to` : `${played} · ${mailed}`;
}

/** Everybody whom a message went to: who has played it, and the address of each. */
export function Recipients({ id }: { id: string }) {
  const { data, error, isLoading, refetch } = useMessageQuery(id);
  const [end, ending] = useEndAddressMutation();
  const [renew, renewing] = useRenewAddressMutation();
  const [copied, setCopied] = useState<string | null>(null);
  const refusal = refusalOf(ending.error) ?? refusalOf(renewing.error);
  if (isLoading) return <Loading height={64} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const entry = 'flex min-h-11 cursor-pointer items-center px-4 outline-none data-[highlighted]:bg-sunk';
  const copy = (address: string) =>
    void navigator.clipboard.writeText(address).then(
      () => setCopied(address),
      () => undefined,
    );
  return (
    <div className="grid gap-2">
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <ul aria-label="Whom it went to" className="grid gap-x-8 border-t border-line sm:grid-cols-2">
        {data.recipients.map(r => {
          const who = r.email ? `${r.name || r.email}, family of ${r.studentName}` : r.studentName;
          return (
            <li key={r.id} className="flex items-center gap-x-3 border-b border-line py-2">
              <span className="min-w-0 flex-1">
                <span dir="auto" className={`block ${r.heardAt ? '' : 'font-semibold'}`}>
                  {r.email ? `Family of ${r.studentName}` : r.studentName}
                </span>
                {r.email && (
                  <span className="block text-sm break-all text-soft">
                    {r.name && `${r.name}, `}
                    {r.email}
                  </span>
                )}
                <span className="block text-sm text-soft">{stands(r)}</span>
              </span>
              {r.ended === 'address' ? (
                <Button
                  aria-label={`Undo for ${who}`}
                  onClick={() => void end({ id, recipientId: r.id, ended: false })}
                >
                  Undo
                </Button>
              ) : (
                data.sentAt && (
                  <DropdownMenu.Root modal={false}>
                    <DropdownMenu.Trigger
                      aria-label={`More for ${who}`}
                      className="grid size-11 shrink-0 place-items-center hover:bg-sunk"
                    >
                      <MoreVertical aria-hidden className="size-5" />
                    </DropdownMenu.Trigger>
                    <DropdownMenu.Portal>
                      <DropdownMenu.Content
                        align="end"
                        className="z-50 min-w-56 border-2 border-ink bg-sheet"
                      >
                        <DropdownMenu.Item className={entry} onSelect={() => copy(r.address)}>
                          Copy the address
                        </DropdownMenu.Item>
                        {r.ended === null && (
                          <DropdownMenu.Item
                            className={entry}
                            onSelect={() => void renew({ id, recipientId: r.id })}
                          >
                            {r.isMailed ? 'A new address, mailed again' : 'A new address'}
                          </DropdownMenu.Item>
                        )}
                        <DropdownMenu.Item
                          className={entry}
                          onSelect={() => void end({ id, recipientId: r.id, ended: true })}
                        >
                          End this address
                        </DropdownMenu.Item>
                      </DropdownMenu.Content>
                    </DropdownMenu.Portal>
                  </DropdownMenu.Root>
                )
              )}
            </li>
          );
        })}
      </ul>
      <p role="status" className="text-sm">
        {copied && 'The address is copied.'}
      </p>
      <p className="text-sm text-soft">
        Each address plays the message to whoever has it. A new address is mailed again, and the one before
        leads nowhere.
      </p>
    </div>
  );
}
