/**
 * Brings sounds to the server: announced, sent piece by piece by the open tus protocol while they are still
 * being recorded, resumed after any interruption, and let go of here only when the server's checksum agrees.
 */
import type { Upload } from 'tus-js-client';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { TroubleBody } from '@ecoute/contract/trouble';
import { serverNow } from '../../app/clock';
import { GrowingSound } from './growing';
import {
  changeSound,
  dropSound,
  keepPiece,
  keepSound,
  piecesOf,
  soundsOf,
  type KeptSound,
} from './soundStore';

export type DeliveryState =
  /** Bytes are on their way, or wait for the network. */
  | 'sending'
  | 'waitingForNetwork'
  /** The server is looking at it. */
  | 'checking'
  /** The server holds the same bytes, and said what they are. */
  | 'delivered'
  /** Of a rehearsal: it is on this page alone. */
  | 'rehearsed'
  /** The server will not take it; it stays on this device. */
  | 'kept';

export interface Delivery {
  sound: KeptSound;
  state: DeliveryState;
  /** Bytes here, and bytes that the server has confirmed. */
  bytes: number;
  sent: number;
  recording: RecordingView | null;
  message: string | null;
}

const RETRY_MS = [500, 1_000, 2_000, 4_000, 8_000, 15_000];

class Refused extends Error {}
/** Its person let go of it while it was on its way. */
class Abandoned extends Error {}
class SignedOut extends Error {
  constructor() {
    super(
      'You are signed out. Sign in again in another tab; the recording is kept here and goes on its way by itself.',
    );
  }
}

/**
 * Holds a sound for this page until the page is gone, so that a second tab does not end what this one still
 * records. @returns false when another page holds it
 */
function hold(id: string): Promise<boolean> {
  return new Promise(resolve => {
    void navigator.locks.request(`ecoute-sound-${id}`, { ifAvailable: true }, lock => {
      resolve(lock !== null);
      return lock ? new Promise<void>(() => undefined) : undefined;
    });
  });
}

/** All deliveries of this page; components listen to the whole. */
class DeliveryDesk {
  private readonly deliveries = new Map<string, Delivery>();
  private readonly sounds = new Map<string, GrowingSound>();
  private readonly uploads = new Map<string, Upload>();
  private readonly listeners = new Set<() => void>();
  private snapshot: readonly Delivery[] = [];
  private wakes: (() => void)[] = [];

