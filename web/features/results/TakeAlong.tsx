import { useState } from 'react';
import { useNavigate } from 'react-router';
import { EXPORT_KINDS, type ExportKind } from '@ecoute/contract/exports';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Dialogue } from '../../parts/Dialogue';
import { useMakeExportMutation } from './exportEndpoints';
import { EXPORT_WORDS } from './exportWords';
import type { Days } from './endpoints';

/** Chooses what of a class is taken along; it is made on the page of exports. */
export function TakeAlong({
  classId,
  days,
  isTerm,
  onClose,
}: {
  classId: string;
  days: Days;
  /** Only a term is looked at. */
  isTerm: boolean;
  onClose: () => void;
}) {
  const [make, making] = useMakeExportMutation();
  return (
    <ChooseExport
      kinds={EXPORT_KINDS}
      says={
        isTerm
          ? 'Of the term that is chosen. It stays under Exports for a day.'
          : 'Of all there is in this class. It stays under Exports for a day.'
      }
      isBusy={making.isLoading}
      error={making.error}
      onMake={kind =>
        make({
          classId,
          kind,
          ...(days.from && { from: days.from }),
          ...(days.to && { to: days.to }),
        }).unwrap()
      }
      onClose={onClose}
    />
  );
}

/** Chooses one of some kinds, and goes where it is made. */
export function ChooseExport<K extends ExportKind>({
  kinds,
  says,
  isBusy,
  error,
  onMake,
  onClose,
}: {
  kinds: readonly K[];
  says: string;
  isBusy: boolean;
  error: unknown;
  onMake: (kind: K) => Promise<unknown>;
  onClose: () => void;
}) {
  const [kind, setKind] = useState<K>(kinds[0]!);
  const navigate = useNavigate();
  return (
    <Dialogue title="Take it along" says={says} onClose={onClose}>
      <form
        className="mt-4 grid gap-3"
        onSubmit={event => {
          event.preventDefault();
          onMake(kind).then(
            () => void navigate('/results/exports'),
            () => undefined,
          );
        }}
      >
        <fieldset className="grid gap-2">
          <legend className="sr-only">What</legend>
          {kinds.map(k => (
            <label key={k} className="flex min-h-11 items-start gap-3">
              <input
                type="radio"
                name="kind"
                checked={kind === k}
                onChange={() => setKind(k)}
                className="mt-1 size-5 shrink-0 accent-ink"
              />
              <span>
                <span className="block font-semibold">{EXPORT_WORDS[k].name}</span>
                <span className="text-sm text-soft">{EXPORT_WORDS[k].says}</span>
              </span>
            </label>
          ))}
        </fieldset>
        {Boolean(error) && (
          <p role="alert" className="font-semibold">
            {refusalOf(error)?.message ?? 'This could not be asked for. Try again.'}
          </p>
        )}
        <div className="flex flex-wrap gap-3">
          <Button look="main" type="submit" disabled={isBusy}>
            Make it
          </Button>
          <Button look="quiet" onClick={onClose}>
            Leave it
          </Button>
        </div>
      </form>
    </Dialogue>
  );
}
