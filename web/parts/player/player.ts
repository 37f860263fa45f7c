/**
 * One player for the whole application: starting another sound ends the one before. A small state machine
 * over an audio element, so that it can be tried without a browser.
 */
import { matchingGainDb, nextSpeechMs, type Peaks } from '@ecoute/core/audio/peaks';

export type Voice = 'teacher' | 'student';

export interface Track {
  /** The recording's id; also tells whether a lane is the one that sounds. */
  id: string;
  url: string;
  title: string;
  voice: Voice;
  /** From the server; browsers do not know it for sounds that are still raw. */
  durationMs: number | null;
}

export interface PlayerState {
  track: Track | null;
  playing: boolean;
  positionMs: number;
  rate: number;
  /** The stretch that is heard over and over. Until its end is set, `toMs` is null. */
  loop: { fromMs: number; toMs: number | null } | null;
  skipsSilence: boolean;
  /** Quiet and loud recordings are brought to one level. */
  matches: boolean;
  trouble: string | null;
}

interface Span {
  fromMs: number;
  toMs: number;
}

/** What is used of an HTMLAudioElement. */
export interface Sounding {
  src: string;
  currentTime: number;
  playbackRate: number;
  preservesPitch: boolean;
  preload: string;
  readonly duration: number;
  play(): Promise<void>;
  pause(): void;
  load(): void;
  addEventListener(type: string, listener: () => void): void;
}

/** How often it is looked whether a loop is over or a silence begins: the element itself says its place too rarely. */
const LOOK_MS = 40;
/** A shorter loop is a slip of the finger. */
const SHORTEST_LOOP_MS = 300;

export const RATES = [0.5, 0.75, 1, 1.25, 1.5, 2] as const;

export class Player {
  private state: PlayerState = {
    track: null,
    playing: false,
    positionMs: 0,
    rate: 1,
    loop: null,
    skipsSilence: false,
    matches: false,
    trouble: null,
  };
  /** The silences of the present sound; empty until somebody has looked for them. */
  private silences: readonly Span[] = [];
  private looking: ReturnType<typeof setInterval> | null = null;
  private readonly listeners = new Set<() => void>();
  private endListeners = new Set<(id: string) => void>();

  /** How loud recordings sound, in dBFS, as far as it is known. */
  private readonly levels = new Map<string, number | null>();

