import type { Note } from '@ecoute/contract/notes';
import { SpokenInLine, type VoiceSound } from './spokenInLine';

const note = (id: string, fromMs: number, over: Partial<Note> = {}) =>
  ({ id, fromMs, toMs: null, voiceId: `v-${id}`, voiceState: 'stored', ...over }) as Note;

/** @param lags the player says only later that it has stopped */
function scene(notes: Note[], lags = false) {
  const log: string[] = [];
  let state = { track: { id: 'take' } as { id: string } | null, playing: false, positionMs: 0 };
  let tell = () => undefined as void;
  const set = (change: Partial<typeof state>) => {
    state = { ...state, ...change };
    tell();
  };
  const recording = {
    now: () => state,
    subscribe: (listener: () => void) => {
      tell = listener;
      return () => undefined;
    },
    pause: () => {
      log.push('waits');
      if (!lags) set({ playing: false });
    },
    play: async () => {
      log.push('goes on');
      set({ playing: true });
    },
  };
  let ended = () => undefined as void;
  const voice: VoiceSound = {
    src: '',
    play: async () => void log.push(`hear ${voice.src.split('/')[3]}`),
    pause: () => undefined,
    addEventListener: (type, listener) => void (type === 'ended' && (ended = listener)),
    removeEventListener: () => undefined,
  };
  const line = new SpokenInLine('take', notes, recording, voice, sounding =>
    log.push(`now ${sounding?.id ?? '–'}`),
  );
  const to = (positionMs: number) => set({ positionMs });
  return { log, set, to, line, end: () => ended(), later: () => set({ playing: false }) };
}

describe('spoken notes in their place', () => {
  it('make the recording wait at their moment, and let it go on after them', () => {
    const { log, set, to, end } = scene([note('a', 1_000)]);
    set({ playing: true });
    to(900);
    expect(log).toEqual([]);
    to(1_100);
    expect(log).toEqual(['waits', 'now a', 'hear v-a']);
    end();
    expect(log.slice(3)).toEqual(['now –', 'goes on']);
    to(1_300);
    expect(log).toHaveLength(5);
  });

  it('follow one another where several are at one place, a stretch at its end', () => {
    const { log, set, to, end } = scene([note('a', 200, { toMs: 1_000 }), note('b', 1_050)]);
    set({ playing: true });
    to(900);
    to(1_100);
    end();
    end();
    expect(log).toEqual(['waits', 'now a', 'hear v-a', 'now b', 'hear v-b', 'now –', 'goes on']);
  });

  it('stay silent for whoever goes elsewhere, and where nothing can be heard', () => {
    const { log, set, to } = scene([note('a', 1_000), note('b', 5_100, { voiceState: 'arriving' })]);
    set({ playing: true });
    to(5_000);
    to(5_200);
    // Backwards, too.
    to(500);
    expect(log).toEqual([]);
  });

  it('are not taken for interrupted while the player still says that it plays', () => {
    const { log, set, to, later } = scene([note('a', 1_000)], true);
    set({ playing: true });
    to(1_000);
    to(1_010);
    expect(log.at(-1)).toBe('hear v-a');
    later();
    set({ playing: true });
    expect(log.at(-1)).toBe('now –');
  });

  it('give way to somebody who presses play, or another sound', () => {
    const { log, set, to, end, line } = scene([note('a', 1_000), note('b', 2_000)]);
    set({ playing: true });
    to(1_000);
    set({ playing: true });
    expect(log.at(-1)).toBe('now –');
    end();
    expect(log.at(-1)).toBe('now –');
    to(2_000);
    line.skip();
    expect(log.slice(-2)).toEqual(['now –', 'goes on']);
    to(900);
    to(1_000);
    set({ track: { id: 'other' } });
    expect(log.at(-1)).toBe('now –');
  });
});
