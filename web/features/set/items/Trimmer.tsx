import { Play, Scissors } from 'lucide-react';
import { useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Voice } from '@ecoute/contract/assessments';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { TroubleBody } from '@ecoute/contract/trouble';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { trackOf } from '../../../parts/player/PlayButton';
import { useHearStretch } from '../../../parts/player/useHearStretch';
import { player, usePeaks } from '../../../parts/player/usePlayer';
import { Cutter, type Cut } from '../../../parts/Cutter';

const SHORTEST_MS = 500;
const AROUND_MS = 2_000;

/** An excerpt of a sound: chosen on the whole waveform, made exact close up, heard, then cut on the server. */
export function Trimmer({
  voice,
  title,
  onCut,
  onClose,
}: {
  voice: Voice;
  title: string;
  /** The excerpt, a file of its own. */
  onCut: (excerpt: Voice) => void;
  onClose: () => void;
}) {
  const { recordingId, durationMs } = voice;
  const peaks = usePeaks(recordingId);
  const [cut, setCut] = useState<Cut>({ fromMs: 0, toMs: durationMs });
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { hear, positionMs, playing } = useHearStretch(
    trackOf(recordingId, title, 'teacher', durationMs),
    cut,
  );
  const whole = { fromMs: 0, toMs: durationMs };

  const make = async () => {
    setBusy(true);
    setTrouble(null);
    const id = crypto.randomUUID();
    try {
      const response = await fetch(`/api/recordings/${recordingId}/excerpts`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ recordingId: id, ...cut }),
      });
      const body = (await response.json()) as RecordingView & TroubleBody;
      if (!response.ok || body.state !== 'stored') throw new Error(body.message ?? '');
      player.close();
      onCut({ recordingId: id, durationMs: body.durationMs ?? 0, isVideo: body.medium === 'video' });
    } catch (error) {
      setTrouble(
        (error as Error).message || 'The excerpt could not be cut just now. The whole is safe; try again.',
      );
    } finally {
      setBusy(false);
    }
  };
  const change = (part: Partial<Cut>) => setCut(c => ({ ...c, ...part }));
  const common = { cut, bounds: whole, shortestMs: SHORTEST_MS, onChange: change };
  const close = (ms: number): Cut => ({
    fromMs: Math.max(0, ms - AROUND_MS),
    toMs: Math.min(durationMs, ms + AROUND_MS),
  });

  return (
    <div className="grid grid-cols-1 gap-3 border-2 border-saffron p-4">
      <p>
        <strong>An excerpt of {clock(durationMs)}.</strong> Move both ends; the arrow keys are exact. The
        whole stays stored.
      </p>
      {peaks ? (
        <>
          <Cutter
            {...common}
            peaks={peaks}
            view={whole}
            stepMs={Math.max(50, Math.round(durationMs / 2_000))}
            label="The whole sound"
            edgeLabels={['Beginning of the excerpt', 'End of the excerpt']}
            positionMs={positionMs}
          />
          {durationMs > 3 * AROUND_MS && (
            <div className="grid gap-3 sm:grid-cols-2">
              {(['fromMs', 'toMs'] as const).map(edge => (
                <Cutter
                  key={edge}
                  only={edge}
                  {...common}
                  peaks={peaks}
                  view={close(cut[edge])}
                  stepMs={10}
                  label={edge === 'fromMs' ? 'The beginning, close up' : 'The end, close up'}
                  edgeLabels={['Beginning, close up', 'End, close up']}
                />
              ))}
            </div>
          )}
        </>
      ) : (
        <p role="status">Reading the waveform …</p>
      )}
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      <div className="flex flex-wrap items-center gap-3">
        <Button onClick={hear} disabled={!peaks}>
          <Play aria-hidden className="size-5" /> {playing ? 'Hear it again' : 'Hear the excerpt'}
        </Button>
        <Button
          look="main"
          disabled={busy || !peaks || cut.toMs - cut.fromMs >= durationMs}
          onClick={() => void make()}
        >
          <Scissors aria-hidden className="size-5" />
          {busy ? 'Cutting …' : `Keep these ${clock(cut.toMs - cut.fromMs)}`}
        </Button>
        <Button disabled={busy} onClick={onClose}>
          Leave it whole
        </Button>
      </div>
    </div>
  );
}
