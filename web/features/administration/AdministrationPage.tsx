import { MoreVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import type { AccountRow, GivenUpJobView, NewAccount } from '@ecoute/contract/administration';
import { refusalOf } from '../../base/api';
import { useMe } from '../../base/useMe';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { megabytes } from '../../parts/megabytes';
import { Notice } from '../../parts/Notice';
import { when } from '../../parts/when';
import {
  useAccountsQuery,
  useAdministrationQuery,
  useCloseAccountMutation,
  useFailedJobsQuery,
  useJobsAgainMutation,
  useMakeAccountMutation,
  useNameAdminMutation,
  useSafetyLogQuery,
  useSendCodeMutation,
  useSignOutPersonMutation,
} from './endpoints';
import { SchoolSystem } from './SchoolSystem';

const KINDS: Record<string, string> = {
  signedIn: 'signed in',
  passwordChanged: 'changed their password',
  codeMade: 'a one-time code was made',
  codeUsed: 'used a one-time code',
  sessionsEnded: 'was signed out elsewhere',
  adminNamed: 'looks after this Ecoute from now on',
  adminUnnamed: 'no longer looks after this Ecoute',
  accountMade: 'account made',
  accountClosed: 'account closed',
  accountOpened: 'account opened again',
  recordingsTakenOut: 'recordings taken out',
  nameCorrected: 'name corrected',
  addressCorrected: 'mail address corrected',
  familyAddressAdded: 'an address of the family was added',
  namedAdult: 'is called of age',
  unnamedAdult: 'is called not of age',
};

function Row({ person, sendsMail }: { person: AccountRow; sendsMail: boolean }) {
  const me = useMe();
  const [send, sent] = useSendCodeMutation();
  const [name, naming] = useNameAdminMutation();
  const [close, closing] = useCloseAccountMutation();
  const [signOut, signingOut] = useSignOutPersonMutation();
  const [sure, setSure] = useState(false);
  const refusal = [sent, naming, closing, signingOut].map(m => refusalOf(m.error)).find(r => r !== null);
  const entry = 'flex min-h-11 cursor-pointer items-center px-4 outline-none data-[highlighted]:bg-sunk';
  const words = [
    person.role,
    ...(person.isAdmin ? ['administrator'] : []),
    ...(person.closedAt ? ['closed'] : person.hasSignIn ? [] : ['has not signed in yet']),
    ...(person.sessions > 0
      ? [`signed in in ${person.sessions} ${person.sessions === 1 ? 'browser' : 'browsers'}`]
      : []),
  ];
  return (
    <li className="bg-sheet">
      <div className="flex items-stretch">
        <span className="min-w-0 flex-1 px-4 py-2">
          <span dir="auto" className="font-semibold">
            {person.displayName}
          </span>{' '}
          <span className="text-sm break-all text-soft">{person.signInName}</span>
          <span className="block text-sm">{words.join(', ')}</span>
        </span>
        <DropdownMenu.Root modal={false}>
          <DropdownMenu.Trigger
            aria-label={`More for ${person.displayName}`}
            className="grid w-12 shrink-0 place-items-center border-s border-line hover:bg-sunk"
          >
            <MoreVertical aria-hidden className="size-5" />
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content align="end" className="z-50 min-w-64 border-2 border-ink bg-sheet">
              {sendsMail && person.hasMail && (
                <DropdownMenu.Item
                  className={entry}
                  onSelect={() => void send({ id: person.id, byMail: true })}
                >
                  Send a code for a new password by mail
                </DropdownMenu.Item>
              )}
              {person.showsCode && (
                <DropdownMenu.Item
                  className={entry}
                  onSelect={() => void send({ id: person.id, byMail: false })}
                >
                  Show a one-time code
                </DropdownMenu.Item>
              )}
              {person.role === 'teacher' && (
                <DropdownMenu.Item
                  className={entry}
                  onSelect={() => void name({ id: person.id, isAdmin: !person.isAdmin })}
                >
                  {person.isAdmin ? 'No longer an administrator' : 'Make an administrator'}
                </DropdownMenu.Item>
              )}
              {person.sessions > 0 && (
                <DropdownMenu.Item className={entry} onSelect={() => void signOut(person.id)}>
                  Sign out everywhere
                </DropdownMenu.Item>
              )}
              {person.id !== me.id && (
                <DropdownMenu.Item
                  className={entry}
                  onSelect={() =>
                    person.closedAt ? void close({ id: person.id, closed: false }) : setSure(true)
                  }
                >
                  {person.closedAt ? 'Open the account again' : 'Close the account …'}
                </DropdownMenu.Item>
              )}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      </div>
      {sent.data && (
        <Notice>
          {sent.data.code ? (
            <>
              Code for {person.displayName}: <strong className="tabular text-xl">{sent.data.code}</strong>,
              typed at {window.location.host}/first. It is shown now and not again.
            </>
          ) : (
            'The code went out by mail.'
          )}
        </Notice>
      )}
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <Confirm
        open={sure}
        onClose={() => setSure(false)}
        title={`Close the account of ${person.displayName}?`}
        yes="Close it"
        no="Leave it open"
        onYes={() => void close({ id: person.id, closed: true })}
      >
        <p>
          They are signed out everywhere and cannot sign in. What they recorded and wrote stays, and the
          account can be opened again.
        </p>
      </Confirm>
    </li>
  );
}

const NOBODY: NewAccount = { displayName: '', signInName: '', email: '', role: 'teacher' };

/** @param onMade called with the sign-in name, to show where the new account is */
function NewPerson({ onMade }: { onMade: (signInName: string) => void }) {
  const [open, setOpen] = useState(false);
  const [wanted, setWanted] = useState(NOBODY);
  const [make, { error, isLoading }] = useMakeAccountMutation();
  const refusal = refusalOf(error);
  const field = (key: 'displayName' | 'signInName' | 'email', label: string) => (
    <Field label={label} error={refusal?.fields?.[key] ?? null}>
      {ties => (
        <input
          {...ties}
          value={wanted[key] ?? ''}
          onChange={e => setWanted({ ...wanted, [key]: e.target.value })}
          autoCapitalize="none"
          className={inputClass}
        />
      )}
    </Field>
  );
  if (!open)
    return (
      <div>
        <Button onClick={() => setOpen(true)}>Make an account …</Button>
      </div>
    );
  return (
    <form
      className="grid max-w-xl gap-3 border-2 border-ink bg-sheet p-4"
      onSubmit={event => {
        event.preventDefault();
        void make(wanted)
          .unwrap()
          .then(
            () => {
              onMade(wanted.signInName);
              setWanted(NOBODY);
              setOpen(false);
            },
            () => undefined,
          );
      }}
    >
      {field('displayName', 'Name')}
      {field('signInName', 'Sign-in name')}
      {field('email', 'Mail address, if there is one')}
      <Field label="This person">
        {ties => (
          <select
            {...ties}
            value={wanted.role}
            onChange={e => setWanted({ ...wanted, role: e.target.value as NewAccount['role'] })}
            className={inputClass}
          >
            <option value="teacher">teaches</option>
            <option value="student">studies</option>
          </select>
        )}
      </Field>
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      <div className="flex flex-wrap gap-3">
        <Button look="main" type="submit" disabled={isLoading}>
          Make the account
        </Button>
        <Button onClick={() => setOpen(false)}>Leave it</Button>
      </div>
    </form>
  );
}

function People({ sendsMail }: { sendsMail: boolean }) {
  const [find, setFind] = useState('');
  const [after, setAfter] = useState<string | null>(null);
  // Not `data`: while another name is looked for, people of the one before are no answer to it.
  const { currentData: data, error, isFetching, refetch } = useAccountsQuery({ find, after });
  const search = (whom: string) => {
    setFind(whom);
    setAfter(null);
  };
  return (
    <section className="grid grid-cols-1 gap-3" aria-labelledby="people">
      <h2 id="people" className="text-xl">
        People
      </h2>
      <div className="flex flex-wrap items-end gap-3">
        <Field label="Name or sign-in name begins with">
          {ties => (
            <input {...ties} value={find} onChange={e => search(e.target.value)} className={inputClass} />
          )}
        </Field>
      </div>
      {!data && isFetching ? (
        <Loading />
      ) : !data ? (
        <Failed error={error} again={() => void refetch()} />
      ) : (
        <>
          <ul className="grid gap-px bg-line">
            {data.people.map(p => (
              <Row key={p.id} person={p} sendsMail={sendsMail} />
            ))}
          </ul>
          {data.people.length === 0 && <p className="text-soft">Nobody here is called that.</p>}
          <div className="flex flex-wrap gap-3">
            {after && <Button onClick={() => setAfter(null)}>From the beginning</Button>}
            {data.after && <Button onClick={() => setAfter(data.after)}>The next ones</Button>}
          </div>
        </>
      )}
      <NewPerson onMade={search} />
    </section>
  );
}

function Jobs() {
  const { data, error, refetch } = useFailedJobsQuery();
  const [act, { isLoading, error: failed }] = useJobsAgainMutation();
  const [sure, setSure] = useState<GivenUpJobView | null>(null);
  const refusal = refusalOf(failed);
  return (
    <section className="grid grid-cols-1 gap-3" aria-labelledby="jobs">
      <h2 id="jobs" className="text-xl">
        What failed
      </h2>
      {!data ? (
        error ? (
          <Failed error={error} again={() => void refetch()} />
        ) : (
          <Loading />
        )
      ) : data.length === 0 ? (
        <p>Nothing was given up.</p>
      ) : (
        <>
          <p>Work that was tried again and again and then given up. Mend the cause, then try it again.</p>
          <ul className="grid gap-px bg-line">
            {data.map(job => (
              <li key={job.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 bg-sheet px-4 py-2">
                <span className="min-w-0 flex-1 basis-72">
                  <span className="font-semibold">{job.about}</span>
                  <span className="block text-sm text-soft">
                    asked for {when(job.askedAt)}
                    {job.failedAt && `, given up ${when(job.failedAt)}`}
                  </span>
                  <code className="block text-sm break-words">{job.error}</code>
                </span>
                <Button disabled={isLoading} onClick={() => void act({ what: 'again', ids: [job.id] })}>
                  Try again
                </Button>
                <Button look="quiet" onClick={() => setSure(job)}>
                  Let it go …
                </Button>
              </li>
            ))}
          </ul>
          <div>
            <Button disabled={isLoading} onClick={() => void act({ what: 'again' })}>
              Try all of them again
            </Button>
          </div>
        </>
      )}
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <Confirm
        open={sure !== null}
        onClose={() => setSure(null)}
        title="Let this go?"
        yes="Let it go"
        no="Keep it here"
        onYes={() => void act({ what: 'dismiss', ids: [sure!.id] })}
      >
        <p>It is not tried again, and nobody is reminded of it: {sure?.about}.</p>
      </Confirm>
    </section>
  );
}

function Log() {
  const [before, setBefore] = useState<number | null>(null);
  const { currentData: data, error, refetch } = useSafetyLogQuery(before);
  return (
    <section className="grid grid-cols-1 gap-3" aria-labelledby="log">
      <h2 id="log" className="text-xl">
        What happened
      </h2>
      {!data && (error ? <Failed error={error} again={() => void refetch()} /> : <Loading />)}
      <ul className="grid gap-px bg-line">
        {data?.map(e => (
          <li key={e.id} className="flex flex-wrap gap-x-4 bg-sheet px-4 py-1">
            <span className="tabular text-soft">{when(e.at)}</span>
            <span>
              <strong>{e.person ?? 'somebody who is no longer here'}</strong>: {KINDS[e.kind] ?? e.kind}
              {e.by && e.by !== e.person && `, by ${e.by}`}
            </span>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-3">
        {before !== null && <Button onClick={() => setBefore(null)}>The newest</Button>}
        {data?.length === 100 && <Button onClick={() => setBefore(data.at(-1)!.id)}>Older ones</Button>}
      </div>
    </section>
  );
}

/** Looking after this Ecoute: how it is, people, what failed, what happened. Nothing here can be heard. */
export function AdministrationPage() {
  useTitle('Administration');
  const { data, error, isLoading, refetch } = useAdministrationQuery(undefined, { pollingInterval: 30_000 });
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const { room, people, jobs, largest, quietTakes } = data;
  const kept = Object.values(room.byPurpose).reduce((sum, b) => sum + b, 0);
  const scarce = room.free < 0.1 * room.disk;
  return (
    <div className="grid grid-cols-1 gap-10">
      <section className="grid grid-cols-1 gap-3">
        <h1 className="text-3xl">Administration</h1>
        {scarce && (
          <Notice kind="trouble">
            The disk is nearly full: {megabytes(room.free)} are free. When it is full, recordings stay on the
            devices of students until there is room.
          </Notice>
        )}
        {!data.sendsMail && (
          <Notice>
            No mail goes out from here: forgotten passwords need a teacher’s code, or{' '}
            <code>./ecoute code NAME</code> on the server.
          </Notice>
        )}
        <dl className="grid gap-px bg-line sm:grid-cols-2 lg:grid-cols-4">
          {[
            ['People', `${people.teachers} teachers, ${people.students} students, ${people.guests} guests`],
            ['Room', `${megabytes(kept)} of recordings and files; ${megabytes(room.free)} free`],
            [
              'Work in the background',
              jobs.waiting + jobs.running === 0
                ? 'all done'
                : `${jobs.waiting + jobs.running} under way${jobs.longestWaitMs > 60_000 ? `, the oldest waits ${Math.round(jobs.longestWaitMs / 60_000)} min` : ''}`,
            ],
            ['Takes that stopped coming', quietTakes === 0 ? 'none' : `${quietTakes}, for over an hour`],
          ].map(([name, value]) => (
            <div key={name} className="bg-sheet px-4 py-3">
              <dt className="text-sm text-soft">{name}</dt>
              <dd className="font-semibold">{value}</dd>
            </div>
          ))}
        </dl>
        {largest.length > 0 && (
          <p className="text-sm text-soft">
            Most is kept by{' '}
            {largest
              .slice(0, 3)
              .map(l => `${l.displayName} (${megabytes(l.bytes)})`)
              .join(', ')}
            .
          </p>
        )}
      </section>
      <Jobs />
      <People sendsMail={data.sendsMail} />
      <SchoolSystem />
      <Log />
    </div>
  );
}
