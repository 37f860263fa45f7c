import { isAnotherThan } from './microphone';

test('another microphone is told by its id, and behind the default one by its name', () => {
  const desk = { deviceId: 'desk', device: 'desk Desk' };
  const builtIn = { deviceId: 'default', device: 'default Built in' };
  const headset = { deviceId: 'default', device: 'default Headset' };
  expect(isAnotherThan(desk, desk)).toBe(false);
  expect(isAnotherThan(desk, { deviceId: 'lid', device: 'lid Lid' })).toBe(true);
  expect(isAnotherThan(builtIn, headset)).toBe(true);
  expect(isAnotherThan(headset, headset)).toBe(false);
  // The first time, and where somebody chose the default one after another.
  expect(isAnotherThan({ deviceId: null, device: null }, headset)).toBe(false);
  expect(isAnotherThan({ deviceId: 'default', device: null }, headset)).toBe(false);
  expect(isAnotherThan({ deviceId: 'default', device: 'desk Desk' }, headset)).toBe(false);
});
