import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { expect, test, type Browser, type Page, type Route } from '@playwright/test';
import type { Topic } from '@ecoute/contract/commentBank';
import type { ListenView } from '@ecoute/contract/marking';
import type { Markup } from '@ecoute/contract/markups';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import { blankStimulus } from '@ecoute/contract/blank';
import { assessments } from '../demo/world';
import { speak } from './support/sound';
import { ask, browserHearing, handInSound, handInTones, released, signIn, stored } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 5);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const spoken = { promptText: 'Say what you see.', prepareMs: 0, answerLimitMs: 15_000, points: 5 };
const position = (page: Page) => page.getByRole('slider', { name: 'Position' }).inputValue().then(Number);
const lanesOf = async (page: Page, id: string) =>
  (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes;
const openLanes = async (page: Page, id: string) => {
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
};

test('a reply round: asked, heard with the notes in their place, recorded again, answered on', async () => {
  const { page, context } = await signIn(browser, 'ines');
  // An earlier try may stand there under its own name.
  const title = `A reply round ${Date.now()}`;
  const id = await released(page, title, [spoken]);
  const { page: student, context: other } = await signIn(browser, 'dilnoza', 'phone');
  await handInTones(student, id);
  await openLanes(page, id);
  await page.keyboard.press('Space');
  await expect.poll(() => position(page)).toBeGreaterThan(1_500);
  await page.keyboard.down('v');
  await expect(page.getByText('Speak your note').locator('xpath=..')).toContainText(/0:0[1-9]/);
  await page.keyboard.up('v');
  await expect(page.getByRole('button', { name: /^Play the spoken note/ })).toBeVisible();
  await page.getByRole('tab', { name: 'Exchange' }).click();
  await page.getByLabel(/^Ask Dilnoza/).selectOption('record it again');
  await page.getByLabel('In your words').fill('Slower, and with the whole sentence. 🙂');
  await page.locator('h1').click();
  await page.keyboard.press('4');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Give feedback to Dilnoza' }).click();
  await page.getByRole('button', { name: 'Give it now' }).click();
  await expect(page.getByText('1 sitting is with its student now.')).toBeVisible();
  // Given too soon: nobody has looked, so it comes back; then it is given for good.
  const taking = page.getByRole('button', { name: 'Take the feedback back' });
  await expect(taking).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).click();
  await expect(page.getByText('1 sitting is with you again.')).toBeVisible();
  await expect(taking).toBeHidden();
  await page.getByRole('button', { name: 'Give feedback to Dilnoza' }).click();
  await page.getByRole('button', { name: 'Give it now' }).click();
  await expect(taking).toBeVisible();

  // It stays among what is to do until it is done.
  await student.goto('/');
  const entry = student.getByRole('listitem').filter({ hasText: title });
  await expect(entry.getByText('Your teacher waits for your answer.')).toBeVisible();
  await entry.getByRole('link', { name: 'Answer the feedback' }).click();
  await expect(student.getByText('Slower, and with the whole sentence. 🙂')).toBeVisible();
  // The recording waits for the spoken note, and goes on after it.
  await student.getByRole('button', { name: 'Play your answer to item 1' }).click();
  await expect(student.getByText(/speaks; your recording waits/)).toBeVisible();
  await student.getByRole('button', { name: 'Go on', exact: true }).click();
  await expect(student.getByText(/speaks; your recording waits/)).toBeHidden();
  await expect(student.getByRole('button', { name: 'Pause your answer to item 1' })).toBeVisible();
  const answer = student.getByRole('region', { name: 'Answer your teacher' });
  await expect(answer.getByRole('button', { name: 'Send' })).toBeDisabled();
  // The microphone opens first; nothing is recorded before that is wished.
  await answer.getByRole('button', { name: 'Speak' }).click();
  await expect(answer.getByRole('img', { name: 'Level of the microphone' })).toBeVisible();
  await expect(answer.getByText(/Nothing is recorded yet/)).toBeVisible();
  await answer.getByRole('button', { name: 'Record now' }).click();
  await expect(answer.getByText(/^0:0[2-9] of/)).toBeVisible();
  await answer.getByRole('button', { name: 'Stop' }).click();
  await expect(answer.getByRole('button', { name: 'Play your reply' })).toBeVisible();
  await answer.getByRole('button', { name: 'Send' }).click();
  await expect(answer.getByRole('listitem')).toHaveCount(1);
  await expect(answer.getByRole('button', { name: /^Play the reply of/ })).toBeVisible();

  // The first page says that somebody answered, and leads there.
  await page.goto('/');
  const answered = page.getByRole('listitem').filter({ hasText: title });
  await expect(answered.getByText('1 waits for your reply')).toBeVisible();
  await answered.getByRole('link', { name: title }).first().click();
  await expect(taking).toBeHidden();
  // What was recorded is a take like any other, beside the first, whose notes are here; it can be scored.
  const lane = page.getByRole('listitem').filter({ hasText: 'Dilnoza' }).first();
  await expect(lane.getByText('recorded again', { exact: true })).toBeVisible();
  await expect(page.getByText(/The score is of the first recording/)).toBeVisible();
  const [again] = await lanesOf(page, id);
  expect(again).toMatchObject({ takes: 2, again: { isOfFirst: true } });
  expect(again!.durationMs).toBeLessThan(5_900);
  await page.getByRole('tab', { name: /^Notes/ }).click();
  await expect(page.getByRole('list', { name: 'Notes on the first recording' })).toBeVisible();
  await page.getByRole('tab', { name: /^Beside/ }).click();
  const beside = page.getByRole('region', { name: /^Beside the answer/ });
  await expect(beside.getByText('0:06', { exact: true }).first()).toBeVisible();
  await page.getByRole('tab', { name: 'Measured' }).click();
  // Measured like any other, when its turn has come.
  await expect(page.getByText('speaking', { exact: true }).first()).toBeVisible({ timeout: 90_000 });
  // Known by the answer to the score itself: no lanes come anew meanwhile.
  const held: Route[] = [];
  await page.route(/\/lanes\?packed/, route => void held.push(route));
  await page.keyboard.press('5');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Recorded again', exact: true }).click();
  await page.getByLabel('Why the score changes').press('Enter');
  await expect(page.getByText(/The score is of the first recording/)).toBeHidden();
  await page.unroute(/\/lanes\?packed/);
  for (const route of held) await route.continue();
  await expect(student.getByText('5 / 5').first()).toBeVisible();
  await expect(student.getByRole('region', { name: 'your first recording of item 1' })).toBeVisible();

  // Heard and answered, without a reload; and the teacher goes on.
  await page.goto(`/listen/${id}`);
  await page.getByRole('tab', { name: 'Exchange' }).click();
  await expect(page.getByText(/^Heard /)).toBeVisible();
  await expect(
    page.getByRole('listitem').filter({ hasText: 'Dilnoza' }).getByText('answered').first(),
  ).toBeVisible();
  const exchange = page.getByRole('region', { name: /^Exchange with Dilnoza/ });
  await exchange.getByRole('button', { name: /^Play the reply of Dilnoza/ }).click();
  await expect(exchange.getByRole('button', { name: /^Pause the reply/ })).toBeVisible();
  await exchange.getByLabel('Answer on').fill('That is it!');
  await exchange.getByRole('button', { name: 'Send' }).click();
  await expect(exchange.getByText('That is it!')).toBeVisible();
  await expect(answer.getByText('That is it!')).toBeVisible();
  await student.goto('/');
  await expect(entry.getByText('Your teacher waits for your answer.')).toBeHidden();
  await context.close();
  await other.close();
});

