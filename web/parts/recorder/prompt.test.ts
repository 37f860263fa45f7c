import { instantOf, momentOf, playPrompt } from './prompt';

/** A context whose clock stands still, and the one source that was made on it. */
function contextAt(currentTime: number) {
  const made: { onended: (() => void) | null; startedAt: number | null; stopped: boolean }[] = [];
  const context = {
    currentTime,
    destination: {},
    createBufferSource() {
      const source = {
        onended: null as (() => void) | null,
        startedAt: null as number | null,
        stopped: false,
        buffer: null,
        connect: () => undefined,
        disconnect: () => undefined,
        start: (sec: number) => (source.startedAt = sec),
        stop: () => (source.stopped = true),
      };
      made.push(source);
      return source;
    },
  };
  return { context, audio: context as unknown as AudioContext, made };
}
const sound = { duration: 2.5 } as AudioBuffer;

describe('a prompt on the audio clock', () => {
  it('knows to the sample when it ends, before it does', () => {
    const { context, audio, made } = contextAt(10);
    const prompt = playPrompt(audio, sound, () => undefined);
    expect(made[0]!.startedAt).toBe(prompt.startSec);
    expect(prompt.startSec).toBeGreaterThan(10);
    expect(prompt.endSec - prompt.startSec).toBeCloseTo(2.5, 9);
    expect(prompt.positionMs()).toBeLessThan(0);
    context.currentTime = prompt.startSec + 1.25;
    expect(prompt.positionMs()).toBeCloseTo(1_250, 6);
  });

  it('says that it ended, but not after it was stopped', () => {
    const { audio, made } = contextAt(0);
    let ended = 0;
    playPrompt(audio, sound, () => (ended += 1));
    made[0]!.onended?.();
    expect(ended).toBe(1);
    const second = playPrompt(audio, sound, () => (ended += 1));
    second.stop();
    made[1]!.onended?.();
    expect(made[1]!.stopped).toBe(true);
    expect(ended).toBe(1);
  });

  it('goes from the server’s clock to its own and back', () => {
    const { context } = contextAt(42);
    const now = Date.UTC(2026, 10, 25, 9, 0, 0);
    expect(momentOf(context, now + 1_500, now)).toBeCloseTo(43.5, 9);
    expect(instantOf(context, 43.5, now)).toBe(now + 1_500);
    // What was to begin at no certain time lies long past: it begins now.
    expect(momentOf(context, 0, now)).toBeLessThan(0);
  });
});
