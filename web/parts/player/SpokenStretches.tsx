import { clock } from '@ecoute/core/timing/words';
import { t } from '../../base/i18n';
import type { Track } from './player';
import { playFrom, usePositionOf } from './usePlayer';

/** Who speaks from when to when in a recording of several people; pressing plays from there. */
export function SpokenStretches({
  track,
  stretches,
}: {
  track: Track;
  stretches: readonly { name: string; fromMs: number; toMs: number }[];
}) {
  const position = usePositionOf(track.id);
  if (stretches.length === 0) return null;
  return (
    <ol aria-label={t('Turns')} className="flex flex-wrap gap-2">
      {stretches.map(({ name, fromMs, toMs }) => (
        <li key={fromMs}>
          <button
            type="button"
            aria-current={(position !== null && position >= fromMs && position < toMs) || undefined}
            onClick={() => playFrom(track, fromMs)}
            className="inline-flex min-h-11 items-center gap-2 border border-petrol bg-sheet px-3 text-sm text-petrol-ink aria-[current]:bg-petrol-wash"
          >
            <span dir="auto" className="font-semibold">
              {name}
            </span>
            <span className="tabular">{clock(fromMs)}</span>
          </button>
        </li>
      ))}
    </ol>
  );
}
