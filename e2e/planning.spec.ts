import { expect, test, type Browser, type Page } from '@playwright/test';
import type { CalendarView, ReleaseDetail } from '@ecoute/contract/releases';
import { speak } from './support/sound';
import { ask, browserHearing, passDeviceCheck, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 9, 2);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const day = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

/** Carries something to a day of the calendar by hand. */
async function carry(page: Page, what: ReturnType<Page['getByRole']>, to: string): Promise<void> {
  const cell = page.locator(`[data-day="${to}"]`);
  await cell.scrollIntoViewIfNeeded();
  await what.scrollIntoViewIfNeeded();
  const [from, over] = [(await what.boundingBox())!, (await cell.boundingBox())!];
  await page.mouse.move(from.x + 30, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(from.x + 50, from.y + 20, { steps: 3 });
  await page.mouse.move(over.x + over.width / 2, over.y + over.height - 12, { steps: 6 });
  // At the edge of the window the page moves along under the hand.
  await expect(async () => {
    const now = (await cell.boundingBox())!;
    await page.mouse.move(now.x + now.width / 2, now.y + now.height / 2);
    await expect(cell).toHaveClass(/outline-ink/, { timeout: 500 });
  }).toPass({ timeout: 20_000 });
  await page.mouse.up();
}

test('five weekly releases in at most eight actions, past the holidays; moved, undone and taken back', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  const title = `Weekly ${Date.now() % 100_000}`;
  await released(page, title, [{ promptText: 'Say the week.' }]);
  const planned = async () => {
    const { body } = await ask<CalendarView>(page, `/api/calendar?from=${day(1)}&to=${day(120)}`);
    return body.releases.filter(r => r.title === title && r.opensAt > new Date().toISOString());
  };
  // The demo’s days without school begin in ten days and last four: the second week is left out.
  const inMonth = day(5);
  await page.goto('/release');
  let actions = 0;
  const act = async (doing: Promise<unknown>) => {
    actions += 1;
    await doing;
  };
  await act(page.getByRole('radio', { name: 'Month' }).click());
  if (
    inMonth.slice(0, 7) !== day(0).slice(0, 7) &&
    (await page.locator(`[data-day="${inMonth}"]`).count()) === 0
  )
    await act(page.getByRole('button', { name: 'One month later' }).click());
  await act(carry(page, page.getByRole('button', { name: `Put ${title} on a day` }), inMonth));
  await act(page.getByLabel('To', { exact: true }).selectOption('Portuguese A2, Tuesdays'));
  await act(page.getByLabel('Weeks').fill('5'));
  await act(page.getByLabel(`A line for the class on ${inMonth}`).fill('D major, two octaves'));
  await act(page.getByRole('button', { name: /^Put it on/ }).click());
  await expect(page.getByText(`“${title}” is on 5 days.`)).toBeVisible();
  expect(actions).toBeLessThanOrEqual(8);

  const made = await planned();
  expect(made).toHaveLength(5);
  expect(made[0]).toMatchObject({ note: 'D major, two octaves', hidden: false });
  const days = made.map(r => r.opensAt.slice(0, 10)).sort();
  const gaps = days.slice(1).map((d, i) => (Date.parse(d) - Date.parse(days[i]!)) / 86_400_000);
  expect(gaps.every(g => g % 7 === 0)).toBe(true);
  expect(Math.max(...gaps)).toBe(14);
  const { body } = await ask<CalendarView>(page, `/api/calendar?from=${day(0)}&to=${day(60)}`);
  expect(body.holidays.length).toBeGreaterThan(0);
  for (const h of body.holidays) for (const d of days) expect(d < h.firstOn || d > h.lastOn).toBe(true);
  // A student knows nothing of them before their day.
  const { page: student, context: other } = await signIn(browser, 'bram');
  await expect(student.getByText(title)).toHaveCount(1);
  await other.close();

  // Moved by keys, and undone.
  const bar = page.getByRole('button', { name: new RegExp(`^${title}, .*opens`) }).first();
  await bar.focus();
  await page.keyboard.press('Space');
  const held = page.locator('[data-day].outline-ink');
  await expect(held).toBeVisible();
  const from = await held.getAttribute('data-day');
  await page.keyboard.press('ArrowRight');
  await expect(held).not.toHaveAttribute('data-day', from!);
  await page.keyboard.press('Space');
  await expect(page.getByText(`“${title}” moved one day later.`)).toBeVisible();
  expect((await planned()).map(r => r.opensAt.slice(0, 10)).sort()).not.toEqual(days);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await planned()).map(r => r.opensAt.slice(0, 10)).sort()).toEqual(days);
  // The step before that one can be taken back as well.
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await planned()).length).toBe(0);
  await context.close();
});

