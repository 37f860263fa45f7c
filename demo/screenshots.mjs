// Makes docs/screenshots anew from a running demo (a fresh data folder gives the same pictures):
//   ECOUTE_DATA=$(mktemp -d) ./ecoute demo   and, in another terminal,   node demo/screenshots.mjs
import { chromium } from '@playwright/test';
import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const out = join(here, '../docs/screenshots');
const base = process.env.ECOUTE_URL ?? 'http://127.0.0.1:4310';
mkdirSync(out, { recursive: true });

const browser = await chromium.launch({
  executablePath: process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-background-networking',
    '--use-fake-ui-for-media-stream',
    '--use-fake-device-for-media-stream',
    ...(process.env.ECOUTE_MICROPHONE
      ? [`--use-file-for-fake-audio-capture=${process.env.ECOUTE_MICROPHONE}`]
      : []),
  ],
});

async function as(name, { phone = false, dark = false } = {}) {
  const context = await browser.newContext({
    baseURL: base,
    locale: 'en-GB',
    timezoneId: 'UTC',
    permissions: ['microphone'],
    colorScheme: dark ? 'dark' : 'light',
    viewport: phone ? { width: 390, height: 844 } : { width: 1280, height: 800 },
  });
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByLabel('Sign-in name').fill(`${name}@brackwater.example`);
  await page.getByLabel('Password').fill('harbour-lights');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.getByRole('navigation').waitFor();
  return page;
}

async function shot(page, name) {
  // The line of changes is always open: the network is never idle.
  await page.waitForTimeout(900);
  await page.evaluate('document.fonts.ready');
  // Not over a button: its hover would be in the picture.
  await page.mouse.move(2, 2);
  await page.screenshot({ path: join(out, `${name}.png`) });
  console.log(name);
}

const ines = await as('ines');
await ines.getByText('to listen to').waitFor();
await shot(ines, 'teacher-first-page');
await ines.goto('/set');
await ines.getByRole('link', { name: /A morning in Brackwater/ }).click();
await ines.getByRole('button', { name: 'Play the prompt' }).waitFor();
await shot(ines, 'set');
await ines.goto('/release');
await ines.getByRole('link', { name: /At the fish market/ }).click();
await ines.getByText('not opened').first().waitFor();
await shot(ines, 'release');
await ines.goto('/listen');
await ines.getByRole('link', { name: /At the fish market/ }).click();
await ines
  .getByRole('img', { name: /Answer of/ })
  .first()
  .waitFor();
await ines.keyboard.press('Space');
await ines.getByText('0:04 /').waitFor();
await ines.keyboard.press('Space');
await ines.keyboard.press('4');
await ines.keyboard.press('e');
await ines.getByText('pace while speaking').waitFor({ timeout: 120_000 });
await shot(ines, 'listen');
await ines.goto('/results');
await ines.getByRole('link', { name: /Portuguese/ }).click();
const markbook = ines.getByRole('grid');
await markbook.focus();
for (const key of ['ArrowDown', 'ArrowLeft', ' ']) await ines.keyboard.press(key);
await ines.getByText('0:03 /').waitFor();
await ines.keyboard.press(' ');
await shot(ines, 'markbook');
await ines.getByRole('link', { name: 'A morning in Brackwater' }).click();
await ines.getByText('how far a score can be trusted').waitFor();
await shot(ines, 'numbers');
await ines.goBack();
await markbook.getByRole('link', { name: 'Chiyo Hanamura' }).click();
await ines
  .getByRole('img', { name: /^Answer of/ })
  .nth(1)
  .waitFor();
await ines.locator('.js-plotly-plot .scatterlayer').first().waitFor({ timeout: 120_000 });
await shot(ines, 'year');

await ines.goto('/listen');
await ines.getByRole('link', { name: /The harbour bell/ }).click();
await ines.getByText('Ilse Vandermolen').click();
await ines.getByRole('tab', { name: 'Marks' }).click();
await ines.getByRole('button', { name: 'Mark the reading' }).click();
await ines
  .getByRole('group', { name: 'Suggested' })
  .or(ines.getByLabel('Suggested'))
  .first()
  .waitFor({ timeout: 120_000 });
await shot(ines, 'reading');
await ines.goto('/listen');
await ines.getByRole('link', { name: /Say it after me/ }).click();
await ines.getByText('Emrys Pritchard').click();
await ines.getByRole('tab', { name: 'Measured' }).click();
await ines.getByText('Beside the prompt').waitFor({ timeout: 120_000 });
await ines.getByText('melody mostly within').scrollIntoViewIfNeeded();
await shot(ines, 'beside-the-prompt');

const tobias = await as('tobias', { dark: true });
await tobias.goto('/listen');
await tobias.getByRole('link', { name: /Two scales/ }).click();
await tobias.getByText('by student').click();
await tobias.getByRole('tab', { name: 'Measured' }).click();
await tobias.getByText('of the target heard').waitFor({ timeout: 120_000 });
await shot(tobias, 'listen-by-student-dark');

const reader = await as('kamala', { phone: true });
await reader
  .getByRole('link', { name: /Begin|Go on/ })
  .first()
  .waitFor();
