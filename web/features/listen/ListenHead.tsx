import { Eye, EyeOff, Volume2 } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useMemo, type ReactNode, type Ref, useState } from 'react';
import { Link } from 'react-router';
import { inWords } from '@ecoute/core/timing/words';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { ListenView } from '@ecoute/contract/marking';
import { Button, buttonClass } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { useHideNamesMutation } from './endpoints';
import { LaneFilters } from './LaneFilters';
import { waitingMs, waits, type Arrangement } from './order';
import { OthersHere } from './OthersHere';
import type { LaneFocus } from './useLaneFocus';
import type { useOthers } from './useOthers';

/** What is listened to, how much of it is left, how its lanes lie and which of them show. */
export function ListenHead({
  view,
  focus,
  others,
  ready,
  unplaced,
  mayGive,
  onGive,
  matches,
  onMatches,
  help,
  nameField,
}: {
  view: ListenView;
  focus: LaneFocus;
  others: ReturnType<typeof useOthers>;
  /** How many sittings are ready for feedback. */
  ready: number;
  /** How many sittings still have no overall level where one is due. */
  unplaced: number;
  mayGive: boolean;
  onGive: () => void;
  matches: boolean;
  onMatches: (matches: boolean) => void;
  help: ReactNode;
  nameField: Ref<HTMLInputElement>;
}) {
  const [hideNames] = useHideNamesMutation();
  /** Names are about to be shown: once seen they cannot be unseen. */
  const [showing, setShowing] = useState(false);
  const left = useMemo(() => waitingMs(view.lanes), [view]);
  const waiting = useMemo(() => view.lanes.filter(waits).length, [view]);
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <div className="min-w-0">
          <p className="text-soft">
            <Link to="/listen" className="underline underline-offset-4">
              Listen
            </Link>{' '}
            · {view.className}
          </p>
          <h1 className="text-2xl">{view.title}</h1>
        </div>
        <p role="status" className="text-lg">
          {waiting === 0 ? (
            unplaced > 0 ? (
              `Every answer is marked; ${unplaced} ${unplaced === 1 ? 'student has' : 'students have'} no overall level yet (O).`
            ) : (
              'Everything here is marked.'
            )
          ) : (
            <>
              <strong>
                {waiting} {waiting === 1 ? 'answer' : 'answers'}
              </strong>
              , {inWords(left)} to go
            </>
          )}
        </p>
        <div className="ms-auto flex flex-wrap items-center gap-3">
          <ToggleGroup.Root
            type="single"
            aria-label="Lanes lie"
            value={focus.arrangement}
            onValueChange={v => v && focus.setArrangement(v as Arrangement)}
            className="flex border-2 border-edge"
          >
            {(['item', 'student'] as const).map(a => (
              <ToggleGroup.Item
                key={a}
                value={a}
                className="min-h-10 bg-sheet px-3 data-[state=on]:bg-ink data-[state=on]:text-sheet"
              >
                by {a}
              </ToggleGroup.Item>
            ))}
          </ToggleGroup.Root>
          <Button look={waiting === 0 ? 'main' : 'plain'} disabled={!mayGive} onClick={onGive}>
            {ready > 0 ? `Give feedback to ${ready} …` : 'Give feedback …'}
          </Button>
        </div>
      </div>
      <div className="flex flex-wrap items-center gap-x-8 gap-y-1">
        <LaneFilters
          lanes={view.lanes}
          narrowed={focus.narrowed}
          field={nameField}
          onNarrow={focus.setNarrowed}
          onEnter={focus.toFirst}
        />
        <OthersHere others={others} lanes={view.lanes} sittingId={focus.focused.sittingId} />
        <div className="ms-auto flex flex-wrap items-center">
          <Button
            look="quiet"
            aria-pressed={view.namesHidden}
            title="Names show with the feedback"
            onClick={() =>
              view.namesHidden
                ? setShowing(true)
                : void hideNames({ releaseId: view.releaseId, hidden: true })
            }
          >
            {view.namesHidden ? (
              <Eye aria-hidden className="size-5" />
            ) : (
              <EyeOff aria-hidden className="size-5" />
            )}
            {view.namesHidden ? 'Show names' : 'Hide names'}
          </Button>
          <Button
            look="quiet"
            aria-pressed={matches}
            title="Quiet recordings are made as loud as the others (M)"
            className="aria-pressed:decoration-ink aria-pressed:decoration-2"
            onClick={() => onMatches(!matches)}
          >
            <Volume2 aria-hidden className="size-5" /> Same loudness{matches ? '' : ': off'}
          </Button>
          {planOf(view.content) && (
            <Link to={`/discussion/${view.releaseId}`} className={buttonClass('quiet')}>
              The discussion
            </Link>
          )}
          <Link to="/listen/comments" className={buttonClass('quiet')}>
            Comment bank
          </Link>
          {help}
        </div>
      </div>
      <Confirm
        open={showing}
        onClose={() => setShowing(false)}
        title="Show whose recordings these are?"
        yes="Show names"
        no="Keep them hidden"
        onYes={() => void hideNames({ releaseId: view.releaseId, hidden: false })}
      >
        <p>
          Everybody who listens here sees them from now on. That you showed them is noted under Decided here.
        </p>
      </Confirm>
    </>
  );
}
