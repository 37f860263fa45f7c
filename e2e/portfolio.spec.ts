import { expect, test } from '@playwright/test';
import { fit } from './support/fit';
import { speak } from './support/sound';
import { browserHearing, signIn } from './support/world';

/** A drawing of one red pixel, as PNG. */
const RED = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8DwHwAFBQIAX8jx0gAAAABJRU5ErkJggg==',
  'base64',
);

test('a teacher suggests a recording; its student puts it in, speaks of it, shows it on a phone, and ends that', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 6, 5);
  const browser = await browserHearing(voice);
  try {
    const { page: teacher } = await signIn(browser, 'ines');
    await teacher.goto('/results');
    await teacher.getByRole('link', { name: /Portuguese/ }).click();
    await teacher.getByRole('grid').getByRole('link', { name: 'Emrys Pritchard' }).click();
    await teacher
      .getByRole('button', { name: /For a portfolio: suggest/ })
      .first()
      .click();
    // Of its own with each try.
    const why = `Keep this one ${Date.now()}`;
    const called = `What I can say ${Date.now()}`;
    await teacher.getByLabel(/belongs in their portfolio/).fill(why);
    await teacher.getByRole('button', { name: 'Suggest it' }).click();
    await expect(teacher.getByText('suggested for a portfolio')).toBeVisible();

    const { page: student } = await signIn(browser, 'emrys', 'phone');
    await student.goto('/recordings');
    await student.getByRole('link', { name: /Portfolios · suggestions: \d/ }).click();
    const suggestion = student.getByRole('listitem').filter({ hasText: why });
    await expect(suggestion).toContainText('Inês Caldeira suggests a recording');
    await fit(student, 'portfolios', false);
    const which = suggestion.getByLabel('Portfolio');
    if (await which.isVisible()) await which.selectOption('');
    await suggestion.getByRole('button', { name: 'Put it in' }).click();
    await student.getByLabel('Title of the portfolio').fill(called);
    await student.getByRole('textbox', { name: 'Title', exact: true }).fill('My own morning');
    await student.getByLabel('What you think of it').fill('Slow, and all of it understood.');
    await student.getByRole('button', { name: 'Say it instead' }).click();
    await student.getByRole('button', { name: 'Record now' }).click();
    await expect(student.getByText(/0:0[2-9] of/)).toBeVisible();
    await student.getByRole('button', { name: 'Stop' }).click();
    await expect(student.getByRole('button', { name: 'Play what you said of My own morning' })).toBeVisible();
    await student
      .getByLabel('A picture for My own morning')
      .setInputFiles({ name: 'red.png', mimeType: 'image/png', buffer: RED });
    await student.getByLabel('What is in the picture').fill('Red');
    await expect(student.getByRole('status').getByText('Saved', { exact: true })).toBeVisible();

    // A second one, its place, and what is taken out comes back.
    await student.getByRole('button', { name: 'Choose recordings …' }).click();
    await student
      .getByRole('button', { name: /^Put in / })
      .first()
      .click();
    await student.getByRole('button', { name: 'That is all' }).click();
    await student.getByRole('button', { name: 'My own morning: one place further down' }).click();
    const pieces = student.getByRole('listitem', { name: /^\d\. / });
    await expect(pieces.nth(1)).toHaveAccessibleName('2. My own morning');
    await student.getByRole('button', { name: 'Take My own morning out' }).click();
    await expect(pieces).toHaveCount(1);
    await expect(student.getByRole('status').getByText('Saved', { exact: true })).toBeVisible();
    await student.reload();
    await student.getByRole('button', { name: 'Undo' }).click();
    await expect(pieces.nth(1)).toHaveAccessibleName('2. My own morning');
    await expect(student.getByRole('status').getByText('Saved', { exact: true })).toBeVisible();
    await student.reload();
    await expect(pieces.nth(1)).toHaveAccessibleName('2. My own morning');
    await expect(student.getByLabel('What you think of it').nth(1)).toHaveValue(
      'Slow, and all of it understood.',
    );

    await fit(student, 'a portfolio', false);

    // For the family: on a phone that is signed in nowhere.
    await student.getByLabel('Whom it is for').fill('Grandmother');
    await student.getByRole('button', { name: 'Make an address' }).click();
    const address = new URL((await student.getByText(/\/portfolio\/[0-9a-f-]{36}/).textContent())!).pathname;
    const context = await browser.newContext({
      baseURL: info.project.use.baseURL,
      locale: 'en-GB',
      viewport: { width: 390, height: 844 },
    });
    const family = await context.newPage();
    await family.goto(address);
    await expect(family.getByRole('heading', { name: called })).toBeVisible();
    await expect(family.getByRole('img', { name: 'Red' })).toBeVisible();
    await expect(family.getByText('Keep this one')).toHaveCount(0);
    expect(await family.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    await fit(family, 'behind an address', false);
    const own = family.getByRole('listitem').filter({ hasText: 'My own morning' });
    // What was recorded, and what was said of it: both sound.
    for (const n of [0, 1])
      await expect
        .poll(() =>
          own
            .locator('audio')
            .nth(n)
            .evaluate(async (audio: HTMLAudioElement) => {
              await audio.play().catch(() => undefined);
              return audio.currentTime;
            }),
        )
        .toBeGreaterThan(0.2);

    // The teacher is shown it, and hears it in place.
    await student.getByRole('checkbox', { name: 'Inês Caldeira sees it' }).click();
    await expect(student.getByRole('checkbox', { name: 'Inês Caldeira sees it' })).toBeChecked();
    await teacher.reload();
    await teacher.getByRole('link', { name: called }).click();
    await fit(teacher, 'a portfolio that is shown', false);
    await teacher.getByRole('button', { name: 'Play My own morning', exact: true }).click();
    await expect(teacher.getByRole('button', { name: 'Pause My own morning', exact: true })).toBeVisible();

    // Ended, it leads nowhere.
    await student.getByRole('button', { name: 'End the address for Grandmother' }).click();
    await student.getByRole('alertdialog').getByRole('button', { name: 'End it' }).click();
    await expect(student.getByText('ended by you')).toBeVisible();
    await family.reload();
    await expect(family.getByText('This address leads nowhere any more')).toBeVisible();
    await context.close();

    // Thrown away and brought back.
    await student.getByRole('button', { name: 'Throw this portfolio away' }).click();
    await student
      .getByRole('button', { name: `Bring “${called}” back` })
      .first()
      .click();
    await expect(student.getByRole('link', { name: called }).first()).toBeVisible();
    await student.context().close();
    await teacher.context().close();
  } finally {
    await browser.close();
  }
});
