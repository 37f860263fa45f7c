import { useCallback, useMemo } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { knownText, type ReleaseEvidence } from '@ecoute/contract/evidence';
import type { Lane } from '@ecoute/contract/marking';
import { useEvidence } from '../evidence/endpoints';
import { EvidencePanel } from '../evidence/EvidencePanel';
import type { Track } from '../../parts/player/player';
import { playFrom } from '../../parts/player/usePlayer';

/** What is measured of the lane in focus, beside what is usual among the answers to its item. */
export function LaneEvidence({
  lane,
  item,
  track,
  released,
  lanes,
  onPick,
}: {
  lane: Lane;
  item: Item;
  track: Track;
  released: ReleaseEvidence | undefined;
  /** All lanes of the item. */
  lanes: readonly Lane[];
  onPick: (takeId: string) => void;
}) {
  const measured = useEvidence(lane.takeId, lane.durationMs);
  const others = useMemo(
    () =>
      lanes.flatMap(l => {
        const found = l.takeId ? released?.takes[l.takeId] : undefined;
        return found && l.takeId
          ? [
              {
                takeId: l.takeId,
                name: l.studentName,
                figures: found.figures,
                isThis: l.takeId === lane.takeId,
              },
            ]
          : [];
      }),
    [lanes, released, lane.takeId],
  );
  // The same one while the lane is in focus: nothing is drawn again with each tick of what plays.
  const onPlay = useCallback((ms: number) => playFrom(track, ms), [track]);
  if (!measured || measured.state === 'measuring')
    return <p className="text-sm text-soft">{measured ? 'Being measured …' : ''}</p>;
  if (measured.state === 'problem') return <p className="text-sm text-soft">{measured.message}</p>;
  return (
    <EvidencePanel
      evidence={measured.evidence}
      takeId={track.id}
      onPlay={onPlay}
      usual={released?.usual[item.id]}
      text={knownText(item)}
      others={others}
      onPick={onPick}
      explained
    />
  );
}
