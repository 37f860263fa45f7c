import { expect, test, type Browser, type Locator, type Page } from '@playwright/test';
import { blankMusic, blankScoring, blankStimulus } from '@ecoute/contract/blank';
import type { AssessmentContent, AssessmentSummary, Item } from '@ecoute/contract/assessments';
import type { ListenView } from '@ecoute/contract/marking';
import { longScore } from './support/longScore';
import { pictureOf } from './support/files';
import { fit } from './support/fit';
import { speak } from './support/sound';
import { ask, browserHearing, handInTones, released, signIn, stored } from './support/world';

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 5);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const SPOKEN: Partial<Item> = {
  promptText: 'Conta-me do teu dia.',
  prepareMs: 0,
  startsBy: 'student',
  points: 5,
};
const DESCRIBED = [
  'single words, the rest has to be guessed',
  'short sentences with long pauses between them, most of it can be followed',
  'mostly fluent, looks for a word now and then and finds another way to say it',
  'says everything with ease, and with turns of phrase of their own',
];
const RUBRIC: Partial<AssessmentContent> = {
  scoring: {
    ...blankScoring('homework'),
    kind: 'rubric',
    rubric: {
      levels: ['not yet', 'nearly', 'good', 'very good'].map((name, points) => ({ name, points })),
      criteria: ['Flow', 'Sounds', 'Words', 'Task'].map(name => ({
        id: crypto.randomUUID(),
        name,
        weight: 1,
        descriptors: DESCRIBED,
      })),
    },
  },
};
const SCALE = ['A1', 'A2', 'B1', 'B2', 'C1', 'C2'].map((name, n) => ({
  name,
  descriptor: DESCRIBED[n % 4]!,
}));
const EIGHTY_WORDS = 'O sino do porto tocava sempre às cinco e ninguém sabia porquê '.repeat(7).trim();

/** An assessment that two students have handed in, and who they are. */
async function answered(
  teacher: Page,
  title: string,
  items: Partial<Item>[],
  over: Partial<AssessmentContent> = {},
  students = ['amara', 'farid'],
  seconds = 4,
): Promise<string> {
  const id = await released(teacher, title, items, over);
  for (const name of students) {
    const { page, context } = await signIn(browser, name, 'desk', { opens: false });
    await handInTones(page, id, seconds);
    await context.close();
  }
  return id;
}

/** Everything that a recording is heard and scored with, in the lane in focus. */
const onDesk = (page: Page): Record<string, Locator> => {
  const lane = page.locator('li[aria-current]');
  return {
    waveform: lane
      .getByRole('slider', { name: /^Answer of/ })
      .or(lane.getByRole('img', { name: /^Answer of/ })),
    finish: lane.getByRole('button', { name: /^Finish/ }),
    comment: lane.getByLabel('Comment'),
    note: lane.getByRole('button', { name: /^Note here/ }),
  };
};

/** The part of the window between the line at the top and the transport at its foot. */
async function seen(page: Page): Promise<{ top: number; bottom: number }> {
  const line = (await page.getByTestId('listen-line').boundingBox())!;
  const bar = await page.getByRole('region', { name: 'Transport' }).boundingBox();
  return { top: line.y + line.height - 1, bottom: bar?.y ?? page.viewportSize()!.height };
}

const pitchLine = (page: Page) => page.locator('li[aria-current]').getByRole('img', { name: /^Pitch/ });

/** Where things lie. The pitch line takes its height from the waveform: together they are what must not move. */
async function boxes(of: Record<string, Locator>) {
  const all = Object.entries(of).map(async ([name, which]) => {
    const box = await which.first().boundingBox();
    const pitch = name === 'waveform' && (await pitchLine(which.page()).count()) > 0;
    const more = pitch ? (await pitchLine(which.page()).boundingBox())!.height : 0;
    return [name, box && [box.x, box.y, box.width, box.height + more].map(Math.round)] as const;
  });
  return Object.fromEntries(await Promise.all(all));
}

