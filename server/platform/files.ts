import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { chmod, copyFile, mkdir, open, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join, resolve, sep } from 'node:path';
import type { Readable } from 'node:stream';

/**
 * Where sounds are kept. Keys are short relative paths such as `originals/<id>`. What programs and worker threads read
 * and write goes through `localPath`; a store that is no disk would have to bring such files there and back.
 */
export interface FileStore {
  /** Writes a whole file; a reader never sees half of it. */
  put(key: string, data: Uint8Array | string): Promise<void>;
  read(key: string): Promise<Buffer>;
  open(key: string, range?: { start: number; end: number }): Readable;
  size(key: string): Promise<number | null>;
  /** When a file was last written to; null where there is none. */
  changedAt(key: string): Promise<Date | null>;
  /** A path that a local program may read, or write when followed by `adopt`. */
  localPath(key: string): string;
  /** Takes a file that a local program wrote beside its place, and puts it there at once. */
  adopt(temporary: string, key: string): Promise<void>;
  /** Puts a copy of a local file from elsewhere there. */
  bring(path: string, key: string): Promise<void>;
  /** Comes back once what was written to a file would also be there after a power cut. */
  sync(key: string): Promise<void>;
  /** Removes a file, or all files under a key. One that is not there is no trouble. */
  remove(key: string): Promise<void>;
}

export class DiskFileStore implements FileStore {
  private readonly root: string;

  constructor(root: string) {
    this.root = resolve(root);
  }

  localPath(key: string): string {
    const path = resolve(join(this.root, key));
    if (!path.startsWith(this.root + sep)) throw new RangeError(`"${key}" leads out of the file store.`);
    return path;
  }

  async put(key: string, data: Uint8Array | string): Promise<void> {
    const path = this.localPath(key);
    await mkdir(dirname(path), { recursive: true, mode: 0o700 });
    // Two writers of one key never write into one file.
    const temporary = `${path}.${randomUUID()}.part`;
    try {
      await writeFile(temporary, data, { mode: 0o600 });
      await rename(temporary, path);
    } finally {
      await rm(temporary, { force: true });
    }
  }

  read(key: string): Promise<Buffer> {
    return readFile(this.localPath(key));
  }

  open(key: string, range?: { start: number; end: number }): Readable {
    return createReadStream(this.localPath(key), range);
  }

  async size(key: string): Promise<number | null> {
    try {
      return (await stat(this.localPath(key))).size;
    } catch {
      return null;
    }
  }

  async changedAt(key: string): Promise<Date | null> {
    try {
      return (await stat(this.localPath(key))).mtime;
    } catch {
      return null;
    }
  }

  async adopt(temporary: string, key: string): Promise<void> {
    await rename(temporary, this.localPath(key));
  }

  async bring(path: string, key: string): Promise<void> {
    const own = this.localPath(key);
    await mkdir(dirname(own), { recursive: true, mode: 0o700 });
    await copyFile(path, own);
    // A copy keeps the rights of what it was copied from.
    await chmod(own, 0o600);
  }

  async sync(key: string): Promise<void> {
    const file = await open(this.localPath(key), 'r+');
    try {
      await file.datasync();
    } finally {
      await file.close();
    }
  }

  async remove(key: string): Promise<void> {
    await rm(this.localPath(key), { recursive: true, force: true });
  }
}
