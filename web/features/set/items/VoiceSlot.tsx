import { Mic, Scissors, Square, Trash2, Upload, Video } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { soundingLevelDbfs } from '@ecoute/core/audio/peaks';
import { clock } from '@ecoute/core/timing/words';
import type { Voice } from '@ecoute/contract/assessments';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { Film } from '../../../parts/player/Film';
import { PlayButton, trackOf } from '../../../parts/player/PlayButton';
import { usePeaks, usePositionOf, player } from '../../../parts/player/usePlayer';
import { Waveform } from '../../../parts/player/Waveform';
import { filmTrouble, openFilm, type FilmSource } from '../../../parts/recorder/camera';
import { desk } from '../../../parts/recorder/delivery';
import { LevelMeter } from '../../../parts/recorder/LevelMeter';
import { microphoneTrouble, openMicrophone, type Microphone } from '../../../parts/recorder/microphone';
import { Preview } from '../../../parts/recorder/Preview';
import { beginTake, type RunningTake } from '../../../parts/recorder/take';
import { Arriving } from '../material/Arriving';
import { EarlierVoices } from './EarlierVoices';
import { Trimmer } from './Trimmer';
import { failed, stands } from '../material/brought';
import { useBrought } from '../material/useBrought';

/** So long after a press another one may still belong to it. */
const SECOND_PRESS_MS = 500;

interface Running {
  take: RunningTake;
  microphone: Microphone;
  film: FilmSource | null;
}

/**
 * A voice of the teacher, sound or film: recorded in place or brought as a file, cut to an excerpt, removable. What arrives
 * is put in its place by the editor around it (`useArrivedVoices`), also while this slot is not open.
 */
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
  const [running, setRunning] = useState<Running | null>(null);
  const [stopping, setStopping] = useState(false);
  /** The microphone is being opened: a second press opens no second one. */
  const opening = useRef(false);
  const isHere = useRef(true);
  const [elapsed, setElapsed] = useState(0);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [trimming, setTrimming] = useState(false);
  /** What stood here before an excerpt took its place. */
  const [whole, setWhole] = useState<Voice | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const { deliveries, describe, bring } = useBrought(assessmentId, place, 'voice');
  /** The sound that is on its way. */
  const delivery = deliveries.find(d => d.sound.id !== running?.take.id);
  const peaks = usePeaks(voice?.recordingId ?? null);
  const position = usePositionOf(voice?.recordingId ?? null);

  const record = async (filmed: boolean) => {
    if (opening.current || running) return;
    opening.current = true;
    setTrouble(null);
    player.pause();
    await begin(filmed);
    opening.current = false;
  };
  const begin = async (filmed: boolean) => {
    let microphone: Microphone;
    try {
      microphone = await openMicrophone(false);
    } catch (error) {
      setTrouble(microphoneTrouble(error));
      return;
    }
    let film: FilmSource | null = null;
    try {
      if (filmed) film = await openFilm('camera', microphone.stream);
      const take = await beginTake(
        microphone,
        film?.stream.getVideoTracks()[0] ?? null,
        ({ id, mediaType }) => describe(id, mediaType, 'recorded', null),
        setTrouble,
      );
      // Whoever left while it was being opened is not recorded: nothing of it takes the place of what stands there.
      if (!isHere.current) {
        await end({ take, microphone, film });
        return void desk.discard(take.id);
      }
      setRunning({ take, microphone, film });
    } catch (error) {
      film?.close();
      microphone.close();
      setTrouble(filmed ? filmTrouble(error, 'camera') : microphoneTrouble(error));
    }
  };
  const end = async ({ take, microphone, film }: Running) => {
    await take.stop();
    film?.close();
    microphone.close();
  };
  const stop = async () => {
    if (!running || stopping) return;
    setStopping(true);
    // What comes up in its place is not pressed by the second of two quick presses.
    await Promise.all([end(running), new Promise(resolve => setTimeout(resolve, SECOND_PRESS_MS))]);
    setRunning(null);
    setStopping(false);
  };

  const take = running?.take;
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
  const open = useRef(running);
  useEffect(() => {
    open.current = running;
  });
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
      if (open.current) void end(open.current);
    };
  }, []);

  if (running)
    return (
      <div className="grid grid-cols-1 gap-3 border-2 border-vermilion p-4">
        <p className="flex items-baseline gap-3">
          <span className="font-semibold">Recording the {what}</span>
          <span className="tabular text-2xl">{clock(elapsed)}</span>
        </p>
        {running.film && <Preview stream={running.film.stream} mirrored label="What the camera sees" />}
        <LevelMeter analyser={running.microphone.analyser} recording />
        <Button look="record" disabled={stopping} onClick={() => void stop()}>
          <Square aria-hidden className="size-5 fill-current" /> Stop
        </Button>
      </div>
    );
  if (voice && trimming)
    return (
      <Trimmer
        voice={voice}
        title={title}
        onCut={excerpt => {
          setWhole(voice);
          setTrimming(false);
          onChange(excerpt);
        }}
        onClose={() => setTrimming(false)}
      />
    );
  return (
    <div className="grid grid-cols-1 gap-3">
      {trouble && <Notice kind="trouble">{trouble}</Notice>}
      {delivery && !stands(delivery) && <Arriving delivery={delivery} />}
      {voice && (
        <>
          {peaks && soundingLevelDbfs(peaks) === null && (
            <Notice kind="trouble">
              Nothing can be heard in it. Check the microphone, and record it again.
            </Notice>
          )}
          {voice.isVideo && <Film id={voice.recordingId} label={`The ${what}`} />}
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
            <Button
              aria-label={`Take an excerpt of the ${what}`}
              title="Excerpt"
              onClick={() => setTrimming(true)}
            >
              <Scissors aria-hidden className="size-5" />
            </Button>
            <Button
              aria-label={`Remove the voice of the ${what}`}
              title="Remove"
              onClick={() => onChange(null)}
            >
              <Trash2 aria-hidden className="size-5" />
            </Button>
          </div>
          {whole && whole.recordingId !== voice.recordingId && (
            <div>
              <Button
                onClick={() => {
                  onChange(whole);
                  setWhole(null);
                }}
              >
                Put the whole back ({clock(whole.durationMs)})
              </Button>
            </div>
          )}
        </>
      )}
      {(!delivery || failed(delivery)) && (
        <div className="flex flex-wrap gap-3">
          <Button onClick={() => void record(false)}>
            <Mic aria-hidden className="size-5" /> {voice ? 'Record it again' : `Speak the ${what}`}
          </Button>
          <Button aria-label={`Film it: the ${what}`} onClick={() => void record(true)}>
            <Video aria-hidden className="size-5" /> Film it
          </Button>
          <Button aria-label={`Bring audio or video: the ${what}`} onClick={() => file.current?.click()}>
            <Upload aria-hidden className="size-5" /> Bring audio or video
          </Button>
          <input
            ref={file}
            type="file"
            aria-hidden
            tabIndex={-1}
            aria-label={`Audio file for the ${what}`}
            accept="audio/*,video/*,.amr,.3gp,.flac,.aiff"
            className="sr-only"
            onChange={e => {
              const chosen = e.target.files?.[0];
              if (chosen) void bring(chosen).then(setTrouble);
              e.target.value = '';
            }}
          />
          <EarlierVoices
            assessmentId={assessmentId}
            present={voice?.recordingId ?? null}
            what={what}
            onUse={onChange}
          />
        </div>
      )}
    </div>
  );
}
