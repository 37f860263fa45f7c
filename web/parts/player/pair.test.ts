import { Pair } from './pair';
import { Player, type Sounding, type Track } from './player';

/** An element without sound that keeps what is done with it. */
class Element implements Sounding {
  currentTime = 0;
  playbackRate = 1;
  preservesPitch = false;
  preload = '';
  duration = 10;
  isPlaying = false;
  readonly done: string[] = [];
  private source = '';
  private readonly heard = new Map<string, (() => void)[]>();

  get src() {
    return this.source;
  }
  set src(src: string) {
    this.source = src;
    this.done.push(`src ${src}`);
  }
  async play() {
    this.isPlaying = true;
    this.say('playing');
  }
  pause() {
    if (this.isPlaying) this.say('pause');
    this.isPlaying = false;
  }
  load() {
    this.currentTime = 0;
    this.done.push('load');
  }
  addEventListener(type: string, listener: () => void) {
    this.heard.set(type, [...(this.heard.get(type) ?? []), listener]);
  }
  say(type: string) {
    this.heard.get(type)?.forEach(l => l());
  }
}

const track = (id: string): Track => ({
  id,
  url: `/${id}`,
  title: id,
  voice: 'student',
  durationMs: 10_000,
});

function both() {
  const [a, b] = [new Element(), new Element()];
  const pair = new Pair(a, b);
  return { a, b, pair, player: new Player(pair) };
}

describe('two elements that sound in turn', () => {
  it('begin the sound that was got ready at once, and never sound together', async () => {
    const { a, b, pair, player } = both();
    await player.play(track('one'));
    pair.prepare('/two');
    expect([a.isPlaying, b.isPlaying, b.src]).toEqual([true, false, '/two']);
    player.setRate(1.5);
    const before = b.done.length;
    await player.play(track('two'));
    // Nothing was fetched or begun anew.
    expect(b.done).toHaveLength(before);
    expect([a.isPlaying, b.isPlaying, b.playbackRate]).toEqual([false, true, 1.5]);
    expect(player.now()).toMatchObject({ playing: true, track: { id: 'two' } });
    pair.prepare('/three');
    await player.play(track('three'));
    expect([a.isPlaying, b.isPlaying, a.src]).toEqual([true, false, '/three']);
  });

  it('take nothing from the one that waits: not its place, not its end', async () => {
    const { a, b, pair, player } = both();
    const ended: string[] = [];
    player.onEnd(id => ended.push(id));
    await player.play(track('one'));
    pair.prepare('/two');
    for (const type of ['timeupdate', 'playing', 'pause', 'ended', 'error']) b.say(type);
    expect(player.now()).toMatchObject({ playing: true, trouble: null, track: { id: 'one' } });
    expect(ended).toEqual([]);
    a.say('ended');
    expect(ended).toEqual(['one']);
  });

  it('fetch a sound as ever where another was got ready, or where that failed', async () => {
    const { a, b, pair, player } = both();
    await player.play(track('one'));
    pair.prepare('/two');
    await player.play(track('other'));
    expect([a.src, a.isPlaying, b.isPlaying]).toEqual(['/other', true, false]);
    b.say('error');
    await player.play(track('two'));
    expect([a.src, a.isPlaying, b.isPlaying]).toEqual(['/two', true, false]);
    // What sounds already is not got ready beside itself.
    const before = b.done.length;
    pair.prepare('/two');
    expect(b.done).toHaveLength(before);
  });

  it('begin at the beginning, however far the one that waited had got', async () => {
    const { b, pair, player } = both();
    await player.play(track('one'));
    pair.prepare('/two');
    b.currentTime = 3;
    await player.play(track('two'));
    expect(b.currentTime).toBe(0);
    player.seek(4_000);
    expect(b.currentTime).toBe(4);
    player.close();
    expect(b.isPlaying).toBe(false);
  });
});
