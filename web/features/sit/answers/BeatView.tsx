import { beatAt } from '@ecoute/core/timing/accompaniment';
import { beatMs, type Beat } from '@ecoute/core/timing/takeClock';
import { useWake } from './useCountdown';

/** Until the first beat so often is looked for it. */
const LOOKS_MS = 40;

/** The beat to be seen: a field for each beat of the bar, the sounding one filled. */
export function BeatView({ beat, positionMs }: { beat: Beat; positionMs: () => number | null }) {
  const ms = positionMs();
  const at = ms === null ? null : beatAt(beat, ms);
  // By a timer for each beat: a slow phone records at the same time.
  useWake(at === null ? LOOKS_MS : (1 - at.phase) * beatMs(beat));
  return (
    <ol className="flex min-w-24 flex-1 basis-24 gap-1" aria-hidden>
      {Array.from({ length: beat.beats }, (_, i) => (
        <li
          key={i}
          data-on={at?.inBar === i || undefined}
          className="grid h-9 min-w-4 flex-1 place-items-center border-2 border-edge bg-sheet font-semibold data-[on]:border-ink data-[on]:bg-ink data-[on]:text-sheet"
        >
          {i + 1}
        </li>
      ))}
    </ol>
  );
}
