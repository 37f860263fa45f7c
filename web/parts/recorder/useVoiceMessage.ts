import { useCallback, useEffect, useRef, useState } from 'react';
import { useMe } from '../../base/useMe';
import { desk } from './delivery';
import { microphoneTrouble, openMicrophone, type Microphone } from './microphone';
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

/**
 * Records a message that stays on this page until it is sent: it can be heard, and recorded again, before anybody else
 * has it.
 * @param limitMs after so long it ends automatically
 */
export function useVoiceMessage(limitMs: number) {
  const me = useMe();
  const [running, setRunning] = useState<{ take: RunningTake; microphone: Microphone } | null>(null);
  const [message, setMessage] = useState<VoiceMessage | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [elapsedMs, setElapsedMs] = useState(0);
  const open = useRef<{ take: RunningTake; microphone: Microphone; beganAt: number } | null>(null);
  const mediaType = useRef('audio/webm');

  const stop = useCallback(async () => {
    const now = open.current;
    if (!now) return;
    open.current = null;
    await now.take.stop();
    now.microphone.close();
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
  }, []);

  const start = useCallback(async () => {
    if (open.current) return;
    setTrouble(null);
    setMessage(null);
    player.pause();
    let microphone: Microphone | null = null;
    try {
      microphone = await openMicrophone(false);
      const take = await beginTake(
        microphone,
        null,
        told => {
          mediaType.current = told.mediaType;
          return { personId: me.id, place: {}, announce: null };
        },
        setTrouble,
      );
      open.current = { take, microphone, beganAt: performance.now() };
      setRunning({ take, microphone });
    } catch (error) {
      microphone?.close();
      setTrouble(microphoneTrouble(error));
    }
  }, [me.id]);

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
      open.current?.microphone.close();
      void open.current?.take.stop();
      desk.forgetRehearsals();
    },
    [],
  );

  return { running, message, elapsedMs, trouble, start, stop, drop: () => setMessage(null) };
}
