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

/** A visitor whom the application reaches only when it is let. */
async function onASlowLine(baseURL: string | undefined, path: string) {
  const context = await browser.newContext({ locale: 'de-DE', serviceWorkers: 'block', baseURL });
  const page = await context.newPage();
  const blocked: string[] = [];
  page.on('console', message => {
    if (message.text().includes('Content Security Policy')) blocked.push(message.text());
  });
  context.on('close', () => expect(blocked).toEqual([]));
  let arrives: () => void = () => undefined;
  const arrived = new Promise<void>(resolve => (arrives = resolve));
  await page.route('**/assets/index-*.js', async route => {
    await arrived;
    await route.continue();
  });
  await page.goto(path, { waitUntil: 'commit' });
  await expect(page.locator('form[data-ready]')).toBeVisible();
  return {
    context,
    page,
    arrives,
    name: page.getByLabel('Anmeldename'),
    password: page.getByLabel('Passwort', { exact: true }),
    enter: page.getByRole('button', { name: 'Anmelden' }),
  };
}

test('on a slow line one signs in before the application is here, and what is typed goes along', async ({
  baseURL,
}) => {
  const first = await onASlowLine(baseURL, '/feedback');
  const { page, name, password } = first;
  await name.fill('amara@brackwater.example');
  await password.fill('not-this-one');
  await first.enter.click();
  const refused = page.getByText('Dieser Name und dieses Passwort gehören nicht zusammen.');
  await expect(refused).toBeVisible();
  await password.fill('');
  await password.pressSequentially('harbour');
  // The application takes its place: nothing of it is lost, and whoever types goes on.
  first.arrives();
  await expect(page.locator('#porch')).toHaveCount(0);
  await expect(refused).toBeVisible();
  await expect(name).toHaveValue('amara@brackwater.example');
  await expect(password).toBeFocused();
  await page.keyboard.type('-lights');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('navigation')).toBeVisible();
  expect(new URL(page.url()).pathname).toBe('/feedback');
  await first.context.close();

  // In without the application; it is there when the page that was asked for is.
  const second = await onASlowLine(baseURL, '/recordings');
  await second.name.fill('amara@brackwater.example');
  await second.password.fill(PASSWORD);
  const isIn = second.page.waitForResponse(
    r => r.url().endsWith('/api/session') && r.request().method() === 'POST',
  );
  await second.enter.click();
  expect((await isIn).status()).toBe(200);
  second.arrives();
  await expect(second.page.getByRole('navigation')).toBeVisible();
  expect(new URL(second.page.url()).pathname).toBe('/recordings');
  await second.context.close();
});

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
    prepareMs: 30_000,
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
  // A busy machine may look away for seconds.
  await expect(page.getByTestId('prepare-left')).toHaveText(/0:(1\d|2[0-8])/);
  await page.reload();
  await passDeviceCheck(page);
  // Preparing is not given twice, and leads to what it says.
  await expect(page.getByText('Recording begins automatically in')).toBeVisible();
  const left = await page.getByTestId('prepare-left').textContent();
  expect(Number(left!.split(':')[1])).toBeLessThanOrEqual(28);
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
