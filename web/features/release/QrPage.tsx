import { Link, useParams } from 'react-router';
import { useTitle } from '../../base/useTitle';
import { Failed, Loading } from '../../parts/Loading';
import { useReleaseQuery } from './endpoints';
import { useLinksQuery } from './guestEndpoints';
import { QrCode } from '../../parts/QrCode';

/** A link for the whole room: as large as the screen, dark on white. */
export function QrPage() {
  const { id = '', linkId = '' } = useParams();
  const { data: release } = useReleaseQuery(id);
  const { data, error, isLoading, refetch } = useLinksQuery(id);
  useTitle(release?.title ?? 'Guests');
  const link = data?.find(l => l.id === linkId);
  if (isLoading) return <Loading />;
  if (!link) return <Failed error={error} again={() => void refetch()} />;
  return (
    <div className="fixed inset-0 z-40 grid grid-rows-[auto_minmax(0,1fr)_auto] justify-items-center gap-4 bg-[#fff] p-6 text-center text-[#000]">
      <p className="text-3xl font-semibold">{release?.title}</p>
      <div className="aspect-square h-full max-w-full">
        <QrCode text={link.url} label={`QR code of ${link.url}`} />
      </div>
      <div>
        <p className="tabular text-3xl break-all">{link.url.replace(/^https?:\/\//, '')}</p>
        <p className="mt-2 text-lg">
          {link.guests} {link.guests === 1 ? 'guest has' : 'guests have'} come.{' '}
          <Link to={`/release/${id}`} className="underline underline-offset-4">
            Back
          </Link>
        </p>
      </div>
    </div>
  );
}
