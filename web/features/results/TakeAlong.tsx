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
  const [kind, setKind] = useState<ExportKind>('workbook');
  const [make, making] = useMakeExportMutation();
  const navigate = useNavigate();
  return (
    <Dialogue
      title="Take it along"
      says={
        isTerm
          ? 'Of the term that is chosen. It stays under Exports for a day.'
          : 'Of all there is in this class. It stays under Exports for a day.'
      }
      onClose={onClose}
    >
      <form
        className="mt-4 grid gap-3"
        onSubmit={event => {
          event.preventDefault();
          make({ classId, kind, ...(days.from && { from: days.from }), ...(days.to && { to: days.to }) })
            .unwrap()
            .then(
              () => void navigate('/results/exports'),
              () => undefined,
            );
        }}
      >
        <fieldset className="grid gap-2">
          <legend className="sr-only">What</legend>
          {EXPORT_KINDS.map(k => (
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
        {making.error && (
          <p role="alert" className="font-semibold">
            {refusalOf(making.error)?.message ?? 'This could not be asked for. Try again.'}
          </p>
        )}
        <div className="flex flex-wrap gap-3">
          <Button look="main" type="submit" disabled={making.isLoading}>
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
