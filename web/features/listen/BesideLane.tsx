import { ArrowLeftRight } from 'lucide-react';
import { useImperativeHandle, useState, type Ref } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Beside, Lane } from '@ecoute/contract/marking';
import { isPlayable } from '../../parts/AnswerFile';
import { Button } from '../../parts/Button';
import { HeardInPlace } from '../../parts/player/HeardInPlace';
import { trackOf } from '../../parts/player/PlayButton';
import { player } from '../../parts/player/usePlayer';
import { counted } from '../../parts/counted';
import { when } from '../../parts/when';
import { BesideFigures } from './BesideFigures';
import { useBesideQuery } from './endpoints';

export interface BesideHandle {
  /** From the answer to what lies beside it, at the same place; and back. */
  change: () => void;
}

function titleOf(beside: Beside): string {
  return beside.title === null ? `Take ${beside.number}` : beside.title;
}

function Row({
  beside,
  name,
  chosen,
  fullMs,
  onChoose,
}: {
  beside: Beside;
  name: string;
  chosen: boolean;
  fullMs: number;
  onChoose: () => void;
}) {
  const track = trackOf(beside.takeId, `${name}: ${titleOf(beside)}`, 'student', beside.durationMs);
  return (
    <li
      className={`grid items-center gap-x-4 gap-y-1 border-s-4 py-1 ps-3 @2xl:grid-cols-[14rem_minmax(0,1fr)_4rem] ${chosen ? 'border-ink' : 'border-transparent'}`}
    >
      <button type="button" aria-pressed={chosen} onClick={onChoose} className="min-w-0 text-start">
        <span className="block truncate font-semibold">{titleOf(beside)}</span>
        <span className="block truncate text-sm text-soft">
          {beside.recordedAt && when(beside.recordedAt)}
          {beside.title !== null && !beside.same && ', another item'}
          {beside.points !== null && `, ${counted(beside.points, 'point')}`}
        </span>
      </button>
      <HeardInPlace
        track={track}
        fullMs={fullMs}
        height={36}
        plays={titleOf(beside)}
        label={`${titleOf(beside)} of ${name}`}
      />
      <span className="tabular text-end text-sm text-soft">{clock(beside.durationMs ?? 0)}</span>
    </li>
  );
}

/** Other takes of an answer, and what the same student answered before: played against it from the same place. */
export function BesideLane({ lane, handle }: { lane: Lane; handle: Ref<BesideHandle> }) {
  const { data = [] } = useBesideQuery({ sittingId: lane.sittingId, itemId: lane.itemId });
  const playable = data.filter(b => isPlayable(b.medium));
  const [chosen, setChosen] = useState<string | null>(null);
  const other = playable.find(b => b.takeId === chosen) ?? playable[0];
  const change = () => {
    const now = player.now();
    if (!other || !lane.takeId) return;
    const isOther = now.track?.id === other.takeId;
    const to = isOther
      ? trackOf(lane.takeId, lane.studentName, 'student', lane.durationMs)
      : trackOf(other.takeId, `${lane.studentName}: ${titleOf(other)}`, 'student', other.durationMs);
    const atMs = now.track?.id === lane.takeId || isOther ? now.positionMs : 0;
    player.load(to);
    player.seek(Math.min(atMs, Math.max(0, (to.durationMs ?? atMs) - 200)));
    void player.play();
  };
  useImperativeHandle(handle, () => ({ change }));
  if (playable.length === 0) return null;
  const fullMs = Math.max(lane.durationMs ?? 0, ...playable.map(b => b.durationMs ?? 0));
  return (
    <section aria-label={`Beside the answer of ${lane.studentName}`} className="@container">
      <div className="flex flex-wrap items-center gap-x-4">
        <Button look="quiet" onClick={change}>
          <ArrowLeftRight aria-hidden className="size-5" /> Answer ↔ {other ? titleOf(other) : ''} (B)
        </Button>
        {other?.comment && <p className="min-w-0 flex-1 truncate text-sm text-soft">“{other.comment}”</p>}
      </div>
      <ul>
        {playable.map(b => (
          <Row
            key={b.takeId}
            beside={b}
            name={lane.studentName}
            chosen={b.takeId === other?.takeId}
            fullMs={fullMs}
            onChoose={() => setChosen(b.takeId)}
          />
        ))}
      </ul>
      {other && <BesideFigures lane={lane} other={other} title={titleOf(other)} />}
    </section>
  );
}
