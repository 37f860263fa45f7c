import { expect, test, type Browser } from '@playwright/test';
import { speak } from './support/sound';
import { browserHearing, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 5);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

test('items are ordered, copied, taken out and put back by keyboard; the strip follows', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  await page.getByLabel('Title', { exact: true }).fill('Order');
  await page.getByLabel('Prompt', { exact: true }).fill('first');
  await page.getByRole('button', { name: 'Add an item' }).press('Enter');
  await page.getByLabel('Prompt', { exact: true }).fill('second');
  const strip = page.getByRole('region', { name: 'Strip' });
  await expect(strip.getByRole('button', { name: /^Item/ })).toHaveCount(2);
  await page.getByLabel('Answer limit').fill('1:00');
  await expect(strip.getByRole('button', { name: /Item 2: .*Answer 1:00/ })).toBeVisible();

  // Lift the second item, move it up, put it down.
  await page.getByRole('button', { name: 'Move item 2' }).press('Space');
  await expect(page.getByText(/It would be item 2\.|Item 2 is lifted\./)).toBeAttached();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText('It would be item 1.')).toBeAttached();
  await page.keyboard.press('Space');
  await expect(page.getByText('It is item 1 now.')).toBeAttached();
  await expect(strip.getByRole('button', { name: /Item 1: .*Answer 1:00/ })).toBeVisible();

  await strip.getByRole('button', { name: /Item 1:/ }).click();
  await page.getByRole('button', { name: 'Copy' }).click();
  await expect(strip.getByRole('button', { name: /^Item/ })).toHaveCount(3);
  await page.getByRole('button', { name: 'Take out' }).click();
  await expect(strip.getByRole('button', { name: /^Item/ })).toHaveCount(2);
  await page.getByRole('button', { name: 'Undo: item 1 taken out' }).click();
  await expect(strip.getByRole('button', { name: /^Item/ })).toHaveCount(3);
  await expect(page.getByText('15 points', { exact: true })).toBeVisible();
  await expect(page.getByText('Everything is saved')).toBeVisible();
  await page.reload();
  await expect(strip.getByRole('button', { name: /^Item/ })).toHaveCount(3);
  await context.close();
});

test('lengths are typed as people do; what is no length is said at the field and changes nothing', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  const limit = page.getByLabel('Answer limit');
  await limit.fill('2 min');
  await limit.blur();
  await expect(limit).toHaveValue('2:00');
  await limit.press('ArrowUp');
  await expect(limit).toHaveValue('2:05');
  await limit.fill('soon');
  await expect(page.getByText('Type a length such as 0:45, 90 or 2 min.')).toBeVisible();
  await limit.fill('2 hours');
  await expect(page.getByText('At most 1:00:00.')).toBeVisible();
  await limit.blur();
  await expect(limit).toHaveValue('2:05');
  // It is not put back without a word.
  await expect(page.getByText('“2 hours” is not taken: it stays 2:05.')).toBeVisible();
  await limit.fill('45 minutes');
  await limit.blur();
  await expect(limit).toHaveValue('45:00');
  await page.getByLabel('Points').fill('many');
  await expect(page.getByText('Type points such as 5 or 2.5.')).toBeVisible();
  // Not ready: the button says why.
  await expect(page.getByRole('button', { name: 'Release …' })).toBeDisabled();
  await expect(page.getByText('Give the assessment a title.')).toBeVisible();
  await context.close();
});

test('what is typed without a network is saved when it is back', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  await page.getByLabel('Title', { exact: true }).fill('On the train');
  await expect(page.getByText('Everything is saved')).toBeVisible();
  await context.setOffline(true);
  await page.getByRole('textbox', { name: 'Directions' }).fill('Written in a tunnel.');
  await expect(page.getByText(/Kept on this device/)).toBeVisible();
  await context.setOffline(false);
  await expect(page.getByText('Everything is saved')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Directions' })).toHaveText('Written in a tunnel.');
  await context.close();
});

test('a new teacher’s empty places say what to do next; a first class and its student', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/classes');
  await page.getByRole('button', { name: 'Make this class' }).click();
  await expect(page.getByText('Give the class a name.')).toBeVisible();
  await page.getByLabel('Name').fill('Viols, beginners');
  await page.getByLabel('Subject').selectOption('music');
  await page.getByRole('button', { name: 'Make this class' }).click();
  await expect(page.getByText('Nobody is in this class yet')).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill('Ottoline Brask');
  await page.getByLabel('Sign-in name').fill('amara@brackwater.example');
  await page.getByLabel('Mail address').fill('ottoline');
  await page.getByRole('button', { name: 'Add to this class' }).click();
  await expect(page.getByText('This is no mail address.')).toBeVisible();
  await page.getByLabel('Mail address').fill('');
  await page.getByRole('button', { name: 'Add to this class' }).click();
  await expect(page.getByText(/Somebody has this sign-in name already/)).toBeVisible();
  await page.getByLabel('Sign-in name').fill('ottoline@brackwater.example');
  await page.getByRole('button', { name: 'Add to this class' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'Ottoline Brask' })).toBeVisible();
  await page.getByRole('link', { name: 'Release something to this class' }).click();
  await expect(page.getByLabel('To', { exact: true })).toHaveValue(/.+/);
  await context.close();
});
