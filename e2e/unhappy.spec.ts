import { expect, test, type Browser, type Page } from '@playwright/test';
import { speak } from './support/sound';
import { browserHearing, passDeviceCheck, PASSWORD, released, signIn } from './support/world';

const ITEM = { promptText: 'Conta-me.', prepareMs: 0, answerLimitMs: 20_000, takesAllowed: 2, points: 5 };

let browser: Browser;
test.beforeAll(async ({}, info) => {
  const wav = info.outputPath('voice.wav');
  speak(wav, 30, 2);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

async function record(page: Page) {
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByText(/0:0[2-9] of 0:20/)).toBeVisible();
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
}

async function enter(page: Page, name: string) {
  await page.getByLabel('Sign-in name').fill(`${name}@brackwater.example`);
  await page.getByLabel('Password').fill(PASSWORD);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation', { name: 'Main' })).toBeVisible();
}

test('handed in without a network: the page says that it is not, and hands in when there is one', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  const id = await released(teacher, 'No answer from Ecoute', [ITEM]);
  const { page, context } = await signIn(browser, 'bram', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  await record(page);
  await expect(page.getByText('stored safely')).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await context.setOffline(true);
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText(/Not handed in yet: Ecoute does not answer/)).toBeVisible();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toHaveCount(0);
  await context.setOffline(false);
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  await first.close();
  await context.close();
});

