import { expect, test, type Browser, type Page } from '@playwright/test';
import ExcelJS from 'exceljs';
import type { Markbook, ResultsClass } from '@ecoute/contract/results';
import { fit } from './support/fit';
import { silence } from './support/sound';
import { ask, browserHearing, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('silence.wav');
  silence(wav, 1);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const CLASS = 'Portuguese A2, Tuesdays';
const transport = (page: Page) => page.getByRole('region', { name: 'Transport' });
const grid = (page: Page) => page.getByRole('grid', { name: `Markbook of ${CLASS}` });

async function openMarkbook(page: Page): Promise<{ id: string; book: Markbook }> {
  await page.goto('/results');
  await page.getByRole('link', { name: new RegExp(CLASS) }).click();
  await expect(grid(page)).toBeVisible();
  const { body } = await ask<ResultsClass[]>(page, '/api/results');
  const { id } = body.find(c => c.name === CLASS)!;
  return { id, book: (await ask<Markbook>(page, `/api/classes/${id}/markbook`)).body };
}

/** The cell that the focus names. */
const here = (page: Page) =>
  page.evaluate(
    () =>
      document.getElementById(document.activeElement?.getAttribute('aria-activedescendant') ?? '')?.ariaLabel,
  );

/** To the first student's cell in a column, however far it lies. */
async function goTo(page: Page, column: number): Promise<void> {
  await grid(page).focus();
  await page.keyboard.press('Control+Home');
  for (let n = 0; n < column; n++) await page.keyboard.press('ArrowRight');
}

test('a class at a glance: cells by keyboard, heard in place, narrowed, sorted, printed, and into the lane', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { book } = await openMarkbook(page);
  const at = book.columns.findIndex(c => c.title === 'A morning in Brackwater');
  await goTo(page, at);
  await expect.poll(() => here(page)).toBe('13.5 / 20, feedback given');
  const beside = page.getByRole('region', { name: 'The cell in focus' });
  await expect(beside.getByRole('heading')).toHaveText('Amara Okonjo-Reyes');
  await page.keyboard.press('Space');
  await expect(transport(page)).toContainText('1 of 3');
  await expect(transport(page)).toContainText('A morning in Brackwater · Amara Okonjo-Reyes, 1');
  await page.keyboard.press('n');
  await expect(transport(page)).toContainText('2 of 3');
  await page.keyboard.press('p');
  await expect(transport(page)).toContainText('1 of 3');
  await expect(transport(page).getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(transport(page).getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await transport(page).getByRole('button', { name: 'Close the transport' }).click();
  await fit(page, 'markbook');

  // A group of four, those with most points first.
  await page.getByLabel('Group', { exact: true }).selectOption({ label: 'Window table' });
  await page.getByRole('button', { name: 'Sort by average' }).click();
  const names = grid(page).getByRole('rowheader');
  await expect(names).toHaveCount(4);
  await expect(names.nth(0)).toContainText('%');
  await expect(page).toHaveURL(/sort=-average/);
  await page.reload();
  await expect(names).toHaveCount(4);
  await page.getByLabel('Group', { exact: true }).selectOption('');
  await page.getByRole('button', { name: /^Sort by name/ }).click();

  // On paper it is all there, also what was not in sight.
  await page.evaluate(() => {
    window.print = () => void (document.body.dataset.printed = document.querySelector('main')!.textContent!);
  });
  await page.getByRole('button', { name: 'Print' }).click();
  const printed = await page.evaluate(() => document.body.dataset.printed!);
  for (const { displayName } of book.students) expect(printed).toContain(displayName);
  expect(printed).toContain('13.5 / 20, feedback given');
  expect(printed).toContain('Averages are points reached of points carried');

  await goTo(page, at);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/listen\/.*sitting=/);
  await expect(page.locator('li[aria-current]')).toContainText(/\d/);
  await expect(page.getByRole('combobox').filter({ hasText: 'Amara Okonjo-Reyes' }).first()).toHaveValue(
    book.cells[0]![at]!.sittingId!,
  );
  // Back from there, and after a reload, one is where one was; sorting takes the cell along.
  const chosen = grid(page).getByRole('gridcell', { selected: true });
  await page.goBack();
  await expect(chosen).toHaveAccessibleName('13.5 / 20, feedback given');
  await page.reload();
  await expect(chosen).toBeInViewport();
  await expect(beside.getByRole('heading')).toHaveText('Amara Okonjo-Reyes');
  await page.getByRole('button', { name: /^Sort by name/ }).click();
  await expect(beside.getByRole('heading')).toHaveText('Amara Okonjo-Reyes');
  await context.close();
});

test('a workbook of a term, opened again and held against the markbook cell by cell', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { id } = await openMarkbook(page);
  // A term that is over: nobody else changes anything in it meanwhile.
  const day = (ago: number) => new Date(Date.now() - ago * 86_400_000).toISOString().slice(0, 10);
  const term = { name: `Early weeks ${Date.now()}`, firstOn: day(90), lastOn: day(5) };
  const terms = await ask<{ id: string; name: string }[]>(page, '/api/terms', 'POST', term);
  await page.reload();
  await page.getByLabel('Term', { exact: true }).selectOption({ label: term.name });
  await expect(page).toHaveURL(/term=/);
  const days = `from=${term.firstOn}&to=${term.lastOn}`;
  const { body: book } = await ask<Markbook>(page, `/api/classes/${id}/markbook?${days}`);
  await expect(grid(page).getByRole('columnheader')).toHaveCount(book.columns.length + 1);
  await page.getByRole('button', { name: 'Take it along …' }).click();
  await page.getByRole('radio', { name: /^Workbook/ }).check();
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByRole('heading', { name: 'Exports' })).toBeVisible();
  const made = page.getByRole('list', { name: 'Exports' }).getByRole('listitem').first();
  await expect(made).toContainText('kept until');
  await fit(page, 'exports');
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    made.getByRole('link', { name: 'Save' }).click(),
  ]);
  const workbook = new ExcelJS.Workbook();
  await workbook.xlsx.readFile(await saved.path());
  const [scores, levels] = [workbook.getWorksheet('Scores')!, workbook.getWorksheet('Levels')!];
  let compared = 0;
  for (const [sheet, of] of [
    [scores, (c: Markbook['columns'][number]) => c.carries !== null || c.scheme === 'done'],
    [levels, (c: Markbook['columns'][number]) => c.scheme === 'level'],
  ] as const) {
    const places = book.columns.flatMap((c, i) => (of(c) ? [i] : []));
    for (const [n, student] of book.students.entries()) {
      const row = sheet.getRow(n + 4);
      expect(row.getCell(1).value).toBe(student.displayName);
      for (const [at, place] of places.entries()) {
        const [cell, column] = [book.cells[n]![place], book.columns[place]!];
        const isMarked = cell && ['marked', 'feedbackGiven', 'answered'].includes(cell.state);
        const score =
          cell?.level != null ? column.scale[cell.level] : isMarked ? (cell.points ?? cell.done) : null;
        const word = cell?.namesHidden
          ? 'heard without names'
          : cell?.excused
            ? 'excused'
            : cell?.missing
              ? 'missing'
              : null;
        expect(row.getCell(at + 5).value).toBe(score ?? word);
        compared += 1;
      }
    }
  }
  expect(compared).toBeGreaterThanOrEqual(36);
  await ask(page, `/api/terms/${terms.body.find(t => t.name === term.name)!.id}`, 'DELETE');
  await made.getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByText(saved.suggestedFilename())).toHaveCount(0);
  await context.close();
});

