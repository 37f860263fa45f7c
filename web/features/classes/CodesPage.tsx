import { Printer } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import type { FirstCode } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { useAsksBeforeUnload } from '../../base/useAsksBeforeUnload';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Failed, Loading } from '../../parts/Loading';
import { AddressNotice } from '../../parts/AddressNotice';
import { Notice } from '../../parts/Notice';
import { QrCode } from '../../parts/QrCode';
import { Tick } from '../../parts/Tick';
import { useClassQuery, useMakeCodesMutation } from './endpoints';
import { usePicked } from './usePicked';

/** One slip to cut out: who it is for, where to go, and the code. */
function Slip({ code, className }: { code: FirstCode; className: string }) {
  return (
    <li className="flex break-inside-avoid gap-4 border-2 border-dashed border-edge bg-sheet p-4">
      <QrCode
        text={`${code.address}#${code.code}`}
        label={`Code of ${code.displayName}`}
        className="size-28 shrink-0"
      />
      <div className="min-w-0">
        <p dir="auto" className="text-lg font-semibold">
          {code.displayName}
        </p>
        <p className="text-sm text-soft">{className}</p>
        <p className="mt-2">
          Hold a camera over it, or go to{' '}
          <strong className="break-all">{code.address.replace(/^https?:\/\//, '')}</strong> and type
        </p>
        <p className="tabular text-2xl">{code.code}</p>
        <p className="mt-2 text-sm">
          Then choose a password. After that you sign in as{' '}
          <strong className="break-all">{code.signInName}</strong>. The code works once, until{' '}
          {new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long' }).format(
            new Date(code.expiresAt),
          )}
          .
        </p>
      </div>
    </li>
  );
}

/** Makes one-time codes and shows them once, as slips to print and cut out. */
export function CodesPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useClassQuery(id);
  const [asked] = useSearchParams();
  const [make, made] = useMakeCodesMutation();
  useTitle('One-time codes');
  // The slips are gone with the page: somebody who leaves by accident is asked.
  const slips = made.data?.filter(c => c.code !== null) ?? [];
  const shown = slips.length > 0;
  useAsksBeforeUnload(shown);
  const people = (data?.members ?? []).filter(m => m.role === 'student' || !m.hasSignIn);
  const { picked, pick } = usePicked(people, m => !m.hasSignIn);
  // Asked for where they came from: those who have never signed in and have no code.
  const begun = useRef(false);
  useEffect(() => {
    const waiting = data?.members.filter(m => m.role === 'student' && !m.hasSignIn && !m.codeUntil) ?? [];
    if (!asked.has('now') || begun.current || waiting.length === 0) return;
    begun.current = true;
    void make({ classId: id, personIds: waiting.map(m => m.id) });
  }, [asked, data, id, make]);
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const refusal = refusalOf(made.error);
  return (
    <section className="grid grid-cols-1 gap-5">
      <div className="print:hidden">
        <p className="text-soft">
          <Link to={`/classes/${id}`} className="underline underline-offset-4">
            {data.name}
          </Link>
        </p>
        <h1 className="text-3xl">One-time codes</h1>
        <p className="mt-1 max-w-[70ch]">
          With a code a student signs in for the first time, or after a forgotten password, and chooses a
          password that nobody else knows.
        </p>
      </div>
      {made.data ? (
        <>
          {made.data.length > slips.length && (
            <div className="print:hidden">
              <Notice>
                {made.data.length - slips.length} went out by mail.
                {shown && ' These have no mail address:'}
              </Notice>
            </div>
          )}
          <div className={`flex flex-wrap items-center gap-3 print:hidden ${shown ? '' : 'hidden'}`}>
            <Button look="main" onClick={() => window.print()}>
              <Printer aria-hidden className="size-5" /> Print {slips.length === 1 ? 'it' : 'them'}
            </Button>
            <span className="text-soft">Codes are shown now and not again; new ones replace them.</span>
          </div>
          {slips[0] && <AddressNotice address={slips[0].address} what="These slips lead" />}
          <ul className="grid gap-4 sm:grid-cols-2 print:grid-cols-2">
            {slips.map(code => (
              <Slip key={code.personId} code={code} className={data.name} />
            ))}
          </ul>
        </>
      ) : (
        <>
          <fieldset className="grid bg-sheet p-4 sm:grid-cols-2">
            <legend className="sr-only">For whom</legend>
            {people.map(m => (
              <Tick key={m.id} checked={picked.has(m.id)} onChange={on => pick(m.id, on)}>
                {m.displayName}{' '}
                <span className="text-sm text-soft">
                  {m.hasSignIn ? 'has a password' : m.codeUntil ? 'has a code already' : ''}
                </span>
              </Tick>
            ))}
          </fieldset>
          {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
          <div className="flex flex-wrap gap-3">
            <Button
              look="main"
              disabled={picked.size === 0 || made.isLoading}
              onClick={() => void make({ classId: id, personIds: [...picked] })}
            >
              Make {picked.size === 1 ? 'a code' : `${picked.size} codes`} to print
            </Button>
            <Button
              disabled={picked.size === 0 || made.isLoading}
              onClick={() => void make({ classId: id, personIds: [...picked], byMail: true })}
            >
              Mail {picked.size === 1 ? 'it' : 'them'} where there is an address
            </Button>
          </div>
        </>
      )}
    </section>
  );
}
