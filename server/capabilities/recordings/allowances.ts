import { LIMITS } from '@ecoute/contract/limits';
import type { Pool } from '../../platform/database';
import * as store from './store';

/** Generous for a browser's voice recording (256 kbit/s), so that only what is plainly too long is stopped early. */
const BYTES_PER_MS = 32;
/** The same for camera and screen (4 Mbit/s). */
const FILM_BYTES_PER_MS = 512;
const MOST_ALLOWANCES = 5_000;
const BROUGHT_LEAST_BYTES = 64 * 1024 * 1024;
const LEAST_ALLOWANCE_BYTES = 4 * 1024 * 1024;

/** How many bytes may come for a recording. */
export class Allowances {
  /** By id: asked for each second of each recording, and never another for the same one. */
  private readonly known = new Map<string, number>();

  constructor(private readonly pool: Pool) {}

  /** @param id of a recording; null and ids that are none may bring nothing */
  async of(id: string | null): Promise<number> {
    const known = id ? this.known.get(id) : undefined;
    if (known !== undefined) return known;
    const bytes = await this.workOut(id);
    // What is long over makes room.
    if (this.known.size >= MOST_ALLOWANCES) this.known.delete(this.known.keys().next().value!);
    if (id && bytes > 0) this.known.set(id, bytes);
    return bytes;
  }

  private async workOut(id: string | null): Promise<number> {
    const recording = id ? await store.findRecording(this.pool, id) : null;
    if (!recording) return 0;
    if (recording.purpose === 'prompt') return LIMITS.promptBytes;
    if (recording.wanted === 'file' || recording.wanted === 'picture') return LIMITS.fileBytes;
    // A recording brought as a file may be a film, or sound without compression.
    if (recording.fileName !== null)
      return Math.min(LIMITS.fileBytes, BROUGHT_LEAST_BYTES + recording.limitMs * FILM_BYTES_PER_MS);
    if (recording.wanted === 'video')
      return Math.max(LEAST_ALLOWANCE_BYTES, recording.limitMs * FILM_BYTES_PER_MS);
    return Math.max(LEAST_ALLOWANCE_BYTES, recording.limitMs * BYTES_PER_MS);
  }
}
