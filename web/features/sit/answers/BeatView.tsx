import { useEffect, useRef, useState } from 'react';
import { beatAt } from '@ecoute/core/timing/accompaniment';
import type { Beat } from '@ecoute/core/timing/takeClock';

/** The beat to be seen: a field for each beat of the bar, the sounding one filled. */
export function BeatView({ beat, positionMs }: { beat: Beat; positionMs: () => number | null }) {
  const [now, setNow] = useState<{ number: number; inBar: number } | null>(null);
  const ask = useRef(positionMs);
  useEffect(() => {
    ask.current = positionMs;
  });
  useEffect(() => {
    let frame = 0;
    const follow = () => {
      const ms = ask.current();
      const at = ms === null ? null : beatAt(beat, ms);
      // A render for each beat, not for each frame.
      setNow(before =>
        before?.number === at?.number ? before : at && { number: at.number, inBar: at.inBar },
      );
      frame = requestAnimationFrame(follow);
    };
    frame = requestAnimationFrame(follow);
    return () => cancelAnimationFrame(frame);
  }, [beat]);
  return (
    <ol className="flex min-w-24 flex-1 basis-24 gap-1" aria-hidden>
      {Array.from({ length: beat.beats }, (_, i) => (
        <li
          key={i}
          data-on={now?.inBar === i || undefined}
          className="grid h-9 min-w-4 flex-1 place-items-center border-2 border-edge bg-sheet font-semibold data-[on]:border-ink data-[on]:bg-ink data-[on]:text-sheet"
        >
          {i + 1}
        </li>
      ))}
    </ol>
  );
}
