import { expect, test, type Browser, type Page } from '@playwright/test';
import type { Topic } from '@ecoute/contract/commentBank';
import { speak } from './support/sound';
import { ask, browserHearing, handInTones, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 5);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const spoken = { promptText: 'Say what you see.', prepareMs: 0, answerLimitMs: 15_000, points: 5 };
const own = async (page: Page) =>
  (await ask<Topic[]>(page, '/api/comment-bank')).body.filter(t => t.departmentId === null);

test('topics are put in order by mouse and by keys; a file says what it does, comes in once, and goes out as one', async () => {
  const { page, context } = await signIn(browser, 'halvard');
  for (const t of await own(page)) await ask(page, `/api/comment-bank/topics/${t.id}`, 'DELETE');
  await ask<Topic[]>(page, '/api/comment-bank/topics', 'POST', {
    topics: ['Flow', 'Sounds', 'Words'].map(name => ({
      name,
      comments: [1, 2, 3].map(n => ({ words: `${name} ${n}`, link: '' })),
    })),
  });
  await page.goto('/listen/comments');
  const order = page.getByRole('list', { name: 'Topics, in order' });
  const names = async () => (await own(page)).map(t => t.name);
  // By mouse: the last above the first.
  const from = (await order.getByRole('button', { name: 'Move the topic Words' }).boundingBox())!;
  const to = (await order.getByRole('button', { name: 'Move the topic Flow' }).boundingBox())!;
  await page.mouse.move(from.x + 10, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(from.x + 10, from.y - 10, { steps: 4 });
  await page.mouse.move(to.x + 10, to.y + 4, { steps: 8 });
  await page.mouse.up();
  await expect.poll(names).toEqual(['Words', 'Flow', 'Sounds']);
  // By keys: one down; it says where it is.
  await order.getByRole('button', { name: 'Move the topic Words' }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText(/^Words is lifted, place 1 of /)).toBeAttached();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText(/^Here it would be at place 2 of /)).toBeAttached();
  await page.keyboard.press('Space');
  await expect.poll(names).toEqual(['Flow', 'Words', 'Sounds']);
  await page.reload();
  await expect(order.getByRole('button', { name: /^Move/ }).first()).toHaveAccessibleName(
    'Move the topic Flow',
  );

  // A comment into another topic, by keys.
  await page.getByRole('button', { name: 'Move “Flow 3”' }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText(/^It is lifted, /)).toBeAttached();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText('Here it would be at place 1 of 3 in Words.')).toBeAttached();
  await page.keyboard.press('Space');
  await expect
    .poll(async () => (await own(page)).map(t => t.comments.map(c => c.words).join()))
    .toEqual(['Flow 1,Flow 2', 'Flow 3,Words 1,Words 2,Words 3', 'Sounds 1,Sounds 2,Sounds 3']);

  // A file: what it would do, nothing yet, then all of it.
  const bring = (rows: string) =>
    page.getByLabel('A CSV file with comments').setInputFiles({
      name: 'old school.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(`topic;comment;link\n${rows}`),
    });
  await bring('flow;Flow 1;\nflow;New one;\nRhythm;Steadier;https://b.example\nRhythm;;\n');
  const dialog = page.getByRole('dialog', { name: 'old school.csv' });
  await expect(dialog).toContainText('2 comments would come in; 1 are there already');
  await expect(dialog).toContainText('Rhythm new topic · 1 in');
  await expect(dialog).toContainText('Row 5 is left out');
  expect(await names()).toHaveLength(3);
  await dialog.getByRole('button', { name: 'Bring in 2' }).click();
  await expect(page.getByRole('region', { name: 'Rhythm' })).toContainText('Steadier');
  await bring('Rhythm;Steadier;https://b.example\n');
  await expect(dialog).toContainText('is in your bank already: nothing changes');
  await dialog.getByRole('button', { name: 'Good' }).click();
  // Its way back is there after a reload too; so is that of what was taken away.
  await page.getByRole('button', { name: 'Take away “Flow 1”' }).click();
  await page.reload();
  const lately = page.getByRole('region', { name: 'Brought in or taken away lately' });
  await lately.getByRole('button', { name: /^Put it back: “Flow 1”/ }).click();
  await expect(page.getByRole('region', { name: 'Flow' }).getByText('Flow 1')).toBeVisible();
  await lately.getByRole('button', { name: /^Take them out: old school.csv/ }).click();
  await expect(page.getByRole('region', { name: 'Rhythm' })).toBeHidden();
  expect(await names()).toEqual(['Flow', 'Words', 'Sounds']);

  // On a phone: nothing is wider than the screen, and the way back is in sight.
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole('button', { name: 'Take away the topic Sounds' }).click();
  await expect(lately.getByRole('button', { name: /^Put it back: The topic “Sounds”/ })).toBeInViewport();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  await lately.getByRole('button', { name: /^Put it back: The topic “Sounds”/ }).click();
  await page.setViewportSize({ width: 1280, height: 800 });

  // A new topic is in sight, and one goes on typing: each comment kept by one press.
  await page.getByLabel('A new topic').fill('Breath');
  await page.keyboard.press('Enter');
  for (const words of ['Deeper.', 'Slower.']) {
    await expect(page.getByLabel('Comment', { exact: true })).toBeFocused();
    await expect(page.getByLabel('Comment', { exact: true })).toHaveValue('');
    await page.keyboard.type(words);
    await page.keyboard.press('Control+Enter');
  }
  await expect(page.getByRole('region', { name: 'Breath' }).getByRole('listitem')).toHaveCount(2);
  await context.close();
});

