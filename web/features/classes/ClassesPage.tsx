import { Link, useNavigate } from 'react-router';
import { NewClass } from '@ecoute/contract/classes';
import { refusalOf } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { PutAwayList } from '../../parts/PutAwayList';
import { SubjectField } from './SubjectField';
import { useFields } from '../../parts/useFields';
import {
  useClassesQuery,
  useMakeClassMutation,
  usePutAwayClassesQuery,
  usePutClassAwayMutation,
} from './endpoints';

export function ClassesPage() {
  useTitle('Classes');
  const { data, error, isLoading, refetch } = useClassesQuery();
  const { data: away = [] } = usePutAwayClassesQuery();
  const [putAway] = usePutClassAwayMutation();
  const [make, made] = useMakeClassMutation();
  const navigate = useNavigate();
  const form = useFields(NewClass, { name: '', subject: 'language' });
  const refusal = refusalOf(made.error);
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <section>
        <div className="flex flex-wrap items-center gap-3">
          <h1 className="me-auto text-3xl">Classes</h1>
          <ButtonLink to="/classes/list">Bring in lists …</ButtonLink>
          {data && data.length > 0 && (
            <ButtonLink to="/api/one-roster?version=1.1" reloadDocument download look="quiet">
              All as OneRoster CSV
            </ButtonLink>
          )}
        </div>
        <div className="mt-5">
          {isLoading ? (
            <Loading />
          ) : !data ? (
            <Failed error={error} again={() => void refetch()} />
          ) : data.length === 0 ? (
            <Empty title="No class yet">
              Make one here; then add its students and release something to them.
            </Empty>
          ) : (
            <ul className="grid grid-cols-1 gap-px bg-line">
              {data.map(c => (
                <li key={c.id}>
                  <Link
                    to={`/classes/${c.id}`}
                    className="flex min-h-16 flex-wrap items-center gap-x-4 bg-sheet px-5 py-3 hover:bg-sunk"
                  >
                    <span className="text-lg font-semibold">{c.name}</span>
                    <span className="text-soft">{c.teachers.join(', ')}</span>
                    <span className="ms-auto">
                      {c.students} {c.students === 1 ? 'student' : 'students'}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          )}
        </div>
        <PutAwayList count={away.length} label="Classes put away">
          {away.map(c => (
            <li key={c.id} className="flex flex-wrap items-center gap-x-4 gap-y-2 bg-sheet px-5 py-2">
              <Link to={`/classes/${c.id}`} className="min-h-9 flex-1 basis-48 font-semibold underline">
                {c.name}
              </Link>
              <Button
                aria-label={`Put ${c.name} back`}
                onClick={() => void putAway({ classId: c.id, away: false })}
              >
                Put it back
              </Button>
            </li>
          ))}
        </PutAwayList>
      </section>
      <form
        className="grid content-start gap-4 border-t-4 border-ink bg-sheet p-5"
        onSubmit={form.submit(
          values =>
            void make(values)
              .unwrap()
              .then(
                c => navigate(`/classes/${c.id}`),
                () => undefined,
              ),
        )}
        noValidate
      >
        <h2 className="text-xl">A new class</h2>
        <Field label="Name" error={form.wrong.name ?? refusal?.fields?.name}>
          {ties => <input {...ties} {...form.field('name')} className={inputClass} />}
        </Field>
        <SubjectField {...form.field('subject')} />
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <Button look="main" type="submit" disabled={made.isLoading}>
          Make this class
        </Button>
      </form>
    </div>
  );
}