test('a series: its due time changed from here on in three actions, moved, corrected and taken back as one', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  const title = `Term ${Date.now() % 100_000}`;
  const id = await released(page, title, [{ promptText: 'Say the day.' }]);
  const { body: one } = await ask<ReleaseDetail>(page, `/api/releases/${id}`);
  const at = (n: number, hours: number) => `${day(n)}T${String(hours).padStart(2, '0')}:00:00.000Z`;
  await ask(page, '/api/release-series', 'POST', {
    assessmentId: one.assessmentId,
    classId: one.classId,
    dueAt: at(3, 18),
    lateAccepted: true,
    note: '',
    timeZone: 'UTC',
    each: [2, 9, 16].map((n, k) => ({ opensAt: at(n, 8), dueAt: at(n + 2, 18), note: `line ${k + 1}` })),
  });
  const series = async () => {
    const { body } = await ask<CalendarView>(page, `/api/calendar?from=${day(0)}&to=${day(60)}`);
    return body.releases.filter(r => r.title.startsWith(title) && r.seriesId !== null);
  };
  const times = async () => (await series()).map(r => `${r.dueAt.slice(0, 16)} ${r.note}`);
  // One of them has hours of its own: undone, it has them again.
  const [, , third] = await series();
  await ask(page, `/api/releases/${third!.id}`, 'PUT', {
    opensAt: third!.opensAt,
    dueAt: at(18, 12),
    lateAccepted: true,
    note: third!.note,
  });
  const asPlaced = [18, 18, 12].map((hours, k) => `${at(4 + 7 * k, hours).slice(0, 16)} line ${k + 1}`);
  expect(await times()).toEqual(asPlaced);
  await page.goto('/release');
  await page.getByRole('radio', { name: 'Month' }).click();
  await page.getByLabel('Go to a month').fill(day(2).slice(0, 7));
  const bar = page.getByRole('button', { name: new RegExp(`^${title}, .*opens`) }).first();
  // Three actions: the release, the time, for whom.
  await bar.click();
  await page.getByLabel('Due at').fill('21:30');
  await page.getByRole('button', { name: 'Keep these times for later ones too' }).click();
  await expect(page.getByText('3 releases now open at 08:00 and are due at 21:30.')).toBeVisible();
  expect(await times()).toEqual([4, 11, 18].map((n, k) => `${day(n)}T21:30 line ${k + 1}`));
  await page.getByRole('radio', { name: 'later ones too' }).click();
  await page.getByRole('button', { name: 'A week later' }).click();
  await expect(page.getByText('3 releases moved a week later.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect.poll(times).toEqual([4, 11, 18].map((n, k) => `${day(n)}T21:30 line ${k + 1}`));
  await page.keyboard.press('Control+z');
  await expect.poll(times).toEqual(asPlaced);

  // What is corrected in the assessment is in what has not opened, but for one that is held.
  const [first, second] = await series();
  await page.goto(`/release/${second!.id}`);
  await page.getByRole('button', { name: 'Hold it as it is' }).click();
  await expect(page.getByText('It is held as it was when it was planned')).toBeVisible();
  await page.goto(`/set/${one.assessmentId}`);
  await expect(page.getByText('2 of them have not opened and follow what you change here')).toBeVisible();
  await page.getByLabel('Title', { exact: true }).fill(`${title} corrected`);
  await expect(page.getByText('Everything is saved')).toBeVisible();
  expect((await series()).map(r => r.title === `${title} corrected`)).toEqual([true, false, true]);

  // Several policies at once, from the release's own page.
  await page.goto(`/release/${first!.id}`);
  await page.getByRole('button', { name: 'Change …' }).click();
  await page.getByRole('radio', { name: 'the whole series' }).click();
  await page.getByRole('switch').click();
  await page.getByRole('button', { name: 'Keep these' }).click();
  await expect(
    page.getByText('3 releases of the series are changed. Each keeps its own line.'),
  ).toBeVisible();
  expect((await series()).every(r => !r.lateAccepted)).toBe(true);

  // Taken back as one: asked first.
  await page.goto('/release');
  await page.getByRole('radio', { name: 'Month' }).click();
  await page.getByLabel('Go to a month').fill(day(2).slice(0, 7));
  await bar.click();
  await page.getByRole('radio', { name: 'all', exact: true }).click();
  await page.getByRole('button', { name: 'Take back …' }).click();
  await page.getByRole('button', { name: 'Take back', exact: true }).click();
  await expect(page.getByText('3 releases taken back.')).toBeVisible();
  expect(await series()).toEqual([]);

  // Open, it is closed in sight, with what becomes of what was recorded.
  await page.goto(`/release/${id}`);
  await page.getByRole('button', { name: 'Close now …' }).click();
  await expect(page.getByText(/whoever is under way can still hand in/)).toBeVisible();
  await page.getByRole('button', { name: 'Close it' }).click();
  await expect(page.getByText(/^Closed, was due/)).toBeVisible();
  await context.close();
});

test('an assessment put on a day from the shelf by keyboard alone, and undone', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  await page.goto('/release?view=week');
  const item = page.getByRole('button', { name: /^Put .* on a day$/ }).first();
  await item.focus();
  await page.keyboard.press('Space');
  await expect(page.getByText(/^Took up /)).toBeAttached();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('[data-day].outline-ink')).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('dialog').getByText(/^Opens .*, due/)).toBeVisible();
  await page.getByLabel('To', { exact: true }).selectOption('Recorder consort, first year');
  const dialog = page.getByRole('dialog');
  // A day that has begun is said before it is put there.
  await dialog.getByLabel('Opens at').fill('00:00');
  await expect(dialog.getByText(/students see it as soon as it is put there/)).toBeVisible();
  await dialog.getByRole('checkbox', { name: 'Shown by hand' }).click();
  await expect(dialog.getByText(/students see it as soon as it is put there/)).toBeHidden();
  await dialog.getByLabel('Also to').selectOption('Recorder consort, first year, Tenors and basses');
  await dialog.getByRole('button', { name: 'Put it there for 2' }).press('Enter');
  await expect(page.getByText(/” is on .*, 2 releases in all\./)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).press('Enter');
  await expect(page.getByText(/” is on /)).toHaveCount(0);
  await context.close();
});

