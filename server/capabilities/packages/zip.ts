/** Reading a ZIP that comes from anywhere: nothing in it is believed before it was counted. */
import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Transform, type Readable } from 'node:stream';
import yauzl, { type Entry, type ZipFile } from 'yauzl';
import { LIMITS } from '@ecoute/contract/limits';

const MANIFEST = 'manifest.json';
const MOST_ENTRIES = 1_000;
const MOST_MANIFEST_BYTES = 8 * 1024 * 1024;
const MOST_BYTES = 1024 * 1024 * 1024;
/** Sound does not shrink this much; what does was made to burst. */
const MOST_RATIO = 200;
const SMALL_BYTES = 1024 * 1024;

export interface UnzippedMedia {
  path: string;
  /** Where it lies now. */
  file: string;
  sizeBytes: number;
  sha256: string;
}

export interface Unzipped {
  manifest: string;
  media: Map<string, UnzippedMedia>;
  /** Files that have no place in a package. */
  strange: string[];
}

function open(path: string): Promise<ZipFile> {
  return new Promise((resolve, reject) =>
    // Names are checked by the reader: no absolute paths, no "..", no backslashes. Sizes too, as they are read.
    yauzl.open(path, { lazyEntries: true, strictFileNames: true, validateEntrySizes: true }, (error, zip) =>
      error ? reject(error) : resolve(zip),
    ),
  );
}

function stream(zip: ZipFile, entry: Entry): Promise<Readable> {
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, readable) => (error ? reject(error) : resolve(readable))),
  );
}

async function textOf(readable: Readable): Promise<string> {
  const parts: Buffer[] = [];
  for await (const part of readable) parts.push(part as Buffer);
  return Buffer.concat(parts).toString('utf8');
}

async function toFile(readable: Readable, file: string): Promise<{ sizeBytes: number; sha256: string }> {
  const hash = createHash('sha256');
  let sizeBytes = 0;
  const count = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      hash.update(chunk);
      sizeBytes += chunk.length;
      done(null, chunk);
    },
  });
  await pipeline(readable, count, createWriteStream(file));
  return { sizeBytes, sha256: hash.digest('hex') };
}

/**
 * Unpacks a package into a folder, under names of its own.
 * @throws Error in words for what is no ZIP, is damaged, leads out of the folder, or would burst
 */
export async function unzipped(path: string, folder: string): Promise<Unzipped> {
  const zip = await open(path).catch((error: Error) => {
    throw new Error(
      /relative path|absolute path|invalid characters/.test(error.message)
        ? 'This package names files outside itself and was not opened. Do not use it.'
        : 'This is no ZIP file, or it arrived damaged. Choose an assessment package, or ask for it once more.',
      { cause: error },
    );
  });
  const found: Unzipped = { manifest: '', media: new Map(), strange: [] };
  let total = 0;
  try {
    if (zip.entryCount > MOST_ENTRIES)
      throw new Error(`This package holds ${zip.entryCount} files; at most ${MOST_ENTRIES} are read.`);
    for (let n = 0; ; n++) {
      const entry = await new Promise<Entry | null>((resolve, reject) => {
        zip.once('entry', resolve);
        zip.once('end', () => resolve(null));
        zip.once('error', reject);
        zip.readEntry();
      });
      zip.removeAllListeners();
      if (!entry) break;
      const { fileName: name, uncompressedSize: size, compressedSize } = entry;
      if (name.endsWith('/')) continue;
      total += size;
      const bursts = size > SMALL_BYTES && size > compressedSize * MOST_RATIO;
      if (bursts || total > MOST_BYTES)
        throw new Error('This package would unpack to far more than it should and was not opened.');
      if (name === MANIFEST) {
        if (size > MOST_MANIFEST_BYTES)
          throw new Error('The manifest of this package is too large to be one.');
        found.manifest = await textOf(await stream(zip, entry));
      } else if (/^media\/[\w.-]+$/.test(name)) {
        if (size > LIMITS.promptBytes)
          throw new Error(`${name} is larger than a sound may be (300 MB). Nothing was brought in.`);
        const file = join(folder, String(n));
        found.media.set(name, { path: name, file, ...(await toFile(await stream(zip, entry), file)) });
      } else found.strange.push(name);
    }
  } catch (error) {
    const { message } = error as Error;
    if (/relative path|absolute path|invalid characters/.test(message))
      throw new Error('This package names files outside itself and was not opened. Do not use it.', {
        cause: error,
      });
    if (/size|crc|inflate|header|end of file|signature|block/i.test(message) && !message.includes('package'))
      throw new Error('This package arrived damaged. Ask for it once more.', { cause: error });
    throw error;
  } finally {
    zip.close();
  }
  if (!found.manifest)
    throw new Error('This ZIP file holds no manifest.json, so it is no assessment package. Choose another.');
  return found;
}