  constructor() {
    // A network that is back is a reason to try at once.
    if (typeof window !== 'undefined')
      window.addEventListener('online', () => this.wakes.splice(0).forEach(wake => wake()));
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly all = (): readonly Delivery[] => this.snapshot;

  /** Begins a sound that will grow. Resolves when its record is on the disk. */
  async begin(sound: KeptSound): Promise<void> {
    if (sound.announce !== null) {
      await hold(sound.id);
      await keepSound(sound);
    }
    this.start(sound, new GrowingSound());
  }

  /** One more piece: first to the disk, then to the network. */
  async piece(id: string, index: number, blob: Blob): Promise<void> {
    const data = await blob.arrayBuffer();
    if (!this.isRehearsed(id)) await keepPiece(id, index, data);
    const growing = this.sounds.get(id);
    growing?.push(data);
    if (growing) this.change(id, { bytes: growing.size });
  }

  /** No more pieces. */
  async end(id: string): Promise<void> {
    const rehearsed = this.isRehearsed(id);
    if (!rehearsed) await changeSound(id, { ended: true });
    this.sounds.get(id)?.end();
    if (rehearsed) this.change(id, { recording: rehearsedView(this.deliveries.get(id)!) });
  }

  /** Lets go of everything that was recorded in rehearsals. */
  forgetRehearsals(): void {
    for (const [id, delivery] of this.deliveries)
      if (delivery.state === 'rehearsed') {
        this.deliveries.delete(id);
        this.sounds.delete(id);
      }
    this.tell();
  }

  private isRehearsed(id: string): boolean {
    return this.deliveries.get(id)?.state === 'rehearsed';
  }

  /** A file that is here whole. */
  async whole(sound: KeptSound, file: Blob): Promise<void> {
    await this.begin(sound);
    await this.piece(sound.id, 0, file);
    await this.end(sound.id);
  }

  /**
   * Takes up what an earlier page of this person left behind: a closed tab, a crash, a flat battery. What was
   * being recorded then is ended where it stops.
   */
  async resume(personId: string): Promise<void> {
    for (const sound of await soundsOf(personId)) {
      if (this.deliveries.has(sound.id) || !(await hold(sound.id))) continue;
      const growing = new GrowingSound();
      for (const piece of await piecesOf(sound.id)) growing.push(piece);
      growing.end();
      if (growing.size === 0) {
        await dropSound(sound.id);
        continue;
      }
      if (!sound.ended) await changeSound(sound.id, { ended: true });
      this.start(sound, growing);
    }
  }

  /** Throws away a sound, also one that is still on its way: what is under way with it ends, here and there. */
  async discard(id: string): Promise<void> {
    const state = this.deliveries.get(id)?.state;
    this.forget(id);
    this.wakes.splice(0).forEach(wake => wake());
    await this.uploads
      .get(id)
      ?.abort()
      .catch(() => undefined);
    await dropSound(id);
    if (state === 'sending' || state === 'checking' || state === 'waitingForNetwork')
      await fetch(`/api/recordings/${id}/cancel`, { method: 'POST' }).catch(() => undefined);
  }

  /** Takes a sound that is settled off the list: what was to be done with it is done. */
  forget(id: string): void {
    this.deliveries.delete(id);
    this.sounds.delete(id);
    this.tell();
  }

  /** What was recorded, to hear before (or without) the server. */
  blob(id: string): Blob | null {
    const delivery = this.deliveries.get(id);
    const growing = this.sounds.get(id);
    return delivery && growing ? new Blob([growing.whole()], { type: delivery.sound.mediaType }) : null;
  }

  /** Everything of this page is with the server. */
  settled(): boolean {
    return [...this.deliveries.values()].every(d => ['delivered', 'kept', 'rehearsed'].includes(d.state));
  }

  private start(sound: KeptSound, growing: GrowingSound): void {
    this.sounds.set(sound.id, growing);
    this.deliveries.set(sound.id, {
      sound,
      state: sound.announce === null ? 'rehearsed' : sound.refusal ? 'kept' : 'sending',
      bytes: growing.size,
      sent: 0,
      recording: null,
      message: sound.refusal,
    });
    this.tell();
    if (!sound.refusal && sound.announce !== null) void this.deliver(sound, growing);
  }

  private async deliver(sound: KeptSound, growing: GrowingSound): Promise<void> {
    try {
      await this.persist(sound.id, () => this.announce(sound));
      await this.persist(sound.id, () => this.send(sound, growing));
      this.change(sound.id, { state: 'checking' });
      const recording = await this.persist(sound.id, () => this.checked(sound.id));
      const own = recording.sha256 === null ? null : await sha256(growing.whole());
      if (own !== recording.sha256)
        throw new Refused(
          'What arrived differs from what was recorded. It stays on this device: reload the page to send it again.',
        );
      await dropSound(sound.id);
      this.change(sound.id, { state: 'delivered', recording, message: recording.message });
    } catch (error) {
      if (error instanceof Abandoned) return;
      const message = (error as Error).message;
      await changeSound(sound.id, { refusal: message }).catch(() => undefined);
      this.change(sound.id, { state: 'kept', message });
    }
  }

  /** Tries until it works; only a refusal ends it. */
  private async persist<T>(id: string, attempt: () => Promise<T>): Promise<T> {
    for (let n = 0; ; n++) {
      try {
        const result = await attempt();
        if (!this.deliveries.has(id)) throw new Abandoned();
        this.change(id, { state: 'sending', message: null });
        return result;
      } catch (error) {
        if (error instanceof Refused || error instanceof Abandoned) throw error;
        if (!this.deliveries.has(id)) throw new Abandoned();
        this.change(id, {
          state: 'waitingForNetwork',
          message: error instanceof SignedOut ? error.message : null,
        });
        const wait = RETRY_MS[Math.min(n, RETRY_MS.length - 1)]!;
        await new Promise<void>(resolve => {
          const timer = setTimeout(resolve, wait);
          this.wakes.push(() => {
            clearTimeout(timer);
            resolve();
          });
        });
      }
    }
  }

  private async announce({ announce }: KeptSound): Promise<void> {
    if (announce === null) return;
    const response = await fetch(announce.url, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(announce.body),
    });
    await refuseIfFinal(response);
  }