test('a running record by clicks while it plays, its figures reckoned by hand, and paper with both', async () => {
  const { page, context } = await signIn(browser, 'ines');
  // Ten words.
  const passage = blankStimulus(crypto.randomUUID(), 'passage', {
    text: 'O sino do porto toca às seis da manhã, devagar.',
    language: 'pt',
  });
  const id = await released(page, 'Read and marked', [{ ...spoken, stimuli: [passage] }]);
  const { page: student, context: other } = await signIn(browser, 'emrys', 'phone');
  const sittingId = await handInTones(student, id, 12);
  await openLanes(page, id);
  await page.getByRole('tab', { name: 'Marks' }).click();
  await page.getByRole('button', { name: 'Mark the reading' }).click();
  await page.keyboard.press('Space');
  await expect.poll(() => position(page)).toBeGreaterThan(1_000);
  const marks = page.getByRole('region', { name: 'Marks on what was read or seen' });
  const word = (text: string) => marks.getByRole('button', { name: text, exact: true });
  // By a key on the word under the pointer; by a tool and a click.
  await word('porto').hover();
  await page.keyboard.press('Shift+S');
  await marks.getByRole('radio', { name: /left out/ }).click();
  await word('devagar').click();
  await marks.getByRole('radio', { name: /put in/ }).click();
  await word('toca').click();
  await marks.getByRole('radio', { name: /put right/ }).click();
  await word('seis').click();
  await marks.getByRole('textbox', { name: 'Said at “porto”' }).fill('barco');
  // From 0:00 to the end at 11.6 s (the last tone). Two words wrong, one put in: 8 of 10 right, 3 errors, 70 %; one
  // self-correction beside three errors: 1 in 4.
  const figures = marks.getByRole('list', { name: 'Figures of the reading' });
  for (const words of [
    '8 of 10 words right, put in: 1',
    '70 % accuracy',
    'errors: 3',
    'self-corrections: 1 (1 in 4)',
  ])
    await expect(figures.getByText(words, { exact: true })).toBeVisible();
  await expect(figures.getByText(/words correct a minute/)).toHaveText(/^4[0-2] words/);
  await page.getByRole('button', { name: 'Draw on the passage' }).click();
  const sheet = page.locator('svg[data-drawing]').first();
  await sheet.scrollIntoViewIfNeeded();
  await sheet.evaluate(e => e.scrollIntoView({ block: 'center' }));
  const box = (await sheet.boundingBox())!;
  await page.mouse.move(box.x + 40, box.y + 40);
  await page.mouse.down();
  await page.mouse.move(box.x + 160, box.y + box.height - 10, { steps: 5 });
  await page.mouse.up();
  await page.getByRole('radio', { name: 'text' }).click();
  // The tools may have come into sight by scrolling.
  const now = (await sheet.boundingBox())!;
  await page.mouse.click(now.x + 200, now.y + now.height - 20);
  await page.keyboard.type('breathe here');
  await page.keyboard.press('Enter');
  await expect
    .poll(async () => {
      const { body } = await ask<{ drawing: { shapes: object[] } | null }[]>(
        page,
        `/api/sittings/${sittingId}/items/${(await lanesOf(page, id))[0]!.itemId}/markups`,
      );
      return body.find(m => m.drawing)?.drawing?.shapes.length;
    })
    .toBe(2);
  // The row says what is marked, also once it is shut.
  const row = page.getByRole('listitem').filter({ hasText: 'Emrys' }).first();
  await expect(row.getByText('running record')).toBeVisible();
  await expect(row.getByText('drawn on')).toBeVisible();
  await page.locator('h1').click();
  await page.keyboard.press('3');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Give feedback to Emrys' }).click();
  await page.getByRole('button', { name: 'Give it now' }).click();
  await expect(page.getByText('1 sitting is with its student now.')).toBeVisible();

  await student.goto(`/feedback/${sittingId}`);
  const own = student.getByRole('region', { name: 'Your reading, word by word' });
  await expect(own.getByText('8 of 10 words right')).toBeVisible();
  await own.getByRole('button', { name: 'porto' }).click();
  await expect(student.getByRole('button', { name: 'Pause your answer to item 1' })).toBeVisible();
  await expect(student.getByText('Drawn by your teacher')).toBeVisible();
  const download = student.waitForEvent('download');
  await student.getByRole('link', { name: /on paper/ }).click();
  const text = execFileSync('pdftotext', [
    '-layout',
    '-enc',
    'UTF-8',
    await (await download).path(),
    '-',
  ]).toString();
  for (const words of ['Emrys', '3 of 5 points', 'porto[S barco]', '8 of 10 words right', 'breathe here'])
    expect(text).toContain(words);
  await context.close();
  await other.close();
});

