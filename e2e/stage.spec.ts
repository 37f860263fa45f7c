import { expect, test, type Browser, type Page } from '@playwright/test';
import { blankMusic, blankStimulus } from '@ecoute/contract/blank';
import { longScore } from './support/longScore';
import { speak } from './support/sound';
import { browserHearing, passDeviceCheck, released, signIn, stored } from './support/world';

let browser: Browser;
test.beforeAll(async ({}, info) => {
  const wav = info.outputPath('voice.wav');
  speak(wav, 30, 2);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

/** Wholly inside the window. */
async function inSight(page: Page, name: RegExp | string): Promise<void> {
  await expect(page.getByRole('button', { name, exact: typeof name === 'string' })).toBeInViewport({
    ratio: 1,
  });
}

/** Some words of a long text, wholly in the window or not. */
async function wordsInSight(page: Page, words: string): Promise<boolean> {
  return page.evaluate(words => {
    const texts = document.createTreeWalker(document.querySelector('main')!, NodeFilter.SHOW_TEXT);
    for (let node = texts.nextNode(); node; node = texts.nextNode()) {
      const at = node.textContent!.indexOf(words);
      if (at < 0) continue;
      const range = document.createRange();
      range.setStart(node, at);
      range.setEnd(node, at + words.length);
      const { top, bottom } = range.getBoundingClientRect();
      const stage = node.parentElement!.closest('[data-stage] [role=group]')?.getBoundingClientRect();
      return top >= (stage?.top ?? 0) && bottom <= (stage?.bottom ?? innerHeight);
    }
    throw new Error(`not there: ${words}`);
  }, words);
}
const FIRST = '1 o sino do porto';
const seen = (page: Page, words: string) => expect.poll(() => wordsInSight(page, words));

/** Four hundred words in lines of their own, numbered. */
const PASSAGE = Array.from({ length: 50 }, (_, i) => `${i + 1} o sino do porto toca ao fim da tarde`).join(
  '\n',
);

test('a long passage on a phone: it begins at its beginning, the bar stays, and what was recorded comes into sight', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await released(teacher, 'Four hundred words', [
    {
      promptText: 'Lê em voz alta.',
      stimuli: [blankStimulus(crypto.randomUUID(), 'passage', { text: PASSAGE })],
      prepareMs: 4_000,
      answerLimitMs: 60_000,
      takesAllowed: 2,
    },
    { promptText: 'E agora?', prepareMs: 0 },
  ]);
  const { page, context } = await signIn(browser, 'leopold', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  // Whatever the page shows of the passage, what begins is in sight, and says what it sets off.
  await page.mouse.wheel(0, 3000);
  await inSight(page, /I have read it|See it and prepare/);
  await expect(page.getByText('When that time is over, recording begins automatically.')).toBeInViewport();
  await page.getByRole('button', { name: /I have read it|See it and prepare/ }).click();
  await expect(page.getByTestId('prepare-left')).toBeInViewport();
  await seen(page, FIRST).toBe(true);
  // Read to the end while preparing: recording begins at the beginning again.
  await page.getByRole('button', { name: 'Next page' }).click();
  await seen(page, FIRST).toBe(false);
  await expect(page.getByTestId('time-left')).toBeVisible();
  await expect(page.getByTestId('announced')).toHaveText('Recording');
  await seen(page, FIRST).toBe(true);
  await expect(page.getByRole('group', { name: 'Recording' })).toBeFocused();
  // A pedal turns to the end and nothing is skipped; the bar does not move.
  for (
    let turns = 0;
    turns < 12 && (await page.getByRole('button', { name: 'Next page' }).isEnabled());
    turns++
  )
    await page.keyboard.press('PageDown');
  await seen(page, '50 o sino do porto').toBe(true);
  await inSight(page, 'I have finished: stop');
  await page.setViewportSize({ width: 844, height: 390 });
  await inSight(page, 'I have finished: stop');
  await expect(page.getByTestId('time-left')).toBeInViewport();
  await page.setViewportSize({ width: 320, height: 640 });
  await inSight(page, 'I have finished: stop');
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(320);
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByTestId('announced')).toHaveText('Recorded.');
  await expect(page.getByRole('button', { name: 'take 1' })).toBeInViewport({ ratio: 1 });
  await inSight(page, /Record again \(1 take left\)/);
  await inSight(page, 'Item 2');
  await page.getByRole('button', { name: 'Item 2', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Item 2 of 2' })).toBeFocused();
  await first.close();
  await context.close();
});

test('forty bars on a phone, upright and on its side: turned by tap and pedal, no line is cut or skipped', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const score = await stored(teacher, longScore('forty.musicxml', 40), 'show');
  const id = await released(teacher, 'Forty bars', [
    {
      promptText: 'Play it through.',
      stimuli: [blankStimulus(crypto.randomUUID(), 'notation', { recordingId: score })],
      prepareMs: 0,
      answerLimitMs: 60_000,
      takesAllowed: 0,
      pauseAllowed: true,
      music: { ...blankMusic(), metronome: { bpm: 90, beats: 4, countInBars: 1, heard: true } },
    },
  ]);
  const { page, context } = await signIn(browser, 'nuno', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  await expect(page.getByText('One bar is counted in first.')).toBeInViewport();
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByTestId('time-left')).toBeVisible();
  for (const size of [
    { width: 390, height: 844 },
    { width: 844, height: 390 },
  ]) {
    await page.setViewportSize(size);
    // Drawn again for the new width.
    await page.waitForFunction(
      () => {
        const svg = document.querySelector('[data-score] svg');
        return svg && Math.abs(svg.clientWidth - svg.parentElement!.clientWidth) < 40;
      },
      null,
      { polling: 150 },
    );
    const stage = page.getByRole('group', { name: 'What is asked' });
    await stage.evaluate(e => e.scrollTo({ top: 0 }));
    const lines = await page.locator('[data-score]').evaluate(e => {
      const at = e.getBoundingClientRect().top;
      return (JSON.parse((e as HTMLElement).dataset.lines!) as [number, number][]).map(([a, b]) => [
        at + a,
        at + b,
      ]);
    });
    const box = (await stage.boundingBox())!;
    const seen = new Set<number>();
    for (let turns = 0; turns < 30; turns++) {
      const top = await stage.evaluate(e => e.scrollTop);
      lines.forEach(([a, b], i) => {
        if (a! - top >= box.y - 4 && b! - top <= box.y + box.height + 4) seen.add(i);
      });
      if (!(await page.getByRole('button', { name: 'Next page' }).isVisible())) break;
      if (!(await page.getByRole('button', { name: 'Next page' }).isEnabled())) break;
      // A tap on the lower half, then the pedal, in turns.
      if (turns % 2 === 0) await page.mouse.click(box.x + box.width / 2, box.y + box.height * 0.8);
      else await page.keyboard.press('ArrowRight');
      await expect.poll(() => stage.evaluate(e => e.scrollTop)).not.toBe(top);
    }
    expect(seen.size).toBe(lines.length);
    await inSight(page, 'I have finished: stop');
    await inSight(page, 'Pause');
  }
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await inSight(page, /Record again/);
  await first.close();
  await context.close();
});
