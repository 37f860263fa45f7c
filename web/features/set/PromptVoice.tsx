import { Mic, Square, Trash2, Upload } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { useMe } from '../../app/useMe';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { usePeaks, usePositionOf, player } from '../../parts/player/usePlayer';
import { Waveform } from '../../parts/player/Waveform';
import { desk } from '../../parts/recorder/delivery';
import { LevelMeter } from '../../parts/recorder/LevelMeter';
import { microphoneTrouble, openMicrophone, type Microphone } from '../../parts/recorder/microphone';
import type { KeptSound } from '../../parts/recorder/soundStore';
import { beginTake, type RunningTake } from '../../parts/recorder/take';
import { useDeliveries } from '../../parts/recorder/useDeliveries';

/** A prompt's voice: recorded in place or brought as a file, heard before it is kept, removable. */
export function PromptVoice({
  assessmentId,
  item,
  onChange,
}: {
  assessmentId: string;
  item: Item;
  onChange: (change: Partial<Item>) => void;
}) {
  const me = useMe();
  const [microphone, setMicrophone] = useState<Microphone | null>(null);
  const [take, setTake] = useState<RunningTake | null>(null);
  const [elapsed, setElapsed] = useState(0);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** The sound that is new and not yet kept. */
  const [candidate, setCandidate] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const delivery = useDeliveries().find(d => d.sound.id === candidate);
  const peaks = usePeaks(item.promptRecordingId);
  const position = usePositionOf(item.promptRecordingId);

  const describe = (
    id: string,
    mediaType: string,
    source: 'recorded' | 'uploaded',
    fileName: string | null,
  ): Pick<KeptSound, 'announce' | 'place' | 'personId'> => ({
    personId: me.id,
    place: { assessmentId, itemId: item.id },
    announce: {
      url: `/api/assessments/${assessmentId}/prompts`,
      body: { recordingId: id, mediaType, source, fileName },
    },
  });

  const record = async () => {
    setTrouble(null);
    player.pause();
    try {
      const opened = await openMicrophone(false);
      setMicrophone(opened);
      setTake(
        await beginTake(
          opened.stream,
          (id, _began, type) => describe(id, type, 'recorded', null),
          setTrouble,
        ),
      );
    } catch (error) {
      setTrouble(microphoneTrouble(error));
    }
  };
  const stop = async () => {
    if (!take) return;
    setTake(null);
    setCandidate(take.id);
    await take.stop();
    microphone?.close();
    setMicrophone(null);
  };
  const bring = async (chosen: File) => {
    setTrouble(null);
    if (chosen.size > LIMITS.promptBytes) {
      setTrouble(
        `This file is ${Math.round(chosen.size / 1_048_576)} MB; a prompt may have 300 MB. Choose a shorter one.`,
      );
      return;
    }
    const id = crypto.randomUUID();
    setCandidate(id);
    await desk.whole(
      {
        id,
        mediaType: chosen.type || 'application/octet-stream',
        beganAt: new Date().toISOString(),
        ended: false,
        refusal: null,
        ...describe(id, chosen.type || 'application/octet-stream', 'uploaded', chosen.name.slice(0, 255)),
      },
      chosen,
    );
  };

  useEffect(() => {
    if (!take) return;
    const began = Date.now();
    const timer = setInterval(() => setElapsed(Date.now() - began), 200);
    return () => {
      clearInterval(timer);
      setElapsed(0);
    };
  }, [take]);
  // Leaving the page in the middle ends the recording; it is kept on this device.
  const open = useRef({ take, microphone });
  useEffect(() => {
    open.current = { take, microphone };
  });
  useEffect(
    () => () => {
      void open.current.take?.stop().then(() => open.current.microphone?.close());
    },
    [],
  );

  const stands = delivery?.state === 'delivered' && delivery.recording?.state === 'stored';
  const keep = () => {
    if (!delivery?.recording) return;
    onChange({ promptRecordingId: delivery.sound.id, promptDurationMs: delivery.recording.durationMs });
    setCandidate(null);
  };

  if (take && microphone)
    return (
      <div className="grid gap-3 border-2 border-vermilion p-4">
        <p className="flex items-baseline gap-3">
          <span className="font-semibold">Recording the prompt</span>
          <span className="tabular text-2xl">{clock(elapsed)}</span>
        </p>
        <LevelMeter analyser={microphone.analyser} recording />
        <Button look="record" onClick={() => void stop()}>
          <Square aria-hidden className="size-5 fill-current" /> Stop
        </Button>
      </div>
    );
  return (
    <div className="grid grid-cols-1 gap-3">
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      {delivery && !stands && (
        <Notice
          kind={delivery.state === 'kept' || delivery.recording?.state === 'refused' ? 'trouble' : 'note'}
          action={
            delivery.state === 'kept' || delivery.recording?.state === 'refused' ? (
              <Button
                onClick={() => {
                  void desk.discard(delivery.sound.id);
                  setCandidate(null);
                }}
              >
                Throw it away
              </Button>
            ) : undefined
          }
        >
          {delivery.message ??
            (delivery.state === 'checking'
              ? 'Looking at the sound …'
              : `Storing the sound: ${Math.round((100 * delivery.sent) / Math.max(1, delivery.bytes))} %`)}
        </Notice>
      )}
      {stands && delivery.recording && (
        <div className="grid gap-3 border-2 border-saffron p-4">
          <p>
            <strong>A new voice, {clock(delivery.recording.durationMs ?? 0)}.</strong> Hear it, then keep it
            or try again.
            {delivery.recording.silent && ' Nothing can be heard in it: check the microphone.'}
          </p>
          <div className="flex flex-wrap gap-3">
            <PlayButton
              track={trackOf(delivery.sound.id, 'New prompt', 'teacher', delivery.recording.durationMs)}
              label="the new prompt"
              text="Hear it"
            />
            <Button look="main" onClick={keep}>
              {item.promptRecordingId ? 'Keep this instead' : 'Keep it'}
            </Button>
            <Button onClick={() => setCandidate(null)}>Throw it away</Button>
          </div>
        </div>
      )}
      {item.promptRecordingId && !stands && (
        <div className="flex flex-wrap items-center gap-3">
          <PlayButton
            track={trackOf(
              item.promptRecordingId,
              item.promptText.slice(0, 60) || 'Prompt',
              'teacher',
              item.promptDurationMs,
            )}
            label="the prompt"
          />
          <div className="min-w-40 flex-1">
            <Waveform
              peaks={peaks}
              positionMs={position}
              voice="teacher"
              height={44}
              label="The prompt"
              onSeek={position === null ? undefined : ms => player.seek(ms)}
            />
          </div>
          <span className="tabular text-sm">{clock(item.promptDurationMs ?? 0)}</span>
          <Button
            aria-label="Remove the voice of this prompt"
            onClick={() => onChange({ promptRecordingId: null, promptDurationMs: null })}
          >
            <Trash2 aria-hidden className="size-5" />
          </Button>
        </div>
      )}
      {!stands && (!delivery || delivery.state === 'kept' || delivery.recording?.state === 'refused') && (
        <div className="flex flex-wrap gap-3">
          <Button onClick={() => void record()}>
            <Mic aria-hidden className="size-5" />{' '}
            {item.promptRecordingId ? 'Record it again' : 'Speak this prompt'}
          </Button>
          <Button onClick={() => file.current?.click()}>
            <Upload aria-hidden className="size-5" /> Bring an audio file
          </Button>
          <input
            ref={file}
            type="file"
            aria-label="Audio file for this prompt"
            accept="audio/*,video/mp4,video/webm,video/quicktime,.amr,.3gp"
            className="sr-only"
            onChange={e => {
              const chosen = e.target.files?.[0];
              if (chosen) void bring(chosen);
              e.target.value = '';
            }}
          />
        </div>
      )}
    </div>
  );
}
