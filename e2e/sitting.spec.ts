import { expect, test, type Browser } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListenView } from '@ecoute/contract/marking';
import type { SittingView } from '@ecoute/contract/sittings';
import { blankMusic } from '@ecoute/contract/blank';
import { expectSameSound, speak } from './support/sound';
import { ALONE, ask, browserHearing, passDeviceCheck, released, signIn } from './support/world';

const DATA = process.env.ECOUTE_E2E_DATA ?? '.ecoute';

let browser: Browser;
let voice: string;
test.beforeAll(async () => {
  voice = test.info().outputPath('voice.wav');
  speak(voice, 9, 3);
  browser = await browserHearing(voice);
});
test.afterAll(() => browser.close());

const spoken = (over = {}) => ({
  promptText: 'Tell us about the quay.',
  prepareMs: 0,
  answerLimitMs: 20_000,
  startsBy: 'student' as const,
  takesAllowed: 0,
  ...over,
});

test(
  'a page that was installed opens without a network, and a sitting goes on and is handed in later',
  ALONE,
  async () => {
    const { page: teacher, context: first } = await signIn(browser, 'ines');
    const id = await released(teacher, 'Without a network', [spoken({ prepareMs: 40_000 })]);
    const { page, context } = await signIn(browser, 'ilse', 'phone');
    // The service worker has the page, and what the sitting needs.
    await page.evaluate(async () => {
      await navigator.serviceWorker.ready;
    });
    await page.reload();
    await page.goto(`/sit/${id}`);
    await expect(page.getByRole('button', { name: /Check the microphone/ })).toBeVisible();
    await expect
      .poll(() => page.evaluate(async () => Boolean(await caches.match('/', { cacheName: 'ecoute-shell' }))))
      .toBe(true);
    await expect
      .poll(() =>
        page.evaluate(async () =>
          (await (await caches.open('ecoute-said')).keys()).some(r => /\/api\/sittings\//.test(r.url)),
        ),
      )
      .toBe(true);
    // In the time to prepare, of which the server has been told, the page is opened again without a network: it goes on.
    page.on('dialog', dialog => void dialog.accept());
    await passDeviceCheck(page);
    await page.getByRole('button', { name: /^I have read it/ }).click();
    await expect
      .poll(async () =>
        (await ask<SittingView>(page, `/api/releases/${id}/sitting`, 'POST')).body.events.map(e => e.kind),
      )
      .toContain('prepareBegan');
    await context.setOffline(true);
    await page.goto(`/sit/${id}`);
    await expect(page.getByText(/No connection to Ecoute/)).toBeVisible();
    await passDeviceCheck(page);
    await expect(page.getByTestId('prepare-left')).toHaveText(/0:[0-3]\d/);
    await page.getByRole('button', { name: 'I am ready: answer now' }).click();
    await expect(page.getByText(/0:0[7-9] of 0:20/)).toBeVisible();
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(page.getByText('on its way', { exact: true })).toBeVisible();
    // The tab is closed, and opened again without a network.
    await page.goto(`/sit/${id}`);
    await expect(page.getByText('Everything is answered. Only handing in is left.')).toBeVisible();
    await context.setOffline(false);
    await page.goto(`/sit/${id}`);
    await passDeviceCheck(page);
    await expect(page.getByText('stored safely')).toBeVisible();
    await page.getByRole('button', { name: 'To the hand-in' }).click();
    await page.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
    const { body } = await ask<SittingView>(page, `/api/releases/${id}/sitting`, 'POST');
    const [line] = body.receipt!.lines;
    expectSameSound(join(DATA, 'sounds/originals', line!.takeId!), voice);
    expect(body.events.map(e => e.kind)).toEqual(
      expect.arrayContaining(['recordingBegan', 'recordingEnded', 'handedIn']),
    );
    // Signing out takes along what was said to this person.
    await page.goto('/');
    await page.getByRole('button', { name: /Ilse/ }).click();
    await page.getByRole('menuitem', { name: 'Sign out' }).click();
    await expect(page.getByLabel('Password')).toBeVisible();
    await expect
      .poll(() =>
        page.evaluate(async () =>
          (await (await caches.open('ecoute-said')).keys()).filter(r => !r.url.endsWith('/api/session')),
        ),
      )
      .toEqual([]);
    await first.close();
    await context.close();
  },
);

test(
  'no microphone here: with one code the student’s phone records item after item, and the first screen goes along',
  ALONE,
  async () => {
    const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
    const id = await released(teacher, 'By phone', [spoken(), spoken({ promptText: 'And the tide?' })]);
    const { page, context } = await signIn(browser, 'kamala', 'desk', { opens: false });
    await page.goto(`/sit/${id}`);
    await page.addInitScript(() => {
      navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('none', 'NotFoundError'));
    });
    await page.reload();
    await page.getByRole('button', { name: /Check the microphone/ }).click();
    await expect(page.getByText('This device has no microphone that we can find.')).toBeVisible();
    await page.getByRole('button', { name: 'There is no microphone here: go on without' }).click();
    await expect(page.getByText('No microphone is open on this device.')).toBeVisible();
    await page.getByRole('button', { name: 'Answer with my phone instead' }).click();
    const address = await page.getByTestId('phone-address').textContent();

    const pocket = await browser.newContext({
      viewport: { width: 390, height: 844 },
      permissions: ['microphone'],
      locale: 'en-GB',
    });
    const phone = await pocket.newPage();
    await phone.goto(`http://${address}`);
    await expect(page.getByText(/Your phone has it/)).toBeVisible();
    await phone.getByRole('button', { name: /^(Go on|I am heard)/ }).click();
    await expect(phone.getByText('Tell us about the quay.')).toBeVisible();
    await expect(phone.getByText('And the tide?')).toHaveCount(0);
    await phone.getByRole('button', { name: 'Answer now' }).click();
    await expect(phone.getByText(/0:0[3-9] of 0:20/)).toBeVisible();
    await phone.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(phone.getByText('Your take is on the first screen.')).toBeVisible();
    expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    // By itself, on the other screen.
    await expect(page.getByText('from your phone')).toBeVisible();
    await expect(page.getByText('stored safely')).toBeVisible();
    // On to the next, with the same code and the same microphone; the first screen goes along.
    await phone.getByRole('button', { name: 'Item 2' }).click();
    await expect(phone.getByText('And the tide?')).toBeVisible();
    await expect(page.getByRole('heading', { name: /Item 2 of 2/ })).toBeVisible();
    await expect(page.getByText(/Your phone has it/)).toBeVisible();
    await page.getByRole('button', { name: 'Item 1', exact: true }).click();
    await expect(page.getByText('Your phone is at item 2.')).toBeVisible();
    await page.getByRole('button', { name: 'Bring it to this item' }).click();
    await expect(phone.getByText('Tell us about the quay.')).toBeVisible();
    await phone.getByRole('button', { name: 'I am done here' }).click();
    await expect(page.getByRole('button', { name: 'Answer with my phone instead' })).toBeVisible();
    await expect(phone.getByText('Done here')).toBeVisible();
    await phone.reload();
    await expect(phone.getByLabel('The code on the first screen')).toBeVisible();
    const { body } = await ask<SittingView>(page, `/api/releases/${id}/sitting`, 'POST');
    expect(body.takes.map(t => t.source)).toEqual(['phone']);
    expectSameSound(join(DATA, 'sounds/originals', body.takes[0]!.id), voice);
    for (const c of [first, context, pocket]) await c.close();
  },
);

