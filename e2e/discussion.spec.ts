import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import type { DiscussionPlan } from '@ecoute/contract/assessments';
import { blankContent, blankDiscussion, blankItem } from '@ecoute/contract/blank';
import type { DiscussionView, LeadView } from '@ecoute/contract/discussions';
import { unzipped } from '../server/testing/unzipped';
import { fit } from './support/fit';
import { speak } from './support/sound';
import { ask, browserHearing, signIn } from './support/world';

/** How long somebody has been speaking. */
const spoken = (page: Page) => page.locator('[data-spoken]');

/** Something is said where somebody is: recorded, heard by its speaker alone, put in. */
async function say(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Record now' }).click();
  await expect(spoken(page)).toHaveText('0:02');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await page.getByRole('button', { name: 'Put it in' }).click();
  await expect(page.getByText('only you hear it')).toBeHidden();
}

/** A discussion of the demo's class that is open now. */
async function held(teacher: Page, title: string, plan: Partial<DiscussionPlan>): Promise<string> {
  const made = await ask<{ id: string }>(teacher, '/api/assessments', 'POST', {
    ...blankContent('discussion', {
      title,
      items: [blankItem(crypto.randomUUID(), 'discussion', { promptText: 'What is a harbour for?' })],
    }),
    discussion: blankDiscussion({ contributionsAsked: 1, repliesAsked: 0, ...plan }),
  });
  const classes = await ask<{ id: string; students: number }[]>(teacher, '/api/classes');
  classes.body.sort((a, b) => b.students - a.students);
  const release = await ask<{ id: string }>(teacher, '/api/releases', 'POST', {
    assessmentId: made.body.id,
    classId: classes.body[0]!.id,
    dueAt: new Date(Date.now() + 5 * 86_400_000).toISOString(),
    lateAccepted: true,
    note: '',
  });
  expect(release.status).toBe(200);
  return release.body.id;
}

const rows = (page: Page) => page.locator('[data-contribution]');

