import { expect, test, type Browser, type Locator, type Page } from '@playwright/test';
import { blankScoring } from '@ecoute/contract/blank';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import type { ListenView } from '@ecoute/contract/marking';
import { speak } from './support/sound';
import { ask, browserHearing, handInTones, released, signIn } from './support/world';

/**
 * Ten students × two items are marked by exactly so many actions: what is pressed for a recording, and Finish; not one more, by
 * keys, by mouse, on a phone.
 */

let browser: Browser;
test.beforeAll(async () => {
  const wav = test.info().outputPath('voice.wav');
  speak(wav, 5);
  browser = await browserHearing(wav);
});
test.afterAll(() => browser.close());

const TEN = ['amara', 'bram', 'chiyo', 'emrys', 'farid', 'greta', 'hamish', 'ilse', 'jovan', 'kamala'];
const ITEM: Partial<Item> = { promptText: 'Diz-me.', prepareMs: 0, startsBy: 'student', points: 5 };
const home = blankScoring('homework');
const RUBRIC = {
  levels: ['not yet', 'good', 'very good'].map((name, points) => ({ name, points })),
  criteria: ['Flow', 'Sounds', 'Words'].map(name => ({
    id: crypto.randomUUID(),
    name,
    weight: 1,
    descriptors: [],
  })),
};
const SCALE = ['A1', 'A2', 'B1', 'B2'].map(name => ({ name, descriptor: `Speaks at ${name}.` }));

interface Scheme {
  name: string;
  over: Partial<AssessmentContent>;
  /** What is pressed for one recording, before it is finished: keys, and the same by a pointer. */
  keys: string[];
  presses: (lane: Locator) => Locator[];
}
const SCHEMES: Scheme[] = [
  {
    name: 'points',
    over: {},
    keys: ['4'],
    presses: lane => [lane.getByRole('button', { name: '4 points' })],
  },
  {
    name: 'rubric',
    over: { scoring: { ...home, kind: 'rubric', rubric: RUBRIC } },
    keys: ['2', '3', '2'],
    presses: lane =>
      RUBRIC.criteria.map(c =>
        lane
          .getByRole('radiogroup', { name: new RegExp(c.name) })
          .getByRole('radio')
          .nth(1),
      ),
  },
  {
    name: 'done',
    over: { scoring: { ...home, kind: 'done' } },
    keys: ['1'],
    presses: lane => [lane.getByRole('radio', { name: 'done', exact: true })],
  },
  {
    name: 'level',
    over: { scoring: { ...home, kind: 'level', scale: SCALE } },
    keys: ['3'],
    presses: lane => [
      lane.getByRole('group', { name: 'This recording shows' }).getByRole('button', { name: /B1/ }),
    ],
  },
];