test('a guest by link on a phone: told what it costs, in by a name, back to the feedback; assigned to a student', async ({}, info) => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const title = `Open door ${info.retry}`;
  const id = await released(teacher, title, [
    { promptText: 'Who are you?', prepareMs: 0, answerLimitMs: 10_000, startsBy: 'student' },
  ]);
  await teacher.goto(`/release/${id}`);
  await teacher.getByRole('button', { name: 'Let guests in …' }).click();
  await teacher.getByLabel('Class code').fill('herring');
  await teacher.getByRole('button', { name: 'Make the link' }).click();
  const url = new URL((await teacher.getByText(/\/g\/[\w-]+/).textContent())!);
  await teacher.getByRole('link', { name: 'On the screen' }).click();
  await expect(teacher.getByRole('img', { name: /^QR code/ })).toBeVisible();
  await teacher.getByRole('link', { name: 'Back' }).click();

  const phone = await browser.newContext({
    baseURL: process.env.ECOUTE_URL ?? 'http://127.0.0.1:4310',
    viewport: { width: 390, height: 844 },
    permissions: ['microphone'],
  });
  const page = await phone.newPage();
  await page.goto('/g/2222-3333-4444');
  await expect(page.getByText(/does not lead anywhere/)).toBeVisible();
  await page.goto(url.pathname);
  await expect(page.getByText(/costs nothing and needs no account.*180 days/)).toBeVisible();
  await page.getByLabel('Your name').fill('Jovan');
  await page.getByLabel('Class code').fill('cod');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page.getByText('That is not the class code.')).toBeVisible();
  await page.getByLabel('Class code').fill('Herring');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await passDeviceCheck(page);
  await page.getByRole('button', { name: 'Answer now' }).click();
  await expect(page.getByText(/0:0[2-9] of 0:10/)).toBeVisible();
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(page.getByText('stored safely')).toBeVisible();
  await page.getByRole('button', { name: 'To the hand-in' }).click();
  await page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  const back = new URL((await page.getByText(/\/back\/[\w-]+/).textContent())!);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  // The same device finds its way by the door.
  await page.goto(url.pathname);
  await page.getByRole('button', { name: 'Go on where I was' }).click();
  await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();

  // The teacher marks and returns, then says who it was; and takes that back.
  const { body: lanes } = await ask<{ lanes: { sittingId: string; itemId: string }[] }>(
    teacher,
    `/api/releases/${id}/lanes`,
  );
  const { sittingId, itemId } = lanes.lanes[0]!;
  await ask(teacher, `/api/sittings/${sittingId}/marks/${itemId}`, 'PUT', {
    revision: 0,
    points: 4,
    comment: 'A clear voice.',
    finished: true,
  });
  await ask(teacher, `/api/releases/${id}/feedback`, 'POST', { sittingIds: [sittingId] });
  const elsewhere = await browser.newContext({ baseURL: url.origin });
  const later = await elsewhere.newPage();
  await later.goto(back.pathname);
  await later.getByRole('link', { name: 'Hear the feedback' }).click();
  await expect(later.getByText('A clear voice.')).toBeVisible();
  const guest = teacher.getByRole('listitem').filter({ hasText: 'is probably' });
  await expect(guest.getByRole('combobox')).toContainText('Jovan Petrakov (student)');
  await guest.getByRole('button', { name: 'Yes, the same' }).click();
  const row = teacher.getByRole('row').filter({ hasText: 'Jovan Petrakov' });
  await expect(row.getByText('feedback given')).toBeVisible();
  await teacher.getByRole('button', { name: 'Undo' }).click();
  await expect(teacher.getByRole('rowheader', { name: 'Jovan', exact: true })).toBeVisible();
  for (const context of [first, phone, elsewhere]) await context.close();
});

