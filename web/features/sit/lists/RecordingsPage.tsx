import { Download } from 'lucide-react';
import { clock } from '@ecoute/core/timing/words';
import { Link } from 'react-router';
import { useMe } from '../../../base/useMe';
import { useTitle } from '../../../base/useTitle';
import { ButtonLink } from '../../../parts/Button';
import { Empty } from '../../../parts/Empty';
import { Failed, Loading } from '../../../parts/Loading';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { when } from '../../../parts/when';
import { useMyRecordingsQuery } from '../endpoints';
import { useOwnPortfoliosQuery } from '../../portfolios/endpoints';
import { Podcast } from './Podcast';
import { t } from '../../../base/i18n';

/** A student's own voice over the year. */
export function RecordingsPage() {
  useTitle(t('My recordings'));
  const { data, error, isLoading, refetch } = useMyRecordingsQuery(undefined, {
    refetchOnMountOrArgChange: true,
  });
  const me = useMe();
  const { data: portfolios } = useOwnPortfoliosQuery(undefined, { skip: me.isGuest === true });
  const suggested = portfolios?.suggestions.length ?? 0;
  if (isLoading) return <Loading />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  return (
    <section>
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h1 className="text-3xl">{t('My recordings')}</h1>
        {data.length > 0 && (
          <span className="flex flex-wrap items-center gap-x-4">
            <Link to="/recordings/year" className="flex min-h-11 items-center underline underline-offset-4">
              {t('My year: what was against what is')}
            </Link>
            {!me.isGuest && (
              <Link
                to="/recordings/portfolios"
                className="flex min-h-11 items-center underline underline-offset-4"
              >
                {t('Portfolios')}
                {suggested > 0 && ` · ${t('suggestions: {{number}}', { number: suggested })}`}
              </Link>
            )}
            {data.some(r => r.hasFeedback) && <Podcast />}
          </span>
        )}
      </div>
      <div className="mt-5">
        {data.length === 0 ? (
          <Empty
            title={t('No recording yet')}
            action={
              <ButtonLink look="main" to="/">
                {t('See what is to do')}
              </ButtonLink>
            }
          >
            {t('Everything you record stays here, to hear again.')}
          </Empty>
        ) : (
          <ul className="grid grid-cols-1 gap-px bg-line">
            {data.map(r => (
              <li key={r.takeId} className="flex flex-wrap items-center gap-x-4 gap-y-2 bg-sheet px-4 py-3">
                <PlayButton
                  track={trackOf(
                    r.takeId,
                    `${r.assessment}, ${t('item {{number}}', { number: r.itemNumber })}`,
                    'student',
                    r.durationMs,
                  )}
                  label={`${r.assessment}, ${t('item {{item}}, take {{take}}', { item: r.itemNumber, take: r.takeNumber })}`}
                />
                <div className="min-w-0 flex-1 basis-48">
                  <p className="font-semibold">
                    {r.assessment}{' '}
                    <span className="font-normal text-soft">
                      {t('item {{item}}, take {{take}}', { item: r.itemNumber, take: r.takeNumber })}
                    </span>
                  </p>
                  <p className="truncate font-passage text-sm text-soft">{r.promptText}</p>
                  <p className="text-sm">
                    {r.several && (r.counts ? `${t('counts')} · ` : `${t('does not count')} · `)}
                    {r.hasFeedback ? (
                      <Link to={`/feedback/${r.sittingId}`} className="underline underline-offset-4">
                        {t('Hear the feedback')}
                      </Link>
                    ) : r.isHandedIn ? (
                      t('handed in')
                    ) : (
                      t('not handed in yet')
                    )}
                  </p>
                  {r.title && <p dir="auto">{r.title}</p>}
                  {r.note && (
                    <p dir="auto" className="text-sm whitespace-pre-wrap">
                      {r.note}
                    </p>
                  )}
                </div>
                {r.pictureId && (
                  <a href={`/api/recordings/${r.pictureId}/shown`} target="_blank" rel="noreferrer">
                    <img
                      src={`/api/recordings/${r.pictureId}/shown`}
                      alt={r.title || t('Picture beside the take')}
                      className="size-16 object-cover"
                      loading="lazy"
                    />
                  </a>
                )}
                <span className="tabular">{clock(r.durationMs ?? 0)}</span>
                <span className="text-sm text-soft">{when(r.beganAt)}</span>
                <a
                  href={`/api/recordings/${r.takeId}/sound`}
                  download={`${r.assessment}, item ${r.itemNumber}, take ${r.takeNumber}.m4a`}
                  aria-label={t('Download {{what}}', {
                    what: `${r.assessment}, ${t('item {{number}}', { number: r.itemNumber })}`,
                  })}
                  className="ms-auto grid size-11 place-items-center"
                >
                  <Download aria-hidden className="size-5" />
                </a>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}
