import { expect, test, type Browser, type Page } from '@playwright/test';
import type { AssessmentDraft } from '@ecoute/contract/assessments';
import { pdfOf } from './support/files';
import { blankContent } from '@ecoute/contract/blank';
import { speak, trackOf } from './support/sound';
import { ask, browserHearing, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 12, 4);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const stored = async (page: Page) =>
  (await ask<AssessmentDraft>(page, `/api/assessments/${page.url().split('/').pop()!}`)).body.content;
const saved = (page: Page) => expect(page.getByText('Everything is saved')).toBeVisible();
const undo = (page: Page, words: string) => page.getByRole('button', { name: `Undo: ${words}` }).click();
async function begun(page: Page, title: string) {
  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  // One types on at once, also after an item is added.
  await expect(page.getByLabel('Title', { exact: true })).toBeFocused();
  await page.keyboard.type(title);
  await page.getByLabel('Prompt', { exact: true }).fill('What do you hear?');
}
async function spoken(page: Page, forAtLeast: RegExp) {
  const button = page.getByRole('button', { name: /^(Speak the prompt|Record it again)$/ });
  // A second press opens no second microphone.
  await button.dblclick();
  await expect(page.getByText('Recording the prompt').locator('xpath=..')).toContainText(forAtLeast);
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toHaveCount(1);
  // Nor does a second press on Stop reach what comes up in its place.
  await page.getByRole('button', { name: 'Stop', exact: true }).dblclick();
  await expect(page.getByRole('button', { name: 'Play the prompt' })).toBeVisible();
  await expect(page.getByLabel('Address')).toHaveCount(0);
}

test('a voice is kept when it is there; whatever is taken away comes back, also after a reload', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await begun(page, 'Taken back');
  await spoken(page, /0:0[1-9]/);
  await saved(page);
  const first = (await stored(page)).items[0]!.promptRecordingId;
  expect(first).not.toBeNull();
  await spoken(page, /0:0[2-9]/);
  await expect.poll(async () => (await stored(page)).items[0]!.promptRecordingId).not.toBe(first);
  await saved(page);
  await page.getByRole('button', { name: 'Remove the voice of the prompt' }).click();
  await page.getByRole('button', { name: 'Add an item', exact: true }).click();
  await expect(page.getByLabel('Prompt', { exact: true })).toBeFocused();
  await page.keyboard.type('And now?');
  await page.getByRole('button', { name: 'Take out', exact: true }).click();
  await page.getByRole('button', { name: /^Scoring/ }).click();
  await page.getByRole('radio', { name: 'Rubric' }).click();
  await page.getByRole('button', { name: 'Speaking', exact: true }).click();
  await page.getByRole('button', { name: 'Performance', exact: true }).click();
  await page.getByRole('button', { name: 'Keep what is written' }).click();
  await expect(page.getByLabel('Name of criterion 1')).toHaveValue('Does the task');
  await page.getByRole('button', { name: 'Take out criterion 1' }).click();
  await saved(page);
  await page.reload();

  await undo(page, 'the rubric');
  await expect.poll(async () => (await stored(page)).scoring.rubric?.criteria.length).toBe(4);
  await undo(page, 'the rubric');
  await undo(page, 'the scoring');
  await undo(page, 'item 2 taken out');
  await expect.poll(async () => (await stored(page)).items[1]?.promptText).toBe('And now?');
  // By keys, where nothing is typed at; in a field the keys are the field's own.
  await page.getByRole('button', { name: 'Add an item', exact: true }).focus();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await undo(page, 'the voice of item 1');
  await undo(page, 'the voice of item 1');
  await expect.poll(async () => (await stored(page)).items.map(i => i.promptRecordingId)).toEqual([first]);
  // And forth again.
  await page.getByRole('button', { name: 'Again: the voice of item 1' }).click();
  await expect.poll(async () => (await stored(page)).items[0]!.promptRecordingId).not.toBe(first);
  // A choice from a list is no text: the keys take it back.
  await page.getByLabel('Takes', { exact: true }).selectOption('5');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Takes', { exact: true })).toHaveValue('2');
  await saved(page);
  // What another window saved since is never undone from here.
  const id = page.url().split('/').pop()!;
  const { body: there } = await ask<AssessmentDraft>(page, `/api/assessments/${id}`);
  const content = { ...there.content, title: 'Changed elsewhere' };
  await ask(page, `/api/assessments/${id}`, 'PUT', { revision: there.revision, content });
  await page.reload();
  await expect(page.getByLabel('Title', { exact: true })).toHaveValue('Changed elsewhere');
  await expect(page.getByRole('button', { name: /^Undo/ })).toHaveCount(0);
  await context.close();
});