test('what sounds unlike the passage is suggested, heard, taken and refused by a key, and counts only then', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { passage } = assessments.find(a => a.key === 'bell')!.items[0]!;
  const stimulus = blankStimulus(crypto.randomUUID(), 'passage', passage);
  const id = await released(page, 'Read with slips', [
    { ...spoken, answerLimitMs: 40_000, stimuli: [stimulus] },
  ]);
  const { page: student, context: other } = await signIn(browser, 'greta');
  await handInSound(student, id, readFileSync('demo/audio/bell-read-ilse.ogg'), 'audio/ogg');
  await other.close();
  await openLanes(page, id);
  // Measured: a word is pressed and lights up as it is heard.
  await page.getByRole('tab', { name: 'Measured' }).click();
  const measured = page.getByRole('region', { name: 'Measured' });
  await measured.getByRole('button', { name: 'Matilde', exact: true }).click({ timeout: 60_000 });
  await expect.poll(() => position(page)).toBeGreaterThan(8_600);
  await expect(measured.locator('.bg-petrol-wash[data-word]').first()).toBeVisible();
  await measured.getByRole('button', { name: 'Matilde', exact: true }).press('ArrowRight');
  await expect(measured.getByRole('button', { name: 'foi', exact: true })).toBeFocused();
  // Not read, so not heard.
  await expect(measured.getByRole('button', { name: 'sempre', exact: true })).toBeHidden();

  await page.getByRole('tab', { name: 'Marks' }).click();
  await page.getByRole('button', { name: 'Mark the reading' }).click();
  const marks = page.getByRole('region', { name: 'Marks on what was read or seen' });
  const suggested = marks.getByRole('region', { name: 'Suggested' });
  const figures = marks.getByRole('list', { name: 'Figures of the reading' });
  await expect(suggested).toContainText('4 suggestions, not counted');
  await expect(suggested).toContainText('“sempre” left out?');
  await expect(figures.getByText('errors: 0')).toBeVisible();
  await page.keyboard.press('Shift+N');
  await expect(suggested).toContainText('“noite” another word?');
  await page.keyboard.press('Shift+W');
  await expect.poll(() => position(page)).toBeLessThan(6_000);
  await page.keyboard.press('Shift+Y');
  await expect(figures.getByText('errors: 1')).toBeVisible();
  await expect(suggested).toContainText('“uma gaivota” repeated?');
  await suggested.getByRole('button', { name: 'Take it' }).click();
  await expect(suggested).toContainText('something put in after “começa”?');
  // Taken back, it is asked again; what was refused stays so.
  await marks.getByRole('button', { name: 'Undo' }).click();
  await expect(suggested).toContainText('“uma gaivota” repeated?');
  await expect(suggested).toContainText('2 suggestions');
  await page.reload();
  await page.getByRole('tab', { name: 'Marks' }).click();
  await page.getByRole('button', { name: 'Mark the reading' }).click();
  await expect(suggested).toContainText('2 suggestions');
  await expect(figures.getByText('errors: 1')).toBeVisible();
  await context.close();
});

