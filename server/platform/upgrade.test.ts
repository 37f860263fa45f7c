import { randomUUID } from 'node:crypto';
import { copyFileSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import mysql from 'mysql2/promise';
import { blankContent, blankItem } from '@ecoute/contract/blank';
import { fillOutlines } from '../capabilities/assessments/store';
import { entriesOf } from '../capabilities/releases/store';
import { sumsOf, type SumRow } from '../capabilities/results/store';
import { standings } from '../capabilities/releases/standings.store';
import { fillFacts } from '../capabilities/sittings/facts';
import { emptySchema, givenDatabase, MIGRATIONS } from '../testing/database';
import { migrate, openPool, type Pool } from './database';

/** A school that used Ecoute before releases had participants, brought up to date. */
describe('an Ecoute from before', () => {
  const given = givenDatabase('_before');
  let pool: Pool;
  /** Before anything is worked out anew. */
  let migrated: SumRow[];
  const ids = Object.fromEntries(
    [
      'teacher',
      'sat',
      'idle',
      'left',
      'class',
      'assessment',
      'version',
      'release',
      'sitting',
      'leftSitting',
      'take',
    ].map(name => [name, randomUUID()]),
  ) as Record<string, string>;
  const item = blankItem(randomUUID(), 'homework', { promptText: 'Say your name.' });
  const content = JSON.stringify(blankContent('homework', { title: 'From before', items: [item] }));

  beforeAll(async () => {
    const db = await mysql.createConnection({ ...given, database: undefined });
    await emptySchema(db, given.database);
    const before = mkdtempSync(join(tmpdir(), 'ecoute-migrations-'));
    for (const name of readdirSync(MIGRATIONS))
      if (name < '0004') copyFileSync(join(MIGRATIONS, name), join(before, name));
    await migrate(given, before);
    rmSync(before, { recursive: true });
    await db.changeUser({ database: given.database });
    const put = (sql: string, values: unknown[]) => db.query(sql, values);
    for (const [key, role] of [
      ['teacher', 'teacher'],
      ['sat', 'student'],
      ['idle', 'student'],
      ['left', 'student'],
    ])
      await put(
        'INSERT INTO people (id, sign_in_name, display_name, role, password_hash, created_at) VALUES (?, ?, ?, ?, ?, NOW())',
        [ids[key!], key, key, role, 'x'],
      );
    await put("INSERT INTO classes (id, name, subject, created_at) VALUES (?, 'A2', 'language', NOW())", [
      ids.class,
    ]);
    for (const [key, role] of [
      ['teacher', 'teacher'],
      ['sat', 'student'],
      ['idle', 'student'],
    ])
      await put('INSERT INTO class_members (class_id, person_id, role) VALUES (?, ?, ?)', [
        ids.class,
        ids[key!],
        role,
      ]);
    await put(
      'INSERT INTO assessments (id, owner_id, revision, content, created_at, updated_at) VALUES (?, ?, 1, ?, NOW(), NOW())',
      [ids.assessment, ids.teacher, content],
    );
    await put(
      'INSERT INTO assessment_versions (id, assessment_id, revision, content, frozen_at) VALUES (?, ?, 1, ?, NOW())',
      [ids.version, ids.assessment, content],
    );
    await put(
      `INSERT INTO releases (id, assessment_id, version_id, class_id, opens_at, due_at, late_accepted, note, released_by, created_at)
       VALUES (?, ?, ?, ?, NOW() - INTERVAL 1 DAY, NOW() + INTERVAL 1 DAY, 1, 'A note', ?, NOW())`,
      [ids.release, ids.assessment, ids.version, ids.class, ids.teacher],
    );
    for (const [key, who] of [
      ['sitting', 'sat'],
      ['leftSitting', 'left'],
    ])
      await put(
        `INSERT INTO sittings (id, release_id, student_id, number, began_at, handed_in_at) VALUES (?, ?, ?, 1, NOW(), NOW())`,
        [ids[key!], ids.release, ids[who!]],
      );
    await put(
      `INSERT INTO recordings (id, owner_id, purpose, state, medium, announced_type, duration_ms, limit_ms, created_at)
       VALUES (?, ?, 'take', 'stored', 'sound', 'audio/webm', 4200, 60000, NOW())`,
      [ids.take, ids.sat],
    );
    await put('INSERT INTO takes (id, sitting_id, item_id, number, began_at) VALUES (?, ?, ?, 1, NOW())', [
      ids.take,
      ids.sitting,
      item.id,
    ]);
    await put(
      `INSERT INTO marks (id, sitting_id, item_id, revision, points_hundredths, comment, finished_at, author_id, created_at, updated_at)
       VALUES (UUID(), ?, ?, 1, 750, '', NOW(), ?, NOW(), NOW())`,
      [ids.leftSitting, item.id, ids.teacher],
    );
    await put(
      'INSERT INTO overall_levels (id, sitting_id, level, author_id, created_at) VALUES (UUID(), ?, 2, ?, NOW())',
      [ids.leftSitting, ids.teacher],
    );
    await db.end();
    await migrate(given, MIGRATIONS);
    pool = openPool(given);
    migrated = await sumsOf(pool, [ids.release!]);
    await fillOutlines(pool);
    await fillFacts(pool);
  });
  afterAll(() => pool.end());

  it('keeps each release for those it was for, and for those who sat it and left', async () => {
    const rows = await standings(pool, [ids.release!]);
    expect(rows.map(r => r.displayName).sort()).toEqual(['idle', 'left', 'sat']);
    expect(rows.find(r => r.displayName === 'left')!.sittingId).toBe(ids.leftSitting);
    expect(rows.every(r => r.exception.dueAtMs === null && !r.exception.excused)).toBe(true);
  });

  it('counts what was sat before as what is sat now', async () => {
    const rows = await standings(pool, [ids.release!]);
    expect(rows.find(r => r.displayName === 'sat')).toMatchObject({
      answered: 1,
      finished: 0,
      waitingMs: 4_200,
    });
    expect(rows.find(r => r.displayName === 'left')).toMatchObject({ answered: 0, waitingMs: 0 });
  });

  it('has the sums of what was marked, as working them out anew gives them', async () => {
    const left = { sittingId: ids.leftSitting, points: 750, done: 1, level: 2 };
    const sat = { sittingId: ids.sitting, points: null, done: 0, level: null };
    for (const sums of [migrated, await sumsOf(pool, [ids.release!])]) {
      expect(sums).toHaveLength(2);
      expect(sums).toEqual(expect.arrayContaining([left, sat]));
    }
  });

  it('has the release on the usual terms, with an outline for lists', async () => {
    const [entry] = await entriesOf(pool, [ids.release!]);
    expect(entry).toMatchObject({
      audience: 'class',
      hidden: false,
      sittingsAllowed: 1,
      heardBy: 'nobody',
      closesAt: null,
      note: 'A note',
    });
    expect(entry!.outline).toMatchObject({ title: 'From before', items: [{ id: item.id, promptText: '' }] });
  });
});
