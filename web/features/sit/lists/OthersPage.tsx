import { Link, useParams } from 'react-router';
import { clock } from '@ecoute/core/timing/words';
import { t } from '../../../base/i18n';
import { useTitle } from '../../../base/useTitle';
import { Film } from '../../../parts/player/Film';
import { Failed, Loading } from '../../../parts/Loading';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { refusalOf } from '../../../base/api';
import { Button, ButtonLink } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { useOpenOthersMutation, useOthersQuery } from '../endpoints';

/** What the others of a class recorded, where the teacher lets them hear each other. */
export function OthersPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useOthersQuery(id, { refetchOnMountOrArgChange: true });
  const [open, opening] = useOpenOthersMutation();
  useTitle(data?.title ?? t('The others'));
  if (isLoading) return <Loading />;
  if (!data && refusalOf(error)?.code === 'opensForGood')
    return (
      <section className="grid max-w-2xl gap-4">
        <h1 className="text-2xl">{t('Hear the others')}</h1>
        <p>{t(refusalOf(error)!.message)}</p>
        <div className="flex flex-wrap gap-3">
          <Button look="main" disabled={opening.isLoading} onClick={() => void open(id)}>
            {t('Hear them: mine stays handed in')}
          </Button>
          <ButtonLink to="/">{t('Not now')}</ButtonLink>
        </div>
        {refusalOf(opening.error) && <Notice kind="trouble">{t(refusalOf(opening.error)!.message)}</Notice>}
      </section>
    );
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return (
    <section className="grid grid-cols-1 gap-6">
      <div>
        <p className="text-sm text-soft">
          <Link to="/" className="underline underline-offset-4">
            {t('Now')}
          </Link>
        </p>
        <h1 dir="auto" className="text-2xl sm:text-3xl">
          {data.title}
        </h1>
        <p>{t('What the others recorded. Listen as you would like to be listened to.')}</p>
      </div>
      {data.items.length === 0 && <p>{t('Nobody else has handed in yet.')}</p>}
      {data.items.map(item => (
        <section key={item.number} className="grid gap-px bg-line">
          <h2 dir="auto" className="bg-ground pb-2 text-lg">
            {item.number} <span className="font-passage">{item.promptText}</span>
          </h2>
          {item.answers.map(a => (
            <div key={a.takeId} className="grid gap-2 bg-sheet px-4 py-2">
              <div className="flex items-center gap-4">
                <PlayButton
                  track={trackOf(a.takeId, a.studentName, 'student', a.durationMs)}
                  label={a.studentName}
                />
                <span dir="auto" className="font-semibold">
                  {a.studentName}
                </span>
                {a.durationMs !== null && (
                  <span className="tabular ms-auto text-sm">{clock(a.durationMs)}</span>
                )}
              </div>
              {a.medium === 'video' && <Film id={a.takeId} label={a.studentName} />}
            </div>
          ))}
        </section>
      ))}
    </section>
  );
}