test('one release in numbers: a bar plays those in it, answers in an order of one’s own', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { book } = await openMarkbook(page);
  // Its column may lie far from those in sight.
  const { releaseId } = book.columns.find(c => c.title === 'A morning in Brackwater')!;
  await page.goto(`/results/releases/${releaseId}`);
  await expect(page.getByText('10 students handed in, 10 wholly marked.')).toBeVisible();
  await expect(page.getByText(/Alpha 0\.\d\d, with this many students between/)).toBeVisible();
  const answers = page.getByRole('table', { name: 'Answers to item 1' });
  await expect(answers.getByRole('row')).toHaveCount(11);
  await page.getByRole('button', { name: /^12\.5 to below 15 points: 4 students\. Play them/ }).click();
  await expect(transport(page)).toContainText('1 of 12');
  await expect(answers.getByRole('row')).toHaveCount(5);
  await page.getByRole('button', { name: 'Show all' }).click();
  await answers.getByRole('button', { name: 'score' }).click();
  await expect(answers.getByRole('row').nth(1)).toContainText('4.5');
  await answers.getByRole('button', { name: 'score' }).click();
  await expect(answers.getByRole('row').nth(1)).toContainText('3');
  await page.getByRole('button', { name: /^2 · O que comes/ }).click();
  const second = page.getByRole('table', { name: 'Answers to item 2' });
  await second.getByRole('link', { name: 'Chiyo Hanamura' }).click();
  await expect(page).toHaveURL(/\/listen\//);
  await page.goBack();
  await expect(second).toBeVisible();
  await transport(page).getByRole('button', { name: 'Close the transport' }).click();
  await fit(page, 'numbers');
  await context.close();
});

