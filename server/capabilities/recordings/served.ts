import type { Pool } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import { notFound } from '../../platform/trouble';
import { heardFrom, pageOf, peaksOf, playable, shown } from './files';
import * as store from './store';

/** What of a recording is sent to browsers: sound, pictures, the file as it came, its shape. */
/** A file that plays. */
export interface Playing {
  path: string;
  type: string;
}

export class Served {
  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
  ) {}

  /** Where what plays lies, and its type: the playable copy, or the original until that is there. @throws Trouble notFound */
  async playing(id: string): Promise<Playing> {
    // However the id was written, in upper or lower case: there is one at most.
    const [found] = (await this.playingOf([id])).values();
    if (!found) throw notFound();
    return found;
  }

  /** The same of many, in one question; what there is nothing to play of is left out. */
  async playingOf(ids: readonly string[]): Promise<Map<string, Playing>> {
    const found = await store.findRecordings(this.pool, ids);
    return new Map(
      found.filter(recording => recording.state !== 'arriving').map(one => [one.id, this.playingFrom(one)]),
    );
  }

  private playingFrom(recording: store.RecordingRow): Playing {
    if (recording.playableAt)
      return {
        path: this.files.localPath(playable(recording.id)),
        type: recording.medium === 'video' ? 'video/mp4' : 'audio/mp4',
      };
    return {
      path: this.files.localPath(heardFrom(recording)),
      type:
        recording.trimFromMs === null ? (recording.mediaType ?? 'application/octet-stream') : 'audio/flac',
    };
  }

  /** What is looked at: a picture, the still of a film, a page, or a score. @throws Trouble notFound where there is none */
  async showing(id: string, page: number | null): Promise<{ path: string; type: string }> {
    const recording = await store.findRecording(this.pool, id);
    const key = page === null ? shown(id) : pageOf(id, page);
    if (!recording?.medium || (await this.files.size(key)) === null) throw notFound();
    if (page !== null) return { path: this.files.localPath(key), type: 'image/jpeg' };
    if (['picture', 'video'].includes(recording.medium))
      return { path: this.files.localPath(key), type: 'image/webp' };
    if (recording.medium === 'notation') return { path: this.files.localPath(key), type: 'application/xml' };
    throw notFound();
  }

  /** The file as it came, to be kept by whoever may have it. */
  async asItCame(id: string): Promise<{ path: string; name: string }> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording || recording.state === 'arriving') throw notFound();
    const name = recording.fileName ?? 'recording';
    return {
      path: this.files.localPath(heardFrom(recording)),
      name: recording.trimFromMs === null ? name : `${name.replace(/\.\w+$/, '')}.flac`,
    };
  }

  /** The stored peaks as JSON text. @throws Trouble notFound until the sound was looked at */
  async peaks(id: string): Promise<string> {
    const recording = await store.findRecording(this.pool, id);
    if (!recording || (await this.files.size(peaksOf(recording))) === null) throw notFound();
    return (await this.files.read(peaksOf(recording))).toString('utf8');
  }
}
