import { expect, test, type Browser } from '@playwright/test';
import type { AssessmentDraft } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { pdfOf, pictureOf, reach, scoreOf } from './support/files';
import { speak } from './support/sound';
import { ask, browserHearing, passDeviceCheck, releaseCalled, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 9, 4);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

test('everything a prompt may show: set with its mistakes, rehearsed and seen as it was set', async ({}, info) => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  await page.getByLabel('Title', { exact: true }).fill('Along the quay');
  // Formatted words: typed as one types, found again after a reload.
  await page.getByRole('textbox', { name: 'Prompt', exact: true }).click();
  await page.keyboard.type('Tell us:');
  await page.keyboard.press('Enter');
  const tools = page.getByRole('toolbar', { name: 'Format of the prompt' });
  await tools.getByRole('button', { name: 'List', exact: true }).click();
  await page.keyboard.type('who is there');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+b');
  await page.keyboard.type('why');
  await page.keyboard.press('Control+b');
  await page.keyboard.type(' they wait');

  const files = page.getByLabel('File to show with the prompt');
  await files.setInputFiles(pictureOf(info.outputPath('quay.png')));
  const picture = page.getByRole('region', { name: /^Picture/ });
  await picture.getByLabel('What it shows').fill('Three people at a ferry');
  await files.setInputFiles(scoreOf('quay.musicxml', { Treble: 'GABG', Tenor: 'DEFD' }));
  const notation = page.getByRole('region', { name: /^Notation/ });
  await expect(notation.getByText('This score has 2 parts.')).toBeVisible();
  await expect(notation.locator('svg').first()).toBeVisible();
  await notation.getByLabel('Part').selectOption('Tenor');
  await notation.getByLabel('Transposed').selectOption({ label: '2 half tones higher' });
  await expect(notation.getByText('starting note, E4').first()).toBeVisible();
  await page.getByRole('button', { name: 'Passage', exact: true }).click();
  await page.getByLabel('Passage', { exact: true }).fill('המעבורת יוצאת בשש.');
  await page
    .getByRole('region', { name: /^Passage/ })
    .getByLabel('Language')
    .selectOption('he');

  // What cannot be shown is said by name; nothing else is touched.
  await files.setInputFiles([
    await pdfOf('locked.pdf', ['secret'], 'quay'),
    {
      name: 'torn.musicxml',
      mimeType: 'text/xml',
      buffer: Buffer.from('<score-partwise>\n<part>\n</score-partwise>'),
    },
    { name: 'clip.mp3', mimeType: 'audio/mpeg', buffer: Buffer.from('ID3 but nothing else'.repeat(40)) },
  ]);
  await expect(page.getByText('locked.pdf: This PDF asks for a password')).toBeVisible();
  await expect(page.getByText('torn.musicxml: This MusicXML breaks off in line 3.')).toBeVisible();
  await expect(page.getByText(/clip\.mp3: This is neither a picture/)).toBeVisible();
  for (let left = 3; left > 0; left--) {
    await page.getByRole('button', { name: 'Throw it away' }).first().click();
    await expect(page.getByRole('button', { name: 'Throw it away' })).toHaveCount(left - 1);
  }
  await page.getByRole('button', { name: 'Link', exact: true }).last().click();
  await page.getByLabel('Address').fill('javascript:alert(1)');
  await expect(page.getByText(/An address begins with https/)).toBeVisible();
  await page.getByLabel('Address').fill('https://tides.example/today');
  await expect(page.getByText('Everything is saved')).toBeVisible();

  // Pages become items while their progress is seen; a second deck is let go of in the middle.
  await page
    .getByLabel('PDF or slides, an item a page')
    .setInputFiles(await pdfOf('quay.pdf', ['The pier', 'The ferry', 'The market']));
  await expect(page.getByRole('button', { name: /^4 Page 3/ })).toBeVisible();
  await page
    .getByLabel('PDF or slides, an item a page')
    .setInputFiles(await pdfOf('long.pdf', Array(150).fill('a page')));
  await expect(page.getByText(/long\.pdf: Drawing page \d+ of 150/)).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(page.getByText(/Drawing page/)).toHaveCount(0);
  await expect(page.getByRole('button', { name: /^5 / })).toHaveCount(0);
  await expect(page.getByText('Everything is saved')).toBeVisible();

  await page.reload();
  const id = page.url().split('/').pop()!;
  const { body } = await ask<AssessmentDraft>(page, `/api/assessments/${id}`);
  expect(body.content.items.map(i => i.stimuli.map(s => s.kind))).toEqual([
    ['picture', 'notation', 'passage', 'link'],
    ['pages'],
    ['pages'],
    ['pages'],
  ]);
  expect(body.content.items[0]).toMatchObject({
    promptText: 'Tell us:\n– who is there\n– why they wait',
    stimuli: [{ words: 'Three people at a ferry' }, { part: 'P2', semitones: 2 }, { language: 'he' }, {}],
  });

  await page.getByRole('button', { name: 'Try it as a student' }).click();
  await passDeviceCheck(page);
  await expect(page.getByRole('listitem').filter({ hasText: 'why they wait' }).locator('strong')).toHaveText(
    'why',
  );
  await expect(page.getByRole('img', { name: 'Three people at a ferry' })).toBeVisible();
  await expect(
    page
      .getByRole('img', { name: /^Notation/ })
      .locator('svg')
      .first(),
  ).toBeVisible();
  await expect(page.getByText('המעבורת')).toHaveCSS('direction', 'rtl');
  await page.getByRole('button', { name: /Hear the starting note, E4/ }).click();
  await page.getByRole('button', { name: 'Item 2', exact: true }).click();
  await page.getByRole('button', { name: 'Enlarge: The pier' }).click();
  await expect(page.getByRole('dialog')).toBeVisible();
  await page.keyboard.press('Escape');
  await context.close();
});