test('of a dialogue the part that was spoken is told, heard and counted; another one can be said instead', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { passage } = assessments.find(a => a.key === 'echo')!.items[1]!;
  const stimulus = blankStimulus(crypto.randomUUID(), 'passage', passage);
  const id = await released(page, 'A part of two', [
    { ...spoken, answerLimitMs: 40_000, stimuli: [stimulus] },
  ]);
  const { page: student, context: other } = await signIn(browser, 'dilnoza');
  await handInSound(student, id, readFileSync('demo/audio/echo-office-dilnoza.ogg'), 'audio/ogg');
  await other.close();
  await openLanes(page, id);
  await page.getByRole('tab', { name: 'Measured' }).click();
  // The name before the line was not spoken: the first word that was is where the keyboard comes to.
  const word = (text: string) => page.getByRole('button', { name: text, exact: true });
  await expect(word('Bom')).toHaveAttribute('tabindex', '0', { timeout: 60_000 });
  await expect(word('Ana')).toHaveCount(0);
  await expect(word('barco')).toHaveCount(0);
  await page.getByRole('tab', { name: 'Marks' }).click();
  await page.getByRole('button', { name: 'Mark the reading' }).click();
  const part = page.getByLabel('Read from the dialogue');
  await expect(part).toHaveValue('Ana');
  const figures = page.getByRole('list', { name: 'Figures of the reading' });
  await expect(figures).toContainText('25 of 25 words right');
  await expect(page.getByRole('region', { name: 'Suggested' })).toContainText('“viagem” left out?');
  await page.getByRole('button', { name: 'Take it' }).click();
  await expect(figures).toContainText('24 of 25 words right');
  await part.selectOption({ label: 'the part of Senhor Rui' });
  await expect(figures).toContainText('16 of 16 words right');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(figures).toContainText('24 of 25 words right');
  const kept = async () => {
    const [lane] = await lanesOf(page, id);
    const at = `/api/sittings/${lane!.sittingId}/items/${lane!.itemId}/markups`;
    return (await ask<Markup[]>(page, at)).body.map(m => [m.record?.part, m.record?.marks.length]);
  };
  await expect.poll(kept).toEqual([['Ana', 1]]);
  await context.close();
});

