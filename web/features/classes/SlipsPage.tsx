import { Printer } from 'lucide-react';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Member, SignInSlip } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { useAsksBeforeUnload } from '../../base/useAsksBeforeUnload';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Failed, Loading } from '../../parts/Loading';
import { AddressNotice } from '../../parts/AddressNotice';
import { Notice } from '../../parts/Notice';
import { QrCode } from '../../parts/QrCode';
import { Tick } from '../../parts/Tick';
import { useClassQuery, useEndSlipMutation, useMakeSlipsMutation } from './endpoints';
import { usePicked } from './usePicked';

/** One slip to cut out: a name for grown-ups, a picture code for the camera. */
function Slip({ slip, className }: { slip: SignInSlip; className: string }) {
  return (
    <li className="flex break-inside-avoid items-center gap-4 border-2 border-dashed border-edge bg-sheet p-4">
      <QrCode text={slip.address} label={`Code of ${slip.displayName}`} className="size-36 shrink-0" />
      <div className="min-w-0">
        <p dir="auto" className="text-xl font-semibold">
          {slip.displayName}
        </p>
        <p className="text-sm text-soft">{className}</p>
        <p className="mt-2 text-sm">
          Hold the camera of a phone or tablet over the code, and open what it finds. Who has this slip is
          signed in: keep it like a key.
        </p>
      </div>
    </li>
  );
}

function Standing({ member }: { member: Member }) {
  if (member.hasSlip) return <span className="text-sm text-soft">has a slip</span>;
  return member.codeUntil ? <span className="text-sm text-soft">has a one-time code</span> : null;
}

/** Slips that sign in children who do not read yet: made, printed, and ended when one is lost. */
export function SlipsPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useClassQuery(id);
  const [make, made] = useMakeSlipsMutation();
  const [end, ending] = useEndSlipMutation();
  const [lost, setLost] = useState<Member | null>(null);
  const [isSure, setIsSure] = useState(false);
  useTitle('Slips to sign in by');
  const slips = made.data ?? [];
  const shown = slips.length > 0;
  useAsksBeforeUnload(shown);
  const people = (data?.members ?? []).filter(m => m.role === 'student' && !m.hasSignIn);
  const { picked, pick } = usePicked(people, m => !m.hasSlip);
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const replaced = people.filter(m => m.hasSlip && picked.has(m.id));
  const refusal = refusalOf(made.error) ?? refusalOf(ending.error);
  const go = () => void make({ classId: id, personIds: [...picked] });
  return (
    <section className="grid grid-cols-1 gap-5">
      <div className="print:hidden">
        <p className="text-soft">
          <Link to={`/classes/${id}`} className="underline underline-offset-4">
            {data.name}
          </Link>
        </p>
        <h1 className="text-3xl">Slips to sign in by</h1>
        <p className="mt-1 max-w-[70ch]">
          For children who do not read yet, and have no password: a camera held over the slip signs them in.
          From then on their first page and their sittings are pictures and sound, one big thing at a time
          (the access arrangement of each says so, and can be changed there).
        </p>
      </div>
      {shown ? (
        <>
          <div className="flex flex-wrap items-center gap-3 print:hidden">
            <Button look="main" onClick={() => window.print()}>
              <Printer aria-hidden className="size-5" /> Print {slips.length === 1 ? 'it' : 'them'}
            </Button>
            <span className="text-soft">
              Shown now and not again. A slip is good until it is replaced, ended here, or the child has a
              password; and no longer than you are the child’s only teacher here.
            </span>
          </div>
          {slips[0] && <AddressNotice address={slips[0].address} what="These slips lead" />}
          <ul className="grid gap-4 md:grid-cols-2 print:grid-cols-2">
            {slips.map(slip => (
              <Slip key={slip.personId} slip={slip} className={data.name} />
            ))}
          </ul>
        </>
      ) : people.length === 0 ? (
        <p>Everybody in this class signs in with a password.</p>
      ) : (
        <>
          <ul className="grid bg-sheet p-4 sm:grid-cols-2" aria-label="For whom">
            {people.map(m => (
              <li key={m.id} className="flex flex-wrap items-center gap-x-3">
                <Tick checked={picked.has(m.id)} onChange={on => pick(m.id, on)}>
                  {m.displayName} <Standing member={m} />
                </Tick>
                {m.hasSlip && (
                  <Button look="quiet" onClick={() => setLost(m)}>
                    It is lost
                  </Button>
                )}
              </li>
            ))}
          </ul>
          {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
          <Button
            look="main"
            className="justify-self-start"
            disabled={picked.size === 0 || made.isLoading}
            onClick={() => (replaced.length > 0 ? setIsSure(true) : go())}
          >
            Make {picked.size === 1 ? 'a slip' : `${picked.size} slips`} to print
          </Button>
        </>
      )}
      <Confirm
        open={isSure}
        onClose={() => setIsSure(false)}
        title={replaced.length === 1 ? 'One slip is replaced' : `${replaced.length} slips are replaced`}
        yes="Make new ones"
        no="Leave it"
        onYes={go}
      >
        <p>
          The slips that {replaced.map(m => m.displayName).join(', ')} had open nothing any more, and who is
          signed in by one is signed out now. What was recorded stays.
        </p>
      </Confirm>
      <Confirm
        open={lost !== null}
        onClose={() => setLost(null)}
        title="End this slip?"
        yes="End it"
        no="Leave it"
        onYes={() => {
          if (lost) void end({ classId: id, personId: lost.id });
        }}
      >
        <p>
          The slip of {lost?.displayName} opens nothing any more, and whoever came by it is signed out now.
          What was recorded stays.
        </p>
      </Confirm>
    </section>
  );
}