test('a long recording is cut to an excerpt on its waveform, and the whole can be put back', async ({}, info) => {
  const long = info.outputPath('long.wav');
  speak(long, 30, 2);
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  await page.getByLabel('Audio file for the prompt').setInputFiles(long);
  await page.getByRole('button', { name: 'Take an excerpt of the prompt' }).click();
  const [from, to] = ['Beginning of the excerpt', 'End of the excerpt'].map(name =>
    page.getByRole('slider', { name }),
  );
  for (let n = 0; n < 10; n++) await from!.press('Shift+ArrowRight');
  for (let n = 0; n < 30; n++) await to!.press('Shift+ArrowLeft');
  await page.getByRole('slider', { name: 'Beginning, close up' }).press('ArrowRight');
  const lengthMs =
    Number(await to!.getAttribute('aria-valuenow')) - Number(await from!.getAttribute('aria-valuenow'));
  await page.getByRole('button', { name: /^Keep these/ }).click();
  await expect(page.getByRole('button', { name: /Put the whole back \(0:30\)/ })).toBeVisible();
  await expect(page.getByText('Everything is saved')).toBeVisible();
  const stored = async () =>
    (await ask<AssessmentDraft>(page, `/api/assessments/${page.url().split('/').pop()}`)).body.content
      .items[0]!;
  // To the sample: what was chosen is what is stored.
  expect((await stored()).promptDurationMs).toBe(lengthMs);
  await page.getByRole('button', { name: /Put the whole back/ }).click();
  await expect(page.getByText('Everything is saved')).toBeVisible();
  await expect.poll(async () => (await stored()).promptDurationMs).toBe(30_000);
  await context.close();
});