test('a phrase that was repeated lies beside its prompt: the two are heard after each other, from the same place', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const voice = (name: string, as: string, rate: string) => {
    const path = test.info().outputPath(name);
    execFileSync('espeak-ng', [
      '-v',
      as,
      '-s',
      rate,
      '-w',
      path,
      '--',
      'A que horas parte o barco da manhã?',
    ]);
    return readFileSync(path);
  };
  const sound = { name: 'p.wav', mimeType: 'audio/wav', buffer: voice('p.wav', 'pt+f2', '120') };
  const promptRecordingId = await stored(page, sound, 'sound');
  const item = { ...spoken, promptText: 'Repete.', promptRecordingId, promptDurationMs: 3_000 };
  const id = await released(page, 'Say it after me', [item]);
  const { page: student, context: other } = await signIn(browser, 'hamish');
  await handInSound(student, id, voice('a.wav', 'pt+m3', '150'), 'audio/wav');
  await other.close();
  await openLanes(page, id);
  await page.getByRole('tab', { name: 'Measured' }).click();
  const figures = page.getByRole('list', { name: 'Beside the model' });
  await expect(figures.getByText(/^melody mostly within/)).toBeVisible({ timeout: 60_000 });
  await expect(figures.getByText(/% shorter than the model/)).toBeVisible();
  await page
    .getByRole('button', { name: 'Hear the model, then this recording' })
    .click({ position: { x: 4, y: 20 } });
  const bar = page.getByRole('region', { name: 'Transport' });
  await expect(bar.getByText('The model')).toBeVisible();
  await expect(bar.getByText('Hamish Macrury')).toBeVisible();
  await expect.poll(() => position(page)).toBeGreaterThan(300);
  await context.close();
});

