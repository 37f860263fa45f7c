import { expect, test, type Browser, type Page } from '@playwright/test';
import type { AccountList } from '@ecoute/contract/administration';
import type { ClassDetail, SignInSlip } from '@ecoute/contract/classes';
import type { SheetView } from '@ecoute/contract/ink';
import type { SittingView, TodoEntry } from '@ecoute/contract/sittings';
import { blankStimulus } from '@ecoute/contract/blank';
import { pictureOf } from './support/files';
import { fit } from './support/fit';
import { silence, speak } from './support/sound';
import { ask, browserHearing, PASSWORD, passDeviceCheck, released, signIn, stored } from './support/world';

let browser: Browser;
test.beforeAll(async ({}, info) => {
  const wav = info.outputPath('voice.wav');
  speak(wav, 30, 2);
  browser = await browserHearing(wav);
  await newTeacher();
});
test.afterAll(() => browser.close());

/** A teacher of small children alone: what other journeys count on at their own teachers stays as it is. */
const TEACHER = 'mairi';
async function newTeacher(): Promise<void> {
  const { page, context } = await signIn(browser, 'halvard', 'desk', { opens: false });
  const signInName = `${TEACHER}@brackwater.example`;
  const account = { displayName: 'Mairi Sand', signInName, role: 'teacher' };
  const made = await ask<AccountList>(page, '/api/administration/people', 'POST', account);
  // After a failed journey the next ones begin anew, and she is there.
  if (made.status === 200) {
    const { id } = made.body.people.find(p => p.signInName === signInName)!;
    const path = `/api/administration/people/${id}/code`;
    const { code } = (await ask<{ code: string }>(page, path, 'POST', {})).body;
    const begun = await ask(page, '/api/first-sign-in', 'POST', { code, password: PASSWORD });
    expect(begun.status).toBe(200);
  }
  await context.close();
}

/** A class of small children with one of them, by the teacher's own means. */
async function smallClass(teacher: Page, name: string): Promise<{ classId: string; childId: string }> {
  const made = await ask<ClassDetail>(teacher, '/api/classes', 'POST', { name, subject: 'language' });
  const added = await ask<ClassDetail>(teacher, `/api/classes/${made.body.id}/students`, 'POST', {
    displayName: `Ada of ${name}`,
  });
  const childId = added.body.members.find(m => m.role === 'student')!.id;
  return { classId: made.body.id, childId };
}

/** A child before a tablet: nothing is read, what is heard is noted. */
async function childAt(browser: Browser, address: string): Promise<{ page: Page; said: string[] }> {
  const context = await browser.newContext({
    viewport: { width: 390, height: 844 },
    hasTouch: true,
    locale: 'en-GB',
    permissions: ['microphone'],
  });
  const page = await context.newPage();
  const said: string[] = [];
  page.on('response', response => {
    const word = /spoken-words\/(\w+-\w+)$/.exec(response.url())?.[1];
    if (word && response.ok()) said.push(word);
    if (/\/spoken(\/|\?|$)/.test(response.url()) && response.ok()) said.push('asked');
  });
  await page.goto(address);
  return { page, said };
}
const heard = (said: string[], word: string) => expect.poll(() => said).toContain(word);
const press = (page: Page, name: string | RegExp) =>
  page
    .getByRole('button', { name, exact: typeof name === 'string' })
    .last()
    .click();

/** What is under the first of two quick taps, and what came up in its place, which the second one must not press. */
async function tapTwice(page: Page, name: string, then: string): Promise<void> {
  await page.getByRole('button', { name, exact: true }).last().dblclick();
  await settled(page);
  await expect(page.getByRole('button', { name: then, exact: true }).last()).toBeVisible();
}
const settled = (page: Page) => expect(page.locator('[data-settled=true]')).toBeVisible();

/** Waits until so much of an answer is recorded, by the ring of what is left. */
async function recorded(page: Page, ms: number): Promise<void> {
  const left = () => page.getByTestId('time-left').getAttribute('data-left-ms').then(Number);
  await expect(page.getByRole('button', { name: 'I have finished: stop' })).toBeVisible();
  const most = await left();
  await expect.poll(left).toBeLessThan(most - ms);
}

