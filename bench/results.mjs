/* global document, requestAnimationFrame -- what runs inside the page */
// ./ecoute bench results: what a year of a class, of a student and a release of hundreds add up to, in a large school.
import { chromium } from 'playwright-core';
import { existsSync, readFileSync } from 'node:fs';
import { asking, owner, timed } from './releasing.mjs';
import { generate } from './releasingData.mjs';

const BUDGET_MS = 100;
const BOOK_MS = 3_000;
/** Workbooks made one after the other: memory that goes on growing would show. */
const BOOKS = 12;
/** A frame at sixty in a second. */
const FRAME_MS = 1000 / 60;
const CLASS = { students: 40, releases: 120, items: 5 };
const MANY = 600;

const id = (kind, n) => `CAST(CONCAT(LPAD(HEX(${n}), 8, '0'), '-00${kind}-4000-8000-000000000000') AS UUID)`;
const [PERSON, ROOM, VERSION, RELEASE, SITTING, MARK, TAKE, EVENT] = [
  'a1',
  'a2',
  'a3',
  'a4',
  'a5',
  'a6',
  'a7',
  'a8',
];

/** A class of forty with a year of 120 assessments, and one assessment given to six hundred; all of it sat and marked. */
async function fill(db, teacherId, { content, outline }) {
  const items = Array.from({ length: CLASS.items }, (_, i) => ({
    ...content.items[0],
    id: `0000000${i}-00b1-4000-8000-000000000000`,
    points: 10,
    tags: [{ code: `T-${i}`, words: 'I can say this.' }],
  }));
  const whole = { ...content, items, scoring: { ...content.scoring, kind: 'points' } };
  const people = MANY;
  const own = CLASS.students * CLASS.releases;
  await db.query('SET SESSION foreign_key_checks = 0, unique_checks = 0, time_zone = "+00:00"');
  await db.query(
    `INSERT INTO people (id, sign_in_name, display_name, role, created_at)
     SELECT ${id(PERSON, 'seq')}, CONCAT('r', seq), CONCAT('Learner ', LPAD(seq, 3, '0')), 'student', UTC_TIMESTAMP(3) FROM seq_1_to_${people}`,
  );
  await db.query(
    `INSERT INTO classes (id, name, subject, created_at) VALUES
       (${id(ROOM, 1)}, 'A year', 'language', UTC_TIMESTAMP(3)), (${id(ROOM, 2)}, 'Hundreds', 'language', UTC_TIMESTAMP(3))`,
  );
  await db.query(
    `INSERT INTO class_members (class_id, person_id, role)
     SELECT ${id(ROOM, 1)}, ${id(PERSON, 'seq')}, 'student' FROM seq_1_to_${CLASS.students}
     UNION ALL SELECT ${id(ROOM, 2)}, ${id(PERSON, 'seq')}, 'student' FROM seq_1_to_${people}
     UNION ALL SELECT ${id(ROOM, 'seq')}, '${teacherId}', 'teacher' FROM seq_1_to_2`,
  );
  await db.query(
    `INSERT INTO assessment_versions (id, assessment_id, revision, content, outline, frozen_at)
     SELECT ${id(VERSION, 'seq')}, ${id(VERSION, 'seq')}, 1, ?, ?, UTC_TIMESTAMP(3) FROM seq_1_to_${CLASS.releases + 1}`,
    [JSON.stringify(whole), JSON.stringify({ ...outline, items: whole.items })],
  );
  // The last of them goes to hundreds.
  await db.query(
    `INSERT INTO releases (id, assessment_id, version_id, class_id, opens_at, due_at, late_accepted, note, released_by, created_at)
     SELECT ${id(RELEASE, 'seq')}, ${id(VERSION, 'seq')}, ${id(VERSION, 'seq')}, IF(seq > ${CLASS.releases}, ${id(ROOM, 2)}, ${id(ROOM, 1)}),
       UTC_TIMESTAMP(3) - INTERVAL (400 - seq) DAY, UTC_TIMESTAMP(3) - INTERVAL (390 - seq) DAY, 1, '', '${teacherId}', UTC_TIMESTAMP(3)
     FROM seq_1_to_${CLASS.releases + 1}`,
  );
  // Sittings 1 to ${own} are the class's, the others those of the hundreds.
  const release = `IF(seq <= ${own}, (seq - 1) DIV ${CLASS.students} + 1, ${CLASS.releases + 1})`;
  const person = `IF(seq <= ${own}, (seq - 1) MOD ${CLASS.students} + 1, seq - ${own})`;
  const sittings = `seq_1_to_${own + people}`;
  await db.query(
    `INSERT INTO participants (release_id, person_id) SELECT ${id(RELEASE, release)}, ${id(PERSON, person)} FROM ${sittings}`,
  );
  await db.query(
    `INSERT INTO sittings (id, release_id, student_id, number, began_at, handed_in_at, feedback_at, answered, finished, waiting_ms)
     SELECT ${id(SITTING, 'seq')}, ${id(RELEASE, release)}, ${id(PERSON, person)}, 1, UTC_TIMESTAMP(3) - INTERVAL 30 DAY,
       UTC_TIMESTAMP(3) - INTERVAL 20 DAY, UTC_TIMESTAMP(3) - INTERVAL 10 DAY, ${CLASS.items}, ${CLASS.items}, 0 FROM ${sittings}`,
  );
  const answers = `seq_1_to_${(own + people) * CLASS.items}`;
  const sitting = id(SITTING, `(seq - 1) DIV ${CLASS.items} + 1`);
  const item = `CAST(CONCAT('0000000', (seq - 1) MOD ${CLASS.items}, '-00b1-4000-8000-000000000000') AS UUID)`;
  await db.query(
    `INSERT INTO marks (id, sitting_id, item_id, revision, points_hundredths, comment, finished_at, author_id, created_at, updated_at)
     SELECT ${id(MARK, 'seq')}, ${sitting}, ${item}, 1, 50 * (seq * 7 MOD 21), IF(seq MOD 3 = 0, 'Shorter pauses between the sentences.', ''),
       UTC_TIMESTAMP(3), '${teacherId}', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) FROM ${answers}`,
  );
  await db.query(
    `INSERT INTO recordings (id, owner_id, purpose, state, announced_type, medium, duration_ms, limit_ms, created_at)
     SELECT ${id(TAKE, 'seq')}, ${id(PERSON, 1)}, 'take', 'stored', 'audio/ogg', 'sound', 20000 + seq MOD 9000, 45000, UTC_TIMESTAMP(3) FROM ${answers}`,
  );
  await db.query(
    `INSERT INTO takes (id, sitting_id, item_id, number, began_at) SELECT ${id(TAKE, 'seq')}, ${sitting}, ${item}, 1, UTC_TIMESTAMP(3) FROM ${answers}`,
  );
  await db.query(
    `INSERT INTO measures (recording_id, revision, figures, pauses, measured_at)
     SELECT ${id(TAKE, 'seq')}, 1000, JSON_OBJECT('speakingSec', seq MOD 20, 'pauseCount', seq MOD 7, 'articulationRate', 4.2), '[]', UTC_TIMESTAMP(3) FROM ${answers}`,
  );
  await db.query(
    `INSERT INTO sitting_events (id, sitting_id, item_id, kind, at, received_at)
     SELECT ${id(EVENT, 'seq')}, ${sitting}, ${item}, 'promptBegan', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) FROM ${answers}`,
  );
  await db.query(
    `UPDATE sittings s JOIN (SELECT sitting_id, SUM(points_hundredths) AS points FROM marks GROUP BY sitting_id) k ON k.sitting_id = s.id
     SET s.points_hundredths = k.points`,
  );
  await db.query(
    'ANALYZE TABLE people, releases, participants, sittings, marks, takes, recordings, measures, sitting_events',
  );
  // Six hundred by a hundred and twenty, with nothing but what a sheet of scores needs.
  const wide = MANY * CLASS.releases;
  const [wideRelease, widePerson] = [`(seq - 1) DIV ${MANY} + 1001`, `(seq - 1) MOD ${MANY} + 1`];
  await db.query(
    `INSERT INTO classes (id, name, subject, created_at) VALUES (${id(ROOM, 3)}, 'A wide sheet', 'language', UTC_TIMESTAMP(3))`,
  );
  await db.query(
    `INSERT INTO class_members (class_id, person_id, role)
     SELECT ${id(ROOM, 3)}, ${id(PERSON, 'seq')}, 'student' FROM seq_1_to_${MANY} UNION ALL SELECT ${id(ROOM, 3)}, '${teacherId}', 'teacher'`,
  );
  await db.query(
    `INSERT INTO releases (id, assessment_id, version_id, class_id, opens_at, due_at, late_accepted, note, released_by, created_at)
     SELECT ${id(RELEASE, '1000 + seq')}, ${id(VERSION, 1)}, ${id(VERSION, 1)}, ${id(ROOM, 3)}, UTC_TIMESTAMP(3) - INTERVAL (400 - seq) DAY,
       UTC_TIMESTAMP(3) - INTERVAL (390 - seq) DAY, 1, '', '${teacherId}', UTC_TIMESTAMP(3) FROM seq_1_to_${CLASS.releases}`,
  );
  await db.query(
    `INSERT INTO participants (release_id, person_id) SELECT ${id(RELEASE, wideRelease)}, ${id(PERSON, widePerson)} FROM seq_1_to_${wide}`,
  );
  await db.query(
    `INSERT INTO sittings (id, release_id, student_id, number, began_at, handed_in_at, feedback_at, answered, finished, waiting_ms, points_hundredths)
     SELECT ${id(SITTING, '10000000 + seq')}, ${id(RELEASE, wideRelease)}, ${id(PERSON, widePerson)}, 1, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3),
       UTC_TIMESTAMP(3), ${CLASS.items}, ${CLASS.items}, 0, 50 * (seq MOD 101) FROM seq_1_to_${wide}`,
  );
  return {
    wide: '00000003-00a2-4000-8000-000000000000',
    room: '00000001-00a2-4000-8000-000000000000',
    release: '00000079-00a4-4000-8000-000000000000',
    student: '00000001-00a1-4000-8000-000000000000',
  };
}