  /**
   * @param amplify  sets what the sound is multiplied with
   * @param sourceOf where a sound is had from: from this device, where it is here already
   */
  constructor(
    private readonly audio: Sounding,
    private readonly amplify: (gain: number) => void = () => undefined,
    private readonly sourceOf: (track: Track) => string = track => track.url,
  ) {
    audio.preload = 'auto';
    audio.preservesPitch = true;
    audio.addEventListener('timeupdate', () => this.set({ positionMs: audio.currentTime * 1000 }));
    audio.addEventListener('playing', () => this.set({ playing: true, trouble: null }));
    audio.addEventListener('pause', () => this.set({ playing: false }));
    audio.addEventListener('ended', () => {
      this.set({ playing: false, positionMs: this.durationMs() });
      const id = this.state.track?.id;
      if (id) this.endListeners.forEach(listener => listener(id));
    });
    audio.addEventListener('error', () => {
      if (this.state.track)
        this.set({
          playing: false,
          trouble: 'This sound cannot be played just now. Check the connection and press play again.',
        });
    });
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly now = (): PlayerState => this.state;

  /** Called with the id of a sound that has come to its end. */
  onEnd(listener: (id: string) => void): () => void {
    this.endListeners.add(listener);
    return () => this.endListeners.delete(listener);
  }

  /** Length of the present sound, 0 when nobody knows it yet. */
  durationMs(): number {
    const { track } = this.state;
    if (!track) return 0;
    return track.durationMs ?? (Number.isFinite(this.audio.duration) ? this.audio.duration * 1000 : 0);
  }

  /** Makes a sound the present one, without playing it. The one that is there already stays where it is. */
  load(track: Track): void {
    if (this.state.track?.id === track.id) {
      this.set({ track });
      return;
    }
    this.audio.pause();
    this.audio.src = this.sourceOf(track);
    this.audio.load();
    this.match(track.id);
    this.audio.playbackRate = this.state.rate;
    this.silences = [];
    this.set({ track, playing: false, positionMs: 0, loop: null, trouble: null });
  }

  async play(track?: Track): Promise<void> {
    if (track) this.load(track);
    if (!this.state.track) return;
    if (this.state.trouble) this.fetchOnceMore(this.state.track);
    if (this.durationMs() > 0 && this.state.positionMs >= this.durationMs() - 20) this.seek(0);
    this.audio.playbackRate = this.state.rate;
    this.match(this.state.track.id);
    try {
      await this.audio.play();
    } catch (error) {
      // Another sound was started, or paused, before this one could begin: not a trouble.
      if ((error as Error).name !== 'AbortError')
        this.set({
          playing: false,
          trouble: 'This sound cannot be played just now. Check the connection and press play again.',
        });
    }
  }

  /** An element that failed plays nothing any more before it is given its source again; it goes on where it was. */
  private fetchOnceMore(track: Track): void {
    const { positionMs } = this.state;
    this.audio.src = this.sourceOf(track);
    this.audio.load();
    this.seek(positionMs);
  }

  pause(): void {
    this.audio.pause();
  }

  async toggle(track?: Track): Promise<void> {
    if (this.state.playing && (!track || track.id === this.state.track?.id)) this.pause();
    else await this.play(track);
  }

  /** @param ms held inside the sound */
  seek(ms: number): void {
    const to = Math.max(0, Math.min(ms, this.durationMs() || ms));
    this.audio.currentTime = to / 1000;
    this.set({ positionMs: to });
  }

  skip(ms: number): void {
    this.seek(this.state.positionMs + ms);
  }

  /** To where the next stretch of speech begins; back to the start from the last. */
  toNextSpeech(peaks: Peaks): void {
    this.seek(nextSpeechMs(peaks, this.state.positionMs + 50) ?? 0);
  }

  /** Marks where a loop begins; then where it ends, from where on it is heard over and over; then ends it. */
  markLoop(): void {
    const { loop, track } = this.state;
    if (!track) return;
    const atMs = this.audio.currentTime * 1000;
    if (!loop) this.set({ loop: { fromMs: atMs, toMs: null } });
    else if (loop.toMs !== null) this.set({ loop: null });
    else {
      const [fromMs, toMs] = [Math.min(loop.fromMs, atMs), Math.max(loop.fromMs, atMs)];
      this.set({ loop: toMs - fromMs < SHORTEST_LOOP_MS ? null : { fromMs, toMs } });
      if (this.state.loop) this.seek(fromMs);
    }
  }

  setSkipsSilence(skipsSilence: boolean): void {
    this.set({ skipsSilence });
  }

  /** Says where a sound is silent. Ignored when another one is present by now. */
  setSilences(id: string, silences: readonly Span[]): void {
    if (this.state.track?.id === id) this.silences = silences;
  }

  /** Back to the beginning of the loop, or on to where somebody speaks. */
  private look(): void {
    const { loop, skipsSilence } = this.state;
    const atMs = this.audio.currentTime * 1000;
    if (loop?.toMs != null && atMs >= loop.toMs) return this.seek(loop.fromMs);
    if (!skipsSilence) return;
    const silence = this.silences.find(s => atMs >= s.fromMs && atMs < s.toMs - LOOK_MS);
    // A silence that reaches over the end of the loop leads to its beginning.
    if (silence) this.seek(loop?.toMs != null && silence.toMs >= loop.toMs ? loop.fromMs : silence.toMs);
  }

  private watch(): void {
    const { playing, loop, skipsSilence } = this.state;
    const wanted = playing && (skipsSilence || loop?.toMs != null);
    if (wanted && !this.looking) this.looking = setInterval(() => this.look(), LOOK_MS);
    if (!wanted && this.looking) {
      clearInterval(this.looking);
      this.looking = null;
    }
  }

  /** Says how loud a recording sounds. @param levelDbfs null where nothing does */
  setLevel(id: string, levelDbfs: number | null): void {
    this.levels.set(id, levelDbfs);
    if (this.state.track?.id === id) this.match(id);
  }

  setMatches(matches: boolean): void {
    this.set({ matches });
    if (this.state.track) this.match(this.state.track.id);
  }

  private match(id: string): void {
    const gainDb = this.state.matches ? matchingGainDb(this.levels.get(id) ?? null) : 0;
    this.amplify(10 ** (gainDb / 20));
  }

  setRate(rate: number): void {
    this.audio.playbackRate = rate;
    this.set({ rate });
  }

  /** Lets go of the present sound. */
  close(): void {
    this.audio.pause();
    this.silences = [];
    this.set({ track: null, playing: false, positionMs: 0, loop: null, trouble: null });
  }

  private set(change: Partial<PlayerState>): void {
    this.state = { ...this.state, ...change };
    this.watch();
    this.listeners.forEach(listener => listener());
  }
}
