import { Player, type Sounding, type Track } from './player';

/** An audio element without sound: what matters is the order of calls and events. */
class FakeAudio implements Sounding {
  src = '';
  currentTime = 0;
  playbackRate = 1;
  preservesPitch = false;
  preload = '';
  duration = NaN;
  refuse: Error | null = null;
  private readonly heard = new Map<string, (() => void)[]>();

  async play() {
    if (this.refuse) throw this.refuse;
    this.say('playing');
  }
  pause() {
    this.say('pause');
  }
  load() {
    this.currentTime = 0;
  }
  addEventListener(type: string, listener: () => void) {
    this.heard.set(type, [...(this.heard.get(type) ?? []), listener]);
  }
  say(type: string) {
    this.heard.get(type)?.forEach(l => l());
  }
}

const track = (id: string, durationMs: number | null = 10_000): Track => ({
  id,
  url: `/${id}`,
  title: id,
  voice: 'student',
  durationMs,
});

function player() {
  const audio = new FakeAudio();
  return { audio, player: new Player(audio) };
}

describe('the player', () => {
  it('plays one sound at a time and keeps the speed from one to the next', async () => {
    const { audio, player: p } = player();
    p.setRate(1.5);
    await p.play(track('a'));
    expect(p.now()).toMatchObject({ playing: true, track: { id: 'a' } });
    await p.play(track('b'));
    expect(audio.src).toBe('/b');
    expect(audio.playbackRate).toBe(1.5);
    expect(audio.preservesPitch).toBe(true);
  });

  it('goes on where it was when the same sound is played again, and from the start after its end', async () => {
    const { audio, player: p } = player();
    await p.play(track('a'));
    p.seek(4_000);
    p.pause();
    await p.play(track('a'));
    expect(audio.currentTime).toBe(4);
    audio.say('ended');
    expect(p.now()).toMatchObject({ playing: false, positionMs: 10_000 });
    await p.play(track('a'));
    expect(audio.currentTime).toBe(0);
  });

  it('never seeks outside the sound', async () => {
    const { audio, player: p } = player();
    await p.play(track('a'));
    p.skip(-3_000);
    expect(audio.currentTime).toBe(0);
    p.seek(99_000);
    expect(audio.currentTime).toBe(10);
  });

  it('says when a sound cannot be played, but not when another was simply faster', async () => {
    const { audio, player: p } = player();
    audio.refuse = Object.assign(new Error('no'), { name: 'AbortError' });
    await p.play(track('a'));
    expect(p.now().trouble).toBeNull();
    audio.refuse = Object.assign(new Error('no'), { name: 'NotSupportedError' });
    await p.play(track('a'));
    expect(p.now().trouble).toContain('cannot be played');
  });

  it('fetches what failed once more when play is pressed again, and goes on where it was', async () => {
    const { audio, player: p } = player();
    await p.play(track('a'));
    p.seek(4_000);
    // As elements do: once it has failed it plays nothing before its source is loaded again.
    audio.refuse = Object.assign(new Error('no'), { name: 'NotSupportedError' });
    audio.say('error');
    expect(p.now()).toMatchObject({ playing: false, trouble: expect.stringContaining('press play again') });
    audio.load = () => {
      audio.refuse = null;
      audio.currentTime = 0;
    };
    await p.toggle(track('a'));
    expect(p.now()).toMatchObject({ playing: true, trouble: null, positionMs: 4_000 });
    expect(audio.currentTime).toBe(4);
  });

  it('tells who waits for an end which sound has ended', async () => {
    const { audio, player: p } = player();
    const ended: string[] = [];
    const off = p.onEnd(id => ended.push(id));
    await p.play(track('a'));
    audio.say('ended');
    off();
    audio.say('ended');
    expect(ended).toEqual(['a']);
  });
});

describe('hearing a stretch over and over, and leaving silences out', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());
  /** Lets the sound run on to a moment. */
  const at = (audio: FakeAudio, ms: number) => {
    audio.currentTime = ms / 1000;
    jest.advanceTimersByTime(50);
    return Math.round(audio.currentTime * 1000);
  };

  it('begins at the first mark, ends at the second, and goes on after the third', async () => {
    const { audio, player: p } = player();
    await p.play(track('a'));
    audio.currentTime = 2;
    p.markLoop();
    expect(at(audio, 5_000)).toBe(5_000);
    p.markLoop();
    expect(p.now().loop).toEqual({ fromMs: 2_000, toMs: 5_000 });
    expect(p.now().positionMs).toBe(2_000);
    expect(at(audio, 4_900)).toBe(4_900);
    expect(at(audio, 5_010)).toBe(2_000);
    p.markLoop();
    expect(at(audio, 6_000)).toBe(6_000);
    // Nothing is looked after any more.
    expect(jest.getTimerCount()).toBe(0);
  });

  it('takes marks in either order, and not two in the same moment; another sound has no loop', async () => {
    const { audio, player: p } = player();
    await p.play(track('a'));
    audio.currentTime = 5;
    p.markLoop();
    audio.currentTime = 3;
    p.markLoop();
    expect(p.now().loop).toEqual({ fromMs: 3_000, toMs: 5_000 });
    p.markLoop();
    p.markLoop();
    p.markLoop();
    expect(p.now().loop).toBeNull();
    p.markLoop();
    await p.play(track('b'));
    expect(p.now().loop).toBeNull();
  });

  it('goes on where somebody speaks, while it is asked to', async () => {
    const { audio, player: p } = player();
    await p.play(track('a'));
    p.setSilences('a', [{ fromMs: 2_000, toMs: 4_000 }]);
    p.setSilences('b', [{ fromMs: 0, toMs: 9_000 }]);
    expect(at(audio, 2_500)).toBe(2_500);
    p.setSkipsSilence(true);
    expect(at(audio, 2_500)).toBe(4_000);
    expect(at(audio, 1_900)).toBe(1_900);
    p.pause();
    expect(at(audio, 2_500)).toBe(2_500);
    p.setSkipsSilence(false);
    await p.play();
    expect(at(audio, 2_500)).toBe(2_500);
  });

  it('leads back to the beginning of a loop that ends in silence', async () => {
    const { audio, player: p } = player();
    await p.play(track('a'));
    p.setSkipsSilence(true);
    p.setSilences('a', [{ fromMs: 4_000, toMs: 8_000 }]);
    audio.currentTime = 1;
    p.markLoop();
    audio.currentTime = 6;
    p.markLoop();
    expect(at(audio, 4_100)).toBe(1_000);
  });
});

describe('matched levels', () => {
  it('amplify what is quiet, only while that is wanted, and each recording by its own', async () => {
    const gains: number[] = [];
    const own = new Player(new FakeAudio(), gain => gains.push(Math.round(20 * Math.log10(gain))));
    own.setLevel('quiet', -30);
    own.setLevel('loud', -6);
    await own.play(track('quiet'));
    expect(gains.at(-1)).toBe(0);
    own.setMatches(true);
    expect(gains.at(-1)).toBe(18);
    await own.play(track('loud'));
    expect(gains.at(-1)).toBe(-6);
    await own.play(track('unknown'));
    expect(gains.at(-1)).toBe(0);
    // Its peaks came while it played.
    own.setLevel('unknown', -20);
    expect(gains.at(-1)).toBe(8);
    own.setMatches(false);
    expect(gains.at(-1)).toBe(0);
  });
});