test('a teacher sets a discussion; three people talk, two on phones; it is led, scored, and they hear what came back', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 6, 5);
  const browser = await browserHearing(voice);
  const title = `Those who work at night ${Date.now()}`;
  try {
    // Set: the fifth starting point, a question, a page to begin at, a spoken welcome.
    const { page: teacher } = await signIn(browser, 'ines');
    await teacher.goto('/set');
    await teacher.getByRole('button', { name: 'Set a new assessment' }).click();
    await teacher.getByLabel('Title', { exact: true }).fill(title);
    await teacher.getByRole('radio', { name: 'Discussion' }).click();
    await expect(teacher.getByRole('button', { name: 'Release …' })).toBeDisabled();
    await teacher.getByRole('textbox', { name: 'The question' }).fill('Who works in a harbour at night?');
    await teacher.getByRole('textbox', { name: 'What is expected' }).fill('Answer somebody by Friday.');
    await teacher.getByRole('button', { name: 'Speak the welcome' }).click();
    await expect(teacher.getByText(/0:0[1-9]/).first()).toBeVisible();
    await teacher.getByRole('button', { name: 'Stop' }).click();
    await expect(teacher.getByRole('button', { name: 'Play the welcome' })).toBeVisible();
    await teacher.getByLabel('Replies to others').selectOption('1');
    await teacher.getByRole('button', { name: 'Add a starting point' }).click();
    await teacher.getByRole('textbox', { name: 'Your words on it' }).fill('The lamp at the ferry landing');
    await fit(teacher, 'setting a discussion');
    await teacher.getByRole('button', { name: 'Release …' }).click();
    await teacher.getByRole('button', { name: 'in three days' }).click();
    await teacher.getByRole('button', { name: 'Release now' }).click();
    await teacher.getByRole('link', { name: 'Open the discussion' }).click();
    await expect(teacher.getByText('nobody has said anything yet')).toBeVisible();
    const path = new URL(teacher.url()).pathname;
    const releaseId = path.split('/').at(-1)!;

    // Take part, on a phone: the welcome stands first; what is recorded is heard by nobody until it is put in.
    const { page: bram } = await signIn(browser, 'bram', 'phone');
    await bram
      .getByRole('listitem')
      .filter({ hasText: title })
      .getByRole('link', { name: 'Take part' })
      .click();
    await expect(bram.getByRole('button', { name: /Hear the welcome/ })).toBeVisible();
    await bram.getByRole('button', { name: 'Begin a thread here: Starting point 1' }).click();
    await fit(bram, 'a discussion', false);
    await bram.getByRole('button', { name: 'Record now' }).click();
    await expect(spoken(bram)).toHaveText('0:02');
    await bram.getByRole('button', { name: 'Stop', exact: true }).click();
    await expect(bram.getByText('only you hear it')).toBeVisible();
    await expect(rows(teacher)).toHaveCount(0);
    // A reload loses nothing of it, nor of what is typed.
    await bram.getByLabel('References and notes').fill('A photograph of the lamp');
    await bram.reload();
    await expect(bram.getByLabel('References and notes')).toHaveValue('A photograph of the lamp');
    await bram.getByRole('button', { name: 'Put it in' }).click();
    await expect(rows(bram)).toHaveCount(1);
    await expect(bram.getByText('1 of 1')).toBeVisible();

    // It appears by itself with the teacher, who answers by voice in two actions: reply, and stop.
    await expect(rows(teacher)).toHaveCount(1);
    await teacher.getByRole('button', { name: 'Reply to Bram Ottevaere' }).click();
    await expect(spoken(teacher)).toHaveText('0:02');
    await teacher.getByRole('button', { name: 'Stop, and put it in' }).click();
    await expect(rows(teacher)).toHaveCount(2);

    // Another phone hears on, and replies to a moment.
    const { page: ilse } = await signIn(browser, 'ilse', 'phone');
    await expect(ilse.getByRole('listitem').filter({ hasText: title })).toContainText('New to hear: 2');
    await ilse.goto(path);
    await ilse.getByRole('button', { name: /Hear on: 2 new/ }).click();
    await expect(ilse.locator('[data-contribution][aria-current]')).toHaveAccessibleName('Bram Ottevaere');
    await expect(ilse.locator('[data-contribution][aria-current]')).toHaveAccessibleName('Inês Caldeira');
    await expect(ilse.getByText('nothing new')).toBeVisible();
    await ilse.getByRole('button', { name: 'Play Bram Ottevaere' }).click();
    await ilse.getByRole('button', { name: 'Reply to this moment' }).click();
    await say(ilse);
    await expect(ilse.getByRole('button', { name: /to Bram Ottevaere, 0:00–0:0\d/ })).toBeVisible();

    // By keyboard alone, on a desk: a contribution of one's own and a reply to it by Bram.
    const { page: chiyo } = await signIn(browser, 'chiyo');
    await chiyo.goto(path);
    await chiyo.getByRole('button', { name: 'Begin a thread here: The subject' }).press('Enter');
    await chiyo.getByRole('button', { name: 'Record now' }).press('Enter');
    await expect(spoken(chiyo)).toHaveText('0:02');
    await chiyo.getByRole('button', { name: 'Stop', exact: true }).press('Enter');
    await chiyo.getByRole('button', { name: 'Put it in' }).press('Enter');
    await expect(rows(bram)).toHaveCount(4);
    await bram.getByRole('button', { name: 'Reply to Chiyo Hanamura' }).click();
    await say(bram);
    // Bram has given all that is asked.
    await expect(bram.getByText('1 of 1')).toHaveCount(2);
    // What was replied to stays: it can be corrected, and no longer taken back.
    const own = chiyo.getByRole('listitem', { name: 'You' });
    await expect(chiyo.getByRole('listitem', { name: 'Bram Ottevaere' })).toHaveCount(2);
    await expect(own.getByRole('button', { name: 'Take it back' }).first()).toBeHidden();
    await expect(own.getByRole('button', { name: 'Correct it' })).toBeVisible();

    // Lead: who has spoken, who only replied, who answers whom.
    const people = teacher.getByRole('table');
    await expect(people.getByRole('row', { name: /Ilse Vandermolen/ })).toContainText('only replied');
    await expect(people.getByRole('row', { name: /Emrys Pritchard/ })).toContainText('has not spoken yet');
    await expect(
      teacher.getByRole('button', { name: /Bram Ottevaere to Chiyo Hanamura hear it/ }),
    ).toBeVisible();
    await fit(teacher, 'leading a discussion');

    // Scored on the desk: the count is filled in, the score is not; what it replies to plays before it by one key.
    await teacher.getByRole('link', { name: 'Score what each one said' }).click();
    await teacher.getByRole('button', { name: 'Bram Ottevaere', exact: true }).click();
    await expect(teacher.getByText('1 of 1 contribution, 1 of 1 reply')).toBeVisible();
    await expect(teacher.getByRole('textbox', { name: /Points/ })).toHaveValue('');
    await teacher.keyboard.press('j');
    await expect(teacher.getByText('to Chiyo Hanamura')).toBeVisible();
    await teacher.keyboard.press('r');
    await expect(teacher.getByRole('region', { name: 'Transport' })).toContainText('Chiyo Hanamura');
    await expect(teacher.getByRole('region', { name: 'Transport' })).toContainText('2 of 2');
    await teacher.keyboard.press('n');
    await teacher.getByLabel(/^Note at/).fill('Kindly said');
    await teacher.keyboard.press('Enter');
    await expect(teacher.getByText('Kindly said')).toBeVisible();
    await expect(teacher.getByLabel(/^Note at/)).toBeHidden();
    await teacher.keyboard.press('4');
    await expect(teacher.getByRole('textbox', { name: /Points/ })).toHaveValue('4');
    await teacher.keyboard.press('Enter');
    await expect(teacher.getByText('4 / 5')).toBeVisible();
    await teacher.getByRole('button', { name: 'Bram Ottevaere', exact: true }).click();
    await fit(teacher, 'scoring a discussion', false);
    await teacher.getByRole('button', { name: 'Give feedback to Bram …' }).click();
    await teacher.getByRole('button', { name: 'Give it now' }).click();

    // And heard: each contribution with what was said of it.
    await bram.goto(path);
    await bram.getByRole('link', { name: 'Hear the feedback' }).click();
    await expect(bram.getByText('4 / 5', { exact: true })).toBeVisible();
    await bram
      .getByRole('list', { name: 'What you said' })
      .getByRole('button', { name: /to Chiyo Hanamura/ })
      .click();
    await expect(bram.getByText('Kindly said')).toBeVisible();
    await fit(bram, 'feedback on a discussion', false);

    // It is in the markbook like everything else.
    const book = await ask<{ columns: { releaseId: string }[] }>(
      teacher,
      `/api/classes/${(await ask<LeadView>(teacher, `/api/releases/${releaseId}/lead`)).body.classId}/markbook`,
    );
    expect(book.body.columns.map(c => c.releaseId)).toContain(releaseId);

    // Taken along whole: the page in the ZIP plays with no Ecoute and no network.
    await teacher.goto(path);
    await teacher.getByRole('button', { name: 'Take it along …' }).click();
    await teacher.getByRole('button', { name: 'Make it' }).click();
    const [download] = await Promise.all([
      teacher.waitForEvent('download'),
      teacher.getByRole('link', { name: 'Save' }).first().click(),
    ]);
    const folder = info.outputPath('taken');
    await download.saveAs(`${folder}.zip`);
    for (const [name, bytes] of await unzipped(readFileSync(`${folder}.zip`))) {
      mkdirSync(dirname(join(folder, name)), { recursive: true });
      writeFileSync(join(folder, name), bytes);
    }
    const offline = await browser.newContext({ offline: true });
    const page = await offline.newPage();
    await page.goto(`file://${folder}/index.html`);
    await expect(page.getByRole('heading', { name: /Bram Ottevaere/ })).toHaveCount(2);
    await page
      .locator('audio')
      .first()
      .evaluate((sound: HTMLAudioElement) => void sound.play());
    await expect
      .poll(() =>
        page
          .locator('audio')
          .first()
          .evaluate((sound: HTMLAudioElement) => sound.currentTime),
      )
      .toBeGreaterThan(0.5);
  } finally {
    await browser.close();
  }
});