  private async send(sound: KeptSound, growing: GrowingSound): Promise<void> {
    // Fetched when there is something to send: first pages are lighter without it.
    const { Upload } = await import('tus-js-client');
    return new Promise<void>((resolve, reject) => {
      const upload = new Upload(growing as never, {
        uploadUrl: `/api/uploads/${sound.id}`,
        uploadLengthDeferred: true,
        // Long sounds of a resumed upload go in pieces as well, so that progress is kept on a bad line.
        chunkSize: 1024 * 1024,
        retryDelays: null,
        storeFingerprintForResuming: false,
        fileReader: {
          openFile: async () => ({
            size: null as never,
            slice: (start: number, end: number) => growing.read(start, end),
            close: () => undefined,
          }),
        },
        onChunkComplete: (_size, accepted) => this.change(sound.id, { state: 'sending', sent: accepted }),
        onSuccess: () => resolve(),
        onError: error => {
          const response = 'originalResponse' in error ? error.originalResponse : null;
          const status = response?.getStatus() ?? 0;
          if (status === 401) return reject(new SignedOut());
          reject(
            status >= 400 && status < 500 && ![409, 423, 429].includes(status)
              ? new Refused(messageIn(response!.getBody()))
              : error,
          );
        },
      });
      this.uploads.set(sound.id, upload);
      upload.start();
    }).finally(() => this.uploads.delete(sound.id));
  }

  private async checked(id: string): Promise<RecordingView> {
    for (;;) {
      const response = await fetch(`/api/recordings/${id}`);
      await refuseIfFinal(response);
      const recording = (await response.json()) as RecordingView;
      if (recording.state === 'stored' || recording.state === 'refused') return recording;
      if (recording.state === 'arriving') throw new Error('not all there yet');
      if (!this.deliveries.has(id)) throw new Abandoned();
      // Pages are drawn one after the other; how far that is can be seen.
      this.change(id, { state: 'checking', recording });
      await new Promise(resolve => setTimeout(resolve, 300));
    }
  }

  private change(id: string, change: Partial<Delivery>): void {
    const known = this.deliveries.get(id);
    if (!known) return;
    this.deliveries.set(id, { ...known, ...change });
    this.tell();
  }

  private tell(): void {
    this.snapshot = [...this.deliveries.values()];
    this.listeners.forEach(listener => listener());
  }
}

/** What a rehearsal says of its own sound: it stands, and is as long as it took. */
function rehearsedView({ sound, bytes }: Delivery): RecordingView {
  return {
    id: sound.id,
    state: 'stored',
    problem: null,
    message: null,
    durationMs: Math.max(0, serverNow() - Date.parse(sound.beganAt)),
    silent: false,
    gateMs: null,
    trim: null,
    sizeBytes: bytes,
    sha256: null,
    medium: sound.mediaType.startsWith('video/') ? 'video' : 'sound',
    details: null,
    fileName: null,
  };
}

/** Throws `Refused` where trying again cannot help, another error where it can. */
async function refuseIfFinal(response: Response): Promise<void> {
  if (response.ok) return;
  const body = await response.text();
  if (response.status === 401) throw new SignedOut();
  if (response.status >= 400 && response.status < 500 && response.status !== 429)
    throw new Refused(messageIn(body));
  throw new Error(`HTTP ${response.status}`);
}

function messageIn(body: string): string {
  try {
    return (JSON.parse(body) as TroubleBody).message;
  } catch {
    return 'The server did not take this recording. It stays on this device: reload the page to try again.';
  }
}

async function sha256(blob: Blob): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', await blob.arrayBuffer());
  return [...new Uint8Array(digest)].map(b => b.toString(16).padStart(2, '0')).join('');
}

export const desk = new DeliveryDesk();
