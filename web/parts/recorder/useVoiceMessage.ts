import { useCallback, useEffect, useRef, useState } from 'react';
import { useMe } from '../../base/useMe';
import { desk } from './delivery';
import { microphoneTrouble, openMicrophone, type Microphone } from './microphone';
import type { FilmSource } from './camera';
import type { KeptSound } from './soundStore';
import { beginTake, type RunningTake } from './take';
import { player } from '../player/usePlayer';

/** Something spoken that is heard by its speaker before it is sent. */
export interface VoiceMessage {
  id: string;
  mediaType: string;
  blob: Blob;
  url: string;
  durationMs: number;
}

/** What a recording is told of when it begins. */
export type ToldOfTake = Parameters<Parameters<typeof beginTake>[2]>[0];

/**
 * Records a message that can be heard, and recorded again, before anybody else has it.
 * @param limitMs after so long it ends automatically
 * @param keep says how the server is told of it: then each second of it is kept on this device, and sent, while it is
 * recorded. Left out, it stays on this page until it is sent.
 * @param film the camera is opened as well
 */
export function useVoiceMessage(
  limitMs: number,
  {
    keep,
    film: isFilmed = false,
  }: { keep?: (told: ToldOfTake) => Pick<KeptSound, 'announce' | 'place'>; film?: boolean } = {},
) {
  const me = useMe();
  /** Open, and nothing is recorded yet. */
  const [ready, setReady] = useState<Microphone | null>(null);
  const [running, setRunning] = useState<{ take: RunningTake; microphone: Microphone } | null>(null);
  const [message, setMessage] = useState<VoiceMessage | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [elapsedMs, setElapsedMs] = useState(0);
  const open = useRef<{ take: RunningTake; microphone: Microphone; beganAt: number } | null>(null);
  const mediaType = useRef('audio/webm');

  const held = useRef<Microphone | null>(null);
  const film = useRef<FilmSource | null>(null);
  const [seen, setSeen] = useState<FilmSource | null>(null);
  const keeping = useRef(keep);
  useEffect(() => {
    keeping.current = keep;
  });
  const darken = useCallback(() => {
    film.current?.close();
    film.current = null;
    setSeen(null);
  }, []);

  const stop = useCallback(async () => {
    const now = open.current;
    if (!now) return;
    open.current = null;
    await now.take.stop();
    now.microphone.close();
    darken();
    setRunning(null);
    const blob = desk.blob(now.take.id);
    if (!blob || blob.size === 0) return;
    setMessage({
      id: now.take.id,
      mediaType: mediaType.current,
      blob: new Blob([blob], { type: mediaType.current }),
      url: URL.createObjectURL(blob),
      durationMs: performance.now() - now.beganAt,
    });
  }, [darken]);

  /** Opens the microphone, so that its speaker sees that they are heard; allowing it records nothing. */
  const prepare = useCallback(async () => {
    if (held.current || open.current) return;
    setTrouble(null);
    player.pause();
    try {
      held.current = await openMicrophone(false);
    } catch (error) {
      setTrouble(microphoneTrouble(error));
      return;
    }
    if (isFilmed) {
      // Few are filmed: the others do without it.
      const camera = await import('./camera');
      try {
        film.current = await camera.openFilm('camera', held.current.stream);
      } catch (error) {
        held.current.close();
        held.current = null;
        setTrouble(camera.filmTrouble(error, 'camera'));
        return;
      }
    }
    setSeen(film.current);
    setReady(held.current);
  }, [isFilmed]);

  /** Shuts it again without a word. */
  const letGo = useCallback(() => {
    held.current?.close();
    held.current = null;
    darken();
    setReady(null);
  }, [darken]);

  const start = useCallback(async () => {
    const microphone = held.current;
    if (open.current || !microphone) return;
    setTrouble(null);
    setMessage(null);
    player.pause();
    try {
      const take = await beginTake(
        microphone,
        film.current?.stream.getVideoTracks()[0] ?? null,
        told => {
          mediaType.current = told.mediaType;
          return { personId: me.id, ...(keeping.current?.(told) ?? { place: {}, announce: null }) };
        },
        (message, lost) => {
          setTrouble(message);
          if (lost) void stop();
        },
      );
      held.current = null;
      setReady(null);
      open.current = { take, microphone, beganAt: performance.now() };
      setRunning({ take, microphone });
    } catch (error) {
      letGo();
      setTrouble(microphoneTrouble(error));
    }
  }, [letGo, me.id, stop]);

  /** Both at once, for whoever records every day. */
  const speak = useCallback(async () => {
    await prepare();
    await start();
  }, [prepare, start]);

  useEffect(() => {
    if (!running) return;
    const began = performance.now();
    const timer = setInterval(() => setElapsedMs(performance.now() - began), 200);
    const limit = setTimeout(() => void stop(), limitMs);
    return () => {
      clearInterval(timer);
      clearTimeout(limit);
      setElapsedMs(0);
    };
  }, [running, stop, limitMs]);

  const url = message?.url;
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
  useEffect(
    () => () => {
      held.current?.close();
      open.current?.microphone.close();
      film.current?.close();
      void open.current?.take.stop();
      desk.forgetRehearsals();
    },
    [],
  );

  return {
    /** What the camera sees; null without one. */
    seen,
    speak,
    ready,
    running,
    message,
    elapsedMs,
    trouble,
    prepare,
    letGo,
    start,
    stop,
    drop: () => setMessage(null),
  };
}