test('without names: nothing that the browser is sent says who it is, until its feedback is given', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const id = await released(page, 'Without names', [spoken]);
  const { body: detail } = await ask<ReleaseDetail>(page, `/api/releases/${id}`);
  const people = [
    ['greta', 'Greta Lindqvist'],
    ['jovan', 'Jovan Petrakov'],
  ] as const;
  for (const [name] of people) {
    const { page: student, context: own } = await signIn(browser, name);
    await handInTones(student, id, 4);
    await own.close();
  }
  await openLanes(page, id);
  await page.getByRole('button', { name: 'Hide names' }).click();
  await expect(page.getByRole('button', { name: /^Voice \d+$/ }).first()).toBeVisible();
  const sent: Promise<string>[] = [];
  page.on('response', response => {
    const url = response.url();
    if (url.includes('/api/') && !url.includes('/api/changes'))
      sent.push(
        response.text().then(
          text => `${url}\n${JSON.stringify(response.headers())}\n${text}`,
          () => url,
        ),
      );
  });
  await page.reload();
  await expect(page.getByLabel('Comment')).toBeVisible();
  await page.getByRole('tab', { name: 'Sitting' }).click();
  await page.keyboard.press('Space');
  await page.getByRole('button', { name: /^Decide about Voice/ }).click();
  await page.keyboard.press('Escape');
  await page.locator('h1').click();
  await page.keyboard.press('4');
  await page.keyboard.press('Enter');
  await expect(page.getByText('1 answer', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Give feedback to 1 …' }).click();
  await page.getByRole('button', { name: 'Not yet' }).click();
  const traffic = (await Promise.all(sent)).join('\n');
  expect(traffic).toContain('Voice ');
  for (const [, name] of people) {
    expect(traffic).not.toContain(name);
    expect(traffic).not.toContain(name.split(' ')[0]!);
    expect(traffic).not.toContain(detail.students.find(s => s.displayName === name)!.id);
    await expect(page.getByText(name)).toHaveCount(0);
  }
  await page.getByRole('button', { name: 'Give feedback to 1 …' }).click();
  await page.getByRole('button', { name: 'Give it now' }).click();
  await expect(page.getByText('1 sitting is with its student now.')).toBeVisible();
  // Back with the student, it has its name again; the other has not.
  await expect(page.getByRole('button', { name: /^(Greta Lindqvist|Jovan Petrakov)$/ })).toHaveCount(1);
  await expect(page.getByRole('button', { name: /^Voice \d+$/ })).toHaveCount(1);
  await context.close();
});

test('the comment bank by keyboard; a sitting asked for again with the reason, undone, asked again, sat again', async () => {
  const { page, context } = await signIn(browser, 'ines');
  await ask<Topic[]>(page, '/api/comment-bank/topics', 'POST', {
    topics: [{ name: 'Journeys', comments: [{ words: 'Quoth {name}: nevermore at {time}.', link: '' }] }],
  });
  const id = await released(page, 'Given back', [spoken]);
  const { page: student, context: other } = await signIn(browser, 'hamish', 'phone', { opens: false });
  await handInTones(student, id);
  await openLanes(page, id);
  await page.keyboard.press('c');
  await page.keyboard.type('quoth');
  await expect(page.getByRole('listbox').getByRole('option', { selected: true })).toContainText('nevermore');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Comment')).toHaveValue('Quoth Hamish: nevermore at 0:00.');
  // The same, pinned to a moment.
  await page.keyboard.press('c');
  await page.keyboard.type('never quo');
  await page.keyboard.press('Shift+Enter');
  await expect(page.getByRole('list', { name: /Notes on the answer/ })).toContainText('Quoth Hamish');
  const giveFeedback = async () => {
    await page.getByRole('button', { name: 'Decide about Hamish Macrury' }).click();
    await page.getByRole('menuitem', { name: 'Ask to record again …' }).click();
    await page.getByRole('button', { name: 'Ask for it' }).click();
    await expect(
      page.getByRole('alert').filter({ hasText: 'Say what is to be done differently' }),
    ).toBeVisible();
    await page.getByLabel('What to do differently').fill('Only half was heard.');
    await page.getByRole('button', { name: 'Ask for it' }).click();
    await expect(
      page.getByText('Hamish Macrury is asked to record again. The recordings stay.'),
    ).toBeVisible();
    // The lane is another one from here: what is pressed before it says so would be on the old one.
    await expect(page.getByText('to record again', { exact: true })).toBeVisible();
  };
  await giveFeedback();
  await page.getByRole('button', { name: 'Undo', exact: true }).first().click();
  await expect(page.getByText('to record again', { exact: true })).toBeHidden();
  await giveFeedback();
  await student.goto('/');
  const entry = student.getByRole('listitem').filter({ hasText: 'Given back' });
  await expect(entry.getByText('Only half was heard.')).toBeVisible();
  await entry.getByRole('link', { name: 'Hear the feedback' }).click();
  await expect(student.getByText('To record again')).toBeVisible();
  await expect(student.getByRole('list', { name: /^Notes on your answer/ })).toContainText('Quoth Hamish');
  await handInTones(student, id, 3);
  await expect
    .poll(async () => (await lanesOf(page, id)).map(l => [l.askedAgain, l.durationMs]))
    .toEqual([[false, 3_000]]);
  // What was recorded first is beside it.
  await page.reload();
  await page.getByRole('tab', { name: /^Beside/ }).click();
  await expect(
    page
      .getByRole('region', { name: /^Beside the answer/ })
      .getByText('0:06', { exact: true })
      .first(),
  ).toBeVisible();
  await context.close();
  await other.close();
});
