import { missingMs, recordedForMs } from './missing';

const at = (...list: [string, number][]) => list.map(([kind, atMs]) => ({ kind, atMs }));

describe('how long a page recorded', () => {
  it('is from its beginning to its end, pauses left out', () => {
    expect(recordedForMs(at(['recordingBegan', 100], ['recordingEnded', 5_100]), 100)).toBe(5_000);
    const paused = at(
      ['recordingBegan', 0],
      ['recordingPaused', 2_000],
      ['recordingResumed', 9_000],
      ['recordingEnded', 10_000],
    );
    expect(recordedForMs(paused, 0)).toBe(3_000);
    // Ended in a pause.
    expect(recordedForMs(at(['recordingPaused', 2_000], ['recordingEnded', 60_000]), 0)).toBe(2_000);
  });

  it('is not known of a take that never ended, or was followed by another', () => {
    expect(recordedForMs(at(['recordingBegan', 0]), 0)).toBeNull();
    expect(recordedForMs(at(['recordingBegan', 5_000], ['recordingEnded', 9_000]), 0)).toBeNull();
  });

  it('is not known where the page went away in the middle', () => {
    expect(recordedForMs(at(['recordingCut', 59_999], ['recordingEnded', 60_000]), 0)).toBeNull();
  });

  it('is of this take, whatever came before it', () => {
    const two = at(
      ['recordingBegan', 0],
      ['recordingEnded', 900],
      ['recordingBegan', 2_000],
      ['recordingEnded', 4_000],
    );
    expect(recordedForMs(two, 2_000)).toBe(2_000);
  });
});

test('a little is not missing; a second and a half is', () => {
  expect(missingMs(9_000, 10_100)).toBeNull();
  expect(missingMs(8_000, 10_100)).toBe(2_100);
  // With a tail of silence it is longer than the clock.
  expect(missingMs(11_300, 10_000)).toBeNull();
  expect(missingMs(null, 10_000)).toBeNull();
  expect(missingMs(8_000, null)).toBeNull();
});
