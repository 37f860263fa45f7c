/** Which microphone: the one that was chosen on this device, found again whatever id it has by now. */

/** What was chosen: by its id, and by its name, which is null where the browser did not say it. */
export interface Wanted {
  deviceId: string;
  name: string | null;
}

const KEPT = 'ecoute-microphone';
const KEPT_NAME = 'ecoute-microphone-name';

/** How browsers say that a device which is asked for is not there, or not free. */
const NOT_THERE = ['OverconstrainedError', 'NotFoundError', 'NotReadableError', 'AbortError'];

/** The microphone of this device that was used last. */
export function keptMicrophone(): Wanted | null {
  const deviceId = localStorage.getItem(KEPT);
  return deviceId ? { deviceId, name: localStorage.getItem(KEPT_NAME) } : null;
}

export function keepMicrophone({ deviceId, name }: Wanted): void {
  localStorage.setItem(KEPT, deviceId);
  if (name) localStorage.setItem(KEPT_NAME, name);
  else localStorage.removeItem(KEPT_NAME);
}

async function inputs(): Promise<MediaDeviceInfo[]> {
  const devices = await navigator.mediaDevices.enumerateDevices();
  return devices.filter(d => d.kind === 'audioinput' && d.deviceId);
}

/** Microphones by name; names are empty until one was allowed. */
export async function microphones(): Promise<{ id: string; name: string }[]> {
  return (await inputs()).map((d, i) => ({ id: d.deviceId, name: d.label || `Microphone ${i + 1}` }));
}

/** A microphone that was just chosen among those that are there. */
export async function chosenMicrophone(deviceId: string): Promise<Wanted> {
  const found = (await inputs()).find(d => d.deviceId === deviceId);
  return { deviceId, name: found?.label || null };
}

const nameOf = (stream: MediaStream) => stream.getAudioTracks()[0]?.label || null;

/**
 * The sound of the microphone that is wanted; of whichever there is, where that one is not there or not free.
 * @param audio how it is to be had besides
 * @throws DOMException as getUserMedia gives it
 */
export async function soundOf(wanted: Wanted | null, audio: MediaTrackConstraints): Promise<MediaStream> {
  const ask = (deviceId?: string) =>
    // As a wish among others a browser may pass over it.
    navigator.mediaDevices.getUserMedia({
      audio: { ...audio, ...(deviceId && { deviceId: { exact: deviceId } }) },
    });
  const orNone = (error: unknown) => {
    if (!NOT_THERE.includes((error as DOMException | null)?.name ?? '')) throw error;
    return null;
  };
  if (!wanted) return ask();
  const stream = (await ask(wanted.deviceId).catch(orNone)) ?? (await ask());
  if (!wanted.name || nameOf(stream) === wanted.name) return stream;
  // Some browsers give a microphone another id with every visit, and say its name only now.
  const again = (await inputs()).find(d => d.label === wanted.name);
  if (!again) return stream;
  const found = await ask(again.deviceId).catch(orNone);
  if (!found) return stream;
  stream.getTracks().forEach(t => t.stop());
  return found;
}

/**
 * Whether a microphone is another one than was wanted: by its name where both are known, for ids may change. Two of one model
 * are one by their name.
 */
export function isAnotherThan(wanted: Wanted | null, opened: Wanted): boolean {
  if (!wanted) return false;
  if (wanted.name && opened.name) return wanted.name !== opened.name;
  return wanted.deviceId !== opened.deviceId;
}