test('answers on camera, from the screen and with a file; the student judges first, the teacher sees and hears', async ({}, info) => {
  const { page: teacher, context: first } = await signIn(browser, 'ines');
  const common = { prepareMs: 0, answerLimitMs: 20_000, startsBy: 'student' as const };
  const title = `Seen and heard ${info.retry}`;
  const id = await released(
    teacher,
    title,
    [
      { ...common, answerBy: 'video', promptText: 'Show a bowline.' },
      { ...common, answerBy: 'screen', promptText: 'Read this page aloud.' },
      { ...common, answerBy: 'file', promptText: 'Hand in your notes.' },
    ],
    { selfAssessment: 'beforeHearing' },
  );
  const { page, context } = await signIn(browser, 'jovan', 'phone', { opens: false });
  await context.grantPermissions(['microphone', 'camera']);
  await page.goto(`/sit/${id}`);
  await passDeviceCheck(page);
  for (const open of ['Open the camera', 'Choose what to show']) {
    await page.getByRole('button', { name: open }).click();
    await page.getByRole('button', { name: 'Answer now' }).click();
    await expect(page.getByTestId('time-left')).toHaveText(/^0:1[0-8]$/);
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(page.getByText('stored safely')).toBeVisible();
    // Nothing to hear before something is said.
    await expect(page.getByText('Say first how it went; then you can hear yourself.')).toBeVisible();
    await expect(page.getByRole('button', { name: 'Play take 1' })).toHaveCount(0);
    await page.getByLabel('In your own words').fill(`${open}: it held.`);
    await page.getByLabel(/Points you would give yourself/).fill('4.5');
    await expect(page.getByRole('button', { name: 'Play take 1' })).toBeVisible();
    await page
      .getByTestId('stage-bar')
      .getByRole('button', { name: /^Item \d$/ })
      .click();
  }
  await page.getByLabel('File to hand in').setInputFiles(await pdfOf('notes.pdf', ['First a loop']));
  await expect(page.getByText('stored safely')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Enlarge: First a loop' })).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  // What was not said of the third is asked for, once.
  await expect(page.getByRole('alertdialog', { name: 'You have not said how it went' })).toContainText(
    'Item 3',
  );
  await page.getByRole('button', { name: 'Hand in as it is' }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  const { body } = await ask<SittingView>(page, `/api/releases/${id}/sitting`, 'POST');
  expect(body.takes.map(t => t.recording.medium).sort()).toEqual(['pages', 'video', 'video']);

  await teacher.goto(`/listen/${id}`);
  await teacher.getByRole('tab', { name: 'Answer' }).click();
  await expect(teacher.getByText('Jovan Petrakov says:')).toBeVisible();
  await expect(teacher.getByText('Open the camera: it held.')).toBeVisible();
  await teacher.keyboard.press('Space');
  await expect(teacher.getByRole('img', { name: /The film of Jovan/ }).locator('video')).toBeVisible();
  for (const [points, waiting] of [
    ['4', '3 answers'],
    ['5', '2 answers'],
    ['3', '1 answer'],
  ] as const) {
    await expect(teacher.getByText(waiting, { exact: true })).toBeVisible();
    await teacher.keyboard.press(points);
    await teacher.keyboard.press('Enter');
  }
  await expect(teacher.getByText('Everything here is marked.')).toBeVisible();
  await teacher.getByRole('button', { name: 'Give feedback to 1 …' }).click();
  await teacher
    .getByRole('dialog')
    .or(teacher.getByRole('alertdialog'))
    .getByRole('button', { name: /^Give it/ })
    .click();
  await expect(teacher.getByText(/1 sitting is with/)).toBeVisible();
  await page.goto('/feedback');
  await page.getByRole('link', { name: new RegExp(title) }).click();
  await expect(page.getByText('You said:').first()).toBeVisible();
  await expect(page.getByRole('link', { name: 'notes.pdf' })).toBeVisible();
  await first.close();
  await context.close();
});

test('a prompt filmed in place; the student hears it, then themselves, and only then says how it went', async ({}, info) => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  await first.grantPermissions(['microphone', 'camera']);
  const title = `Filmed ${info.retry}`;
  await teacher.goto('/set');
  await teacher.getByRole('button', { name: 'Set a new assessment' }).click();
  await teacher.getByLabel('Title', { exact: true }).fill(title);
  await teacher.getByRole('button', { name: 'Film it: the prompt' }).click();
  await expect(teacher.getByText('Recording the prompt').locator('xpath=..')).toContainText(/0:0[2-9]/);
  await teacher.getByRole('button', { name: 'Stop', exact: true }).click();
  // A still of it, before it plays.
  const still = teacher.getByRole('img', { name: 'The prompt', exact: true }).first().locator('img');
  await expect(still).toHaveJSProperty('complete', true);
  await expect(still).not.toHaveJSProperty('naturalWidth', 0);
  await teacher.getByRole('button', { name: /^Scoring/ }).click();
  await teacher.getByRole('radio', { name: 'Rubric' }).click();
  await teacher.getByRole('button', { name: 'Speaking', exact: true }).click();
  await teacher.getByRole('button', { name: /^The whole sitting/ }).click();
  await teacher.getByRole('radio', { name: 'Once they have heard themselves' }).click();
  await teacher.getByRole('button', { name: 'Release …' }).click();
  await teacher.getByRole('button', { name: 'Release now' }).click();
  await expect(teacher.getByText(/It is open for \d+ students now/)).toBeVisible();

  const { page, context } = await signIn(browser, 'kamala', 'phone', { opens: false });
  await page.goto(`/sit/${teacher.url().split('/').pop()}`);
  await passDeviceCheck(page);
  await page.getByRole('button', { name: 'Hear the prompt' }).click();
  await expect(page.getByRole('img', { name: 'The film of the prompt' }).locator('video')).toBeVisible();
  await page.getByRole('button', { name: /ready: answer now/ }).click();
  await expect(page.getByText(/0:0[2-9] of/)).toBeVisible();
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  await expect(page.getByText('Hear yourself; then say how it went.')).toBeVisible();
  // The film gives the one player back without silencing what sounds next.
  await page.getByRole('button', { name: 'Play take 1' }).click();
  await expect(page.getByRole('heading', { name: 'How did it go?' })).toBeVisible();
  await page.getByRole('radio').nth(2).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  await first.close();
  await context.close();
});

test('a department’s shelf: a colleague changes, the other is told who saved and what differs; copies and templates', async () => {
  const { page: ines, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const { page: tobias, context: second } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const title = `Shared ${Date.now() % 100_000}`;
  await ines.goto('/set');
  await ines.getByRole('button', { name: 'Set a new assessment' }).click();
  await ines.getByLabel('Title', { exact: true }).fill(title);
  await ines.getByRole('textbox', { name: 'Prompt', exact: true }).fill('What do you see?');
  await expect(ines.getByText('Everything is saved')).toBeVisible();
  const address = ines.url();
  // Nobody but its owner, until it is shared.
  await tobias.goto(address);
  await expect(tobias.getByText(/There is nothing here that you can open/)).toBeVisible();
  await ines.goto('/set');
  await ines.getByRole('button', { name: `More for ${title}` }).click();
  await ines.getByRole('menuitem', { name: 'Show it to colleagues …' }).click();
  const department = `Harbour ${Date.now() % 100_000}`;
  await ines.getByLabel('A new department').fill(department);
  await ines.getByRole('button', { name: 'Make it' }).click();
  const part = ines.getByRole('region', { name: department });
  await part.getByLabel('Another colleague').fill('nobody@brackwater.example');
  await part.getByRole('button', { name: 'Add' }).click();
  await expect(part.getByText('No teacher here signs in with this name.')).toBeVisible();
  await part.getByLabel('Another colleague').fill('tobias@brackwater.example');
  await part.getByRole('button', { name: 'Add' }).click();
  await expect(part.getByText(/is asked\. Once they say yes/)).toBeVisible();
  await part.getByRole('radio', { name: 'they may change it' }).click();
  await ines.getByRole('button', { name: 'Done' }).click();
  // Nobody is on a shelf before they have said yes.
  await tobias.goto(address);
  await expect(tobias.getByText(/There is nothing here that you can open/)).toBeVisible();
  await tobias.goto('/');
  await tobias
    .getByRole('listitem')
    .filter({ hasText: department })
    .getByRole('button', { name: 'Join' })
    .click();
  await expect(tobias.getByText(`the department ${department}`)).toHaveCount(0);

  await tobias.goto('/set');
  await tobias.getByRole('region', { name: 'From colleagues' }).getByText(title).click();
  await expect(tobias.getByLabel('Title', { exact: true })).toHaveValue(title);
  await ines.goto(address);
  await tobias.getByRole('textbox', { name: 'Prompt', exact: true }).fill('What do you hear?');
  await expect(tobias.getByText('Everything is saved')).toBeVisible();
  await ines.getByLabel('Title', { exact: true }).fill(`${title}, once more`);
  await expect(ines.getByText(/Tobias .* saved this assessment since you opened it here/)).toBeVisible();
  await expect(ines.getByText(/Changed: item 1/)).toBeVisible();
  await ines.getByRole('button', { name: 'Take the other' }).click();
  await expect(ines.getByRole('textbox', { name: 'Prompt', exact: true })).toHaveText('What do you hear?');

  // A template is begun from, not worked on; a colleague's as well.
  await ines.goto('/set');
  await ines.getByRole('button', { name: `More for ${title}` }).click();
  await ines.getByRole('menuitem', { name: 'Keep as a template' }).click();
  await expect(ines.getByRole('region', { name: 'Templates' }).getByText(title)).toBeVisible();
  await tobias.goto('/set');
  await tobias.getByRole('button', { name: `Begin with a copy of ${title}` }).click();
  await expect(tobias.getByLabel('Title', { exact: true })).toHaveValue(title);
  expect(tobias.url()).not.toBe(address);
  await first.close();
  await second.close();
});

test('tags from a CSV list, on items and found again in the item bank', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  await page.getByLabel('Title', { exact: true }).fill('Tagged');
  await page.getByRole('textbox', { name: 'Prompt', exact: true }).fill('Play the scale.');
  await page.getByRole('button', { name: /hint and model answer/ }).click();
  await page.getByRole('button', { name: 'Lists of statements …' }).click();
  const file = page.getByLabel('CSV file with statements');
  await file.setInputFiles({ name: 'empty.csv', mimeType: 'text/csv', buffer: Buffer.from('\n;;\n') });
  await expect(page.getByText('No statement was found in this file.', { exact: false })).toBeVisible();
  // As an older office program writes it: semicolons, and letters in Windows-1252.
  const rows =
    'Code;Statement\r\nP-1;I can play a scale in crotchets, léger.\r\nP-1;I can play a scale in crotchets, léger.\r\nP-2;\r\n';
  await file.setInputFiles({
    name: 'Playing.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(rows, 'latin1'),
  });
  await expect(page.getByText('I can play a scale in crotchets, léger.')).toBeVisible();
  await page.getByText('2 rows are left out').click();
  await expect(page.getByText('Row 4 has no statement.')).toBeVisible();
  await page.getByRole('button', { name: 'Keep 1 statement' }).click();
  await expect(page.getByText('Playing', { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Tags of this item').fill('leger scale');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Take off: P-1/ })).toBeVisible();
  await expect(page.getByText('Everything is saved')).toBeVisible();

  await page.goto('/set');
  await page.getByRole('button', { name: 'Set a new assessment' }).click();
  await page.getByRole('button', { name: 'From the item bank …' }).click();
  await page
    .getByLabel('Tag', { exact: true })
    .selectOption({ label: 'P-1 I can play a scale in crotchets, léger.' });
  await expect(page.getByRole('checkbox')).toHaveCount(1);
  await expect(page.getByText(/of “Tagged”/)).toBeVisible();
  await context.close();
});

test('screens in the language of the assessment: Arabic from right to left, Welsh in the teacher’s words', async () => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const item = { prepareMs: 0, promptText: 'Onde moras?', startsBy: 'student' as const };
  const arabic = await released(teacher, 'In Arabic', [item], { screenLanguage: 'ar' });
  const words = Object.fromEntries(
    ['hearPrompt', 'prepare', 'recording', 'pause', 'goOn', 'again', 'handIn'].map(k => [k, '']),
  );
  const said = { ...item, wordsBefore: { text: 'Take your time.', voice: null } };
  const welsh = await released(teacher, 'In Welsh', [said], {
    screenLanguage: 'cy',
    // Any sentence, with what is filled into it.
    screenWords: [
      { english: 'Item {{number}} of {{total}}', own: 'Eitem {{number}} o {{total}}' },
      { english: 'To the hand-in', own: 'I’r cyflwyno' },
    ],
    recorderWords: { ...words, answer: 'Ateb nawr', stop: 'Rwyf wedi gorffen' } as never,
  });
  const { page, context } = await signIn(browser, 'kamala', 'phone', { opens: false });
  await page.goto(`/sit/${arabic}`);
  await expect(page.locator('html')).toHaveAttribute('dir', 'rtl');
  await page.getByRole('button', { name: 'افحص الميكروفون وابدأ' }).click();
  await page.getByRole('button', { name: /تابع$/ }).click();
  await page.getByRole('button', { name: 'أجب الآن' }).click();
  const spoken = page.getByTestId('time-left');
  await expect(spoken).toContainText(/0:4[0-3]|0:[0-3]\d/);
  await page.getByRole('button', { name: 'انتهيت: أوقف' }).click();
  await expect(page.getByText('محفوظ بأمان')).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

  await page.goto(`/sit/${welsh}`);
  await expect(page.locator('html')).toHaveAttribute('dir', 'ltr');
  await passDeviceCheck(page);
  await expect(page.getByText('Eitem 1 o 1')).toBeVisible();
  // Words on the way ask for nothing, and are no item.
  await expect(page.getByText('Take your time.')).toBeVisible();
  await page.getByRole('button', { name: 'Ateb nawr' }).click();
  await expect(spoken).toContainText(/0:4[0-3]|0:[0-3]\d/);
  await page.getByRole('button', { name: 'Rwyf wedi gorffen' }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  await expect(page.getByRole('button', { name: 'I’r cyflwyno' })).toBeVisible();

  // A student's own choice holds wherever nothing else is set.
  await page.goto('/');
  await page.getByRole('button', { name: /Kamala/ }).click();
  await page.getByRole('menuitemradio', { name: '日本語' }).click();
  await expect(page.getByRole('heading', { name: '今' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: '今' })).toBeVisible();
  await first.close();
  await context.close();
});

test('an assessment set, timed, sectioned and released by keyboard alone', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  await page.goto('/set');
  await reach(page, /^Set a new assessment$/);
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Title', { exact: true })).toBeVisible();
  await reach(page, /^Title$/);
  await page.keyboard.type('By keyboard alone');
  await reach(page, /^Directions$/);
  await page.keyboard.type('Two answers.');
  await reach(page, /^Prompt$/);
  await page.keyboard.type('First?');
  await reach(page, /^Speak the prompt$/);
  await page.keyboard.press('Enter');
  await expect(page.getByText('Recording the prompt').locator('xpath=..')).toContainText(/0:0[1-9]/);
  await reach(page, /^Stop$/);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Play the prompt' })).toBeVisible();
  await reach(page, /^Answered$/);
  await page.keyboard.type('on camera');
  await reach(page, /^Answer limit$/);
  await page.keyboard.press('Control+a');
  await page.keyboard.type('1:30');
  await reach(page, /^Begin a section here$/);
  await page.keyboard.press('Enter');
  await reach(page, /^Add an item$/);
  await page.keyboard.press('Enter');
  await reach(page, /^Prompt$/);
  await page.keyboard.type('Second?');
  await expect(page.getByText('Everything is saved')).toBeVisible();
  await reach(page, /^Release …$/, 300);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'in three days' })).toBeVisible();
  await reach(page, /^in three days$/);
  await page.keyboard.press('Enter');
  await reach(page, /^Release now$/);
  await page.keyboard.press('Enter');
  await expect(page.getByText('It is open for 12 students now.')).toBeVisible();
  const { content } = await releaseCalled(page, 'By keyboard alone');
  expect(content.sections).toHaveLength(1);
  expect(content.items).toMatchObject([
    { promptText: 'First?', answerBy: 'video', answerLimitMs: 90_000 },
    { promptText: 'Second?' },
  ]);
  expect(content.items[0]!.promptDurationMs).toBeGreaterThan(900);
  await context.close();
});