test('one sitting in two tabs and on two devices: whoever comes second is told, and may take over', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await released(teacher, 'In two places', [spoken()]);
  const { page, context } = await signIn(browser, 'leopold', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await expect(page.getByRole('button', { name: /Check the microphone/ })).toBeVisible();
  const tab = await context.newPage();
  await tab.goto(`/sit/${id}`);
  await expect(tab.getByText('It is open in another tab or window of this browser.')).toBeVisible();
  await tab.getByRole('button', { name: 'Go on here' }).click();
  await expect(tab.getByRole('button', { name: /Check the microphone/ })).toBeVisible();
  await expect(page.getByText('It is open in another tab or window of this browser.')).toBeVisible();

  const { page: other, context: second } = await signIn(browser, 'leopold', 'phone', { opens: false });
  await other.goto(`/sit/${id}`);
  await expect(other.getByText(/It is open on another device, last seen/)).toBeVisible();
  await other.getByRole('button', { name: 'Go on here' }).click();
  await expect(other.getByRole('button', { name: /Check the microphone/ })).toBeVisible();
  for (const c of [first, context, second]) await c.close();
});

test('a scale with a starting note and a count-in: the beat’s place is in the take, and on the teacher’s lane', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  const metronome = { bpm: 120, beats: 3, countInBars: 1, heard: true };
  const id = await released(teacher, 'In time', [
    spoken({ answerLimitMs: 4_000, music: blankMusic({ metronome, startingNote: 62 }) }),
  ]);
  const { page, context } = await signIn(browser, 'greta', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await page.getByRole('button', { name: /Check the microphone/ }).click();
  await expect(page.getByText(/headphones are best/)).toBeVisible();
  await page.getByRole('button', { name: 'Record two seconds and hear them' }).click();
  // Whatever it says of the voice, it can be heard and tried again.
  await expect(page.getByRole('button', { name: 'Two seconds again' })).toBeVisible();
  await expect(page.getByText(/That sounds right|too loud|The room is noisy/).first()).toBeVisible();
  await page.getByRole('button', { name: /^(Go on|I am heard)/ }).click();
  await page.getByRole('button', { name: 'Hear the starting note' }).click();
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByText('Counting in …')).toBeVisible();
  await expect(page.getByTestId('time-left')).toHaveText('0:04');
  await expect(page.getByTestId('stage-bar').getByText('Recording', { exact: true })).toBeVisible();
  await expect(page.getByText('stored safely')).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();

  const { body } = await ask<ListenView>(teacher, `/api/releases/${id}/lanes`);
  const { placed, durationMs } = body.lanes[0]!;
  expect(placed.clock).toMatchObject({
    gated: true,
    soundFromMs: 100,
    answerFromMs: 1_600,
    beat: { bpm: 120, beats: 3, countIn: 3 },
  });
  // Three beats are counted in, then four seconds, to the sample; the recorder adds a little silence on both sides, more on a busy machine.
  expect(durationMs! - placed.gateMs!).toBeGreaterThan(5_600);
  expect(durationMs! - placed.gateMs!).toBeLessThan(7_000);
  await teacher.goto(`/listen/${id}`);
  await teacher.getByRole('tab', { name: 'Sitting' }).click();
  await expect(teacher.getByText(/Item 1: recording ended, after 0:0[3-6]/)).toBeVisible();
  for (const c of [first, context]) await c.close();
});

