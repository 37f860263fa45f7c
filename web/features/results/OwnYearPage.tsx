import { Link } from 'react-router';
import { t } from '../../base/i18n';
import { useTitle } from '../../base/useTitle';
import { Failed, Loading } from '../../parts/Loading';
import { useOwnYearQuery } from './endpoints';
import { Year } from './year/Year';

/** A student's own voice over the year, one recording held against another. */
export function OwnYearPage() {
  useTitle(t('My year'));
  const { data, error, refetch } = useOwnYearQuery(undefined, { refetchOnMountOrArgChange: true });
  return (
    <section>
      <p className="text-sm">
        <Link to="/recordings" className="underline underline-offset-4">
          {t('My recordings')}
        </Link>
      </p>
      <h1 className="mb-4 text-3xl">{t('My year')}</h1>
      {data ? (
        <Year
          year={data}
          sittings={data.sittings}
          placeOf={s => (s.feedbackGiven ? `/feedback/${s.sittingId}` : null)}
        />
      ) : error ? (
        <Failed error={error} again={() => void refetch()} />
      ) : (
        <Loading height={76} />
      )}
    </section>
  );
}
