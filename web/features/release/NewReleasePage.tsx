import { useRef, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { inWords } from '@ecoute/core/timing/words';
import { stripOf } from '@ecoute/core/timing/strip';
import { planOf } from '@ecoute/contract/assessment/discussion';
import { releaseProblems } from '@ecoute/contract/assessment/problems';
import { NewClass, type Subject } from '@ecoute/contract/classes';
import { NewRelease, type Audience } from '@ecoute/contract/releases';
import { check } from '@ecoute/contract/validation';
import { refusalOf } from '../../base/api';
import { serverNow } from '../../base/clock';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Strip } from '../../parts/strip/Strip';
import { useClassesQuery, useMakeClassMutation } from '../classes/endpoints';
import { useAssessmentsQuery } from '../set/endpoints';
import { SubjectField } from '../classes/SubjectField';
import { AudienceFields } from './AudienceFields';
import { useMakeReleaseMutation } from './endpoints';
import { TermsFields } from './TermsFields';
import { browserZone, termsOf, usualTerms } from './terms';

/** Gives an assessment to a class, a group or single students. */
export function NewReleasePage() {
  useTitle('Release');
  const [asked] = useSearchParams();
  const assessments = useAssessmentsQuery(undefined, { refetchOnMountOrArgChange: true });
  const classes = useClassesQuery();
  const [make, made] = useMakeReleaseMutation();
  const navigate = useNavigate();
  const zone = browserZone();
  const [assessmentId, setAssessmentId] = useState(asked.get('assessment') ?? '');
  const [chosenClass, setClass] = useState(asked.get('class') ?? '');
  const [audience, setAudience] = useState<Audience>('class');
  const [groupId, setGroup] = useState('');
  const [studentIds, setStudents] = useState<string[]>([]);
  const [draft, setDraft] = useState(() => usualTerms(serverNow(), zone));
  const [fields, setFields] = useState<Record<string, string>>({});
  /** Pressed twice, one class is made and one release. */
  const underWay = useRef(false);
  const [makeClass, makingClass] = useMakeClassMutation();
  const [className, setClassName] = useState('');
  const [subject, setSubject] = useState<Subject>('language');
  const [names, setNames] = useState('');
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
  const listed = classes.data.some(c => c.id === chosenClass) ? chosenClass : '';
  const classId = listed || (classes.data.length === 1 ? classes.data[0]!.id : '');
  const ready = assessments.data.filter(a => releaseProblems(a.content).length === 0);
  const assessment = ready.find(a => a.id === assessmentId);
  const target = classes.data.find(c => c.id === classId);
  const reached =
    audience === 'link'
      ? 0
      : audience === 'students'
        ? studentIds.length
        : audience === 'group'
          ? (target?.groups.find(g => g.id === groupId)?.students ?? 0)
          : (target?.students ?? 0);
  const refusal = refusalOf(made.error);
  const problem = (name: string) => fields[name] ?? refusal?.fields?.[name];
  const meant = termsOf(draft, zone);
  const first = classes.data.length === 0;
  const go = async () => {
    if (underWay.current) return;
    underWay.current = true;
    await giveIt().finally(() => (underWay.current = false));
  };
  const giveIt = async () => {
    let to = classId;
    if (first) {
      const students = names
        .split('\n')
        .map(n => n.trim())
        .filter(Boolean);
      const wanted = check(NewClass, { name: className, subject, students });
      if (!wanted.value)
        return setFields({
          className: wanted.fields?.name ?? '',
          names: Object.entries(wanted.fields ?? {}).find(([k]) => k.startsWith('students'))?.[1] ?? '',
        });
      if (!meant.terms) return;
      const newClass = await makeClass(wanted.value)
        .unwrap()
        .catch(() => null);
      if (!newClass) return;
      to = newClass.id;
      setClass(to);
    }
    const checked = check(NewRelease, {
      dueAt: '',
      lateAccepted: draft.lateAccepted,
      note: draft.note,
      ...meant.terms,
      assessmentId,
      classId: to,
      audience,
      groupId: audience === 'group' ? groupId || null : null,
      studentIds: audience === 'students' ? studentIds : [],
    });
    setFields(checked.fields ?? {});
    if (checked.value && meant.terms)
      await make(checked.value)
        .unwrap()
        .then(
          r => navigate(`/release/${r.id}`, { state: { fresh: true } }),
          () => undefined,
        );
  };
  return (
    <form
      className="grid max-w-3xl grid-cols-1 gap-6"
      onSubmit={e => {
        e.preventDefault();
        void go();
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
      {assessment && !planOf(assessment.content) && <Strip items={assessment.content.items} />}
      {first && (
        <fieldset className="grid gap-4 border-s-4 border-saffron ps-4">
          <legend className="sr-only">A first class</legend>
          <p className="text-soft">
            A release goes to the students of a class. You have none yet: name one, and write who is in it.
            They can also come later, one by one or as a list.
          </p>
          <div className="grid gap-4 sm:grid-cols-[minmax(0,1fr)_10rem]">
            <Field
              label="Name of the class"
              error={fields.className || refusalOf(makingClass.error)?.message || null}
            >
              {ties => (
                <input
                  {...ties}
                  dir="auto"
                  className={inputClass}
                  value={className}
                  onChange={e => setClassName(e.target.value)}
                />
              )}
            </Field>
            <SubjectField value={subject} onChange={e => setSubject(e.target.value as Subject)} />
          </div>
          <Field label="Its students, a name a line" error={fields.names || null}>
            {ties => (
              <textarea
                {...ties}
                dir="auto"
                rows={4}
                className={inputClass}
                value={names}
                onChange={e => setNames(e.target.value)}
              />
            )}
          </Field>
        </fieldset>
      )}
      {!first && (
        <Field label="To" error={problem('classId')}>
          {ties => (
            <select
              {...ties}
              className={inputClass}
              value={classId}
              onChange={e => {
                setClass(e.target.value);
                setGroup('');
                setStudents([]);
              }}
            >
              <option value="">Choose a class …</option>
              {classes.data!.map(c => (
                <option key={c.id} value={c.id}>
                  {c.name} ({c.students})
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      {target && (
        <AudienceFields
          target={target}
          audience={audience}
          groupId={groupId}
          studentIds={studentIds}
          problem={problem}
          onAudience={setAudience}
          onGroup={setGroup}
          onStudents={setStudents}
        />
      )}
      <TermsFields
        draft={draft}
        meant={meant}
        problem={problem}
        isNew
        talk={assessment ? planOf(assessment.content) : null}
        onChange={change => setDraft({ ...draft, ...change })}
      />
      {assessment && target && reached > 0 && (
        <p>
          {reached} {reached === 1 ? 'student' : 'students'},{' '}
          {inWords(stripOf(assessment.content.items).lengthMs)} each. At the most{' '}
          <strong>{inWords(stripOf(assessment.content.items).listenMs * reached)}</strong> for you to listen
          to.
        </p>
      )}
      {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
      <div className="flex gap-3">
        <Button look="main" type="submit" disabled={made.isLoading || makingClass.isLoading}>
          {draft.opens === 'now' ? 'Release now' : 'Release'}
        </Button>
        <Button onClick={() => void navigate(-1)}>Not yet</Button>
      </div>
    </form>
  );
}
