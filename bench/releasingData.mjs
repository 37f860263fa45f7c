// A school of 50,000 students in 2,000 classes with a million sittings, made by the database itself. What is older
// than three weeks is returned; of the rest, three sittings in twenty wait. The first 62,500 sittings have their recordings, as far
// as the database knows of them. ECOUTE_BENCH_TIMES=10 makes ten such schools of it.

const TIMES = Number(process.env.ECOUTE_BENCH_TIMES ?? 1);
export const SIZE = {
  students: 50_000 * TIMES,
  classes: 2_000 * TIMES,
  perClass: 25,
  releases: 25,
  sat: 20,
  ownClasses: 5,
  /** Participants, of whom four in five have sat, each with four recordings. */
  recorded: 62_500 * TIMES,
};
/** So many rows are put in by one statement: what is broken off is undone soon. */
const AT_ONCE = 500_000;

/** An id of a kind (one hexadecimal digit) and a number, as SQL. */
const id = (kind, n) => `CAST(CONCAT(LPAD(HEX(${n}), 8, '0'), '-000${kind}-4000-8000-000000000000') AS UUID)`;
const [STUDENT, CLASS, VERSION, RELEASE, SITTING, TEACHER, TAKE] = ['1', '2', '3', '4', '5', '6', '9'];

/**
 * Fills the database. Releases of a class open a week apart: twenty lie behind, five ahead.
 * @param db        a connection that may do everything
 * @param teacherId who asks in the bench: teaches the first few classes
 * @param content   of the assessment that everything is a release of, as JSON
 * @param measuredBy the way of measuring that recordings are measured by
 */
