import { serverNow } from '../../app/clock';
import { desk } from './delivery';
import type { KeptSound } from './soundStore';
import { t } from '../../app/i18n';

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
  /** Ms since 1970 by the server's clock. */
  beganAtMs: number;
  /** Resolves when the recorder really runs: the first sample of the take is now. */
  running: Promise<void>;
  /** Holds the recording; what comes next is joined without a gap. */
  pause(): void;
  resume(): void;
  /** Ends the recording; resolves when its last piece is on the disk. */
  stop(): Promise<void>;
}

/**
 * Begins to record. Each second goes to this device's disk and from there to the server.
 * @param describe how to announce the sound and where it belongs
 * @param onTrouble called when the device fails in the middle (unplugged, disk full); what was recorded stays
 */
export async function beginTake(
  stream: MediaStream,
  describe: (
    id: string,
    beganAt: string,
    mediaType: string,
  ) => Pick<KeptSound, 'announce' | 'place' | 'personId'>,
  onTrouble: (message: string) => void,
): Promise<RunningTake> {
  const withFilm = stream.getVideoTracks().length > 0;
  const recorder = new MediaRecorder(stream, {
    mimeType: recordingType(withFilm),
    audioBitsPerSecond: 96_000,
    ...(withFilm && { videoBitsPerSecond: FILM_BITS_PER_SECOND }),
  });
  const id = crypto.randomUUID();
  const beganAtMs = serverNow();
  const beganAt = new Date(beganAtMs).toISOString();
  const mediaType = recorder.mimeType || 'audio/webm';
  await desk.begin({
    id,
    beganAt,
    mediaType,
    ended: false,
    refusal: null,
    ...describe(id, beganAt, mediaType),
  });
  let index = 0;
  // Pieces are written one after the other, so that none overtakes another on its way to the disk.
  let writing: Promise<void> = Promise.resolve();
  recorder.ondataavailable = event => {
    if (event.data.size === 0) return;
    const own = index++;
    writing = writing
      .then(() => desk.piece(id, own, event.data))
      .catch(() =>
        onTrouble(
          t(
            'This device could not keep the last second: its storage is full. Stop now; what was recorded before is safe.',
          ),
        ),
      );
  };
  const over = new Promise<void>(resolve =>
    recorder.addEventListener('stop', () => resolve(), { once: true }),
  );
  recorder.onerror = () =>
    onTrouble(t('The microphone stopped working. What was recorded until now is safe.'));
  const lost = (message: string) => () => {
    if (recorder.state !== 'inactive') {
      recorder.stop();
      onTrouble(message);
    }
  };
  stream
    .getAudioTracks()[0]
    ?.addEventListener(
      'ended',
      lost(t('The microphone was unplugged or taken away. What was recorded until now is safe.')),
    );
  stream
    .getVideoTracks()[0]
    ?.addEventListener('ended', lost(t('The picture was taken away. What was recorded until now is safe.')));
  const running = new Promise<void>(resolve =>
    recorder.addEventListener('start', () => resolve(), { once: true }),
  );
  recorder.start(1000);
  return {
    id,
    beganAtMs,
    running,
    pause: () => recorder.state === 'recording' && recorder.pause(),
    resume: () => recorder.state === 'paused' && recorder.resume(),
    async stop() {
      if (recorder.state !== 'inactive') recorder.stop();
      await over;
      await writing;
      await desk.end(id);
    },
  };
}
