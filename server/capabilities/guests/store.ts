import type { LinkView } from '@ecoute/contract/guests';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface LinkRow extends Omit<LinkView, 'url' | 'closesAt' | 'closedAt'> {
  releaseId: string;
  closesAt: Date | null;
  closedAt: Date | null;
}

const LINK = `SELECT l.id, l.release_id AS releaseId, l.code, l.class_code AS classCode, l.most_guests AS mostGuests,
    l.keep_days AS keepDays, l.closes_at AS closesAt, l.closed_at AS closedAt,
    (SELECT COUNT(*) FROM people p WHERE p.guest_link_id = l.id) AS guests
  FROM release_links l`;

const read = (raw: LinkRow): LinkRow => ({ ...raw, guests: Number(raw.guests) });

export async function linksOf(db: Queryable, releaseId: string): Promise<LinkRow[]> {
  return (
    await rows<LinkRow>(db, `${LINK} WHERE l.release_id = :releaseId ORDER BY l.made_at DESC`, { releaseId })
  ).map(read);
}

/** A link by what stands in its address. `lock` holds it, so that its guests are counted right. */
export async function findLink(db: Queryable, code: string, lock = false): Promise<LinkRow | null> {
  if (lock) await row(db, 'SELECT id FROM release_links WHERE code = :code FOR UPDATE', { code });
  const found = await row<LinkRow>(db, `${LINK} WHERE l.code = :code`, { code });
  return found && read(found);
}

export async function insertLink(
  db: Queryable,
  made: {
    id: string;
    releaseId: string;
    code: string;
    classCode: string | null;
    mostGuests: number | null;
    keepDays: number;
    closesAt: Date | null;
    madeBy: string;
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO release_links (id, release_id, code, class_code, most_guests, keep_days, closes_at, made_by, made_at)
     VALUES (:id, :releaseId, :code, :classCode, :mostGuests, :keepDays, :closesAt, :madeBy, UTC_TIMESTAMP(3))`,
    made,
  );
}

export async function closeLink(db: Queryable, id: string, releaseId: string): Promise<boolean> {
  return (
    (await execute(
      db,
      `UPDATE release_links SET closed_at = UTC_TIMESTAMP(3)
       WHERE id = :id AND release_id = :releaseId AND closed_at IS NULL`,
      { id, releaseId },
    )) === 1
  );
}

export async function insertGuest(
  db: Queryable,
  guest: { id: string; name: string; linkId: string; token: string },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, guest_link_id, guest_token, created_at)
     VALUES (:id, CONCAT('guest ', :id), :name, 'student', NULL, :linkId, :token, UTC_TIMESTAMP(3))`,
    guest,
  );
}

export async function insertParticipant(db: Queryable, releaseId: string, personId: string): Promise<void> {
  await execute(
    db,
    'INSERT IGNORE INTO participants (release_id, person_id) VALUES (:releaseId, :personId)',
    {
      releaseId,
      personId,
    },
  );
}

export interface GuestRow {
  id: string;
  displayName: string;
  linkId: string;
  releaseId: string;
  /** Who a teacher said this is. */
  sameAs: string | null;
  cameAt: Date;
}

const GUEST = `SELECT p.id, p.display_name AS displayName, p.guest_link_id AS linkId, l.release_id AS releaseId,
    p.same_as AS sameAs, p.created_at AS cameAt
  FROM people p JOIN release_links l ON l.id = p.guest_link_id`;

export async function guestByToken(db: Queryable, token: string): Promise<GuestRow | null> {
  return row<GuestRow>(db, `${GUEST} WHERE p.guest_token = :token`, { token });
}

export async function findGuest(db: Queryable, id: string): Promise<GuestRow | null> {
  return row<GuestRow>(db, `${GUEST} WHERE p.id = :id`, { id });
}

/** The guests of a release. */
export async function guestsOf(db: Queryable, releaseId: string): Promise<GuestRow[]> {
  return rows<GuestRow>(db, `${GUEST} WHERE l.release_id = :releaseId ORDER BY p.created_at, p.id`, {
    releaseId,
  });
}

/** The students of the class that a release belongs to. */
export async function studentsOfClass(
  db: Queryable,
  releaseId: string,
): Promise<{ id: string; displayName: string }[]> {
  return rows(
    db,
    `SELECT p.id, p.display_name AS displayName FROM releases r
       JOIN class_members m ON m.class_id = r.class_id AND m.role = 'student' JOIN people p ON p.id = m.person_id
     WHERE r.id = :releaseId ORDER BY p.display_name`,
    { releaseId },
  );
}

