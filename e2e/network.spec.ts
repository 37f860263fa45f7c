import { expect, test } from '@playwright/test';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { SittingView } from '@ecoute/contract/sittings';
import { expectSameSound, speak } from './support/sound';
import { ALONE, ask, browserHearing, passDeviceCheck, released, signIn } from './support/world';

const DATA = process.env.ECOUTE_E2E_DATA ?? '.ecoute';
const ITEM = {
  promptText: 'Fala do teu bairro.',
  prepareMs: 0,
  answerLimitMs: 20_000,
  takesAllowed: 2,
  points: 5,
};

test('the network goes in mid-recording: recording goes on, nothing is lost', ALONE, async ({}, info) => {
  const wav = info.outputPath('voice.wav');
  speak(wav, 29, 1);
  const browser = await browserHearing(wav);
  try {
    const { page: teacher } = await signIn(browser, 'ines');
    const releaseId = await released(teacher, 'While the network is away', [ITEM]);
    const { page: student, context } = await signIn(browser, 'kamala', 'phone', { opens: false });
    await student.goto(`/sit/${releaseId}`);
    await passDeviceCheck(student);
    await student.getByRole('button', { name: 'Answer now' }).click();
    await expect(student.getByText(/0:(0[3-9]|1\d) of 0:20/)).toBeVisible();

    await context.setOffline(true);
    await expect(student.getByText(/No connection to Ecoute/)).toBeVisible();
    await expect(student.getByText(/0:(09|1\d) of 0:20/)).toBeVisible();
    await student.getByRole('button', { name: 'I have finished: stop' }).click();
    // What is here can be heard at once, without the server.
    await expect(student.getByText('on its way', { exact: true })).toBeVisible();
    await student.getByRole('button', { name: 'Play take 1' }).click();
    await expect(student.getByRole('button', { name: 'Pause take 1' })).toBeVisible();

    await context.setOffline(false);
    await expect(student.getByText('stored safely')).toBeVisible({ timeout: 40_000 });
    await student.getByRole('button', { name: 'To the hand-in' }).click();
    await student.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(student.getByText('Handed in. Everything is with your teacher.')).toBeVisible();

    const sitting = await ask<SittingView>(student, `/api/releases/${releaseId}/sitting`, 'POST');
    const [line] = sitting.body.receipt!.lines;
    const file = join(DATA, 'sounds/originals', line!.takeId!);
    // One unbroken piece of the source, as long as it was spoken: no second is missing in the middle.
    expect(expectSameSound(file, wav)).toBeGreaterThan(8_500);
    expect(createHash('sha256').update(readFileSync(file)).digest('hex')).toBe(line!.sha256);
    // The account tells what happened.
    expect(sitting.body.events.map(e => e.kind)).toEqual(
      expect.arrayContaining(['recordingBegan', 'connectionLost', 'connectionBack', 'recordingEnded']),
    );
  } finally {
    await browser.close();
  }
});

test('handed in without a connection: kept over a closed page, done by itself, in time', async ({}, info) => {
  const wav = info.outputPath('voice.wav');
  speak(wav, 9, 1);
  const browser = await browserHearing(wav);
  try {
    const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
    const releaseId = await released(teacher, 'Handed in from afar', [ITEM]);
    const { page: first, context } = await signIn(browser, 'jovan', 'phone', { opens: false });
    await first.goto(`/sit/${releaseId}`);
    await passDeviceCheck(first);
    await context.setOffline(true);
    await first.getByRole('button', { name: 'Answer now' }).click();
    await expect(first.getByText(/0:0[3-9] of 0:20/)).toBeVisible();
    await first.getByRole('button', { name: 'I have finished: stop' }).click();
    await first.getByRole('button', { name: 'To the hand-in' }).click();
    await first.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(first.getByText(/Not handed in yet: your recordings are still on their way/)).toBeVisible();
    // Whoever goes back does not want it; and wants it again.
    await first.getByRole('button', { name: 'Not yet' }).click();
    await expect(first.getByText(/Not handed in yet/)).toBeHidden();
    await first.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(first.getByText(/Not handed in yet/)).toBeVisible();
    const wanted = new Date().toISOString();
    await first.close({ runBeforeUnload: false });
    // What is heard within ten seconds was not held up.
    await expect.poll(() => Date.now() - Date.parse(wanted), { timeout: 20_000 }).toBeGreaterThan(11_000);

    await context.setOffline(false);
    const second = await context.newPage();
    await second.goto('/');
    await expect(second.getByText('“Handed in from afar” is handed in.')).toBeVisible();
    const { body } = await ask<SittingView>(second, `/api/releases/${releaseId}/sitting`, 'POST');
    expect(body.receipt!.handedInAt < wanted).toBe(true);
    expect(body.receipt!.heardAt! > wanted).toBe(true);
    expect(body.receipt!.lines[0]!.sha256).not.toBeNull();
    await second.goto(`/sit/${releaseId}`);
    await expect(second.getByText(/That is when you wanted it/)).toBeVisible();
  } finally {
    await browser.close();
  }
});

test(
  'the tab goes in mid-recording: what was recorded is there when the student comes back',
  ALONE,
  async ({}, info) => {
    const wav = info.outputPath('voice.wav');
    speak(wav, 29, 2);
    const browser = await browserHearing(wav);
    try {
      const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
      const releaseId = await released(teacher, 'A tab that goes away', [ITEM]);
      const { page: first, context } = await signIn(browser, 'greta', 'desk', { opens: false });
      await first.goto(`/sit/${releaseId}`);
      await passDeviceCheck(first);
      // From here the pieces reach this device only.
      await context.route('**/api/uploads/**', route => route.abort());
      await first.getByRole('button', { name: 'Answer now' }).click();
      await expect(first.getByText(/0:(0[6-9]|1\d) of 0:20/)).toBeVisible();
      await first.close({ runBeforeUnload: false });

      await context.unroute('**/api/uploads/**');
      const second = await context.newPage();
      await second.goto(`/sit/${releaseId}`);
      await passDeviceCheck(second);
      await expect(second.getByText('stored safely')).toBeVisible({ timeout: 40_000 });
      const sitting = await ask<SittingView>(second, `/api/releases/${releaseId}/sitting`, 'POST');
      const [take] = sitting.body.takes;
      expect(take!.recording.durationMs).toBeGreaterThan(4_500);
      expectSameSound(join(DATA, 'sounds/originals', take!.id), wav);
    } finally {
      await browser.close();
    }
  },
);
