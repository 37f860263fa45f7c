import { expect, test } from '@playwright/test';
import { join } from 'node:path';
import { answersIn, RUN_LEAD_MS, takeLengthMs } from '@ecoute/core/timing/conversation';
import { blankContent, blankItem } from '@ecoute/contract/blank';
import type { SittingView } from '@ecoute/contract/sittings';
import { expectSameSound, speak, trackOf } from './support/sound';
import { ALONE, ask, browserHearing, passDeviceCheck, releaseCalled, signIn } from './support/world';

const DATA = process.env.ECOUTE_E2E_DATA ?? '.ecoute';

test('a usual homework, from the first page to released, in at most twelve actions', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 5, 1);
  const browser = await browserHearing(voice);
  try {
    const { page } = await signIn(browser, 'ines');
    let actions = 0;
    const act = async (step: Promise<unknown>) => {
      actions += 1;
      await step;
    };
    await act(page.getByRole('link', { name: 'Set', exact: true }).click());
    await act(page.getByRole('button', { name: 'Set a new assessment' }).click());
    await act(page.getByLabel('Title', { exact: true }).fill('Homework in a hurry'));
    await act(page.getByLabel('Prompt', { exact: true }).fill('O que fizeste ontem?'));
    await act(page.getByRole('button', { name: 'Add an item' }).click());
    await act(page.getByLabel('Prompt', { exact: true }).fill('E amanhã?'));
    await act(page.getByRole('button', { name: 'Release …' }).click());
    await act(page.getByRole('button', { name: 'in three days' }).click());
    await act(page.getByRole('button', { name: 'Release now' }).click());
    await expect(page.getByText('It is open for 12 students now.')).toBeVisible();
    expect(actions).toBeLessThanOrEqual(12);
    expect((await releaseCalled(page, 'Homework in a hurry')).content.items).toHaveLength(2);
  } finally {
    await browser.close();
  }
});

