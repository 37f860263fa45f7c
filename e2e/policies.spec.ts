import { expect, test, type Browser } from '@playwright/test';
import type { Item } from '@ecoute/contract/assessments';
import { blankItem } from '@ecoute/contract/blank';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import type { SittingView } from '@ecoute/contract/sittings';
import { speak } from './support/sound';
import { ask, browserHearing, passDeviceCheck, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 9, 5);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

test('exam conditions: set in a few actions, heard once, begun by themselves, handed in when time is up', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  await teacher.getByRole('link', { name: 'Set', exact: true }).click();
  await teacher.getByRole('button', { name: 'Set a new assessment' }).click();
  await teacher.getByLabel('Title', { exact: true }).fill('An exam in small');
  await teacher.getByLabel('Prompt', { exact: true }).fill('Listen, then answer.');
  await teacher.getByRole('button', { name: 'Speak the prompt' }).click();
  await expect(teacher.getByText('Recording the prompt').locator('xpath=..')).toContainText(/0:(0[1-9]|1\d)/);
  await teacher.getByRole('button', { name: 'Stop' }).click();
  await expect(teacher.getByRole('button', { name: 'Play the prompt' })).toBeVisible();
  await teacher.getByRole('radio', { name: 'Exam conditions' }).click();
  await expect(teacher.getByText('once').first()).toBeAttached();
  await expect(teacher.getByLabel('Takes')).toHaveValue('1');
  await teacher.getByLabel('Time to prepare').fill('2');
  await teacher.getByLabel('Answer limit').fill('3:00');
  // What differs is said, with the way back.
  await expect(teacher.getByRole('button', { name: /Set back to Exam conditions: 2:00/ })).toBeVisible();
  await teacher.getByRole('button', { name: /Set back to Exam conditions: 4:00/ }).click();
  await expect(teacher.getByLabel('Answer limit')).toHaveValue('4:00');
  // The edge on the strip does the same as typing: a second an arrow, ten with Shift.
  const edge = teacher.getByRole('slider', { name: 'End of the answer, item 1' });
  await edge.press('ArrowLeft');
  await expect(teacher.getByLabel('Answer limit')).toHaveValue('3:59');
  await edge.press('Shift+ArrowLeft');
  await expect(teacher.getByLabel('Answer limit')).toHaveValue('3:49');
  await teacher.getByRole('button', { name: /The whole sitting/ }).click();
  await teacher.getByLabel('The whole sitting has a limit').click();
  await teacher.getByLabel('Limit of the sitting').fill('0:30');
  await teacher.getByLabel('Closing words').fill('Thank you. Go and have a coffee.');
  await expect(teacher.getByTestId('foresight')).toContainText('the items alone would take');
  await expect(teacher.getByText('Everything is saved')).toBeVisible();
  await teacher.getByRole('button', { name: 'Release …' }).click();
  await teacher.getByRole('button', { name: 'in three days' }).click();
  await teacher.getByRole('button', { name: 'Release now' }).click();
  await expect(teacher.getByText('It is open for 12 students now.')).toBeVisible();
  const releases = await ask<ReleaseSummary[]>(teacher, '/api/releases');
  const release = releases.body.find(r => r.title === 'An exam in small')!;

  const { page, context } = await signIn(browser, 'bram', 'phone', { opens: false });
  await page.goto(`/sit/${release.id}`);
  await expect(page.getByText(/you have 30 seconds; then everything is handed in/)).toBeVisible();
  await passDeviceCheck(page);
  await expect(page.getByRole('timer')).toContainText(/0:2\d|0:30/);
  await expect(page.getByText(/It can be heard once/)).toBeVisible();
  await page.getByRole('button', { name: 'Hear the prompt' }).click();
  await expect(page.getByTestId('time-left')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toHaveCount(0);
  await expect(page.getByRole('button', { name: /Hear the prompt/ })).toHaveCount(0);
  // Nobody stops it: the limit of the whole sitting does, and hands in what was said.
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible({
    timeout: 45_000,
  });
  await expect(page.getByText('Go and have a coffee.')).toBeVisible();
  const { body } = await ask<SittingView>(page, `/api/releases/${release.id}/sitting`, 'POST');
  expect(body.receipt!.lines[0]!.durationMs).toBeGreaterThan(12_000);
  expect(body.receipt!.lines[0]!.durationMs).toBeLessThan(31_000);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await first.close();
  await context.close();
});