/** Draws a line across the sheet, `down` of its height below the top. */
async function line(page: Page, down: number): Promise<void> {
  const box = (await page.locator('[data-sheet]').boundingBox())!;
  const at = (x: number): [number, number] => [box.x + box.width * x, box.y + box.height * down];
  await page.mouse.move(...at(0.1));
  await page.mouse.down();
  for (let n = 1; n <= 10; n++) await page.mouse.move(...at(0.1 + 0.08 * n), { steps: 2 });
  await page.mouse.up();
}
const linesOn = (page: Page, sheet: string) =>
  page.getByRole('img', { name: sheet }).locator('polyline').count();

test('a child who cannot read sits alone, from the slip to done: sees, hears, draws, speaks, gives it', async ({}, info) => {
  const { page: teacher, context } = await signIn(browser, TEACHER, 'desk', { opens: false });
  const { classId, childId } = await smallClass(teacher, 'Small Boats');
  const pictureId = await stored(teacher, pictureOf(info.outputPath('harbour.png')), 'picture');
  const picture = blankStimulus(crypto.randomUUID(), 'picture', {
    recordingId: pictureId,
    words: 'A harbour',
  });
  const releaseId = await released(
    teacher,
    'What is in the harbour?',
    [
      {
        promptText: 'Draw a boat here, and tell me about it.',
        stimuli: [picture],
        sheet: 'picture',
        startsBy: 'student',
        prepareMs: 0,
        answerLimitMs: 60_000,
        takesAllowed: 2,
      },
      {
        promptText: 'What did you do this morning?',
        startsBy: 'student',
        prepareMs: 20_000,
        takesAllowed: 1,
      },
      // Its time is part of what is asked: it is kept back, and read when its time begins.
      { promptText: 'And what do you like?', prepareMs: 3_000, answerLimitMs: 12_000, takesAllowed: 1 },
    ],
    { directions: 'Look, and tell me.', stimuli: [picture] },
    classId,
  );

  // The teacher prints a slip; a lost one is replaced, after a question.
  await teacher.goto(`/classes/${classId}/slips`);
  await press(teacher, 'Make a slip to print');
  await expect(teacher.getByRole('img', { name: /Code of Ada/ })).toBeVisible();
  await fit(teacher, 'slips');
  const slips = await ask<SignInSlip[]>(teacher, `/api/classes/${classId}/slips`, 'POST', {
    personIds: [childId],
  });
  const { hash } = new URL(slips.body[0]!.address);
  const { page, said } = await childAt(browser, `${new URL(teacher.url()).origin}/in${hash}`);

  // In, and told what there is.
  await expect(page.getByRole('heading', { level: 1, name: 'What is in the harbour?' })).toBeVisible();
  expect(page.url()).not.toContain(hash.slice(1));
  await heard(said, 'en-begin');
  await fit(page, 'first page of a child');
  await press(page, 'Begin');
  await expect(page.getByRole('img', { name: 'A harbour' })).toBeVisible();
  await expect.poll(() => said.filter(s => s === 'asked').length).toBe(2);
  await fit(page, 'directions for a child');
  await press(page, 'Begin');
  await expect(page.getByRole('button', { name: 'I am heard: go on' })).toBeVisible();
  await heard(said, 'en-heard');
  await tapTwice(page, 'I am heard: go on', 'Answer now');

  // Draws and speaks.
  await heard(said, 'en-draw');
  await fit(page, 'an item for a child');
  await press(page, 'Answer now');
  await expect(page.locator('[data-sheet]')).toBeVisible();
  // What is recorded goes on its way each second: there is no moment without a request.
  await fit(page, 'a sheet while it records', false);
  await expect(page.getByRole('button', { name: 'I have finished: stop' })).toBeInViewport({ ratio: 1 });
  await line(page, 0.3);
  await press(page, 'red');
  await expect.poll(() => linesOn(page, 'Sheet to draw on')).toBe(1);
  await line(page, 0.6);
  await line(page, 0.9);
  await press(page, 'Take the last line back');
  await expect.poll(() => linesOn(page, 'Sheet to draw on')).toBe(2);
  await press(page, 'I have finished: stop');
  await heard(said, 'en-recordedAgain');
  await expect.poll(() => linesOn(page, 'What was drawn')).toBe(2);
  await fit(page, 'after an answer of a child');

  // Once more: both are there, the one that is pressed counts.
  await press(page, 'Record again');
  await expect(page.locator('[data-sheet]')).toBeVisible();
  await line(page, 0.5);
  await press(page, 'I have finished: stop');
  await heard(said, 'en-whichCounts');
  await press(page, 'Take 1');
  await expect(page.getByRole('button', { name: 'Take 1' })).toHaveAttribute('aria-pressed', 'true');
  await fit(page, 'two takes of a child');
  await press(page, 'Go on');

  // A reload loses nothing, and leads back to what is open.
  await expect(page.getByRole('button', { name: 'Prepare' })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: 'Prepare' })).toBeVisible();
  // On another tablet, by the same slip: it says where it is open, and takes nothing by itself.
  const other = await childAt(browser, `${new URL(teacher.url()).origin}/in${hash}`);
  await press(other.page, 'Go on');
  await heard(other.said, 'en-elsewhere');
  await expect(other.page.getByRole('button', { name: 'Go on here' })).toBeVisible();
  await other.page.context().close();
  await press(page, 'Prepare');
  await expect(page.getByRole('button', { name: 'I am ready: answer now' })).toBeVisible();
  // Nothing leads while one thinks or speaks.
  await expect(page.getByRole('button', { name: 'Hear it' })).toHaveCount(0);
  // With the keyboard: the focus is on what comes next.
  const next = async (name: string) => {
    await expect(page.getByRole('button', { name, exact: true }).last()).toBeFocused();
    await settled(page);
    await page.keyboard.press('Enter');
  };
  await next('I am ready: answer now');
  // Back asks in shapes, and what runs goes on behind it.
  await recorded(page, 500);
  await page.goBack();
  await expect(page.getByRole('alertdialog')).toBeVisible();
  await fit(page, 'a child who would leave', false);
  await press(page, 'Stay and go on');
  await expect(page.getByRole('alertdialog')).toHaveCount(0);
  await recorded(page, 1_500);
  await page.getByRole('button', { name: 'I have finished: stop' }).focus();
  await next('I have finished: stop');
  await heard(said, 'en-recorded');
  await next('Go on');
  const read = said.filter(s => s === 'asked').length;
  await press(page, 'Prepare');
  await expect.poll(() => said.filter(s => s === 'asked').length).toBe(read + 1);
  await expect(page.getByRole('button', { name: 'I have finished: stop' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Go on', exact: true })).toBeVisible();
  await press(page, 'Go on');

  // Gives it: one press asks, another one gives.
  await heard(said, 'en-give');
  await fit(page, 'the places of a child', false);
  await press(page, 'Hand in');
  await heard(said, 'en-sure');
  await press(page, 'Not yet');
  await settled(page);
  await tapTwice(page, 'Hand in', 'Not yet');
  await press(page, 'Hand in');
  await heard(said, 'en-done');
  await fit(page, 'done', false);
  await press(page, 'To the first page');
  await heard(said, 'en-nothing');

  // The teacher hears it and sees it drawn again.
  const [entry] = (await ask<TodoEntry[]>(page, '/api/todo')).body;
  expect(entry).toMatchObject({ releaseId, state: 'handedIn' });
  const sitting = (await ask<SittingView>(page, `/api/sittings/${entry!.sittingId}`)).body;
  const counting = sitting.receipt!.lines[0]!.takeId!;
  expect(sitting.takes.find(take => take.id === counting)!.number).toBe(1);
  const { sheet } = (await ask<{ sheet: SheetView }>(page, `/api/takes/${counting}/sheet`)).body;
  expect(sheet.overId).toBe(pictureId);
  const [first, second, gone] = sheet.ink.strokes;
  expect([first!.pen, second!.pen, gone!.goneMs !== undefined]).toEqual([0, 2, true]);
  const ends = first!.points.at(-1)!;
  expect(second!.points[2]!).toBeGreaterThan(ends);
  await teacher.goto(`/listen/${releaseId}`);
  await expect.poll(() => linesOn(teacher, 'What was drawn')).toBe(2);
  await teacher
    .getByRole('button', { name: /^Play (?!the)/ })
    .first()
    .click();
  await expect.poll(() => linesOn(teacher, 'What was drawn'), { intervals: [20] }).toBeLessThan(2);
  await expect.poll(() => linesOn(teacher, 'What was drawn')).toBe(2);
  await page.context().close();
  await context.close();
});

test('a child whose microphone hears nothing is told to fetch a grown-up; a slip that was replaced opens nothing', async ({}, info) => {
  const mute = info.outputPath('silence.wav');
  silence(mute, 20);
  const deaf = await browserHearing(mute);
  const { page: teacher, context } = await signIn(browser, TEACHER, 'desk', { opens: false });
  const { classId, childId } = await smallClass(teacher, 'Quiet Boats');
  await released(
    teacher,
    'Say your name',
    [{ promptText: 'Say your name.', startsBy: 'student', prepareMs: 0 }],
    {},
    classId,
  );
  const slip = () =>
    ask<SignInSlip[]>(teacher, `/api/classes/${classId}/slips`, 'POST', { personIds: [childId] });
  const inBy = (slips: SignInSlip[]) =>
    `${new URL(teacher.url()).origin}/in${new URL(slips[0]!.address).hash}`;
  await teacher.goto('/');
  const old = (await slip()).body;
  const { page, said } = await childAt(deaf, inBy((await slip()).body));
  await press(page, 'Begin');
  await press(page, 'Begin');
  await heard(said, 'en-notHeard');
  await fit(page, 'a microphone that hears nothing');
  // Whoever is fetched may go on all the same; the take says at once that nothing is heard.
  await press(page, 'Go on all the same');
  await press(page, 'Answer now');
  await expect(page.getByText(/Nothing is heard/)).toBeVisible();
  await press(page, 'I have finished: stop');
  await page.context().close();

  const { page: late } = await childAt(deaf, inBy(old));
  await expect(
    late.getByText('This slip is not good any more. Ask your teacher for a new one.'),
  ).toBeVisible();
  await fit(late, 'a slip that is not good');
  await late.context().close();
  await deaf.close();
  await context.close();
});

test('draw and speak on an ordinary stage: over a picture of one’s own, offline, on paper', async ({}, info) => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const { page, context } = await signIn(browser, 'greta', 'desk', { opens: false });
  const releaseId = await released(teacher, 'Show me your desk', [
    { promptText: 'Show me your desk.', sheet: 'own', startsBy: 'student', prepareMs: 0, takesAllowed: 1 },
  ]);
  await page.goto(`/sit/${releaseId}`);
  await passDeviceCheck(page);
  await page
    .getByLabel('A picture of your own to draw on')
    .setInputFiles(pictureOf(info.outputPath('desk.png'), '400x400'));
  await expect(page.getByRole('img', { name: 'Your picture' })).toBeVisible();
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.locator('[data-sheet]')).toBeVisible();
  // All of the sheet and the way to stop are in sight, also of a square one.
  await expect(page.locator('[data-sheet]')).toBeInViewport({ ratio: 0.99 });
  await context.setOffline(true);
  await line(page, 0.5);
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByText('on its way', { exact: true })).toBeVisible();
  await expect.poll(() => linesOn(page, 'What was drawn')).toBe(1);
  await context.setOffline(false);
  await expect(page.getByText('stored safely')).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  const entry = (await ask<TodoEntry[]>(page, '/api/todo')).body.find(e => e.releaseId === releaseId)!;
  const sitting = (await ask<SittingView>(page, `/api/sittings/${entry.sittingId}`)).body;
  const { sheet } = (await ask<{ sheet: SheetView }>(page, `/api/takes/${sitting.takes[0]!.id}/sheet`)).body;
  expect(sheet).toMatchObject({ overId: sitting.takes[0]!.pictureId, ink: { height: 1000 } });
  expect(sheet.overId).not.toBeNull();
  // The picture is on its way of its own, and is looked at when it is here.
  const shown = () => page.request.get(`/api/recordings/${sheet.overId}/shown`).then(r => r.status());
  await expect.poll(shown).toBe(200);
  await context.close();
  await first.close();
});