test(
  'an exam with a conversation from one track: gaps found, adjusted, sat as one run, cut by turns',
  ALONE,
  async ({}, info) => {
    const [voice, track] = [info.outputPath('voice.wav'), info.outputPath('track.mp3')];
    speak(voice, 19, 2);
    trackOf(track, [2, 2.5, 1.8]);
    const browser = await browserHearing(voice);
    // Of its own with each try.
    const title = `Oral exam at the stall ${Date.now()}`;
    try {
      const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
      await teacher.goto('/set');
      await teacher.getByRole('button', { name: 'Set a new assessment' }).click();
      await teacher.getByRole('radio', { name: 'Exam conditions' }).click();
      await teacher.getByLabel('Title', { exact: true }).fill(title);
      await teacher.getByLabel('Prompt', { exact: true }).fill('Answer Dona Alda.');
      await teacher.getByLabel('Answered', { exact: true }).selectOption('conversation');
      await teacher.getByLabel('Time to prepare').fill('2');
      await teacher.getByLabel('Audio file for the track').setInputFiles(track);
      await expect(teacher.getByText('3 turns found. Each can be adjusted.')).toBeVisible();
      await teacher.getByLabel('One gap for all').fill('3');
      await teacher.getByRole('button', { name: 'Give every turn this gap' }).click();
      await teacher.getByLabel('What turn 2 is about').fill('what you eat');
      await teacher.getByLabel('Gap after turn 2').fill('5');
      // An edge moved by keyboard: ten hundredths of a second.
      await teacher.getByRole('button', { name: 'Adjust' }).first().click();
      const edge = teacher.getByRole('slider', { name: 'End of turn 1' });
      const before = Number(await edge.getAttribute('aria-valuenow'));
      await edge.press('Shift+ArrowRight');
      await expect(edge).toHaveAttribute('aria-valuenow', String(before + 100));
      // Split and joined again, it is what it was.
      await teacher.getByRole('button', { name: 'Split' }).click();
      await expect(teacher.getByText('4 turns')).toBeVisible();
      await teacher.getByRole('button', { name: 'Join with the next' }).first().click();
      await expect(teacher.getByText('3 turns, runs')).toBeVisible();
      await expect(edge).toHaveAttribute('aria-valuenow', String(before + 100));
      await expect(teacher.getByText('Everything is saved')).toBeVisible();
      await teacher.getByRole('button', { name: 'Release …' }).click();
      await teacher.getByRole('button', { name: 'in three days' }).click();
      await teacher.getByRole('button', { name: 'Release now' }).click();
      await expect(teacher.getByText('It is open for 12 students now.')).toBeVisible();
      const release = await releaseCalled(teacher, title);
      const { turns } = release.content.items[0]!;
      expect(turns.map(t => t.gapMs)).toEqual([3_000, 5_000, 3_000]);

      const { page } = await signIn(browser, 'emrys', 'phone', { opens: false });
      await page.goto(`/sit/${release.id}`);
      await passDeviceCheck(page);
      // Noted by the page itself: a gap of three seconds is over before a busy machine has looked twice.
      await page.evaluate(() => {
        const said = new Set<string>();
        Object.assign(window, { said });
        new MutationObserver(() => {
          for (const [words] of document.body.textContent.matchAll(/(after )?turn \d of 3/g)) said.add(words);
        }).observe(document.body, { subtree: true, childList: true, characterData: true });
      });
      await page.getByRole('button', { name: /I have read it|See it and prepare/ }).click();
      // Exam conditions: it begins automatically, listens and speaks in turn, and ends automatically.
      await expect(page.getByText('after turn 2 of 3')).toBeVisible();
      // The device's clock is set, by more than the last gap: nothing of the answer is cut off.
      await page.evaluate(() => {
        const now = Date.now.bind(Date);
        Date.now = () => now() + 4_000;
      });
      await expect(page.getByText('stored safely')).toBeVisible({ timeout: 90_000 });
      expect(await page.evaluate(() => [...(window as unknown as { said: Set<string> }).said])).toEqual(
        [1, 2, 3].flatMap(turn => [`turn ${turn} of 3`, `after turn ${turn} of 3`]),
      );
      await expect(page.getByRole('button', { name: /Record again/ })).toHaveCount(0);
      await page.getByRole('button', { name: 'To the hand-in' }).click();
      await page.getByRole('button', { name: 'Hand in', exact: true }).click();
      await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
      const { body } = await ask<SittingView>(page, `/api/releases/${release.id}/sitting`, 'POST');
      const line = body.receipt!.lines[0]!;
      const lengthMs = expectSameSound(join(DATA, 'sounds/originals', line.takeId!), voice);
      // Nothing is cut off; a busy machine ends the recorder later than the gate, with silence between.
      expect(lengthMs - takeLengthMs(turns)).toBeGreaterThan(-400);
      expect(lengthMs - takeLengthMs(turns)).toBeLessThan(1_500);
      // The gate is found in the file, and the answers lie after it as the turns were heard.
      const { clock, recording } = body.takes.find(t => t.id === line.takeId)!;
      expect(recording.gateMs).toBeGreaterThan(100);
      expect(clock).toMatchObject({ gated: true, soundFromMs: RUN_LEAD_MS });
      const first = turns[0]!.toMs - turns[0]!.fromMs;
      expect(answersIn(turns, { clock, gateMs: recording.gateMs })[0]!.startMs).toBeCloseTo(
        recording.gateMs! + RUN_LEAD_MS + clock!.loopMs + first,
        3,
      );

      // Each gap's answer is its own labelled stretch on the lane.
      await teacher.goto(`/listen/${release.id}`);
      const answers = teacher.getByRole('list', { name: 'Answers in this conversation' }).getByRole('button');
      await expect(answers).toHaveCount(3);
      await expect(answers.nth(1)).toHaveText(/2\s*what you eat\s*0:05/);
      await answers.nth(1).click();
      await expect(answers.nth(1)).toHaveAttribute('aria-current', 'true');
    } finally {
      await browser.close();
    }
  },
);