test('a release for guests alone: nobody of the class has it, and its link is the next step', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  await page.goto('/release/new');
  const title = 'At the fish market';
  await page.getByLabel('Assessment').selectOption(title);
  await page.getByLabel('To', { exact: true }).selectOption({ index: 1 });
  await page.getByRole('radio', { name: 'guests by a link' }).click();
  await page.getByRole('button', { name: 'Release now' }).click();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  await page.getByRole('button', { name: 'Make the link' }).click();
  await expect(page.getByText(/\/g\/[\w-]+/)).toBeVisible();
  await expect(page.getByText(/guests by a link/).first()).toBeVisible();
  const id = page.url().split('/').at(-1)!;
  const { body } = await ask<ReleaseDetail>(page, `/api/releases/${id}`);
  expect(body).toMatchObject({ audience: 'link', students: [] });
  await ask(page, `/api/releases/${id}`, 'DELETE');
  await context.close();
});

test('a class from a list with its mistakes, and a first sign-in by code', async () => {
  const { page, context } = await signIn(browser, 'halvard', 'desk', { opens: false });
  await page.goto('/classes');
  const name = `Evening ${Date.now() % 100_000}`;
  await page.getByLabel('Name').fill(name);
  await page.getByRole('button', { name: 'Make this class' }).click();
  await page.getByRole('link', { name: 'Bring in a list …' }).click();
  const file = page.getByLabel('File with the list');
  await file.setInputFiles({ name: 'photo.csv', mimeType: 'text/csv', buffer: Buffer.from([0, 1, 2, 0]) });
  await expect(page.getByText(/This is no list that can be read/)).toBeVisible();
  // As an older spreadsheet program writes it.
  const rows = `Nom;Remarque;Groupe\r\nÅse Ødegård;sits near the door;Blue\r\n;nobody;\r\nÅse Ødegård;twice;Blue\r\nReïf Zoë;;Red`;
  await file.setInputFiles({
    name: 'evening.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(rows, 'latin1'),
  });
  await expect(page.getByRole('heading', { name: 'evening.csv' })).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'has no name' })).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Column 2 holds' })).toHaveValue('');
  await page.getByRole('button', { name: /^Bring in/ }).click();
  await expect(page.getByText('Done.')).toBeVisible();
  await page.getByRole('link', { name }).last().click();
  await page.getByRole('button', { name: /^Make \d codes to print/ }).click();
  const slip = page.getByRole('listitem').filter({ hasText: 'Reïf Zoë' });
  const code = (await slip.getByText(/^[0-9A-Z]{4}-/).textContent())!;

  const fresh = await browser.newContext({ baseURL: new URL(page.url()).origin });
  const student = await fresh.newPage();
  await student.goto('/sign-in');
  await student.getByRole('link', { name: 'I was given a one-time code' }).click();
  await student.getByLabel('The code you were given').fill('2222-2222-2222');
  await student.getByRole('button', { name: 'Go on' }).click();
  await expect(student.getByText(/This code is not good/)).toBeVisible();
  await student.getByLabel('The code you were given').fill(code.toLowerCase());
  await student.getByRole('button', { name: 'Go on' }).click();
  await student.getByLabel('A password of your own').fill('a-quiet-harbour');
  await student.getByRole('button', { name: 'Begin' }).click();
  await expect(student.getByText(/Nothing to record just now/)).toBeVisible();
  await fresh.close();
  // The class page knows without being asked again.
  await page.goBack();
  await page.goBack();
  await context.close();
});

