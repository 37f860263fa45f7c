// ./ecoute bench releasing: what a teacher opens first, in a large school; and how the database finds it.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import mysql from 'mysql2/promise';
import { generate } from './releasingData.mjs';

const TIMES = 40;
const BUDGET_MS = 50;
/** Nobody waits for it, but everybody is beside it. */
const SWEEP_BUDGET_MS = 500;

/** A connection that may do everything: by the socket, as whoever started the database. */
export function owner(dataDir) {
  const dbDir = join(dataDir, 'db');
  const { uid } = userInfo();
  const hash = createHash('sha256').update(dbDir).digest('hex').slice(0, 12);
  return mysql.createConnection({
    socketPath: join(tmpdir(), `ecoute-${uid}-${hash}`, 'db.sock'),
    user: 'root',
    database: 'ecoute',
    multipleStatements: false,
    // As the server's own connections: what it asked is asked again here.
    charset: 'utf8mb4',
  });
}

/** Everything that the database was asked while something was done. */
async function asked(db, doing) {
  await db.query("SET GLOBAL log_output = 'TABLE'");
  await db.query('TRUNCATE mysql.general_log');
  await db.query('SET GLOBAL general_log = 1');
  await doing();
  await db.query('SET GLOBAL general_log = 0');
  const [rows] = await db.query(
    "SELECT CONVERT(argument USING utf8mb4) AS sql_text FROM mysql.general_log WHERE command_type = 'Query'",
  );
  return [...new Set(rows.map(r => r.sql_text))].filter(
    sql => /^\s*SELECT/i.test(sql) && !/sessions|mysql\.general_log|FROM jobs|FROM changes/.test(sql),
  );
}

/** Asks as a browser does, with the session that it was given. */
export function asking(base) {
  let cookie = '';
  return async (method, path, body) => {
    const response = await fetch(base + path, {
      method,
      headers: { Origin: base, Cookie: cookie, ...(body && { 'Content-Type': 'application/json' }) },
      body: body && JSON.stringify(body),
    });
    const set = response.headers.getSetCookie().find(c => c.startsWith('ecoute='));
    if (set) cookie = set.split(';')[0];
    const text = await response.text();
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
    return text ? JSON.parse(text) : null;
  };
}

/** Times pages, and asks the database how it finds what they need. @param pages name, path, budget in ms */
export async function timed(db, ask, pages) {
  const rows = [];
  const plans = [];
  for (const [name, path, budgetMs] of pages) {
    const times = [];
    for (let n = 0; n < TIMES + 5; n++) {
      const began = performance.now();
      await ask('GET', path);
      if (n >= 5) times.push(performance.now() - began);
    }
    times.sort((a, b) => a - b);
    rows.push({ name, median: times[TIMES >> 1], least: times[0], most: times.at(-1), budgetMs });
    for (const sql of await asked(db, () => ask('GET', path))) {
      const [plan] = await db.query(`EXPLAIN ${sql}`);
      plans.push({ name, sql, plan });
    }
  }
  return { rows, plans };
}

/** Sweeps come every three minutes. */
const SWEEP_MS = 200_000;

/** What the server looks for by itself every few minutes, in so large a school: each question, and how long it takes. */
async function swept(db) {
  await db.query("SET GLOBAL log_output = 'TABLE'");
  await db.query('TRUNCATE mysql.general_log');
  await db.query('SET GLOBAL general_log = 1');
  await new Promise(resolve => setTimeout(resolve, SWEEP_MS));
  await db.query('SET GLOBAL general_log = 0');
  const [found] = await db.query(
    `SELECT DISTINCT CONVERT(argument USING utf8mb4) AS sql_text FROM mysql.general_log
     WHERE command_type = 'Query' AND argument REGEXP '^[[:space:]]*(SELECT|DELETE|UPDATE|INSERT)'`,
  );
  const each = [];
  const plans = [];
  for (const { sql_text: sql } of found) {
    if (/mysql\.general_log/.test(sql)) continue;
    const name = `by itself: ${sql.replace(/\s+/g, ' ').slice(0, 60)}`;
    const [plan] = await db.query(`EXPLAIN ${sql}`).catch(() => [[]]);
    plans.push({ name, sql, plan });
    if (!/^\s*SELECT/i.test(sql)) continue;
    const began = performance.now();
    await db.query(sql.replace(/FOR UPDATE.*$/is, ''));
    const ms = performance.now() - began;
    each.push({ name, median: ms, least: ms, most: ms, budgetMs: SWEEP_BUDGET_MS });
  }
  each.sort((a, b) => b.median - a.median);
  return { rows: each.slice(0, 5), plans };
}

