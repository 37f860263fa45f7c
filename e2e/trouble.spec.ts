import { expect, test } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { silence, speak } from './support/sound';
import { ask, browserHearing, passDeviceCheck, released, signIn } from './support/world';

const ITEM = { promptText: 'Diz bom dia.', prepareMs: 0, answerLimitMs: 10_000, takesAllowed: 1, points: 5 };

test('prompts: a wrong file, an empty one and a damaged one are told apart, and cost nothing else', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 5, 4);
  const files = {
    text: info.outputPath('notes.mp3'),
    empty: info.outputPath('empty.wav'),
    broken: info.outputPath('broken.webm'),
  };
  writeFileSync(files.text, 'This is not a sound at all, whatever its name says. '.repeat(40));
  writeFileSync(files.empty, '');
  // The first bytes of a WebM file, then noise.
  writeFileSync(
    files.broken,
    Buffer.concat([
      Buffer.from('1a45dfa39f4286810142f7810142f2810442f381084282847765626d', 'hex'),
      Buffer.alloc(4_000, 7),
    ]),
  );
  const browser = await browserHearing(voice);
  try {
    const { page } = await signIn(browser, 'tobias', 'desk', { opens: false });
    await page.goto('/set');
    await page.getByRole('button', { name: 'Set a new assessment' }).click();
    await page.getByLabel('Title', { exact: true }).fill('Prompts from files');
    const bring = page.getByLabel('Audio file for the prompt');
    await bring.setInputFiles(files.text);
    await expect(page.getByText(/This is not a sound that we know/)).toBeVisible();
    await page.getByRole('button', { name: 'Throw it away' }).click();
    await bring.setInputFiles(files.broken);
    await expect(page.getByText(/damaged and cannot be played|not a sound that we know/)).toBeVisible();
    await page.getByRole('button', { name: 'Throw it away' }).click();
    await bring.setInputFiles(files.empty);
    await expect(page.getByText(/the sound is empty/)).toBeVisible();
    await page.getByRole('button', { name: 'Throw it away' }).click();
    await bring.setInputFiles(voice);
    await expect(page.getByRole('button', { name: 'Play the prompt' })).toBeVisible();
    await expect(page.getByLabel('Title', { exact: true })).toHaveValue('Prompts from files');
    await expect(page.getByText('Everything is saved')).toBeVisible();
  } finally {
    await browser.close();
  }
});

test('Release, pressed while a save is on its way, waits for it and takes along what came since', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 3, 4);
  const browser = await browserHearing(voice);
  try {
    const { page } = await signIn(browser, 'tobias', 'desk', { opens: false });
    await page.goto('/set');
    await page.getByRole('button', { name: 'Set a new assessment' }).click();
    await page.route('**/api/assessments/*', async route => {
      if (route.request().method() === 'PUT') await new Promise(resolve => setTimeout(resolve, 1_500));
      await route.continue();
    });
    const saving = page.waitForRequest(r => r.method() === 'PUT');
    const prompt = page.getByRole('textbox', { name: 'Prompt', exact: true });
    await prompt.fill('What do you hear?');
    await expect(prompt).toHaveText('What do you hear?');
    await saving;
    await page.getByLabel('Title', { exact: true }).fill('Pressed while it saves');
    await page.getByRole('button', { name: 'Release …' }).click();
    await expect(page.getByRole('button', { name: 'Release now' })).toBeVisible();
    await expect(page.locator('option:checked', { hasText: 'Pressed while it saves' })).toHaveCount(1);
  } finally {
    await browser.close();
  }
});

test('two windows on one assessment: the second is told and loses nothing', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 3, 5);
  const browser = await browserHearing(voice);
  try {
    const { page: one, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
    await one.goto('/set');
    await one.getByRole('button', { name: 'Set a new assessment' }).click();
    await one.getByLabel('Title', { exact: true }).fill('First words');
    await expect(one.getByText('Everything is saved')).toBeVisible();
    const two = await context.newPage();
    await two.goto(one.url());
    await expect(two.getByLabel('Title', { exact: true })).toHaveValue('First words');
    await one.getByLabel('Title', { exact: true }).fill('First words, from window one');
    await expect(one.getByText('Everything is saved')).toBeVisible();
    await two.getByLabel('Title', { exact: true }).fill('First words, from window two');
    await expect(two.getByText(/changed in another window/)).toBeVisible();
    await two.getByRole('button', { name: 'Keep what is here' }).click();
    await expect(two.getByText('Everything is saved')).toBeVisible();
    await one.reload();
    await expect(one.getByLabel('Title', { exact: true })).toHaveValue('First words, from window two');
  } finally {
    await browser.close();
  }
});

