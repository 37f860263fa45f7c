import { readFileSync } from 'node:fs';
import { expect, test, type Browser, type Page } from '@playwright/test';
import { blankMusic, blankStimulus } from '@ecoute/contract/blank';
import { longScore } from './support/longScore';
import { silence, speak } from './support/sound';
import type { SittingAccount, SittingView } from '@ecoute/contract/sittings';
import { ask, browserHearing, passDeviceCheck, released, signIn, stored } from './support/world';

let browser: Browser;
let wav: string;
test.beforeAll(async ({}, info) => {
  wav = info.outputPath('voice.wav');
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
  // By choice the text goes along with its reader, from where they put it, and stands still again.
  await page.keyboard.press('PageDown');
  const place = () =>
    page
      .locator('[data-stage=on] [role=group]')
      .first()
      .evaluate(e => e.scrollTop);
  const put = await place();
  for (const says of ['The text stands still', 'The text goes along slowly', 'The text goes along'])
    await page.getByRole('button', { name: says, exact: true }).click();
  await expect.poll(place).toBeGreaterThan(put + 4);
  await inSight(page, 'I have finished: stop');
  await page.getByRole('button', { name: 'The text goes along quickly' }).click();
  await expect(page.getByRole('button', { name: 'The text stands still' })).toBeVisible();
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

/** A prompt of so many seconds, heard once, then preparing and answering by the clock. */
async function exam(teacher: Page, title: string, items: object[]): Promise<string> {
  const sound = `${wav}.prompt.wav`;
  speak(sound, 6, 1);
  const prompt = await stored(
    teacher,
    { name: 'p.wav', mimeType: 'audio/wav', buffer: readFileSync(sound) },
    'sound',
  );
  return released(
    teacher,
    title,
    items.map(over => ({
      promptText: 'O que ouviste?',
      promptRecordingId: prompt,
      promptDurationMs: 6_000,
      hearingsAllowed: 1,
      prepareMs: 9_000,
      answerLimitMs: 8_000,
      takesAllowed: 1,
      ...over,
    })),
  );
}

const kindsOf = async (page: Page, id: string) => {
  const { body } = await ask<SittingView>(page, `/api/releases/${id}/sitting`, 'POST');
  return body.events.map(e => e.kind);
};

test('exam conditions, and a reload at each moment: nothing before its time, and each leads to what the rule says', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  // The first is long enough for the slowest page to be left in the middle of it.
  const id = await exam(teacher, 'Reloaded', [{ answerLimitMs: 20_000 }, {}, {}]);
  const { page, context } = await signIn(browser, 'emrys', 'phone', { opens: false });
  const asked: string[] = [];
  page.on('dialog', dialog => {
    asked.push(dialog.type());
    void dialog.accept();
  });
  const hear = page.getByRole('button', { name: 'Hear the prompt', exact: true });
  await page.goto(`/sit/${id}`);
  // The rules, before anything begins.
  const rules = page.getByRole('region', { name: 'How it goes' });
  await expect(rules).toContainText('There is one take. It counts, and cannot be recorded again.');
  await expect(rules).toContainText('You see what is asked when its time begins');
  await expect(rules).toContainText('The prompt can be heard once.');
  await passDeviceCheck(page);
  // Nothing is seen before its time: neither here nor by looking at the other items.
  await expect(page.getByText('O que ouviste?')).toHaveCount(0);
  await page.getByRole('button', { name: /^Item 3: / }).click();
  await expect(page.getByText('You see what is asked when you begin.')).toBeVisible();
  expect(await page.content()).not.toContain('O que ouviste?');
  const { body: early } = await ask<SittingView>(page, `/api/releases/${id}/sitting`, 'POST');
  expect(JSON.stringify(early.content)).not.toContain('O que ouviste?');
  await page.getByRole('button', { name: /^Item 1: / }).click();

  // Before anything: it waits as it was.
  await page.reload();
  await passDeviceCheck(page);
  await expect(page.getByText('It can be heard once.')).toBeVisible();
  await expect(
    page.getByText(/After it you have 0:09 to prepare; then recording begins automatically/),
  ).toBeVisible();
  // In the prompt: it was not heard, and may be heard again; once.
  await hear.click();
  await expect(page.getByText('O que ouviste?')).toBeVisible();
  await expect(page.getByText('The prompt is sounding. Listen …')).toBeVisible();
  await page.reload();
  await passDeviceCheck(page);
  await expect(hear).toBeVisible();
  await hear.click();
  // In the time to prepare: it goes on, and leads to the recording.
  await expect(page.getByTestId('prepare-left')).toBeVisible();
  asked.length = 0;
  await page.reload();
  expect(asked).toEqual(['beforeunload']);
  await passDeviceCheck(page);
  await expect(page.getByTestId('time-left')).toBeVisible();
  await expect(page.getByText(/0:0[2-9] of 0:20/)).toBeVisible();
  // In the recording: what was said is kept, it is told, and nothing more is promised.
  await page.reload();
  await passDeviceCheck(page);
  await expect(page.getByText('Item 2 of 3')).toBeVisible();
  await page.getByRole('button', { name: /^Item 1: / }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  await expect(page.getByText('The recording ended when this page was left.')).toBeVisible();
  await expect(page.getByText(/tell your teacher: they can ask you to record again/)).toBeVisible();
  await expect(page.getByRole('button', { name: /Record again/ })).toHaveCount(0);
  expect((await kindsOf(page, id)).filter(k => k === 'promptCut')).toHaveLength(1);

  // The second item: cut twice, and given back once.
  await page.getByRole('button', { name: /^Item 2: / }).click();
  for (let cuts = 0; cuts < 2; cuts++) {
    await hear.click();
    await expect(page.getByText('The prompt is sounding. Listen …')).toBeVisible();
    await page.reload();
    await passDeviceCheck(page);
    await expect(page.getByText('Item 2 of 3')).toBeVisible();
  }
  await expect(page.getByText('The prompt was heard as often as it may be.')).toBeVisible();
  // It can still be answered.
  await page.getByRole('button', { name: 'Prepare 0:09', exact: true }).click();
  await page.getByRole('button', { name: 'I am ready: answer now' }).click();
  // Over by the clock: said at the moment, and kept.
  await expect(page.getByTestId('stage-bar').getByText('ends in')).toBeVisible();
  await expect(page.getByText('stored safely')).toBeVisible();
  await expect(page.getByRole('main').getByText('The time of your answer was over.')).toBeVisible();
  await expect(page.getByTestId('announced')).toContainText('The time of your answer was over.');

  const account = await ask<SittingAccount>(teacher, `/api/sittings/${early.id}/account`);
  expect(account.body.events.map(e => e.kind)).toEqual(expect.arrayContaining(['itemShown', 'promptCut']));
  await first.close();
  await context.close();
});

test('a microphone that was heard is not looked at again on the way back', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await released(teacher, 'Heard before', [
    { promptText: 'Diz.', prepareMs: 0 },
    { promptText: 'E mais?', prepareMs: 0 },
  ]);
  const { page, context } = await signIn(browser, 'greta', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await page.getByRole('button', { name: 'Check the microphone and begin' }).click();
  await page.getByRole('button', { name: 'I am heard: go on' }).click();
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByText(/0:0[2-9] of/)).toBeVisible();
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  // No tap at all: the item that is next.
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Item 2 of 2' })).toBeVisible();
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByText(/0:0[2-9] of/)).toBeVisible();
  // Another microphone, or none of it in this browser any more: looked at again.
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  await page.evaluate(() => localStorage.removeItem('ecoute-microphone-heard'));
  await page.goto(`/sit/${id}`);
  await page.getByRole('button', { name: 'Look at the items again' }).click();
  await expect(page.getByRole('heading', { name: 'Your microphone' })).toBeVisible();
  await first.close();
  await context.close();
});

