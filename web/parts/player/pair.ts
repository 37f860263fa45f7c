/**
 * Two elements that sound in turn: while one plays, the other holds what is likely heard next, so far decoded that it only has to
 * begin. To the player they are one.
 */
import type { Sounding } from './player';

const FORWARDED = ['timeupdate', 'playing', 'pause', 'ended', 'error'] as const;

/** @typeParam E the elements; a browser's own, or a test's */
export class Pair<E extends Sounding> implements Sounding {
  private standing: E;
  private readonly listeners = new Map<string, (() => void)[]>();
  /** The source that the waiting element was given; null once it failed. */
  private prepared: string | null = null;
  /** The element has its source already, and is not to begin again from nothing. */
  private isTakenOver = false;

  constructor(
    private first: E,
    second: E,
  ) {
    this.standing = second;
    for (const element of [first, second])
      for (const type of FORWARDED)
        element.addEventListener(type, () => {
          if (element === this.first) this.listeners.get(type)?.forEach(listener => listener());
          else if (type === 'error') this.prepared = null;
        });
  }

  /** The element that sounds, or would. */
  get element(): E {
    return this.first;
  }

  /** Gets a sound ready beside the one that plays. It is taken when it is the next that is set. */
  prepare(src: string): void {
    if (this.prepared === src || this.first.src === src) return;
    this.standing.pause();
    this.standing.src = src;
    this.standing.load();
    this.prepared = src;
  }

  get src(): string {
    return this.first.src;
  }
  set src(src: string) {
    this.isTakenOver = src === this.prepared;
    if (!this.isTakenOver) {
      this.first.src = src;
      return;
    }
    const { currentTime } = this.standing;
    [this.first, this.standing] = [this.standing, this.first];
    this.prepared = null;
    this.standing.pause();
    if (currentTime !== 0) this.first.currentTime = 0;
  }

  load(): void {
    if (!this.isTakenOver) this.first.load();
    this.isTakenOver = false;
  }

  get currentTime(): number {
    return this.first.currentTime;
  }
  set currentTime(seconds: number) {
    this.first.currentTime = seconds;
  }
  get playbackRate(): number {
    return this.first.playbackRate;
  }
  set playbackRate(rate: number) {
    this.first.playbackRate = rate;
  }
  get preservesPitch(): boolean {
    return this.first.preservesPitch;
  }
  set preservesPitch(preserves: boolean) {
    for (const element of [this.first, this.standing]) element.preservesPitch = preserves;
  }
  get preload(): string {
    return this.first.preload;
  }
  set preload(preload: string) {
    for (const element of [this.first, this.standing]) element.preload = preload;
  }
  get duration(): number {
    return this.first.duration;
  }

  play(): Promise<void> {
    return this.first.play();
  }
  pause(): void {
    this.first.pause();
  }
  addEventListener(type: (typeof FORWARDED)[number], listener: () => void): void {
    this.listeners.set(type, [...(this.listeners.get(type) ?? []), listener]);
  }
}