test('a placement: one take, passing allowed, one level in words at the end', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 7, 6);
  const browser = await browserHearing(voice);
  const title = 'Which group?';
  try {
    const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
    await teacher.goto('/set');
    await teacher.getByRole('button', { name: 'Set a new assessment' }).click();
    await teacher.getByRole('radio', { name: 'Placement' }).click();
    await teacher.getByLabel('Title', { exact: true }).fill(title);
    await teacher.getByLabel('Prompt', { exact: true }).fill('Tell us about yourself.');
    await teacher.getByLabel('Time to prepare').fill('0');
    await teacher.getByRole('button', { name: 'Add an item' }).click();
    await teacher.getByLabel('Prompt', { exact: true }).fill('What would you change in this town?');
    await expect(teacher.getByRole('button', { name: /^Scoring overall level/ })).toBeVisible();
    await expect(teacher.getByText('Everything is saved')).toBeVisible();
    await teacher.getByRole('button', { name: 'Release …' }).click();
    await teacher.getByRole('button', { name: 'in three days' }).click();
    await teacher.getByRole('button', { name: 'Release now' }).click();
    await expect(teacher.getByText('It is open for 12 students now.')).toBeVisible();
    const release = await releaseCalled(teacher, title);

    const { page } = await signIn(browser, 'dilnoza', 'phone', { opens: false });
    await page.goto(`/sit/${release.id}`);
    await expect(page.getByText(/point/)).toHaveCount(0);
    await passDeviceCheck(page);
    await page.getByRole('button', { name: 'Answer now' }).click();
    await expect(page.getByText(/0:(0[2-9]|[1-5]\d) of 1:30/)).toBeVisible();
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(page.getByText('stored safely')).toBeVisible();
    await page.getByRole('button', { name: 'Item 2', exact: true }).click();
    await page.getByRole('button', { name: 'I pass on this one' }).click();
    await page.getByRole('button', { name: 'To the hand-in' }).click();
    await page.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();

    await teacher.goto(`/listen/${release.id}`);
    await expect(teacher.getByLabel('Comment')).toBeVisible();
    // This recording shows the third level.
    await teacher.keyboard.press('3');
    await teacher.keyboard.press('Enter');
    await expect(
      teacher.getByText('Every answer is marked; 1 student has no overall level yet (O).'),
    ).toBeAttached();
    // Heard, but without a level of the whole it does not go back.
    await teacher.getByRole('button', { name: 'Give feedback …' }).click();
    await expect(teacher.getByRole('list', { name: 'Unfinished' })).toContainText('no level yet');
    await expect(teacher.getByRole('button', { name: 'Give it now' })).toBeDisabled();
    await teacher.getByRole('button', { name: 'Not yet' }).click();
    // The recording that shows a level is beside its descriptor, to be heard again.
    await teacher.keyboard.press('o');
    const level = teacher.getByRole('region', { name: /Overall level of/ });
    const second = level.getByRole('listitem').filter({ hasText: 'Short sentences about daily life' });
    await expect(second.getByRole('button', { name: 'Play item 1' })).toBeVisible();
    await level.getByRole('button', { name: 'Take A2' }).click();
    await teacher.getByRole('button', { name: 'Give feedback to 1 …' }).click();
    await teacher.getByRole('button', { name: 'Give it now' }).click();
    await expect(teacher.getByText('1 sitting is with its student now.')).toBeVisible();

    await page.goto('/feedback');
    await page.getByRole('link', { name: new RegExp(title.replace('?', '\\?')) }).click();
    await expect(page.getByText('A2', { exact: true })).toBeVisible();
    await expect(page.getByText('You passed on this item.')).toBeVisible();
    await expect(page.getByText(/\d \/ \d/)).toHaveCount(0);
  } finally {
    await browser.close();
  }
});

