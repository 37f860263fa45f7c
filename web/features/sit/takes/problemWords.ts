import { clock } from '@ecoute/core/timing/words';
import type { RecordingView } from '@ecoute/contract/recordings';
import { t } from '../../../base/i18n';

/**
 * Why a recording does not stand, in its student's language, with what to do: a recording is made again, a file is chosen
 * again. What only happens to a teacher's files comes in the server's words.
 * @returns null where nothing is wrong with it
 */
export function problemWords(
  recording: Pick<RecordingView, 'problem' | 'message' | 'fileName' | 'durationMs' | 'limitMs'>,
): string | null {
  const { problem, message, durationMs } = recording;
  const isFile = recording.fileName !== null;
  const next = isFile ? t('Choose another file.') : t('Record it again.');
  const limit = clock(recording.limitMs);
  switch (problem) {
    case null:
      return null;
    case 'empty':
      return `${isFile ? t('This file is empty.') : t('Nothing was recorded: the sound is empty.')} ${next}`;
    case 'notAudio':
      return `${t('This is no sound that can be played here: mp3, m4a, wav, flac, ogg, webm, aiff, 3gp or the sound of a film can.')} ${next}`;
    case 'noSound':
      return `${t('Nothing sounds in this film.')} ${next}`;
    case 'noVideo':
      return `${t('There is no picture in this recording.')} ${next}`;
    case 'notWanted':
      return `${t('This is no picture that can be shown here: PNG, JPEG, WebP, GIF, AVIF and TIFF can.')} ${next}`;
    case 'damaged':
      return `${isFile ? t('This file is damaged and cannot be opened. It is kept as it came.') : t('The sound is damaged and cannot be played. It is kept as it came.')} ${next}`;
    case 'tooLong':
      return `${
        durationMs === null
          ? t('This is too long: it may have {{limit}}.', { limit })
          : t('This lasts {{length}}; it may have {{limit}}.', { length: clock(durationMs), limit })
      } ${t('It is kept, but does not count.')} ${next}`;
    case 'lost':
    case 'cancelled':
      return message === null ? null : t(message);
    default:
      return message;
  }
}
