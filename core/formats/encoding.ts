/** Which encoding the bytes of a text file are in, so that a list from any office program reads right. */

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/**
 * UTF-8 and UTF-16 by their marks; UTF-16 without one by its zero bytes; UTF-8 where the bytes are well-formed;
 * otherwise the encoding of older office programs.
 */
export function encodingOf(bytes: Uint8Array): Encoding {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const some = bytes.subarray(0, 400);
  const zeros = (odd: number) => some.filter((b, i) => i % 2 === odd && b === 0).length;
  if (zeros(1) > some.length / 4) return 'utf-16le';
  if (zeros(0) > some.length / 4) return 'utf-16be';
  return isUtf8(bytes) ? 'utf-8' : 'windows-1252';
}

/** Whether bytes are well-formed UTF-8 (Unicode Standard, table 3-7). */
export function isUtf8(bytes: Uint8Array): boolean {
  for (let i = 0; i < bytes.length; i++) {
    const lead = bytes[i]!;
    if (lead < 0x80) continue;
    const more =
      lead >= 0xc2 && lead <= 0xdf
        ? 1
        : lead >= 0xe0 && lead <= 0xef
          ? 2
          : lead >= 0xf0 && lead <= 0xf4
            ? 3
            : 0;
    if (more === 0 || i + more >= bytes.length) return false;
    const second = bytes[i + 1]!;
    if (lead === 0xe0 && second < 0xa0) return false;
    if (lead === 0xed && second > 0x9f) return false;
    if (lead === 0xf0 && second < 0x90) return false;
    if (lead === 0xf4 && second > 0x8f) return false;
    for (let k = 1; k <= more; k++) if ((bytes[i + k]! & 0xc0) !== 0x80) return false;
    i += more;
  }
  return true;
}
