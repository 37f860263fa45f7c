import { Download } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import type { ExportView } from '@ecoute/contract/exports';
import { refusalOf } from '../../base/api';
import { useTitle } from '../../base/useTitle';
import { Button, buttonClass } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { megabytes } from '../../parts/megabytes';
import { when } from '../../parts/when';
import { useExportsQuery, useLetExportGoMutation } from './exportEndpoints';
import { EXPORT_WORDS } from './exportWords';

/** While one is being made it is asked after so often. */
const ASK_MS = 1_000;

const isUnderWay = ({ state }: ExportView) => state === 'waiting' || state === 'running';

function State({ made }: { made: ExportView }) {
  switch (made.state) {
    case 'waiting':
      return <>waits for its turn</>;
    case 'running':
      return (
        <span className="flex items-center gap-3">
          <progress
            aria-label="How far it is"
            max={Math.max(1, made.total)}
            value={made.done}
            className="w-40 accent-petrol"
          />
          <span className="tabular">
            {made.done} of {made.total}
          </span>
        </span>
      );
    case 'done':
      return (
        <>
          {megabytes(made.sizeBytes ?? 0)}, kept until {made.until && when(made.until)}
        </>
      );
    case 'cancelled':
      return <>cancelled</>;
    case 'failed':
      return <strong className="font-semibold">{made.problem}</strong>;
  }
}

/** What was taken along lately: with progress while it is made, and for a day after. */
export function ExportsPage() {
  useTitle('Exports');
  const [isWaiting, setWaiting] = useState(true);
  const { data, error, refetch } = useExportsQuery(undefined, {
    refetchOnMountOrArgChange: true,
    pollingInterval: isWaiting ? ASK_MS : 0,
  });
  useEffect(() => setWaiting(data?.some(isUnderWay) ?? true), [data]);
  const [letGo, going] = useLetExportGoMutation();
  return (
    <section>
      <p className="text-sm">
        <Link to="/results" className="underline underline-offset-4">
          Results
        </Link>
      </p>
      <h1 className="text-3xl">Exports</h1>
      <p className="mt-1 max-w-prose text-soft">Files you asked for. Each is kept for a day.</p>
      {going.error && (
        <p role="alert" className="mt-2 font-semibold">
          {refusalOf(going.error)?.message ?? 'This did not work. Try again.'}
        </p>
      )}
      <div className="mt-5">
        {!data ? (
          error ? (
            <Failed error={error} again={() => void refetch()} />
          ) : (
            <Loading height={76} />
          )
        ) : data.length === 0 ? (
          <Empty title="Nothing taken along yet">Open a class’s markbook and choose “Take it along …”.</Empty>
        ) : (
          <ul className="grid gap-px bg-line" aria-label="Exports">
            {data.map(made => (
              <li key={made.id} className="flex flex-wrap items-center gap-x-5 gap-y-2 bg-sheet px-5 py-3">
                <span className="min-w-0 flex-1 basis-72">
                  <span className="block font-semibold">{made.fileName ?? EXPORT_WORDS[made.kind].name}</span>
                  <span className="text-sm text-soft">
                    {made.className} · asked for {when(made.madeAt)}
                  </span>
                </span>
                <span className="text-sm">
                  <State made={made} />
                </span>
                <span className="flex gap-2">
                  {made.state === 'done' && (
                    <a href={`/api/exports/${made.id}/file`} download className={buttonClass('main')}>
                      <Download aria-hidden className="size-5" />
                      Save
                    </a>
                  )}
                  <Button onClick={() => void letGo(made.id)}>
                    {isUnderWay(made) ? 'Cancel' : 'Remove'}
                  </Button>
                </span>
              </li>
            ))}
          </ul>
        )}
      </div>
    </section>
  );
}
