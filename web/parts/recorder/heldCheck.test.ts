import { checkHolds, keepCheck } from './heldCheck';

const kept = new Map<string, string>();
beforeAll(() => {
  Object.defineProperty(globalThis, 'localStorage', {
    configurable: true,
    value: { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => kept.set(k, v) },
  });
});
beforeEach(() => kept.clear());

const HOUR = 3_600_000;

test('a check holds to the end of the day after, for the same microphone and the same use', () => {
  jest.useFakeTimers({ now: new Date(2027, 2, 3, 23, 50) });
  const at = Date.now();
  keepCheck({ device: 'desk' }, false);
  expect(checkHolds(false, 'desk', at + HOUR)).toBe(true);
  expect(checkHolds(false, undefined, at + 23 * HOUR)).toBe(true);
  expect(checkHolds(false, 'desk', at + 25 * HOUR)).toBe(false);
  expect(checkHolds(false, 'headset', at + HOUR)).toBe(false);
  // Music is recorded without the browser's processing: another sound.
  expect(checkHolds(true, 'desk', at + HOUR)).toBe(false);
  // A clock that was set back tells nothing.
  expect(checkHolds(false, 'desk', at - HOUR)).toBe(false);
  jest.useRealTimers();
});

test('nothing kept, or something torn, is no check', () => {
  expect(checkHolds(false)).toBe(false);
  kept.set('ecoute-microphone-heard', '{"deviceId"');
  expect(checkHolds(false)).toBe(false);
});
