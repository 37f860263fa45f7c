import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { expect, test, type Browser, type Page } from '@playwright/test';
import type { AssessmentSummary } from '@ecoute/contract/assessments';
import type { ReleaseEvidence } from '@ecoute/contract/evidence';
import type { ListenView } from '@ecoute/contract/marking';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import { ask, browserHearing, handInTones, passDeviceCheck, released, signIn } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  // The microphone hears somebody play the tune of the demo world.
  const wav = test.info().outputPath('tune.wav');
  const tune = join(import.meta.dirname, '../demo/audio/scales-tune-nuno.ogg');
  const made = spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', tune, '-ac', '1', '-ar', '48000', wav]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

/** The release of the demo world with this title that has answers. */
async function answered(page: Page, title: string): Promise<ListenView> {
  const { body } = await ask<ReleaseSummary[]>(page, '/api/releases');
  for (const { id } of body.filter(r => r.title === title)) {
    const view = (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body;
    if (view.lanes.some(l => l.takeId)) return view;
  }
  throw new Error(`Nobody has answered “${title}”.`);
}

/** Waits until each take of a release was measured. */
async function measured(page: Page, view: ListenView): Promise<ReleaseEvidence> {
  const evidence = async () =>
    (await ask<ReleaseEvidence>(page, `/api/releases/${view.releaseId}/evidence`)).body;
  const takes = view.lanes.flatMap(l => l.takeId ?? []);
  const missing = async () => {
    const known = (await evidence()).takes;
    return takes.filter(id => !(id in known)).length;
  };
  await expect.poll(missing, { timeout: 180_000 }).toBe(0);
  return evidence();
}

const positionOf = (page: Page) => page.getByRole('slider', { name: 'Position' }).inputValue().then(Number);

test('speech has its pauses in the waveform; a reading has them in the passage, and figures beside an earlier answer', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  const view = await answered(page, 'The harbour bell');
  await measured(page, view);
  await page.goto(`/listen/${view.releaseId}`);
  await page.getByRole('tab', { name: 'Measured' }).click();
  const panel = page.getByRole('region', { name: 'Measured' });
  const pause = panel.getByRole('button', { name: /^Pause of \d\.\d s / }).last();
  await expect(pause).toBeVisible();
  await pause.click();
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
  await expect.poll(() => positionOf(page)).toBeGreaterThan(1_000);
  await panel.getByRole('button', { name: 'Pitch line (off)' }).click();
  await expect(page.getByRole('img', { name: /^Pitch, mostly from \d+ to \d+ Hz$/ })).toBeVisible();
  await panel.getByRole('button', { name: 'Pitch line', exact: true }).click();

  // Of the answers at the market, one whose student has answered something like it before.
  const market = await answered(page, 'At the fish market');
  await measured(page, market);
  const first = market.lanes.filter(l => l.takeId && l.itemId === market.content.items[0]!.id);
  let lane = first[0]!;
  for (const l of first) {
    const path = `/api/sittings/${l.sittingId}/items/${l.itemId}/beside`;
    if ((await ask<unknown[]>(page, path)).body.length > 0) lane = l;
  }
  await page.goto(`/listen/${market.releaseId}`);
  await page.getByRole('button', { name: lane.studentName, exact: true }).click();
  await page.getByRole('tab', { name: /^Beside/ }).click();
  const beside = page.getByRole('group', { name: /^Figures beside those of / });
  await expect(beside.getByText('pauses', { exact: true }).locator('xpath=..')).toContainText(/: \d+/);
  await context.close();
});

