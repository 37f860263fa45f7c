// Part of ./ecoute bench listening: how far hand and eye go for one recording, for six cases at three sizes, counted on the
// page itself; and how soon a release of 300 × 3 sounds.
import { randomUUID } from 'node:crypto';
import { chromium } from '@playwright/test';
import { brought, visitor } from './visitor.mjs';

const SIZES = [
  ['1280×800', { width: 1280, height: 800 }, false],
  ['1024×768', { width: 1024, height: 768 }, false],
  ['390×844', { width: 390, height: 844 }, true],
];
const RECORDINGS = 6;

/** What a new user wrote of the page before the desk; nobody counted the other cells. */
const BEFORE = {
  'points, 1280×800': '2 actions, 1,670 px',
  'points, 1024×768': 'first lane below the fold',
  'points, 390×844': '4 actions, two of them scrolls',
  'rubric, 1280×800': 'Finish below the fold',
  'reading, 1280×800': 'score and Finish below the fold',
  'music, 1280×800': 'score and Finish below the fold',
};

const criteria = ['Flow', 'Sounds', 'Words'].map(name => ({
  id: randomUUID(),
  name,
  weight: 1,
  descriptors: [],
}));
const radios = lane =>
  criteria.map(c => lane.getByRole('radiogroup', { name: c.name }).getByRole('radio').nth(1));

/** Cases: what is set, and what is pressed for one recording. */
function cases(scoring, kinds) {
  const points = lane => [lane.getByRole('button', { name: '4 points' })];
  return [
    ['points', {}, {}, points],
    [
      'rubric',
      {
        scoring: {
          ...scoring,
          kind: 'rubric',
          rubric: { criteria, levels: ['no', 'nearly', 'yes'].map((name, n) => ({ name, points: n })) },
        },
      },
      {},
      radios,
    ],
    [
      'done',
      { scoring: { ...scoring, kind: 'done' } },
      {},
      lane => [lane.getByRole('radio', { name: 'done', exact: true })],
    ],
    [
      'level',
      {
        scoring: {
          ...scoring,
          kind: 'level',
          scale: ['A1', 'A2', 'B1', 'B2'].map(name => ({ name, descriptor: `Speaks at ${name}.` })),
        },
      },
      {},
      lane => [lane.getByRole('group', { name: 'This recording shows' }).getByRole('button', { name: /B1/ })],
    ],
    ['reading', {}, kinds.reading, points],
    ['music', {}, kinds.music, points],
  ];
}

async function handIn(base, releaseId, name, sound) {
  const student = visitor(base);
  await student.ask('POST', '/api/session', { signInName: name, password: 'a-long-password' });
  const sitting = await student.ask('POST', `/api/releases/${releaseId}/sitting`);
  for (const item of sitting.content.items) {
    const recordingId = await brought(student, sitting.id, item.id, sound);
    while ((await student.ask('GET', `/api/recordings/${recordingId}`)).state !== 'stored')
      await new Promise(resolve => setTimeout(resolve, 50));
  }
  await student.ask('POST', `/api/sittings/${sitting.id}/hand-in`, { withGaps: false });
}

async function signedIn(browser, base, viewport, isPhone) {
  const context = await browser.newContext({ baseURL: base, viewport, hasTouch: isPhone });
  const page = await context.newPage();
  await page.request.post('/api/session', {
    headers: { Origin: base },
    data: { signInName: 'bench', password: 'a-long-password' },
  });
  return page;
}

/** Marks some recordings as a hand would, and counts. @returns per recording */
async function counted(page, releaseId, presses, isPhone) {
  await page.goto(`/listen/${releaseId}`);
  await page.getByLabel('Comment').waitFor();
  const lane = page.locator('li[aria-current]');
  const name = () => lane.locator('button').first().textContent();
  let [actions, travel, scrolls, from] = [0, 0, 0, null];
  for (let n = 0; n < RECORDINGS; n++) {
    const before = await name();
    for (const what of [...presses(lane), lane.getByRole('button', { name: /^Finish/ })]) {
      let box = await what.boundingBox();
      const bar = page.getByRole('region', { name: 'Transport' });
      const foot = (await bar.count()) > 0 ? (await bar.boundingBox()).y : page.viewportSize().height;
      if (box.y < 48 || box.y + box.height > foot) {
        scrolls += 1;
        await what.scrollIntoViewIfNeeded();
        box = await what.boundingBox();
      }
      const to = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
      if (from) travel += Math.hypot(to.x - from.x, to.y - from.y);
      from = to;
      if (isPhone) await page.touchscreen.tap(to.x, to.y);
      else await page.mouse.click(to.x, to.y);
      actions += 1;
    }
    for (let i = 0; i < 100 && (await name()) === before && n < RECORDINGS - 1; i++)
      await page.waitForTimeout(50);
    await page.waitForTimeout(450);
  }
  return { actions: actions / RECORDINGS, travel: travel / RECORDINGS, scrolls: scrolls / RECORDINGS };
}

export async function desks(base, db, { teacher, classId, content, sound, kinds }, say) {
  const rows = [];
  const browser = await chromium.launch({
    executablePath: process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    for (const [name, over, more, presses] of cases(content.scoring, kinds)) {
      const item = { ...content.items[0], ...more, id: randomUUID(), points: 5 };
      const made = await teacher.ask('POST', '/api/assessments', { ...content, ...over, items: [item] });
      const release = await teacher.ask('POST', '/api/releases', {
        assessmentId: made.id,
        classId,
        dueAt: new Date(Date.now() + 86_400_000).toISOString(),
        lateAccepted: true,
        note: '',
      });
      for (let n = 1; n <= RECORDINGS; n++) await handIn(base, release.id, `s${n}`, sound);
      for (const [size, viewport, isPhone] of SIZES) {
        const page = await signedIn(browser, base, viewport, isPhone);
        rows.push({ name, size, ...(await counted(page, release.id, presses, isPhone)) });
        await page.context().close();
        // As it was: nothing of it is marked.
        await db.query(
          'DELETE m FROM marks m JOIN sittings s ON s.id = m.sitting_id WHERE s.release_id = ?',
          [release.id],
        );
      }
      say(`${name}: hand and eye counted`);
    }
  } finally {
    await browser.close();
  }
  return rows;
}

export function printDesks(rows) {
  console.log();
  console.log(
    'for one recording: actions, px of pointer travel, scrolls                     now   before the desk',
  );
  for (const { name, size, actions, travel, scrolls } of rows) {
    const now = [actions.toFixed(1), size.startsWith('390') ? '–' : travel.toFixed(0), scrolls.toFixed(1)];
    console.log(
      `${`${name}, ${size}`.padEnd(60)}${now.join(', ').padStart(22)}   ${BEFORE[`${name}, ${size}`] ?? '–'}`,
    );
  }
}
