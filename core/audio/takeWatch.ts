/** Listening along while a take is recorded: what goes wrong is said while it can still be mended. */
import { dbfs, SILENT_PEAK_DBFS } from './peaks';

export type Concern =
  /** Nothing was heard since the take began. */
  | 'nothing'
  /** The device, or a call that came in, keeps the microphone from the page. */
  | 'muted'
  /** The sound is at its stop again and again. */
  | 'clipped';

/** Whoever has not been heard after so long is told; a pause after something was heard is a pause. */
const NOTHING_AFTER_MS = 4_000;
/**
 * Not one sample of a room is quite without sound for so long: a key or a switch has cut the microphone off, and the browser does not
 * know. Where the browser takes noise away it may leave nothing of a quiet room, so that a pause looks like that.
 */
const CUT_AFTER_MS = 2_000;
const CUT_AFTER_CLEANED_MS = 8_000;
/** A device may mute for a moment while it changes something. */
const MUTED_AFTER_MS = 700;
const CLIPPED = 0.985;
/** So many loud moments, within so long, are heard as distortion. */
const CLIPPED_LOOKS = 3;
const CLIPPED_WITHIN_MS = 3_000;

/**
 * Takes a look at the level now and then; a few times a second is enough.
 * @example
 * const watch = new TakeWatch(nowMs, false); watch.look({ peak: 0.2, isMuted: false }, nowMs)
 */
export class TakeWatch {
  private isHeard = false;
  private mutedSinceMs: number | null = null;
  private zeroSinceMs: number | null = null;
  private loudAtMs: number[] = [];

  /**
   * @param beganAtMs when the answer began, by any clock that `look` is told as well
   * @param isCleaned the browser takes noise away
   */
  constructor(
    private readonly beganAtMs: number,
    private readonly isCleaned: boolean,
  ) {}

  /**
   * @param peak highest amplitude just now, 0…1
   * @returns what the student should know now; null when all is well
   */
  look({ peak, isMuted }: { peak: number; isMuted: boolean }, nowMs: number): Concern | null {
    if (dbfs(peak) >= SILENT_PEAK_DBFS) this.isHeard = true;
    if (peak >= CLIPPED) this.loudAtMs.push(nowMs);
    this.loudAtMs = this.loudAtMs.filter(atMs => nowMs - atMs <= CLIPPED_WITHIN_MS);
    this.mutedSinceMs = isMuted ? (this.mutedSinceMs ?? nowMs) : null;
    if (this.mutedSinceMs !== null && nowMs - this.mutedSinceMs >= MUTED_AFTER_MS) return 'muted';
    this.zeroSinceMs = peak === 0 ? (this.zeroSinceMs ?? nowMs) : null;
    const cutAfterMs = this.isCleaned ? CUT_AFTER_CLEANED_MS : CUT_AFTER_MS;
    if (this.isHeard && this.zeroSinceMs !== null && nowMs - this.zeroSinceMs >= cutAfterMs) return 'muted';
    if (!this.isHeard && nowMs - this.beganAtMs >= NOTHING_AFTER_MS) return 'nothing';
    return this.loudAtMs.length >= CLIPPED_LOOKS ? 'clipped' : null;
  }
}
