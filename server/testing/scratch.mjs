// Where tests keep what they make: in memory where there is plenty of it, else in the folder for temporary files.
import { mkdtempSync, statfsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const SHARED = '/dev/shm';
const ENOUGH_BYTES = 6 * 1024 ** 3;

/** Makes a folder whose name begins with `prefix`. */
export function scratchFolder(prefix) {
  for (const base of [SHARED, tmpdir()])
    try {
      const { bavail, bsize } = statfsSync(base);
      if (base !== SHARED || bavail * bsize >= ENOUGH_BYTES) return mkdtempSync(join(base, prefix));
    } catch {
      // No memory to share on this machine.
    }
  throw new Error(`Nothing can be written to ${tmpdir()}.`);
}
