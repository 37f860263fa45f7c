import { Check } from 'lucide-react';
import { useImperativeHandle, useRef, type Ref } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import type { Item } from '@ecoute/contract/assessments';
import type { Lane } from '@ecoute/contract/marking';
import { LIMITS } from '@ecoute/contract/limits';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { useMarking } from './useMarking';

export interface OpenLaneHandle {
  typePoints: (text: string) => void;
  points: () => string;
  toComment: () => void;
  finish: () => void;
}

/** Scoring of the lane in focus, right under its waveform. */
export function OpenLane({
  releaseId,
  lane,
  item,
  onFinished,
  handle,
  extra,
}: {
  releaseId: string;
  lane: Lane;
  item: Item;
  onFinished: () => void;
  handle: Ref<OpenLaneHandle>;
  extra?: React.ReactNode;
}) {
  const { draft, change, problem, state, finish } = useMarking(releaseId, lane, item);
  const comment = useRef<HTMLTextAreaElement>(null);
  const done = () => void finish().then(ok => ok && onFinished());
  useImperativeHandle(handle, () => ({
    typePoints: text => change({ points: text }),
    points: () => draft.points,
    toComment: () => comment.current?.focus(),
    finish: done,
  }));
  const whole = Number.isInteger(item.points) && item.points <= 12 ? item.points : 0;
  const maximum = pointsText(toHundredths(item.points));
  return (
    <div className="grid gap-4 border-t border-line px-4 py-4 lg:grid-cols-[minmax(16rem,auto)_minmax(0,1fr)_auto] lg:items-start">
      {item.points > 0 ? (
        <Field label={`Points, of ${maximum}`} error={problem}>
          {ties => (
            <div className="flex flex-wrap items-center gap-1">
              <input
                {...ties}
                inputMode="decimal"
                value={draft.points}
                onChange={e => change({ points: e.target.value })}
                className={`${inputClass} tabular !w-20 text-lg`}
              />
              {whole > 0 &&
                Array.from({ length: whole + 1 }, (_, n) => (
                  <button
                    key={n}
                    type="button"
                    aria-label={`${n} points`}
                    aria-pressed={draft.points === String(n)}
                    onClick={() => change({ points: String(n) })}
                    className="tabular min-h-11 min-w-9 border border-edge bg-sheet aria-pressed:bg-ink aria-pressed:text-sheet"
                  >
                    {n}
                  </button>
                ))}
            </div>
          )}
        </Field>
      ) : (
        <p className="text-soft">{problem ?? 'This item carries no points.'}</p>
      )}
      <Field
        label="Comment"
        hint={
          state === 'saving'
            ? 'Saving …'
            : state === 'kept'
              ? 'Kept on this device'
              : state === 'saved'
                ? 'Saved'
                : 'C to write here, Escape to leave'
        }
      >
        {ties => (
          <textarea
            {...ties}
            ref={comment}
            rows={2}
            maxLength={LIMITS.comment}
            value={draft.comment}
            onChange={e => change({ comment: e.target.value })}
            className={inputClass}
          />
        )}
      </Field>
      <div className="flex flex-wrap items-center gap-3 lg:mt-6">
        <Button look="main" onClick={done}>
          <Check aria-hidden className="size-5" />
          {lane.mark?.finished ? 'Finish again' : 'Finish, next unmarked'}
        </Button>
        {extra}
      </div>
    </div>
  );
}