test('circles do not hear each other, at the network; a teacher moves somebody by hand', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 6, 5);
  const browser = await browserHearing(voice);
  try {
    const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
    const id = await held(teacher, `In pairs ${Date.now()}`, { circles: 'lot', circleSize: 2 });
    const { page: jovan } = await signIn(browser, 'jovan', 'phone', { opens: false });
    await jovan.goto(`/discussion/${id}`);
    await jovan.getByRole('button', { name: 'Begin a thread here: The subject' }).click();
    await say(jovan);
    await expect(rows(jovan)).toHaveCount(1);
    const said = (await rows(jovan).getAttribute('data-contribution'))!;
    const { people } = (await ask<LeadView>(teacher, `/api/releases/${id}/lead`)).body;
    const circleOf = (name: string) => people.find(p => p.name.startsWith(name))!.circle;
    const stranger = ['Kamala', 'Greta', 'Hamish'].find(n => circleOf(n) !== circleOf('Jovan'))!;
    const { page: other } = await signIn(browser, stranger.toLowerCase(), 'phone', { opens: false });
    await other.goto(`/discussion/${id}`);
    await expect(other.getByText('nobody has said anything yet')).toBeVisible();
    const sound = () => other.request.get(`/api/recordings/${said}/sound`).then(r => r.status());
    expect(await sound()).toBe(404);
    expect(
      JSON.stringify((await ask<DiscussionView>(other, `/api/releases/${id}/discussion`)).body),
    ).not.toContain(said);
    await teacher.goto(`/discussion/${id}`);
    await teacher.getByRole('button', { name: 'Circles …' }).click();
    await teacher
      .getByRole('dialog')
      .getByLabel(new RegExp(`^${stranger}`))
      .selectOption({ label: `circle ${circleOf('Jovan')}` });
    await fit(teacher, 'circles', false);
    await teacher.getByRole('button', { name: 'Keep these circles' }).click();
    await expect(teacher.getByRole('dialog')).toBeHidden();
    await expect(rows(other)).toHaveCount(1);
    expect(await sound()).toBe(200);
  } finally {
    await browser.close();
  }
});