/** Hands the sittings of one person with a release on to another, after those that the other has. */
export async function moveSittings(
  db: Queryable,
  releaseId: string,
  from: string,
  to: string,
): Promise<void> {
  const last = await row<{ n: number | null }>(
    db,
    'SELECT MAX(number) AS n FROM sittings WHERE release_id = :releaseId AND student_id = :to',
    { releaseId, to },
  );
  await execute(
    db,
    `UPDATE sittings SET was_student_id = COALESCE(was_student_id, student_id), student_id = :to, number = number + :after
     WHERE release_id = :releaseId AND student_id = :from`,
    { releaseId, from, to, after: Number(last?.n ?? 0) },
  );
}

/** Takes sittings back that were handed on from somebody. */
export async function moveBack(db: Queryable, releaseId: string, from: string): Promise<void> {
  // Numbers begin again from 1 in the order in which they were begun.
  const moved = await rows<{ id: string }>(
    db,
    'SELECT id FROM sittings WHERE release_id = :releaseId AND was_student_id = :from ORDER BY began_at',
    { releaseId, from },
  );
  for (const [i, { id }] of moved.entries())
    await execute(
      db,
      'UPDATE sittings SET student_id = :from, was_student_id = NULL, number = :number WHERE id = :id',
      { id, from, number: i + 1 },
    );
}

/** What is recorded in a sitting, in places: the takes, the pictures beside them, and what its student replied by voice. */
const RECORDED = [
  'JOIN takes t ON t.id = x.id JOIN sittings s ON s.id = t.sitting_id',
  'JOIN takes t ON t.picture_id = x.id JOIN sittings s ON s.id = t.sitting_id',
  'JOIN replies y ON y.voice_id = x.id JOIN sittings s ON s.id = y.sitting_id',
];

/** What one person recorded and said in sittings that are another's now belongs to that other. */
export async function reown(db: Queryable, releaseId: string, from: string, to: string): Promise<void> {
  for (const joined of RECORDED)
    await execute(
      db,
      `UPDATE recordings x ${joined} SET x.owner_id = :to
       WHERE s.release_id = :releaseId AND s.student_id = :to AND x.owner_id = :from`,
      { releaseId, from, to },
    );
  await execute(
    db,
    `UPDATE replies y JOIN sittings s ON s.id = y.sitting_id SET y.author_id = :to
     WHERE s.release_id = :releaseId AND s.student_id = :to AND y.author_id = :from`,
    { releaseId, from, to },
  );
  await execute(
    db,
    `UPDATE contributions c JOIN sittings s ON s.id = c.sitting_id SET c.author_id = :to
     WHERE s.release_id = :releaseId AND s.student_id = :to AND c.author_id = :from`,
    { releaseId, from, to },
  );
}

/**
 * Before somebody is forgotten: what of theirs lies in sittings of others goes to those. Looked for first and then named, so that nothing
 * of anybody else is held for it.
 */
export async function giveAway(db: Queryable, from: string): Promise<void> {
  const elsewhere = [
    ...RECORDED.map(joined => ({ table: 'recordings', column: 'owner_id', joined })),
    ...['replies', 'contributions'].map(table => ({
      ...{ table, column: 'author_id' },
      joined: 'JOIN sittings s ON s.id = x.sitting_id',
    })),
  ];
  for (const { table, column, joined } of elsewhere) {
    const found = await rows<{ id: string; owner: string }>(
      db,
      `SELECT x.id, s.student_id AS owner FROM ${table} x ${joined}
       WHERE x.${column} = :from AND s.student_id <> :from`,
      { from },
    );
    for (const { id, owner } of found)
      await execute(db, `UPDATE ${table} SET ${column} = :owner WHERE id = :id AND ${column} = :from`, {
        ...{ id, owner, from },
      });
  }
}

export async function setSameAs(db: Queryable, guestId: string, personId: string | null): Promise<void> {
  await execute(db, 'UPDATE people SET same_as = :personId WHERE id = :guestId', { guestId, personId });
}

export async function removeParticipant(db: Queryable, releaseId: string, personId: string): Promise<void> {
  await execute(db, 'DELETE FROM participants WHERE release_id = :releaseId AND person_id = :personId', {
    releaseId,
    personId,
  });
}

