import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { stripOf } from '@ecoute/core/timing/strip';
import { refusalOf } from '../../base/api';
import { t } from '../../base/i18n';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { lengthWords } from '../../parts/lengthWords';
import { SmallStrip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { keepReturn, keptReturn } from './returns';
import { useComeBackMutation, useDoorQuery, useEnterMutation } from './endpoints';

/** The door of a link: what it is, what it costs and keeps, a name, and in. */
export function DoorPage() {
  const { code = '' } = useParams();
  const { data, error, isLoading, refetch } = useDoorQuery(code);
  const [enter, entering] = useEnterMutation();
  const [comeBack, coming] = useComeBackMutation();
  const [name, setName] = useState('');
  const [classCode, setClassCode] = useState('');
  const navigate = useNavigate();
  useTitle(data?.title ?? t('Guests'));
  const kept = keptReturn(code);
  const refusal = refusalOf(entering.error);
  const goIn = () =>
    void enter({ code, name, classCode: classCode || null })
      .unwrap()
      .then(
        welcome => {
          keepReturn(code, welcome.token);
          void navigate(`/sit/${welcome.releaseId}`, { replace: true });
        },
        () => undefined,
      );
  const goOn = () => {
    if (data?.releaseId) void navigate(`/sit/${data.releaseId}`);
    else if (kept)
      void comeBack(kept)
        .unwrap()
        .then(
          ({ releaseId }) => navigate(`/sit/${releaseId}`),
          () => undefined,
        );
  };
  if (isLoading)
    return (
      <main className="p-6">
        <Loading />
      </main>
    );
  if (!data)
    return (
      <main className="mx-auto max-w-xl p-6">
        {refusalOf(error)?.code === 'deadLink' ? (
          <Notice kind="trouble">{t(refusalOf(error)!.message)}</Notice>
        ) : (
          <Failed error={error} again={() => void refetch()} />
        )}
      </main>
    );
  return (
    <main className="mx-auto grid min-h-dvh max-w-xl content-center px-4 py-8">
      <form
        className="grid grid-cols-1 gap-5 border-t-4 border-ink bg-sheet p-5 sm:p-8"
        onSubmit={event => {
          event.preventDefault();
          goIn();
        }}
        noValidate
      >
        <div>
          <h1 dir="auto" className="text-2xl">
            {data.title}
          </h1>
          <p className="text-soft">
            {t('From {{teacher}}, due {{when}}, {{length}}.', {
              teacher: data.teacherName,
              when: when(data.dueAt),
              length: data.outline.isDiscussion
                ? t('a discussion')
                : lengthWords(stripOf(data.outline.items).lengthMs),
            })}
          </p>
        </div>
        {!data.outline.isDiscussion && <SmallStrip items={data.outline.items} />}
        <p>
          {data.outline.isDiscussion ? (
            <>
              {t('This is a discussion: everybody in it hears what you say, and may read your name.')}{' '}
              {t(
                'It costs nothing and needs no account. What you say is kept with your name, in days: {{n}}. Then it is forgotten.',
                { n: data.keepDays },
              )}
            </>
          ) : (
            t(
              'It costs nothing and needs no account. Your name and what you record are kept for {{count}} days and heard by the teacher only; then they are forgotten.',
              { count: data.keepDays },
            )
          )}
        </p>
        {(data.releaseId || kept) && (
          <>
            <Button look="main" big onClick={goOn} disabled={coming.isLoading}>
              {t('Go on where I was')}
            </Button>
            {coming.isError && <Notice kind="trouble">{t(refusalOf(coming.error)?.message ?? '')}</Notice>}
            <p className="text-soft">{t('Or begin as somebody else:')}</p>
          </>
        )}
        <Field label={t('Your name')} error={refusal?.fields?.name ? t(refusal.fields.name) : null}>
          {ties => (
            <input
              {...ties}
              value={name}
              onChange={e => setName(e.target.value)}
              autoComplete="name"
              className={inputClass}
            />
          )}
        </Field>
        {data.asksClassCode && (
          <Field
            label={t('Class code')}
            hint={t('The word that was said in class.')}
            error={refusal?.fields?.classCode ? t(refusal.fields.classCode) : null}
          >
            {ties => (
              <input
                {...ties}
                value={classCode}
                onChange={e => setClassCode(e.target.value)}
                autoCapitalize="none"
                className={inputClass}
              />
            )}
          </Field>
        )}
        {refusal && !refusal.fields && <Notice kind="trouble">{t(refusal.message)}</Notice>}
        <Button look="main" big type="submit" disabled={!name.trim() || entering.isLoading}>
          {t('Begin')}
        </Button>
      </form>
    </main>
  );
}

/** The address by which a guest comes back: in at once, to what is to do or the feedback. */
export function ComeBackPage() {
  const { token = '' } = useParams();
  const [comeBack, { error }] = useComeBackMutation();
  const navigate = useNavigate();
  useTitle(t('Guests'));
  useEffect(() => {
    void comeBack(token)
      .unwrap()
      .then(
        () => navigate('/', { replace: true }),
        () => undefined,
      );
  }, [comeBack, navigate, token]);
  return (
    <main className="mx-auto max-w-xl p-6">
      {error ? <Notice kind="trouble">{t(refusalOf(error)?.message ?? '')}</Notice> : <Loading />}
    </main>
  );
}
