import { Link as LinkIcon, QrCode as QrIcon } from 'lucide-react';
import { useState } from 'react';
import type { GuestView, LinkView } from '@ecoute/contract/guests';
import { instantOf } from '@ecoute/core/timing/wallTime';
import { refusalOf } from '../../base/api';
import { serverNow } from '../../base/clock';
import { AddressNotice } from '../../parts/AddressNotice';
import { Button, ButtonLink } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { when } from '../../parts/when';
import {
  useApartMutation,
  useCloseLinkMutation,
  useGuestsQuery,
  useLinksQuery,
  useMakeLinkMutation,
  useMergeGuestMutation,
} from './guestEndpoints';
import { browserZone } from './terms';

const isOpen = (l: LinkView) =>
  !l.closedAt &&
  (!l.closesAt || Date.parse(l.closesAt) > serverNow()) &&
  (l.mostGuests === null || l.guests < l.mostGuests);

function NewLinkForm({ releaseId, onDone }: { releaseId: string; onDone: () => void }) {
  const [draft, setDraft] = useState({ classCode: '', mostGuests: '', closes: '', keepDays: '180' });
  const [make, making] = useMakeLinkMutation();
  const set = (change: Partial<typeof draft>) => setDraft({ ...draft, ...change });
  const refusal = refusalOf(making.error);
  const closes = draft.closes ? instantOf(draft.closes, browserZone()) : null;
  return (
    <form
      className="grid max-w-3xl gap-4 border-2 border-ink bg-sheet p-5"
      onSubmit={event => {
        event.preventDefault();
        void make({
          releaseId,
          classCode: draft.classCode || null,
          mostGuests: draft.mostGuests ? Number(draft.mostGuests) : null,
          closesAt: closes ? new Date(closes.atMs).toISOString() : null,
          keepDays: Number(draft.keepDays),
        })
          .unwrap()
          .then(onDone, () => undefined);
      }}
    >
      <p>Whoever has the link types a name and begins; nobody needs an account.</p>
      <div className="grid gap-4 sm:grid-cols-2">
        <Field
          label="Class code (optional)"
          hint="A word that you say in class; guests type it."
          error={refusal?.fields?.classCode}
        >
          {ties => (
            <input
              {...ties}
              value={draft.classCode}
              onChange={e => set({ classCode: e.target.value })}
              className={inputClass}
            />
          )}
        </Field>
        <Field label="At most, guests (optional)" error={refusal?.fields?.mostGuests}>
          {ties => (
            <input
              {...ties}
              type="number"
              min={1}
              value={draft.mostGuests}
              onChange={e => set({ mostGuests: e.target.value })}
              className={`${inputClass} tabular`}
            />
          )}
        </Field>
        <Field label="The link closes (optional)" error={refusal?.fields?.closesAt}>
          {ties => (
            <input
              {...ties}
              type="datetime-local"
              value={draft.closes}
              onChange={e => set({ closes: e.target.value })}
              className={`${inputClass} tabular`}
            />
          )}
        </Field>
        <Field label="What guests leave is kept" hint="They are told so before they begin.">
          {ties => (
            <select
              {...ties}
              value={draft.keepDays}
              onChange={e => set({ keepDays: e.target.value })}
              className={inputClass}
            >
              {[
                ['30', 'a month'],
                ['90', 'three months'],
                ['180', 'half a year'],
                ['365', 'a year'],
              ].map(([days, words]) => (
                <option key={days} value={days}>
                  {words}
                </option>
              ))}
            </select>
          )}
        </Field>
      </div>
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      <div className="flex gap-3">
        <Button look="main" type="submit" disabled={making.isLoading}>
          Make the link
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}

function LinkRow({ releaseId, link }: { releaseId: string; link: LinkView }) {
  const [close] = useCloseLinkMutation();
  const [copied, setCopied] = useState(false);
  const open = isOpen(link);
  return (
    <li className="flex flex-wrap items-center gap-x-5 gap-y-2 bg-sheet px-5 py-3">
      <div className="min-w-0">
        <AddressNotice address={link.url} what="It leads" />
        <span className="tabular break-all">{link.url}</span>
        <span className="block text-sm text-soft">
          {open ? 'open' : 'closed'}, {link.guests} {link.guests === 1 ? 'guest' : 'guests'}
          {link.mostGuests !== null && ` of at most ${link.mostGuests}`}
          {link.classCode && `, class code “${link.classCode}”`}
          {link.closesAt && `, until ${when(link.closesAt)}`}
        </span>
      </div>
      {open && (
        <span className="ms-auto flex flex-wrap gap-2">
          <Button
            onClick={() =>
              void navigator.clipboard.writeText(link.url).then(
                () => setCopied(true),
                () => undefined,
              )
            }
          >
            {copied ? 'Copied' : 'Copy'}
          </Button>
          <ButtonLink to={`/release/${releaseId}/qr/${link.id}`}>
            <QrIcon aria-hidden className="size-5" /> On the screen
          </ButtonLink>
          <ButtonLink to={`/api/releases/${releaseId}/links/${link.id}/poster`} reloadDocument download>
            Poster
          </ButtonLink>
          <Button look="quiet" onClick={() => void close({ releaseId, linkId: link.id })}>
            Close it
          </Button>
        </span>
      )}
    </li>
  );
}

function GuestRow({
  releaseId,
  guest,
  onMerged,
}: {
  releaseId: string;
  guest: GuestView;
  onMerged: (words: string) => void;
}) {
  const [merge] = useMergeGuestMutation();
  const [into, setInto] = useState('');
  const chosen = into || guest.likely[0]?.id || '';
  if (guest.likely.length === 0) return null;
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 bg-sheet px-5 py-3">
      <span dir="auto" className="font-semibold">
        {guest.displayName}
      </span>
      <label className="flex flex-wrap items-center gap-2">
        is probably
        <select
          value={chosen}
          onChange={e => setInto(e.target.value)}
          className="min-h-10 border-2 border-edge bg-sheet px-2"
        >
          {guest.likely.map(l => (
            <option key={l.id} value={l.id}>
              {l.displayName} ({l.isGuest ? 'guest' : 'student'})
            </option>
          ))}
        </select>
      </label>
      <Button
        onClick={() =>
          void merge({ releaseId, guestId: guest.id, into: chosen })
            .unwrap()
            .then(
              () => onMerged(guest.displayName),
              () => undefined,
            )
        }
      >
        Yes, the same
      </Button>
    </li>
  );
}