test('a rubric pasted from a spreadsheet, by keyboard alone; contradictions are said at once', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 5, 4);
  const browser = await browserHearing(voice);
  try {
    const { page } = await signIn(browser, 'tobias', 'desk', { opens: false });
    await page.goto('/set');
    await page.getByRole('button', { name: 'Set a new assessment' }).press('Enter');
    await page.getByLabel('Title', { exact: true }).fill('By rubric');
    await page.getByLabel('Prompt', { exact: true }).fill('Play the scale.');
    await page.getByRole('button', { name: /^Scoring/ }).press('Enter');
    // Held as a finger holds it: the choice follows the focus while the key is down.
    await page.getByRole('radio', { name: 'Points' }).focus();
    await page.keyboard.down('ArrowRight');
    await expect(page.getByRole('radio', { name: 'Rubric' })).toBeChecked();
    await page.keyboard.up('ArrowRight');
    await expect(page.getByRole('alert').filter({ hasText: 'Choose or write a rubric.' })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Release …' })).toBeDisabled();
    await page.getByRole('button', { name: 'an empty one' }).press('Enter');
    await page.getByRole('button', { name: 'Paste a table or a list …' }).press('Enter');
    const paste = page.getByLabel('From a spreadsheet or a bulleted text');
    await paste.fill('\tlost (1)\tkept (2)\tplayed (3)\nTime ×2\ta\tb\tc\nTone\td\te');
    await expect(page.getByText('2 criteria × 3 levels: lost (1), kept (2), played (3)')).toBeVisible();
    await page.getByRole('button', { name: 'Use it instead of the rubric here' }).press('Enter');
    await expect(page.getByLabel('Weight of criterion 1')).toHaveValue('2');
    // From cell to cell with Control and an arrow.
    await page.getByLabel('Time, lost').focus();
    await page.keyboard.press('Control+ArrowDown');
    await page.keyboard.press('Control+ArrowRight');
    await expect(page.getByLabel('Tone, kept')).toBeFocused();
    await page.getByLabel('Points of level 3').fill('2');
    await expect(page.getByText(/The levels are out of order: “played” gives 2/).first()).toBeVisible();
    await page.getByLabel('Points of level 3').fill('3');
    await page.getByLabel('Weight of criterion 1').fill('0');
    await page.getByLabel('Weight of criterion 2').fill('0');
    await expect(page.getByText(/All weights are zero/).first()).toBeVisible();
    await page.getByLabel('Weight of criterion 1').fill('2.5');
    await page.getByLabel('Pass mark').fill('6');
    await expect(page.getByText(/more than the 5 points/).first()).toBeVisible();
    await page.getByRole('button', { name: 'Let every item carry 7.5' }).press('Enter');
    await expect(page.getByText('7.5 points', { exact: true })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Release …' })).toBeEnabled();
    await expect(page.getByText('Everything is saved')).toBeVisible();
    await page.reload();
    await page.getByRole('button', { name: /^Scoring rubric, 2 criteria/ }).press('Enter');
    await expect(page.getByLabel('Time, kept')).toHaveValue('b');
  } finally {
    await browser.close();
  }
});

