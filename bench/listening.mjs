/* global MutationObserver, addEventListener, document, scrollBy, scrollTo, scrollY, requestAnimationFrame */
// ./ecoute bench listening: 600 students × 5 items with real recordings; what a teacher waits for.
import { randomUUID } from 'node:crypto';
import { linkSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { chromium } from '@playwright/test';
import { bare } from './bare.mjs';
import { brought, memoryOf, nth, visitor } from './visitor.mjs';
import { note } from './notes.mjs';

const STUDENTS = 600;
const OPENED = 300;
const MODELS = 25;
/** All columns of `measures` but whose they are. */
const MEASURED = 'revision, problem, figures, pauses, measured_at';

/** The demo's own recordings of people who speak, as files that a student would bring. */
export function voices(root) {
  const folder = join(root, 'demo/audio');
  return readdirSync(folder)
    .filter(f => /^(morning|market|bell)-.*\.ogg$/.test(f))
    .slice(0, MODELS)
    .map(f => readFileSync(join(folder, f)));
}

/** A teacher and a class of theirs. */
export async function everybody(base, db, students) {
  const teacher = visitor(base);
  const { ask } = teacher;
  await ask('POST', '/api/first-teacher', {
    displayName: 'Bench',
    signInName: 'bench',
    password: 'a-long-password',
  });
  const made = await ask('POST', '/api/classes', { name: 'Everybody', subject: 'language' });
  await db.query(
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, created_at)
     SELECT UUID(), CONCAT('s', seq), CONCAT('Student ', LPAD(seq, 3, '0')), 'student',
       (SELECT password_hash FROM people WHERE sign_in_name = 'bench'), UTC_TIMESTAMP(3) FROM seq_1_to_${students}`,
  );
  await db.query(
    `INSERT INTO class_members (class_id, person_id, role) SELECT ?, id, 'student' FROM people WHERE role = 'student'`,
    [made.id],
  );
  return { teacher, classId: made.id };
}

/** A school that has handed in: some students by the API, the others as copies of theirs. */
export async function school(base, db, dataDir, root, content, students, say) {
  const itemCount = content.items.length;
  const { teacher, classId } = await everybody(base, db, students);
  const { ask } = teacher;
  const assessment = await ask('POST', '/api/assessments', content);
  const release = await ask('POST', '/api/releases', {
    assessmentId: assessment.id,
    classId,
    dueAt: new Date(Date.now() + 86_400_000).toISOString(),
    lateAccepted: true,
    note: '',
  });
  const models = [];
  const files = voices(root);
  for (let n = 0; n < Math.floor(MODELS / itemCount); n++) {
    const student = visitor(base);
    await student.ask('POST', '/api/session', { signInName: `s${n + 1}`, password: 'a-long-password' });
    const sitting = await student.ask('POST', `/api/releases/${release.id}/sitting`);
    for (const [i, item] of sitting.content.items.entries()) {
      const bytes = files[(n * itemCount + i) % files.length];
      const recordingId = await brought(student, sitting.id, item.id, bytes);
      models.push({ recordingId, itemId: item.id });
    }
    for (const { recordingId } of models.slice(-itemCount))
      while ((await student.ask('GET', `/api/recordings/${recordingId}`)).state !== 'stored')
        await new Promise(resolve => setTimeout(resolve, 100));
    await student.ask('POST', `/api/sittings/${sitting.id}/hand-in`, { withGaps: false });
    say(`${models.length} recordings came in`);
  }
  for (;;) {
    const [rows] = await db.query(
      `SELECT COUNT(*) AS n FROM recordings r LEFT JOIN measures m ON m.recording_id = r.id
       WHERE (playable_at IS NULL OR m.recording_id IS NULL) AND id IN (?)`,
      [models.map(m => m.recordingId)],
    );
    if (Number(rows[0].n) === 0) break;
    await new Promise(resolve => setTimeout(resolve, 300));
  }
  await copied(db, dataDir, release.id, models, students, itemCount, say);
  return { teacher, releaseId: release.id, classId, models, sound: files[0] };
}

/** Students who have not sat a release: a sitting each, with recordings of their own that are the same bytes under another name. */
async function copied(db, dataDir, releaseId, models, most, items, say) {
  const [people] = await db.query(
    `SELECT id FROM people WHERE role = 'student'
       AND id NOT IN (SELECT student_id FROM sittings WHERE release_id = ?) LIMIT ${most}`,
    [releaseId],
  );
  const [[model]] = await db.query('SELECT * FROM sittings LIMIT 1');
  const [columns] = await db.query(
    "SELECT COLUMN_NAME AS name FROM information_schema.columns WHERE table_schema = 'ecoute' AND table_name = 'recordings' AND GENERATION_EXPRESSION IS NULL",
  );
  const names = columns.map(c => c.name);
  const sounds = join(dataDir, 'sounds');
  const folders = readdirSync(sounds, { recursive: true });
  const copy = (from, to) => {
    for (const path of folders.filter(path => path.includes(from)))
      linkSync(join(sounds, path), join(sounds, path.replace(from, to)));
  };
  for (const [n, { id: personId }] of people.entries()) {
    const sittingId = randomUUID();
    await db.query(
      `INSERT INTO sittings (id, release_id, student_id, number, began_at, handed_in_at, receipt, answered, finished, waiting_ms)
       VALUES (?, ?, ?, 1, ?, ?, ?, ?, 0, ?)`,
      [
        sittingId,
        releaseId,
        personId,
        model.began_at,
        model.handed_in_at,
        model.receipt,
        items,
        model.waiting_ms,
      ],
    );
    for (let i = 0; i < items; i++) {
      const from = models[(n * items + i) % models.length];
      const id = randomUUID();
      copy(from.recordingId, id);
      await db.query(
        `INSERT INTO recordings (${names.join(', ')}) SELECT ${names
          .map(c => (c === 'id' ? '?' : c === 'owner_id' ? '?' : c))
          .join(', ')} FROM recordings WHERE id = ?`,
        names.indexOf('id') < names.indexOf('owner_id')
          ? [id, personId, from.recordingId]
          : [personId, id, from.recordingId],
      );
      await db.query(
        'INSERT INTO takes (id, sitting_id, item_id, number, began_at) VALUES (?, ?, ?, 1, UTC_TIMESTAMP(3))',
        [id, sittingId, from.itemId],
      );
      // Measured long ago: what still measures 900 recordings beside a teacher is not the usual day.
      await db.query(
        `INSERT INTO measures (recording_id, ${MEASURED}) SELECT ?, ${MEASURED} FROM measures WHERE recording_id = ?`,
        [id, from.recordingId],
      );
    }
    if (n % 100 === 99) say(`${n + 1} of ${people.length} students copied`);
  }
}

export async function timed(times, doing) {
  const all = [];
  for (let n = 0; n < times + 3; n++) {
    const began = performance.now();
    await doing(n);
    if (n >= 3) all.push(performance.now() - began);
  }
  return { median: nth(all, 0.5), least: nth(all, 0), most: nth(all, 1) };
}

/** The ZIP as it streams: bytes a second, and the server's memory in the second and the last quarter. */
async function zipped(base, teacher, releaseId, pid) {
  const began = performance.now();
  const response = await fetch(`${base}/api/releases/${releaseId}/recordings.zip`, {
    headers: teacher.headers(),
  });
  const total = Number(response.headers.get('content-length'));
  const samples = [];
  let bytes = 0;
  for await (const piece of response.body) {
    bytes += piece.length;
    samples.push([bytes, memoryOf(pid)]);
  }
  const seconds = (performance.now() - began) / 1000;
  const within = (from, to) =>
    samples.filter(([at]) => at >= bytes * from && at < bytes * to).map(([, mb]) => mb);
  return {
    bytes,
    isWhole: bytes === total,
    mbPerSecond: bytes / 1e6 / seconds,
    earlyMb: nth(within(0.25, 0.5), 0.5),
    lateMb: nth(within(0.75, 1), 0.5),
  };
}

/** Range requests a second for the same bytes: here, and from a bare static server in a process of its own. */
export async function ranges(base, teacher, dataDir, releaseId, takeIds) {
  const { address, end } = await bare('static', join(dataDir, 'sounds/playable'));
  const measure = async urlOf => {
    const until = performance.now() + 4_000;
    let done = 0;
    await Promise.all(
      Array.from({ length: 8 }, async (_, k) => {
        for (let n = k; performance.now() < until; n += 8) {
          const id = takeIds[n % takeIds.length];
          const response = await fetch(urlOf(id), {
            headers: { ...teacher.headers(), Range: 'bytes=0-32767' },
          });
          if (response.status !== 206) throw new Error(`range: ${response.status}`);
          await response.arrayBuffer();
          done += 1;
        }
      }),
    );
    return done / 4;
  };
  const ofBare = () => measure(id => `${address}/${id}.m4a`);
  const ofOurs = () => measure(id => `${base}/api/recordings/${id}/sound`);
  await ofBare();
  // As a teacher does: the page of lanes first, and now and then again.
  const rounds = [];
  for (let n = 0; n < 3; n++) {
    await teacher.ask('GET', `/api/releases/${releaseId}/lanes`);
    rounds.push({ sink: await ofBare(), own: await ofOurs() });
  }
  end();
  rounds.sort((a, b) => a.own / a.sink - b.own / b.sink);
  return rounds[1];
}

/**
 * From the press on a release in the queue until its first recording can be played (its sound is there, its desk is
 * drawn), and until it plays, at the first key. Each time in a browser context of its own, the first one left out.
 */
export async function soundsAfter(base, releaseId) {
  const browser = await chromium.launch({
    executablePath: process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    const all = [];
    for (let n = 0; n < 6; n++) {
      const context = await browser.newContext({ baseURL: base, viewport: { width: 1280, height: 800 } });
      const page = await context.newPage();
      await page.request.post('/api/session', {
        headers: { Origin: base },
        data: { signInName: 'bench', password: 'a-long-password' },
      });
      await page.goto('/listen');
      await page.locator(`a[href^="/listen/${releaseId}"]`).waitFor();
      await page.waitForLoadState('networkidle');
      await page.evaluate(() => {
        const at = (globalThis.at = {});
        const once = { capture: true, once: true };
        addEventListener(
          'click',
          click => {
            at.click = click.timeStamp;
            document.addEventListener('playing', e => (at.playing = e.timeStamp - at.click), once);
            // The first sound that the page asks for is that of the lane it opens at.
            new PerformanceObserver(list => {
              for (const asked of list.getEntries())
                if (asked.name.endsWith('/sound')) at.sound ??= asked.responseEnd - at.click;
            }).observe({ type: 'resource' });
            // Drawn is what a frame after the desk's own change has been painted with.
            const watch = new MutationObserver(() => {
              if (!document.querySelector('button[aria-label^="Play"]')) return;
              if (!document.querySelector('textarea')) return;
              watch.disconnect();
              requestAnimationFrame(() => setTimeout(() => (at.drawn = performance.now() - at.click)));
            });
            watch.observe(document.body, { childList: true, subtree: true });
          },
          once,
        );
      });
      await page.locator(`a[href^="/listen/${releaseId}"]`).click();
      await page.getByLabel('Comment').waitFor();
      await page.waitForFunction(() => globalThis.at.drawn && globalThis.at.sound);
      await page.keyboard.press(' ');
      await page.waitForFunction(() => globalThis.at.playing);
      all.push(await page.evaluate(() => globalThis.at));
      await context.close();
    }
    // The first one fetches the page's own parts.
    return all.slice(1);
  } finally {
    await browser.close();
  }
}

/** In the browser: from the finishing key to the next recording's own playing event; frames while 600 lanes scroll. */
/** The first of them reads the scripts, as after an update; the median is of all. */
const OPENINGS = 5;

export async function inBrowser(base, releaseId, say) {
  const browser = await chromium.launch({
    executablePath: process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    const page = await (
      await browser.newContext({ baseURL: base, viewport: { width: 1280, height: 800 } })
    ).newPage();
    await page.goto('/sign-in');
    await page.getByLabel('Sign-in name').fill('bench');
    await page.getByLabel('Password').fill('a-long-password');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.getByRole('navigation', { name: 'Main' }).waitFor();
    // By the page's own clock, from the press until the frame with the field for the first comment is painted: whoever looks from
    // outside does so only now and then.
    await page.addInitScript(() => {
      const watch = new MutationObserver(() => {
        if (!document.querySelector('textarea')) return;
        watch.disconnect();
        requestAnimationFrame(() => setTimeout(() => (globalThis.drawnMs = performance.now())));
      });
      watch.observe(document, { childList: true, subtree: true });
    });
    const opened = [];
    for (let n = 0; n < OPENINGS; n++) {
      await page.goto('/account');
      await page.waitForTimeout(500);
      await page.goto(`/listen/${releaseId}`, { waitUntil: 'commit' });
      await page.waitForFunction(() => globalThis.drawnMs);
      opened.push(await page.evaluate(() => globalThis.drawnMs));
    }
    const openMs = nth(opened, 0.5);
    await page.evaluate(() => {
      globalThis.heard = [];
      globalThis.said = [];
      let pressed = 0;
      let pressedAt = 0;
      let said = 1;
      let last = null;
      // A browser says “playing” once it could; heard is when the place of what plays begins to move.
      const look = new MessageChannel();
      look.port1.onmessage = () => {
        const sounding = [...document.querySelectorAll('video')].find(v => !v.paused && v.src !== last);
        if (!pressed) return;
        if (!(sounding?.currentTime > 0)) return void look.port2.postMessage(null);
        // Looked at late, while the page is drawn, its place says how long it moves already.
        const since = (1_000 * sounding.currentTime) / sounding.playbackRate;
        globalThis.heard.push(performance.now() - pressed - since);
        pressed = 0;
      };
      addEventListener(
        'keydown',
        e => {
          if (e.key !== 'Enter') return;
          last = [...document.querySelectorAll('video')].find(v => !v.paused)?.src ?? null;
          pressed = e.timeStamp;
          said = 0;
          pressedAt = pressed;
          look.port2.postMessage(null);
        },
        true,
      );
      // Media events do not bubble; of two elements either may be the one.
      document.addEventListener(
        'playing',
        e => said++ === 0 && globalThis.said.push(e.timeStamp - pressedAt),
        true,
      );
    });
    await page.keyboard.press(' ');
    await page.waitForTimeout(1_500);
    for (let n = 1; n <= 30; n++) {
      await page.keyboard.press('4');
      // As a listener would: the points settle, and the next recordings are fetched meanwhile.
      await page.waitForTimeout(700);
      await page.keyboard.press('Enter');
      await page.waitForFunction(count => globalThis.heard.length >= count, n, { timeout: 20_000 });
      if (n % 10 === 0) say(`${n} recordings marked in the browser`);
    }
    const [heard, said] = await page.evaluate(() => [globalThis.heard, globalThis.said]);
    const scroll = () =>
      page.evaluate(
        () =>
          new Promise(resolve => {
            const frames = [];
            // From the beginning of a frame until its layout, painting and handing over are done: the page's own part.
            const busy = [];
            const after = new MessageChannel();
            let began = 0;
            after.port1.onmessage = () => busy.push(performance.now() - began);
            let most = 0;
            let last = performance.now();
            const until = last + 8_000;
            const step = now => {
              frames.push(now - last);
              last = now;
              began = performance.now();
              after.port2.postMessage(null);
              most = Math.max(most, document.querySelectorAll('ol[aria-label] > li').length);
              scrollBy(0, 45);
              if (now < until) requestAnimationFrame(step);
              else resolve({ frames: frames.slice(5), busy: busy.slice(5), most, at: scrollY });
            };
            requestAnimationFrame(step);
          }),
      );
    const scrolled = await scroll();
    // The same machine and browser with nothing but lines of text: what a frame costs here at the least.
    await page.evaluate(() => {
      document.body.innerHTML = Array.from(
        { length: 600 },
        (_, i) => `<p style="height:64px">Student ${i}</p>`,
      ).join('');
      scrollTo(0, 0);
    });
    const bare = (await scroll()).frames;
    return { openMs, heard, said, bare, ...scrolled };
  } finally {
    await browser.close();
  }
}

export async function listening(base, pid, db, dataDir, root, content, say) {
  mkdirSync(join(dataDir, 'sounds/playable'), { recursive: true });
  const { teacher, releaseId } = await school(base, db, dataDir, root, content, STUDENTS, say);
  const queue = await timed(20, () => teacher.ask('GET', '/api/releases'));
  const lanes = await timed(10, () => teacher.ask('GET', `/api/releases/${releaseId}/lanes?packed`));
  const view = await teacher.ask('GET', `/api/releases/${releaseId}/lanes`);
  const takeIds = view.lanes.map(l => l.takeId).filter(Boolean);
  say(`${view.lanes.length} lanes`);
  const zip = await zipped(base, teacher, releaseId, pid);
  const again = await zipped(base, teacher, releaseId, pid);
  const served = await ranges(base, teacher, dataDir, releaseId, takeIds);
  const browser = await inBrowser(base, releaseId, say);
  return { queue, lanes, count: view.lanes.length, zip, again, served, browser };
}

/** ./ecoute bench opening: a release of 300 × 3, from the queue until its first recording can be played. */
export async function opening(base, db, dataDir, root, content, say) {
  mkdirSync(join(dataDir, 'sounds/playable'), { recursive: true });
  const three = { ...content, items: content.items.slice(0, 3) };
  const { teacher, releaseId } = await school(base, db, dataDir, root, three, OPENED, say);
  const lanes = await timed(10, () => teacher.ask('GET', `/api/releases/${releaseId}/lanes?packed`));
  return { lanes, opened: await soundsAfter(base, releaseId) };
}

const line = (name, value, ratio) => console.log(`${name.padEnd(62)}${value.padStart(24)}   ${ratio}`);
const ms = value => `${value.toFixed(1)} ms`;
const budget = (value, most) => `${(value / most).toFixed(3)} of ${most} ms`;

export function printOpening({ lanes, opened }) {
  const of = reading => {
    const all = opened.map(reading).sort((a, b) => a - b);
    return [nth(all, 0.5), all[0], all.at(-1)];
  };
  line('300 × 3 opened from the queue', 'median, least, most', 'as a ratio');
  line('the lanes, on the server, median', ms(lanes.median), '');
  for (const [name, reading, most] of [
    ['until the desk is drawn', at => at.drawn, null],
    ['until its sound is there', at => at.sound, null],
    ['until its first recording can be played', at => Math.max(at.drawn, at.sound), 1_000],
    ['until it plays, at a key pressed then', at => at.playing, null],
  ]) {
    const [median, least, slowest] = of(reading);
    line(
      name,
      `${median.toFixed(0)}, ${least.toFixed(0)}, ${slowest.toFixed(0)} ms`,
      most ? budget(median, most) : '',
    );
  }
}

export function printListening({ queue, lanes, count, zip, again, served, browser }) {
  const { heard, said, frames, busy, bare, most } = browser;
  note('next.median', nth(heard, 0.5));
  note('next.most95', nth(heard, 0.95));
  note('lanes.server', lanes.median);
  note('lanes.open', browser.openMs);
  note('ranges', served.own, served.sink);
  line('what', 'figure', 'as a ratio');
  line(
    'finishing key until the next recording moves, median of 30',
    ms(nth(heard, 0.5)),
    budget(nth(heard, 0.5), 60),
  );
  line(
    '  95th percentile, most',
    `${nth(heard, 0.95).toFixed(0)}, ${nth(heard, 1).toFixed(0)} ms`,
    budget(nth(heard, 0.95), 120),
  );
  line('  until it says “playing”, median', ms(nth(said, 0.5)), '');
  line('the queue, on the server, median', ms(queue.median), budget(queue.median, 300));
  line(
    `the lanes of a release (${count}), on the server, median`,
    ms(lanes.median),
    budget(lanes.median, 100),
  );
  line('  least, most', `${lanes.least.toFixed(0)}, ${lanes.most.toFixed(0)} ms`, '');
  line('  in the browser, until the first can be scored', ms(browser.openMs), budget(browser.openMs, 700));
  const late = frames.filter(f => f > 20).length / frames.length;
  line(
    `scrolling 600 lanes: frames over 20 ms, of ${frames.length}`,
    `${(late * 100).toFixed(1)} %`,
    `${nth(frames, 0.95).toFixed(1)} ms at the 95th percentile`,
  );
  line(
    '  a frame, median',
    ms(nth(frames, 0.5)),
    `${(nth(frames, 0.5) / nth(bare, 0.5)).toFixed(2)} of a bare list of 600 lines (${nth(bare, 0.5).toFixed(1)} ms)`,
  );
  line(
    '  of it the page’s own work, median, 95th percentile',
    `${nth(busy, 0.5).toFixed(1)}, ${nth(busy, 0.95).toFixed(1)} ms`,
    `${(nth(busy, 0.5) / 16.7).toFixed(2)} of 16.7 ms; the rest is drawing without a graphics card`,
  );
  line('  lanes in the page at most', String(most), `${(most / 600).toFixed(3)} of 600`);
  line(
    `ZIP of the recordings, ${(zip.bytes / 1e6).toFixed(0)} MB${zip.isWhole ? '' : ' (NOT WHOLE)'}`,
    `${zip.mbPerSecond.toFixed(0)} MB/s`,
    '',
  );
  line(
    '  memory of the server, second and last quarter',
    `${again.earlyMb.toFixed(0)}, ${again.lateMb.toFixed(0)} MB`,
    `${(again.lateMb / again.earlyMb).toFixed(2)} of the second quarter`,
  );
  line(
    'range requests a second, eight at a time',
    served.own.toFixed(0),
    `${(served.own / served.sink).toFixed(3)} of a bare static server (${served.sink.toFixed(0)})`,
  );
}