test('what is still being stored holds the release back, also while its item is shut', async ({}, info) => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const long = info.outputPath('long.wav');
  speak(long, 20, 9);
  await begun(page, 'Waits for its sound');
  const release = page.getByRole('button', { name: 'Release …' });
  await expect(release).toBeEnabled();
  let letGo!: () => void;
  const held = new Promise<void>(resolve => (letGo = resolve));
  await page.route('**/api/uploads/**', async route => {
    await held;
    await route.continue();
  });
  await page.getByLabel('Audio file for the prompt').setInputFiles(long);
  await expect(page.getByText('A file for item 1 is still being stored.')).toBeVisible();
  await expect(release).toBeDisabled();
  await page.getByRole('button', { name: /^1 What do you hear/ }).click();
  await expect(page.getByLabel('Prompt', { exact: true })).toBeHidden();
  letGo();
  await expect(release).toBeEnabled();
  await expect.poll(async () => (await stored(page)).items[0]!.promptDurationMs).toBeGreaterThan(15_000);

  // Its item taken out while it was on its way: nothing waits for ever, and the sound is found again.
  const second = new Promise<void>(resolve => (letGo = resolve));
  await page.unroute('**/api/uploads/**');
  await page.route('**/api/uploads/**', async route => {
    await second;
    await route.continue();
  });
  await page.getByRole('button', { name: 'Add an item', exact: true }).click();
  await page.getByLabel('Prompt', { exact: true }).fill('Gone again');
  await page.getByLabel('Audio file for the prompt').setInputFiles(long);
  await expect(page.getByText('A file for item 2 is still being stored.')).toBeVisible();
  await page.getByRole('button', { name: 'Take out', exact: true }).click();
  letGo();
  await expect(release).toBeEnabled();
  await page.getByRole('button', { name: /^1 What do you hear/ }).click();
  await page.getByRole('button', { name: 'Earlier recordings for the prompt' }).click();
  await page
    .getByRole('list', { name: 'Earlier recordings for the prompt' })
    .getByRole('button', { name: /^Use what was recorded/ })
    .click();
  await undo(page, 'the voice of item 1');
  await context.close();
});

test('several items are set at once; what comes in after them is set as they are', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await begun(page, 'Set at once');
  await page.getByLabel('Answer limit').fill('1:00');
  await page
    .getByLabel('PDF or slides, an item a page')
    .setInputFiles(await pdfOf('quay.pdf', ['The pier', 'The ferry', 'The market']));
  await expect.poll(async () => (await stored(page)).items.length).toBeGreaterThan(2);
  // What was set before the pages came holds for them.
  expect([...new Set((await stored(page)).items.map(i => i.answerLimitMs))]).toEqual([60_000]);
  await page.getByRole('button', { name: 'Set several at once' }).click();
  const panel = page.getByRole('region', { name: 'Set several at once' });
  await panel.getByRole('list', { name: 'Which items' }).getByRole('checkbox').first().click();
  await panel.getByLabel('Answer limit').fill('2 minutes');
  await panel.getByLabel('Takes', { exact: true }).selectOption('1');
  await panel.getByRole('button', { name: /^Set it for \d items$/ }).click();
  await expect
    .poll(async () => (await stored(page)).items.map(i => `${i.answerLimitMs} ${i.takesAllowed}`).slice(0, 3))
    .toEqual(['60000 2', '120000 1', '120000 1']);
  await page.getByRole('button', { name: /^Undo: \d items changed/ }).click();
  await expect.poll(async () => (await stored(page)).items.every(i => i.answerLimitMs === 60_000)).toBe(true);
  await context.close();
});

