import { Play, Scissors, Square } from 'lucide-react';
import { useState } from 'react';
import { clock, parseLength, tenths } from '@ecoute/core/timing/words';
import type { Voice } from '@ecoute/contract/assessments';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { TroubleBody } from '@ecoute/contract/trouble';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { trackOf } from '../../../parts/player/PlayButton';
import { useHearStretch } from '../../../parts/player/useHearStretch';
import { player, usePeaks } from '../../../parts/player/usePlayer';
import { Cutter, type Cut } from '../../../parts/Cutter';

const SHORTEST_MS = 500;
const AROUND_MS = 2_000;

/** A moment of the sound, typed as `3:00` or `3:00.5`; what is none, or out of reach, is said. */
function MomentInput({
  label,
  valueMs,
  leastMs,
  mostMs,
  onChange,
}: {
  label: string;
  valueMs: number;
  leastMs: number;
  mostMs: number;
  onChange: (ms: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const ms = typed === null ? valueMs : parseLength(typed);
  const problem =
    ms === null
      ? 'Type a time such as 3:00 or 3:00.5.'
      : ms < leastMs
        ? `At least ${tenths(leastMs)}.`
        : ms > mostMs
          ? `At most ${tenths(mostMs)}.`
          : null;
  return (
    <Field label={label} error={typed === null ? null : problem} className="w-36">
      {ties => (
        <input
          {...ties}
          inputMode="decimal"
          className={`${inputClass} tabular`}
          value={typed ?? tenths(valueMs)}
          onChange={e => {
            setTyped(e.target.value);
            const next = parseLength(e.target.value);
            if (next !== null && next >= leastMs && next <= mostMs) onChange(next);
          }}
          onBlur={() => problem === null && setTyped(null)}
        />
      )}
    </Field>
  );
}

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
  const { hear, listen, stop, positionMs, playing } = useHearStretch(
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
        <strong>An excerpt of {clock(durationMs)}.</strong> Move both ends, type their times, or mark them
        while you listen. The whole stays stored.
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
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <div className="flex flex-wrap items-end gap-3">
          <MomentInput
            label="From"
            valueMs={cut.fromMs}
            leastMs={0}
            mostMs={cut.toMs - SHORTEST_MS}
            onChange={fromMs => change({ fromMs })}
          />
          <MomentInput
            label="To"
            valueMs={cut.toMs}
            leastMs={cut.fromMs + SHORTEST_MS}
            mostMs={durationMs}
            onChange={toMs => change({ toMs })}
          />
        </div>
        <div className="flex flex-wrap items-center gap-3">
          {playing ? (
            <Button onClick={stop}>
              <Square aria-hidden className="size-5" /> Stop{' '}
              <span className="tabular font-normal">{clock(positionMs ?? 0)}</span>
            </Button>
          ) : (
            <Button onClick={listen} disabled={!peaks}>
              <Play aria-hidden className="size-5" /> Listen{' '}
              <span className="tabular font-normal">from {clock(positionMs ?? 0)}</span>
            </Button>
          )}
          <Button
            disabled={positionMs === null}
            onClick={() =>
              change({
                fromMs: Math.round(positionMs!),
                // A beginning behind the end is the beginning of another stretch: up to where the sound ends.
                ...(positionMs! > cut.toMs - SHORTEST_MS && { toMs: durationMs }),
              })
            }
          >
            It begins here
          </Button>
          <Button
            disabled={positionMs === null || positionMs < cut.fromMs + SHORTEST_MS}
            onClick={() => change({ toMs: Math.round(positionMs!) })}
          >
            It ends here
          </Button>
        </div>
      </div>
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      <div className="flex flex-wrap items-center gap-3">
        <Button onClick={hear} disabled={!peaks}>
          <Play aria-hidden className="size-5" /> Hear the excerpt
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