/** Guests come, one is said to be another, and all are forgotten: what that reads, and how long it takes. */
async function forgotten(base, db, ask, releaseId) {
  const [[{ assessment_id: assessmentId, class_id: classId }]] = await db.query(
    'SELECT assessment_id, class_id FROM releases WHERE id = ?',
    [releaseId],
  );
  const dueAt = new Date(Date.now() + 86_400_000).toISOString();
  const { id } = await ask('POST', '/api/releases', {
    assessmentId,
    classId,
    dueAt,
    lateAccepted: true,
    note: '',
  });
  const [{ code }] = await ask('POST', `/api/releases/${id}/links`, { keepDays: 1 });
  for (const name of ['Ada', 'Bo', 'Cleo', 'Dov']) {
    const guest = asking(base);
    await guest('POST', `/api/links/${code}/guests`, { name });
    await guest('POST', `/api/releases/${id}/sitting`);
  }
  const guests = await ask('GET', `/api/releases/${id}/guests`);
  const began = performance.now();
  await ask('POST', `/api/releases/${id}/guests/${guests[0].id}/merge`, { into: guests[1].id });
  const mergeMs = performance.now() - began;
  await db.query('UPDATE people SET created_at = created_at - INTERVAL 2 DAY WHERE id IN (?)', [
    guests.map(g => g.id),
  ]);
  await db.query("SET GLOBAL log_output = 'TABLE'");
  await db.query('TRUNCATE mysql.general_log');
  await db.query('SET GLOBAL general_log = 1');
  await db.query(
    `INSERT INTO jobs (kind, payload, urgent, run_after, created_at)
     VALUES ('forgetGuests', '{}', 1, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
  );
  for (let left = 1; left > 0;) {
    await new Promise(resolve => setTimeout(resolve, 100));
    [[{ n: left }]] = await db.query('SELECT COUNT(*) AS n FROM people WHERE id IN (?)', [
      guests.map(g => g.id),
    ]);
  }
  await db.query('SET GLOBAL general_log = 0');
  const [[{ ms }]] = await db.query(
    `SELECT TIMESTAMPDIFF(MICROSECOND, MIN(event_time), MAX(event_time)) / 1000 AS ms FROM mysql.general_log
     WHERE thread_id IN (SELECT thread_id FROM mysql.general_log WHERE argument LIKE 'DELETE FROM people%')
       AND argument REGEXP 'guest_link_id|DELETE FROM'`,
  );
  const [found] = await db.query(
    `SELECT DISTINCT CONVERT(argument USING utf8mb4) AS sql_text FROM mysql.general_log
     WHERE command_type = 'Query' AND argument REGEXP '^[[:space:]]*(SELECT|DELETE|UPDATE)'
       AND NOT argument REGEXP 'general_log|FROM jobs|UPDATE jobs|right_changes|FROM changes|COUNT'`,
  );
  const plans = [];
  for (const { sql_text: sql } of found) {
    const [plan] = await db.query(`EXPLAIN ${sql}`).catch(() => [[]]);
    plans.push({ name: 'guests are forgotten', sql, plan });
  }
  const row = (name, took) => ({ name, median: took, least: took, most: took, budgetMs: SWEEP_BUDGET_MS });
  return {
    rows: [row('a guest is said to be another', mergeMs), row('four guests are forgotten', Number(ms))],
    plans,
  };
}

const budgeted = pages => pages.map(page => [...page, BUDGET_MS]);

/** @returns rows of the table, those of what the server does by itself, and the plans of the queries behind them */
export async function releasing(base, dataDir, say) {
  const ask = asking(base);
  const { me } = await ask('POST', '/api/first-teacher', {
    displayName: 'Bench',
    signInName: 'bench',
    password: 'a-long-password',
  });
  const { content, outline, measuredBy } = JSON.parse(readFileSync(join(dataDir, 'content.json'), 'utf8'));
  const db = await owner(dataDir);
  const { classId, releaseId } = await generate(db, me.id, JSON.stringify(content), JSON.stringify(outline), {
    measuredBy,
    say,
  });
  const month = new Date().toISOString().slice(0, 7);
  const next = new Date(Date.UTC(new Date().getUTCFullYear(), new Date().getUTCMonth() + 1, 1))
    .toISOString()
    .slice(0, 10);
  const pages = [
    ['the first page: everything of five classes', '/api/releases'],
    ['the calendar of this month', `/api/calendar?from=${month}-01&to=${next}`],
    ['a class and its people', `/api/classes/${classId}`],
    ['the overview of a release', `/api/releases/${releaseId}`],
    ['the lanes of a release', `/api/releases/${releaseId}/lanes?packed`],
    ['the list of classes', '/api/classes'],
    ['results of five classes', '/api/results'],
    ['a markbook', `/api/classes/${classId}/markbook`],
    ['somebody among all people', '/api/administration/people?find=student%204321'],
    ['administration', '/api/administration'],
  ];
  // Somebody of the first class, with a year behind them, signs in as the teacher does.
  await db.query(
    `UPDATE people s JOIN people t ON t.id = ? SET s.password_hash = t.password_hash WHERE s.sign_in_name = 's1'`,
    [me.id],
  );
  const student = asking(base);
  await student('POST', '/api/session', { signInName: 's1', password: 'a-long-password' });
  const theirs = [
    ['a student’s first page', '/api/todo'],
    ['what a student has feedback on', '/api/feedback'],
    ['a student’s recordings', '/api/my-recordings'],
    ['a student’s year', '/api/my-year'],
  ];
  const [one, other] = [await timed(db, ask, budgeted(pages)), await timed(db, student, budgeted(theirs))];
  // Looked at where somebody asks for a size: it takes minutes.
  let itself = { rows: [], plans: [] };
  if (process.env.ECOUTE_BENCH_TIMES) {
    say('what is looked for every few minutes …');
    itself = await swept(db);
    const gone = await forgotten(base, db, ask, releaseId);
    itself = { rows: [...itself.rows, ...gone.rows], plans: [...itself.plans, ...gone.plans] };
  }
  await db.end();
  return {
    rows: [...one.rows, ...other.rows],
    itself: itself.rows,
    plans: [...one.plans, ...other.plans, ...itself.plans],
  };
}

/** Prints how each query is found; a table that is read from end to end is marked. */
export function printPlans(plans) {
  let scans = 0;
  for (const { name, sql, plan } of plans) {
    console.log(`\n${name}\n  ${sql.replace(/\s+/g, ' ').slice(0, 150)} …`);
    for (const { table, type, key, rows } of plan) {
      // What was found for a question of its own stands beside it with how it was.
      const scan = type === 'ALL' && rows > 500 && !/^</.test(table);
      if (scan) scans += 1;
      console.log(
        `    ${String(table).padEnd(14)}${String(type).padEnd(8)}${String(key ?? '–').padEnd(28)}${rows} rows${scan ? '   FULL SCAN' : ''}`,
      );
    }
  }
  console.log(`\nTables of more than 500 rows read from end to end: ${scans}`);
}
