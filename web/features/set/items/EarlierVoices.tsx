import { History } from 'lucide-react';
import { useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Voice } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { when } from '../../../parts/when';
import { useEarlierVoicesQuery } from '../endpoints';

/** What was spoken or brought for this assessment before, to be heard and used again: nothing of it is deleted. */
export function EarlierVoices({
  assessmentId,
  present,
  what,
  onUse,
}: {
  assessmentId: string;
  /** What stands in this place now. */
  present: string | null;
  what: string;
  onUse: (voice: Voice) => void;
}) {
  const [open, setOpen] = useState(false);
  const { data, isError } = useEarlierVoicesQuery(assessmentId, {
    skip: !open,
    refetchOnMountOrArgChange: true,
  });
  const others = (data ?? []).filter(v => v.recordingId !== present);
  return (
    <>
      <Button
        aria-expanded={open}
        aria-label={`Earlier recordings for the ${what}`}
        title="Earlier recordings"
        onClick={() => setOpen(!open)}
      >
        <History aria-hidden className="size-5" />
      </Button>
      {open && (
        <div className="order-last w-full border-s-4 border-line ps-4">
          {isError && <p role="alert">They could not be fetched just now. Open this again in a moment.</p>}
          {data && others.length === 0 && <p className="text-soft">Nothing else was recorded here yet.</p>}
          <ul
            className="grid max-h-56 gap-1 overflow-y-auto"
            aria-label={`Earlier recordings for the ${what}`}
          >
            {others.map(({ recordingId, durationMs, isVideo, at, fileName }) => (
              <li key={recordingId} className="flex flex-wrap items-center gap-3">
                <PlayButton
                  track={trackOf(recordingId, `Recorded ${when(at)}`, 'teacher', durationMs)}
                  label={`what was recorded ${when(at)}`}
                  text={clock(durationMs)}
                />
                <span className="min-w-0 flex-1 truncate text-sm">
                  {when(at)}
                  {fileName && `, ${fileName}`}
                </span>
                <Button
                  aria-label={`Use what was recorded ${when(at)}`}
                  onClick={() => {
                    onUse({ recordingId, durationMs, isVideo });
                    setOpen(false);
                  }}
                >
                  Use it
                </Button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}
