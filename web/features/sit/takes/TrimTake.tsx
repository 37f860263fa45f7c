import { Play, Scissors, Undo2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Cutter, type Cut } from '../../../parts/Cutter';
import { Notice } from '../../../parts/Notice';
import { trackOf } from '../../../parts/player/PlayButton';
import { useHearStretch } from '../../../parts/player/useHearStretch';
import { player, usePeaks } from '../../../parts/player/usePlayer';
import { useTrimTakeMutation } from '../endpoints';
import type { OwnTake } from './takesOf';
import { t } from '../../../base/i18n';

/** Less than this is not left of a take, in ms. */
const SHORTEST_MS = 500;

/** A take cut to a stretch of itself by its student: silence at the ends goes. The whole stays stored, and can be put back. */
export function TrimTake({
  take,
  sittingId,
  shortestMs,
}: {
  take: OwnTake;
  sittingId: string;
  /** The shortest answer, in ms. */
  shortestMs: number;
}) {
  const durationMs = take.durationMs ?? 0;
  const [open, setOpen] = useState(false);
  const [trim, trimming] = useTrimTakeMutation();
  const refusal = refusalOf(trimming.error);
  const change = (stretch: Cut | null) => {
    player.close();
    void trim({ sittingId, takeId: take.id, stretch })
      .unwrap()
      .then(
        () => setOpen(false),
        () => undefined,
      );
  };
  const trouble = trimming.isError && (
    <Notice kind="trouble">
      {refusal
        ? t(refusal.message)
        : t('This could not be cut just now. The take is safe as it is; try again in a moment.')}
    </Notice>
  );
  if (take.wholeMs !== null)
    return (
      <div className="grid gap-2">
        {trouble}
        <Button
          look="quiet"
          className="justify-self-start"
          disabled={trimming.isLoading}
          onClick={() => change(null)}
        >
          <Undo2 aria-hidden className="size-5" />{' '}
          {t('Put back the whole {{length}}', { length: clock(take.wholeMs) })}
        </Button>
      </div>
    );
  // What would be too short has nothing to be cut off.
  if (durationMs <= Math.max(SHORTEST_MS, shortestMs)) return null;
  if (!open)
    return (
      <Button look="quiet" onClick={() => setOpen(true)}>
        <Scissors aria-hidden className="size-5" /> {t('Cut the ends off')}
      </Button>
    );
  return (
    <Ends
      take={take}
      durationMs={durationMs}
      shortestMs={Math.max(SHORTEST_MS, shortestMs)}
      busy={trimming.isLoading}
      onCut={change}
      onClose={() => setOpen(false)}
    >
      {trouble}
    </Ends>
  );
}

function Ends({
  take,
  durationMs,
  shortestMs,
  busy,
  onCut,
  onClose,
  children,
}: {
  take: OwnTake;
  durationMs: number;
  shortestMs: number;
  busy: boolean;
  onCut: (stretch: Cut) => void;
  onClose: () => void;
  children: ReactNode;
}) {
  const whole = { fromMs: 0, toMs: Math.round(durationMs) };
  const [cut, setCut] = useState<Cut>(whole);
  const peaks = usePeaks(take.id, take.durationMs);
  const name = t('Take {{number}}', { number: take.number });
  const { hear, positionMs } = useHearStretch(trackOf(take.id, name, 'student', durationMs), cut);
  return (
    <div className="grid gap-3 border-s-4 border-petrol ps-4">
      <p>{t('Move both ends; the arrow keys are exact. The whole take stays stored.')}</p>
      {peaks ? (
        <Cutter
          peaks={peaks}
          cut={cut}
          view={whole}
          bounds={whole}
          shortestMs={shortestMs}
          stepMs={50}
          voice="student"
          label={name}
          edgeLabels={[t('Where it begins'), t('Where it ends')]}
          positionMs={positionMs}
          onChange={part => setCut(c => ({ ...c, ...part }))}
        />
      ) : (
        <p role="status">{t('Reading the waveform …')}</p>
      )}
      {children}
      <div className="flex flex-wrap gap-3">
        <Button onClick={hear} disabled={!peaks}>
          <Play aria-hidden className="size-5" /> {t('Hear what is left')}
        </Button>
        <Button
          look="main"
          disabled={busy || !peaks || cut.toMs - cut.fromMs >= whole.toMs}
          onClick={() => onCut(cut)}
        >
          <Scissors aria-hidden className="size-5" />{' '}
          {busy ? t('Cutting …') : t('Keep these {{length}}', { length: clock(cut.toMs - cut.fromMs) })}
        </Button>
        <Button disabled={busy} onClick={onClose}>
          {t('Leave it whole')}
        </Button>
      </div>
    </div>
  );
}