const memoryMb = pid => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024;

/** Has a workbook made. @returns how long it took in ms, and memory before, at most and after in MB */
async function exported(ask, pid, room) {
  const before = memoryMb(pid);
  let most = before;
  const began = performance.now();
  const { id: made } = await ask('POST', `/api/classes/${room}/exports`, { kind: 'workbook' });
  for (;;) {
    most = Math.max(most, memoryMb(pid));
    const found = (await ask('GET', '/api/exports')).find(e => e.id === made);
    if (found.state === 'done') break;
    if (found.state === 'failed') throw new Error(found.problem);
    await new Promise(resolve => setTimeout(resolve, 20));
  }
  return { ms: performance.now() - began, before, most };
}

/** Chromium from Debian, where it lies. */
const CHROMIUM = ['/usr/bin/chromium', '/usr/bin/chromium-headless-shell'].find(existsSync);

/** Frames while the markbook is scrolled over, across and down. @returns their lengths in ms, in order of length */
async function scrolled(base, room) {
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox'] });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: base });
    await page.goto('/sign-in');
    await page
      .getByLabel(/sign-in name|mail/i)
      .first()
      .fill('bench');
    await page.getByLabel('Password').fill('a-long-password');
    await page.keyboard.press('Enter');
    await page.waitForURL(url => url.pathname === '/');
    await page.goto(`/results/${room}`);
    await page.waitForSelector('[role=gridcell]');
    return await page.evaluate(async () => {
      const grid = document.querySelector('[role=grid]');
      const frames = [];
      let before = performance.now();
      for (let n = 0; n < 240; n++) {
        await new Promise(requestAnimationFrame);
        const now = performance.now();
        if (n > 0) frames.push(now - before);
        before = now;
        if (n < 160) grid.scrollLeft -= 90;
        else grid.scrollTop += n % 20 < 10 ? 60 : -60;
      }
      return frames.sort((a, b) => a - b);
    });
  } finally {
    await browser.close();
  }
}

