import { encodingOf } from '@ecoute/core/formats/encoding';

/** A text file's words, whatever encoding an office program wrote them in. */
export async function textOfFile(file: Blob): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  return new TextDecoder(encodingOf(bytes)).decode(bytes);
}