test('live: two students record at once, the teacher sees it, extends, excuses and reminds in two actions each', async ({}, info) => {
  const { page: teacher, context: first } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const title = `Live ${info.retry}`;
  const id = await released(teacher, title, [
    { promptText: 'Play a long note.', prepareMs: 0, answerLimitMs: 60_000, startsBy: 'student' },
  ]);
  await teacher.goto(`/release/${id}`);
  const row = (name: string) => teacher.getByRole('row').filter({ hasText: name });
  await expect(row('Nuno Farinha').getByText('not opened')).toBeVisible();
  const players = await Promise.all(['nuno', 'pilar'].map(who => signIn(browser, who, 'phone')));
  for (const { page } of players) {
    await page.goto(`/sit/${id}`);
    await passDeviceCheck(page);
    await page.getByRole('button', { name: 'Answer now' }).click();
    await expect(page.getByText(/0:0[1-9] of 1:00/)).toBeVisible();
  }
  // Seen without a reload, while both are still recording.
  for (const name of ['Nuno Farinha', 'Pilar Echeverry'])
    await expect(row(name).getByText('is recording item 1')).toBeVisible();
  await expect(teacher.locator('dl').getByText('2', { exact: true })).toBeVisible();
  for (const { page } of players) await page.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(row('Nuno Farinha').getByText('has answered item 1')).toBeVisible();
  await players[0]!.page.getByRole('button', { name: 'To the hand-in' }).click();
  await players[0]!.page.getByRole('button', { name: 'Hand in', exact: true }).click();
  await expect(row('Nuno Farinha').getByText('handed in', { exact: true })).toBeVisible();

  await teacher.getByRole('button', { name: 'Grant Sven Aaltonen something' }).click();
  await teacher
    .getByRole('menuitem', { name: /^Extend until/ })
    .nth(2)
    .click();
  await expect(row('Sven Aaltonen').getByText(/^until /)).toBeVisible();
  await teacher.getByRole('button', { name: 'Grant Umeko Sakai something' }).click();
  await teacher.getByRole('menuitem', { name: 'Excuse', exact: true }).click();
  await expect(row('Umeko Sakai').getByText('excused')).toBeVisible();
  const { page: sven, context: other } = await signIn(browser, 'sven');
  await expect(sven.getByRole('listitem').filter({ hasText: title })).toContainText('later for you');
  await other.close();

  // The mail goes out by SMTP, to the mailbox that is shown.
  await teacher.getByRole('button', { name: /^Remind the \d+ who have not handed in/ }).click();
  await expect(teacher.getByText(/\d+ reminded by mail/)).toBeVisible();
  await teacher.getByRole('button', { name: 'Tobias Rennick' }).click();
  await teacher.getByRole('menuitem', { name: 'Mailbox of the demo' }).click();
  await expect(teacher.getByText(`${title}: still to do`).first()).toBeVisible();
  await expect(teacher.getByText('to umeko@brackwater.example')).toHaveCount(0);
  const { body } = await ask<ReleaseDetail>(teacher, `/api/releases/${id}`);
  expect(body.students.filter(s => s.remindedAt).length).toBe(body.counts.students - 2);
  for (const { context } of players) await context.close();
  await first.close();
});

