// ./ecoute bench setting: figures as ratios of their budget, printed as a table; nothing here passes or fails.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';

const root = join(import.meta.dirname, '..');
const which = process.argv[2];
if (which !== 'setting') {
  process.stderr.write('Say which: ./ecoute bench setting\n');
  process.exit(2);
}

const scratch = mkdtempSync(join(tmpdir(), 'ecoute-bench-'));
let server = null;
try {
  const out = join(scratch, 'setting.mjs');
  await build({
    entryPoints: [join(root, 'bench/setting.ts')],
    outfile: out,
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'warning',
  });
  const { settingInNode } = await import(out);
  const rows = settingInNode();

  const port = String(20_000 + (process.pid % 20_000));
  server = spawn('node', ['build/server/cli.mjs', 'start'], {
    cwd: root,
    env: {
      ...process.env,
      ECOUTE_DATA: join(scratch, 'data'),
      ECOUTE_PORT: port,
      ECOUTE_RELAXED_LIMITS: '1',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve, reject) => {
    server.stdout.on('data', chunk => String(chunk).includes('is open') && resolve());
    server.once('exit', code => reject(new Error(`Ecoute ended with ${code}.`)));
  });
  const { editorInBrowser } = await import('./settingInBrowser.mjs');
  rows.push(...(await editorInBrowser(`http://127.0.0.1:${port}`, 60)));

  const ms = value => `${value.toFixed(2)} ms`.padStart(12);
  console.log(
    `${'what'.padEnd(46)}${'median'.padStart(12)}${'least'.padStart(12)}${'most'.padStart(12)}   of its budget`,
  );
  for (const { name, median, least, most, budgetMs } of rows)
    console.log(
      `${name.padEnd(46)}${ms(median)}${ms(least)}${ms(most)}   ${(median / budgetMs).toFixed(3)} of ${budgetMs} ms`,
    );
} finally {
  if (server && server.exitCode === null) {
    const gone = new Promise(resolve => server.once('exit', resolve));
    server.kill('SIGTERM');
    await gone;
  }
  rmSync(scratch, { recursive: true, force: true });
}
