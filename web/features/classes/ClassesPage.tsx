import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { useForm } from 'react-hook-form';
import { Link, useNavigate, useParams } from 'react-router';
import { NewClass, NewStudent } from '@ecoute/contract/classes';
import { refusalOf } from '../../app/api';
import { useTitle } from '../../app/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { useAddStudentMutation, useClassesQuery, useClassQuery, useMakeClassMutation } from './endpoints';

export function ClassesPage() {
  useTitle('Classes');
  const { data, error, isLoading, refetch } = useClassesQuery();
  const [make, made] = useMakeClassMutation();
  const navigate = useNavigate();
  const { register, handleSubmit, formState } = useForm<NewClass>({
    resolver: classValidatorResolver(NewClass),
    defaultValues: { name: '', subject: 'language' },
  });
  const refusal = refusalOf(made.error);
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <section>
        <h1 className="text-3xl">Classes</h1>
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
      </section>
      <form
        className="grid content-start gap-4 border-t-4 border-ink bg-sheet p-5"
        onSubmit={handleSubmit(values =>
          make(values)
            .unwrap()
            .then(
              c => navigate(`/classes/${c.id}`),
              () => undefined,
            ),
        )}
        noValidate
      >
        <h2 className="text-xl">A new class</h2>
        <Field label="Name" error={formState.errors.name?.message ?? refusal?.fields?.name}>
          {ties => <input {...ties} {...register('name')} className={inputClass} />}
        </Field>
        <Field label="Subject" hint="For music, recordings are kept free of the browser’s speech processing.">
          {ties => (
            <select {...ties} {...register('subject')} className={inputClass}>
              <option value="language">Language</option>
              <option value="music">Music</option>
            </select>
          )}
        </Field>
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <Button look="main" type="submit" disabled={made.isLoading}>
          Make this class
        </Button>
      </form>
    </div>
  );
}

export function ClassPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useClassQuery(id);
  const [add, added] = useAddStudentMutation();
  const { register, handleSubmit, formState, reset } = useForm<NewStudent>({
    resolver: classValidatorResolver(NewStudent),
    defaultValues: { displayName: '', signInName: '', password: '' },
  });
  useTitle(data?.name ?? 'Class');
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const refusal = refusalOf(added.error);
  const problem = (name: keyof NewStudent) => formState.errors[name]?.message ?? refusal?.fields?.[name];
  const students = data.members.filter(m => m.role === 'student');
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <section>
        <p className="text-soft">
          <Link to="/classes" className="underline underline-offset-4">
            Classes
          </Link>
        </p>
        <div className="flex flex-wrap items-center gap-4">
          <h1 className="text-3xl">{data.name}</h1>
          <ButtonLink to={`/release/new?class=${data.id}`} className="ms-auto">
            Release something to this class
          </ButtonLink>
        </div>
        <p className="mt-1 text-soft">
          {data.subject === 'music' ? 'Music' : 'Language'} · taught by{' '}
          {data.members
            .filter(m => m.role === 'teacher')
            .map(m => m.displayName)
            .join(', ')}
        </p>
        {students.length === 0 ? (
          <div className="mt-5">
            <Empty title="Nobody is in this class yet">
              Add the first student here. They sign in with the name and password that you give them.
            </Empty>
          </div>
        ) : (
          <ol className="mt-5 grid gap-px bg-line sm:grid-cols-2">
            {students.map(s => (
              <li key={s.id} className="flex min-h-14 flex-wrap items-center gap-x-3 bg-sheet px-5 py-2">
                <span className="font-semibold">{s.displayName}</span>
                <span className="ms-auto text-sm break-all text-soft">{s.signInName}</span>
              </li>
            ))}
          </ol>
        )}
      </section>
      <form
        className="grid content-start gap-4 border-t-4 border-ink bg-sheet p-5"
        onSubmit={handleSubmit(values =>
          add({ id, ...values })
            .unwrap()
            .then(
              () => reset(),
              () => undefined,
            ),
        )}
        noValidate
      >
        <h2 className="text-xl">Add a student</h2>
        <Field label="Name" error={problem('displayName')}>
          {ties => <input {...ties} {...register('displayName')} className={inputClass} />}
        </Field>
        <Field label="Sign-in name" error={problem('signInName')}>
          {ties => (
            <input {...ties} {...register('signInName')} autoCapitalize="none" className={inputClass} />
          )}
        </Field>
        <Field
          label="First password"
          hint="At least 10 characters. Tell it in person."
          error={problem('password')}
        >
          {ties => <input {...ties} {...register('password')} className={inputClass} autoComplete="off" />}
        </Field>
        {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
        <Button look="main" type="submit" disabled={added.isLoading}>
          Add to this class
        </Button>
      </form>
    </div>
  );
}