test('sat twice where that is allowed; the last one handed in counts; classmates hear each other', async ({}, info) => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const title = `Twice ${info.retry}`;
  await teacher.goto('/set');
  await teacher.getByRole('button', { name: 'Set a new assessment' }).click();
  await teacher.getByLabel('Title', { exact: true }).fill(title);
  await teacher.getByRole('textbox', { name: 'Prompt', exact: true }).fill('Say hello.');
  await teacher.getByLabel('Time to prepare').fill('0:00');
  await teacher.getByRole('button', { name: 'Release …' }).click();
  await teacher.getByLabel('To', { exact: true }).selectOption('Portuguese A2, Tuesdays (12)');
  await teacher.getByRole('button', { name: /^Sittings, scores, listening/ }).click();
  await teacher.getByLabel('Sittings', { exact: true }).selectOption('2');
  await teacher.getByRole('radio', { name: 'classmates, once they have handed in' }).click();
  await teacher.getByRole('button', { name: 'Release now' }).click();
  await expect(teacher.getByText('It is open for 12 students now.')).toBeVisible();
  const id = teacher.url().split('/').pop()!;

  const { page, context } = await signIn(browser, 'farid', 'phone');
  const answer = async () => {
    await passDeviceCheck(page);
    const read = page.getByRole('button', { name: /I have read it|See it and prepare/ });
    await expect(read.or(page.getByRole('button', { name: 'Answer now' }))).toBeVisible();
    await page.getByRole('button', { name: /[Aa]nswer now/ }).click();
    await expect(page.getByText(/0:0[1-9] of/)).toBeVisible();
    await page.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(page.getByText('stored safely')).toBeVisible();
    await page.getByRole('button', { name: 'To the hand-in' }).click();
    await page.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(page.getByText('Handed in. Everything is with your teacher.')).toBeVisible();
  };
  await page.goto(`/sit/${id}`);
  await answer();
  await page.goto('/');
  const entry = page.getByRole('listitem').filter({ hasText: title });
  await entry.getByRole('link', { name: 'Sit it once more' }).click();
  await answer();
  await page.goto('/');
  await expect(entry.getByRole('link', { name: 'See the receipt' })).toBeVisible();
  await expect(entry.getByRole('link', { name: 'Sit it once more' })).toHaveCount(0);
  await entry.getByRole('link', { name: 'Hear the others' }).click();
  await page.getByRole('button', { name: 'Hear them: mine stays handed in' }).click();
  await expect(page.getByText('Nobody else has handed in yet.')).toBeVisible();
  const row = teacher.getByRole('row').filter({ hasText: 'Farid Benamrouche' });
  await expect(row.getByText('sitting 2')).toBeVisible();
  await expect(row.getByText('handed in', { exact: true })).toBeVisible();

  // A third only if the teacher allows it: two actions.
  await teacher.getByRole('button', { name: 'Grant Farid Benamrouche something' }).click();
  await teacher.getByRole('menuitem', { name: 'Allow another sitting' }).click();
  await expect(teacher.getByText('Farid Benamrouche may sit it once more.')).toBeVisible();
  await page.goto('/');
  await expect(entry.getByRole('link', { name: 'Sit it once more' })).toBeVisible();
  await first.close();
  await context.close();
});

