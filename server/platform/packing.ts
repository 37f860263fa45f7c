/** ZIP files that are made while they are sent; memory does not grow with them. */
import type { Response } from 'express';
import type { Readable } from 'node:stream';
import yazl from 'yazl';

/** The packer tells how long the whole will be; its types do not say so. */
interface Endable {
  end(options: object, told: (totalBytes: number) => void): void;
}

export interface Packed {
  name: string;
  size: number;
  /** Opened when its turn has come, and not before. */
  open: () => Promise<Readable>;
}

export interface Zip {
  zip: Readable;
  /** Bytes of the whole; null where that cannot be known. */
  size: Promise<number | null>;
}

/** @param texts small files, written first */
export function packed(texts: readonly { name: string; text: string }[], files: readonly Packed[]): Zip {
  const zip = new yazl.ZipFile();
  const made = new Date();
  for (const { name, text } of texts) zip.addBuffer(Buffer.from(text), name, { compress: false });
  // Sound and pictures are compressed already.
  for (const { name, size, open } of files)
    zip.addReadStreamLazy(name, { compress: false, size, mtime: made }, done => {
      open().then(
        stream => done(null, stream),
        (error: Error) => done(error, null as never),
      );
    });
  const size = new Promise<number | null>(resolve =>
    // Its own reckoning is short of 76 bytes once the directory passes 64 kB, unless the long form is asked for.
    (zip as unknown as Endable).end({ forceZip64Format: true }, total => resolve(total > 0 ? total : null)),
  );
  return { zip: zip.outputStream as Readable, size };
}

/** Sends one as a download; whoever cancels it ends the making of it. */
export async function sendZip(res: Response, { zip, size, name }: Zip & { name: string }): Promise<void> {
  const total = await size;
  res.attachment(name).type('application/zip');
  // Compressing once more would hide how far it is, and gain nothing.
  res.set('Content-Encoding', 'identity');
  if (total !== null) res.set('Content-Length', String(total));
  res.on('close', () => zip.destroy());
  await new Promise<void>(resolve => {
    res.on('finish', resolve).on('close', resolve);
    zip.pipe(res);
  });
}

const ENDINGS: Record<string, string> = {
  'audio/mp4': 'm4a',
  'video/mp4': 'mp4',
  'audio/flac': 'flac',
  'audio/webm': 'webm',
  'video/webm': 'webm',
  'audio/ogg': 'ogg',
  'audio/wav': 'wav',
  'audio/mpeg': 'mp3',
  'image/webp': 'webp',
  'image/jpeg': 'jpg',
  'image/png': 'png',
};

/** The usual ending of a type of file; null for one that has none here. */
export function endingOf(mediaType: string): string | null {
  // Without what is said of its coding: “audio/ogg; codecs=opus”.
  return ENDINGS[mediaType.split(';')[0]!.trim().toLowerCase()] ?? null;
}
