import { useState } from 'react';
import { SaveSchoolSystem, type SchoolSystemView } from '@ecoute/contract/schoolSystem';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { counted } from '../../parts/counted';
import { Field, inputClass } from '../../parts/Field';
import { Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { useFields } from '../../parts/useFields';
import {
  useKeepSchoolSystemMutation,
  useRemoveSchoolSystemMutation,
  useSchoolSystemQuery,
  useTrySchoolSystemMutation,
} from './endpoints';

/** Where scores are handed over to, and as whom. */
export function SchoolSystem() {
  const { data } = useSchoolSystemQuery();
  return (
    <section className="grid grid-cols-1 gap-3" aria-labelledby="school">
      <h2 id="school" className="text-xl">
        The school’s own system
      </h2>
      <p className="max-w-prose text-soft">
        Teachers hand scores over to it from their markbook, if it speaks OneRoster 1.2 (rostering and
        gradebook, over REST). It gives a client id and a secret for Ecoute.
      </p>
      {data ? <Form key={data.system?.changedAt ?? 'none'} view={data} /> : <Loading height={40} />}
    </section>
  );
}

function Form({ view }: { view: SchoolSystemView }) {
  const [keep, keeping] = useKeepSchoolSystemMutation();
  const [remove, removing] = useRemoveSchoolSystemMutation();
  const [tryIt, trying] = useTrySchoolSystemMutation();
  const [sure, setSure] = useState(false);
  const own = view.isSimulated ? null : view.system;
  const { field, wrong, submit } = useFields(SaveSchoolSystem, {
    baseUrl: own?.baseUrl ?? '',
    tokenUrl: own?.tokenUrl ?? '',
    clientId: own?.clientId ?? '',
    secret: '',
  });
  const refusal = refusalOf(keeping.error) ?? refusalOf(removing.error) ?? refusalOf(trying.error);
  const tried = trying.data;
  return (
    <>
      {view.isSimulated && (
        <Notice>
          The demo hands over to a{' '}
          <a href="/school-system" className="underline underline-offset-4">
            simulated school system
          </a>
          , until another is named here.
        </Notice>
      )}
      <form
        className="grid max-w-3xl gap-3 sm:grid-cols-2"
        onSubmit={submit(value => void keep({ ...value, secret: value.secret || null }))}
      >
        <Field
          label="Address of the service"
          error={wrong.baseUrl ?? refusal?.fields?.baseUrl}
          hint="what stands before /ims/oneroster"
        >
          {ties => <input {...ties} {...field('baseUrl')} type="url" className={inputClass} />}
        </Field>
        <Field label="Address for tokens" error={wrong.tokenUrl ?? refusal?.fields?.tokenUrl}>
          {ties => <input {...ties} {...field('tokenUrl')} type="url" className={inputClass} />}
        </Field>
        <Field label="Client id" error={wrong.clientId ?? refusal?.fields?.clientId}>
          {ties => <input {...ties} {...field('clientId')} autoComplete="off" className={inputClass} />}
        </Field>
        <Field
          label="Secret"
          error={wrong.secret ?? refusal?.fields?.secret}
          hint={own ? 'kept, and never shown; type another to change it' : undefined}
        >
          {ties => (
            <input
              {...ties}
              {...field('secret')}
              type="password"
              autoComplete="new-password"
              className={inputClass}
            />
          )}
        </Field>
        <p className="flex flex-wrap gap-3 sm:col-span-2">
          <Button type="submit" look="main" disabled={keeping.isLoading}>
            Keep it
          </Button>
          {view.system && (
            <Button disabled={trying.isLoading} onClick={() => void tryIt()}>
              Try it
            </Button>
          )}
          {own && (
            <Button look="quiet" onClick={() => setSure(true)}>
              No school system any more …
            </Button>
          )}
        </p>
      </form>
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      {tried && !trying.isLoading && !refusal && (
        <Notice>
          It lets Ecoute in, and names {counted(tried.count, 'class', 'classes')}
          {tried.classes.length > 0 &&
            `: ${tried.classes.join(', ')}${tried.count > tried.classes.length ? ' …' : ''}`}
          .
        </Notice>
      )}
      <Confirm
        open={sure}
        onClose={() => setSure(false)}
        title="No school system any more?"
        yes="Forget it"
        no="Keep it"
        isGrave
        onYes={() => {
          setSure(false);
          void remove();
        }}
      >
        What was handed over stays there. Ecoute forgets what it sent, and which class and who is who:
        teachers choose again if another system is named.
      </Confirm>
    </>
  );
}