test('whoever practises hears the target, sees what they sound, and sees at once how it was; in an exam nothing of it is there', async () => {
  const { page, context } = await signIn(browser, 'tobias');
  const view = await answered(page, 'Two scales and a tune');
  const tune = view.content.items[1]!;
  const item = {
    promptText: 'Play the tune.',
    stimuli: tune.stimuli,
    prepareMs: 0,
    answerLimitMs: 30_000,
    startsBy: 'student' as const,
    takesAllowed: 0,
  };
  const id = await released(page, 'The tune, to practise', [item], { evidenceOpens: 'atOnce' });
  const exam = await released(page, 'The tune, for good', [item]);
  const { page: student, context: own } = await signIn(browser, 'mireille', 'phone', { opens: false });
  await student.goto(`/sit/${id}`);
  await passDeviceCheck(student);
  await student.getByRole('button', { name: 'Hear the target' }).click();
  await expect(student.getByRole('button', { name: 'Stop the target' })).toBeVisible();
  await student.getByRole('button', { name: 'Stop the target' }).click();
  await expect(student.getByRole('button', { name: 'Hear the target' })).toBeVisible();
  await student.getByRole('button', { name: 'Tuner', exact: true }).click();
  // The recorder's tune lies between F4 and F6.
  await expect(student.getByTestId('tuner-note')).toHaveText(/^[A-G][♭♯]?[456]$/);
  await student.getByRole('button', { name: 'Answer now' }).click();
  // The tune of 22 s begins anywhere: in so long a recording most of it lies in one piece.
  await expect(student.getByTestId('time-left')).toHaveText(/^0:0[2-6]$/, { timeout: 60_000 });
  await student.getByRole('button', { name: 'I have finished: stop' }).click();
  const panel = student.getByRole('region', { name: 'Measured' });
  await expect(panel.getByText('of the target heard')).toBeVisible();
  await expect(panel.getByRole('list', { name: 'Note by note, against the score' })).toBeVisible();
  await expect(student.getByRole('img', { name: 'Pitch over the line of the score' })).toBeVisible();
  // What is usual in the class is not for students.
  await expect(panel.getByText(/most others/)).toHaveCount(0);
  expect(await student.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

  await student.goto(`/sit/${exam}`);
  await passDeviceCheck(student);
  await student.getByRole('button', { name: 'Answer now' }).click();
  await expect(student.getByTestId('time-left')).toHaveText(/^0:(2[0-7]|[01]\d)$/);
  await student.getByRole('button', { name: 'I have finished: stop' }).click();
  await expect(student.getByText('stored safely')).toBeVisible();
  await expect(student.getByRole('button', { name: 'Hear the target' })).toHaveCount(0);
  await expect(panel).toHaveCount(0);
  await own.close();
  await context.close();
});

test('in a conversation each answer says how soon it began, and the teacher’s turns count for nothing', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const { body: all } = await ask<AssessmentSummary[]>(page, '/api/assessments');
  const talk = all.flatMap(a => a.content.items).find(i => i.turns.length > 1)!;
  const turns = talk.turns.slice(0, 2).map(turn => ({ ...turn, toMs: turn.fromMs + 1_000, gapMs: 3_000 }));
  const id = await released(page, 'A short talk', [
    { promptText: 'Answer.', prepareMs: 0, isConversation: true, turns },
  ]);
  const { page: student, context: own } = await signIn(browser, 'greta', 'desk', { opens: false });
  await handInTones(student, id, 9);
  await own.close();
  const view = (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body;
  const { takes } = await measured(page, view);
  const [take] = Object.values(takes);
  // Tones of 0.6 s each second: of two gaps of 3 s about 3.6 s sound, and none of what sounds in the turns counts.
  expect(take!.figures.speakingSec).toBeGreaterThan(2.5);
  expect(take!.figures.speakingSec).toBeLessThan(4.5);
  await page.goto(`/listen/${id}`);
  const answers = page.getByRole('list', { name: 'Answers in this conversation' }).getByRole('listitem');
  await expect(answers).toHaveCount(2);
  for (const answer of await answers.all())
    await expect(answer).toContainText(/begins after 0\.\d s, speaks [12]\.\d s/);
  await page.getByRole('tab', { name: 'Measured' }).click();
  await expect(page.getByText('until an answer begins')).toBeVisible();
  await context.close();
});

// Last: the demo world is measured while the others run.
test('a performance is seen over its score, note by note, and heard from where it is pressed', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const view = await answered(page, 'Two scales and a tune');
  const { takes, usual } = await measured(page, view);
  // The one that is furthest from its score.
  const lanes = view.lanes.filter(l => l.itemId === view.content.items[0]!.id);
  const worst = lanes.reduce((a, b) =>
    (takes[b.takeId!]!.figures.playedPercent ?? 100) < (takes[a.takeId!]!.figures.playedPercent ?? 100)
      ? b
      : a,
  );
  await page.goto(`/listen/${view.releaseId}`);
  await page.getByRole('button', { name: worst.studentName, exact: true }).click();
  await page.getByRole('tab', { name: 'Measured' }).click();
  const panel = page.getByRole('region', { name: 'Measured' });
  const notes = panel.getByRole('list', { name: 'Note by note, against the score' });
  await expect(notes.getByText('missed').first()).toBeVisible();
  const played = Math.round(takes[worst.takeId!]!.figures.playedPercent!);
  await expect(panel.getByText('of the target heard').locator('xpath=../..')).toContainText(String(played));
  const { low, high } = usual[worst.itemId]!.offCents!;
  await panel.getByRole('button', { name: 'out of tune, as a rule' }).click();
  await expect(panel.getByRole('status')).toContainText('A hundred cents are a half tone');
  await expect(
    panel.getByRole('button', { name: 'out of tune, as a rule' }).locator('xpath=../..'),
  ).toContainText(`most others: ${Math.round(low)} to ${Math.round(high)}`);
  // A note is played from.
  const cells = notes.getByRole('button');
  await cells.last().click();
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
  await expect.poll(() => positionOf(page)).toBeGreaterThan(worst.durationMs! / 2);
  // The line of the score, on the waveform's own scale; switched off and on, also for the next lane.
  const line = page.getByRole('img', { name: 'Pitch over the line of the score' });
  await expect(line).toBeVisible();
  const [track, wave] = await Promise.all([
    line.boundingBox(),
    page.getByRole('img', { name: `Answer of ${worst.studentName}` }).boundingBox(),
  ]);
  expect([track!.x, track!.width]).toEqual([wave!.x, wave!.width]);
  await panel.getByRole('button', { name: 'Pitch line' }).click();
  await expect(line).toBeHidden();
  await panel.getByRole('button', { name: 'Pitch line (off)' }).click();
  await line.click({ position: { x: 1, y: 20 } });
  await expect.poll(() => positionOf(page)).toBeLessThan(3_000);
  // Charts come only when they are asked for.
  const fetched: string[] = [];
  page.on('request', request => fetched.push(request.url()));
  expect(await page.locator('.js-plotly-plot').count()).toBe(0);
  await panel.getByRole('button', { name: 'Longer views (off)' }).click();
  await expect(
    panel.getByRole('img', { name: 'Pitch of the whole take' }).locator('svg').first(),
  ).toBeVisible();
  await expect(panel.getByRole('img', { name: /^Tempo as it went, \d+ on the whole$/ })).toBeVisible();
  expect(fetched.some(url => url.includes('plotly'))).toBe(true);
  await panel.getByLabel('Figure').selectOption({ label: 'early or late, as a rule' });
  await expect(
    panel.getByRole('img', {
      name: new RegExp(`early or late, as a rule: .* among ${lanes.length} answers`),
    }),
  ).toBeVisible();
  await panel.getByRole('button', { name: 'Longer views', exact: true }).click();
  await context.close();
});

