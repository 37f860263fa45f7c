// ./ecoute bench first: until a student can press something, on a processor four times slower and a line of 400 kbit/s.
import { chromium } from '@playwright/test';
import { note } from './notes.mjs';
import { nth } from './visitor.mjs';
import { untilFirst } from './weight.mjs';

const TIMES = 5;

/** @returns seconds until each page of each time */
export async function first(base) {
  const browser = await chromium.launch({
    executablePath: process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    const all = [];
    for (let n = 0; n < TIMES; n++) {
      const context = await browser.newContext({ baseURL: base, viewport: { width: 390, height: 844 } });
      await context.request.post('/api/session', {
        headers: { Origin: base },
        data: { signInName: 'jovan@brackwater.example', password: 'harbour-lights' },
      });
      all.push((await untilFirst(await context.newPage(), 'A morning in Brackwater')).found);
      await context.close();
    }
    return all;
  } finally {
    await browser.close();
  }
}

export function printFirst(all) {
  for (const [n, { what, mostSec }] of all[0].entries()) {
    const times = all.map(found => found[n].sec);
    console.log(
      `${what.padEnd(58)}${`${nth(times, 0.5).toFixed(2)} s`.padStart(10)}   ${(nth(times, 0.5) / mostSec).toFixed(2)} of ${mostSec} s (most ${nth(times, 1).toFixed(2)})`,
    );
    note(n === 0 ? 'first.signIn' : 'first.page', nth(times, 0.5));
  }
}
