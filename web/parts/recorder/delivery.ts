/**
 * Brings sounds to the server: announced, sent piece by piece by the open tus protocol while they are still
 * being recorded, resumed after any interruption, and let go of here only when the server's checksum agrees. What is done
 * next follows from what both sides know (core/takes/fate).
 */
import type { Upload } from 'tus-js-client';
import { deviceStep } from '@ecoute/core/takes/fate';
import type { Ink } from '@ecoute/core/takes/ink';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { TroubleBody } from '@ecoute/contract/trouble';
import { serverNow } from '../../base/clock';
import { sha256 } from './checksum';
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
  /** Kept on this device: its speaker has not said yet that it goes. */
  | 'aside'
  /** The server did not take it; it stays on this device, and is offered again with the next visit, or by hand. */
  | 'kept';

export interface Delivery {
  sound: KeptSound;
  state: DeliveryState;
  /** Bytes here, and bytes that the server has confirmed. */
  bytes: number;
  sent: number;
  recording: RecordingView | null;
  message: string | null;
  /** False where this device has no room: it is on this page alone until it is delivered. */
  isKept: boolean;
}

const RETRY_MS = [500, 1_000, 2_000, 4_000, 8_000, 15_000];
/** The word that a recording was looked at comes automatically; where that line is down, it is asked for now and then. */
const ASK_MS = [400, 1_000, 2_000, 3_000, 5_000];
/** A whole file is kept and sent in pieces of this size. */
const PIECE_BYTES = 4 * 1024 * 1024;
/** What is drawn goes to the disk this often while it grows. */
const DRAWN_KEPT_MS = 1_000;
/** Somebody else's, or not there: so often it is tried again, for it may only be so just now. */
const NOT_MINE_TRIES = 4;

class Refused extends Error {}
/** Not there for whoever is signed in just now. */
class NotMine extends Error {}
/** Its person let go of it while it was on its way, or somebody else has signed in. */
class Abandoned extends Error {}
class SignedOut extends Error {
  constructor() {
    super(
      'You are signed out. Sign in again in another tab; the recording is kept here and goes on its way automatically.',
    );
  }
}

/**
 * Holds a sound for this page, so that a second tab does not end what this one still records.
 * @returns what lets go of it; null when another page holds it
 */
function hold(id: string): Promise<(() => void) | null> {
  return new Promise(resolve => {
    void navigator.locks.request(`ecoute-sound-${id}`, { ifAvailable: true }, lock => {
      if (!lock) return resolve(null);
      return new Promise<void>(release => resolve(release));
    });
  });
}

/** Neither kept nor sent. */
const isOfThisPage = (sound: KeptSound) => sound.announce === null && sound.aside === undefined;

/** All deliveries of this page, of the one person who is signed in; components listen to the whole. */
class DeliveryDesk {
  private readonly deliveries = new Map<string, Delivery>();
  private readonly sounds = new Map<string, GrowingSound>();
  private readonly uploads = new Map<string, Upload>();
  private readonly drawn = new Map<string, ReturnType<typeof setTimeout>>();
  private readonly held = new Map<string, () => void>();
  private readonly listeners = new Set<() => void>();
  private snapshot: readonly Delivery[] = [];
  private wakes = new Map<() => void, string | null>();
  private personId: string | null = null;

