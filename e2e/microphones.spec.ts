import { expect, test, type Browser } from '@playwright/test';
import type { SittingAccount, SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { blankMusic } from '@ecoute/contract/blank';
import { fit } from './support/fit';
import { distorted, faint, noise, speak } from './support/sound';
import { ask, browserHearing, passDeviceCheck, released, signIn } from './support/world';

const opened: Browser[] = [];
test.afterAll(() => Promise.all(opened.map(browser => browser.close())));
const hearing = async (wav: string) => {
  const browser = await browserHearing(wav);
  opened.push(browser);
  return browser;
};

test('microphones that are faint, distorted or in a noisy room are told apart, and one may go on all the same', async ({}, info) => {
  const kinds: [string, (path: string) => void, RegExp, string][] = [
    ['faint', path => faint(path, 20), /That was very soft/, 'nuno'],
    ['distorted', path => distorted(path, 20), /too loud and is distorted/, 'oksana'],
    ['noisy', path => noise(path, 20), /The room is noisy/, 'sven'],
  ];
  const voice = info.outputPath('voice.wav');
  speak(voice, 10, 1);
  const { page: teacher, context } = await signIn(await hearing(voice), 'tobias', 'desk', { opens: false });
  // Music: the browser takes neither noise away nor turns anything up.
  const releaseId = await released(teacher, 'Heard in many ways', [
    { promptText: 'Say your name.', startsBy: 'student', prepareMs: 0, takesAllowed: 2 },
  ]);
  for (const [name, make, words, student] of kinds) {
    const wav = info.outputPath(`${name}.wav`);
    make(wav);
    const own = await signIn(await hearing(wav), student, 'phone', { opens: false });
    await own.page.goto(`/sit/${releaseId}`);
    await own.page.getByRole('button', { name: 'Check the microphone and begin' }).click();
    await expect(own.page.getByRole('alert').filter({ hasText: words })).toBeVisible();
    await expect(own.page.getByText('You are heard well.')).toHaveCount(0);
    await own.page.getByRole('button', { name: 'Go on all the same' }).click();
    await expect(own.page.getByRole('button', { name: 'Answer now' })).toBeVisible();
    await own.context.close();
  }
  await context.close();
});

test('where something sounds along, how long it is under way is listened for without being asked', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 30, 2);
  const browser = await hearing(voice);
  const { page: teacher, context: first } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const metronome = { bpm: 120, beats: 4, countInBars: 1, heard: true };
  const item = { promptText: 'Play the scale.', startsBy: 'student' as const, prepareMs: 0, takesAllowed: 2 };
  const releaseId = await released(teacher, 'With the beat', [{ ...item, music: blankMusic({ metronome }) }]);
  const { page, context } = await signIn(browser, 'nuno', 'phone', { opens: false });
  await page.goto(`/sit/${releaseId}`);
  await page.getByRole('button', { name: 'Check the microphone and begin' }).click();
  await expect(page.getByText('You are heard well.').last()).toBeVisible();
  // This microphone hears no loudspeaker, as with headphones: what to do is said, and nothing is shut.
  await expect(page.getByText(/The tone did not come back/)).toBeVisible();
  await page.getByRole('button', { name: 'Play the tone again' }).click();
  await expect(page.getByText('A short tone is played and listened for …')).toBeVisible();
  await expect(page.getByText(/The tone did not come back/)).toBeVisible();
  await fit(page, 'a tone that did not come back');
  // The one that is chosen is the one that is opened, and its way is another one.
  const chosen = page.getByLabel('Microphone', { exact: true });
  const other = await chosen.locator('option').last().getAttribute('value');
  await expect(chosen).not.toHaveValue(other!);
  await chosen.selectOption(other);
  await expect(page.getByText(/The tone did not come back/)).toHaveCount(0);
  await expect(chosen).toHaveValue(other!);
  await expect(page.getByText(/The tone did not come back/)).toBeVisible();
  await page.getByRole('button', { name: 'I am heard: go on' }).click();
  await expect(page.getByRole('button', { name: 'Answer now' })).toBeVisible();
  // On the way back it is listened for again, by itself.
  await page.reload();
  await expect(page.getByRole('button', { name: 'Answer now' })).toBeVisible();
  await context.close();
  await first.close();
});

test('a microphone that is taken away in mid-take ends it, says so, and gives the take back', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 30, 2);
  const browser = await hearing(voice);
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const releaseId = await released(teacher, 'Taken away', [
    { promptText: 'Say your name.', startsBy: 'student', prepareMs: 0, takesAllowed: 1 },
  ]);
  const { page, context } = await signIn(browser, 'leopold', 'desk', { opens: false });
  await page.goto(`/sit/${releaseId}`);
  await passDeviceCheck(page);
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByText(/^0:02 of/)).toBeVisible();
  await context.clearPermissions();
  await expect(page.getByText(/The microphone was unplugged or taken away/)).toBeVisible();
  await expect(page.getByText('stored safely')).toBeVisible();
  await expect(page.getByText(/one take does not count: you may record once more/)).toBeVisible();
  const entry = (await ask<TodoEntry[]>(page, '/api/todo')).body.find(e => e.releaseId === releaseId)!;
  const sitting = (await ask<SittingView>(page, `/api/sittings/${entry.sittingId}`)).body;
  expect(sitting.takes).toHaveLength(1);
  const account = (await ask<SittingAccount>(teacher, `/api/sittings/${sitting.id}/account`)).body;
  expect(account.events.map(e => e.kind)).toContain('microphoneLost');
  await context.close();
  await first.close();
});
