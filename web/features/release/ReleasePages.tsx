import { addDays, setHours, startOfHour } from 'date-fns';
import { Switch } from 'radix-ui';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { clock, inWords } from '@ecoute/core/timing/words';
import { stripOf } from '@ecoute/core/timing/strip';
import { releaseProblems } from '@ecoute/contract/assessments';
import { NewRelease } from '@ecoute/contract/releases';
import { check } from '@ecoute/contract/validation';
import { refusalOf } from '../../app/api';
import { useTitle } from '../../app/useTitle';
import { Button, ButtonLink } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { StateWord } from '../../parts/StateWord';
import { SmallStrip, Strip } from '../../parts/strip/Strip';
import { localValue, when } from '../../parts/when';
import { useClassesQuery } from '../classes/endpoints';
import { useAssessmentsQuery } from '../set/endpoints';
import { useMakeReleaseMutation, useReleaseQuery, useReleasesQuery } from './endpoints';

export function ReleasesPage() {
  useTitle('Release');
  const { data, error, isLoading, refetch } = useReleasesQuery(undefined, { pollingInterval: 60_000 });
  return (
    <section>
      <div className="flex flex-wrap items-center justify-between gap-4">
        <h1 className="text-3xl">Release</h1>
        <ButtonLink look="main" to="/release/new">
          Release an assessment
        </ButtonLink>
      </div>
      <div className="mt-5">
        {isLoading ? (
          <Loading height={76} />
        ) : !data ? (
          <Failed error={error} again={() => void refetch()} />
        ) : data.length === 0 ? (
          <Empty title="Nothing released yet">
            A release gives an assessment to a class, with a time when it is due.
          </Empty>
        ) : (
          <ul className="grid grid-cols-1 gap-px bg-line">
            {data.map(r => (
              <li key={r.id}>
                <Link
                  to={`/release/${r.id}`}
                  className="grid items-center gap-x-6 gap-y-2 bg-sheet px-5 py-4 hover:bg-sunk sm:grid-cols-[minmax(0,1.2fr)_minmax(8rem,1fr)_14rem]"
                >
                  <span className="min-w-0">
                    <span className="block text-lg font-semibold">{r.title}</span>
                    <span className="text-sm text-soft">
                      {r.className} · due {when(r.dueAt)}
                    </span>
                  </span>
                  <SmallStrip items={r.outline.items} />
                  <span className="text-sm sm:text-end">
                    {r.counts.handedIn + r.counts.marked + r.counts.returned} of {r.counts.students} handed in
                    {r.counts.missing > 0 && `, ${r.counts.missing} missing`}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}

/** Due times that teachers choose most, at six in the evening. */
function usualDueTimes(now: Date): [string, Date][] {
  const evening = (days: number) => startOfHour(setHours(addDays(now, days), 18));
  return [
    ['tomorrow', evening(1)],
    ['in three days', evening(3)],
    ['in a week', evening(7)],
    ['in two weeks', evening(14)],
  ];
}

export function NewReleasePage() {
  useTitle('Release');
  const [asked] = useSearchParams();
  const assessments = useAssessmentsQuery(undefined, { refetchOnMountOrArgChange: true });
  const classes = useClassesQuery();
  const [make, made] = useMakeReleaseMutation();
  const navigate = useNavigate();
  const times = useMemo(() => usualDueTimes(new Date()), []);
  const [assessmentId, setAssessmentId] = useState(asked.get('assessment') ?? '');
  const [chosenClass, setClass] = useState(asked.get('class') ?? '');
  const [due, setDue] = useState(() => localValue(times[2]![1]));
  const [lateAccepted, setLate] = useState(true);
  const [note, setNote] = useState('');
  const [fields, setFields] = useState<Record<string, string>>({});
  if (assessments.isLoading || classes.isLoading) return <Loading />;
  if (!assessments.data || !classes.data)
    return (
      <Failed
        error={assessments.error ?? classes.error}
        again={() => {
          void assessments.refetch();
          void classes.refetch();
        }}
      />
    );
  // With one class there is nothing to choose.
  const classId = chosenClass || (classes.data.length === 1 ? classes.data[0]!.id : '');
  const ready = assessments.data.filter(a => releaseProblems(a.content).length === 0);
  const assessment = ready.find(a => a.id === assessmentId);
  const target = classes.data.find(c => c.id === classId);
  const refusal = refusalOf(made.error);
  const problem = (name: string) => fields[name] ?? refusal?.fields?.[name];
  const go = () => {
    const at = new Date(due);
    const wanted = {
      assessmentId,
      classId,
      dueAt: Number.isNaN(at.getTime()) ? '' : at.toISOString(),
      lateAccepted,
      note,
    };
    const checked = check(NewRelease, wanted);
    setFields(checked.fields ?? {});
    if (checked.value)
      make(checked.value)
        .unwrap()
        .then(
          r => navigate(`/release/${r.id}`, { state: { fresh: true } }),
          () => undefined,
        );
  };
  if (classes.data.length === 0)
    return (
      <Empty
        title="First, a class"
        action={
          <ButtonLink look="main" to="/classes">
            Make a class
          </ButtonLink>
        }
      >
        A release goes to the students of a class. Make one and add its students.
      </Empty>
    );
  return (
    <form
      className="grid max-w-3xl grid-cols-1 gap-6"
      onSubmit={e => {
        e.preventDefault();
        go();
      }}
      noValidate
    >
      <h1 className="text-3xl">Release an assessment</h1>
      <Field
        label="Assessment"
        error={problem('assessmentId')}
        hint={
          ready.length < assessments.data.length
            ? 'Drafts without a title or with an empty prompt are not listed.'
            : undefined
        }
      >
        {ties => (
          <select
            {...ties}
            className={inputClass}
            value={assessmentId}
            onChange={e => setAssessmentId(e.target.value)}
          >
            <option value="">Choose …</option>
            {ready.map(a => (
              <option key={a.id} value={a.id}>
                {a.content.title}
              </option>
            ))}
          </select>
        )}
      </Field>
      {assessment && <Strip items={assessment.content.items} />}
      <Field label="To" error={problem('classId')}>
        {ties => (
          <select {...ties} className={inputClass} value={classId} onChange={e => setClass(e.target.value)}>
            <option value="">Choose a class …</option>
            {classes.data!.map(c => (
              <option key={c.id} value={c.id}>
                {c.name} ({c.students})
              </option>
            ))}
          </select>
        )}
      </Field>
      <div>
        <Field label="Due" error={problem('dueAt')}>
          {ties => (
            <input
              {...ties}
              type="datetime-local"
              className={`${inputClass} tabular max-w-72`}
              value={due}
              onChange={e => setDue(e.target.value)}
            />
          )}
        </Field>
        <div className="mt-2 flex flex-wrap gap-2">
          {times.map(([name, at]) => (
            <Button
              key={name}
              aria-pressed={due === localValue(at)}
              className="aria-pressed:border-ink aria-pressed:bg-petrol-wash"
              onClick={() => setDue(localValue(at))}
            >
              {name}
            </Button>
          ))}
        </div>
      </div>
      <label className="flex items-center gap-3">
        <Switch.Root
          checked={lateAccepted}
          onCheckedChange={setLate}
          className="relative h-7 w-12 shrink-0 rounded-[3px] border-2 border-ink bg-sunk data-[state=checked]:bg-ink"
        >
          <Switch.Thumb className="block size-5 translate-x-0.5 rounded-[2px] bg-ink data-[state=checked]:translate-x-5 data-[state=checked]:bg-sheet" />
        </Switch.Root>
        {lateAccepted ? 'Late work is taken, and flagged' : 'Nothing is taken after the due time'}
      </label>
      <Field label="A line for the class (optional)" error={problem('note')}>
        {ties => (
          <input {...ties} className={inputClass} value={note} onChange={e => setNote(e.target.value)} />
        )}
      </Field>
      {assessment && target && (
        <p>
          {target.students} {target.students === 1 ? 'student' : 'students'},{' '}
          {inWords(stripOf(assessment.content.items).lengthMs)} each. At the most{' '}
          <strong>{inWords(stripOf(assessment.content.items).listenMs * target.students)}</strong> for you to
          listen to.
        </p>
      )}
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      <div className="flex gap-3">
        <Button look="main" type="submit" disabled={made.isLoading}>
          Release now
        </Button>
        <Button onClick={() => void navigate(-1)}>Not yet</Button>
      </div>
    </form>
  );
}

export function ReleasePage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useReleaseQuery(id, {
    pollingInterval: 10_000,
    refetchOnMountOrArgChange: true,
  });
  useTitle(data?.title ?? 'Release');
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  const { counts } = data;
  const handedIn = counts.handedIn + counts.marked + counts.returned;
  return (
    <section className="grid grid-cols-1 gap-6">
      <div>
        <p className="text-soft">
          <Link to="/release" className="underline underline-offset-4">
            Release
          </Link>{' '}
          · {data.className}
        </p>
        <div className="flex flex-wrap items-center gap-4">
          <h1 className="text-3xl">{data.title}</h1>
          {handedIn > 0 && (
            <ButtonLink look="main" to={`/listen/${id}`} className="ms-auto">
              Listen
            </ButtonLink>
          )}
        </div>
        <p className="mt-1">
          Open since {when(data.opensAt)}, due <strong>{when(data.dueAt)}</strong>.{' '}
          {data.lateAccepted ? 'Late work is taken and flagged.' : 'Nothing is taken after that.'}
          {data.note && <> “{data.note}”</>}
        </p>
      </div>
      <Strip items={data.content.items} />
      {handedIn === 0 && (
        <Notice>
          It is open for {counts.students} {counts.students === 1 ? 'student' : 'students'} now. What they
          hand in appears here by itself.
        </Notice>
      )}
      <dl className="flex flex-wrap gap-x-10 gap-y-3">
        {(
          [
            ['not opened', counts.notOpened],
            ['under way', counts.underWay],
            ['handed in', counts.handedIn],
            ['marked', counts.marked],
            ['returned', counts.returned],
            ['late', counts.late],
            ['missing', counts.missing],
          ] as const
        ).map(([name, n]) => (
          <div key={name}>
            <dd className="tabular text-2xl">{n}</dd>
            <dt className="text-sm text-soft">{name}</dt>
          </div>
        ))}
        <div>
          <dd className="tabular text-2xl">{clock(data.waitingMs)}</dd>
          <dt className="text-sm text-soft">to listen to</dt>
        </div>
      </dl>
      <div className="overflow-x-auto">
        <table className="w-full border-separate border-spacing-y-px text-start">
          <thead className="text-sm text-soft">
            <tr>
              <th className="px-4 py-2 font-normal">Student</th>
              <th className="px-4 font-normal">State</th>
              <th className="px-4 font-normal">Answered</th>
              <th className="px-4 font-normal">Handed in</th>
            </tr>
          </thead>
          <tbody>
            {data.students.map(s => (
              <tr key={s.id} className="bg-sheet">
                <th scope="row" className="px-4 py-3 font-semibold">
                  {s.displayName}
                </th>
                <td className="px-4">
                  <StateWord state={s.state} late={s.late} missing={s.missing} />
                </td>
                <td className="tabular px-4">
                  {s.answered} of {data.content.items.length}
                </td>
                <td className="px-4 whitespace-nowrap">{s.handedInAt ? when(s.handedInAt) : '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
