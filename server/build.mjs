// Bundles the server's own TypeScript; packages stay in node_modules.
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build, context } from 'esbuild';

const here = dirname(fileURLToPath(import.meta.url));
const dependenciesOf = name =>
  Object.keys(JSON.parse(readFileSync(join(here, '..', name, 'package.json'), 'utf8')).dependencies ?? {});

/** @type {import('esbuild').BuildOptions} */
const options = {
  entryPoints: {
    cli: join(here, 'cli.ts'),
    measure: join(here, 'measure.ts'),
    worker: join(here, 'worker.ts'),
  },
  outdir: join(here, '../build/server'),
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: true,
  logLevel: 'warning',
  external: [...dependenciesOf('server'), ...dependenciesOf('contract')].filter(
    n => !n.startsWith('@ecoute/'),
  ),
};

/**
 * Builds the server, and again whenever a file of it changes.
 * @param {() => void} built told after each build that went well
 */
export async function buildAlways(built) {
  const tell = { name: 'tell', setup: b => b.onEnd(({ errors }) => errors.length === 0 && built()) };
  await (await context({ ...options, plugins: [tell] })).watch();
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await build(options);