test('signing out with a recording on its way asks; the next person neither sees nor sends it; it goes when its student is back', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await released(teacher, 'A shared machine', [ITEM]);
  const { page, context } = await signIn(browser, 'bram', 'desk', { opens: false });
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  // Only the bytes do not go.
  await page.route('**/api/uploads/**', route => route.abort());
  await record(page);
  await expect(page.getByText('on its way', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: /Bram/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(page.getByText(/still on its way\. It waits on this device/)).toBeVisible();
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await page.unroute('**/api/uploads/**');
  const sent: string[] = [];
  page.on('request', r => {
    if (r.url().includes('/api/uploads/')) sent.push(r.method());
  });
  await enter(page, 'emrys');
  await page.goto('/recordings');
  await expect(page.getByRole('heading', { name: 'My recordings' })).toBeVisible();
  await expect(page.getByText('A shared machine')).toHaveCount(0);
  expect(sent).toEqual([]);
  await page.getByRole('button', { name: /Emrys/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await enter(page, 'bram');
  await expect.poll(() => sent.length).toBeGreaterThan(0);
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  await expect(page.getByText('stored safely')).toBeVisible();
  await first.close();
  await context.close();
});

test('a take on a device that never comes back is named, and the hand-in goes without it', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  const id = await released(teacher, 'The laptop stayed at home', [ITEM]);
  const { page: laptop, context: gone } = await signIn(browser, 'kamala', 'desk', { opens: false });
  await laptop.goto(`/sit/${id}`);
  await passDeviceCheck(laptop);
  await laptop.route('**/api/uploads/**', route => route.abort());
  await record(laptop);
  await expect(laptop.getByText('on its way', { exact: true })).toBeVisible();
  await gone.close();

  const { page, context } = await signIn(browser, 'kamala', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  // A browser that is killed does not always come to say that it leaves.
  const here = page.getByRole('button', { name: 'Go on here' });
  await expect(
    here.or(page.getByRole('button', { name: /Check the microphone|Go on with|Look at/ })),
  ).toBeVisible();
  if (await here.isVisible()) await here.click();
  await passDeviceCheck(page);
  await expect(page.getByText('on another device, which does not send just now')).toBeVisible({
    timeout: 90_000,
  });
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await expect(page.getByText(/Something was recorded on another device/)).toBeVisible();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  // What misses is named, and one tap away.
  await expect(page.getByRole('alertdialog').getByText('Item 1', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Go back and answer' }).click();
  await expect(page.getByText('Item 1 of 1')).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await page.getByRole('button', { name: 'Hand in as it is' }).click();
  await page.getByRole('button', { name: 'Hand in with what has come' }).click();
  // Not everything: one item has no answer.
  await expect(page.getByText('Handed in. What you answered is with your teacher.')).toBeVisible();
  await expect(page.getByText('no answer: the recording never came from the other device')).toBeVisible();
  await first.close();
  await context.close();
});

test('signed out elsewhere: nothing of this person stays on the screen, and whoever sits is not taken away', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'tobias', 'desk', { opens: false });
  // Of nobody else in the journeys: she is signed out everywhere, whatever runs beside this one.
  const id = await released(teacher, 'Two browsers', [ITEM]);
  const { page: list, context: second } = await signIn(browser, 'tamsin');
  const { page: sitting, context: third } = await signIn(browser, 'tamsin', 'desk', { opens: false });
  await sitting.goto(`/sit/${id}`);
  await passDeviceCheck(sitting);
  await expect(list.getByText('Two browsers').first()).toBeVisible();
  const { page, context } = await signIn(browser, 'tamsin', 'phone', { opens: false });
  await page.goto('/account');
  await page.getByRole('button', { name: 'Sign out everywhere else' }).click();
  await expect(list.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await expect(list.getByText('Two browsers')).toHaveCount(0);
  // Nor does the next person of that tab find it.
  await enter(list, 'kamala');
  await expect(list.getByText(/fish market/).first()).toBeVisible();
  await expect(list.getByText('Two browsers')).toHaveCount(0);
  await sitting.getByRole('button', { name: 'Answer now' }).click();
  await expect(sitting.getByText(/0:0[4-9] of 0:20/)).toBeVisible();
  await sitting.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(sitting.getByText('on its way', { exact: true })).toBeVisible();
  for (const c of [first, second, third, context]) await c.close();
});

test('an administrator makes an account, hands out its code, closes it and hears nobody', async ({}, info) => {
  const { page: admin, context: first } = await signIn(browser, 'halvard');
  await admin.getByRole('button', { name: /Halvard/ }).click();
  await admin.getByRole('menuitem', { name: 'Administration' }).click();
  await admin.getByRole('button', { name: 'Make an account …' }).click();
  const name = `nila${info.retry}-${Date.now() % 100_000}`;
  await admin.getByLabel('Name', { exact: true }).fill('Nila Verhoeven');
  await admin.getByLabel('Sign-in name', { exact: true }).fill(name);
  await admin.getByRole('button', { name: 'Make the account' }).click();
  // It is made, and shown by itself.
  await expect(admin.getByLabel('Name or sign-in name begins with')).toHaveValue(name);
  await admin.getByRole('button', { name: 'More for Nila Verhoeven' }).click();
  await admin.getByRole('menuitem', { name: 'Show a one-time code' }).click();
  const words = await admin.getByText(/^Code for Nila Verhoeven/).textContent();
  const code = /: (\S+),/.exec(words!)![1]!;

  const context = await browser.newContext({ baseURL: info.project.use.baseURL! });
  const page = await context.newPage();
  await page.goto('/first');
  await page.getByLabel('The code you were given').fill(code);
  await page.getByRole('button', { name: 'Go on' }).click();
  await page.getByLabel('A password of your own').fill('lantern harbour seven');
  await page.getByRole('button', { name: /Begin|Start|Sign in/ }).click();
  await expect(page.getByRole('navigation', { name: 'Main' })).toBeVisible();

  // In use now: its code is shown to nobody any more.
  await admin.reload();
  await admin.getByLabel('Name or sign-in name begins with').fill(name);
  await admin.getByRole('button', { name: 'More for Nila Verhoeven' }).click();
  await expect(admin.getByRole('menuitem', { name: 'Show a one-time code' })).toHaveCount(0);
  await admin.getByRole('menuitem', { name: 'Close the account …' }).click();
  await admin.getByRole('button', { name: 'Close it' }).click();
  await expect(admin.getByText(/closed/).first()).toBeVisible();
  await page.goto('/set');
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  // Looking after people is no right to hear them.
  await admin.goto('/listen');
  await expect(admin.getByRole('link', { name: /At the fish market/ })).toHaveCount(0);
  await first.close();
  await context.close();
});