await reader.getByRole('button', { name: /Kamala/ }).click();
await reader.getByRole('menuitemradio', { name: 'العربية' }).click();
await reader.getByRole('heading', { name: 'الآن' }).waitFor();
await reader.getByRole('listitem').filter({ hasText: 'The harbour bell' }).getByRole('link').click();
await reader.getByRole('button', { name: 'افحص الميكروفون وابدأ' }).click();
await reader.getByRole('button', { name: /تابع$/ }).click();
// Seen with its time, then read on the stage.
await reader.getByTestId('stage-bar').getByRole('button').click();
await reader.getByText('O sino do porto').waitFor();
await reader.getByTestId('stage-bar').getByRole('button').click();
await reader.getByTestId('time-left').waitFor();
await shot(reader, 'reading-phone');

const phone = await as('amara', { phone: true });
await shot(phone, 'to-do-phone');
await phone
  .getByRole('link', { name: /Begin|Go on/ })
  .first()
  .click();
await phone.getByRole('button', { name: /Check the microphone|Go on with/ }).click();
await phone
  .getByText(/You are heard well|The room is noisy|too loud|very soft/)
  .last()
  .waitFor();
await phone.getByRole('button', { name: /^(Go on|I am heard)/ }).click();
await phone.getByRole('button', { name: 'Item 2', exact: true }).click();
await phone.getByRole('button', { name: 'Hear the prompt' }).click();
await phone.getByRole('button', { name: /answer now/ }).click();
await phone.getByText('0:04 of').waitFor();
await shot(phone, 'sit-phone');
await phone.getByRole('button', { name: /stop/ }).click();
await phone.getByText('stored safely').waitFor();
await phone.goto('/feedback');
await phone.getByRole('link', { name: /A morning/ }).click();
await phone.getByRole('button', { name: 'Play your answer to item 1' }).waitFor();
await shot(phone, 'returned-phone');
await phone.goto('/');
await phone
  .getByRole('listitem')
  .filter({ hasText: 'Where we live by the water' })
  .getByRole('link', { name: 'Take part' })
  .click();
await phone.getByRole('button', { name: 'Play Dilnoza Yusupova' }).click();
await phone.getByRole('button', { name: 'Reply to this moment' }).waitFor();
await shot(phone, 'discussion-phone');
const planner = await as('tobias');
await planner.goto('/release?view=month');
await planner.locator('[data-day]').first().waitFor();
await shot(planner, 'calendar');
await planner.goto('/listen');
await planner.getByRole('link', { name: /Two hands/ }).click();
await planner.getByText('Quentin Ashdown').click();
await planner.getByRole('tab', { name: 'Measured' }).click();
await planner.getByText('again from').waitFor({ timeout: 120_000 });
await shot(planner, 'two-hands');
const clapping = await as('quentin', { phone: true });
await clapping.goto('/feedback');
await clapping.getByRole('link', { name: /Two hands/ }).click();
const strokes = clapping.getByRole('list', { name: 'Note by note, against the score' });
await strokes.waitFor();
await strokes.evaluate(list => list.scrollIntoView({ block: 'end' }));
await clapping.mouse.wheel(0, 120);
await shot(clapping, 'clapped-phone');

// A child draws and speaks: a rehearsal, for nothing of it is to stay.
const child = await as('ines', { phone: true });
await child.goto('/set');
const setAs = await child.evaluate(async () => {
  const ask = async (path, method, body) => {
    const headers = { 'Content-Type': 'application/json' };
    const response = await fetch(path, { method, headers, body: body && JSON.stringify(body) });
    return response.json();
  };
  const all = await ask('/api/assessments', 'GET');
  const { content } = all.find(a => a.content.title.startsWith('A morning'));
  const item = {
    ...content.items[0],
    id: crypto.randomUUID(),
    promptText: 'Draw your house, and tell me about it.',
  };
  const drawn = {
    sheet: 'empty',
    prepareMs: 0,
    startsBy: 'student',
    promptRecordingId: null,
    promptRich: null,
  };
  const items = [{ ...item, ...drawn }];
  const made = { ...content, title: 'My house', items, sections: [], byEar: true };
  return (await ask('/api/assessments', 'POST', made)).id;
});
await child.goto(`/set/${setAs}/rehearsal`);
await child.getByRole('button', { name: 'Begin' }).click();
await child.getByRole('button', { name: /I am heard: go on|Go on all the same/ }).click();
await child.getByRole('button', { name: 'Answer now' }).click();
const sheet = child.locator('[data-sheet]');
await sheet.waitFor();
const { x, y, width, height } = await sheet.boundingBox();
const house = [
  [
    [0.3, 0.85],
    [0.3, 0.45],
    [0.7, 0.45],
    [0.7, 0.85],
    [0.3, 0.85],
  ],
  [
    [0.25, 0.47],
    [0.5, 0.15],
    [0.75, 0.47],
  ],
  [
    [0.45, 0.85],
    [0.45, 0.62],
    [0.55, 0.62],
    [0.55, 0.85],
  ],
];
for (const [n, line] of house.entries()) {
  await child.getByRole('group', { name: 'Pens' }).getByRole('button').nth(n).click();
  const at = ([a, b]) => [x + width * a, y + height * b];
  await child.mouse.move(...at(line[0]));
  await child.mouse.down();
  for (const point of line.slice(1)) await child.mouse.move(...at(point), { steps: 12 });
  await child.mouse.up();
}
await shot(child, 'child-phone');
await browser.close();