test('a recording brought instead, with words of its own; taken back and handed in anew', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  const id = await released(teacher, 'Brought along', [spoken()]);
  const { page, context } = await signIn(browser, 'hamish', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  const file = page.getByLabel('Recording to bring');
  await file.setInputFiles({
    name: 'song.mp3',
    mimeType: 'audio/mpeg',
    buffer: Buffer.from('no sound at all'),
  });
  await expect(page.getByText(/no sound that can be played here.* Choose another file/)).toBeVisible();
  await file.setInputFiles({ name: 'quay.wav', mimeType: 'audio/wav', buffer: readFileSync(voice) });
  await expect(page.getByText('stored safely')).toBeVisible();
  // It plays in place, as it is.
  await page.getByRole('button', { name: 'Play file 2' }).click();
  await expect(page.getByRole('button', { name: 'Pause file 2' })).toBeVisible();
  await page.getByRole('button', { name: 'Add a title, a note or a picture' }).click();
  await page.getByLabel('Title (optional)').fill('Read by the window');
  await page.getByLabel('Note (optional)').fill('The second time went better. 🌊');
  await page.getByRole('button', { name: 'Done', exact: true }).click();
  await expect(page.getByText('Read by the window')).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await page.getByRole('button', { name: 'Take it back and go on …' }).click();
  await page.getByRole('button', { name: 'Take it back', exact: true }).click();
  await passDeviceCheck(page);
  await expect(page.getByText('Read by the window')).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  await page.goto('/recordings');
  await expect(page.getByText('Read by the window').first()).toBeVisible();
  await teacher.goto(`/listen/${id}`);
  await expect(teacher.getByText('The second time went better. 🌊')).toBeVisible();
  await expect(teacher.getByText('Brought as a file.')).toBeVisible();
  for (const c of [first, context]) await c.close();
});

