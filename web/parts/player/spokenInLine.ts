/**
 * Spoken notes that sound by themselves: when the recording comes to the moment of one, it waits, the note is heard, and
 * the recording goes on. A small state machine over the player and a second sound, tried without a browser.
 */
import type { Note } from '@ecoute/contract/notes';

/** What is used of the player. */
interface Recording {
  now(): { track: { id: string } | null; playing: boolean; positionMs: number };
  subscribe(listener: () => void): () => void;
  pause(): void;
  play(): Promise<void>;
}

/** What is used of an HTMLAudioElement. */
export interface VoiceSound {
  src: string;
  play(): Promise<void>;
  pause(): void;
  addEventListener(type: 'ended' | 'error', listener: () => void): void;
  removeEventListener(type: 'ended' | 'error', listener: () => void): void;
}

/** A leap further than this is somebody going elsewhere, not the recording going on. */
const LEAP_MS = 1_500;

/** Where a spoken note is heard: at its moment, or once its stretch was heard. In ms. */
export const soundsAt = ({ fromMs, toMs }: Pick<Note, 'fromMs' | 'toMs'>) => toMs ?? fromMs;

export class SpokenInLine {
  private lastMs = 0;
  private sounding: Note | null = null;
  private waiting: Note[] = [];
  /** The recording has stopped for the note: a player says so a moment after it was asked. */
  private hasStopped = false;
  private readonly stop: () => void;

  /**
   * @param notes   of the recording; those without a voice that can be heard are left out
   * @param changed told which note sounds now; null for none
   */
  constructor(
    private readonly trackId: string,
    private readonly notes: readonly Note[],
    private readonly recording: Recording,
    private readonly voice: VoiceSound,
    private readonly changed: (sounding: Note | null) => void,
  ) {
    this.stop = recording.subscribe(() => this.look());
    voice.addEventListener('ended', this.over);
    voice.addEventListener('error', this.over);
  }

  close(): void {
    this.stop();
    this.voice.pause();
    this.voice.removeEventListener('ended', this.over);
    this.voice.removeEventListener('error', this.over);
  }

  /** Ends the note that sounds; the recording goes on. */
  skip(): void {
    this.voice.pause();
    this.over();
  }

  private look(): void {
    const { track, playing, positionMs } = this.recording.now();
    if (track?.id !== this.trackId) return this.leave();
    // Somebody pressed play: they want the recording, not the rest of the note.
    if (this.sounding && playing && this.hasStopped) return this.leave();
    if (!playing) this.hasStopped = true;
    const from = this.lastMs;
    this.lastMs = positionMs;
    if (this.sounding || !playing || positionMs < from || positionMs - from > LEAP_MS) return;
    this.waiting = this.notes.filter(
      n => n.voiceState === 'stored' && soundsAt(n) > from && soundsAt(n) <= positionMs,
    );
    if (this.waiting.length === 0) return;
    this.hasStopped = false;
    this.recording.pause();
    this.next();
  }

  private next(): void {
    this.sounding = this.waiting.shift() ?? null;
    this.changed(this.sounding);
    if (!this.sounding) return void this.recording.play();
    this.voice.src = `/api/recordings/${this.sounding.voiceId}/sound`;
    // What cannot be played is passed over; its words and its button are on the page.
    this.voice.play().catch(() => this.over());
  }

  private leave(): void {
    this.waiting = [];
    if (!this.sounding) return;
    this.sounding = null;
    this.voice.pause();
    this.changed(null);
  }

  private readonly over = (): void => {
    if (this.sounding) this.next();
  };
}
