/**
 * Sums of room and people that are seen at once, however much there is. The database notes each change (migration 0043); here the
 * changes are added up.
 */
import { execute, row, rows, transaction, type Pool, type Queryable } from '../../platform/database';

/** What each sum is of: where its changes are noted, by what it is grouped, and how it is counted anew. */
const SUMS = {
  kept_by_purpose: {
    changes: 'kept_changes',
    by: ['purpose'],
    sum: 'bytes',
    anew: 'SELECT purpose, SUM(COALESCE(size_bytes, 0)) AS bytes FROM recordings GROUP BY 1',
  },
  kept_by_owner: {
    changes: 'kept_changes',
    by: ['owner_id'],
    sum: 'bytes',
    anew: 'SELECT owner_id, SUM(COALESCE(size_bytes, 0)) AS bytes FROM recordings GROUP BY 1',
  },
  people_counted: {
    changes: 'people_changes',
    by: ['kind', 'is_closed'],
    sum: 'people',
    anew: `SELECT IF(guest_link_id IS NULL, role, 'guest') AS kind, closed_at IS NOT NULL AS is_closed, COUNT(*) AS people
      FROM people GROUP BY 1, 2`,
  },
} as const;
type Sum = keyof typeof SUMS;
type Changes = (typeof SUMS)[Sum]['changes'];
const NAMES = Object.keys(SUMS) as Sum[];
/** Where changes are noted; the sums of one are added up, and counted anew, together. */
export const NOTED = [...new Set(NAMES.map(name => SUMS[name].changes))];
const sumsOf = (noted: Changes) => NAMES.filter(name => SUMS[name].changes === noted);

const AT_ONCE = 2_000;

/** A sum with the changes that are not added yet, of one moment. */
const whole = (name: Sum) => {
  const { changes, by, sum } = SUMS[name];
  const columns = by.join(', ');
  return `SELECT ${columns}, SUM(${sum}) AS ${sum} FROM (
    SELECT ${columns}, ${sum} FROM ${name} UNION ALL SELECT ${columns}, ${sum} FROM ${changes}) both_of GROUP BY ${columns}`;
};

/** Adds what was noted to the sums, in bounded steps; what somebody else has under way is left for the next time. */
export async function addUp(pool: Pool): Promise<void> {
  for (const noted of NOTED) for (let n = AT_ONCE; n === AT_ONCE;) n = await addSome(pool, noted);
}

function addSome(pool: Pool, noted: Changes): Promise<number> {
  return transaction(pool, async db => {
    const found = await rows<{ id: number }>(
      db,
      `SELECT id FROM ${noted} ORDER BY id LIMIT ${AT_ONCE} FOR UPDATE SKIP LOCKED`,
    );
    if (found.length === 0) return 0;
    const ids = found.map(f => f.id);
    for (const name of sumsOf(noted)) {
      const { by, sum } = SUMS[name];
      const columns = by.join(', ');
      await execute(
        db,
        `INSERT INTO ${name} (${columns}, ${sum})
         SELECT ${columns}, added FROM (
           SELECT ${columns}, SUM(${sum}) AS added FROM ${noted} WHERE id IN (:ids) GROUP BY ${columns} ORDER BY ${columns}
         ) noted_now
         ON DUPLICATE KEY UPDATE ${sum} = ${name}.${sum} + added`,
        { ids },
      );
    }
    await execute(db, `DELETE FROM ${noted} WHERE id IN (:ids)`, { ids });
    return found.length;
  });
}

/**
 * By how much a sum differs from what it is of, its changes taken with it: by one question, so of one moment. All of it is
 * counted, which takes its time where there is much.
 */
function differences(db: Queryable, name: Sum): Promise<Record<string, string | number>[]> {
  const { by, sum, anew } = SUMS[name];
  const columns = by.join(', ');
  return rows(
    db,
    `SELECT ${columns}, SUM(${sum}) AS off FROM (
       SELECT * FROM (${anew}) is_there UNION ALL SELECT ${columns}, -${sum} FROM (${whole(name)}) noted) both_of
     GROUP BY ${columns} HAVING off <> 0`,
  );
}

/** How many of the sums differ from what they are of. */
export async function wrongSums(db: Queryable, noted: Changes): Promise<number> {
  let wrong = 0;
  for (const name of sumsOf(noted)) wrong += (await differences(db, name)).length;
  return wrong;
}

const LOCK = "CONCAT('ecoute-sums-', MD5(DATABASE()))";
const WRITTEN_AT_ONCE = 500;

/**
 * Puts sums right. Nobody waits: what a sum was off in one moment it is off whatever is noted and added up meanwhile, so that is
 * added to it. Only two who do this at once must not, and one waits for the other.
 */
export async function putRight(pool: Pool, noted: Changes): Promise<void> {
  const db = await pool.getConnection();
  try {
    const lock = await row<{ got: number | null }>(db, `SELECT GET_LOCK(${LOCK}, 60) AS got`);
    if (lock?.got !== 1) throw new Error('Somebody else has been putting sums right for a minute.');
    for (const name of sumsOf(noted)) {
      const { by, sum } = SUMS[name];
      const off = await differences(db, name);
      for (let from = 0; from < off.length; from += WRITTEN_AT_ONCE)
        await db.query(
          `INSERT INTO ${name} (${by.join(', ')}, ${sum}) VALUES ? ON DUPLICATE KEY UPDATE ${sum} = ${sum} + VALUES(${sum})`,
          [off.slice(from, from + WRITTEN_AT_ONCE).map(d => [...by.map(column => d[column]), d.off!])],
        );
    }
    await db.query(`SELECT RELEASE_LOCK(${LOCK})`);
    db.release();
  } catch (error) {
    // With its connection the lock goes too.
    db.destroy();
    throw error;
  }
}

export async function peopleCounts(db: Queryable) {
  const found = await rows<{ kind: string; is_closed: number; people: number }>(db, whole('people_counted'));
  const sum = (is: (f: (typeof found)[number]) => boolean) =>
    found.filter(is).reduce((all, f) => all + Number(f.people), 0);
  return {
    teachers: sum(f => f.kind === 'teacher'),
    students: sum(f => f.kind === 'student'),
    guests: sum(f => f.kind === 'guest'),
    closed: sum(f => Boolean(f.is_closed)),
  };
}

/** What is kept, by purpose, in bytes as it came. */
export async function bytesByPurpose(db: Queryable): Promise<Record<string, number>> {
  const found = await rows<{ purpose: string; bytes: number }>(db, whole('kept_by_purpose'));
  return Object.fromEntries(found.flatMap(f => (Number(f.bytes) > 0 ? [[f.purpose, Number(f.bytes)]] : [])));
}

/** Who keeps most, as far as changes were added up. */
export async function largestKeepers(
  db: Queryable,
  most: number,
): Promise<{ id: string; displayName: string; bytes: number }[]> {
  const found = await rows<{ id: string; displayName: string; bytes: number }>(
    db,
    `SELECT p.id, p.display_name AS displayName, k.bytes FROM kept_by_owner k JOIN people p ON p.id = k.owner_id
     WHERE k.bytes > 0 ORDER BY k.bytes DESC LIMIT :most`,
    { most },
  );
  return found.map(f => ({ ...f, bytes: Number(f.bytes) }));
}
