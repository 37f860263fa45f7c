import { readFileSync } from 'node:fs';
import { expect, request, test, type Browser, type Page } from '@playwright/test';
import type { ListenView } from '@ecoute/contract/marking';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import { speak } from './support/sound';
import { ask, browserHearing, passDeviceCheck, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 5);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

async function open(
  page: Page,
  title: string,
): Promise<{ id: string; lanes: () => Promise<ListenView['lanes']> }> {
  await page.goto('/listen');
  const { body } = await ask<ReleaseSummary[]>(page, '/api/releases');
  // The one with answers: the same is planned again for the weeks to come.
  const { id } = body.find(r => r.title === title && r.counts.notOpened < r.counts.students)!;
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  return { id, lanes: async () => (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes };
}

const left = (page: Page) => page.getByRole('status').filter({ hasText: /answers?,/ });

test('a link to the lanes, opened with a session that is over, leads there once one signs in', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { id } = await open(page, 'A morning in Brackwater');
  // Over for the server alone: a browser that still has its cookie is asked for the lanes by the page's head, before anybody knows that
  // it opens nothing.
  const [own] = (await context.cookies()).filter(c => c.name === 'ecoute');
  const elsewhere = await request.newContext({ extraHTTPHeaders: { Cookie: `ecoute=${own!.value}` } });
  const out = await elsewhere.delete('/api/session', { headers: { Origin: new URL(page.url()).origin } });
  expect(out.status()).toBeLessThan(300);
  await elsewhere.dispose();
  await page.goto(`/listen/${id}`);
  await page.getByLabel('Sign-in name').fill('ines@brackwater.example');
  await page.getByLabel('Password').fill('harbour-lights');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByLabel('Comment')).toBeVisible();
  await context.close();
});

test('twelve recordings marked and given feedback with the keyboard alone', async () => {
  const { page, context } = await signIn(browser, 'tobias');
  const { lanes } = await open(page, 'Two scales and a tune');
  await expect(left(page)).toContainText('12 answers');
  let keys = 0;
  const press = async (key: string) => {
    keys += 1;
    await page.keyboard.press(key);
  };
  for (let n = 12; n > 0; n--) {
    await expect(left(page)).toContainText(n === 1 ? '1 answer,' : `${n} answers,`);
    // Points of ten and more are two digits in a row.
    if (n > 6) await press('6');
    else {
      keys += 2;
      await page.keyboard.type('11');
    }
    await press('Enter');
  }
  await expect(page.getByText('Everything here is marked.')).toBeVisible();
  expect(keys).toBeLessThanOrEqual(12 * 3);
  const marked = await lanes();
  expect(marked.filter(l => l.state !== 'feedbackGiven' && l.mark?.finished)).toHaveLength(14);
  expect(marked.filter(l => l.mark?.points === 11 && !l.mark.comment)).toHaveLength(6);
  await page.getByRole('button', { name: 'Give feedback to 7 …' }).press('Enter');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Give it now' }).press('Enter');
  await expect(page.getByText('7 sittings are with their students now.')).toBeVisible();
  await context.close();
});

test('moving between lanes keeps what was typed; a lost connection keeps it too', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { lanes } = await open(page, 'The harbour bell');
  const first = await page.locator('li[aria-current=true]').textContent();
  await page.keyboard.press('w');
  await page.keyboard.type('Half a thought');
  await page.keyboard.press('Escape');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('li[aria-current=true]')).not.toHaveText(first!);
  await page.keyboard.press('ArrowUp');
  await expect(page.getByLabel('Comment')).toHaveValue('Half a thought');
  expect((await lanes()).find(l => l.mark)!.mark).toMatchObject({
    comment: 'Half a thought',
    finished: false,
    points: null,
  });

  await context.setOffline(true);
  await page.keyboard.press('4');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Ecoute cannot be reached just now/)).toBeVisible();
  // One goes on; what did not arrive is where it was, and goes out automatically once the network is back.
  await expect(page.locator('li[aria-current=true]')).not.toHaveText(first!);
  await page.getByRole('button', { name: 'Go to it' }).click();
  await expect(page.getByLabel(/Points, of 5/)).toHaveValue('4');
  await expect(page.getByLabel('Comment')).toHaveValue('Half a thought');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Ecoute cannot be reached just now/)).toBeVisible();
  await context.setOffline(false);
  await expect(page.getByText(/Ecoute cannot be reached just now/)).toBeHidden();
  await expect.poll(async () => (await lanes()).filter(l => l.mark?.finished).length).toBe(1);
  await context.close();
});

