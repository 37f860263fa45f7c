import { useEffect } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import { useKeeper } from '../../base/kept/useKept';
import { useSaveMarkMutation } from './endpoints';
import { Marking, type MarkDraft, type MarkingOptions } from './marking';
import { laneKey } from './order';

/** What could not be finished is stored all the same, where all that was typed had arrived before. */
const storedState = ({ points, comment, choices }: MarkDraft) =>
  points === '' && comment === '' && choices.length === 0 ? ('still' as const) : ('saved' as const);

/** Points and comment of one lane, kept and sent as `Marking` does. */
export function useMarking(
  releaseId: string,
  lane: Lane,
  { carries, scoring }: Pick<MarkingOptions, 'carries' | 'scoring'>,
) {
  const { sittingId, itemId, mark } = lane;
  const [save] = useSaveMarkMutation();
  const [view, marking] = useKeeper<MarkDraft, 'finish', Marking>(
    `ecoute-mark-${laneKey(lane)}`,
    shelf =>
      new Marking({
        mark,
        save: wanted => save({ ...wanted, releaseId, sittingId, itemId }).unwrap(),
        carries,
        scoring,
        shelf,
      }),
  );
  useEffect(() => marking.offer(mark), [mark, marking]);
  return {
    marking,
    draft: view.value,
    state: view.state === 'refused' && !marking.kept.isUnsent ? storedState(view.value) : view.state,
    problem: marking.problem(view),
    missing: marking.missing(view.value),
    asked: marking.asked(view.value),
  };
}
