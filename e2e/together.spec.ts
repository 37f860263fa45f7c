import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test, type Browser, type Page } from '@playwright/test';
import type { Topic } from '@ecoute/contract/commentBank';
import type { ListenView } from '@ecoute/contract/marking';
import { speak } from './support/sound';
import { ask, browserHearing, handInTones, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 4);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const spoken = { promptText: 'Say what you see.', prepareMs: 0, answerLimitMs: 15_000, points: 5 };
const lanesOf = async (page: Page, id: string) =>
  (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes;

test('a comment bank brought in as a file, ordered by keyboard, with a clip that reaches the student', async ({}, info) => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  // What an earlier try left there.
  for (const t of (await ask<Topic[]>(page, '/api/comment-bank')).body)
    if (t.name === 'Endings') await ask(page, `/api/comment-bank/topics/${t.id}`, 'DELETE');
  await page.goto('/listen');
  await page.goto('/listen/comments');
  await expect(page.getByRole('heading', { name: 'Comment bank' })).toBeVisible();
  const file = info.outputPath('bank.csv');
  writeFileSync(
    file,
    '\ufefftopic,comment,link\nEndings,The last syllable is gone.,https://brackwater.example/ends\nEndings,"Ends well, {name}.",\nEndings,,\nEndings,Bad link,nowhere\n',
  );
  await page.getByLabel('A CSV file with comments').setInputFiles(file);
  const dialog = page.getByRole('dialog', { name: 'bank.csv' });
  await expect(dialog).toContainText('Row 4 is left out: There is no comment in this row.');
  await dialog.getByRole('button', { name: 'Bring in 2' }).click();
  const topic = page.getByRole('region', { name: 'Endings' });
  const comments = topic.getByRole('listitem');
  await expect(comments).toHaveCount(2);
  // By keyboard: the second before the first.
  await topic.getByRole('button', { name: /^Move “Ends well/ }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText(/^It is lifted, place 2 of 2 in Endings\./)).toBeAttached();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByText(/^Here it would be at place 1 of 2 in Endings\./)).toBeAttached();
  await page.keyboard.press('Space');
  await expect(page.getByText(/^It is put down at place 1 of 2 in Endings\./)).toBeAttached();
  await expect(comments.first()).toContainText('Ends well');
  await page.reload();
  await expect(comments.first()).toContainText('Ends well');
  // A clip is spoken once, and heard before it is kept.
  await topic.getByRole('button', { name: /^Change “The last/ }).click();
  await topic.getByRole('button', { name: 'Speak a clip' }).click();
  await expect(topic.getByText(/^0:0[1-9]$/)).toBeVisible();
  await topic.getByRole('button', { name: 'Stop' }).click();
  await expect(topic.getByRole('button', { name: 'Play the clip' })).toBeVisible();
  await topic.getByRole('button', { name: 'Keep it' }).click();
  const clip = async () => {
    const { body } = await ask<Topic[]>(page, '/api/comment-bank');
    return body.find(t => t.name === 'Endings')!.comments.find(c => c.link !== '')!.voiceState;
  };
  await expect.poll(clip).toBe('stored');
  const out = page.waitForEvent('download');
  await page.getByRole('link', { name: 'CSV', exact: true }).click();
  expect(readFileSync(await (await out).path(), 'utf8')).toContain(
    'Endings,"Ends well, {name}.",,comment,,,0',
  );

  const id = await released(page, 'A clip', [spoken]);
  const { page: student, context: other } = await signIn(browser, 'bram', 'phone');
  await handInTones(student, id, 4);
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  // Enter is faster than the bank: it holds for what is found in it.
  await page.route('**/api/comment-bank', async route => {
    await new Promise(resolve => setTimeout(resolve, 700));
    await route.continue();
  });
  await page.keyboard.press('c');
  await page.keyboard.type('syllable');
  await page.keyboard.press('Enter');
  // What brings a clip is pinned to the moment, with its link.
  const notes = page.getByRole('list', { name: /Notes on the answer/ });
  await expect(notes.getByRole('link', { name: 'https://brackwater.example/ends' })).toBeVisible();
  await expect(notes.getByRole('button', { name: /^Play the spoken note/ })).toBeVisible();
  await page.keyboard.press('c');
  await page.getByRole('button', { name: 'A voice to listen to' }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('5');
  await page.locator('h1').click();
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Give feedback to Bram' }).click();
  await page.getByRole('button', { name: 'Give it now' }).click();
  await expect(page.getByText('1 sitting is with its student now.')).toBeVisible();
  await student.goto('/feedback');
  await student
    .getByRole('link', { name: /A clip/ })
    .first()
    .click();
  await expect(student.getByRole('list', { name: 'Praise' })).toContainText('A voice to listen to');
  await student.getByRole('button', { name: /^Play the spoken note/ }).click();
  await expect(student.getByRole('button', { name: /^Pause the spoken note/ })).toBeVisible();
  await context.close();
  await other.close();
});

