import { PackageOpen, X } from 'lucide-react';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import type { PackageReport } from '@ecoute/contract/packages';
import type { TroubleBody } from '@ecoute/contract/trouble';
import { api } from '../../../base/api';
import { store } from '../../../base/store';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';

type State =
  | { at: 'still' }
  | { at: 'sending'; name: string; share: number }
  | { at: 'reading'; name: string }
  | { at: 'done'; report: PackageReport }
  | { at: 'failed'; message: string };

/** The lines of a report under their heading; nothing where there are none. */
function Lines({ heading, lines }: { heading: string; lines: string[] }) {
  if (lines.length === 0) return null;
  return (
    <div>
      <p className="font-semibold">{heading}</p>
      <ul className="list-disc ps-6">
        {lines.map(line => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </div>
  );
}

/** Brings an assessment package in: with progress, stoppable, and with a report of what arrived and what did not. */
export function PackageIn() {
  const [state, setState] = useState<State>({ at: 'still' });
  const file = useRef<HTMLInputElement>(null);
  const request = useRef<XMLHttpRequest | null>(null);

  const bring = (chosen: File) => {
    // fetch tells nothing of how much has been sent.
    const sending = new XMLHttpRequest();
    request.current = sending;
    setState({ at: 'sending', name: chosen.name, share: 0 });
    sending.upload.onprogress = event =>
      setState({ at: 'sending', name: chosen.name, share: event.loaded / Math.max(1, event.total) });
    sending.upload.onload = () => setState({ at: 'reading', name: chosen.name });
    sending.onabort = () => setState({ at: 'still' });
    sending.onerror = () =>
      setState({
        at: 'failed',
        message:
          'The package did not arrive: Ecoute cannot be reached just now. Nothing was made; try again.',
      });
    sending.onload = () => {
      try {
        const body = JSON.parse(sending.responseText) as PackageReport & TroubleBody;
        if (sending.status !== 200) setState({ at: 'failed', message: body.message });
        else {
          setState({ at: 'done', report: body });
          store.dispatch(api.util.invalidateTags(['Assessment']));
        }
      } catch {
        setState({
          at: 'failed',
          message: 'The server’s answer could not be read. Look at the shelf, then try again.',
        });
      }
    };
    sending.open('POST', '/api/packages');
    sending.setRequestHeader('Content-Type', 'application/zip');
    sending.send(chosen);
  };

  return (
    <>
      <Button
        disabled={state.at === 'sending' || state.at === 'reading'}
        onClick={() => file.current?.click()}
      >
        <PackageOpen aria-hidden className="size-5" /> Bring a package
      </Button>
      <input
        ref={file}
        type="file"
        aria-hidden
        tabIndex={-1}
        accept=".zip,application/zip"
        aria-label="Assessment package"
        className="sr-only"
        onChange={e => {
          const chosen = e.target.files?.[0];
          if (chosen) bring(chosen);
          e.target.value = '';
        }}
      />
      {state.at !== 'still' && (
        <div className="order-last w-full">
          {state.at === 'sending' && (
            <Notice
              action={
                <Button onClick={() => request.current?.abort()}>
                  <X aria-hidden className="size-5" /> Stop
                </Button>
              }
            >
              <label className="block">
                {state.name} is on its way: {Math.round(100 * state.share)} %
                <progress className="mt-2 block w-full" max={1} value={state.share} />
              </label>
            </Notice>
          )}
          {state.at === 'reading' && (
            <Notice>{state.name} is here. Its checksums and sounds are being looked at …</Notice>
          )}
          {state.at === 'failed' && <Notice kind="trouble">{state.message}</Notice>}
          {state.at === 'done' && (
            <Notice
              kind={state.report.assessmentId ? 'note' : 'trouble'}
              action={<Button onClick={() => setState({ at: 'still' })}>Close</Button>}
            >
              <div className="grid gap-2">
                <p>
                  {state.report.assessmentId ? (
                    <>
                      The package is on your shelf.{' '}
                      <Link
                        to={`/set/${state.report.assessmentId}`}
                        className="font-semibold underline underline-offset-4"
                      >
                        Open it
                      </Link>
                    </>
                  ) : (
                    'Nothing was made of this package.'
                  )}
                </p>
                <Lines heading="Arrived" lines={state.report.arrived} />
                <Lines heading="Adapted" lines={state.report.adapted} />
                <Lines heading="Refused" lines={state.report.refused} />
              </div>
            </Notice>
          )}
        </div>
      )}
    </>
  );
}
