// ./ecoute bench NAME: figures as ratios of their budget, printed as a table; nothing here passes or fails.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'esbuild';
import { note } from './notes.mjs';

const root = join(import.meta.dirname, '..');
const NAMES = [
  'setting',
  'releasing',
  'results',
  'sitting',
  'pieces',
  'handin',
  'listening',
  'opening',
  'desk',
  'measures',
  'minute',
  'first',
  'all',
  'syllables',
  'words',
  'hostile',
  'stage',
  'discussions',
];
const which = process.argv[2];
if (!NAMES.includes(which)) {
  process.stderr.write(`Say which: ${NAMES.map(n => `./ecoute bench ${n}`).join(', ')}\n`);
  process.exit(2);
}

const scratch = mkdtempSync(join(tmpdir(), 'ecoute-bench-'));
const data = join(scratch, 'data');
let server = null;

/** TypeScript of this folder, made to run. */
async function bundled(name) {
  const outfile = join(scratch, `${name}.mjs`);
  await build({
    entryPoints: [join(root, `bench/${name}.ts`)],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    logLevel: 'warning',
    // Packages in the old module form find what they need this way.
    banner: {
      js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);",
    },
  });
  return import(outfile);
}

/** An empty Ecoute, or the demo. @param env on top of the usual; a bench of the doors has them as they are @returns its address */
async function started(env = { ECOUTE_RELAXED_LIMITS: '1' }, how = 'start') {
  const port = String(20_000 + (process.pid % 20_000));
  server = spawn('node', ['build/server/cli.mjs', how], {
    cwd: root,
    env: { ...process.env, ECOUTE_DATA: data, ECOUTE_PORT: port, ...env },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve, reject) => {
    server.stdout.on('data', chunk => String(chunk).includes('is open') && resolve());
    server.once('exit', code => reject(new Error(`Ecoute ended with ${code}.`)));
  });
  return `http://127.0.0.1:${port}`;
}

function print(rows) {
  const ms = value => `${value.toFixed(2)} ms`.padStart(12);
  console.log(
    `${'what'.padEnd(46)}${'median'.padStart(12)}${'least'.padStart(12)}${'most'.padStart(12)}   of its budget`,
  );
  for (const { name, median, least, most, budgetMs } of rows)
    console.log(
      `${name.padEnd(46)}${ms(median)}${ms(least)}${ms(most)}   ${(median / budgetMs).toFixed(3)} of ${budgetMs} ms`,
    );
}