test('a practice take loses its ends, is put back whole, and cut again; its teacher sees what was kept', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  const id = await released(teacher, 'Cut to what matters', [spoken({ trimAllowed: true })]);
  const { page, context } = await signIn(browser, 'bram', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByText(/0:0[4-8] of/)).toBeVisible();
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  await page.getByRole('button', { name: 'Cut the ends off' }).click();
  const begins = page.getByRole('slider', { name: 'Where it begins' });
  const ends = page.getByRole('slider', { name: 'Where it ends' });
  for (let n = 0; n < 2; n++) await begins.press('Shift+ArrowRight');
  await ends.press('Shift+ArrowLeft');
  const kept = Number(await ends.getAttribute('aria-valuenow')) - 1_000;
  await page.getByRole('button', { name: /^Keep these/ }).click();
  await page.getByRole('button', { name: /^Put back the whole/ }).click();
  await page.getByRole('button', { name: 'Cut the ends off' }).click();
  for (let n = 0; n < 2; n++) await begins.press('Shift+ArrowRight');
  await ends.press('Shift+ArrowLeft');
  await page.getByRole('button', { name: 'Hear what is left' }).click();
  await page.getByRole('button', { name: /^Keep these/ }).click();
  await expect(page.getByRole('button', { name: /^Put back the whole/ })).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();

  const { body } = await ask<ListenView>(teacher, `/api/releases/${id}/lanes`);
  expect(Math.abs(body.lanes[0]!.durationMs! - kept)).toBeLessThan(100);
  expect(body.lanes[0]!.wholeMs! - body.lanes[0]!.durationMs!).toBeGreaterThan(1_300);
  await teacher.goto(`/listen/${id}`);
  await teacher.getByRole('tab', { name: 'Answer' }).click();
  await expect(teacher.getByText(/The student cut this take: 0:0\d of 0:0\d/)).toBeVisible();
  for (const c of [first, context]) await c.close();
});

test('all items on one page: while one runs the others wait, and each is answered where it stands', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  const id = await released(
    teacher,
    'On one page',
    [
      spoken({ promptText: 'The quay.' }),
      spoken({ promptText: 'The tide.' }),
      { answerBy: 'text', promptText: 'The bell.' },
    ],
    { layout: 'all' },
  );
  const { page, context } = await signIn(browser, 'jovan', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  const item = (n: number) => page.getByRole('region', { name: `Item ${n} of 3` });
  await expect(item(3)).toBeVisible();
  await item(2).getByRole('button', { name: 'Answer now' }).click();
  await expect(item(2).getByText(/0:0[2-9] of 0:20/)).toBeVisible();
  // Inert: not there for hands, keys or screen readers.
  await expect(page.locator('[id^="item-"][inert]')).toHaveCount(2);
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(item(2).getByText('stored safely')).toBeVisible();
  await item(1).getByRole('button', { name: 'Answer now' }).click();
  await expect(item(1).getByText(/0:0[2-9] of 0:20/)).toBeVisible();
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(item(1).getByText('stored safely')).toBeVisible();
  await item(3).getByRole('textbox').fill('It rings at six.');
  await item(3).getByRole('textbox').blur();
  await expect(item(3).getByText('Saved', { exact: true })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await expect(page.getByText('no answer yet')).toHaveCount(0);
  await page
    .getByRole('listitem')
    .filter({ hasText: 'The tide.' })
    .getByRole('button', { name: 'Look at it' })
    .click();
  await expect(item(2)).toBeInViewport();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  for (const c of [first, context]) await c.close();
});