test('a comment just written goes into the bank by one key, without its student’s name', async () => {
  const { page, context } = await signIn(browser, 'ines');
  // What an earlier try left there.
  for (const t of await own(page))
    if (t.name === 'While listening') await ask(page, `/api/comment-bank/topics/${t.id}`, 'DELETE');
  const id = await released(page, 'Into the bank', [spoken]);
  const { page: student, context: other } = await signIn(browser, 'leopold', 'phone', { opens: false });
  await handInTones(student, id);
  await ask(student, '/api/me/called', 'PUT', { called: '' });
  await student.goto('/account');
  await student.getByLabel('Called').fill('Leo');
  await student.getByRole('button', { name: 'Keep it' }).click();
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  const words = `Leo, breathe before the long sentence (${Date.now()}).`;
  await page.keyboard.press('w');
  await page.keyboard.type(words);
  await page.keyboard.press('Escape');
  await page.keyboard.press('a');
  const line = page.getByTestId('listen-line');
  await expect(line).toContainText('In the bank: “{name}, breathe');
  const bankWords = words.replace('Leo', '{name}');
  const where = async () =>
    (await own(page)).filter(t => t.comments.some(c => c.words === bankWords)).map(t => t.name);
  expect(await where()).toEqual(['While listening']);
  // The same once more, and under another topic.
  await page.keyboard.press('a');
  await expect(line).toContainText('In the bank already');
  // Other words, while the answer for these is still on its way, have their turn.
  await page.route('**/api/comment-bank/kept', async route => {
    await new Promise(resolve => setTimeout(resolve, 2_000));
    await route.continue();
  });
  await page.getByRole('button', { name: 'Into the bank (A)' }).click();
  await page.keyboard.press('w');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Once more');
  await page.keyboard.press('Escape');
  await page.keyboard.press('a');
  await expect(line).toContainText('In the bank: “Once more”');
  await page.setViewportSize({ width: 390, height: 844 });
  for (const what of [line.getByLabel('Topic it is kept under'), line.getByText('In the bank')]) {
    await expect(what).toBeInViewport({ ratio: 0.95 });
    expect((await what.boundingBox())!.width).toBeGreaterThan(70);
  }
  await line.getByRole('button', { name: 'Undo' }).click();
  await expect
    .poll(async () => (await own(page)).flatMap(t => t.comments).map(c => c.words))
    .not.toContain('Once more');
  await context.close();
  await other.close();
});