test('two windows on one answer: the second is told what the first gave', async () => {
  const { page: one, context } = await signIn(browser, 'ines');
  const { lanes } = await open(one, 'At the fish market');
  const two = await context.newPage();
  await open(two, 'At the fish market');
  const before = (await lanes()).filter(l => l.mark?.finished).length;
  await one.keyboard.press('3');
  await one.keyboard.press('Enter');
  await expect.poll(async () => (await lanes()).filter(l => l.mark?.finished).length).toBe(before + 1);
  await two.keyboard.press('5');
  await two.keyboard.press('Enter');
  await expect(two.getByText(/has marked this meanwhile: 3 points/)).toBeVisible();
  await two.getByRole('button', { name: 'Go to it' }).click();
  await expect(two.getByLabel(/Points, of/)).toHaveValue('5');
  await two.keyboard.press('Enter');
  // A score that takes the place of another says why; Enter from there finishes.
  await expect(two.getByLabel('Why the score changes')).toBeFocused();
  await two.keyboard.type('Heard again');
  await two.keyboard.press('Enter');
  await expect
    .poll(async () => (await lanes()).some(l => l.mark?.points === 5 && l.mark.revision === 2))
    .toBe(true);
  await context.close();
});

test('by student: one student’s items under each other; transport, speed and stretches', async () => {
  const { page, context } = await signIn(browser, 'ines');
  await open(page, 'A morning in Brackwater');
  await page.getByText('by student').click();
  await expect(page.getByRole('list', { name: /Answers of/ }).locator(':scope > li')).toHaveCount(3);
  await page.getByLabel('Student').selectOption({ label: 'Chiyo Hanamura' });
  await expect(page.getByRole('list', { name: 'Answers of Chiyo Hanamura' })).toBeVisible();
  await page.keyboard.press('Space');
  const position = page.getByRole('slider', { name: 'Position' });
  await expect.poll(() => position.inputValue().then(Number)).toBeGreaterThan(200);
  await page.getByLabel('Speed').selectOption('2');
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  await page.locator('h1').click();
  const at = Number(await position.inputValue());
  await page.keyboard.press('ArrowRight');
  await expect.poll(() => position.inputValue().then(Number)).toBe(at + 3_000);
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(() => position.inputValue().then(Number)).not.toBe(at + 3_000);
  await context.close();
});

