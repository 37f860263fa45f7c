import { expect, test } from '@playwright/test';
import type { Lane } from '@ecoute/contract/marking';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import { fit } from './support/fit';
import { speak } from './support/sound';
import { ALONE, ask, browserHearing, signIn } from './support/world';

test(
  'scores go to the simulated school system: matched, looked at, sent, corrected, and once more after it was down',
  ALONE,
  async ({}, info) => {
    const voice = info.outputPath('voice.wav');
    speak(voice, 3, 2);
    const browser = await browserHearing(voice);
    try {
      const { page, context } = await signIn(browser, 'tobias');
      const school = await context.newPage();
      await school.goto('/school-system');
      await school.getByRole('button', { name: 'answers as it should' }).click();

      await page.goto('/results');
      await page.getByRole('link', { name: /Recorder consort/ }).click();
      await page.getByRole('link', { name: 'Hand over', exact: true }).click();
      // Tried again, the class is matched already.
      const known = page.getByRole('button', { name: 'Another class …' });
      const which = page.getByRole('button', { name: 'That is it' });
      await expect(known.or(which)).toBeVisible();
      if (await known.isVisible()) await known.click();
      await page.getByLabel(/this class of the school’s/).selectOption('Recorder consort, year 1');
      await which.click();
      await expect(page.getByLabel('Mireille', { exact: false }).first()).toHaveValue(/^bes-/);
      await fit(page, 'who is who', false);
      await page.getByRole('button', { name: 'They are' }).click();

      const change = async (points: number): Promise<void> => {
        const { body: releases } = await ask<ReleaseSummary[]>(page, '/api/releases');
        // The same is planned for later, too.
        const lanes = await Promise.all(
          releases
            .filter(r => r.title.startsWith('Two scales'))
            .map(r => ask<{ lanes: Lane[] }>(page, `/api/releases/${r.id}/lanes`)),
        );
        const lane = lanes
          .flatMap(l => l.body.lanes)
          .find(l => l.studentName.startsWith('Mireille') && l.mark)!;
        const { status } = await ask(page, `/api/sittings/${lane.sittingId}/marks/${lane.itemId}`, 'PUT', {
          revision: lane.mark!.revision,
          points,
          comment: lane.mark!.comment,
          finished: true,
          reason: 'heard again',
        });
        expect(status).toBe(200);
        await page.getByRole('button', { name: 'Look again' }).click();
      };
      const handOver = page.getByRole('button', { name: /^Hand over \d+ changes?$/ });
      const last = page.getByRole('listitem').filter({ hasText: /by Tobias Rennick/ });
      const score = async () => {
        await school.reload();
        // Of what she handed in: not all were asked for everything.
        const graded = school.getByRole('row').filter({ hasText: /Mireille.*fully graded/ });
        return graded.first().innerText();
      };

      await change(2);
      await expect(page.getByText('Mireille').first()).toBeVisible();
      await handOver.click();
      await expect(last.first()).toContainText(/handed over: (\d+) of \1 changes? taken/);
      await expect(page.getByText('The school’s system has all there is')).toBeVisible();
      const before = await score();
      expect(before).toContain('fully graded');

      // A score that changed is one change, from what to what.
      await change(1.5);
      await expect(page.getByText(/→/)).toBeVisible();
      await fit(page, 'what would be sent', false);
      await expect(handOver).toHaveText('Hand over 1 change');
      // The school's system is being repaired just then: said, kept, and gone on with.
      await school.getByRole('button', { name: 'is being repaired (503)' }).click();
      await handOver.click();
      await expect(last.first()).toContainText('Nothing is lost, and nothing is there twice');
      expect(await score()).toBe(before);
      await school.getByRole('button', { name: 'answers as it should' }).click();
      await page.getByRole('button', { name: 'Go on' }).click();
      await expect(last.first()).toContainText('handed over: 1 of 1 change taken');
      const after = await score();
      expect(after).not.toBe(before);
      expect(after).toContain('fully graded');
      await context.close();
    } finally {
      await browser.close();
    }
  },
);