test('a student’s year, first against latest by a key, and the same talk before and after', async () => {
  const { page, context } = await signIn(browser, 'ines');
  await openMarkbook(page);
  await grid(page).getByRole('link', { name: 'Chiyo Hanamura' }).click();
  const line = page.getByRole('list', { name: 'Sittings in the order of their dates' });
  await expect(line.getByRole('listitem').first()).toContainText('A1');
  await page.keyboard.press('x');
  const [first, latest] = (
    await page
      .getByRole('list')
      .filter({ has: page.getByLabel(/^Answer of/) })
      .getByRole('listitem')
      .allTextContents()
  ).map(words => /^\d+ \w+ \d{4}/.exec(words)![0]);
  await expect(transport(page)).toContainText(first!);
  await page.keyboard.press('x');
  await expect(transport(page)).toContainText(latest!);
  expect(first).not.toBe(latest);
  await expect(page.getByRole('heading', { name: 'What keeps coming back' })).toBeVisible();
  await transport(page).getByRole('button', { name: 'Close the transport' }).click();
  await fit(page, 'a year');

  await page.goBack();
  await page.getByRole('link', { name: 'Before and after' }).click();
  await expect(
    page.getByText('Of 8 students with a level in both, 6 rose, 0 fell and 2 stayed.'),
  ).toBeVisible();
  await expect(page.getByText(/signed ranks, p = 0\.031, exact/)).toBeVisible();
  const chiyo = page.getByRole('row', { name: /Chiyo/ });
  await expect(chiyo).toContainText('A1');
  await expect(chiyo).toContainText('A2');
  await chiyo.getByRole('button', { name: 'Play Chiyo Hanamura before and after' }).click();
  await expect(transport(page)).toContainText('1 of 4');
  await transport(page).getByRole('button', { name: 'The next one' }).click();
  await expect(transport(page)).toContainText('Chiyo Hanamura, after');
  await transport(page).getByRole('button', { name: 'Close the transport' }).click();
  await fit(page, 'before and after');

  await page.getByRole('link', { name: 'Can-do' }).click();
  await page.getByRole('button', { name: /^Chiyo Hanamura, I can tell how my day goes/ }).click();
  const behind = page.getByRole('region', { name: 'What stands behind it' });
  await expect(behind.getByRole('listitem').first()).toBeVisible();
  await behind.getByRole('button', { name: /in turn/ }).click();
  await expect(transport(page)).toContainText('1 of');
  await transport(page).getByRole('button', { name: 'Close the transport' }).click();
  await fit(page, 'can-do');
  await context.close();
});

test('a coordinator sees what the class lets them, and nothing that sounds', async () => {
  const teacher = await signIn(browser, 'ines');
  const guide = await signIn(browser, 'halvard');
  const { id, book } = await openMarkbook(teacher.page);
  const choose = async (what: RegExp) => {
    await teacher.page.getByRole('button', { name: 'How it adds up …' }).click();
    await teacher.page.getByRole('radio', { name: what }).check();
    await teacher.page.getByRole('button', { name: 'Keep it' }).click();
    await expect(teacher.page.getByRole('dialog')).toHaveCount(0);
  };
  await choose(/^nothing/);
  await guide.page.goto('/results');
  await expect(guide.page.getByText('its teachers have not opened its figures')).not.toHaveCount(0);
  await expect(guide.page.getByRole('link', { name: new RegExp(CLASS) })).toHaveCount(0);
  await guide.page.goto(`/results/${id}`);
  await expect(guide.page.getByRole('alert')).toContainText('have not opened its figures');
  await choose(/^figures of the class/);
  await guide.page.goto(`/results/${id}`);
  await expect(guide.page.getByText(/^81 % · of 10/)).toBeVisible();
  await expect(guide.page.getByText('Amara')).toHaveCount(0);
  await choose(/^each student/);
  await guide.page.goto(`/results/${id}`);
  await expect(grid(guide.page)).toContainText('Amara');
  await goTo(
    guide.page,
    book.columns.findIndex(c => c.title === 'A morning in Brackwater'),
  );
  await expect(grid(guide.page)).toContainText('13.5');
  await expect(guide.page.getByRole('button', { name: /^Play/ })).toHaveCount(0);
  await expect(guide.page.getByRole('link', { name: 'Can-do' })).toHaveCount(0);
  await fit(guide.page, 'a coordinator’s markbook');
  await choose(/^nothing/);
  await teacher.context.close();
  await guide.context.close();
});

test('a student hears their own year on a phone', async () => {
  const { page, context } = await signIn(browser, 'amara', 'phone');
  await page.goto('/recordings');
  await page.getByRole('link', { name: /^My year/ }).click();
  await expect(page.getByRole('heading', { name: 'My year' })).toBeVisible();
  await page.getByRole('button', { name: 'First against latest (X)' }).click();
  await expect(page.getByRole('button', { name: 'Now the latest (X)' })).toBeVisible();
  await expect(transport(page)).toContainText('Where you stand: a talk');
  await transport(page).getByRole('button', { name: 'Close the transport' }).click();
  await fit(page, 'my year on a phone');

  // The same for a program that plays podcasts, at an address that can be taken away.
  await page.goto('/recordings');
  await page.getByRole('button', { name: 'In a podcast program …' }).click();
  await page.getByRole('button', { name: /^(Make an address|A new address)$/ }).click();
  const shown = page.getByText(/\/feeds\/.*work\.rss$/);
  const address = new URL((await shown.textContent())!).pathname;
  const feed = await page.request.get(address);
  expect([feed.status(), (await feed.text()).includes('<enclosure')]).toEqual([200, true]);
  await fit(page, 'a podcast address');
  await page.getByRole('button', { name: 'No address any more' }).click();
  await expect(shown).toHaveCount(0);
  expect((await page.request.get(address)).status()).toBe(404);
  await context.close();
});
