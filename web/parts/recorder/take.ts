import { stillOwedMs, timeOfTake } from '@ecoute/core/timing/itemSteps';
import type { Beat, TakeClock } from '@ecoute/core/timing/takeClock';
import { serverNow } from '../../base/clock';
import { desk } from './delivery';
import { instantOf } from './prompt';
import type { Microphone } from './microphone';
import type { KeptSound } from './soundStore';
import { takeGraph } from './takeGraph';
import { t } from '../../base/i18n';

/** What browsers can record, best first: Opus in WebM, AAC in MP4 where that is all there is. */
const TYPES = ['audio/webm;codecs=opus', 'audio/mp4;codecs=mp4a.40.2', 'audio/ogg;codecs=opus', 'audio/mp4'];

/** The same for camera and screen: what is light to encode while it runs. */
const FILM_TYPES = [
  'video/webm;codecs=vp8,opus',
  'video/webm',
  'video/mp4;codecs=avc1.42E01E,mp4a.40.2',
  'video/mp4',
];
const FILM_BITS_PER_SECOND = 1_000_000;

export function recordingType(withFilm = false): string {
  return (withFilm ? FILM_TYPES : TYPES).find(t => MediaRecorder.isTypeSupported(t)) ?? '';
}

export interface RunningTake {
  id: string;
  /** The answer's window begins: ms since 1970 by the server's clock. */
  beganAtMs: number;
  /** The gate opens: seconds of the microphone's context. */
  gateSec: number;
  clock: TakeClock;
  /** Lets nothing more through once this much of the answer is recorded, pauses left out. In ms. */
  limit(ms: number): void;
  /** Now, by the server's clock: counted from when this began, so that setting a clock in the middle changes nothing. */
  nowMs(): number;
  /** How much of it is still to come, by clocks that nobody sets; 0 without a limit. @param overMs for how long it has been over */
  owedMs(overMs: number): number;
  /** Holds the recording; what comes next is joined without a gap. */
  pause(): void;
  resume(): void;
  /** Ends the recording; resolves when its last piece is on the disk. */
  stop(): Promise<void>;
}

/** From the recorder's start to the gate: time for what is to sound along to be scheduled. */
const GATE_LEAD_SEC = 0.15;
/** The recorder is started this long before the gate, so that a take does not begin with a long silence. */
const START_LEAD_SEC = 0.25;

/**
 * Engines that record MP4 lose what is in their last fragment (of a second): the recorder runs on over silence for so long, that
 * nothing of the answer is in it. Under the tolerance by which a take may be longer than its limit.
 */
const MP4_TAIL_MS = 1_250;

/** What sounds along late is waited for so long: under that tolerance as well, and nothing where the tail takes it. */
const LATE_MS = MP4_TAIL_MS;

/** A clock that stood still goes on within this, or not at all. */
const RESUMES_MS = 1_000;

export interface Along {
  /** The answer's window begins so long after the gate (a count-in), in ms. */
  answerFromMs?: number;
  /** What sounds along begins so long after the gate, in ms; null where nothing does. */
  soundFromMs?: number | null;
  beat?: Beat | null;
  /** Sounds before the gate, for the ears only: how long it takes, in seconds. */
  before?: { lengthSec: number; playAt: (sec: number) => void };
  /** Nothing of this sounds before: the prompt or the time to prepare ends here, in seconds of the context. */
  notBeforeSec?: number;
}

/**
 * Begins to record. Each second goes to this device's disk and from there to the server.
 * @param film     a picture that is recorded along
 * @param describe how to announce the sound and where it belongs
 * @param onTrouble called when the device fails in the middle (disk full, or something is `lost` and the take is over);
 *   what was recorded stays
 * @throws when the recorder cannot be had
 */
