import { learnClock, serverNow } from './clock';

describe('the server’s clock', () => {
  beforeEach(() => jest.useFakeTimers({ now: 1_000_000 }));
  afterEach(() => jest.useRealTimers());

  it('is learned from an answer, and best from the quickest', () => {
    // An hour behind, heard after a round trip of 400 ms.
    learnClock(new Date(1_000_000 + 3_600_000).toISOString(), 1_000_000 - 400);
    expect(serverNow()).toBe(1_000_000 + 3_600_000 + 200);
    // A slower answer does not spoil it; a quicker one makes it better.
    learnClock(new Date(5).toISOString(), 1_000_000 - 5_000);
    expect(serverNow()).toBe(1_000_000 + 3_600_000 + 200);
    learnClock(new Date(1_000_000 + 3_600_000).toISOString(), 1_000_000 - 20);
    expect(serverNow()).toBe(1_000_000 + 3_600_000 + 10);
    jest.advanceTimersByTime(500);
    expect(serverNow()).toBe(1_000_500 + 3_600_000 + 10);
  });
});