export async function generate(db, teacherId, content, outline, { measuredBy, say }) {
  const { students, classes, perClass, releases, sat, ownClasses, recorded } = SIZE;
  const step = async (what, sql, values = []) => {
    const began = Date.now();
    // Counted from 1 to the end, part by part.
    const last = Number(/seq_1_to_(\d+)/.exec(sql)?.[1] ?? 0);
    const parts = /UNION/.test(sql) ? 1 : Math.max(1, Math.ceil(last / AT_ONCE));
    for (let part = 0; part < parts; part++) {
      const to = Math.min(last, (part + 1) * AT_ONCE);
      const some = parts > 1 ? `seq_${part * AT_ONCE + 1}_to_${to}` : `seq_1_to_${last}`;
      await db.query(sql.replaceAll(`seq_1_to_${last}`, some), values);
    }
    say(`${what}: ${((Date.now() - began) / 1000).toFixed(0)} s`);
  };
  await db.query('SET SESSION foreign_key_checks = 0, unique_checks = 0, time_zone = "+00:00"');
  await step(
    'people',
    `INSERT INTO people (id, sign_in_name, display_name, role, password_hash, created_at)
     SELECT ${id(STUDENT, 'seq')}, CONCAT('s', seq), CONCAT('Student ', seq), 'student', NULL, UTC_TIMESTAMP(3) FROM seq_1_to_${students}
     UNION ALL
     SELECT ${id(TEACHER, 'seq')}, CONCAT('t', seq), CONCAT('Teacher ', seq), 'teacher', NULL, UTC_TIMESTAMP(3) FROM seq_1_to_400`,
  );
  await step(
    'classes',
    `INSERT INTO classes (id, name, subject, created_at)
     SELECT ${id(CLASS, 'seq')}, CONCAT('Class ', seq), 'language', UTC_TIMESTAMP(3) FROM seq_1_to_${classes}`,
  );
  await step(
    'members',
    `INSERT INTO class_members (class_id, person_id, role)
     SELECT ${id(CLASS, `(seq - 1) DIV ${perClass} + 1`)}, ${id(STUDENT, 'seq')}, 'student' FROM seq_1_to_${students}
     UNION ALL
     SELECT ${id(CLASS, 'seq')}, IF(seq <= ${ownClasses}, '${teacherId}', ${id(TEACHER, 'seq DIV 5 + 1')}), 'teacher' FROM seq_1_to_${classes}`,
  );
  await db.query(
    `INSERT INTO assessments (id, owner_id, revision, content, created_at, updated_at)
     VALUES (${id(VERSION, 1)}, ?, 1, ?, UTC_TIMESTAMP(3), UTC_TIMESTAMP(3))`,
    [teacherId, content],
  );
  await db.query(
    `INSERT INTO assessment_versions (id, assessment_id, revision, content, outline, frozen_at)
     VALUES (${id(VERSION, 1)}, ${id(VERSION, 1)}, 1, ?, ?, UTC_TIMESTAMP(3))`,
    [content, outline],
  );
  await step(
    'releases',
    `INSERT INTO releases (id, assessment_id, version_id, class_id, opens_at, due_at, late_accepted, note, released_by, created_at)
     SELECT ${id(RELEASE, 'seq')}, ${id(VERSION, 1)}, ${id(VERSION, 1)}, ${id(CLASS, `(seq - 1) DIV ${releases} + 1`)},
       UTC_TIMESTAMP(3) + INTERVAL (CAST((seq - 1) MOD ${releases} AS SIGNED) - ${sat}) WEEK,
       UTC_TIMESTAMP(3) + INTERVAL (CAST((seq - 1) MOD ${releases} AS SIGNED) - ${sat}) WEEK + INTERVAL 10 DAY,
       1, '', '${teacherId}', UTC_TIMESTAMP(3) FROM seq_1_to_${classes * releases}`,
  );
  // The number of a participant says release and student: 25 of them a release, 25 releases a class.
  const release = `(seq - 1) DIV ${perClass} + 1`;
  const student = `((seq - 1) DIV ${perClass * releases}) * ${perClass} + (seq - 1) MOD ${perClass} + 1`;
  await step(
    'participants',
    `INSERT INTO participants (release_id, person_id)
     SELECT ${id(RELEASE, release)}, ${id(STUDENT, student)} FROM seq_1_to_${classes * releases * perClass}`,
  );
  await step(
    'sittings',
    `INSERT INTO sittings (id, release_id, student_id, number, began_at, handed_in_at, feedback_at, answered, finished, waiting_ms)
     SELECT ${id(SITTING, 'seq')}, ${id(RELEASE, release)}, ${id(STUDENT, student)}, 1,
       UTC_TIMESTAMP(3) - INTERVAL 40 DAY, UTC_TIMESTAMP(3) - INTERVAL seq MOD 30 DAY,
       IF(((${release}) - 1) MOD ${releases} < ${sat - 3} OR seq MOD 20 > 2, UTC_TIMESTAMP(3) - INTERVAL 1 DAY, NULL),
       4, IF(seq MOD 20 > 1, 4, 2), IF(seq MOD 20 > 1, 0, 90000)
     FROM seq_1_to_${classes * releases * perClass} WHERE ((${release}) - 1) MOD ${releases} < ${sat}`,
  );
  await step(
    'accounts of sittings',
    `INSERT INTO sitting_events (id, sitting_id, item_id, kind, at, received_at)
     SELECT CAST(CONCAT(LPAD(HEX(seq), 8, '0'), '-0007-4000-8000-000000000000') AS UUID), ${id(SITTING, 'seq')}, NULL, 'promptBegan',
       UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) FROM seq_1_to_200000`,
  );
  // The number of a take says participant and item.
  const of = '(seq - 1) DIV 4 + 1';
  const takes = `seq_1_to_${4 * recorded} WHERE (((${of}) - 1) DIV ${perClass}) MOD ${releases} < ${sat}`;
  await step(
    'recordings',
    `INSERT INTO recordings (id, owner_id, purpose, medium, state, announced_type, media_type, size_bytes, sha256, duration_ms, limit_ms,
       peak_dbfs, created_at, arrived_at, playable_at)
     SELECT ${id(TAKE, 'seq')}, ${id(STUDENT, student.replaceAll('seq', `(${of})`))}, 'take', 'sound', 'stored', 'audio/webm',
       'audio/webm; codecs=opus', 40000, REPEAT('0', 64), 14000, 45000, -9, UTC_TIMESTAMP(3) - INTERVAL seq MOD 40 DAY,
       UTC_TIMESTAMP(3) - INTERVAL seq MOD 40 DAY, UTC_TIMESTAMP(3) - INTERVAL seq MOD 40 DAY FROM ${takes}`,
  );
  await step(
    'takes',
    `INSERT INTO takes (id, sitting_id, item_id, number, began_at)
     SELECT ${id(TAKE, 'seq')}, ${id(SITTING, of)},
       CAST(CONCAT('0000000', (seq - 1) MOD 4, '-0008-4000-8000-000000000000') AS UUID), 1, UTC_TIMESTAMP(3) - INTERVAL seq MOD 40 DAY
     FROM ${takes}`,
  );
  await step(
    'measures',
    `INSERT INTO measures (recording_id, revision, figures, pauses, measured_at)
     SELECT ${id(TAKE, 'seq')}, ${measuredBy}, '{"syllables": 61, "pauses": 4}', '[[1.2, 1.6], [4.8, 5.3]]', UTC_TIMESTAMP(3) FROM ${takes}`,
  );
  // Added up at once, as an update of a school does: that so many came in one minute is no school's day.
  await db.query('TRUNCATE kept_changes');
  await db.query(
    'REPLACE INTO kept_by_purpose (purpose, bytes) SELECT purpose, SUM(size_bytes) FROM recordings GROUP BY 1',
  );
  await db.query(
    'REPLACE INTO kept_by_owner (owner_id, bytes) SELECT owner_id, SUM(size_bytes) FROM recordings GROUP BY 1',
  );
  await step(
    'statistics of the tables',
    `ANALYZE TABLE people, classes, class_members, releases, participants, sittings, sitting_events, recordings, takes, measures`,
  );
  return {
    classId: '00000001-0002-4000-8000-000000000000',
    releaseId: '00000014-0004-4000-8000-000000000000',
  };
}