export async function beginTake(
  { context, source, stream: heard, loop }: Pick<Microphone, 'context' | 'source' | 'stream' | 'loop'>,
  film: MediaStreamTrack | null,
  describe: (take: {
    id: string;
    beganAt: string;
    mediaType: string;
    clock: TakeClock;
  }) => Pick<KeptSound, 'announce' | 'place' | 'personId' | 'aside'>,
  onTrouble: (message: string, lost?: 'microphone' | 'picture') => void,
  { answerFromMs = 0, soundFromMs = null, beat = null, before, notBeforeSec = 0 }: Along = {},
): Promise<RunningTake> {
  await context.resume();
  const mimeType = recordingType(film !== null);
  const tailMs = mimeType.includes('mp4') ? MP4_TAIL_MS : 0;
  // Only what sounds along needs the audio clock, and a recorder that is to run on over silence. Whatever else is recorded goes
  // straight from the microphone to the recorder: a device too busy to keep up with the clock loses nothing of it.
  const graph = soundFromMs === null && tailMs === 0 ? null : takeGraph(context, source, film);
  const stream = graph?.stream ?? new MediaStream([...heard.getAudioTracks(), ...(film ? [film] : [])]);
  const recorder = new MediaRecorder(stream, {
    mimeType,
    audioBitsPerSecond: 96_000,
    ...(film && { videoBitsPerSecond: FILM_BITS_PER_SECOND }),
  });
  const id = crypto.randomUUID();
  let index = 0;
  let saidFull = false;
  let kept: Promise<void> = Promise.resolve();
  // Pieces are written one after the other, so that none overtakes another on its way to the disk.
  let writing: Promise<void> = Promise.resolve();
  recorder.ondataavailable = event => {
    if (event.data.size === 0) return;
    const own = index++;
    writing = Promise.all([kept, writing])
      .then(() => desk.piece(id, own, event.data))
      .then(isKept => {
        if (isKept || saidFull) return;
        saidFull = true;
        onTrouble(
          t(
            'This device has no room left. What you say goes straight to Ecoute and is not kept here: leave this page open until it is stored.',
          ),
        );
      });
  };
  const over = new Promise<void>(resolve =>
    recorder.addEventListener('stop', () => resolve(), { once: true }),
  );
  recorder.onerror = () =>
    onTrouble(t('The microphone stopped working. What was recorded until now is safe.'));
  const lost = (what: 'microphone' | 'picture', message: string) => () => {
    if (recorder.state !== 'inactive') {
      recorder.stop();
      onTrouble(message, what);
    }
  };
  const unplugged = lost(
    'microphone',
    t('The microphone was unplugged or taken away. What was recorded until now is safe.'),
  );
  const dark = lost('picture', t('The picture was taken away. What was recorded until now is safe.'));
  heard.getAudioTracks()[0]?.addEventListener('ended', unplugged);
  film?.addEventListener('ended', dark);
  const running = new Promise<void>(resolve =>
    recorder.addEventListener('start', () => resolve(), { once: true }),
  );
  const beforeSec = Math.max(context.currentTime + 0.05, notBeforeSec);
  const soundedSec = beforeSec + (before?.lengthSec ?? 0);
  before?.playAt(beforeSec);
  const wait = soundedSec - (graph ? START_LEAD_SEC : 0) - context.currentTime;
  if (wait > 0) await new Promise(resolve => setTimeout(resolve, wait * 1000));
  recorder.start(1000);
  await running;
  // From here on the recorder takes silence; all that follows has its place on the clock.
  const gateSec = graph ? Math.max(soundedSec, context.currentTime + GATE_LEAD_SEC) : context.currentTime;
  graph?.openAt(gateSec);
  const beganAtMs = instantOf(context, gateSec, serverNow()) + answerFromMs;
  const beganAt = new Date(beganAtMs).toISOString();
  const clock: TakeClock = {
    gated: graph !== null,
    soundFromMs,
    answerFromMs,
    loopMs: loop.ms,
    loopMeasured: loop.measured,
    beat,
  };
  const mediaType = recorder.mimeType || 'audio/webm';
  const close = () => {
    heard.getAudioTracks()[0]?.removeEventListener('ended', unplugged);
    film?.removeEventListener('ended', dark);
    graph?.close();
  };
  kept = desk.begin({
    id,
    beganAt,
    mediaType,
    ended: false,
    refusal: null,
    ...describe({ id, beganAt, mediaType, clock }),
  });
  try {
    await kept;
  } catch (error) {
    recorder.stop();
    close();
    throw error;
  }
  let limitMs: number | null = null;
  /** When the window runs again, and what of the answer was recorded before that; in seconds. */
  let runsFrom = gateSec + answerFromMs / 1000;
  let recorded = 0;
  /** Pauses and their ends, one after the other. */
  let holding: Promise<void> = Promise.resolve();
  let isHeld = false;
  /** The same by counting: when it runs again, and what was counted before; in ms. Null while it is held. */
  const beganCount = performance.now() + (gateSec - context.currentTime) * 1_000 + answerFromMs;
  let countsFrom: number | null = beganCount;
  let counted = 0;
  const shutsSec = () => runsFrom + (limitMs ?? 0) / 1000 - recorded;
  const shut = () => limitMs !== null && graph?.shutAt(shutsSec());
  return {
    id,
    beganAtMs,
    gateSec,
    clock,
    limit(ms) {
      limitMs = ms;
      // Not before the gate is open: shutting takes back what is scheduled.
      const wait = gateSec - context.currentTime;
      if (wait > 0) setTimeout(shut, wait * 1000 + 50);
      else shut();
    },
    nowMs: () => timeOfTake(beganAtMs + performance.now() - beganCount, serverNow()),
    owedMs: overMs =>
      limitMs === null
        ? 0
        : stillOwedMs(
            soundFromMs === null ? null : (shutsSec() - context.currentTime) * 1_000,
            limitMs - counted - (countsFrom === null ? 0 : performance.now() - countsFrom),
            { lateMs: LATE_MS - tailMs, overMs },
          ),
    pause() {
      holding = holding.then(async () => {
        if (recorder.state !== 'recording') return;
        // What sounds along stands still with the recording: the clock that both go by does. The other way round the recorder
        // would miss what the clock still sounded.
        if (graph) {
          await context.suspend();
          isHeld = true;
        }
        recorder.pause();
        if (countsFrom !== null) counted += Math.max(0, performance.now() - countsFrom);
        countsFrom = null;
        if (!graph) recorded += Math.max(0, context.currentTime - runsFrom);
      });
    },
    resume() {
      holding = holding.then(async () => {
        if (recorder.state !== 'paused') return;
        recorder.resume();
        countsFrom = performance.now();
        if (graph) {
          await context.resume();
          isHeld = false;
        } else runsFrom = context.currentTime;
      });
    },
    async stop() {
      await holding;
      // The microphone is heard again by whatever comes next; a card that is gone is not waited for.
      if (isHeld)
        await Promise.race([context.resume(), new Promise(resolve => setTimeout(resolve, RESUMES_MS))]);
      if (tailMs > 0 && recorder.state === 'recording') {
        graph?.shutAt(context.currentTime);
        await new Promise(resolve => setTimeout(resolve, tailMs));
      }
      if (recorder.state !== 'inactive') recorder.stop();
      await over;
      close();
      await writing;
      await desk.end(id);
    },
  };
}