test('on every desk the recording, its score, comment, note and Finish are in sight, and nothing moves', async () => {
  test.setTimeout(480_000);
  const { page: ines, context: first } = await signIn(browser, 'ines', 'desk', { opens: false });
  const { page: tobias, context: second } = await signIn(browser, 'tobias', 'desk', { opens: false });
  const passage = blankStimulus(crypto.randomUUID(), 'passage', { text: EIGHTY_WORDS, language: 'pt' });
  const picture = blankStimulus(crypto.randomUUID(), 'picture', {
    recordingId: await stored(ines, pictureOf(test.info().outputPath('quay.png')), 'picture'),
    words: 'The quay',
  });
  const notation = blankStimulus(crypto.randomUUID(), 'notation', {
    recordingId: await stored(tobias, longScore('scale.musicxml', 16), 'show'),
    words: 'A scale',
  });
  const points = (page: Page) => page.getByRole('button', { name: '0 points' });
  const { body: all } = await ask<AssessmentSummary[]>(ines, '/api/assessments');
  const talk = all.flatMap(a => a.content.items).find(i => i.turns.length > 1)!;
  const turns = Array.from({ length: 5 }, (_, i) => {
    const turn = talk.turns[i % 2]!;
    return { ...turn, id: crypto.randomUUID(), toMs: turn.fromMs + 500, gapMs: 1_500 };
  });
  const conversation = { ...SPOKEN, isConversation: true, turns };
  const cases: [name: string, teacher: Page, id: string, score: (page: Page) => Locator][] = [
    ['points', ines, await answered(ines, 'Desk: points', [SPOKEN]), points],
    [
      'rubric',
      ines,
      await answered(ines, 'Desk: rubric', [SPOKEN], RUBRIC),
      page => page.getByRole('radiogroup', { name: /Task/ }),
    ],
    [
      'done',
      ines,
      await answered(ines, 'Desk: done', [SPOKEN], {
        scoring: { ...blankScoring('homework'), kind: 'done' },
      }),
      page => page.getByRole('radio', { name: 'not done' }),
    ],
    [
      'level',
      ines,
      await answered(ines, 'Desk: level', [SPOKEN], {
        scoring: { ...blankScoring('homework'), kind: 'level', scale: SCALE },
      }),
      page => page.getByRole('group', { name: 'This recording shows' }),
    ],
    ['reading', ines, await answered(ines, 'Desk: reading', [{ ...SPOKEN, stimuli: [passage] }]), points],
    [
      'conversation',
      ines,
      await answered(ines, 'Desk: conversation', [conversation], {}, ['amara', 'farid'], 10),
      points,
    ],
    ['picture', ines, await answered(ines, 'Desk: picture', [{ ...SPOKEN, stimuli: [picture] }]), points],
    [
      'music',
      tobias,
      await answered(tobias, 'Desk: music', [{ ...SPOKEN, stimuli: [notation], music: blankMusic() }], {}, [
        'mireille',
        'oksana',
      ]),
      points,
    ],
  ];
  for (const [name, teacher, id, score] of cases)
    for (const [width, height] of [
      [1280, 800],
      [1024, 768],
      [390, 844],
    ] as const) {
      await teacher.setViewportSize({ width, height });
      await teacher.goto(`/listen/${id}`);
      const desk: Record<string, Locator> = { ...onDesk(teacher), score: score(teacher) };
      if (width === 390) delete desk.note;
      await expect(desk.finish!).toBeInViewport();
      // Letters of a fallback are wider: a machine with much to do has ours a moment later.
      await teacher.evaluate(async () => void (await document.fonts.ready));
      const opened = await boxes(desk);
      await teacher.keyboard.press(' ');
      await expect(teacher.getByRole('button', { name: 'Pause', exact: true }).first()).toBeVisible();
      // What was measured has come by now, and whatever else comes later.
      await expect(teacher.getByText(/ to mark/).first()).toBeVisible();
      await teacher.waitForLoadState('networkidle');
      const at = `${name} at ${width}×${height}`;
      // Waveform and pitch line are looked at one after the other, and the line has its name a frame after its room.
      await expect.poll(async () => [at, await boxes(desk)]).toEqual([at, opened]);
      const { top, bottom } = await seen(teacher);
      for (const [part, box] of Object.entries(opened)) {
        expect.soft([at, part, box !== null && box![1]! >= top]).toEqual([at, part, true]);
        expect.soft([at, part, box !== null && box![1]! + box![3]! <= bottom]).toEqual([at, part, true]);
      }
      if (width === 390) {
        // Turned, it is found again in its place.
        await teacher.setViewportSize({ width: 844, height: 390 });
        await expect(desk.waveform!).toBeInViewport({ ratio: 0.9 });
        // At 200 % of a small laptop: all of it within the width, and what takes the focus is in sight.
        await teacher.setViewportSize({ width: 640, height: 400 });
        const wide = await teacher.evaluate(() => document.documentElement.scrollWidth);
        expect.soft([at, 'at 200 %', wide]).toEqual([at, 'at 200 %', 640]);
        for (const part of [desk.comment!, desk.finish!])
          // Just turned, the page may still be laying itself out when the focus comes: then it comes once more.
          await expect(async () => {
            await part.blur();
            await part.focus();
            await expect(part).toBeInViewport({ ratio: 0.9, timeout: 1_000 });
          }).toPass({ timeout: 30_000 });
        continue;
      }
      // One lane beside it, before or after.
      const others = await teacher.locator('ol[aria-label] > li:not([aria-current])').all();
      const near = await Promise.all(others.map(async o => (await o.boundingBox())!));
      expect.soft([at, near.some(b => b.y + b.height > top + 30 && b.y < bottom - 30)]).toEqual([at, true]);
      await teacher.keyboard.press(' ');
    }
  await first.close();
  await second.close();
});

