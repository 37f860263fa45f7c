import type { Lane } from '@ecoute/contract/marking';
import { refusalOf } from '../../../base/api';
import { useBankQuery } from './endpoints';
import { usePraiseMutation } from '../endpoints';

/** Small praise in the teacher's own words, given by one click; nothing where the bank holds none. */
export function PraiseRow({ releaseId, lane }: { releaseId: string; lane: Lane }) {
  const { data: topics = [] } = useBankQuery();
  const [give, giving] = usePraiseMutation();
  const mine = topics.filter(t => t.praise).flatMap(t => t.comments.map(c => c.words));
  const words = [...new Set([...lane.praise, ...mine])];
  if (words.length === 0) return null;
  return (
    <div role="group" aria-label="Praise" className="flex flex-wrap items-center gap-2">
      {words.map(w => (
        <button
          key={w}
          type="button"
          aria-pressed={lane.praise.includes(w)}
          onClick={() =>
            void give({
              releaseId,
              sittingId: lane.sittingId,
              itemId: lane.itemId,
              words: w,
              given: !lane.praise.includes(w),
            })
          }
          className="min-h-10 border-2 border-line px-3 aria-pressed:border-saffron aria-pressed:bg-saffron-wash aria-pressed:font-semibold"
        >
          {w}
        </button>
      ))}
      {giving.isError && (
        <span role="alert" className="text-sm font-semibold">
          ▲ {refusalOf(giving.error)?.message}
        </span>
      )}
    </div>
  );
}
