import { isAnotherThan, keepMicrophone, keptMicrophone, soundOf, type Wanted } from './whichMicrophone';

/** A device with microphones (by id and name), of which some are held by another program. */
function deviceWith(there: Record<string, string>, busy: string[] = [], saysNames = true) {
  const stopped: string[] = [];
  const getUserMedia = ({ audio }: { audio: { deviceId?: { exact: string } } }) => {
    const deviceId = audio.deviceId?.exact ?? Object.keys(there)[0];
    if (!deviceId || !(deviceId in there))
      return Promise.reject(new DOMException('', 'OverconstrainedError'));
    if (busy.includes(deviceId)) return Promise.reject(new DOMException('', 'NotReadableError'));
    const track = { label: saysNames ? there[deviceId] : '', stop: () => stopped.push(deviceId), deviceId };
    return Promise.resolve({ getAudioTracks: () => [track], getTracks: () => [track] });
  };
  const enumerateDevices = () =>
    Promise.resolve(
      Object.entries(there).map(([deviceId, label]) => ({
        kind: 'audioinput',
        deviceId,
        label: saysNames ? label : '',
      })),
    );
  Object.defineProperty(globalThis, 'navigator', {
    configurable: true,
    value: { mediaDevices: { getUserMedia, enumerateDevices } },
  });
  return stopped;
}

const idOf = async (wanted: Wanted | null) =>
  ((await soundOf(wanted, {})).getAudioTracks()[0] as unknown as { deviceId: string }).deviceId;

beforeAll(() => {
  const kept = new Map<string, string>();
  const localStorage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  };
  Object.defineProperty(globalThis, 'localStorage', { configurable: true, value: localStorage });
});

const desk = { deviceId: 'desk', name: 'Desk' };

test('the microphone that was chosen is opened, not whichever the browser prefers', async () => {
  deviceWith({ lid: 'Lid', desk: 'Desk' });
  expect(await idOf(desk)).toBe('desk');
  expect(await idOf(null)).toBe('lid');
  // Where no name is said, the id is all there is.
  deviceWith({ lid: 'Lid', desk: 'Desk' }, [], false);
  expect(await idOf({ deviceId: 'desk', name: null })).toBe('desk');
});

test('it is found again by its name where it has another id by now, and the one in its place is let go', async () => {
  const stopped = deviceWith({ lid: 'Lid', x17: 'Desk' });
  expect(await idOf(desk)).toBe('x17');
  expect(stopped).toEqual(['lid']);
});

test('where it is not there, or held by another program, whichever there is; where none is, that is said', async () => {
  const stopped = deviceWith({ lid: 'Lid' });
  expect(await idOf(desk)).toBe('lid');
  deviceWith({ lid: 'Lid', desk: 'Desk' }, ['desk']);
  expect(await idOf(desk)).toBe('lid');
  deviceWith({ lid: 'Lid', x17: 'Desk' }, ['x17']);
  expect(await idOf(desk)).toBe('lid');
  expect(stopped).toEqual([]);
  deviceWith({});
  await expect(soundOf(desk, {})).rejects.toMatchObject({ name: 'OverconstrainedError' });
});

test('what was chosen is kept, with its name where there is one', () => {
  keepMicrophone(desk);
  expect(keptMicrophone()).toEqual(desk);
  keepMicrophone({ deviceId: 'lid', name: null });
  expect(keptMicrophone()).toEqual({ deviceId: 'lid', name: null });
});

test('another microphone is told by its name, and by its id where there is none', () => {
  const lid = { deviceId: 'lid', name: 'Lid' };
  expect(isAnotherThan(null, lid)).toBe(false);
  expect(isAnotherThan(desk, desk)).toBe(false);
  expect(isAnotherThan(desk, lid)).toBe(true);
  expect(isAnotherThan(desk, { deviceId: 'x17', name: 'Desk' })).toBe(false);
  // Behind the default one is whatever the system prefers by now.
  const byDefault = (name: string | null) => ({ deviceId: 'default', name });
  expect(isAnotherThan(byDefault('Built in'), byDefault('Headset'))).toBe(true);
  expect(isAnotherThan(byDefault(null), byDefault('Headset'))).toBe(false);
  expect(isAnotherThan({ deviceId: 'desk', name: null }, lid)).toBe(true);
});
