import { expect, test } from '@playwright/test';
import { join } from 'node:path';
import type { AssessmentDraft } from '@ecoute/contract/assessments';
import type { ReleaseSummary } from '@ecoute/contract/releases';
import type { SittingView } from '@ecoute/contract/sittings';
import { expectSameSound, speak } from './support/sound';
import { ALONE, ask, browserHearing, passDeviceCheck, signIn } from './support/world';

const DATA = process.env.ECOUTE_E2E_DATA ?? '.ecoute';

/** A teacher sets, speaks a prompt and releases; a student answers by phone; the teacher listens and returns; the student hears it. */
test('from a first prompt to feedback, with the sound that was spoken', ALONE, async ({}, info) => {
  const wav = info.outputPath('voice.wav');
  speak(wav, 17, 3);
  const browser = await browserHearing(wav);
  // Of its own, so that the journey may be run again on the same data.
  const title = `Two questions about the harbour ${Date.now()}`;
  try {
    // — Set
    const { page: teacher } = await signIn(browser, 'ines');
    await teacher.getByRole('link', { name: 'Set', exact: true }).click();
    await teacher.getByRole('button', { name: 'Set a new assessment' }).click();
    await teacher.getByLabel('Title', { exact: true }).fill(title);
    await teacher.getByRole('textbox', { name: 'Directions' }).fill('Two short answers.');
    await teacher.getByLabel('Prompt', { exact: true }).fill('Onde moras?');
    await teacher.getByRole('button', { name: 'Speak the prompt' }).click();
    await expect(teacher.getByText('Recording the prompt')).toBeVisible();
    await expect(teacher.getByText('Recording the prompt').locator('xpath=..')).toContainText(
      /0:(0[2-9]|1\d)/,
    );
    await teacher.getByRole('button', { name: 'Stop' }).click();
    await expect(teacher.getByRole('button', { name: 'Play the prompt' })).toBeVisible();
    await teacher.getByLabel('Time to prepare').fill('0:03');
    await teacher.getByLabel('Answer limit').fill('0:09');
    await teacher.getByLabel('Answer begins').selectOption('itself');
    await teacher.getByRole('button', { name: 'Add an item' }).click();
    await teacher.getByLabel('Prompt', { exact: true }).fill('O que vês da janela?');
    await teacher.getByLabel('Time to prepare').fill('0');
    await teacher.getByLabel('Answer limit').fill('12');
    await teacher.getByLabel('Points').fill('2.5');
    await expect(teacher.getByText('Everything is saved')).toBeVisible();

    // Leaving and coming back loses nothing.
    await teacher.reload();
    await expect(teacher.getByLabel('Title', { exact: true })).toHaveValue(title);
    await expect(teacher.getByRole('button', { name: 'Play the prompt' })).toBeVisible();
    await expect(teacher.getByText('7.5 points', { exact: true })).toBeVisible();

    // — Release
    await teacher.getByRole('button', { name: 'Release …' }).click();
    await teacher.getByRole('button', { name: 'in three days' }).click();
    await teacher.getByRole('button', { name: 'Release now' }).click();
    await expect(teacher.getByText('It is open for 12 students now.')).toBeVisible();
    const releases = await ask<ReleaseSummary[]>(teacher, '/api/releases');
    const release = releases.body.find(r => r.title === title)!;

    // What is changed now does not reach what was released.
    const draftPath = `/api/assessments/${release.assessmentId}`;
    const { body: draft } = await ask<AssessmentDraft>(teacher, draftPath);
    const items = draft.content.items.map(i => ({ ...i, promptText: 'Changed afterwards' }));
    const changed = await ask(teacher, draftPath, 'PUT', {
      revision: draft.revision,
      content: { ...draft.content, items },
    });
    expect(changed.status).toBe(200);

    // — Sit, on a phone
    const { page: student } = await signIn(browser, 'jovan', 'phone');
    const entry = student.getByRole('listitem').filter({ hasText: title });
    await entry.getByRole('link', { name: 'Begin' }).click();
    await expect(student.getByText('Two short answers.')).toBeVisible();
    await passDeviceCheck(student);
    // Its time is part of what is asked: nothing is seen before that begins.
    await expect(student.getByText('You see what is asked when you begin.')).toBeVisible();
    await student.getByRole('button', { name: 'Hear the prompt' }).click();
    await expect(student.getByText('Onde moras?')).toBeVisible();
    await expect(student.getByTestId('prepare-left')).toBeVisible();
    // Recording begins automatically after preparing, and ends automatically at the limit.
    await expect(student.getByTestId('time-left')).toBeVisible();
    await expect(student.getByText('stored safely')).toBeVisible();
    await student.getByRole('button', { name: /Record again \(1 take left\)/ }).click();
    await expect(student.getByTestId('time-left')).toBeVisible();
    await expect(student.getByText(/0:0[3-9] of 0:09/)).toBeVisible();
    await student.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(student.getByText('stored safely')).toHaveCount(2);
    await expect(student.getByRole('button', { name: /Record again/ })).toHaveCount(0);
    // The newest counts until the student says otherwise.
    await expect(student.getByRole('radio', { name: 'Take 2 counts' })).toBeChecked();
    await student.getByRole('radio', { name: 'Take 1 counts' }).click();
    await expect(student.getByRole('radio', { name: 'Take 1 counts' })).toBeChecked();
    await student.getByRole('button', { name: 'Item 2', exact: true }).click();
    await student.getByRole('button', { name: 'Answer now' }).click();
    await expect(student.getByText(/0:(0[5-9]|1\d) of 0:12/)).toBeVisible();
    await student.getByRole('button', { name: 'I have finished: stop' }).click();
    await expect(student.getByText('stored safely')).toBeVisible();
    await student.getByRole('button', { name: 'To the hand-in' }).click();
    await expect(student.evaluate(() => document.documentElement.scrollWidth)).resolves.toBeLessThanOrEqual(
      390,
    );
    await student.getByRole('button', { name: 'Hand in', exact: true }).click();
    await expect(student.getByText('Handed in. Everything is with your teacher.')).toBeVisible();

    // — The stored sound is the sound that was played into the microphone
    const begun = await ask<SittingView>(student, `/api/releases/${release.id}/sitting`, 'POST');
    expect(begun.body.receipt!.lines).toHaveLength(2);
    const [first, second] = begun.body.receipt!.lines;
    for (const line of [first!, second!]) {
      const storedMs = expectSameSound(join(DATA, 'sounds/originals', line.takeId!), wav);
      // What comes before the gate and after it is the recorder's own: short, or as long as a stopped machine takes.
      const { gateMs, details } = begun.body.takes.find(t => t.id === line.takeId)!.recording;
      expect(storedMs).toBeLessThan(line.durationMs! - gateMs! + 400);
      // The first ended at its limit, by the clock of the sound. What a stopped machine lost of it is named, or a moment twice.
      const lostMs = (details?.holes ?? []).reduce((ms, h) => ms + h.toMs - h.fromMs, 0);
      if (line === first) expect(Math.abs(storedMs + lostMs - 9_000)).toBeLessThan(700);
    }
    // Prompt, time to prepare and recording follow each other on the audio clock.
    const at = (kind: string) =>
      Date.parse(begun.body.events.find(e => e.itemId === first!.itemId && e.kind === kind)!.at);
    const { promptDurationMs } = begun.body.content.items[0]!;
    expect(Math.abs(at('promptEnded') - at('promptBegan') - promptDurationMs!)).toBeLessThan(150);
    expect(Math.abs(at('prepareBegan') - at('promptEnded'))).toBeLessThan(2);
    expect(at('recordingBegan') - at('prepareBegan')).toBeGreaterThanOrEqual(3_000);
    expect(first!.takeId).toBe(begun.body.takes.find(t => t.itemId === first!.itemId && t.number === 1)!.id);
    expect(first!.durationMs).toBeGreaterThan(8_500);
    expect(second!.durationMs).toBeGreaterThan(4_500);

    // — Nothing of the marking shows before the feedback
    await student.getByRole('link', { name: 'Feedback' }).click();
    await expect(student.getByText(title)).toHaveCount(0);
    expect((await ask(student, `/api/sittings/${begun.body.id}/feedback`)).status).toBe(404);

    // — Listen, by keyboard alone from here
    await teacher.getByRole('link', { name: 'Listen', exact: true }).first().click();
    await teacher.getByRole('link', { name: new RegExp(title) }).click();
    await expect(teacher.getByRole('status').filter({ hasText: '2 answers' })).toBeVisible();
    await expect(teacher.getByLabel('Comment')).toBeVisible();
    await teacher.keyboard.press('Space');
    await expect(teacher.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
    await expect
      .poll(() => teacher.getByRole('slider', { name: 'Position' }).inputValue().then(Number))
      .toBeGreaterThan(1_000);
    await teacher.keyboard.press('Space');
    await teacher.keyboard.press('4');
    await teacher.keyboard.press('w');
    await teacher.keyboard.type('Muito bem! <b>Cuidado</b> com o “r” 🙂');
    await teacher.keyboard.press('Control+Enter');
    await expect(teacher.getByRole('status').filter({ hasText: '1 answer' })).toBeVisible();
    // The next one plays at once; a score beyond the item is refused where it is typed.
    await expect(teacher.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
    await teacher.getByLabel(/Points, of 2.5/).fill('3');
    await teacher.keyboard.press('Enter');
    await expect(teacher.getByText('This item carries at most 2.5 points.')).toBeVisible();
    await teacher.getByLabel(/Points, of 2.5/).fill('2.5');
    await teacher.keyboard.press('Enter');
    await expect(teacher.getByText('Everything here is marked.')).toBeVisible();

    // — Return
    await teacher.getByRole('button', { name: 'Give feedback to 1 …' }).click();
    await teacher.getByRole('button', { name: 'Give it now' }).click();
    await expect(teacher.getByText('1 sitting is with its student now.')).toBeVisible();

    // — Feedback
    await student.reload();
    await student.getByRole('link', { name: new RegExp(title) }).click();
    await expect(student.getByText('Muito bem! <b>Cuidado</b> com o “r” 🙂')).toBeVisible();
    await expect(student.getByText('4 / 5')).toBeVisible();
    await expect(student.getByText('6.5', { exact: true })).toBeVisible();
    await student.getByRole('button', { name: 'Play your answer to item 1' }).click();
    await expect(student.getByRole('button', { name: 'Pause your answer to item 1' })).toBeVisible();
  } finally {
    await browser.close();
  }
});