test('a number finishes where the teacher lets it, and is taken back; what misses stays named', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await answered(page, 'Desk: by one key', [SPOKEN], {}, ['amara', 'farid', 'jovan']);
  const lanes = async () => (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes;
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  // Finished without points: said, and still said after it has saved itself.
  await page.getByLabel('Comment').fill('Clear.');
  await page.getByRole('button', { name: /^Finish/ }).click();
  await expect(page.getByRole('alert')).toContainText('Give points before you finish');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.getByRole('alert')).toContainText('Give points before you finish');
  await page.getByRole('checkbox', { name: 'a number finishes' }).check();
  const [one] = await lanes();
  await page.keyboard.press('4');
  await expect(page.getByText(`4 of 5: ${one!.studentName}`)).toBeVisible();
  await expect
    .poll(async () => (await lanes()).filter(l => l.mark?.finished).map(l => l.mark!.points))
    .toEqual([4]);
  // A slip of the hand: one key, and nothing of it is kept.
  await page.keyboard.press('z');
  await expect(page.locator('li[aria-current]')).toContainText(one!.studentName);
  await expect.poll(async () => (await lanes()).filter(l => l.mark?.finished)).toEqual([]);
  await page.keyboard.press('3');
  await expect.poll(async () => (await lanes()).map(l => l.mark?.points)).toEqual([3, undefined, undefined]);
  // Half a point is no whole number yet: it waits for Enter.
  await page.keyboard.press('.');
  await page.keyboard.press('.');
  await expect(page.getByLabel('Points, of 5')).toHaveValue('0');
  await page.keyboard.press('g');
  await page.keyboard.type('2.5');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await lanes()).map(l => l.mark?.points)).toEqual([3, 2.5, undefined]);
  await expect(page.locator('li[aria-current]')).toContainText('Jovan');
  // Heard for a moment: sooner it would be the second of two presses.
  await expect
    .poll(() => page.getByRole('slider', { name: 'Position' }).inputValue().then(Number))
    .toBeGreaterThan(600);
  await page.locator('li[aria-current]').getByRole('button', { name: '5 points' }).click();
  await expect(page.getByText('Everything here is marked.')).toBeAttached();
  await expect.poll(async () => (await lanes()).map(l => l.mark?.points)).toEqual([3, 2.5, 5]);
  await page.keyboard.press('t');
  await fit(page, 'a desk');
  await context.close();
});

