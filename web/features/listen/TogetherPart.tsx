import type { Lane } from '@ecoute/contract/marking';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { SpokenStretches } from '../../parts/player/SpokenStretches';
import { useScoreApartMutation } from './endpoints';
import { trackOfLane } from './useLaneFocus';

/** Who is heard in an answer that some gave as one: when each speaks, and whether they are scored alike. */
export function TogetherPart({ lane }: { lane: Lane }) {
  const [apart, { error, isLoading }] = useScoreApartMutation();
  const refusal = refusalOf(error);
  const of = lane.together;
  const track = trackOfLane(lane);
  if (!of) return null;
  const canPart = of.names.length > 0;
  return (
    <div className="grid gap-2 border-s-4 border-petrol ps-3">
      {canPart && (
        <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <span className="min-w-0">
            {of.apart
              ? `Recorded together with ${of.names.join(', ')}; each is scored for themselves.`
              : `${lane.studentName}: recorded together, so score, notes and feedback are of all of them.`}
          </span>
          <Button disabled={isLoading} onClick={() => void apart({ jointId: of.jointId, apart: !of.apart })}>
            {of.apart ? 'Score all alike' : 'Score each apart'}
          </Button>
        </p>
      )}
      {of.without.map(words => (
        <p key={words} className="text-sm">
          ▲ {words}.
        </p>
      ))}
      {track && <SpokenStretches track={track} stretches={of.stretches} />}
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
    </div>
  );
}
