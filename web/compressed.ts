import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, constants } from 'node:zlib';
import type { Plugin } from 'vite';

const TEXT = /\.(js|css|svg|json|webmanifest)$/;
const LEAST_BYTES = 1_000;
/** The slowest setting takes minutes for what is bigger: charts and pages of PDF, which few open. */
const WELL_UP_TO_BYTES = 500_000;

/** Compresses what is built once, and well, so that the server does not do it for each visitor. */
export function compressed(): Plugin {
  return {
    name: 'ecoute-compressed',
    apply: 'build',
    writeBundle({ dir }) {
      for (const name of readdirSync(dir!, { recursive: true, encoding: 'utf8' })) {
        if (!TEXT.test(name) || name.startsWith('.vite')) continue;
        const bytes = readFileSync(join(dir!, name));
        if (bytes.length < LEAST_BYTES) continue;
        const quality = bytes.length > WELL_UP_TO_BYTES ? 9 : constants.BROTLI_MAX_QUALITY;
        const params = { [constants.BROTLI_PARAM_QUALITY]: quality };
        writeFileSync(join(dir!, `${name}.br`), brotliCompressSync(bytes, { params }));
      }
    },
  };
}