/** @returns rows of the table, the plans of the queries behind them, and frames while scrolling */
export async function results(base, pid, dataDir, made, say) {
  const ask = asking(base);
  const { me } = await ask('POST', '/api/first-teacher', {
    displayName: 'Bench',
    signInName: 'bench',
    password: 'a-long-password',
  });
  const db = await owner(dataDir);
  await generate(db, me.id, JSON.stringify(made.content), JSON.stringify(made.outline), {
    measuredBy: made.measuredBy,
    say,
  });
  const { room, release, student, wide } = await fill(db, me.id, made);
  say('a class, its year and its marks');
  const { rows, plans } = await timed(db, ask, [
    [`a markbook of ${CLASS.students} × ${CLASS.releases}`, `/api/classes/${room}/markbook`, BUDGET_MS],
    [
      `a student’s year of ${CLASS.releases} × ${CLASS.items}`,
      `/api/classes/${room}/students/${student}/year`,
      BUDGET_MS,
    ],
    [`a release of ${MANY} × ${CLASS.items} in numbers`, `/api/releases/${release}/numbers`, BUDGET_MS],
  ]);
  await db.query(
    'UPDATE people s JOIN people t ON t.id = ? SET s.password_hash = t.password_hash WHERE s.id = ?',
    [me.id, student],
  );
  const learner = asking(base);
  await learner('POST', '/api/session', { signInName: 'r1', password: 'a-long-password' });
  const own = await timed(db, learner, [
    [`feedback of a year of ${CLASS.releases}, in one go`, '/api/feedback', BUDGET_MS],
    ['a year, as its student sees it', '/api/my-year', BUDGET_MS],
  ]);
  rows.push(...own.rows);
  plans.push(...own.plans);
  await db.end();
  const books = [];
  for (let n = 0; n < BOOKS; n++) books.push(await exported(ask, pid, wide));
  return { rows, plans, books, frames: await scrolled(base, room) };
}

export function printResults({ frames, books }) {
  const times = books.map(b => b.ms).sort((a, b) => a - b);
  console.log(
    `\na workbook of ${MANY} × ${CLASS.releases}, ${books.length} times: median ${times[times.length >> 1].toFixed(0)} ms (${(times[times.length >> 1] / BOOK_MS).toFixed(3)} of ${BOOK_MS} ms), most ${times.at(-1).toFixed(0)} ms; memory before, at most in the first, at most in the last: ${books[0].before.toFixed(0)}, ${books[0].most.toFixed(0)}, ${books.at(-1).most.toFixed(0)} MB (${(books.at(-1).most / books[0].most).toFixed(2)})`,
  );
  const at = share => frames[Math.floor(frames.length * share)];
  console.log(
    `\nscrolling the markbook, ${frames.length} frames: median ${at(0.5).toFixed(1)} ms (${(at(0.5) / FRAME_MS).toFixed(2)} of a frame), 95 of 100 within ${at(0.95).toFixed(1)} ms, most ${frames.at(-1).toFixed(1)} ms`,
  );
}
