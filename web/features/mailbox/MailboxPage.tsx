import { useState } from 'react';
import type { MailboxMessage } from '@ecoute/contract/mailbox';
import { api } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { when } from '../../parts/when';

const { useMailboxQuery } = api.injectEndpoints({
  endpoints: build => ({
    mailbox: build.query<MailboxMessage[], void>({ query: () => 'api/mailbox' }),
  }),
});

/** A mail as a program for mail shows it, with its pictures: in a frame in which nothing runs. */
function Letter({ mail: { id, subject, to } }: { mail: MailboxMessage }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        look="quiet"
        className="mt-2"
        aria-expanded={open}
        aria-label={`As it looks: “${subject}” to ${to}`}
        onClick={() => setOpen(!open)}
      >
        As it looks
      </Button>
      {open && (
        <iframe
          title={`The mail “${subject}” to ${to}`}
          src={`/api/mailbox/${id}/letter`}
          sandbox="allow-popups allow-popups-to-escape-sandbox"
          className="mt-3 h-[30rem] w-full border-2 border-line"
        />
      )}
    </>
  );
}

/** What went out by mail, as the simulated mailbox received it. */
export function MailboxPage() {
  useTitle('Mailbox of the demo');
  const { data, error, isLoading, refetch } = useMailboxQuery(undefined, {
    pollingInterval: 2_000,
    refetchOnMountOrArgChange: true,
  });
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return (
    <section className="grid max-w-3xl grid-cols-1 gap-5">
      <div>
        <h1 className="text-3xl">Mailbox of the demo</h1>
        <p className="text-soft">
          All mail that goes out from here arrives in this simulated mailbox, and nowhere else.
        </p>
      </div>
      {data.length === 0 ? (
        <Empty title="Nothing was sent yet">
          A reminder, a spoken message, or a one-time code by mail, arrives here.
        </Empty>
      ) : (
        <ul className="grid gap-px bg-line">
          {data.map(m => (
            <li key={m.id} className="bg-sheet px-5 py-4">
              <p className="flex flex-wrap gap-x-4 text-sm text-soft">
                <span className="break-all">to {m.to}</span>
                <span>{when(m.receivedAt)}</span>
              </p>
              <p className="text-lg font-semibold">{m.subject}</p>
              <p className="mt-1 whitespace-pre-wrap">{m.text}</p>
              {m.hasLetter && <Letter mail={m} />}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