/**
 * The ways in for guests, and who those who came probably are.
 * @param startsWithOne a release that is for guests alone: its first link is made at once
 */
export function Links({ releaseId, startsWithOne }: { releaseId: string; startsWithOne?: boolean }) {
  const { data: links = [], isSuccess } = useLinksQuery(releaseId);
  const { data: guests = [] } = useGuestsQuery(releaseId);
  const [apart] = useApartMutation();
  const [opened, setMaking] = useState<boolean | null>(null);
  const making = opened ?? (startsWithOne === true && isSuccess && links.length === 0);
  const [merged, setMerged] = useState<{ id: string; name: string } | null>(null);
  return (
    <section aria-labelledby="guests" className="grid grid-cols-1 gap-3">
      <div className="flex flex-wrap items-center gap-4">
        <h2 id="guests" className="text-xl">
          Guests by a link
        </h2>
        {!making && (
          <Button onClick={() => setMaking(true)}>
            <LinkIcon aria-hidden className="size-5" />{' '}
            {links.length === 0 ? 'Let guests in …' : 'Another link …'}
          </Button>
        )}
      </div>
      {making && <NewLinkForm releaseId={releaseId} onDone={() => setMaking(false)} />}
      {links.length > 0 && (
        <ul className="grid gap-px bg-line">
          {links.map(l => (
            <LinkRow key={l.id} releaseId={releaseId} link={l} />
          ))}
        </ul>
      )}
      {merged && (
        <Notice
          action={
            <Button
              onClick={() =>
                void apart({ releaseId, guestId: merged.id })
                  .unwrap()
                  .then(
                    () => setMerged(null),
                    () => undefined,
                  )
              }
            >
              Undo
            </Button>
          }
        >
          What “{merged.name}” recorded is with the other name now.
        </Notice>
      )}
      {guests.some(g => g.likely.length > 0) && (
        <ul className="grid gap-px bg-line">
          {guests.map(g => (
            <GuestRow
              key={g.id}
              releaseId={releaseId}
              guest={g}
              onMerged={name => setMerged({ id: g.id, name })}
            />
          ))}
        </ul>
      )}
    </section>
  );
}