test('material, a hint, a pass, an answer in writing, a pause; the teacher meets each', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const releaseId = await released(
    teacher,
    'Ways of answering',
    (
      [
        { answerBy: 'nothing', promptText: 'Read this first: the tide table.' },
        { promptText: 'Say what you see.', passAllowed: true, hintText: 'Begin with the boats.' },
        { answerBy: 'text', promptText: 'Write one sentence.', modelText: 'O porto é bonito.' },
        blankItem(crypto.randomUUID(), 'practice', {
          promptText: 'Take your time.',
          answerLimitMs: 60_000,
          shortestAnswerMs: 3_000,
        }),
        { promptText: 'Only if you like.', required: false },
      ] satisfies Partial<Item>[]
    ).map(i => ({ prepareMs: 0, ...i })),
    { modelOpens: 'afterHandIn' },
  );
  const { page, context } = await signIn(browser, 'chiyo', 'phone', { opens: false });
  await page.goto(`/sit/${releaseId}`);
  await passDeviceCheck(page);
  await page.getByRole('button', { name: 'I have gone through this' }).click();
  await page.getByRole('button', { name: 'Item 2', exact: true }).click();
  await page.getByRole('button', { name: 'Open the hint' }).click();
  await expect(page.getByText('Begin with the boats.')).toBeVisible();
  await page.getByRole('button', { name: 'I pass on this one' }).click();
  await page.getByRole('button', { name: 'Answer it after all' }).click();
  await expect(page.getByRole('button', { name: 'Answer now' })).toBeVisible();
  await page.getByRole('button', { name: 'I pass on this one' }).click();
  await expect(page.getByText('That is a full answer')).toBeVisible();
  await page.getByRole('button', { name: 'Item 3', exact: true }).click();
  await page.getByLabel('Your answer').fill('O porto é grande.');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  // Without a network it stays here, over a reload as well.
  await context.setOffline(true);
  await page.getByLabel('Your answer').fill('O porto é grande e azul.');
  await expect(page.getByText(/Kept on this device/)).toBeVisible();
  await context.setOffline(false);
  await page.reload();
  await passDeviceCheck(page);
  await page.getByRole('button', { name: /Item 3:/ }).click();
  await expect(page.getByLabel('Your answer')).toHaveValue('O porto é grande e azul.');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Item 4', exact: true }).click();
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByRole('button', { name: 'Stop, from 0:03 on' })).toBeDisabled();
  await page.getByRole('button', { name: 'Pause', exact: true }).click();
  await expect(page.getByText('Paused', { exact: true }).first()).toBeVisible();
  const held = await page.getByTestId('time-left').textContent();
  await page.getByRole('button', { name: 'Go on recording' }).click();
  await expect(page.getByTestId('time-left')).not.toHaveText(held!);
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  await page.getByRole('button', { name: 'Item 5', exact: true }).click();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  for (const words of ['gone through', 'passed', 'answered in writing', 'left out'])
    await expect(page.getByText(words, { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  // Whoever may still take it back opens the model answers knowingly; from then on it stays handed in.
  await expect(page.getByRole('button', { name: 'Take it back and go on …' })).toBeVisible();
  await expect(page.getByText('O porto é bonito.')).toHaveCount(0);
  await page.getByRole('button', { name: 'See the model answers …' }).click();
  await page.getByRole('button', { name: 'See them' }).click();
  await expect(page.getByText('O porto é bonito.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take it back and go on …' })).toHaveCount(0);
  await context.close();

  await teacher.goto(`/listen/${releaseId}`);
  await teacher.getByRole('radio', { name: 'by student' }).click();
  await expect(teacher.getByText('passed on this item')).toBeVisible();
  await expect(teacher.getByText('O porto é grande e azul.')).toBeVisible();
  await expect(teacher.getByText('Item 1', { exact: true })).toHaveCount(0);
  await first.close();
});