test('a take in which nothing is heard is given back once, in an exam as well', async ({}, info) => {
  const nothing = info.outputPath('nothing.wav');
  silence(nothing, 5);
  const deaf = await browserHearing(nothing);
  try {
    const { page: teacher } = await signIn(deaf, 'ines', 'desk', { opens: false });
    const id = await released(teacher, 'Given back', [
      { promptText: 'Diz.', prepareMs: 0, answerLimitMs: 20_000, takesAllowed: 1 },
    ]);
    const { page } = await signIn(deaf, 'ilse', 'phone', { opens: false });
    await page.goto(`/sit/${id}`);
    await passDeviceCheck(page);
    await page.getByRole('button', { name: 'Answer now' }).click();
    await expect(page.getByText(/0:0[2-9] of/)).toBeVisible();
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(page.getByText(/The microphone failed, so one take does not count/)).toBeVisible();
    await page.getByRole('button', { name: 'Record again (1 take left)' }).click();
    await expect(page.getByText(/0:0[2-9] of/)).toBeVisible();
    // Turned while it warns: nothing of the recorder lies over the way back, nor out of sight.
    await page.setViewportSize({ width: 844, height: 390 });
    const warning = page.getByText(/^Nothing is heard yet/);
    await expect(warning).toBeInViewport({ ratio: 1 });
    const [back, told] = await Promise.all(
      [page.getByRole('link', { name: 'Now' }).or(page.getByRole('button', { name: 'Now' })), warning].map(
        async what => (await what.first().boundingBox())!,
      ),
    );
    expect(told!.y).toBeGreaterThan(back!.y + back!.height);
    await page.setViewportSize({ width: 390, height: 844 });
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(page.getByText('Nothing can be heard in this take.').nth(1)).toBeVisible();
    await expect(page.getByRole('button', { name: /Record again/ })).toHaveCount(0);
    expect(await kindsOf(page, id)).toContain('takeGivenBack');
    // Before it is handed in, the list says so again.
    await page.getByRole('button', { name: 'To the hand-in' }).click();
    const line = page.getByRole('listitem').filter({ hasText: 'answered,' });
    await expect(line).toContainText('Nothing can be heard in this take.');
  } finally {
    await deaf.close();
  }
});

test('the doors speak the browser’s language, and another one that is chosen', async () => {
  const context = await browser.newContext({
    locale: 'ja-JP',
    baseURL: process.env.ECOUTE_URL ?? 'http://127.0.0.1:4310',
  });
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByLabel('サインイン名').fill('nobody');
  await page.getByLabel('パスワード').fill('not this one');
  await page.getByRole('button', { name: 'サインイン' }).click();
  await expect(page.getByText('名前とパスワードが合いません。')).toBeVisible();
  await page.goto('/no/such/page');
  await expect(page.getByRole('heading', { name: 'このページはありません' })).toBeVisible();
  await page.goto('/first');
  await page.getByLabel('言語').selectOption('ar');
  await expect(page.locator('html')).toHaveAttribute('dir', 'rtl');
  await page.goto('/sign-in');
  await expect(page.getByRole('button', { name: 'تسجيل الدخول' })).toBeVisible();
  await context.close();
});
