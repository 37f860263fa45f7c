import { useEffect, useState } from 'react';
import { inkAt, inkEndMs, type Ink } from '@ecoute/core/takes/ink';
import type { SheetView } from '@ecoute/contract/ink';
import { t } from '../../base/i18n';
import { usePlayed } from '../player/usePlayer';
import { SheetPaper } from './SheetPaper';

async function fetchSheet(takeId: string): Promise<SheetView | null> {
  const response = await fetch(`/api/takes/${takeId}/sheet`);
  if (!response.ok) throw new Error(`HTTP ${response.status}`);
  return ((await response.json()) as { sheet: SheetView | null }).sheet;
}

/** What was drawn while a take was spoken: drawn again as it is heard, whole before and after. */
export default function SpokenSheet({
  takeId,
  durationMs,
  local = null,
  localOverUrl = null,
}: {
  takeId: string;
  /** Of what is heard; another length (a cut) lies elsewhere beside the drawing. */
  durationMs: number | null;
  /** What this device has of it, while the server has not. */
  local?: Ink | null;
  localOverUrl?: string | null;
}) {
  const [fetched, setFetched] = useState<SheetView | null>(null);
  useEffect(() => {
    if (local) return;
    let current = true;
    void fetchSheet(takeId).then(
      sheet => current && setFetched(sheet),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [durationMs, local, takeId]);
  const view: SheetView | null = local ? { ink: local, fromMs: 0, overId: null } : fetched;
  const atMs = usePlayed(({ track, positionMs, playing }) => {
    if (!view || track?.id !== takeId) return Infinity;
    const at = positionMs - view.fromMs;
    // Heard to its end, or not begun: the whole.
    return !playing && (positionMs === 0 || at >= inkEndMs(view.ink)) ? Infinity : Math.round(at / 40) * 40;
  });
  if (!view || view.ink.strokes.length === 0) return null;
  return (
    <div className="max-w-xl">
      <SheetPaper
        height={view.ink.height}
        overId={view.overId}
        overUrl={localOverUrl}
        strokes={inkAt(view.ink, atMs)}
        label={t('What was drawn')}
        className="block w-full border-2 border-edge"
      />
    </div>
  );
}
