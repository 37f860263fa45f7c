/** Up to this size a browser's own digest takes the bytes at once. */
const AT_ONCE = 8 * 1024 * 1024;
const STEP = 4 * 1024 * 1024;

const hex = (bytes: Uint8Array) => [...bytes].map(b => b.toString(16).padStart(2, '0')).join('');

/** SHA-256 of a sound or file. A large one is read stretch by stretch: a phone has no room for it twice. */
export async function sha256(blob: Blob): Promise<string> {
  if (blob.size <= AT_ONCE)
    return hex(new Uint8Array(await crypto.subtle.digest('SHA-256', await blob.arrayBuffer())));
  const { createSHA256 } = await import('hash-wasm');
  const digest = await createSHA256();
  for (let at = 0; at < blob.size; at += STEP)
    digest.update(new Uint8Array(await blob.slice(at, at + STEP).arrayBuffer()));
  return digest.digest('hex');
}