test('a run and a turn are heard where they are, and stop; an excerpt is typed or marked while it is heard', async ({}, info) => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  // What sounds from the page's own audio clock, in tenths of a second: whether anything was loud in it.
  await page.addInitScript(() => {
    const loud: boolean[] = [];
    Object.assign(window, { loud });
    const connect = AudioNode.prototype.connect as (this: AudioNode, to: AudioNode) => AudioNode;
    let ear: AnalyserNode | null = null;
    AudioNode.prototype.connect = function (this: AudioNode, to: AudioNode) {
      if (to instanceof AudioDestinationNode) {
        if (!ear || ear.context !== to.context) {
          const own = (ear = new AnalyserNode(to.context as AudioContext, { fftSize: 4096 }));
          const samples = new Float32Array(own.fftSize);
          setInterval(() => {
            own.getFloatTimeDomainData(samples);
            loud.push(samples.some(x => Math.abs(x) > 0.02));
          }, 100);
        }
        connect.call(this, ear);
      }
      return connect.call(this, to);
    } as typeof AudioNode.prototype.connect;
  });
  const track = info.outputPath('track.mp3');
  trackOf(track, [2, 2, 2]);
  await begun(page, 'Heard here');
  await page.getByLabel('Prompt', { exact: true }).fill('');
  await page.getByLabel('Answered', { exact: true }).selectOption('conversation');
  await page.getByLabel('Audio file for the track').setInputFiles(track);
  await expect(page.getByText('3 turns found. Each can be adjusted.')).toBeVisible();
  // Turns are a prompt of their own.
  await expect(page.getByRole('button', { name: 'Release …' })).toBeEnabled();
  await page.getByLabel('One gap for all').fill('2');
  await page.getByRole('button', { name: 'Give every turn this gap' }).click();
  const heard = () => page.evaluate(() => (window as unknown as { loud: boolean[] }).loud);
  const times = async () => (await heard()).join('').match(/(true)+/g)?.length ?? 0;
  await page.getByRole('button', { name: 'Hear the whole run' }).click();
  await expect(page.getByRole('progressbar', { name: 'Turn 1 sounds' })).toBeVisible();
  await expect(page.getByRole('progressbar', { name: 'Turn 2 sounds' })).toBeVisible();
  await expect.poll(times).toBeGreaterThanOrEqual(2);
  await page.getByRole('button', { name: /^Stop \d/ }).click();
  await expect.poll(async () => (await heard()).slice(-5).some(Boolean)).toBe(false);
  // One turn alone: at once, and again stopped.
  const before = (await heard()).length;
  await page.getByRole('button', { name: 'Hear turn 3' }).click();
  await expect.poll(async () => (await heard()).slice(before).some(Boolean)).toBe(true);
  await page.getByRole('button', { name: 'Stop turn 3' }).click();
  await expect(page.getByRole('button', { name: 'Hear turn 3' })).toBeVisible();
  await page.getByRole('button', { name: 'Adjust' }).nth(2).click();
  await page.getByRole('region', { name: 'Conversation' }).getByRole('button', { name: 'Take out' }).click();
  await expect(page.getByText('2 turns, runs')).toBeVisible();
  await undo(page, 'the turns of item 1');
  await expect(page.getByText('3 turns, runs')).toBeVisible();

  const long = info.outputPath('long.wav');
  speak(long, 30, 2);
  await page.getByRole('button', { name: 'Add an item', exact: true }).click();
  await page.getByLabel('Audio file for the prompt').setInputFiles(long);
  await page.getByRole('button', { name: 'Take an excerpt of the prompt' }).click();
  await page.getByLabel('From', { exact: true }).fill('0:03.5');
  await page.getByLabel('To', { exact: true }).fill('40');
  await expect(page.getByText('At most 0:30.0.')).toBeVisible();
  await page.getByLabel('To', { exact: true }).fill('0:12');
  await expect(page.getByRole('button', { name: 'Keep these 0:08' })).toBeEnabled();
  await page.getByRole('button', { name: 'Hear the excerpt' }).click();
  await expect(page.getByRole('button', { name: /^Stop 0:0[4-9]/ })).toBeVisible();
  await page.getByRole('button', { name: 'It begins here' }).click();
  await page.getByRole('button', { name: /^Stop 0:/ }).click();
  await page.getByRole('button', { name: /^Keep these 0:0[1-8]/ }).click();
  await expect(page.getByRole('button', { name: /^Put the whole back/ })).toBeVisible();
  await context.close();
});

test('assessments and classes are put away and found again; a draft thrown away comes back', async ({}, info) => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const title = `Away ${info.retry}-${Date.now()}`;
  await begun(page, title);
  await saved(page);
  // A shelf on which looking is worth it.
  for (let n = 0; n < 8; n++)
    await ask(page, '/api/assessments', 'POST', { ...blankContent('homework', { title: `Other ${n}` }) });
  await page.goto('/set');
  await page.getByLabel('Find by title or prompt').fill(title.toUpperCase());
  const row = page.getByRole('region', { name: 'Your assessments' }).getByRole('listitem');
  await expect(row).toHaveCount(1);
  await page.getByRole('button', { name: `More for ${title}` }).click();
  await page.getByRole('menuitem', { name: 'Throw this draft away' }).click();
  await expect(page.getByText(/is thrown away\. For thirty days/)).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: /^Put away/ }).click();
  await page.getByRole('button', { name: `Put “${title}” back on the shelf` }).click();
  await page.getByLabel('Find by title or prompt').fill('what do you hear');
  await expect(page.getByRole('link', { name: new RegExp(title) })).toBeVisible();

  await page.goto('/classes');
  await page.getByLabel('Name', { exact: true }).fill(title);
  await page.getByRole('button', { name: 'Make this class' }).click();
  await page.getByRole('button', { name: 'Name and subject …' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill(`${title} renamed`);
  await page.getByRole('dialog').getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByRole('heading', { name: `${title} renamed` })).toBeVisible();
  await page.getByRole('button', { name: 'Put this class away' }).click();
  await expect(page.getByText('This class is put away: it is in no list.')).toBeVisible();
  await page.getByRole('link', { name: 'Classes', exact: true }).last().click();
  await page.getByRole('button', { name: /^Put away/ }).click();
  await page.getByRole('button', { name: `Put ${title} renamed back` }).click();
  // The two lists are asked again one after the other.
  await expect(page.getByRole('button', { name: `Put ${title} renamed back` })).toHaveCount(0);
  await expect(page.getByRole('link', { name: new RegExp(`${title} renamed`) })).toBeVisible();
  await context.close();
});