test('a text over its limit is said at the field and kept until it fits', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 3, 6);
  const browser = await browserHearing(voice);
  try {
    const { page } = await signIn(browser, 'tobias', 'desk', { opens: false });
    await page.goto('/set');
    await page.getByRole('button', { name: 'Set a new assessment' }).click();
    await page.getByLabel('Title', { exact: true }).fill('x'.repeat(161));
    await expect(page.getByText('A title has at most 160 characters.')).toBeVisible();
    await page.reload();
    await expect(page.getByLabel('Title', { exact: true })).toHaveValue('x'.repeat(161));
    await page.getByLabel('Title', { exact: true }).fill('A title that fits');
    await expect(page.getByText('Everything is saved')).toBeVisible();
  } finally {
    await browser.close();
  }
});

test('a microphone that is refused: in plain words, and again when it is allowed', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 5, 7);
  const browser = await browserHearing(voice);
  try {
    const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
    const releaseId = await released(teacher, 'A refused microphone', [ITEM]);
    const { page } = await signIn(browser, 'farid', 'phone');
    await page.addInitScript(() => {
      const real = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
      let asked = 0;
      navigator.mediaDevices.getUserMedia = constraints =>
        asked++ === 0 ? Promise.reject(new DOMException('no', 'NotAllowedError')) : real(constraints);
    });
    await page.goto(`/sit/${releaseId}`);
    await page.getByRole('button', { name: 'Check the microphone and begin' }).click();
    await expect(page.getByText(/set Microphone to Allow, then try again/)).toBeVisible();
    await page.getByRole('button', { name: 'Try again' }).click();
    await expect(page.getByRole('img', { name: 'Level of the microphone' })).toBeVisible();
  } finally {
    await browser.close();
  }
});

test('a microphone that hears nothing does not pass for one that works', async ({}, info) => {
  const nothing = info.outputPath('nothing.wav');
  silence(nothing, 5);
  const browser = await browserHearing(nothing);
  try {
    const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
    const releaseId = await released(teacher, 'A dead microphone', [ITEM]);
    const { page } = await signIn(browser, 'farid', 'phone', { opens: false });
    await page.goto(`/sit/${releaseId}`);
    await page.getByRole('button', { name: 'Check the microphone and begin' }).click();
    // Nobody had to ask for it.
    await expect(page.getByText('We heard nothing.')).toBeVisible();
    await expect(page.getByRole('button', { name: 'I am heard: go on' })).toHaveCount(0);
    // On a turned phone the button lies over nothing of it.
    await page.setViewportSize({ width: 844, height: 390 });
    await expect(page.getByText('We heard nothing.')).toBeInViewport({ ratio: 1 });
    const [words, goOn] = await Promise.all(
      [page.getByText('We heard nothing.'), page.getByRole('button', { name: 'Go on all the same' })].map(
        async part => (await part.boundingBox())!,
      ),
    );
    expect(words!.y + words!.height).toBeLessThanOrEqual(goOn!.y);
    await page.setViewportSize({ width: 390, height: 844 });
    // Whoever goes on all the same is told while it can still be mended.
    await page.getByRole('button', { name: 'Go on all the same' }).click();
    await page.getByRole('button', { name: 'Answer now' }).click();
    await expect(page.getByText('Nothing is heard yet.')).toBeVisible();
  } finally {
    await browser.close();
  }
});

test('a session that ends in mid-sitting: the recording waits and goes on after signing in', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 11, 8);
  const browser = await browserHearing(voice);
  try {
    const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
    const releaseId = await released(teacher, 'An expired session', [ITEM]);
    const { page, context } = await signIn(browser, 'bram', 'desk', { opens: false });
    await page.goto(`/sit/${releaseId}`);
    await passDeviceCheck(page);
    await page.getByRole('button', { name: 'Answer now' }).click();
    await expect(page.getByText(/0:0[2-9] of 0:10/)).toBeVisible();
    // An answer on its way at that moment brings the cookie back: again, until the session is really gone.
    await expect(async () => {
      await context.clearCookies();
      await expect(page.getByText(/You are signed out/)).toBeVisible({ timeout: 1_500 });
    }).toPass();
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    const again = await context.newPage();
    await again.goto('/sign-in');
    await again.getByLabel('Sign-in name').fill('bram@brackwater.example');
    await again.getByLabel('Password').fill('harbour-lights');
    await again.getByRole('button', { name: 'Sign in' }).click();
    await expect(again.getByRole('navigation', { name: 'Main' })).toBeVisible();
    await expect(page.getByText('stored safely')).toBeVisible({ timeout: 40_000 });
    expect((await ask<{ state: string }[]>(page, '/api/todo')).status).toBe(200);
  } finally {
    await browser.close();
  }
});
