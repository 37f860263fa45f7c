import { Ear } from 'lucide-react';
import type { Lane, Listener } from '@ecoute/contract/marking';

/** Which colleagues listen as well, and whether to the same student just now. */
export function OthersHere({
  others,
  lanes,
  sittingId,
}: {
  others: readonly Listener[];
  lanes: readonly Lane[];
  sittingId: string;
}) {
  if (others.length === 0) return null;
  return (
    <p role="status" className="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
      <Ear aria-hidden className="size-5" />
      {others.map(o => {
        const name = lanes.find(l => l.sittingId === o.sittingId)?.studentName;
        const here = o.sittingId === sittingId;
        return (
          <span key={o.personId} className={here ? 'font-semibold' : 'text-soft'}>
            {o.displayName}{' '}
            {here ? 'is at this student too' : name ? `listens to ${name}` : 'listens here too'}
          </span>
        );
      })}
    </p>
  );
}