/** Nobody and nothing: a list of ids is never empty. */
const NONE = '00000000-0000-0000-0000-000000000000';

/** Guests whose time is over: as long after they came as their link keeps things. @param but left out this time */
export async function guestsToForget(
  db: Queryable,
  most: number,
  but: readonly string[] = [],
): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT p.id FROM people p JOIN release_links l ON l.id = p.guest_link_id
     WHERE p.created_at < UTC_TIMESTAMP(3) - INTERVAL l.keep_days DAY AND p.id NOT IN (:but) LIMIT :most`,
    { most, but: [NONE, ...but] },
  );
  return found.map(f => f.id);
}

/** What a guest recorded, and what was spoken about it. */
export async function recordingsOf(db: Queryable, personId: string): Promise<string[]> {
  return (
    await rows<{ id: string }>(
      db,
      `SELECT id FROM recordings WHERE owner_id = :personId
       UNION SELECT v.id FROM notes n JOIN recordings v ON v.id = n.voice_id AND v.purpose = 'note' JOIN takes t ON t.id = n.take_id JOIN sittings s ON s.id = t.sitting_id
         WHERE s.student_id = :personId        UNION SELECT y.voice_id FROM replies y JOIN sittings s ON s.id = y.sitting_id
         WHERE s.student_id = :personId AND y.voice_id IS NOT NULL`,
      { personId },
    )
  ).map(r => r.id);
}

/**
 * Forgets a guest and all that they left behind. What goes is named: a deletion by a question would read, and hold, all that there is of
 * everybody.
 */
export async function removeGuest(db: Queryable, personId: string): Promise<void> {
  const recorded = await recordingsOf(db, personId);
  const idsOf = async (sql: string, values: object) =>
    (await rows<{ id: string }>(db, sql, values)).map(r => r.id);
  const sittings = await idsOf('SELECT id FROM sittings WHERE student_id = :personId', { personId });
  const takes = await idsOf('SELECT id FROM takes WHERE sitting_id IN (:sittings)', {
    sittings: [...sittings, NONE],
  });
  const own = 'sitting_id IN (:sittings)';
  for (const sql of [
    `DELETE FROM receipts WHERE ${own}`,
    `DELETE FROM self_assessments WHERE ${own}`,
    `DELETE FROM handovers WHERE ${own}`,
    `DELETE FROM written_answers WHERE ${own}`,
    `DELETE FROM sitting_events WHERE ${own}`,
    `DELETE FROM marks WHERE ${own}`,
    `DELETE FROM overall_levels WHERE ${own}`,
    `DELETE FROM decisions WHERE ${own}`,
    'DELETE FROM decisions WHERE person_id = :personId',
    `DELETE FROM markups WHERE ${own}`,
    `DELETE FROM praise WHERE ${own}`,
    `DELETE FROM replies WHERE ${own}`,
    `DELETE FROM asks WHERE ${own}`,
    `DELETE FROM hearings_of_feedback WHERE ${own}`,
    `UPDATE listeners SET sitting_id = NULL WHERE ${own}`,
    'DELETE FROM notes WHERE take_id IN (:takes)',
    'DELETE FROM takes WHERE id IN (:takes)',
    'DELETE FROM recordings WHERE id IN (:recorded)',
    'DELETE FROM sittings WHERE id IN (:sittings)',
    'DELETE FROM participants WHERE person_id = :personId',
    'DELETE FROM calendar_feeds WHERE person_id = :personId',
    'DELETE FROM people WHERE id = :personId AND guest_link_id IS NOT NULL',
  ])
    await execute(db, sql, {
      personId,
      recorded: [...recorded, personId],
      sittings: [...sittings, NONE],
      takes: [...takes, NONE],
    });
}

export async function nameOf(db: Queryable, personId: string): Promise<string | null> {
  return (
    (
      await row<{ name: string }>(db, 'SELECT display_name AS name FROM people WHERE id = :personId', {
        personId,
      })
    )?.name ?? null
  );
}

/** Who released something. */
export async function releasedBy(db: Queryable, releaseId: string): Promise<string> {
  return (
    (
      await row<{ name: string }>(
        db,
        'SELECT p.display_name AS name FROM releases r JOIN people p ON p.id = r.released_by WHERE r.id = :releaseId',
        { releaseId },
      )
    )?.name ?? ''
  );
}