test('notes pinned while listening, by keyboard; the student meets each at its moment, and keeps them as a file', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const id = await released(page, 'Notes at their moments', [
    { promptText: 'Say what you see.', prepareMs: 0, startsBy: 'student', answerLimitMs: 15_000 },
  ]);
  const { page: student, context: other } = await signIn(browser, 'chiyo', 'phone', { opens: false });
  await student.goto(`/sit/${id}`);
  await passDeviceCheck(student);
  await student.getByRole('button', { name: 'Answer now' }).click();
  await expect(student.getByText(/0:(0[7-9]|1\d) of 0:15/)).toBeVisible();
  await student.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(student.getByText('stored safely')).toBeVisible();
  await student.getByRole('button', { name: 'To the hand-in' }).click();
  await student.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(student.getByText('Handed in. Everything is with your teacher.')).toBeVisible();

  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  await page.keyboard.press('Space');
  await expect
    .poll(() => page.getByRole('slider', { name: 'Position' }).inputValue().then(Number))
    .toBeGreaterThan(1_000);
  await page.keyboard.press('n');
  await page.keyboard.type('Open the vowel <b>here</b> 🙂');
  await page.keyboard.press('Enter');
  const notes = page.getByRole('list', { name: /Notes on the answer/ });
  await expect(notes.getByText('Open the vowel <b>here</b> 🙂')).toBeVisible();
  // A stretch: from where it begins to where the recording is by now.
  await page.keyboard.press('n');
  await page.keyboard.type('One long breath.');
  const at = await page.getByRole('slider', { name: 'Position' }).inputValue().then(Number);
  await expect
    .poll(() => page.getByRole('slider', { name: 'Position' }).inputValue().then(Number))
    .toBeGreaterThan(at + 1_200);
  await page.getByRole('button', { name: 'As far as here' }).click();
  await expect(page.getByLabel(/^Note at 0:0\d–0:\d\d$/)).toHaveValue('One long breath.');
  // Another lane, a reload: what is being written is still there.
  await page.reload();
  await expect(page.getByLabel(/^Note at/)).toHaveValue('One long breath.');
  await context.setOffline(true);
  await page.getByRole('button', { name: 'Keep the note' }).click();
  await expect(page.getByText(/kept on this device/)).toBeVisible();
  await context.setOffline(false);
  await page.getByRole('button', { name: 'Keep the note' }).click();
  await expect(notes.getByRole('listitem')).toHaveCount(2);
  await page
    .getByRole('button', { name: /^Take away the note at/ })
    .first()
    .click();
  await expect(notes.getByRole('listitem')).toHaveCount(1);
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(notes.getByRole('listitem')).toHaveCount(2);
  // A spoken one, as long as the key is held.
  await page.locator('h1').click();
  await page.keyboard.down('v');
  await expect(page.getByText('Speak your note').locator('xpath=..')).toContainText(/0:0[2-9]/);
  await page.keyboard.up('v');
  await expect(notes.getByRole('button', { name: /^Play the spoken note/ })).toBeVisible();
  await expect(notes.getByRole('listitem')).toHaveCount(3);
  await page.getByLabel(/Points/).fill('4');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Give feedback to 1 …' }).click();
  await page.getByRole('button', { name: 'Give it now' }).click();
  await expect(page.getByText('1 sitting is with its student now.')).toBeVisible();

  await student.goto('/feedback');
  await student.getByRole('link', { name: /Notes at their moments/ }).click();
  const own = student.getByRole('list', { name: 'Notes on your answer to item 1' });
  await expect(own.getByRole('listitem')).toHaveCount(3);
  await own.getByRole('button', { name: /^Play the spoken note/ }).click();
  await expect(own.getByRole('button', { name: /^Pause the spoken note/ })).toBeVisible();
  await own
    .getByRole('button', { name: /^Play from/ })
    .first()
    .click();
  await expect(own.locator('[aria-current]').getByText(/Open the vowel/)).toBeVisible();
  const file = student.waitForEvent('download');
  await student.getByRole('link', { name: /WebVTT/ }).click();
  const path = await (await file).path();
  expect(readFileSync(path, 'utf8')).toMatch(/^WEBVTT\n\nNOTE Notes at their moments\n\n1\n00:00:0/);
  await context.close();
  await other.close();
});

test('a name typed as fast as fingers go is whole, and its lane is the one in focus; the address keeps it', async () => {
  const { page, context } = await signIn(browser, 'ines');
  await open(page, 'At the fish market');
  await page.keyboard.press('/');
  const field = page.getByRole('searchbox', { name: 'Name' });
  await expect(field).toBeFocused();
  await page.keyboard.type('farid');
  await page.keyboard.press('Enter');
  await expect(field).toHaveValue('farid');
  const current = page.locator('li[aria-current]');
  await expect(current).toContainText('Farid Benamrouche');
  await expect(page).toHaveURL(/who=farid/);
  await page.reload();
  await expect(current).toContainText('Farid Benamrouche');
  await context.close();
});