const finished = async (page: Page, id: string) =>
  (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes.filter(l => l.mark?.finished).length;

/** The second press of two, within 0.4 s, would still be the first one's: a hand is slower. */
async function laneIsNew(page: Page): Promise<void> {
  const now = await page.evaluate(() => performance.now());
  await page.waitForFunction(at => performance.now() > at, now + 420);
}

/** The page as it was before: everything that was just finished is taken back. */
async function unfinish(page: Page, id: string): Promise<void> {
  const { lanes } = (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body;
  for (const { sittingId, itemId, mark } of lanes) {
    if (!mark?.finished) continue;
    const { status } = await ask(page, `/api/sittings/${sittingId}/marks/${itemId}`, 'PUT', {
      revision: mark.revision,
      points: null,
      comment: '',
      choices: [],
      finished: false,
    });
    expect(status).toBe(200);
  }
  await page.evaluate(() => localStorage.clear());
}

for (const scheme of SCHEMES)
  test(`ten students × two items by ${scheme.name}: counted by keys, by mouse, on a phone`, async () => {
    test.setTimeout(480_000);
    const { page, context } = await signIn(browser, 'ines', 'desk', { opens: false });
    const title = `Counted: ${scheme.name}`;
    const id = await released(page, title, [ITEM, ITEM], scheme.over);
    await Promise.all(
      TEN.map(async name => {
        const student = await signIn(browser, name, 'desk', { opens: false });
        await handInTones(student.page, id, 1);
        await student.context.close();
      }),
    );
    const lane = page.locator('li[aria-current]');
    const nameOf = () => lane.locator('button').first().textContent();
    /** Waits until the lane in focus is another one, or all is done. */
    const goesOn = async (before: string | null, left: number) => {
      if (left > 0) await expect.poll(nameOf).not.toBe(before);
    };

    // By keys.
    await page.goto(`/listen/${id}`);
    await expect(page.getByLabel('Comment')).toBeVisible();
    for (let i = 0; i < 20; i++) {
      const before = await nameOf();
      for (const key of [...scheme.keys, 'Enter']) {
        await page.keyboard.press(key);
      }
      await goesOn(before, 19 - i);
    }
    await expect.poll(() => finished(page, id)).toBe(20);
    if (scheme.name === 'level') {
      // One overall level for each of ten, from the last one up: two keys, and one to the next.
      for (let i = 0; i < 10; i++) {
        const at = await nameOf();
        await page.keyboard.press('o');
        await page.keyboard.press(i === 0 ? '2' : 'Enter');
        const given = async () =>
          (await ask<ListenView>(page, `/api/releases/${id}/lanes`)).body.lanes.find(
            l => l.studentName === at,
          )!.level;
        await expect.poll(given).toBe(i === 0 ? 1 : 2);
        await page.keyboard.press('ArrowUp');
      }
    }
    await unfinish(page, id);

    // By mouse: the way that the pointer goes from press to press.
    let travel = 0;
    let from: { x: number; y: number } | null = null;
    const press = async (what: Locator) => {
      const box = (await what.boundingBox())!;
      const to = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
      if (from) travel += Math.hypot(to.x - from.x, to.y - from.y);
      from = to;
      await page.mouse.click(to.x, to.y);
    };
    await page.goto(`/listen/${id}`);
    await expect(page.getByLabel('Comment')).toBeVisible();
    await laneIsNew(page);
    for (let i = 0; i < 20; i++) {
      const before = await nameOf();
      for (const what of [...scheme.presses(lane), lane.getByRole('button', { name: /^Finish/ })])
        await press(what);
      await goesOn(before, 19 - i);
      await laneIsNew(page);
    }
    await expect.poll(() => finished(page, id)).toBe(20);
    expect([scheme.name, 'at most 500 px a recording', travel / 20 <= 500, Math.round(travel / 20)]).toEqual([
      scheme.name,
      'at most 500 px a recording',
      true,
      Math.round(travel / 20),
    ]);
    await unfinish(page, id);
    await context.close();

    // On a phone: by taps, and nothing is scrolled between hearing and finishing.
    const phone = await signIn(browser, 'ines', 'phone', { opens: false });
    const small = phone.page.locator('li[aria-current]');
    await phone.page.goto(`/listen/${id}`);
    await expect(phone.page.getByLabel('Comment')).toBeVisible();
    await laneIsNew(phone.page);
    for (let i = 0; i < 20; i++) {
      const before = await small.locator('button').first().textContent();
      await expect(small.getByRole('button', { name: /^(Play|Pause)/ }).first()).toBeInViewport();
      // Where it is on the screen: what comes into the head of the page meanwhile scrolls with it, and moves nothing under the hand.
      const at = () => small.evaluate(lane => Math.round(lane.getBoundingClientRect().top));
      // The lane has come to its place.
      await phone.page.waitForFunction(async () => {
        const before = scrollY;
        await new Promise(resolve => setTimeout(resolve, 200));
        return scrollY === before;
      });
      const top = await at();
      for (const what of [...scheme.presses(small), small.getByRole('button', { name: /^Finish/ })]) {
        await expect(what).toBeInViewport({ ratio: 0.9 });
        const box = (await what.boundingBox())!;
        expect(await at()).toBe(top);
        await phone.page.touchscreen.tap(box.x + box.width / 2, box.y + box.height / 2);
      }
      if (i < 19) await expect.poll(() => small.locator('button').first().textContent()).not.toBe(before);
      await laneIsNew(phone.page);
    }
    await expect.poll(() => finished(phone.page, id)).toBe(20);
    await phone.context.close();
  });
