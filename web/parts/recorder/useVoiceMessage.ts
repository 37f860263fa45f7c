import { useCallback, useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { refusalOf } from '../../base/api';
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
  /** Null for what an earlier page recorded. */
  durationMs: number | null;
}

/** What was recorded last under a name and waits for its speaker; null when there is nothing. */
const laidAside = (name: string | undefined, runningId: string | null) =>
  name === undefined
    ? null
    : (desk
        .all()
        .findLast(
          d => d.state === 'aside' && d.sound.aside === name && d.sound.id !== runningId && d.bytes > 0,
        ) ?? null);

/** What a recording is told of when it begins. */
export type ToldOfTake = Parameters<Parameters<typeof beginTake>[2]>[0];

const messageOf = (id: string, mediaType: string, blob: Blob, durationMs: number | null): VoiceMessage => ({
  id,
  mediaType,
  blob: new Blob([blob], { type: mediaType }),
  url: URL.createObjectURL(blob),
  durationMs,
});

/**
 * Records a message that can be heard, and recorded again, before anybody else has it.
 * @param limitMs after so long it ends automatically
 * @param keep says how the server is told of it: then each second of it is kept on this device, and sent, while it is
 * recorded.
 * @param aside a name, under which each second of it is kept on this device and is there again after a reload, until it is sent
 * with `send` or dropped. Without either it stays on this page.
 * @param film the camera is opened as well
 */
export function useVoiceMessage(
  limitMs: number,
  {
    keep,
    aside,
    film: isFilmed = false,
  }: {
    keep?: (told: ToldOfTake) => Pick<KeptSound, 'announce' | 'place'>;
    aside?: string;
    film?: boolean;
  } = {},
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

  /** How long this page recorded what it recorded last. */
  const lasted = useRef<{ id: string; durationMs: number } | null>(null);

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
    const durationMs = performance.now() - now.beganAt;
    lasted.current = { id: now.take.id, durationMs };
    const blob = desk.blob(now.take.id);
    const isEmpty = !blob || blob.size === 0;
    if (aside !== undefined) {
      // The one before has stood until there was another.
      for (const d of desk.all())
        if (d.state === 'aside' && d.sound.aside === aside && (d.sound.id === now.take.id) === isEmpty)
          void desk.discard(d.sound.id);
    } else if (!isEmpty) setMessage(messageOf(now.take.id, mediaType.current, blob, durationMs));
  }, [aside, darken]);

  const laid = useSyncExternalStore(desk.subscribe, () => laidAside(aside, running?.take.id ?? null));
  const laidId = laid?.sound.id ?? null;
  const laidType = laid?.sound.mediaType ?? '';
  useEffect(() => {
    const blob = laidId === null ? null : desk.blob(laidId);
    if (laidId === null || blob === null) return;
    const { current } = lasted;
    setMessage(messageOf(laidId, laidType, blob, current?.id === laidId ? current.durationMs : null));
    return () => setMessage(null);
  }, [laidId, laidType]);

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
    if (aside === undefined) setMessage(null);
    player.pause();
    try {
      const take = await beginTake(
        microphone,
        film.current?.stream.getVideoTracks()[0] ?? null,
        told => {
          mediaType.current = told.mediaType;
          return { personId: me.id, ...(keeping.current?.(told) ?? { place: {}, announce: null, aside }) };
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
  }, [aside, letGo, me.id, stop]);

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

  /**
   * Sends what was laid aside. Without a network it is kept on this device, and told of later.
   * @param announce how the server is told of it, once more or at last; told twice it is the same
   * @param tell tells the server now
   * @returns whether the server knows of it
   * @throws what the server refuses; the recording is still there
   */
  const send = async (
    announce: NonNullable<KeptSound['announce']>,
    tell: () => Promise<unknown>,
    place: KeptSound['place'] = {},
  ): Promise<boolean> => {
    let isTold = true;
    if (message)
      await desk.sendAside(message.id, { announce, place }, () =>
        tell().catch((error: unknown) => {
          if (refusalOf(error)?.status !== 0) throw error;
          isTold = false;
        }),
      );
    return isTold;
  };

  return {
    /** What the camera sees; null without one. */
    seen,
    speak,
    ready,
    running,
    /** What was recorded, and is not sent. */
    message: running ? null : message,
    elapsedMs,
    trouble,
    prepare,
    letGo,
    start,
    stop,
    send,
    drop: () => (aside !== undefined && message ? void desk.discard(message.id) : setMessage(null)),
  };
}
