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

  it('is learned anew when this device’s clock was set, and when what is known is old', () => {
    const server = 50_000_000;
    learnClock(new Date(server).toISOString(), Date.now() - 10);
    expect(serverNow()).toBe(server + 5);
    // Somebody sets the clock of the phone an hour on: the next answer holds, also a slow one.
    jest.setSystemTime(Date.now() + 3_600_000);
    learnClock(new Date(server + 1_000).toISOString(), Date.now() - 400);
    expect(serverNow()).toBe(server + 1_000 + 200);
    jest.advanceTimersByTime(6 * 60_000);
    learnClock(new Date(server).toISOString(), Date.now() - 900);
    expect(serverNow()).toBe(server + 450);
  });
});