test('a coordinator plans for a class and sees where everybody stands, and hears nobody', async () => {
  const { page, context } = await signIn(browser, 'halvard', 'desk', { opens: false });
  await page.goto('/release?view=list');
  await page
    .getByRole('link', { name: /The harbour bell/ })
    .first()
    .click();
  await expect(page.getByRole('row').filter({ hasText: 'Amara Okonjo-Reyes' })).toBeVisible();
  const id = page.url().split('/').pop()!;
  expect((await ask(page, `/api/releases/${id}/lanes`)).status).toBe(404);
  // Nothing leads to what is not theirs to hear.
  await expect(page.getByRole('link', { name: 'Listen', exact: true })).toHaveCount(1);
  await expect(page.getByRole('button', { name: /^Play / })).toHaveCount(0);
  await page.goto('/');
  await expect(page.getByRole('heading', { name: 'You plan for others' })).toBeVisible();
  await expect(page.getByRole('main').getByRole('link', { name: 'Listen' })).toHaveCount(0);
  await page.goto('/listen');
  await expect(page.getByRole('link', { name: /The harbour bell/ })).toHaveCount(0);
  await page.goto('/classes');
  await page.getByRole('link', { name: /Recorder consort/ }).click();
  await expect(page.getByText('Tenors and basses').first()).toBeVisible();
  await expect(page.getByRole('link', { name: /^One-time codes/ })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Add a colleague …' })).toHaveCount(0);
  await context.close();
});

test('an access arrangement given on the class’s page holds in the sitting; a break stops its clock', async ({}, info) => {
  const { page: teacher, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const title = `With time ${info.retry}`;
  const id = await released(
    teacher,
    title,
    [{ promptText: 'Tell us.', prepareMs: 0, answerLimitMs: 20_000, startsBy: 'student' }],
    { sittingLimitMs: 600_000, otherDirections: [{ language: 'nl', text: 'Antwoord rustig.' }] },
  );
  await teacher.goto('/classes');
  await teacher.getByRole('link', { name: /Portuguese A2/ }).click();
  await teacher.getByRole('button', { name: 'More for Dilnoza Yusupova' }).click();
  await teacher.getByRole('menuitem', { name: 'Access arrangement …' }).click();
  const dialog = teacher.getByRole('dialog');
  await dialog.getByLabel(/^Time to prepare/).selectOption('half as much again');
  await dialog.getByLabel('Breaks, minutes in all').fill('5');
  await dialog.getByLabel('Directions in a second language').selectOption('nl');
  await dialog.getByRole('button', { name: 'Keep this' }).click();
  await expect(teacher.getByText('50 % more time, 5 minutes of breaks, directions in Dutch')).toBeVisible();

  const { page, context } = await signIn(browser, 'dilnoza', 'phone', { opens: false });
  await page.goto(`/sit/${id}`);
  await expect(page.getByText('Antwoord rustig.')).toHaveAttribute('lang', 'nl');
  await passDeviceCheck(page);
  await expect(page.getByText(/up to 0:30/i)).toBeVisible();
  const clock = page.getByRole('timer', { name: 'Time left in this sitting' });
  await expect(clock).toContainText(/1[45]:\d\d/);
  await page.getByRole('button', { name: 'Take a break' }).click();
  await expect(page.getByRole('heading', { name: 'A break' })).toBeVisible();
  await expect(page.getByRole('timer', { name: 'Time left for breaks' })).toContainText(/4:5\d/);
  await page.getByRole('button', { name: 'Go on' }).click();
  await expect(clock).toContainText(/1[45]:\d\d/);
  await expect(page.getByRole('button', { name: 'Answer now' })).toBeVisible();
  await first.close();
  await context.close();
});