test('an answer that says what the model answer says has its words at their times; each is heard by a press or a key', async () => {
  const { page, context } = await signIn(browser, 'ines');
  const view = await answered(page, 'Say it after me');
  await measured(page, view);
  await page.goto(`/listen/${view.releaseId}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  await page.getByRole('tab', { name: 'Measured' }).click();
  await expect(page.getByRole('button', { name: 'Words of the model answer' })).toBeVisible();
  const word = (text: string) => page.getByRole('button', { name: text, exact: true });
  await word('casa').click();
  await expect.poll(() => positionOf(page)).toBeGreaterThan(4_000);
  await word('barco').click();
  await expect.poll(() => positionOf(page)).toBeLessThan(4_000);
  await page.keyboard.press('ArrowRight');
  await expect(word('das')).toBeFocused();
  await context.close();
});

test('two hands are seen bar by bar: where it was begun again is heard by a press, and a figure plays its place', async () => {
  const { page, context } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const view = await answered(page, 'Two hands');
  const { takes } = await measured(page, view);
  await page.goto(`/listen/${view.releaseId}`);
  const lane = view.lanes.find(l => takes[l.takeId!]?.figures.restarts === 1)!;
  await page.getByRole('button', { name: lane.studentName, exact: true }).click();
  await page.getByRole('tab', { name: 'Measured' }).click();
  const panel = page.getByRole('region', { name: 'Measured' });
  const bars = panel.getByRole('list', { name: 'Bar by bar, against the score' });
  const again = bars.getByRole('button', { name: /again from/ });
  await expect(again).toHaveCount(1);
  // Nothing is drawn or said of a pitch that several notes have not.
  await expect(panel.getByRole('button', { name: /Pitch line/ })).toHaveCount(0);
  await expect(panel.getByText('out of tune')).toHaveCount(0);
  await again.click();
  await expect(again).toHaveAttribute('aria-current', 'true');
  const from = await positionOf(page);
  expect(from).toBeGreaterThan(5_000);
  // What a figure means is fetched when it is asked for: without a network that is said.
  await context.setOffline(true);
  await panel.getByRole('button', { name: 'times waited' }).click();
  await expect(panel.getByRole('status')).toContainText('could not be fetched just now');
  await context.setOffline(false);
  await page.reload();
  // Heard from before it was broken off.
  await panel.getByRole('button', { name: 'times begun again' }).click();
  await expect(panel.getByRole('status')).toContainText('Listen for');
  await panel.getByRole('button', { name: 'Hear the place' }).click();
  await expect.poll(() => positionOf(page)).toBeGreaterThan(5_000);
  expect(await positionOf(page)).toBeLessThan(from);
  await context.close();
});
