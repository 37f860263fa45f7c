/** Camera and screen beside the microphone, for answers and prompts that are seen as well. */
import { microphoneTrouble } from './microphone';
import { t } from '../../base/i18n';

export type Seen = 'camera' | 'screen';

/** Something to be filmed together with the microphone. */
export interface FilmSource {
  /** Picture of the source, sound of the microphone. */
  stream: MediaStream;
  close(): void;
}

/**
 * Opens the camera, or asks for the screen, and joins it with a microphone that is open already.
 * @throws DOMException as the browser gives it; `filmTrouble` puts it in words
 */
export async function openFilm(seen: Seen, microphone: MediaStream): Promise<FilmSource> {
  if (!navigator.mediaDevices) throw new DOMException('no media devices', 'SecurityError');
  const picture =
    seen === 'camera'
      ? await navigator.mediaDevices.getUserMedia({
          video: { width: { ideal: 1280 }, height: { ideal: 720 }, frameRate: { ideal: 24 } },
        })
      : await navigator.mediaDevices.getDisplayMedia({ video: { frameRate: { ideal: 12 } }, audio: false });
  return {
    stream: new MediaStream([...picture.getVideoTracks(), ...microphone.getAudioTracks()]),
    close: () => picture.getTracks().forEach(t => t.stop()),
  };
}

/** Why there is no picture, and what to do about it. */
export function filmTrouble(error: unknown, seen: Seen): string {
  const name = (error as DOMException | null)?.name;
  if (seen === 'screen') {
    if (name === 'NotAllowedError' || name === 'AbortError')
      return t('No screen was chosen. Try again, and choose a window or the whole screen.');
    return t(
      'This browser cannot record the screen. Use a computer with a current browser, or ask your teacher for another way to answer.',
    );
  }
  if (name === 'NotFoundError' || name === 'OverconstrainedError')
    return t(
      'This device has no camera that we can find. Plug one in, or go on with another device, then try again.',
    );
  if (name === 'NotReadableError') return t('Another program holds the camera. Close calls, then try again.');
  if (name === 'NotAllowedError' || name === 'SecurityError')
    return t(
      'The browser does not let this page use the camera. Allow it beside the address, then try again.',
    );
  return microphoneTrouble(error);
}
