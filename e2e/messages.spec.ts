import { expect, test } from '@playwright/test';
import { fit } from './support/fit';
import { speak } from './support/sound';
import { browserHearing, signIn } from './support/world';

test('a teacher speaks to a class and to families; who has played it is seen; it is taken back, and families stop it', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 6, 5);
  const browser = await browserHearing(voice);
  try {
    const { page: teacher } = await signIn(browser, 'ines');
    await teacher.goto('/classes');
    await teacher.getByRole('link', { name: /Portuguese A2/ }).click();
    // An address of a family, of its own with each try: a wrong one is told at once.
    await teacher.getByRole('button', { name: 'More for Hamish Macrury' }).click();
    await teacher.getByRole('menuitem', { name: 'Addresses of the family …' }).click();
    const dialogue = teacher.getByRole('dialog');
    await dialogue.getByLabel('Mail address').fill('nobody');
    await dialogue.getByRole('button', { name: 'Add this address' }).click();
    await expect(dialogue.getByText('This is no mail address.')).toBeVisible();
    const email = `home-${Date.now()}@brackwater.example`;
    await dialogue.getByLabel('Mail address').fill(email);
    await dialogue.getByLabel('Language of the mails').selectOption({ label: 'German' });
    await dialogue.getByRole('button', { name: 'Add this address' }).click();
    await expect(dialogue.getByLabel(`Language of ${email}`)).toHaveValue('de');
    await fit(teacher, 'addresses of a family');
    await dialogue.getByRole('button', { name: 'Close' }).click();

    await teacher.getByRole('button', { name: 'More for Hamish Macrury' }).click();
    await teacher.getByRole('menuitem', { name: 'Speak to them …' }).click();
    const title = `Your song ${Date.now()}`;
    await expect(teacher.getByRole('checkbox', { name: 'Hamish Macrury' })).toBeChecked();
    await teacher.getByRole('radio', { name: 'Both' }).click();
    await teacher.getByLabel('What it is about').fill(title);
    await teacher.getByLabel('The same in words').fill('Sing it <at home> first.');
    // What is typed, and for whom, is there again after a reload.
    await teacher.reload();
    await expect(teacher.getByLabel('What it is about')).toHaveValue(title);
    await expect(teacher.getByRole('checkbox', { name: 'Hamish Macrury' })).toBeChecked();
    await teacher.getByRole('button', { name: 'Speak', exact: true }).click();
    await teacher.getByRole('button', { name: 'Record now' }).click();
    await expect(teacher.getByText(/0:0[2-9] of/)).toBeVisible();
    await teacher.getByRole('button', { name: 'Stop' }).click();
    await expect(teacher.getByText(/Goes to 1 student and \d+ address/)).toBeVisible();
    await fit(teacher, 'speaking to a class');
    // … and so is what was spoken.
    await teacher.reload();
    await expect(teacher.getByRole('button', { name: /^Play your message/ })).toBeVisible();
    await expect(teacher.getByText(/Goes to 1 student and \d+ address/)).toBeVisible();
    await teacher.getByRole('button', { name: 'Send' }).click();
    const row = teacher.getByRole('listitem').filter({ hasText: title }).first();
    await expect(row.getByText(/Played by 0 of 1 students/)).toBeVisible();

    const { page: student } = await signIn(browser, 'hamish', 'phone');
    await student.goto('/');
    await expect(student.getByRole('heading', { name: title })).toBeVisible();
    await fit(student, 'messages on the first page', false);
    await student.getByRole('button', { name: `Play ${title}` }).click();
    await expect(row.getByText(/Played by 1 of 1 students/)).toBeVisible();
    // What is being heard stays where it is.
    await expect(student.getByRole('heading', { name: title })).toBeVisible();

    // The family opens the mail on a phone that is signed in nowhere.
    await teacher.goto('/mailbox');
    const mail = teacher.getByRole('listitem').filter({ hasText: email }).first();
    await mail.getByRole('button', { name: /^As it looks/ }).click();
    const letter = mail.locator('iframe').contentFrame();
    await expect(letter.getByText('Sing it <at home> first.')).toBeVisible();
    await expect(letter.getByRole('img')).toBeVisible();
    const address = await letter.getByRole('link', { name: /Anhören/ }).getAttribute('href');
    const family = await browser.newContext({ viewport: { width: 390, height: 844 } });
    const home = await family.newPage();
    const path = new URL(address!).pathname;
    await home.goto(new URL(teacher.url()).origin + path);
    await expect(home.getByRole('heading', { name: title })).toBeVisible();
    await home.locator('audio').evaluate((audio: HTMLAudioElement) => audio.play());
    await teacher.goBack();
    await row.getByRole('button', { name: /Played by/ }).click();
    await expect(row.getByRole('listitem').filter({ hasText: email })).toContainText('played');

    // No more of these: one opens it, and presses.
    await home.getByText('Keine Nachrichten mehr an diese Adresse').click();
    await home.getByRole('button', { name: 'Nicht mehr schreiben' }).click();
    await expect(home.getByText(`An ${email} geht nichts mehr.`)).toBeVisible();
    await expect(row.getByRole('listitem').filter({ hasText: email })).toContainText('no longer written to');

    await row.getByRole('button', { name: `Take back ${title}` }).click();
    await expect(row.getByText(/^Taken back/)).toBeVisible();
    await expect(student.getByRole('heading', { name: title })).toBeHidden();
    await home.reload();
    await expect(home.getByText('This address leads nowhere any more.')).toBeVisible();
    await expect(home.locator('audio')).toHaveCount(0);
    await row.getByRole('button', { name: 'Undo' }).click();
    await expect(row.getByText(/^Taken back/)).toBeHidden();
    await home.reload();
    await expect(home.getByRole('button', { name: 'Wieder schreiben' })).toBeVisible();
    await expect(student.getByRole('heading', { name: title })).toBeVisible();
    await family.close();
  } finally {
    await browser.close();
  }
});

test('a message that is sent without a network goes out when it is back', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 6, 5);
  const browser = await browserHearing(voice);
  try {
    const { page, context } = await signIn(browser, 'ines');
    await page.goto('/classes');
    await page.getByRole('link', { name: /Portuguese A2/ }).click();
    await page.getByRole('link', { name: 'Speak to this class' }).click();
    const title = `On the ferry ${Date.now()}`;
    await page.getByLabel('What it is about').fill(title);
    await page.getByRole('button', { name: 'Speak', exact: true }).click();
    await page.getByRole('button', { name: 'Record now' }).click();
    await expect(page.getByText(/0:0[2-9] of/)).toBeVisible();
    await page.getByRole('button', { name: 'Stop' }).click();
    await context.setOffline(true);
    await page.getByRole('button', { name: 'Send' }).click();
    await expect(page.getByText(/kept on this device, and goes out/)).toBeVisible();
    await context.setOffline(false);
    await expect(page.getByRole('heading', { name: title })).toBeVisible({ timeout: 30_000 });
    await expect(
      page
        .getByRole('listitem')
        .filter({ hasText: title })
        .getByText(/Played by 0 of/),
    ).toBeVisible({ timeout: 30_000 });
  } finally {
    await browser.close();
  }
});
