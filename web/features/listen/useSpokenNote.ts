import { useCallback, useEffect, useRef, useState } from 'react';
import { LIMITS } from '@ecoute/contract/limits';
import { useMe } from '../../base/useMe';
import { player } from '../../parts/player/usePlayer';
import { microphoneTrouble, openMicrophone, type Microphone } from '../../parts/recorder/microphone';
import { beginTake, type RunningTake } from '../../parts/recorder/take';

interface Speaking {
  take: RunningTake;
  microphone: Microphone;
}

/**
 * A note that is spoken at a moment of a recording. It is told to the server before its first second, and goes the way
 * of every recording: first to this device, then on.
 * @param onSpoken called when the last of it is on this device
 */
export function useSpokenNote(takeId: string, onSpoken: () => void) {
  const me = useMe();
  const [speaking, setSpeaking] = useState<Speaking | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [elapsedMs, setElapsedMs] = useState(0);
  /** Between the wish to speak and the first sample, and whether the wish still holds. */
  const opening = useRef(false);
  const wanted = useRef(false);
  const open = useRef<Speaking | null>(null);

  const stop = useCallback(async () => {
    wanted.current = false;
    const running = open.current;
    if (!running) return;
    open.current = null;
    setSpeaking(null);
    await running.take.stop();
    running.microphone.close();
    onSpoken();
  }, [onSpoken]);

  const start = useCallback(
    async (fromMs: number) => {
      if (opening.current || open.current) return;
      opening.current = true;
      wanted.current = true;
      setTrouble(null);
      player.pause();
      let microphone: Microphone | null = null;
      try {
        microphone = await openMicrophone(false);
        // The key was let go before the microphone was there: nothing was said yet.
        if (!wanted.current) return microphone.close();
        const noteId = crypto.randomUUID();
        const take = await beginTake(
          microphone,
          null,
          ({ id, mediaType }) => ({
            personId: me.id,
            place: { notesOf: takeId },
            announce: {
              url: `/api/takes/${takeId}/spoken-notes`,
              body: { noteId, recordingId: id, fromMs: Math.round(fromMs), mediaType },
            },
          }),
          setTrouble,
        );
        open.current = { take, microphone };
        setSpeaking(open.current);
        if (!wanted.current) await stop();
      } catch (error) {
        microphone?.close();
        setTrouble(microphoneTrouble(error));
      } finally {
        opening.current = false;
      }
    },
    [me.id, stop, takeId],
  );

  const running = speaking?.take;
  useEffect(() => {
    if (!running) return;
    const began = Date.now();
    const timer = setInterval(() => setElapsedMs(Date.now() - began), 200);
    const limit = setTimeout(() => void stop(), LIMITS.spokenNoteMs);
    return () => {
      clearInterval(timer);
      clearTimeout(limit);
      setElapsedMs(0);
    };
  }, [running, stop]);

  // Going to another lane ends the note; what was said is kept.
  const latest = useRef(stop);
  useEffect(() => {
    latest.current = stop;
  });
  useEffect(() => () => void latest.current(), []);

  return { speaking, elapsedMs, trouble, start, stop };
}
