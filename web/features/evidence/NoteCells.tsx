import { memo, useMemo } from 'react';
import type { Evidence } from '@ecoute/core/audio/evidence';
import { noteName } from '@ecoute/core/formats/musicXml';
import { t } from '../../base/i18n';
import { usePlayed } from '../../parts/player/usePlayer';
import { inFigures } from '../../parts/figureWords';
import { beatName } from './beatName';

/** Further off than this is worth a look. */
const CENTS_WORTH = 25;
const MS_WORTH = 80;

interface Cell {
  name: string;
  measure: string;
  startSec: number | null;
  cents: number | null;
  ms: number | null;
}

function cellsOf({ target, line, notes }: Evidence): Cell[] {
  if (target && line)
    return target.notes.map(n => ({
      name: target.isRhythm ? beatName(line[n.index]!.atQuarters) : noteName(line[n.index]!.midi),
      measure: line[n.index]!.measure,
      startSec: n.status === 'missed' ? null : n.startSec,
      cents: n.centsOff,
      ms: n.onsetOffSec === null ? null : 1000 * n.onsetOffSec,
    }));
  return (notes ?? []).map(n => ({
    name: noteName(n.midi),
    measure: '',
    startSec: n.startSec,
    cents: n.cents,
    ms: null,
  }));
}

function cellsName(target: Evidence['target']): string {
  if (!target) return t('Note by note');
  return target.of === 'model' ? t('Note by note, against the model') : t('Note by note, against the score');
}

/** A deviation with a sign that tells its direction without colour. */
function Off({
  value,
  worth,
  up,
  down,
  unit,
}: {
  value: number;
  worth: number;
  up: string;
  down: string;
  unit: string;
}) {
  const isWorth = Math.abs(value) >= worth;
  return (
    <span className={`block ${isWorth ? 'font-semibold' : 'text-soft'}`}>
      {isWorth && <span aria-hidden>{value > 0 ? up : down}</span>}
      {inFigures(value, 0, true)} {unit}
    </span>
  );
}

/** Note by note: how far from the score in pitch and in time. Pressing one plays from it. */
export const NoteCells = memo(function NoteCells({
  evidence,
  takeId,
  onPlay,
}: {
  evidence: Evidence;
  takeId: string;
  onPlay: (fromMs: number) => void;
}) {
  const cells = useMemo(() => cellsOf(evidence), [evidence]);
  // Drawn again from note to note, not with every tick of what plays.
  const sounding = usePlayed(({ track, positionMs }) =>
    track?.id === takeId
      ? cells.findLastIndex(c => c.startSec !== null && 1000 * c.startSec <= positionMs + 20)
      : -1,
  );
  return (
    <ol
      aria-label={cellsName(evidence.target)}
      className="relative flex max-h-64 flex-wrap overflow-y-auto ps-px pt-px"
    >
      {cells.map((c, i) => {
        const begins = c.measure !== '' && c.measure !== cells[i - 1]?.measure;
        return (
          <li key={i} className="-ms-px -mt-px flex min-w-18 border border-line">
            <button
              type="button"
              disabled={c.startSec === null}
              aria-current={i === sounding || undefined}
              onClick={() => onPlay(Math.max(0, 1000 * c.startSec! - 60))}
              className="tabular w-full px-2 py-1 text-start text-sm leading-tight aria-[current]:bg-petrol-wash disabled:opacity-100"
            >
              <span className="flex justify-between gap-1">
                <span className="font-semibold">{c.name}</span>
                {begins && (
                  <span className="text-xs text-soft">
                    <span className="sr-only">{t('bar')} </span>
                    {c.measure}
                  </span>
                )}
              </span>
              {c.startSec === null ? (
                <span className="block border border-dashed border-edge px-1">{t('missed')}</span>
              ) : (
                <>
                  {evidence.target?.isRhythm ? null : c.cents === null ? (
                    <span className="block text-soft">–</span>
                  ) : (
                    <Off value={c.cents} worth={CENTS_WORTH} up="▲" down="▼" unit={t('c')} />
                  )}
                  {evidence.target &&
                    (c.ms === null ? (
                      <span className="block text-soft">–</span>
                    ) : (
                      <Off value={c.ms} worth={MS_WORTH} up="▶" down="◀" unit={t('ms')} />
                    ))}
                </>
              )}
            </button>
          </li>
        );
      })}
    </ol>
  );
});
