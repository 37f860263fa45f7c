import { expect, test, type Browser } from '@playwright/test';
import type { ClassDetail } from '@ecoute/contract/classes';
import { ask, browserHearing, released, signIn } from './support/world';
import { speak } from './support/sound';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 5, 1);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

test('a group gets a release of its own; whoever joins the group later gets it too', async ({}, info) => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/classes');
  await page.getByRole('link', { name: /Recorder consort/ }).click();
  const group = `Descants ${info.retry}`;
  await page.getByRole('button', { name: 'A new group' }).click();
  await page.getByLabel('Name of the group').fill(group);
  await page.getByRole('checkbox', { name: 'Mireille Tassin' }).click();
  await page.getByRole('button', { name: 'Keep this group' }).click();
  await expect(page.getByRole('button', { name: new RegExp(`^${group}`) })).toBeVisible();
  // The same name again is said at its field, and nothing is lost.
  await page.getByRole('button', { name: 'A new group' }).click();
  await page.getByLabel('Name of the group').fill(group);
  await page.getByRole('button', { name: 'Keep this group' }).click();
  await expect(page.getByText(/has a group of this name already/)).toBeVisible();
  await page.getByRole('button', { name: 'Leave it' }).click();

  await page.goto('/release/new');
  await page.getByLabel('Assessment', { exact: true }).selectOption('Two scales and a tune');
  await page.getByLabel('To', { exact: true }).selectOption('Recorder consort, first year (10)');
  await page.getByRole('radio', { name: 'a group' }).click();
  await page.getByRole('button', { name: 'Release now' }).click();
  await expect(page.getByText('Choose a group of this class.')).toBeVisible();
  await page.getByLabel('Group', { exact: true }).selectOption(`${group} (1)`);
  await page.getByLabel('A line for the class').fill(`For the descants ${info.retry}`);
  await page.getByRole('button', { name: 'Release now' }).click();
  await expect(page.getByText('It is open for 1 student now.')).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'Oksana Hrytsenko' })).toHaveCount(0);

  // In another window the group grows; this page shows it automatically.
  const address = page.url();
  const window2 = await context.newPage();
  await window2.goto('/classes');
  await window2.getByRole('link', { name: /Recorder consort/ }).click();
  await window2.getByRole('button', { name: new RegExp(`^${group}`) }).click();
  await window2.getByRole('checkbox', { name: 'Oksana Hrytsenko' }).click();
  await window2.getByRole('button', { name: 'Keep this group' }).click();
  await page.goto(address);
  await expect(page.getByRole('row').filter({ hasText: 'Oksana Hrytsenko' })).toBeVisible();
  const { page: oksana, context: hers } = await signIn(browser, 'oksana');
  await expect(oksana.getByText(`For the descants ${info.retry}`)).toBeVisible();
  await hers.close();
  await context.close();
});

test('terms changed, hidden and shown by hand; a colleague gets a sign-in; one’s own calendar', async ({}, info) => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const title = `Terms ${info.retry}`;
  const id = await released(page, title, [{ promptText: 'Say when.' }]);
  await page.goto(`/release/${id}`);
  await page.getByRole('button', { name: 'Change …' }).click();
  await page.getByRole('radio', { name: 'when I show it' }).click();
  await page.getByLabel('Due', { exact: true }).fill('2020-01-01T10:00');
  await page.getByRole('button', { name: 'Keep these' }).click();
  await expect(page.getByText(/The due time has passed already/)).toBeVisible();
  await page.getByRole('button', { name: 'in two weeks' }).click();
  await page.getByRole('button', { name: 'Keep these' }).click();
  await expect(page.getByText(/Hidden until you show it/)).toBeVisible();
  const { page: student, context: other } = await signIn(browser, 'ilse');
  await expect(student.getByRole('heading', { name: 'Now', exact: true })).toBeVisible();
  await expect(student.getByText(title)).toHaveCount(0);
  await page.getByRole('button', { name: 'Show it now' }).click();
  await expect(page.getByText('It is open for 12 students now.')).toBeVisible();
  // The student’s page needs no reload.
  await expect(student.getByText(title)).toBeVisible();
  await page.getByRole('button', { name: 'Take back …' }).click();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByRole('heading', { name: 'Release', exact: true })).toBeVisible();
  await expect(student.getByText(title)).toHaveCount(0);
  await other.close();

  await page.goto('/release?view=month');
  await page.getByRole('button', { name: 'In my own calendar …' }).click();
  await page.getByRole('button', { name: /^(Make an address|A new address)$/ }).click();
  const feed = page.getByText(/\/feeds\/[\w-]+\/due\.ics/);
  const first = (await feed.textContent())!;
  const calendar = await page.request.get(new URL(first).pathname);
  expect([calendar.status(), (await calendar.text()).slice(0, 15)]).toEqual([200, 'BEGIN:VCALENDAR']);
  await page.getByRole('button', { name: 'A new address' }).click();
  await expect(feed).not.toHaveText(first);
  expect((await page.request.get(new URL(first).pathname)).status()).toBe(404);
  await page.getByRole('button', { name: 'No address any more' }).click();
  await expect(feed).toHaveCount(0);
  await page.keyboard.press('Escape');
  await context.close();
});

test('a colleague without a sign-in is added by name, and begins with a code', async ({}, info) => {
  const { page, context } = await signIn(browser, 'halvard', 'desk', { opens: false });
  await page.goto('/classes');
  const name = `Duo ${Date.now() % 100_000}`;
  await page.getByLabel('Name').fill(name);
  await page.getByRole('button', { name: 'Make this class' }).click();
  await page.getByRole('button', { name: 'Add a colleague …' }).click();
  const signInName = `nour-${Date.now() % 100_000}-${info.retry}`;
  await page.getByLabel('Sign-in name of a colleague').fill(signInName);
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByText('Nobody here signs in with this name.')).toBeVisible();
  await page.getByLabel('Their name, to make a sign-in for them').fill('Nour Aziz');
  await page.getByRole('button', { name: 'Make a sign-in and add' }).click();
  await expect(page.getByText('has not signed in yet').first()).toBeVisible();
  // The one who made the class cannot leave it without a teacher, but with Nour there they can.
  const classId = page.url().split('/').pop()!;
  const { body } = await ask<ClassDetail>(page, `/api/classes/${classId}`);
  const nour = body.members.find(m => m.signInName === signInName)!;
  await page.getByRole('button', { name: 'Take Nour Aziz out of this class' }).click();
  await page.getByRole('button', { name: 'Take out', exact: true }).click();
  await expect(page.getByText('Nour Aziz')).toHaveCount(0);
  await page.getByRole('button', { name: 'Take Halvard Brix out of this class' }).click();
  await page.getByRole('button', { name: 'Take out', exact: true }).click();
  await expect(page.getByText(/A class needs a teacher/)).toBeVisible();
  expect((await ask(page, `/api/classes/${classId}/codes`, 'POST', { personIds: [nour.id] })).status).toBe(
    404,
  );
  await context.close();
});