test('some get feedback at a set time; that is called off on the lane; filters show who is where', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const id = await released(page, 'At eight o’clock', [spoken]);
  for (const name of ['amara', 'ilse', 'farid']) {
    const { page: student, context: own } = await signIn(browser, name);
    await handInTones(student, id, 3);
    await own.close();
  }
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  for (const points of ['3', '4']) {
    await page.keyboard.press(points);
    await page.keyboard.press('Enter');
  }
  await expect(page.getByRole('status').filter({ hasText: '1 answer' })).toBeVisible();
  const filters = page
    .getByRole('radiogroup', { name: 'Show lanes' })
    .or(page.getByRole('group', { name: 'Show lanes' }));
  await expect(filters.getByText('marked 2')).toBeVisible();
  await page.getByRole('button', { name: 'Give feedback to 2 …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('list', { name: 'Unfinished' })).toContainText('item 1');
  // One of the two stays for now.
  await dialog.getByRole('checkbox').first().click();
  await dialog.getByLabel('at a set time').check();
  await dialog.getByRole('button', { name: 'Give it at that time' }).click();
  await expect(page.getByText(/^1 sitting will be with its student/)).toBeVisible();
  expect((await lanesOf(page, id)).filter(l => l.feedbackComesAt !== null)).toHaveLength(1);
  await filters.getByText('marked 2').click();
  await page
    .getByRole('button', { name: 'Ilse Vandermolen' })
    .or(page.getByRole('button', { name: 'Farid Benamrouche' }))
    .first()
    .click();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowUp');
  const callOff = page.getByRole('button', { name: /call it off/ });
  if ((await callOff.count()) === 0) await page.keyboard.press('ArrowDown');
  await callOff.click();
  await expect(callOff).toBeHidden();
  expect((await lanesOf(page, id)).filter(l => l.feedbackComesAt !== null)).toHaveLength(0);
  await context.close();
});

test('two teachers at one release see each other, and what the other gave', async () => {
  const { page, context } = await signIn(browser, 'tobias');
  // Not a class of Inês: as long as she has one, other journeys need not choose it.
  const name = `Together ${Date.now()}`;
  const made = await ask<{ id: string }>(page, '/api/classes', 'POST', {
    name,
    subject: 'language',
  });
  for (const [who, role] of [
    ['halvard', 'teacher'],
    ['chiyo', 'student'],
  ])
    await ask(page, `/api/classes/${made.body.id}/members`, 'POST', {
      signInName: `${who}@brackwater.example`,
      role,
    });
  const id = await released(page, 'Together', [spoken], {}, made.body.id);
  const { page: student, context: own } = await signIn(browser, 'chiyo');
  // Whom Tobias does not know from a class of his is asked, not put in.
  const invitation = student.getByRole('listitem').filter({ hasText: 'asks you' }).filter({ hasText: name });
  await invitation.getByRole('button', { name: 'Join' }).click();
  await expect(invitation).toHaveCount(0);
  await handInTones(student, id, 3);
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  const { page: halvard, context: other } = await signIn(browser, 'halvard', 'desk', { opens: false });
  await halvard.goto(`/listen/${id}`);
  await expect(halvard.getByText('Tobias Rennick is at this student too')).toBeVisible();
  await expect(page.getByText('Halvard Brix is at this student too')).toBeVisible();
  // What one writes appears with the other, who has not touched it.
  await page.keyboard.press('w');
  await page.keyboard.type('From Tobias.');
  await page.keyboard.press('Escape');
  await expect(halvard.getByLabel('Comment')).toHaveValue('From Tobias.');
  await other.close();
  await expect(page.getByText('Halvard Brix is at this student too')).toBeHidden({ timeout: 60_000 });
  // Nobody of it stays known to Tobias, for the next run on the same data.
  const chiyo = await ask<{ me: { id: string } }>(student, '/api/session');
  await ask(page, `/api/classes/${made.body.id}/members/${chiyo.body.me.id}`, 'DELETE');
  await context.close();
  await own.close();
});
