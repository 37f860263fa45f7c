import { useCallback, useEffect, useRef, useState } from 'react';
import { RUN_LEAD_MS } from '@ecoute/core/timing/conversation';
import { isRun } from '@ecoute/core/timing/strip';
import { phaseAt, type ItemState } from '@ecoute/core/timing/itemRun';
import { afterPrompt, isLeftBehind, isPromptCut, isTakenUp, nextStep } from '@ecoute/core/timing/itemSteps';
import type { Item } from '@ecoute/contract/assessments';
import { serverNow } from '../../../base/clock';
import { trackOf } from '../../../parts/player/PlayButton';
import { player, usePlayer } from '../../../parts/player/usePlayer';
import type { FilmSource } from '../../../parts/recorder/camera';
import { BEEP_SEC, beepAt, type Microphone } from '../../../parts/recorder/microphone';
import { accompanist, tone, type Accompanist } from '../../../parts/recorder/accompanist';
import {
  instantOf,
  LONGEST_DECODED_MS,
  momentOf,
  playPrompt,
  type SoundingPrompt,
} from '../../../parts/recorder/prompt';
import { loadSound, loadTurns, playRun, SoundMissing, type SoundingRun } from '../../../parts/recorder/run';
import { beginTake, type RunningTake } from '../../../parts/recorder/take';
import { useSittingUrl } from '../device/device';
import type { Account } from '../useAccount';
import { useRehearsal } from '../rehearsal/rehearsal';
import { useCountdown } from './useCountdown';
import { t } from '../../../base/i18n';

/** The screen stays lit while somebody speaks; where the browser cannot, nothing is lost. */
async function keepAwake(): Promise<() => void> {
  try {
    const lock = await navigator.wakeLock.request('screen');
    return () => void lock.release();
  } catch {
    return () => undefined;
  }
}

/** So long the last samples are under way from the gate to the recorder. */
const FLUSH_MS = 200;

/** What begins automatically is made ready so long before its time, that it begins on it. */
const READY_MS = 400;

/**
 * Runs one item: plays the prompt, counts down, records and stops. What phase it is in comes from the engine
 * in core; this only does what the phases say.
 */
