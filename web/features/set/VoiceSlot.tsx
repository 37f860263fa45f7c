import { Mic, Square, Trash2, Upload } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Voice } from '@ecoute/contract/assessments';
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

/** A voice of the teacher: recorded in place or brought as a file, heard before it is kept, removable. */
export function VoiceSlot({
  assessmentId,
  place,
  what,
  title,
  voice,
  onChange,
}: {
  assessmentId: string;
  /** The id of what speaks (item, assessment), to find the sound again after a reload. */
  place: string;
  /** What speaks, in words that follow “the”: prompt, hint … */
  what: string;
  /** What the transport shows while it plays. */
  title: string;
  voice: Voice | null;
  onChange: (voice: Voice | null) => void;
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
  const peaks = usePeaks(voice?.recordingId ?? null);
  const position = usePositionOf(voice?.recordingId ?? null);

  const describe = (
    id: string,
    mediaType: string,
    source: 'recorded' | 'uploaded',
    fileName: string | null,
  ): Pick<KeptSound, 'announce' | 'place' | 'personId'> => ({
    personId: me.id,
    place: { assessmentId, itemId: place },
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
        `This file is ${Math.round(chosen.size / 1_048_576)} MB; a ${what} may have 300 MB. Choose a shorter one.`,
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
    onChange({ recordingId: delivery.sound.id, durationMs: delivery.recording.durationMs ?? 0 });
    setCandidate(null);
  };

  if (take && microphone)
    return (
      <div className="grid gap-3 border-2 border-vermilion p-4">
        <p className="flex items-baseline gap-3">
          <span className="font-semibold">Recording the {what}</span>
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
              track={trackOf(delivery.sound.id, `New ${what}`, 'teacher', delivery.recording.durationMs)}
              label={`the new ${what}`}
              text="Hear it"
            />
            <Button look="main" onClick={keep}>
              {voice ? 'Keep this instead' : 'Keep it'}
            </Button>
            <Button onClick={() => setCandidate(null)}>Throw it away</Button>
          </div>
        </div>
      )}
      {voice && !stands && (
        <div className="flex flex-wrap items-center gap-3">
          <PlayButton
            track={trackOf(voice.recordingId, title, 'teacher', voice.durationMs)}
            label={`the ${what}`}
          />
          <div className="min-w-40 flex-1">
            <Waveform
              peaks={peaks}
              positionMs={position}
              voice="teacher"
              height={44}
              label={`The ${what}`}
              onSeek={position === null ? undefined : ms => player.seek(ms)}
            />
          </div>
          <span className="tabular text-sm">{clock(voice.durationMs)}</span>
          <Button aria-label={`Remove the voice of the ${what}`} onClick={() => onChange(null)}>
            <Trash2 aria-hidden className="size-5" />
          </Button>
        </div>
      )}
      {!stands && (!delivery || delivery.state === 'kept' || delivery.recording?.state === 'refused') && (
        <div className="flex flex-wrap gap-3">
          <Button onClick={() => void record()}>
            <Mic aria-hidden className="size-5" /> {voice ? 'Record it again' : `Speak the ${what}`}
          </Button>
          <Button onClick={() => file.current?.click()}>
            <Upload aria-hidden className="size-5" /> Bring an audio file
          </Button>
          <input
            ref={file}
            type="file"
            aria-label={`Audio file for the ${what}`}
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