test('moderated: heard by the teacher first, hidden with a reason; nothing is lost without a network', async ({}, info) => {
  const voice = info.outputPath('voice.wav');
  speak(voice, 6, 5);
  const browser = await browserHearing(voice);
  try {
    const { page: teacher } = await signIn(browser, 'ines', 'desk', { opens: false });
    const id = await held(teacher, `Looked at first ${Date.now()}`, {
      moderated: true,
      writtenAllowed: true,
    });
    const { page: farid, context } = await signIn(browser, 'farid', 'phone', { opens: false });
    await farid.goto(`/discussion/${id}`);
    await farid.getByRole('button', { name: 'Begin a thread here: The subject' }).click();
    await expect(farid.getByRole('button', { name: 'Record now' })).toBeVisible();
    await context.setOffline(true);
    await farid.getByRole('button', { name: 'Record now' }).click();
    await expect(spoken(farid)).toHaveText('0:02');
    await farid.getByRole('button', { name: 'Stop', exact: true }).click();
    await farid.getByRole('button', { name: 'Put it in' }).click();
    await expect(farid.getByText(/on its way: it is kept here/)).toBeVisible();
    await context.setOffline(false);
    await expect(farid.getByText('waits until your teacher has heard it')).toBeVisible();

    const { page: greta } = await signIn(browser, 'greta', 'phone', { opens: false });
    await greta.goto(`/discussion/${id}`);
    await expect(greta.getByText('nobody has said anything yet')).toBeVisible();
    await teacher.goto(`/discussion/${id}`);
    await teacher.getByRole('button', { name: 'Let it in' }).click();
    await expect(rows(greta)).toHaveCount(1);

    await greta.getByRole('button', { name: 'Reply to Farid Benamrouche' }).click();
    await greta.getByRole('button', { name: 'Write instead' }).click();
    await greta.getByLabel('What you write').fill('<img src=x onerror=alert(1)> not kind');
    await greta.getByRole('button', { name: 'Put it in' }).click();
    await expect(greta.getByText('<img src=x onerror=alert(1)> not kind')).toBeVisible();
    await teacher.getByRole('button', { name: 'Let it in' }).click();
    const reply = teacher.getByRole('listitem', { name: 'Greta Lindqvist' });
    await reply.getByRole('button', { name: 'Hide it …' }).click();
    await expect(teacher.getByRole('button', { name: 'Hide it', exact: true })).toBeDisabled();
    await teacher.getByLabel('Why').fill('Say it as you would to his face.');
    await teacher.getByRole('button', { name: 'Hide it', exact: true }).click();
    await expect(greta.getByText(/Hidden from the others: Say it as you would to his face/)).toBeVisible();
    await expect(rows(farid)).toHaveCount(1);

    // Taken back by one press, and had back by another.
    await farid.getByRole('button', { name: 'Take it back' }).click();
    await expect(rows(farid)).toHaveCount(0);
    // Without a network that does not happen, and is not said to have happened: Undo stays.
    await farid.context().setOffline(true);
    await farid.getByRole('button', { name: 'Undo' }).click();
    await expect(farid.getByRole('alert')).toBeVisible();
    await expect(farid.getByText(/^Taken back: nobody hears it any more/)).toBeVisible();
    await farid.context().setOffline(false);
    await farid.getByRole('button', { name: 'Undo' }).click();
    await expect(rows(farid)).toHaveCount(1);
    await expect(farid.getByRole('button', { name: 'Undo' })).toHaveCount(0);
  } finally {
    await browser.close();
  }
});
