import type { AccountList } from '@ecoute/contract/administration';
import type { FirstCode } from '@ecoute/contract/classes';
import { expect, test, type Browser } from '@playwright/test';
import { speak } from './support/sound';
import { ask, browserHearing, signIn } from './support/world';

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

test('an empty school: from the first page to codes for the first students in eight actions, and in by one of them', async ({}, info) => {
  const { page: admin, context: first } = await signIn(browser, 'halvard', 'desk', { opens: false });
  const name = `new${info.retry}-${Date.now() % 1e6}`;
  const wanted = { displayName: 'Ruta Alm', signInName: name, email: '', role: 'teacher' };
  await ask(admin, '/api/administration/people', 'POST', wanted);
  const { body: found } = await ask<AccountList>(admin, `/api/administration/people?find=${name}`);
  const { body: door } = await ask<FirstCode>(
    admin,
    `/api/administration/people/${found.people[0]!.id}/code`,
    'POST',
    {
      byMail: false,
    },
  );
  await first.close();
  const context = await browser.newContext({ baseURL: info.project.use.baseURL!, locale: 'en-GB' });
  const page = await context.newPage();
  // The code that a camera finds opens with it, and leaves no trace in the address.
  await page.goto(`/first#${door.code}`);
  await expect(page.getByText('Welcome, Ruta Alm.')).toBeVisible();
  expect(new URL(page.url()).hash).toBe('');
  await page.getByLabel('A password of your own').fill('lantern harbour seven');
  await page.getByRole('button', { name: 'Begin' }).click();

  let actions = 0;
  const act = async (doing: Promise<unknown>) => {
    actions += 1;
    await doing;
  };
  await act(page.getByRole('button', { name: 'Set a first assessment' }).click());
  await act(page.getByLabel('Title', { exact: true }).fill('Hello'));
  await act(page.getByLabel('Prompt', { exact: true }).fill('Say hello.'));
  await act(page.getByRole('button', { name: 'Release …' }).click());
  // The class is made here; what was set is not lost on the way.
  await page.getByRole('button', { name: 'Release now' }).click();
  await expect(page.getByText('Give the class a name.')).toBeVisible();
  await act(page.getByLabel('Name of the class').fill('Beginners'));
  await act(page.getByLabel('Its students, a name a line').fill('Mira Sol\n\n Tolu \n'));
  await act(page.getByRole('button', { name: 'Release now' }).click());
  await expect(page.getByText('It is open for 2 students now.')).toBeVisible();
  await act(page.getByRole('link', { name: 'Make their codes' }).click());
  await expect(page.getByRole('img', { name: 'Code of Mira Sol' })).toBeVisible();
  expect(actions).toBeLessThanOrEqual(8);
  // An address that only this computer opens is not handed out in silence.
  await expect(page.getByText(/which only this computer opens/)).toBeVisible();
  const code = await page
    .getByText(/^\w{4}-\w{4}-\w{4}$/)
    .first()
    .textContent();
  const phone = await browser.newContext({
    baseURL: info.project.use.baseURL!,
    locale: 'de-DE',
    viewport: { width: 390, height: 844 },
  });
  const student = await phone.newPage();
  await student.goto(`/first#${code}`);
  await expect(student.getByRole('heading', { name: /Mira Sol/ })).toBeVisible();
  await expect(student.locator('html')).toHaveAttribute('lang', 'de');
  for (const c of [context, phone]) await c.close();
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
