import { CHECK_FRAME_SEC, isTelephone, LiveCheck } from './liveCheck';

const RATE = 16_000;
const SIZE = RATE * CHECK_FRAME_SEC;

type Sound = (atSec: number) => number;
const noise =
  (loud: number): Sound =>
  () =>
    loud * (2 * Math.random() - 1);
const tone =
  (hz: number, loud: number): Sound =>
  at =>
    loud * Math.sin(2 * Math.PI * hz * at);
/** A voice: 0.4 s of tone, 0.2 s of nearly nothing. */
const voice =
  (loud: number, room = 0.0005): Sound =>
  at =>
    (at % 0.6 < 0.4 ? tone(180, loud)(at) : 0) + noise(room)(0);

/** What is said at each half second of a sound, looked at twenty times a second. */
function said(sound: Sound, seconds: number): (string | null)[] {
  const check = new LiveCheck(RATE, 0);
  const verdicts = [];
  for (let look = 0; look < seconds * 20; look++) {
    const from = look / 20;
    const frame = new Float32Array(SIZE + 128);
    for (let i = 0; i < frame.length; i++) frame[i] = sound(from + i / RATE);
    const verdict = check.hear(frame, from * 1000);
    if (look % 10 === 9) verdicts.push(verdict);
  }
  return verdicts;
}

test('a voice is heard within two seconds, and nothing is said before it', () => {
  const verdicts = said(at => (at < 2 ? 0 : voice(0.2)(at)), 5);
  expect(verdicts.slice(0, 4)).toEqual([null, null, null, null]);
  expect(verdicts.at(-1)).toBe('good');
});

test('a dead microphone is told after four seconds, and not before', () => {
  const verdicts = said(() => 0, 5);
  expect(verdicts.slice(0, 8)).toEqual(Array(8).fill(null));
  expect(verdicts.at(-1)).toBe('silent');
});

test('who is heard at last is told so, after it was said that nothing was', () => {
  expect(said(at => (at < 5 ? 0 : voice(0.2)(at)), 8).at(-1)).toBe('good');
});

test.each([
  ['faint', voice(0.012, 0.0001)],
  ['clipped', (at: number) => Math.max(-1, Math.min(1, voice(3)(at)))],
  ['noisy', voice(0.2, 0.05)],
  ['good', tone(440, 0.1)],
])('%s is told', (verdict, sound) => {
  expect(said(sound, 4).at(-1)).toBe(verdict);
});

test('a bang is not a voice', () => {
  expect(said(at => (at > 1 && at < 1.2 ? 0.5 : 0), 3).at(-1)).toBeNull();
});

describe('telephone quality', () => {
  const spectrum = (db: (hz: number) => number) =>
    Float32Array.from({ length: 1024 }, (_, i) => db((i / 1024) * 24_000));
  test('is told by what lies above its band', () => {
    expect(
      isTelephone(
        spectrum(hz => (hz < 4000 ? -30 : -120)),
        48_000,
      ),
    ).toBe(true);
    expect(
      isTelephone(
        spectrum(hz => -30 - hz / 250),
        48_000,
      ),
    ).toBe(false);
    // A dull microphone in a soft room is none.
    expect(
      isTelephone(
        spectrum(hz => -35 - hz / 130),
        48_000,
      ),
    ).toBe(false);
  });
  test('is not told of silence', () => {
    expect(
      isTelephone(
        spectrum(() => -100),
        48_000,
      ),
    ).toBeNull();
  });
});