test('a student’s name is put right, and they move to another class with a way back', async ({}, info) => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const [one, other, name] = ['One', 'Other', 'Vesna'].map(w => `${w} ${info.retry}-${Date.now() % 1e6}`);
  const made = [];
  for (const n of [one, other])
    made.push(
      (await ask<{ id: string }>(page, '/api/classes', 'POST', { name: n, subject: 'music' })).body.id,
    );
  await page.goto(`/classes/${made[0]}`);
  await page.getByLabel('Name', { exact: true }).fill('Vensa');
  await page.getByRole('button', { name: 'Add to this class' }).click();
  await page.getByRole('button', { name: 'More for Vensa' }).click();
  await page.getByRole('menuitem', { name: 'Correct name or mail …' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill(name!);
  await page.getByRole('dialog').getByLabel('Mail address, if there is one').fill('no address');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText('This is no mail address.')).toBeVisible();
  await page.getByRole('dialog').getByLabel('Mail address, if there is one').fill('vesna@brackwater.example');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep it' }).click();
  await page.getByRole('button', { name: `More for ${name}` }).click();
  await page.getByRole('menuitem', { name: 'Move to another class …' }).click();
  await page.getByRole('dialog').getByLabel('To').selectOption({ label: other! });
  await page.getByRole('button', { name: `Move to ${other}` }).click();
  await expect(page.getByText(`${name} is in ${other} now.`)).toBeVisible();
  await expect(page.getByRole('button', { name: `More for ${name}` })).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: `More for ${name}` })).toBeVisible();
  await context.close();
});

test('a rubric is kept by name and begun with elsewhere; a spoken item is heard in the bank before it is taken', async ({}, info) => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const name = `Consort ${info.retry}-${Date.now() % 1e6}`;
  await begun(page, `${name} one`);
  await page.getByLabel('Prompt', { exact: true }).fill('');
  await spoken(page, /0:0[1-9]/);
  await page.getByRole('button', { name: /^Scoring/ }).click();
  await page.getByRole('radio', { name: 'Rubric' }).click();
  await page.getByRole('button', { name: 'Performance', exact: true }).click();
  await page.getByRole('checkbox', { name: /^Students read the rubric/ }).click();
  await page.getByLabel('Name of criterion 1').fill('Notes and rests');
  await page.getByLabel('Pass mark').fill('60 %');
  await expect(page.getByText('3 of 5 points to reach; it follows them.')).toBeVisible();
  await page.getByLabel('Keep this rubric under a name').fill(name);
  await page.getByRole('button', { name: 'Keep it on the shelf' }).click();
  await expect(page.getByText(`“${name}” is on your shelf, for any assessment.`)).toBeVisible();
  await saved(page);

  await begun(page, `${name} two`);
  await page.getByRole('button', { name: /^Scoring/ }).click();
  await page.getByRole('radio', { name: 'Rubric' }).click();
  await page.getByLabel('A rubric of yours').selectOption({ label: name });
  await expect(page.getByLabel('Name of criterion 1')).toHaveValue('Notes and rests');
  // Hidden from students there, it is hidden here.
  await expect(page.getByRole('checkbox', { name: /^Students read the rubric/ })).not.toBeChecked();
  await page.getByRole('button', { name: 'From the item bank …' }).click();
  await page.getByLabel('Words', { exact: true }).fill(`${name} one`);
  const heard = page.getByRole('button', { name: `Play item 1 of “${name} one”` });
  await heard.click();
  await expect(page.getByRole('button', { name: `Pause item 1 of “${name} one”` })).toBeVisible();
  await page.getByRole('dialog').getByRole('checkbox').first().click();
  await page.getByRole('button', { name: 'Take this item' }).click();
  await expect
    .poll(async () => (await stored(page)).items.at(-1)?.promptDurationMs ?? 0)
    .toBeGreaterThan(500);
  await context.close();
});