test('pressed twice, or held down, it finishes one answer and not the next, which lies in the same place', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await answered(page, 'Desk: twice', [SPOKEN], {}, ['amara', 'farid', 'jovan', 'kamala']);
  const finished = async () =>
    (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes.filter(l => l.mark?.finished)
      .length;
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  const current = page.locator('li[aria-current]');
  await page.getByRole('checkbox', { name: 'a number finishes' }).check();
  await page.keyboard.down('4');
  await page.keyboard.down('4');
  await page.keyboard.down('4');
  await page.keyboard.up('4');
  await expect(current).toContainText('Farid');
  await expect.poll(finished).toBe(1);
  const twice = async (x: number, y: number, apartMs: number) => {
    await page.mouse.click(x, y);
    const now = () => page.evaluate(() => performance.now());
    for (const from = await now(); (await now()) - from < apartMs;);
    await page.mouse.down({ clickCount: 2 });
    await page.mouse.up({ clickCount: 2 });
  };
  // Heard for a moment, as by anybody who then presses.
  const heard = () =>
    page.waitForFunction(() => {
      const before = globalThis as { heardBefore?: string };
      const sounding = [...document.querySelectorAll('video')].find(v => !v.paused);
      // Not the one before, whose place is still there in the moment in which the next one begins.
      if (!sounding || sounding.src === before.heardBefore || sounding.currentTime < 0.6) return false;
      before.heardBefore = sounding.src;
      return true;
    });
  await heard();
  // From the second lane on they lie in one place.
  const five = (await current.getByRole('button', { name: '5 points' }).boundingBox())!;
  // Also where the machine needs its time between the two: the device says which press is a second one.
  await twice(five.x + 10, five.y + 10, 600);
  await expect(current).toContainText('Jovan');
  await expect.poll(finished).toBe(2);
  await heard();
  await page.getByRole('checkbox', { name: 'a number finishes' }).uncheck();
  await page.keyboard.press('3');
  const end = (await current.getByRole('button', { name: /^Finish/ }).boundingBox())!;
  await twice(end.x + 10, end.y + 10, 0);
  await expect(current).toContainText('Kamala');
  await expect.poll(finished).toBe(3);
  await expect(page.getByRole('alert')).toHaveCount(0);
  // The comment bank that was open on one answer is not on the next.
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('c');
  await expect(page.getByLabel('Find a comment')).toBeFocused();
  await current.getByRole('button', { name: 'Speak a note' }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(current).toContainText('Kamala');
  await expect(page.getByLabel('Find a comment')).toHaveCount(0);
  await context.close();
});

test('a note that is still open is kept by Finish; where that fails it is said, and sent again', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await answered(page, 'Desk: an open note', [SPOKEN]);
  const notes = async () =>
    (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes.map(l => l.notes.map(n => n.words));
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  await page.keyboard.press('n');
  await page.getByLabel(/^Note at/).fill('softer here');
  await page.getByRole('button', { name: '4 points' }).click();
  await page.getByRole('button', { name: /^Finish/ }).click();
  await expect.poll(notes).toEqual([['softer here'], []]);
  // A stretch: back in the words, where Enter keeps it.
  await page.keyboard.press('n');
  await page.getByLabel(/^Note at/).fill('from here to there');
  await page.getByRole('button', { name: 'As far as here' }).click();
  await page.keyboard.press('Enter');
  await expect.poll(notes).toEqual([['softer here'], ['from here to there']]);
  await page.keyboard.press('n');
  await page.getByLabel(/^Note at/).fill('without a network');
  await page.route('**/notes/**', route => route.abort());
  await page.getByRole('button', { name: '5 points' }).click();
  await page.getByRole('button', { name: /^Finish/ }).click();
  await expect(page.getByText(/^A note on .* is not kept yet/)).toBeVisible();
  await page.unroute('**/notes/**');
  await page.getByRole('button', { name: 'Send again' }).click();
  await expect.poll(notes).toEqual([['softer here'], ['from here to there', 'without a network']]);
  await context.close();
});

test('arrows belong to the lanes after a click on a switch, and Space to the sound after the list of keys', async () => {
  const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
  const id = await answered(page, 'Desk: keys', [SPOKEN, SPOKEN]);
  await page.goto(`/listen/${id}`);
  await expect(page.getByLabel('Comment')).toBeVisible();
  const current = page.locator('li[aria-current]');
  await page.keyboard.press('t');
  await page.getByText('by student').click();
  await expect(page.getByRole('list', { name: /^Answers of/ })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(current).toContainText('Item 2');
  await expect(page.getByRole('radio', { name: 'by student' })).toBeChecked();
  await page.getByRole('tab', { name: 'Task' }).click();
  await page.keyboard.press('ArrowUp');
  await expect(current).toContainText('Item 1');
  await expect(page.getByRole('tab', { name: 'Task' })).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('t');
  await page.getByRole('button', { name: 'Keys', exact: true }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press(' ');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Pause', exact: true }).first()).toBeVisible();
  await context.close();
});
