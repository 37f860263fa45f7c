import { expect, test, type Page } from '@playwright/test';
import { fit } from './support/fit';
import { speak } from './support/sound';
import { browserHearing, passDeviceCheck, released, signIn } from './support/world';

const MINUTE = 60_000;

/** Records what is asked for a moment. */
async function answer(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByTestId('time-left')).toHaveText(/^0:(4[0-2]|[0-3]\d)$/);
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByRole('button', { name: /^Play take 1/ })).toBeVisible();
}

test('three answer as one on one device; one says that they were not there; they are scored at once, and two apart', async ({}, info) => {
  test.setTimeout(4 * MINUTE);
  const voice = info.outputPath('voice.wav');
  speak(voice, 8, 2);
  const browser = await browserHearing(voice);
  const title = `Tickets ${Date.now() % 1e6}`;
  try {
    const { page: teacher } = await signIn(browser, 'ines');
    const releaseId = await released(teacher, title, [
      {
        promptText: 'One sells tickets, two want to cross.',
        startsBy: 'student',
        prepareMs: 0,
        together: { way: 'oneDevice', most: 3, turnsEach: 1 },
      },
    ]);
    // Set in the editor as well.
    await teacher.goto('/set');
    await teacher.getByRole('link', { name: title }).first().click();
    await expect(teacher.getByLabel('Who answers')).toHaveValue('oneDevice');
    await teacher.getByLabel('Who answers').selectOption('turns');
    await expect(teacher.getByLabel('Longest turn')).toBeVisible();
    await teacher.getByLabel('Who answers').selectOption('oneDevice');
    await fit(teacher, 'an item answered together');

    const { page: greta } = await signIn(browser, 'greta', 'phone');
    await greta.goto(`/sit/${releaseId}`);
    await passDeviceCheck(greta);
    await greta.getByRole('checkbox', { name: 'Hamish Macrury' }).click();
    await fit(greta, 'who is here', false);
    await answer(greta);
    // Somebody was forgotten: said until the hand-in, and there after a reload.
    await greta.getByRole('checkbox', { name: 'Ilse Vandermolen' }).click();
    await expect(greta.getByText(/You answer as one/)).toBeVisible();
    await greta.reload();
    await passDeviceCheck(greta);
    await expect(greta.getByRole('checkbox', { name: 'Ilse Vandermolen' })).toBeChecked();
    await greta.getByRole('button', { name: 'To the hand-in' }).first().click();
    await greta.getByRole('button', { name: /^Hand in/ }).click();
    await expect(greta.getByText('together with Hamish Macrury, Ilse Vandermolen')).toBeVisible();

    const { page: ilse } = await signIn(browser, 'ilse', 'phone');
    await ilse.goto(`/sit/${releaseId}`);
    await expect(ilse.getByText(/Greta Lindqvist recorded this together with you/)).toBeVisible();
    await fit(ilse, 'recorded with others', false);
    await ilse.getByRole('button', { name: 'I was not there …' }).click();
    await ilse.getByRole('button', { name: 'I was not there', exact: true }).click();
    await ilse.goto(`/sit/${releaseId}`);
    await passDeviceCheck(ilse);
    await ilse.getByRole('button', { name: 'I was there after all' }).click();
    await expect(ilse.getByText(/Handed in\./)).toBeVisible({ timeout: 30_000 });

    // Heard once, scored once.
    await teacher.goto(`/listen/${releaseId}`);
    const lanes = teacher.getByRole('listitem').filter({ hasText: 'Greta Lindqvist' });
    await expect(lanes.first()).toContainText('Greta Lindqvist, Hamish Macrury, Ilse Vandermolen');
    await expect(
      teacher.getByText(/Greta Lindqvist, Hamish Macrury, Ilse Vandermolen: recorded together/),
    ).toBeVisible();
    await fit(teacher, 'a lane of several');
    await teacher.keyboard.press('4');
    await teacher
      .getByRole('button', { name: /^Finish/ })
      .first()
      .click();
    await teacher.getByRole('button', { name: 'Score each apart' }).click();
    await expect(teacher.getByText(/each is scored for themselves/).first()).toBeVisible();
    await expect(teacher.getByRole('button', { name: 'Hamish Macrury', exact: true })).toBeVisible();
    await teacher.getByRole('button', { name: 'Score all alike' }).first().click();
    await expect(teacher.getByRole('button', { name: 'Hamish Macrury', exact: true })).toBeHidden();
    await teacher.getByRole('button', { name: /^Give feedback to Greta/ }).click();
    await teacher.getByRole('dialog').getByRole('button', { name: /^Give/ }).click();

    const { page: hamish } = await signIn(browser, 'hamish', 'phone');
    await hamish.goto('/feedback');
    await hamish.getByRole('link', { name: new RegExp(title) }).click();
    await expect(hamish.getByText('together with Greta Lindqvist, Ilse Vandermolen')).toBeVisible();
    await expect(hamish.getByText('4 / 5', { exact: true })).toBeVisible();
  } finally {
    await browser.close();
  }
});