test('a rehearsal with the real recorder leaves no trace', ALONE, async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 7, 7);
  const browser = await browserHearing(voice);
  const title = `Tried first ${Date.now()}`;
  try {
    const { page } = await signIn(browser, 'ines', 'desk', { opens: false });
    await page.goto('/set');
    await page.getByRole('button', { name: 'Set a new assessment' }).click();
    await page.getByLabel('Title', { exact: true }).fill(title);
    await page.getByLabel('Prompt', { exact: true }).fill('Say three things about today.');
    await page.getByLabel('Time to prepare').fill('20');
    await page.getByLabel('Answer limit').fill('10');
    const written: string[] = [];
    await page.getByRole('button', { name: 'Try it as a student' }).click();
    await expect(page.getByText('nothing is kept, nobody is told')).toBeVisible();
    page.on('request', r => r.method() !== 'GET' && written.push(`${r.method()} ${r.url()}`));
    await page.getByRole('combobox').selectOption({ label: 'a student with half as much time again' });
    await passDeviceCheck(page);
    await page.getByRole('button', { name: 'I have read it: prepare 0:30' }).click();
    await page.getByRole('button', { name: /answer now/ }).click();
    await expect(page.getByText(/0:(0[2-9]|1\d) of 0:15/)).toBeVisible();
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(page.getByText('on this page only')).toBeVisible();
    await page.getByRole('button', { name: 'Play take 1' }).click();
    await expect(page.getByRole('button', { name: 'Pause take 1' })).toBeVisible();
    await page.getByRole('button', { name: 'To the hand-in' }).click();
    await page.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(page.getByText('Here a student would have handed in')).toBeVisible();
    expect(written).toEqual([]);
    const kept = await page.evaluate(async () => {
      const names = (await indexedDB.databases()).map(d => d.name);
      const opened = names.includes('ecoute')
        ? await new Promise<IDBDatabase>(resolve => {
            const request = indexedDB.open('ecoute');
            request.onsuccess = () => resolve(request.result);
          })
        : null;
      const sounds = opened
        ? await new Promise<number>(resolve => {
            const count = opened.transaction('sounds').objectStore('sounds').count();
            count.onsuccess = () => resolve(count.result);
          })
        : 0;
      return { sounds, events: Object.keys(localStorage).filter(k => k.startsWith('ecoute-events')) };
    });
    expect(kept).toEqual({ sounds: 0, events: [] });
    await page.getByRole('link', { name: 'Back to setting' }).first().click();
    // Items of earlier assessments come as copies.
    await page.getByRole('button', { name: 'From the item bank …' }).click();
    await page.getByLabel('Words').fill('pequeno-almoco');
    // Of the demo's own, for a copy of it may stand there from an earlier try.
    await page
      .getByRole('listitem')
      .filter({ hasText: 'Item 2 of “A morning in Brackwater”' })
      .getByRole('checkbox', { name: /O que comes ao pequeno-almoço/ })
      .click();
    await page.getByRole('button', { name: 'Take this item' }).click();
    await expect(page.getByRole('button', { name: 'Play the prompt' })).toBeVisible();
    await expect(page.getByText('Everything is saved')).toBeVisible();
    // A copy is a new assessment of its own.
    await page.getByRole('link', { name: 'Set', exact: true }).first().click();
    await page.getByRole('button', { name: `Copy ${title}` }).click();
    await expect(page.getByLabel('Title', { exact: true })).toHaveValue(`${title}, a copy`);
    // As a student with each arrangement that makes a difference here: breaks where a clock runs, each further language.
    const limited = blankContent('homework', {
      title: 'Tried with arrangements',
      sittingLimitMs: 600_000,
      otherDirections: [{ language: 'nl', text: 'Antwoord rustig.' }],
      items: [blankItem(crypto.randomUUID(), 'homework', { promptText: 'Well?' })],
    });
    const { body: made } = await ask<{ id: string }>(page, '/api/assessments', 'POST', { ...limited });
    await page.goto(`/set/${made.id}/rehearsal`);
    await expect(page.getByText('Antwoord rustig.')).toBeHidden();
    await page.getByRole('combobox').selectOption({ label: 'a student with directions in Dutch' });
    await expect(page.getByText('Antwoord rustig.')).toBeVisible();
    await page.getByRole('combobox').selectOption({ label: 'a student who may take breaks' });
    await passDeviceCheck(page);
    await expect(page.getByRole('button', { name: 'Take a break' })).toBeVisible();
  } finally {
    await browser.close();
  }
});

test('a package goes to a colleague and arrives with its report; another file is refused in words', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 5, 3);
  const browser = await browserHearing(voice);
  try {
    const { page } = await signIn(browser, 'ines', 'desk', { opens: false });
    await page.goto('/set');
    await page.getByRole('link', { name: /Oral exam: a word/ }).click();
    await expect(page.getByText('Everything is saved')).toBeVisible();
    const saving = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Package for colleagues' }).click();
    const download = await saving;
    expect(download.suggestedFilename()).toBe('Oral exam a word with Dona Alda.ecoute.zip');
    const file = info.outputPath('package.zip');
    await download.saveAs(file);

    const { page: colleague } = await signIn(browser, 'tobias', 'desk', { opens: false });
    await colleague.goto('/set');
    await colleague.getByLabel('Assessment package').setInputFiles(file);
    await expect(colleague.getByText('The package is on your shelf.')).toBeVisible();
    await expect(colleague.getByText('2 files, checksums as sent')).toBeVisible();
    await colleague.getByRole('link', { name: 'Open it' }).click();
    await expect(colleague.getByLabel('Title', { exact: true })).toHaveValue(
      'Oral exam: a word with Dona Alda',
    );
    await expect(colleague.getByLabel('Title of the section')).toHaveValue('At the stall');

    await colleague.goto('/set');
    await colleague.getByLabel('Assessment package').setInputFiles(voice);
    await expect(colleague.getByText('Nothing was made of this package.')).toBeVisible();
    await expect(colleague.getByText(/This is no ZIP file/)).toBeVisible();
  } finally {
    await browser.close();
  }
});
