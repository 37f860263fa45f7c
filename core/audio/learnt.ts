/** Learnt weights as they are kept in files of the tree. */

/** @param base64 bytes with a sign, one for each weight */
export function signedBytes(base64: string): Int8Array {
  return new Int8Array(Uint8Array.from(atob(base64), c => c.charCodeAt(0)).buffer);
}
