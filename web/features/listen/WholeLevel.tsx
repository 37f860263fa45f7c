import { useEffect, useImperativeHandle, useRef, useState, type Ref } from 'react';
import { highestShown } from '@ecoute/core/scoring/changes';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import type { Lane } from '@ecoute/contract/marking';
import { refusalOf } from '../../base/api';
import { isPlayable } from '../../parts/AnswerFile';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { useGiveLevelMutation } from './endpoints';
import { Reason } from './Reason';

/** The level of the scale that an answer shows, as far as its teacher said; index into the scale. */
export function shownLevel({ mark, itemId }: Pick<Lane, 'mark' | 'itemId'>): number | null {
  return mark?.choices.find(c => c.criterionId === itemId)?.level ?? null;
}

/** What keys reach of it. */
export interface LevelsHandle {
  /** @param n index into the scale */
  choose: (n: number) => void;
  /** @returns whether the recordings show one */
  takeHighest: () => boolean;
}

/**
 * The overall level of a sitting: each level with its descriptor, and beside it the recordings that show it, to be heard
 * again before one decides. The highest level that they show is offered, not given.
 */
export function WholeLevel({
  releaseId,
  lane,
  lanes,
  content,
  handle,
  isArmed,
}: {
  releaseId: string;
  lane: Lane;
  /** All lanes of the sitting. */
  lanes: readonly Lane[];
  content: AssessmentContent;
  handle: Ref<LevelsHandle>;
  /** The next digit gives the overall level. */
  isArmed: boolean;
}) {
  const [give, giving] = useGiveLevelMutation();
  const [wanted, setWanted] = useState<number | null>(null);
  const [reason, setReason] = useState('');
  const field = useRef<HTMLInputElement>(null);
  const { scale } = content.scoring;
  const highest = highestShown(lanes.map(shownLevel));
  const put = (level: number, why = '') =>
    give({ releaseId, sittingId: lane.sittingId, level, revision: lane.levelRevision, reason: why })
      .unwrap()
      .then(
        () => {
          setWanted(null);
          setReason('');
        },
        () => undefined,
      );
  // Another level than the one that holds says why; the first one is given by one click.
  const choose = (level: number) => {
    if (lane.level === level) return;
    if (lane.level === null) void put(level);
    else setWanted(level);
  };
  useImperativeHandle(handle, () => ({
    choose(n) {
      if (n >= 0 && n < scale.length) choose(n);
    },
    takeHighest() {
      if (highest !== null) choose(highest);
      return highest !== null;
    },
  }));
  useEffect(() => {
    if (wanted !== null) field.current?.focus();
  }, [wanted]);
  const refusal = refusalOf(giving.error);
  const numberOf = (l: Lane) => content.items.findIndex(i => i.id === l.itemId) + 1;
  const evidence = (level: number | null) =>
    lanes
      .filter(l => shownLevel(l) === level)
      .map(l => (
        <span key={l.itemId}>
          {l.takeId && isPlayable(l.medium) ? (
            <PlayButton
              track={trackOf(l.takeId, `${l.studentName}, item ${numberOf(l)}`, 'student', l.durationMs)}
              label={`item ${numberOf(l)}`}
              text={String(numberOf(l))}
            />
          ) : (
            <span className="inline-grid min-h-11 min-w-11 place-items-center border-2 border-line text-soft">
              {numberOf(l)}
              <span className="sr-only">{l.passed ? ', passed on' : ', no recording'}</span>
            </span>
          )}
        </span>
      ));
  return (
    <section aria-label={`Overall level of ${lane.studentName}`}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <h2 className="font-semibold">The highest level that the recordings show</h2>
        {highest !== null && highest !== lane.level && (
          <Button look="quiet" onClick={() => choose(highest)}>
            Take {scale[highest]?.name}
          </Button>
        )}
        <span className="flex flex-wrap items-center gap-1 text-sm text-soft">
          {lanes.some(l => shownLevel(l) === null) && <>not placed yet: {evidence(null)}</>}
        </span>
      </div>
      <p
        role="status"
        className={`mt-1 text-sm ${isArmed ? 'font-semibold' : 'text-soft'} pointer-coarse:hidden`}
      >
        {isArmed
          ? 'A digit gives the overall level now; Enter takes the highest that the recordings show.'
          : 'O, then a digit: the overall level. O, then Enter: the highest that the recordings show.'}
      </p>
      <ol className="mt-2 divide-y divide-line border-y border-line">
        {scale
          .map((level, n) => ({ level, n }))
          .reverse()
          .map(({ level, n }) => (
            <li
              key={n}
              className="grid items-center gap-x-4 gap-y-1 py-1.5 sm:grid-cols-[7rem_minmax(0,1fr)_auto]"
            >
              <button
                type="button"
                aria-pressed={lane.level === n}
                onClick={() => choose(n)}
                className="min-h-11 border-2 border-edge bg-sheet px-3 font-semibold aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-sheet"
              >
                <span className="tabular me-2 text-sm font-normal pointer-coarse:hidden">{n + 1}</span>
                {level.name}
              </button>
              <span className="text-sm">{level.descriptor}</span>
              <span className="flex flex-wrap gap-1">{evidence(n)}</span>
            </li>
          ))}
      </ol>
      {wanted !== null && (
        <form
          className="mt-3 flex flex-wrap items-end gap-3"
          onSubmit={event => {
            event.preventDefault();
            void put(wanted, reason);
          }}
        >
          <Reason
            label={`Why ${scale[wanted]?.name} and not ${scale[lane.level ?? 0]?.name}`}
            value={reason}
            onChange={setReason}
            error={null}
            field={field}
            finishes={false}
          />
          <Button look="main" type="submit" disabled={giving.isLoading || reason.trim() === ''}>
            Change the level
          </Button>
          <Button look="quiet" onClick={() => setWanted(null)}>
            Leave it
          </Button>
        </form>
      )}
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
    </section>
  );
}
