import { expect, test, type Browser } from '@playwright/test';
import { speak } from './support/sound';
import { browserHearing, passDeviceCheck, PASSWORD, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 7, 9);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

test('signing in: wrong words, then the page that was asked for; signing out ends it', async ({
  baseURL,
}) => {
  const context = await browser.newContext({ baseURL });
  const page = await context.newPage();
  await page.goto('/recordings');
  await expect(page).toHaveURL(/sign-in/);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('Type your sign-in name.')).toBeVisible();
  await page.getByLabel('Sign-in name').fill('emrys@brackwater.example');
  await page.getByLabel('Password').fill('not this');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/do not belong together/)).toBeVisible();
  await page.getByLabel('Password').fill(PASSWORD);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'My recordings' })).toBeVisible();
  await expect(page).toHaveURL(/recordings/);

  // The dark theme is chosen, kept over a reload, and given back.
  await page.getByRole('button', { name: 'Emrys Pritchard' }).click();
  await page.getByRole('menuitemradio', { name: /Dark/ }).click();
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');

  await page.getByRole('button', { name: 'Emrys Pritchard' }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.goto('/recordings');
  await expect(page).toHaveURL(/sign-in/);
  await context.close();
});

test('for music the browser’s speech processing is off, for language it is on', async () => {
  const item = { promptText: 'Play or say.', prepareMs: 0, answerLimitMs: 5_000, takesAllowed: 1, points: 5 };
  for (const [teacherName, studentName, processing] of [
    ['tobias', 'nuno', false],
    ['ines', 'ilse', true],
  ] as const) {
    const { page: teacher, context: first } = await signIn(browser, teacherName, 'desk', { opens: false });
    const releaseId = await released(teacher, `Processing for ${teacherName}`, [item]);
    await first.close();
    const { page, context } = await signIn(browser, studentName);
    await page.addInitScript(() => {
      const real = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
      navigator.mediaDevices.getUserMedia = constraints => {
        (window as unknown as { asked: unknown }).asked = constraints;
        return real(constraints);
      };
    });
    await page.goto(`/sit/${releaseId}`);
    await passDeviceCheck(page);
    const asked = await page.evaluate(
      () => (window as unknown as { asked: { audio: MediaTrackConstraints } }).asked.audio,
    );
    expect([asked.echoCancellation, asked.noiseSuppression, asked.autoGainControl]).toEqual([
      processing,
      processing,
      processing,
    ]);

    // Nothing was recorded by allowing the microphone; one take only means one.
    await expect(page.getByText('One take only.')).toBeVisible();
    await page.getByRole('button', { name: 'Answer now' }).click();
    // The limit ends it automatically.
    await expect(page.getByText('stored safely')).toBeVisible();
    await expect(page.getByRole('button', { name: /Record again/ })).toHaveCount(0);
    await context.close();
  }
});

test('a reload in mid-sitting goes on where it was, does what it says, and leaving asks', async () => {
  const item = {
    promptText: 'Think, then speak.',
    prepareMs: 15_000,
    startsBy: 'itself' as const,
    answerLimitMs: 12_000,
    takesAllowed: 2,
    points: 5,
  };
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const releaseId = await released(teacher, 'A reload while preparing', [item]);
  await first.close();
  const { page, context } = await signIn(browser, 'greta', 'phone', { opens: false });
  await page.goto(`/sit/${releaseId}`);
  await passDeviceCheck(page);
  await page.getByRole('button', { name: /I have read it|See it and prepare/ }).click();
  await expect(page.getByTestId('prepare-left')).toHaveText(/0:1[0-3]/);
  await page.reload();
  await passDeviceCheck(page);
  // Preparing is not given twice, and leads to what it says.
  await expect(page.getByText('Recording begins automatically in')).toBeVisible();
  const left = await page.getByTestId('prepare-left').textContent();
  expect(Number(left!.split(':')[1])).toBeLessThanOrEqual(13);
  await expect(page.getByTestId('time-left')).toBeVisible();
  // Another page would end it: that is asked first.
  await page.locator('[data-stage]').getByRole('link', { name: 'Now' }).click();
  await page.getByRole('button', { name: 'Stay and go on' }).click();
  await expect(page.getByTestId('time-left')).toBeVisible();
  // A second reload, in mid-recording: the take ends there and is kept.
  await expect(page.getByText(/0:0[3-9] of 0:12/)).toBeVisible();
  page.on('dialog', dialog => void dialog.accept());
  await page.reload();
  await passDeviceCheck(page);
  await expect(page.getByText('stored safely')).toBeVisible();
  await expect(page.getByText('The recording ended when this page was left.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Record again (1 take left)' })).toBeVisible();
  await context.close();
});
