// A fixed piece of work, the same in every version: what the machine itself takes for it tells a slow hour from a slow Ecoute.
import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { performance } from 'node:perf_hooks';

const TIMES = 8;

/** Starts, fills memory and sorts. */
const WORK = `
  let x = 1;
  const all = Float64Array.from({ length: 400_000 }, () => (x = (x * 48_271) % 2_147_483_647));
  all.sort();
`;

async function one() {
  for (let n = 0; n < TIMES; n++) {
    const child = spawn(process.execPath, ['-e', WORK], { stdio: 'ignore' });
    const code = await new Promise(resolve => child.once('exit', resolve));
    if (code !== 0) throw new Error('The fixed piece of work ended early.');
  }
}

/** @returns ms that the machine needs for it now, on all of its processors at once; a mean over eight times */
export async function yardstick() {
  const began = performance.now();
  await Promise.all(Array.from({ length: availableParallelism() }, one));
  return (performance.now() - began) / TIMES;
}