test('two speak in turns on their own phones, and their turns become one run that both hand in', async ({}, info) => {
  test.setTimeout(4 * MINUTE);
  const voice = info.outputPath('voice.wav');
  speak(voice, 8, 4);
  const browser = await browserHearing(voice);
  const title = `At night ${Date.now() % 1e6}`;
  try {
    const { page: teacher } = await signIn(browser, 'ines');
    const releaseId = await released(teacher, title, [
      {
        promptText: 'Tell each other what you hear at night.',
        answerLimitMs: 20_000,
        together: { way: 'turns', most: 2, turnsEach: 1 },
      },
    ]);
    const { page: jovan } = await signIn(browser, 'jovan', 'phone');
    const { page: kamala } = await signIn(browser, 'kamala', 'phone');
    const open = async (page: Page) => {
      await page.goto(`/sit/${releaseId}`);
      await passDeviceCheck(page);
    };
    await open(jovan);
    await open(kamala);
    await jovan.getByRole('checkbox', { name: 'Kamala Sundaresan' }).click();
    await fit(jovan, 'choosing who speaks', false);
    await jovan.getByRole('button', { name: 'Begin with Kamala Sundaresan' }).click();
    await expect(kamala.getByText(/It is the turn of Jovan Petrakov/)).toBeVisible();

    const speakTurn = async (page: Page) => {
      await page.getByRole('button', { name: 'Speak', exact: true }).click();
      await page.getByRole('button', { name: 'Record now' }).click();
      await expect(page.getByText(/0:0[2-9] of/)).toBeVisible();
      await page.getByRole('button', { name: 'Stop' }).click();
    };
    // Back asks while it is recorded, and leaves when that is wished; what was spoken waits for him.
    const fromNow = async () => {
      await jovan.locator(`a[href*="${releaseId}"]`).first().click();
      await passDeviceCheck(jovan);
    };
    await jovan.goto('/');
    await fromNow();
    await jovan.getByRole('button', { name: 'Speak', exact: true }).click();
    await jovan.getByRole('button', { name: 'Record now' }).click();
    await expect(jovan.getByText(/0:0[2-9] of/)).toBeVisible();
    await jovan.goBack();
    await jovan.getByRole('button', { name: 'Stay and go on' }).click();
    await jovan.goBack();
    await jovan.getByRole('button', { name: 'End it and leave' }).click();
    await expect(jovan.getByRole('heading', { name: 'Now', exact: true })).toBeVisible();
    await fromNow();
    await expect(jovan.getByRole('button', { name: /^Play your turn/ })).toBeVisible();
    await jovan.reload();
    await passDeviceCheck(jovan);
    await jovan.getByRole('button', { name: /^Play your turn/ }).click();
    await expect(jovan.getByRole('button', { name: 'Record again' })).toBeVisible();
    await fit(jovan, 'one’s turn', false);
    await jovan.getByRole('button', { name: 'Give it on to Kamala Sundaresan' }).click();
    await expect(jovan.getByText(/It is the turn of Kamala Sundaresan/)).toBeVisible();
    await expect(kamala.getByText('It is your turn.')).toBeVisible({ timeout: 30_000 });
    await kamala.getByRole('button', { name: 'Play turn 1, Jovan Petrakov' }).click();
    await speakTurn(kamala);
    // Without a network it is kept here, and goes on when that is back.
    await kamala.context().setOffline(true);
    await kamala.getByRole('button', { name: 'Put it in' }).click();
    await expect(kamala.getByText(/^Your turn is on its way/)).toBeVisible();
    await kamala.context().setOffline(false);
    for (const page of [jovan, kamala]) {
      await expect(page.getByRole('button', { name: /^Play take 1/ })).toBeVisible({ timeout: 45_000 });
      await page.getByRole('button', { name: 'To the hand-in' }).first().click();
      await page.getByRole('button', { name: /^Hand in/ }).click();
      await expect(page.getByText(/Handed in\./)).toBeVisible();
    }
    await teacher.goto(`/listen/${releaseId}`);
    const turns = teacher.getByRole('list', { name: 'Turns' });
    await expect(turns.getByRole('button')).toHaveText([
      /Jovan Petrakov.*0:00/,
      /Kamala Sundaresan.*0:0[2-9]/,
    ]);
    await turns.getByRole('button').nth(1).click();
    await expect(turns.getByRole('button').nth(1)).toHaveAttribute('aria-current', 'true');
    await fit(teacher, 'a run of turns');
  } finally {
    await browser.close();
  }
});
