import type { PlayerState, Track } from './player';

jest.mock('./usePlayer', () => ({ player: { onEnd: jest.fn(), subscribe: jest.fn() } }));
import { InTurn } from './inTurn';

const track = (id: string) =>
  ({ id, url: `/${id}`, title: id, voice: 'student', durationMs: 1_000 }) as Track;

/** A player of which only what is present matters. */
function fake() {
  const ends: ((id: string) => void)[] = [];
  const changes: (() => void)[] = [];
  let present: Track | null = null;
  const played: string[] = [];
  let position = 0;
  const at = (ms: number) => {
    position = ms;
    changes.forEach(told => told());
  };
  return {
    played,
    at,
    position: () => position,
    ended: () => ends.forEach(told => told(present!.id)),
    plays: {
      play: (one?: Track) => {
        present = one ?? present;
        played.push(present!.id);
        changes.forEach(told => told());
        return Promise.resolve();
      },
      close: () => {
        present = null;
        changes.forEach(told => told());
      },
      pause: jest.fn(),
      load: (one: Track) => {
        present = one;
        changes.forEach(told => told());
      },
      seek: (ms: number) => at(ms),
      onEnd: (told: (id: string) => void) => ends.push(told) as never,
      subscribe: (told: () => void) => changes.push(told) as never,
      now: () => ({ track: present, playing: true, positionMs: position }) as PlayerState,
    },
  };
}

describe('sounds in turn', () => {
  const tracks = ['a', 'b', 'c'].map(track);

  it('follow each other to the end, and then it is over', () => {
    const { plays, played, ended } = fake();
    const turn = new InTurn(plays);
    turn.begin('all', tracks);
    ended();
    ended();
    expect([played, turn.now()?.at]).toEqual([['a', 'b', 'c'], 2]);
    ended();
    expect([played.length, turn.now()]).toEqual([3, null]);
  });

  it('end where something else is played by hand', async () => {
    const { plays, played, ended } = fake();
    const turn = new InTurn(plays);
    turn.begin('all', tracks, 1);
    await plays.play(track('else'));
    expect(turn.now()).toBeNull();
    ended();
    expect(played).toEqual(['b', 'else']);
  });

  it('end with the transport', async () => {
    const { plays } = fake();
    const turn = new InTurn(plays);
    turn.begin('all', tracks);
    plays.close();
    expect(turn.now()).toBeNull();
    // Begun while something else is there, they take its place.
    await plays.play(track('else'));
    turn.begin('all', tracks);
    expect(turn.now()?.at).toBe(0);
  });

  it('go back and on by hand, not before the first, and stop', () => {
    const { plays, played } = fake();
    const turn = new InTurn(plays);
    turn.begin('none', []);
    expect(turn.now()).toBeNull();
    turn.begin('all', tracks);
    turn.goTo(-1);
    turn.goTo(2);
    turn.goTo(1);
    expect([played, turn.now()?.at]).toEqual([['a', 'c', 'b'], 1]);
    turn.end();
    expect([turn.now(), plays.pause]).toEqual([null, expect.any(Function)]);
    expect(plays.pause).toHaveBeenCalled();
  });
});

describe('a stretch of a sound in turn', () => {
  const whole = track('a');

  it('is heard from its beginning to its end, and then the next one', () => {
    const player = fake();
    const turn = new InTurn(player.plays as never);
    turn.begin('hear on', [{ ...whole, stretch: { fromMs: 300, toMs: 600 } }, track('b')]);
    expect(player.position()).toBe(300);
    player.at(450);
    expect(turn.now()?.at).toBe(0);
    player.at(610);
    expect(turn.now()?.at).toBe(1);
    expect(player.played.at(-1)).toBe('b');
  });

  it('of what was just heard whole goes back to it, and stops after it', () => {
    const player = fake();
    const turn = new InTurn(player.plays as never);
    turn.begin('hear on', [whole, { ...whole, stretch: { fromMs: 100, toMs: 200 } }]);
    player.at(1_000);
    player.ended();
    expect([turn.now()?.at, player.position()]).toEqual([1, 100]);
    player.at(150);
    player.at(210);
    expect(turn.now()).toBeNull();
    expect(player.plays.pause).toHaveBeenCalled();
  });

  it('that somebody leaves by hand is not ended by its end', () => {
    const player = fake();
    const turn = new InTurn(player.plays as never);
    turn.begin('hear on', [{ ...whole, stretch: { fromMs: 300, toMs: 600 } }, track('b')]);
    // Before it was ever in the stretch: they went on to hear the rest.
    player.at(700);
    expect(turn.now()?.at).toBe(0);
  });
});