export function useItemRun({
  item,
  sittingId,
  personId,
  account,
  microphone,
  film = null,
  withIds,
}: {
  item: Item;
  sittingId: string;
  personId: string;
  account: Account;
  microphone: Microphone | null;
  /** Camera or screen joined with the microphone. */
  film?: FilmSource | null;
  /** Who else is heard, where an item is answered together on this device. */
  withIds?: readonly string[];
}) {
  const [take, setTake] = useState<RunningTake | null>(null);
  const [starting, setStarting] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** A recording ended because the page was left, and not by its student. */
  const [cut, setCut] = useState(false);
  /** The last recording here ended at its limit, and not by its student. */
  const [endedByClock, setEndedByClock] = useState(false);
  /** True from the moment this page set a countdown going: only then does the answer begin automatically. */
  const live = useRef(false);
  const busy = useRef(false);
  const rehearsal = useRehearsal();
  const url = useSittingUrl(sittingId);
  /** The teacher's turns of a conversation, sounding. */
  const run = useRef<SoundingRun | null>(null);
  /** The prompt, sounding on the audio clock, and its decoded sound for the next hearing. */
  const prompt = useRef<SoundingPrompt | null>(null);
  const decoded = useRef<{ id: string; sound: Promise<AudioBuffer> } | null>(null);
  const [prompting, setPrompting] = useState(false);
  /** True once the student is no longer here. */
  const gone = useRef(false);
  /** Beat, drone and backing track, sounding. */
  const along = useRef<Accompanist | null>(null);
  const sounding = usePlayer();
  const events = account.ofItem(item.id);
  const idle = phaseAt(item, events, serverNow());
  const now = useCountdown(idle.endsAtMs);
  const state: ItemState = phaseAt(item, events, now);
  const { add, ofItem } = account;
  // As they are ticked when it begins.
  const companions = useRef(withIds);
  useEffect(() => {
    companions.current = withIds;
  });

  const beginPrepare = useCallback(
    (atMs = serverNow()) => {
      live.current = true;
      if (item.prepareMs > 0) add('prepareBegan', item.id, atMs);
    },
    [add, item.id, item.prepareMs],
  );

  const silence = useCallback(() => {
    prompt.current?.stop();
    prompt.current = null;
    setPrompting(false);
  }, []);

  const stop = useCallback(async () => {
    const running = take;
    if (!running) return;
    run.current?.stop();
    run.current = null;
    along.current?.stop();
    setTake(null);
    // Stopped while it was counted in: the answer had not begun, and cannot have ended before it did.
    add('recordingEnded', item.id, Math.max(running.nowMs(), running.beganAtMs));
    await running.stop();
  }, [add, item.id, take]);

  // What the device takes away ends as if it was stopped: nothing says that it records when it does not.
  const latestStop = useRef(stop);
  useEffect(() => {
    latestStop.current = stop;
  });

  /** @param fromMs the answer does not begin before this instant, by the server's clock */
  const record = useCallback(
    async (fromMs = 0) => {
      if (!microphone || busy.current) return;
      busy.current = true;
      setStarting(true);
      setTrouble(null);
      setCut(false);
      setEndedByClock(false);
      player.pause();
      // A prompt that is heard again ends here; one that has the answer right after it sounds to its end.
      if (fromMs === 0) silence();
      try {
        // Everything that could be waited for is waited for before the run begins.
        const { context } = microphone;
        const sounds = isRun(item) ? await loadTurns(context, item.turns) : null;
        const band = item.music && !sounds ? await accompanist(context, item.music) : null;
        const layout = band?.layout;
        const running = await beginTake(
          microphone,
          film?.stream.getVideoTracks()[0] ?? null,
          ({ id, beganAt, mediaType, clock }) => ({
            personId,
            place: { sittingId, itemId: item.id },
            announce: rehearsal
              ? null
              : {
                  url: `${url}/takes`,
                  body: {
                    recordingId: id,
                    itemId: item.id,
                    mediaType,
                    beganAt,
                    clock,
                    ...(companions.current?.length && { withIds: [...companions.current] }),
                  },
                },
          }),
          (message, lost) => {
            setTrouble(message);
            if (!lost) return;
            if (lost === 'microphone') add('microphoneLost', item.id);
            void latestStop.current();
          },
          sounds
            ? { soundFromMs: RUN_LEAD_MS, notBeforeSec: momentOf(context, fromMs, serverNow()) }
            : {
                ...layout,
                notBeforeSec: momentOf(context, fromMs, serverNow()),
                before: band
                  ? { lengthSec: band.beforeSec, playAt: band.giveNote }
                  : { lengthSec: BEEP_SEC, playAt: sec => beepAt(context, sec) },
              },
        );
        if (gone.current) {
          // Left while it was made ready: nothing was said yet.
          await running.stop();
          return;
        }
        // What sounds along comes back through the air a little later, and so does the answer to it.
        const soundsAlong = running.clock.soundFromMs !== null;
        running.limit(item.answerLimitMs + (soundsAlong ? running.clock.loopMs : 0));
        band?.begin(running.gateSec, item.answerLimitMs);
        along.current = band;
        if (sounds) run.current = playRun(context, sounds, item.turns, running.gateSec + RUN_LEAD_MS / 1000);
        add('recordingBegan', item.id, running.beganAtMs);
        setTake(running);
      } catch (error) {
        setTrouble(
          error instanceof SoundMissing
            ? t(error.message)
            : t(
                'The recording could not begin: the microphone or this device’s storage is not available. Check the microphone and try again.',
              ),
        );
      } finally {
        busy.current = false;
        setStarting(false);
      }
    },
    [add, film, item, microphone, personId, rehearsal, silence, sittingId, url],
  );

  /** The prompt has sounded: say so, and go on to preparing. */
  const promptOver = useCallback(
    (atMs: number) => {
      const { phase } = phaseAt(item, ofItem(item.id), serverNow());
      add('promptEnded', item.id, atMs);
      const follows = afterPrompt(item, phase, live.current);
      if (follows === 'prepare') beginPrepare(atMs);
      if (follows !== 'record') return;
      live.current = false;
      void record();
    },
    [add, beginPrepare, item, ofItem, record],
  );
  // Events have come since the prompt began: what it calls at its end must know them.
  const latestOver = useRef(promptOver);
  useEffect(() => {
    latestOver.current = promptOver;
  });

  const hearPrompt = useCallback(async () => {
    const id = item.promptRecordingId;
    if (!id || phaseAt(item, ofItem(item.id), serverNow()).hearingsLeft === 0) return;
    setTrouble(null);
    // A film, or what is too long to be decoded as a whole, is streamed.
    if (!microphone || item.promptIsVideo || (item.promptDurationMs ?? 0) > LONGEST_DECODED_MS) {
      add('promptBegan', item.id);
      live.current = true;
      player.setRate(1);
      await player.play(trackOf(id, t('Prompt'), 'teacher', item.promptDurationMs));
      return;
    }
    if (busy.current) return;
    busy.current = true;
    setPrompting(true);
    player.pause();
    try {
      const { context } = microphone;
      if (decoded.current?.id !== id) decoded.current = { id, sound: loadSound(context, id) };
      const sound = await decoded.current.sound;
      await context.resume();
      if (gone.current) return;
      const sounding = playPrompt(context, sound, () => {
        prompt.current = null;
        setPrompting(false);
        latestOver.current(instantOf(context, sounding.endSec, serverNow()));
      });
      prompt.current = sounding;
      // It counts as heard from here on: what could not be had was not heard.
      add('promptBegan', item.id, instantOf(context, sounding.startSec, serverNow()));
      live.current = true;
    } catch {
      decoded.current = null;
      setPrompting(false);
      setTrouble(t('This sound cannot be played just now. Check the connection and press play again.'));
    } finally {
      busy.current = false;
    }
  }, [add, item, microphone, ofItem]);

  // A prompt that is streamed has come to its end.
  useEffect(
    () =>
      player.onEnd(id => {
        if (id === item.promptRecordingId) promptOver(serverNow());
      }),
    [item.promptRecordingId, promptOver],
  );

  // Whatever else is started ends the prompt.
  useEffect(() => {
    if (sounding.playing) silence();
  }, [silence, sounding.playing]);

  // What the clock does next. Timers, not the ticks, so that a busy page does not stretch somebody's time. An answer is made
  // ready a moment before it begins; one that ends is let through to its last sample: the gate shuts at the limit.
  const step = nextStep(item, state, {
    isLive: live.current,
    mayRecord: microphone !== null,
    hasTake: take !== null,
    promptEndsAtMs:
      prompting && prompt.current && microphone
        ? instantOf(microphone.context, prompt.current.endSec, serverNow())
        : null,
  });
  const does = step?.does ?? null;
  // The audio clock and the server's drift by parts of a millisecond: the same instant stays the same timer.
  const stepAtMs = step ? Math.round(step.atMs / 10) * 10 : 0;
  const exactly = useRef(0);
  exactly.current = step?.atMs ?? 0;
  /** Since when the take that runs is over by the server's clock, by a clock that nobody sets. */
  const overSince = useRef<number | null>(null);
  useEffect(() => {
    overSince.current = null;
  }, [take]);
  useEffect(() => {
    if (does === null) return;
    const left = Math.max(0, stepAtMs - serverNow());
    const isStop = does === 'stop';
    const rest = isStop ? left + (take?.clock.gated ? FLUSH_MS + take.clock.loopMs : 0) : left - READY_MS;
    const ends = () => {
      // It is over when it was counted to its end: the server's clock may have been known better, or set, meanwhile.
      overSince.current ??= performance.now();
      const owedMs = take?.owedMs(performance.now() - overSince.current) ?? 0;
      if (owedMs > 0) {
        timer = setTimeout(ends, owedMs + FLUSH_MS);
        return;
      }
      setEndedByClock(true);
      void stop();
    };
    const begins = () => {
      live.current = false;
      void record(exactly.current);
    };
    let timer = setTimeout(isStop ? ends : begins, Math.max(0, rest));
    return () => clearTimeout(timer);
  }, [does, record, stepAtMs, stop, take]);

  // The lock goes with a page that is hidden; it is asked for again when the page is back.
  const [awayMs, setAwayMs] = useState(0);
  useEffect(() => {
    if (!take) return;
    setAwayMs(0);
    let release: (() => void) | null = null;
    let hiddenSince: number | null = null;
    const wake = () => void keepAwake().then(r => (release = r));
    const turn = () => {
      if (document.hidden) {
        hiddenSince = performance.now();
        return;
      }
      if (hiddenSince !== null) setAwayMs(performance.now() - hiddenSince);
      hiddenSince = null;
      wake();
    };
    wake();
    document.addEventListener('visibilitychange', turn);
    return () => {
      document.removeEventListener('visibilitychange', turn);
      release?.();
    };
  }, [take]);

  // A reload. In mid-recording: what was recorded is here, the recording itself is over.
  useEffect(() => {
    const { phase } = phaseAt(item, ofItem(item.id), serverNow());
    if (isLeftBehind(phase, { hasTake: take !== null || busy.current })) {
      const atMs = serverNow();
      add('recordingCut', item.id, atMs - 1);
      add('recordingEnded', item.id, atMs);
      setCut(true);
    }
    if (isPromptCut(ofItem(item.id)) && !account.isOnPhone(item.id)) add('promptCut', item.id);
    // A countdown that is under way goes on, to what it says that it leads to.
    if (isTakenUp(phase)) live.current = true;
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the item comes up
  }, [item.id]);

  // Leaving the item ends a running take; it is kept.
  const running = useRef(take);
  useEffect(() => {
    running.current = take;
  });
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
      prompt.current?.stop();
      run.current?.stop();
      along.current?.stop();
      if (!running.current) return;
      add('recordingEnded', item.id, Math.max(running.current.nowMs(), running.current.beganAtMs));
      void running.current.stop();
    };
  }, [add, item.id]);

  const promptStreams = sounding.track?.id === item.promptRecordingId;
  const promptPlaying = prompting || (sounding.playing && promptStreams);
  return {
    state,
    take,
    starting,
    trouble,
    cut,
    endedByClock,
    /** How long the page was out of sight while it recorded, in ms; 0 where it was not. */
    awayMs,
    promptPlaying,
    hearPrompt,
    beginPrepare,
    /** Begins the answer now, whatever is left of preparing. */
    answerNow: () => {
      live.current = false;
      if (state.phase === 'prepare') add('prepareSkipped', item.id);
      void record();
    },
    /** Position in the run of a conversation, in ms; null when none sounds. */
    runPositionMs: () => run.current?.positionMs() ?? null,
    /** How much of the answer is recorded by now, pauses left out, in ms. */
    recordedNowMs: () => phaseAt(item, ofItem(item.id), serverNow()).recordedMs,
    /** Ms since the first beat of the count-in; null where no beat runs. */
    beatPositionMs: () => along.current?.beatPositionMs() ?? null,
    /** The note to begin from, now. */
    giveNote: () => {
      if (microphone && item.music?.startingNote != null)
        tone(microphone.context, item.music.startingNote, microphone.context.currentTime + 0.05, 1.5);
    },
    stop,
    pause: () => {
      take?.pause();
      add('recordingPaused', item.id, take?.nowMs());
    },
    resume: () => {
      take?.resume();
      add('recordingResumed', item.id, take?.nowMs());
    },
    /** Position inside the item's part of the strip, in ms. */
    position(promptMs: number): number {
      switch (state.phase) {
        case 'ready':
          return 0;
        case 'prompt':
          return Math.min(
            promptMs,
            Math.max(0, prompt.current?.positionMs() ?? (promptStreams ? sounding.positionMs : 0)),
          );
        case 'heard':
          return promptMs;
        case 'prepare':
          return promptMs + item.prepareMs - (state.remainingMs ?? 0);
        case 'yourTurn':
          return promptMs + item.prepareMs;
        case 'record':
        case 'paused':
          return promptMs + item.prepareMs + state.recordedMs;
        case 'review':
          return promptMs + item.prepareMs + item.answerLimitMs;
      }
    },
  };
}
