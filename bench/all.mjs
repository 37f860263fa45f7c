// ./ecoute bench all: the figures that are watched, beside what they were and what is wanted; and a dated line in docs/figures.md.
import { spawn, spawnSync } from 'node:child_process';
import { appendFileSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { yardstick } from './yardstick.mjs';

const BENCHES = ['minute', 'setting', 'releasing', 'results', 'first', 'handin', 'listening', 'pieces'];

/** Unit ×: a ratio of the bare counterpart. What was is from the first time that all of it was looked at; null where nobody had. */
const FIGURES = [
  ['machine.least', 'the machine itself: a fixed piece of work, in its best moment', 'ms', null, null],
  ['machine.most', 'the machine itself: the same, in its worst', 'ms', null, null],
  ['next.median', 'the next recording sounds, median', 'ms', 126, 60],
  ['next.most95', 'the next recording sounds, 95th percentile', 'ms', null, 120],
  ['ranges', 'ranges of sounds, of a bare static server', '×', 0.31, 0.8],
  ['pieces', 'pieces of recordings, of a bare sink that writes and syncs', '×', 0.54, 0.8],
  ['thousand.median', '1,000 people recording, median', 'ms', 1_106, null],
  ['thousand.most99', '1,000 people recording, 99th percentile', 'ms', 6_550, 1_000],
  ['thousand.lost', '1,000 people recording, takes that differ', '', 0, 0],
  ['thousand.memory', '1,000 people recording, memory, last of second quarter', '×', 1.03, 1.1],
  ['lanes.server', 'lanes of 3,000, on the server', 'ms', 175, 100],
  ['lanes.open', 'lanes of 3,000, until the first can be scored', 'ms', 1_180, 700],
  ['editor', '60 items open for editing', 'ms', 1_130, 500],
  ['first.signIn', 'signing in on a slow phone and line', 's', null, 4],
  ['first.page', 'a student’s first page after it', 's', null, 4],
  ['year', 'a year of feedback, in one go', 'ms', null, 100],
  ['lists', 'lists in a school of a million sittings, slowest', 'ms', 21, 50],
  ['handin.looked', 'a class of 30 × 30 s hands in: the last looked at', 's', 21.8, 3],
  ['handin.playable', 'a class of 30 × 30 s hands in: the last playable', 's', 45.9, 20],
  ['handin.measured', 'a class of 30 × 30 s hands in: the last measured', 's', 44.5, 30],
  ['minute', 'a minute measured, of ffmpeg’s decoding', '×', 1.6, 1],
];

const HEAD = `# Figures

A line for each run of \`./ecoute bench all\`, written by it: the client, the browser and the database on the same machine, one run.
Times depend on the machine and on what else it does: a fixed piece of work, timed before each part, tells how fast it was. Ratios
(×) are of a bare counterpart in the same run. “–” was not measured.
`;

const number = value =>
  value >= 100 || Number.isInteger(value) ? value.toFixed(0) : value.toFixed(value < 10 ? 2 : 1);
const shown = (value, unit) =>
  value === null || value === undefined ? '–' : [number(value), unit].filter(Boolean).join(' ');

/** One bench, in a process of its own; what it prints is shown as it comes. @returns whether it went well */
async function done(root, name, notes) {
  process.stderr.write(`\n${name}\n`);
  const child = spawn('node', [join(root, 'bench/run.mjs'), name], {
    cwd: root,
    env: { ...process.env, ECOUTE_BENCH_NOTES: notes },
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  return (await new Promise(resolve => child.once('exit', resolve))) === 0;
}

/** @param notes a file of which nothing is there yet */
export async function all(root, notes) {
  writeFileSync(notes, '');
  const failed = [];
  const machine = [];
  for (const name of BENCHES) {
    machine.push(await yardstick());
    if (!(await done(root, name, notes))) failed.push(name);
  }
  const found = new Map([
    ['machine.least', { value: Math.min(...machine), beside: null }],
    ['machine.most', { value: Math.max(...machine), beside: null }],
  ]);
  for (const text of readFileSync(notes, 'utf8').split('\n').filter(Boolean)) {
    const { id, value, beside } = JSON.parse(text);
    found.set(id, { value, beside });
  }
  const read = (id, unit) => {
    const one = found.get(id);
    return one && (unit === '×' && one.beside !== null ? one.value / one.beside : one.value);
  };
  const line = cells => console.log(cells.map((c, n) => (n === 0 ? c.padEnd(62) : c.padStart(14))).join(''));
  console.log();
  line(['what', 'it was', 'now', 'wanted', 'now / wanted']);
  for (const [id, words, unit, was, wanted] of FIGURES) {
    const now = read(id, unit);
    const ratio = now === undefined || !wanted ? '' : number(now / wanted);
    line([words, shown(was, unit), shown(now, unit), shown(wanted, unit), ratio]);
  }
  if (failed.length > 0) console.log(`\nNot to their end: ${failed.join(', ')}`);
  const place = join(root, 'docs/figures.md');
  const git = spawnSync('git', ['rev-parse', '--short', 'HEAD'], { cwd: root, encoding: 'utf8' });
  const changed = spawnSync('git', ['status', '--porcelain'], { cwd: root, encoding: 'utf8' }).stdout;
  if (!existsSync(place)) writeFileSync(place, HEAD);
  const of = git.status === 0 ? `${git.stdout.trim()}${changed ? ' with changes' : ''}` : 'no commit';
  const processors = cpus();
  const figures = FIGURES.map(([id, words, unit]) => `${words} ${shown(read(id, unit), unit)}`);
  appendFileSync(
    place,
    `\n- **${new Date().toISOString().slice(0, 10)}**, ${of}, ${processors.length} × ${processors[0].model.trim()}: ${figures.join('; ')}.\n`,
  );
}
