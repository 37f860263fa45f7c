import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { PortfolioSuggestion, PortfolioSummary } from '@ecoute/contract/portfolios';
import { refusalOf } from '../../base/api';
import { t } from '../../base/i18n';
import { useTitle } from '../../base/useTitle';
import { Button } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import {
  useDeclineSuggestionMutation,
  useMakePortfolioMutation,
  useOwnPortfoliosQuery,
  useRestorePortfolioMutation,
} from './endpoints';
import { dayOf, pieceOf } from './pieces';
import { usePutInto } from './usePutInto';

const KEPT_DAYS = 30;
const DAY_MS = 86_400_000;

/** What a teacher suggests: heard, put into a portfolio, or declined. */
function Suggestion({
  suggestion,
  portfolios,
}: {
  suggestion: PortfolioSuggestion;
  portfolios: readonly PortfolioSummary[];
}) {
  const { take } = suggestion;
  const [into, setInto] = useState(portfolios[0]?.id ?? '');
  const [decline, { error: notDeclined }] = useDeclineSuggestionMutation();
  const { putInto, isPutting, trouble } = usePutInto();
  const what = `${take.assessment}, ${t('item {{number}}', { number: take.itemNumber })}`;
  const refusal = refusalOf(notDeclined)?.message ?? trouble;
  return (
    <li className="grid gap-3 border-s-6 border-saffron bg-sheet p-4">
      <p>{t('{{name}} suggests a recording for a portfolio:', { name: suggestion.teacherName })}</p>
      <div className="flex flex-wrap items-center gap-3">
        <PlayButton track={trackOf(take.takeId, what, 'student', take.durationMs)} label={what} />
        <span className="min-w-0 flex-1">
          <span className="block font-semibold">{what}</span>
          <span className="block text-sm text-soft">{dayOf(take.at)}</span>
        </span>
      </div>
      {suggestion.words && (
        <p dir="auto" className="whitespace-pre-wrap">
          {suggestion.words}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        {portfolios.length > 0 && (
          <select
            aria-label={t('Portfolio')}
            value={into}
            onChange={e => setInto(e.target.value)}
            className={`${inputClass} max-w-72`}
          >
            {portfolios.map(p => (
              <option key={p.id} value={p.id}>
                {p.title}
              </option>
            ))}
            <option value="">{t('a new portfolio')}</option>
          </select>
        )}
        <Button
          look="main"
          disabled={isPutting}
          onClick={() => void putInto(into || null, pieceOf(take.takeId))}
        >
          {t('Put it in')}
        </Button>
        <Button look="quiet" onClick={() => void decline(take.takeId)}>
          {t('No, thank you')}
        </Button>
      </div>
      {refusal && <Notice kind="trouble">{refusal}</Notice>}
    </li>
  );
}

function Row({ portfolio: p }: { portfolio: PortfolioSummary }) {
  const seen = [
    ...(p.shownTo.length > 0 ? [t('shown to {{names}}', { names: p.shownTo.join(', ') })] : []),
    ...(p.addresses > 0 ? [t('private addresses: {{number}}', { number: p.addresses })] : []),
  ];
  return (
    <li className="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 bg-sheet px-4 py-3">
      <Link
        to={`/recordings/portfolios/${p.id}`}
        dir="auto"
        className="flex min-h-11 items-center text-lg font-semibold underline underline-offset-4"
      >
        {p.title}
      </Link>
      <span className="text-sm text-soft">
        {t('{{count}} recordings', { count: p.pieces })} ·{' '}
        {seen.length > 0 ? seen.join(' · ') : t('only you see it')}
      </span>
    </li>
  );
}

/** A student's portfolios, what teachers suggest for them, and what was thrown away lately. */
export function PortfoliosPage() {
  useTitle(t('Portfolios'));
  const { data, error, refetch } = useOwnPortfoliosQuery(undefined, { refetchOnMountOrArgChange: true });
  const [make, { error: notMade, isLoading }] = useMakePortfolioMutation();
  const [restore, { error: notBack }] = useRestorePortfolioMutation();
  const navigate = useNavigate();
  if (!data) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading />;
  const begin = async () => {
    const made = await make({ title: t('My portfolio'), words: '', pieces: [] });
    if (made.data) void navigate(`/recordings/portfolios/${made.data.id}`);
  };
  const refusal = refusalOf(notMade) ?? refusalOf(notBack);
  const newOne = (
    <Button look="main" disabled={isLoading} onClick={() => void begin()}>
      {t('New portfolio')}
    </Button>
  );
  return (
    <section>
      <p className="text-sm">
        <Link to="/recordings" className="underline underline-offset-4">
          {t('My recordings')}
        </Link>
      </p>
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1 className="text-3xl">{t('Portfolios')}</h1>
        {data.portfolios.length > 0 && newOne}
      </div>
      {refusal && (
        <div className="mt-3">
          <Notice kind="trouble">{refusal.message}</Notice>
        </div>
      )}
      {data.suggestions.length > 0 && (
        <ul className="mt-4 grid gap-3">
          {data.suggestions.map(s => (
            <Suggestion key={s.id} suggestion={s} portfolios={data.portfolios} />
          ))}
        </ul>
      )}
      <div className="mt-4">
        {data.portfolios.length === 0 ? (
          <Empty title={t('No portfolio yet')} action={newOne}>
            {t(
              'Your best recordings in your own order, with what you think of them: for yourself, a teacher, your family or a jury. It stays yours when the class is over.',
            )}
          </Empty>
        ) : (
          <ul className="grid gap-px bg-line">
            {data.portfolios.map(p => (
              <Row key={p.id} portfolio={p} />
            ))}
          </ul>
        )}
      </div>
      {data.removed.length > 0 && (
        <section aria-labelledby="removed" className="mt-8">
          <h2 id="removed" className="text-xl">
            {t('Thrown away')}
          </h2>
          <ul className="mt-2 grid gap-px bg-line">
            {data.removed.map(p => (
              <li key={p.id} className="flex flex-wrap items-center justify-between gap-3 bg-sheet px-4 py-2">
                <span>
                  <span dir="auto" className="font-semibold">
                    {p.title}
                  </span>{' '}
                  <span className="text-sm text-soft">
                    {t('kept until {{date}}', {
                      date: dayOf(new Date(Date.parse(p.removedAt!) + KEPT_DAYS * DAY_MS).toISOString()),
                    })}
                  </span>
                </span>
                <Button
                  aria-label={t('Bring “{{what}}” back', { what: p.title })}
                  onClick={() => void restore(p.id)}
                >
                  {t('Bring it back')}
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </section>
  );
}