  constructor() {
    // A network that is back is a reason to try at once.
    if (typeof window !== 'undefined') window.addEventListener('online', () => this.wake());
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly all = (): readonly Delivery[] => this.snapshot;

  /**
   * The desk is one person's: what others of this browser have on their way waits, on the device, until they are back.
   */
  async belongTo(personId: string | null): Promise<void> {
    if (this.personId === personId) return;
    this.personId = personId;
    const others = [...this.deliveries.values()].filter(
      d => !isOfThisPage(d.sound) && d.sound.personId !== personId,
    );
    for (const { sound } of others) this.forget(sound.id);
    this.wake();
    for (const { sound } of others) {
      await this.uploads
        .get(sound.id)
        ?.abort()
        .catch(() => undefined);
      this.letGoOfLock(sound.id);
    }
  }

  /** Begins a sound that will grow. Resolves when its record is on the disk, or the disk is known to have no room. */
  async begin(sound: KeptSound): Promise<void> {
    let isKept = true;
    if (!isOfThisPage(sound)) {
      await this.lock(sound.id);
      isKept = await keepSound(sound).then(
        () => true,
        () => false,
      );
    }
    this.start(sound, new GrowingSound(), isKept);
  }

  /**
   * One more piece: on its way at once, and kept here as long as there is room.
   * @returns false when this device could not keep it
   */
  async piece(id: string, index: number, blob: Blob): Promise<boolean> {
    const data = await blob.arrayBuffer();
    const growing = this.sounds.get(id);
    growing?.push(data);
    if (growing) this.change(id, { bytes: growing.size });
    if (this.isRehearsed(id)) return true;
    try {
      await keepPiece(id, index, data);
      return true;
    } catch {
      await this.keepsNotAll(id);
      return false;
    }
  }

  private async keepsNotAll(id: string): Promise<void> {
    const known = this.deliveries.get(id);
    if (known) known.sound.holes = true;
    this.change(id, { isKept: false });
    await changeSound(id, { holes: true }).catch(() => undefined);
  }

  /** No more pieces. */
  async end(id: string): Promise<void> {
    const rehearsed = this.isRehearsed(id);
    if (!rehearsed) await this.keepDrawn(id);
    if (!rehearsed) await changeSound(id, { ended: true }).catch(() => undefined);
    this.sounds.get(id)?.end();
    if (rehearsed) this.change(id, { recording: rehearsedView(this.deliveries.get(id)!) });
  }

  /**
   * What is drawn while a sound grows: with it at once on this page, and a moment later on the disk; it goes to the server when
   * the sound has arrived.
   */
  draw(id: string, sheet: Ink): void {
    const known = this.deliveries.get(id);
    if (!known) return;
    known.sound.sheet = sheet;
    if (this.isRehearsed(id) || this.drawn.has(id)) return;
    this.drawn.set(
      id,
      setTimeout(() => {
        this.drawn.delete(id);
        void this.keepDrawn(id);
      }, DRAWN_KEPT_MS),
    );
  }

  private async keepDrawn(id: string): Promise<void> {
    const sheet = this.deliveries.get(id)?.sound.sheet;
    if (sheet) await changeSound(id, { sheet }).catch(() => this.change(id, { isKept: false }));
  }

  /** What was drawn with a sound of this device; null where nothing was, or the server has it. */
  sheet(id: string): Ink | null {
    const known = this.deliveries.get(id);
    return known && known.state !== 'delivered' ? (known.sound.sheet ?? null) : null;
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
    for (let n = 0; n === 0 || n * PIECE_BYTES < file.size; n++)
      await this.piece(sound.id, n, file.slice(n * PIECE_BYTES, (n + 1) * PIECE_BYTES));
    await this.end(sound.id);
  }

  /**
   * Takes up what an earlier page of this person left behind: a closed tab, a crash, a flat battery. What was
   * being recorded then is ended where it stops; what was refused then is offered again; what had no sound in it is let go
   * of, and the server is told.
   */
  async resume(personId: string): Promise<void> {
    await this.belongTo(personId);
    for (const sound of await soundsOf(personId).catch(() => [])) {
      if (this.deliveries.has(sound.id) || !(await this.lock(sound.id))) continue;
      if (this.personId !== personId) return this.letGoOfLock(sound.id);
      const growing = new GrowingSound();
      for (const piece of await piecesOf(sound.id)) growing.push(piece);
      growing.end();
      if (sound.letGo) {
        void this.tellLetGo(sound.id);
        continue;
      }
      if (sound.aside !== undefined && growing.size === 0) {
        await dropSound(sound.id).catch(() => undefined);
        this.letGoOfLock(sound.id);
        continue;
      }
      if (!sound.ended) await changeSound(sound.id, { ended: true }).catch(() => undefined);
      this.start({ ...sound, ended: true, refusal: null, isLeft: true }, growing, true);
    }
  }

  /** Offers a sound once more that the server did not take. */
  again(id: string): void {
    const known = this.deliveries.get(id);
    const growing = this.sounds.get(id);
    if (known?.state === 'kept' && growing)
      this.start({ ...known.sound, refusal: null }, growing, known.isKept);
  }

  /**
   * Sends what was laid aside. That it goes is on the disk before the server is told, so that a page that closes in between
   * sends it with the next visit.
   * @param tell tells the server; what it throws leaves the sound laid aside, and is thrown on
   */
  async sendAside(
    id: string,
    to: Pick<KeptSound, 'announce' | 'place'>,
    tell: () => Promise<unknown>,
  ): Promise<void> {
    const known = this.deliveries.get(id);
    const growing = this.sounds.get(id);
    if (known?.state !== 'aside' || !growing) return;
    const { aside, announce, place } = known.sound;
    await changeSound(id, { ...to, aside: undefined }).catch(() => undefined);
    try {
      await tell();
    } catch (error) {
      await changeSound(id, { aside, announce, place }).catch(() => undefined);
      throw error;
    }
    if (this.deliveries.get(id)?.state === 'aside')
      this.start({ ...known.sound, ...to, aside: undefined }, growing, known.isKept);
  }

  /** Throws away a sound, also one that is still on its way: what is under way with it ends, here and there. */
  async discard(id: string): Promise<void> {
    const state = this.deliveries.get(id)?.state;
    const isAnnounced = this.deliveries.get(id)?.sound.announce != null;
    this.forget(id);
    this.wake();
    await this.uploads
      .get(id)
      ?.abort()
      .catch(() => undefined);
    if (!isAnnounced || state === 'delivered') {
      await dropSound(id).catch(() => undefined);
      return this.letGoOfLock(id);
    }
    // Kept as let go of until the server knows: a page that closes before leaves nothing waiting for it.
    await changeSound(id, { letGo: true, ended: true }).catch(() => undefined);
    await this.tellLetGo(id);
  }

  /** Tells the server that a sound will not come; tries until it knows. */
  private async tellLetGo(id: string): Promise<void> {
    for (let n = 0; ; n++) {
      const response = await fetch(`/api/recordings/${id}/cancel`, { method: 'POST' }).catch(() => null);
      // Not there: it was never announced, or is somebody else's.
      if (response && (response.ok || [404, 403].includes(response.status))) break;
      if (response?.status === 401) return this.letGoOfLock(id);
      await this.pause(id, RETRY_MS[Math.min(n, RETRY_MS.length - 1)]!);
    }
    await dropSound(id).catch(() => undefined);
    this.letGoOfLock(id);
  }

  /** Takes a sound that is settled off the list: what was to be done with it is done. */
  forget(id: string): void {
    this.deliveries.delete(id);
    this.sounds.delete(id);
    this.tell();
  }

  /** What was recorded, to hear or to save before (or without) the server. */
  blob(id: string): Blob | null {
    const delivery = this.deliveries.get(id);
    const growing = this.sounds.get(id);
    return delivery && growing ? new Blob([growing.whole()], { type: delivery.sound.mediaType }) : null;
  }

  /** Everything of this page is with the server, or kept here for good. */
  settled(): boolean {
    return [...this.deliveries.values()].every(
      d => ['delivered', 'kept', 'rehearsed'].includes(d.state) || (d.state === 'aside' && d.isKept),
    );
  }

  /** Something may have changed for a sound (or for all of them): whoever waits looks again. */
  wake(id: string | null = null): void {
    for (const [wake, of] of [...this.wakes]) if (id === null || of === id) wake();
  }

  private async lock(id: string): Promise<boolean> {
    const release = await hold(id);
    if (release) this.held.set(id, release);
    return release !== null;
  }

  private letGoOfLock(id: string): void {
    this.held.get(id)?.();
    this.held.delete(id);
  }

  private start(sound: KeptSound, growing: GrowingSound, isKept: boolean): void {
    this.sounds.set(sound.id, growing);
    this.deliveries.set(sound.id, {
      sound,
      state: isOfThisPage(sound) ? 'rehearsed' : sound.aside === undefined ? 'sending' : 'aside',
      bytes: growing.size,
      sent: 0,
      recording: null,
      message: null,
      isKept,
    });
    this.tell();
    if (sound.announce !== null) void this.deliver(sound, growing);
  }

  private async deliver(sound: KeptSound, growing: GrowingSound): Promise<void> {
    const { id } = sound;
    const isMine = () => this.sounds.get(id) === growing;
    try {
      const recording = await this.settle(sound, growing);
      if (!isMine()) throw new Abandoned();
      const unsent = recording?.state === 'stored' ? await this.sendSheet(id) : null;
      if (!isMine()) throw new Abandoned();
      await dropSound(id).catch(() => undefined);
      this.letGoOfLock(id);
      if (recording) this.change(id, { state: 'delivered', recording, message: unsent ?? recording.message });
      else this.forget(id);
    } catch (error) {
      if (error instanceof Abandoned || !isMine()) return;
      const message = (error as Error).message;
      await changeSound(id, { refusal: message }).catch(() => undefined);
      this.change(id, { state: 'kept', message });
    }
  }

  /**
   * Does one step after another until nothing is left to do.
   * @returns what the server says of it; null when there was nothing in it
   * @throws Refused with why it stays here
   */
  private async settle(sound: KeptSound, growing: GrowingSound): Promise<RecordingView | null> {
    const { id } = sound;
    let view: RecordingView | null = null;
    let announced = 0;
    for (let waits = 0; ;) {
      const device = { bytes: growing.size, ended: growing.ended, isLeft: sound.isLeft };
      const own = view?.sha256 && !sound.holes ? await sha256(growing.whole()) : null;
      switch (deviceStep(view, device, own, view?.sha256 ?? null)) {
        case 'announce':
          // Told already, and still not open to us: it was handed in without the rest.
          if (announced++ > 0 && view)
            throw new Refused(
              'This was handed in before all of it had come. The whole is on this device: save it, and ask your teacher.',
            );
          await this.persist(id, () => this.announce(sound));
          view = view && (await this.persist(id, () => this.ask(id)));
          if (view && view.state !== 'arriving') continue;
          await this.persist(id, () => this.send(sound, growing));
          view = await this.persist(id, () => this.ask(id));
          break;
        case 'send':
          await this.persist(id, () => this.send(sound, growing));
          view = await this.persist(id, () => this.ask(id));
          // Nothing moved (its last byte came, and was not noticed there): a moment, then once more.
          if (view.state === 'arriving') await this.pause(id, ASK_MS[Math.min(waits++, ASK_MS.length - 1)]!);
          break;
        case 'wait':
          this.change(id, { state: 'checking', recording: view });
          await this.pause(id, ASK_MS[Math.min(waits++, ASK_MS.length - 1)]!);
          view = await this.persist(id, () => this.ask(id), 'checking');
          break;
        case 'drop':
          return view;
        case 'letGo':
          await this.persist(id, () => this.cancel(id));
          return null;
        case 'keep':
          throw new Refused(
            'What arrived differs from what was recorded. The whole is on this device: save it, or send it again.',
          );
      }
    }
  }

  /** Tries until it works; only a refusal ends it. */
  private async persist<T>(
    id: string,
    attempt: () => Promise<T>,
    state: DeliveryState = 'sending',
  ): Promise<T> {
    for (let n = 0, notMine = 0; ; n++) {
      try {
        const result = await attempt();
        if (!this.deliveries.has(id)) throw new Abandoned();
        this.change(id, { state, message: null });
        return result;
      } catch (error) {
        if (error instanceof Refused || error instanceof Abandoned) throw error;
        if (!this.deliveries.has(id)) throw new Abandoned();
        if (error instanceof NotMine && ++notMine >= NOT_MINE_TRIES) throw new Refused(error.message);
        this.change(id, {
          state: 'waitingForNetwork',
          message: error instanceof SignedOut ? error.message : null,
        });
        await this.pause(id, RETRY_MS[Math.min(n, RETRY_MS.length - 1)]!);
        if (!this.deliveries.has(id)) throw new Abandoned();
      }
    }
  }

  private pause(id: string, ms: number): Promise<void> {
    return new Promise(resolve => {
      const wake = () => {
        clearTimeout(timer);
        this.wakes.delete(wake);
        resolve();
      };
      const timer = setTimeout(wake, ms);
      this.wakes.set(wake, id);
    });
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
          // It takes no more bytes: what became of it is asked next.
          if (status === 410) return resolve();
          reject(errorOf(status, response?.getBody() ?? '') ?? error);
        },
      });
      this.uploads.set(sound.id, upload);
      upload.start();
    }).finally(() => this.uploads.delete(sound.id));
  }

  /**
   * What was drawn goes after the sound that it belongs to; until it is there, this device keeps both.
   * @returns why the server did not take it, where it did not: the sound stands all the same
   */
  private async sendSheet(id: string): Promise<string | null> {
    const sheet = this.sheet(id);
    if (!sheet || sheet.strokes.length === 0) return null;
    const put = async () => {
      const response = await fetch(`/api/takes/${id}/sheet`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(sheet),
      });
      await refuseIfFinal(response);
      return null;
    };
    return this.persist<string | null>(id, put).catch((error: unknown) => {
      if (error instanceof Refused) return error.message;
      throw error;
    });
  }

  private async ask(id: string): Promise<RecordingView> {
    const response = await fetch(`/api/recordings/${id}`);
    await refuseIfFinal(response);
    return (await response.json()) as RecordingView;
  }

  private async cancel(id: string): Promise<void> {
    const response = await fetch(`/api/recordings/${id}/cancel`, { method: 'POST' });
    if (![403, 404].includes(response.status)) await refuseIfFinal(response);
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
    limitMs: 0,
    silent: false,
    gateMs: null,
    trim: null,
    sizeBytes: bytes,
    sha256: null,
    medium: sound.mediaType.startsWith('video/') ? 'video' : 'sound',
    details: null,
    fileName: null,
    cutShort: false,
    bytes,
    length: bytes,
    quietMs: 0,
  };
}

/** What an answer that is not good means: null where trying again can help. */
function errorOf(status: number, body: string): Error | null {
  if (status === 401) return new SignedOut();
  if (status === 403 || status === 404) return new NotMine(messageIn(body));
  if (status >= 400 && status < 500 && ![408, 423, 429].includes(status) && !isBehind(status, body))
    return new Refused(messageIn(body));
  return null;
}

/** A conflict of offsets is tus's own, and is found out by asking again; ours have words. */
function isBehind(status: number, body: string): boolean {
  return status === 409 && !body.includes('"message"');
}

async function refuseIfFinal(response: Response): Promise<void> {
  if (response.ok) return;
  throw errorOf(response.status, await response.text()) ?? new Error(`HTTP ${response.status}`);
}

function messageIn(body: string): string {
  try {
    return (JSON.parse(body) as TroubleBody).message;
  } catch {
    return 'The server did not take this recording. It stays on this device and is sent again with your next visit.';
  }
}

export const desk = new DeliveryDesk();