try {
  mkdirSync(data);
  if (which === 'all') {
    const { all } = await import('./all.mjs');
    await all(root, join(scratch, 'notes'));
  } else if (which === 'minute') {
    const { minute, printMinute } = await import('./minute.mjs');
    printMinute(minute(await bundled('measuring'), scratch, root));
  } else if (which === 'first') {
    const { first, printFirst } = await import('./first.mjs');
    printFirst(await first(await started(undefined, 'demo')));
  } else if (which === 'measures') {
    const { measures, printMeasures } = await import('./measures.mjs');
    const core = await bundled('measuring');
    printMeasures(measures(core, scratch, root, line => process.stderr.write(`${line}\n`)));
  } else if (which === 'words') {
    const { printWords, words } = await import('./words.mjs');
    const say = line => process.stderr.write(`${line}\n`);
    printWords(await words(await bundled('hearing'), join(scratch, 'said.wav'), say));
  } else if (which === 'syllables') {
    const { fitSyllables } = await import('./speakers.mjs');
    if (!process.env.ECOUTE_VOICES)
      throw new Error('Say in ECOUTE_VOICES where a list of recordings of people is; see CONTRIBUTING.');
    const core = await bundled('fitting');
    const say = line => process.stderr.write(`${line}\n`);
    fitSyllables(core, join(scratch, 'voice.wav'), process.env.ECOUTE_VOICES, say);
  } else if (which === 'setting') {
    const { settingInNode } = await bundled('setting');
    const rows = settingInNode();
    const { editorInBrowser } = await import('./settingInBrowser.mjs');
    rows.push(...(await editorInBrowser(await started(), 60)));
    note('editor', rows.find(r => /editor opens/.test(r.name)).median);
    print(rows);
  } else if (which === 'sitting' || which === 'pieces') {
    const { answersIn, content } = await bundled('content');
    const { printPieces, streaming } = await import('./sitting.mjs');
    const { inBrowser } = await import('./sittingInBrowser.mjs');
    const { owner } = await import('./releasing.mjs');
    const say = line => process.stderr.write(`${line}\n`);
    const base = await started();
    const db = await owner(data);
    const { content: whole } = content();
    const one = { ...whole, items: [{ ...whole.items[0], takesAllowed: 0 }] };
    printPieces(await streaming(base, server.pid, db, data, one, say));
    await db.end();
    if (which === 'sitting') {
      const { errors, scriptBytes } = await inBrowser(base, data, one, answersIn, say);
      const off = errors.map(Math.abs).sort((a, b) => a - b);
      const p95 = off[Math.floor(off.length * 0.95)];
      const line = (name, value, ratio) => console.log(`${name.padEnd(58)}${value.padStart(22)}   ${ratio}`);
      line('what', 'figure', 'as a ratio');
      line(
        `answer windows against clicks heard (${off.length}), 95th percentile`,
        `${p95.toFixed(2)} ms`,
        `${(p95 / 20).toFixed(3)} of 20 ms`,
      );
      line('  median, most', `${off[off.length >> 1].toFixed(2)}, ${off.at(-1).toFixed(2)} ms`, '');
      line(
        'scripts of a student’s first page, compressed',
        `${(scriptBytes / 1000).toFixed(0)} kB`,
        `${(scriptBytes / 200_000).toFixed(3)} of 200 kB`,
      );
    }
  } else if (which === 'discussions') {
    const { talk } = await bundled('talk');
    const { streaming, STUDENTS } = await import('./sitting.mjs');
    const { discussions, printDiscussions } = await import('./discussions.mjs');
    const { voices } = await import('./listening.mjs');
    const { owner } = await import('./releasing.mjs');
    const say = line => process.stderr.write(`${line}\n`);
    const base = await started();
    const db = await owner(data);
    const atOnce = await streaming(base, server.pid, db, data, talk(), say);
    const figures = await discussions(base, db, talk(), voices(root)[0], say);
    await db.end();
    printDiscussions(figures, atOnce, STUDENTS);
  } else if (which === 'stage') {
    const made = await bundled('stage');
    const { printStage, stage } = await import('./stage.mjs');
    const base = await started(undefined, 'demo');
    printStage(await stage(base, data, made, scratch, line => process.stderr.write(`${line}\n`)));
  } else if (which === 'hostile') {
    const { content } = await bundled('content');
    const { hostile, printHostile } = await import('./hostile.mjs');
    const { owner } = await import('./releasing.mjs');
    const say = line => process.stderr.write(`${line}\n`);
    const base = await started({});
    const db = await owner(data);
    const { content: whole } = content();
    const one = { ...whole, items: [{ ...whole.items[0], takesAllowed: 0 }] };
    const figures = await hostile(base, server.pid, db, one, scratch, say);
    await db.end();
    printHostile(figures);
  } else if (which === 'desk') {
    const { content, KINDS } = await bundled('content');
    const { everybody, voices } = await import('./listening.mjs');
    const { desks, printDesks } = await import('./desks.mjs');
    const { owner } = await import('./releasing.mjs');
    const base = await started();
    const db = await owner(data);
    const school = { ...(await everybody(base, db, 6)), content: content().content };
    const more = { sound: voices(root)[0], kinds: KINDS };
    const rows = await desks(base, db, { ...school, ...more }, line => process.stderr.write(`${line}\n`));
    await db.end();
    printDesks(rows);
  } else if (which === 'handin') {
    const { content } = await bundled('content');
    const { handin, printHandin } = await import('./handin.mjs');
    const { owner } = await import('./releasing.mjs');
    const base = await started();
    const db = await owner(data);
    const say = line => process.stderr.write(`${line}\n`);
    printHandin(await handin(base, db, root, scratch, content().content, say));
    await db.end();
  } else if (which === 'opening') {
    const { content } = await bundled('content');
    const { opening, printOpening } = await import('./listening.mjs');
    const { owner } = await import('./releasing.mjs');
    const say = line => process.stderr.write(`${line}\n`);
    const base = await started();
    const db = await owner(data);
    const figures = await opening(base, db, data, root, content().content, say);
    await db.end();
    printOpening(figures);
  } else if (which === 'listening') {
    const { content } = await bundled('content');
    const { listening, printListening } = await import('./listening.mjs');
    const { owner } = await import('./releasing.mjs');
    const say = line => process.stderr.write(`${line}\n`);
    const base = await started();
    const db = await owner(data);
    const { content: whole } = content();
    const items = [...whole.items, { ...whole.items[0], id: '00000009-0008-4000-8000-000000000000' }];
    const figures = await listening(base, server.pid, db, data, root, { ...whole, items }, say);
    await db.end();
    printListening(figures);
  } else if (which === 'results') {
    const { content } = await bundled('content');
    const { printResults, results } = await import('./results.mjs');
    const base = await started();
    const { printPlans } = await import('./releasing.mjs');
    const found = await results(base, server.pid, data, content(), line => process.stderr.write(`${line}\n`));
    printPlans(found.plans);
    console.log();
    print(found.rows);
    note('year', found.rows.find(r => /feedback of a year/.test(r.name)).median);
    printResults(found);
  } else {
    const { content } = await bundled('content');
    writeFileSync(join(data, 'content.json'), JSON.stringify(content()));
    const { printPlans, releasing } = await import('./releasing.mjs');
    const { rows, itself, plans } = await releasing(await started(), data, line =>
      process.stderr.write(`${line}\n`),
    );
    printPlans(plans);
    console.log();
    print([...rows, ...itself]);
    note('lists', Math.max(...rows.map(r => r.median)));
  }
} finally {
  if (server && server.exitCode === null) {
    const gone = new Promise(resolve => server.once('exit', resolve));
    server.kill('SIGTERM');
    await gone;
  }
  rmSync(scratch, { recursive: true, force: true });
}
