import { preparedRows, row, rows, type Queryable } from '../database';
import { contributionStands, TAKE_MAY_BE_HEARD } from './contributions.store';

/** Relations between a person and a thing, each one question to the database. */

async function exists(db: Queryable, sql: string, person: string, id: string): Promise<boolean> {
  return (await row(db, `${sql} LIMIT 1`, { person, id })) !== null;
}

export const ownsAssessment = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM assessments WHERE id = :id AND owner_id = :person', person, id);

const SHARED = `SELECT 1 FROM assessment_shares s JOIN department_members m ON m.department_id = s.department_id
  WHERE s.assessment_id = :id AND m.person_id = :person`;

/** Whoever may look at an assessment and take copies: its owner, and colleagues on whose shelf it stands. */
export const readsAssessment = async (db: Queryable, person: string, id: string) =>
  (await ownsAssessment(db, person, id)) || (await exists(db, SHARED, person, id));

/** Whoever may change an assessment: its owner, and colleagues whom it is shared with for that. */
export const editsAssessment = async (db: Queryable, person: string, id: string) =>
  (await ownsAssessment(db, person, id)) || (await exists(db, `${SHARED} AND s.edits`, person, id));

export const ownsTagList = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM tag_lists WHERE id = :id AND owner_id = :person', person, id);

export const memberOf = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    'SELECT 1 FROM department_members WHERE department_id = :id AND person_id = :person',
    person,
    id,
  );

export const ownsImport = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM imports WHERE id = :id AND owner_id = :person', person, id);

export const ownsExport = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM exports WHERE id = :id AND owner_id = :person', person, id);

export const ownsPortfolio = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM portfolios WHERE id = :id AND owner_id = :person', person, id);

/** Whoever a student shows a portfolio to, and who teaches them now. */
export const readsPortfolio = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM portfolio_readers r JOIN portfolios p ON p.id = r.portfolio_id AND p.removed_at IS NULL
       JOIN class_members m ON m.person_id = p.owner_id AND m.role = 'student'
       JOIN class_members t ON t.class_id = m.class_id AND t.person_id = r.teacher_id AND t.role = 'teacher'
     WHERE r.portfolio_id = :id AND r.teacher_id = :person`,
    person,
    id,
  );

export const ownsBankImport = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM bank_imports WHERE id = :id AND owner_id = :person', person, id);

/** Whoever plans for a class: its teachers, and a coordinator. */
export const managesClass = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    "SELECT 1 FROM class_members WHERE class_id = :id AND person_id = :person AND role IN ('teacher', 'coordinator')",
    person,
    id,
  );

export const teachesClass = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    "SELECT 1 FROM class_members WHERE class_id = :id AND person_id = :person AND role = 'teacher'",
    person,
    id,
  );

/** A role in the class of a thing: the row `x` of a table, with the row `c` that knows the class where that is another. */
const throughClass =
  (roles: string, from: string, classId: string) => (db: Queryable, person: string, id: string) =>
    exists(
      db,
      `SELECT 1 FROM ${from} JOIN class_members m ON m.class_id = ${classId}
       WHERE x.id = :id AND m.person_id = :person AND m.role IN (${roles})`,
      person,
      id,
    );

export const managesRelease = throughClass("'teacher', 'coordinator'", 'releases x', 'x.class_id');
/** Only teachers of the class hear what was recorded. */
export const teachesRelease = throughClass("'teacher'", 'releases x', 'x.class_id');
export const teachesSitting = throughClass(
  "'teacher'",
  'sittings x JOIN releases c ON c.id = x.release_id',
  'c.class_id',
);
export const teachesMessage = throughClass("'teacher'", 'spoken_messages x', 'x.class_id');
export const teachesJoint = throughClass(
  "'teacher'",
  'joint_answers x JOIN releases c ON c.id = x.release_id',
  'c.class_id',
);

/** Before a release opens it does not exist for its students. */
export const studiesRelease = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM participants p JOIN releases r ON r.id = p.release_id
     WHERE p.release_id = :id AND p.person_id = :person AND r.hidden = 0 AND r.opens_at <= UTC_TIMESTAMP(3)`,
    person,
    id,
  );

/** One's own topic, or one of a department that one belongs to. */
export const editsTopic = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM comment_topics t
       LEFT JOIN department_members m ON m.department_id = t.department_id AND m.person_id = :person
     WHERE t.id = :id AND (m.person_id IS NOT NULL OR (t.department_id IS NULL AND t.owner_id = :person))`,
    person,
    id,
  );

/** A phone that records for a sitting may send and hear what it recorded itself; what it began before it was sent away still arrives. */
export const recordedOnPhone = (db: Queryable, handover: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM takes t JOIN recordings r ON r.id = t.id JOIN handovers h ON h.sitting_id = t.sitting_id
     WHERE t.id = :id AND t.source = 'phone' AND h.id = :person AND r.created_at >= h.opened_at
       AND (h.closed_at IS NULL OR r.created_at < h.closed_at) AND h.expires_at > UTC_TIMESTAMP(3)`,
    handover,
    id,
  );

/** … and hear the prompts of the assessment that the item belongs to. */
export const heardOnPhone = (db: Queryable, handover: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM version_prompts p JOIN releases r ON r.version_id = p.version_id JOIN sittings s ON s.release_id = r.id
       JOIN handovers h ON h.sitting_id = s.id
     WHERE p.recording_id = :id AND (p.opens = 'atOnce' OR (p.opens = 'withItems' AND s.clock_began_at IS NOT NULL)) AND h.id = :person AND h.closed_at IS NULL AND h.expires_at > UTC_TIMESTAMP(3)`,
    handover,
    id,
  );

export const satBy = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM sittings WHERE id = :id AND student_id = :person', person, id);

export const ownsRecording = (db: Queryable, person: string, id: string) =>
  exists(db, 'SELECT 1 FROM recordings WHERE id = :id AND owner_id = :person', person, id);

/** Whoever recorded a take; also a guest whose sitting a teacher gave to somebody else while its bytes were on their way. */
export const records = async (db: Queryable, person: string, id: string) =>
  (await ownsRecording(db, person, id)) ||
  (await exists(
    db,
    'SELECT 1 FROM takes t JOIN sittings s ON s.id = t.sitting_id WHERE t.id = :id AND s.was_student_id = :person',
    person,
    id,
  ));

/** Whether the name behind a take, or a picture beside it, is hidden from somebody for now. */
export const isNameless = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM takes t JOIN sittings s ON s.id = t.sitting_id JOIN releases r ON r.id = s.release_id
     WHERE (t.id = :id OR t.picture_id = :id) AND r.names_hidden = 1 AND s.student_id <> :person
       AND (s.feedback_at IS NULL OR s.feedback_at > UTC_TIMESTAMP(3))`,
    person,
    id,
  );

/** Whoever looks after this Ecoute. */
export const administers = (db: Queryable, person: string) =>
  exists(db, 'SELECT 1 FROM people WHERE id = :person AND is_admin = 1 AND closed_at IS NULL', person, '');

/** Who sees what is measured of a take. Nothing of a sitting is seen earlier than the frozen assessment says. */
export const readsEvidence = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM takes t JOIN sittings s ON s.id = t.sitting_id JOIN releases r ON r.id = s.release_id
       JOIN assessment_versions v ON v.id = r.version_id
       LEFT JOIN class_members m ON m.class_id = r.class_id AND m.person_id = :person AND m.role = 'teacher'
     WHERE t.id = :id AND ((m.person_id IS NOT NULL AND ${TAKE_MAY_BE_HEARD}) OR (s.student_id = :person AND (
       JSON_VALUE(v.content, '$.evidenceOpens') = 'atOnce'
       OR (JSON_VALUE(v.content, '$.evidenceOpens') = 'afterReturn' AND s.feedback_at <= UTC_TIMESTAMP(3)))))`,
    person,
    id,
  );

/**
 * Who may hear or see a file: whoever made it; colleagues who may read an assessment that uses it; the teachers of the class it was sat for; and, for prompts, the
 * teachers and students to whom a version that uses it was released (students once it is open).
 */
export async function mayHear(db: Queryable, person: string, id: string): Promise<boolean> {
  if (await ownsRecording(db, person, id)) return true;
  const asColleague = await exists(
    db,
    `SELECT 1 FROM assessment_files f JOIN assessments a ON a.id = f.assessment_id
       LEFT JOIN assessment_shares s ON s.assessment_id = a.id
       LEFT JOIN department_members m ON m.department_id = s.department_id
     WHERE f.recording_id = :id AND (a.owner_id = :person OR m.person_id = :person)`,
    person,
    id,
  );
  if (asColleague) return true;
  const asTeacher = await exists(
    db,
    `SELECT 1 FROM takes t JOIN sittings s ON s.id = t.sitting_id JOIN releases r ON r.id = s.release_id
       JOIN class_members m ON m.class_id = r.class_id
     WHERE (t.id = :id OR t.picture_id = :id) AND m.person_id = :person AND m.role = 'teacher' AND ${TAKE_MAY_BE_HEARD}`,
    person,
    id,
  );
  if (asTeacher) return true;
  const asNote = await exists(
    db,
    `SELECT 1 FROM notes n JOIN takes t ON t.id = n.take_id JOIN sittings s ON s.id = t.sitting_id
       JOIN releases r ON r.id = s.release_id
       LEFT JOIN class_members m ON m.class_id = r.class_id AND m.person_id = :person AND m.role = 'teacher'
     WHERE n.voice_id = :id AND n.in_force = 1
       AND (m.person_id IS NOT NULL OR (s.student_id = :person AND (s.feedback_at <= UTC_TIMESTAMP(3) OR s.asked_again_at IS NOT NULL OR s.notes_shown_at IS NOT NULL)))`,
    person,
    id,
  );
  if (asNote) return true;
  const asClip = await exists(
    db,
    `SELECT 1 FROM bank_comments c JOIN comment_topics t ON t.id = c.topic_id
       JOIN department_members m ON m.department_id = t.department_id
     WHERE c.voice_id = :id AND m.person_id = :person`,
    person,
    id,
  );
  if (asClip) return true;
  const asReply = await exists(
    db,
    `SELECT 1 FROM replies y JOIN sittings s ON s.id = y.sitting_id JOIN releases r ON r.id = s.release_id
       LEFT JOIN class_members m ON m.class_id = r.class_id AND m.person_id = :person AND m.role = 'teacher'
     WHERE y.voice_id = :id AND (m.person_id IS NOT NULL OR s.student_id = :person)`,
    person,
    id,
  );
  if (asReply) return true;
  const asMessage = await exists(
    db,
    `SELECT 1 FROM spoken_messages s
       LEFT JOIN class_members m ON m.class_id = s.class_id AND m.person_id = :person AND m.role = 'teacher'
       LEFT JOIN spoken_message_recipients r ON r.message_id = s.id AND r.student_id = :person AND r.family_id IS NULL
     WHERE s.voice_id = :id AND (m.person_id IS NOT NULL
       OR (r.id IS NOT NULL AND r.ended_at IS NULL AND s.sent_at IS NOT NULL AND s.taken_back_at IS NULL))`,
    person,
    id,
  );
  if (asMessage) return true;
  // Who speaks in turns hears the turns of the others.
  const asTurn = await exists(
    db,
    `SELECT 1 FROM joint_turns t JOIN joint_people p ON p.joint_id = t.joint_id AND p.left_at IS NULL
     WHERE t.id = :id AND p.person_id = :person`,
    person,
    id,
  );
  if (asTurn) return true;
  // What a teacher says of one's own recording where it lies with somebody else with whom it was made.
  const asJointNote = await exists(
    db,
    `SELECT 1 FROM notes n JOIN joint_people l ON l.take_id = n.take_id
       JOIN joint_answers j ON j.id = l.joint_id AND j.lead_id = l.person_id AND j.apart = 0
       JOIN joint_people p ON p.joint_id = j.id AND p.person_id = :person AND p.left_at IS NULL
       JOIN takes t ON t.id = p.take_id JOIN sittings s ON s.id = t.sitting_id
     WHERE n.voice_id = :id AND n.in_force = 1
       AND (s.feedback_at <= UTC_TIMESTAMP(3) OR s.asked_again_at IS NOT NULL OR s.notes_shown_at IS NOT NULL)`,
    person,
    id,
  );
  if (asJointNote) return true;
  if (await hearsContribution(db, person, id)) return true;
  const asPrompt = await exists(
    db,
    `SELECT 1 FROM version_prompts p JOIN releases r ON r.version_id = p.version_id
       JOIN class_members m ON m.class_id = r.class_id
     WHERE p.recording_id = :id AND m.person_id = :person AND m.role IN ('teacher', 'coordinator')`,
    person,
    id,
  );
  if (asPrompt) return true;
  const asParticipant = await exists(
    db,
    `SELECT 1 FROM version_prompts v JOIN releases r ON r.version_id = v.version_id
       JOIN participants p ON p.release_id = r.id AND p.person_id = :person
     WHERE v.recording_id = :id AND r.hidden = 0 AND r.opens_at <= UTC_TIMESTAMP(3)
       AND (v.opens = 'atOnce' OR EXISTS (
         SELECT 1 FROM sittings s WHERE s.release_id = r.id AND s.student_id = p.person_id
           AND CASE v.opens WHEN 'withItems' THEN COALESCE(s.clock_began_at, s.handed_in_at)
             WHEN 'afterHandIn' THEN COALESCE(s.models_opened_at, s.feedback_at)
             ELSE s.feedback_at END <= UTC_TIMESTAMP(3)))`,
    person,
    id,
  );
  if (asParticipant) return true;
  // Classmates hear each other where the release says so, once they have handed in themselves and know that it stays so:
  // what was handed in, not what was left aside. Guests hear nobody, for anybody may come as one.
  return exists(
    db,
    `SELECT 1 FROM takes t JOIN sittings s ON s.id = t.sitting_id AND s.handed_in_at IS NOT NULL AND s.set_aside_at IS NULL
       JOIN releases r ON r.id = s.release_id AND r.heard_by = 'class' AND r.hidden = 0
       JOIN sittings own ON own.release_id = r.id AND own.student_id = :person AND own.handed_in_at IS NOT NULL
         AND own.others_opened_at IS NOT NULL
       JOIN class_members m ON m.class_id = r.class_id AND m.person_id = :person
     WHERE t.id = :id AND LOCATE(CAST(t.id AS CHAR(36)), s.receipt) > 0`,
    person,
    id,
  );
}

/** The contribution that a voice, or a picture beside it, belongs to, as `c`. */
const CONTRIBUTION_OF = `(SELECT id FROM contributions WHERE voice_id = :id
  UNION ALL SELECT id FROM takes WHERE picture_id = :id) o JOIN contributions c ON c.id = o.id`;

/**
 * What is said in a discussion is heard, and seen, by its teachers and by whoever takes part in the same circle: while it
 * is open to them and they are in the class (or its guest), once it is let in, and as long as nobody has taken it out again. Where one has to contribute first,
 * other students are heard after that.
 */
const hearsContribution = async (db: Queryable, person: string, id: string) =>
  (await exists(
    db,
    `SELECT 1 FROM ${CONTRIBUTION_OF} JOIN releases r ON r.id = c.release_id
       JOIN class_members m ON m.class_id = r.class_id AND m.person_id = :person AND m.role = 'teacher'
     WHERE c.put_in_at IS NOT NULL AND c.taken_back_at IS NULL`,
    person,
    id,
  )) ||
  (await exists(
    db,
    `SELECT 1 FROM ${CONTRIBUTION_OF} JOIN releases r ON r.id = c.release_id
       JOIN participants p ON p.release_id = r.id AND p.person_id = :person
       JOIN people n ON n.id = p.person_id
       LEFT JOIN class_members m ON m.class_id = r.class_id AND m.person_id = p.person_id AND m.role = 'student'
       JOIN assessment_versions v ON v.id = r.version_id
       LEFT JOIN circles k ON k.release_id = r.id AND k.person_id = p.person_id
     WHERE r.hidden = 0 AND r.opens_at <= UTC_TIMESTAMP(3) AND (m.person_id IS NOT NULL OR n.guest_link_id IS NOT NULL)
       AND c.put_in_at IS NOT NULL AND c.let_in_at IS NOT NULL AND c.taken_back_at IS NULL AND c.replaced_at IS NULL
       AND c.hidden_at IS NULL AND (c.circle = 0 OR c.circle = k.circle)
       AND (c.sitting_id IS NULL OR COALESCE(JSON_VALUE(v.content, '$.discussion.hearsAfter'), '0') IN ('0', 'false')
         OR EXISTS (SELECT 1 FROM contributions own LEFT JOIN recordings x ON x.id = own.voice_id
           WHERE own.release_id = r.id AND own.author_id = p.person_id AND ${contributionStands('own', 'x')}))`,
    person,
    id,
  ));

/**
 * Sounds with a playable copy that the person of a session may hear until something changes, and not only until some hour:
 * their own, and what the classes that they teach recorded.
 */
export async function soundsForGood(
  db: Queryable,
  { sessionId, personId }: { sessionId: string; personId: string },
  which: { soundId: string } | { releaseId: string },
): Promise<string[]> {
  const taught = `FROM recordings r JOIN takes t ON t.id = r.id JOIN sittings s ON s.id = t.sitting_id
      JOIN releases l ON l.id = s.release_id
      JOIN class_members m ON m.class_id = l.class_id AND m.person_id = :personId AND m.role = 'teacher'
    WHERE ${TAKE_MAY_BE_HEARD} AND ${PLAYS} AND ${IS_HERE}`;
  const found = await rows<{ id: string }>(
    db,
    'releaseId' in which
      ? `SELECT r.id ${taught} AND s.release_id = :releaseId`
      : `SELECT r.id ${taught} AND r.id = :soundId
         UNION SELECT r.id FROM recordings r WHERE r.id = :soundId AND r.owner_id = :personId AND ${PLAYS} AND ${IS_HERE}`,
    { sessionId, personId, ...which },
  );
  return found.map(f => f.id);
}

/**
 * Whose session it is, where that is the owner of a recording whose bytes are still coming; null otherwise. Sessions that end in
 * other ways than by themselves, a phone that continues an item and a child's slip, are asked elsewhere.
 */
export async function recordsHere(
  db: Queryable,
  sessionId: string,
  recordingId: string,
): Promise<{ personId: string; endsAtMs: number } | null> {
  const [found] = await preparedRows<{ personId: string; expires: number }>(
    db,
    `SELECT i.person_id AS personId, i.expires FROM sessions i
       JOIN recordings r ON r.id = ? AND r.owner_id = i.person_id AND r.state = 'arriving'
     WHERE i.session_id = ? AND i.expires > UNIX_TIMESTAMP()
       AND JSON_VALUE(i.data, '$.handoverId') IS NULL AND JSON_VALUE(i.data, '$.slip') IS NULL`,
    [recordingId, sessionId],
  );
  return found ? { personId: found.personId, endsAtMs: found.expires * 1_000 } : null;
}

const PLAYS = "r.state = 'stored' AND r.medium = 'sound' AND r.playable_at IS NOT NULL";
const IS_HERE = `EXISTS (SELECT 1 FROM sessions i
  WHERE i.session_id = :sessionId AND i.person_id = :personId AND i.expires > UNIX_TIMESTAMP())`;

/** Those of some people who are in a class, or sat something in one, that this teacher does not teach. */
export async function alsoElsewhere(
  db: Queryable,
  personIds: readonly string[],
  teacherId: string,
): Promise<Set<string>> {
  if (personIds.length === 0) return new Set();
  const found = await rows<{ id: string }>(
    db,
    `SELECT DISTINCT x.id FROM (
       SELECT m.person_id AS id, m.class_id FROM class_members m WHERE m.person_id IN (:personIds)
       UNION SELECT s.student_id, r.class_id FROM sittings s JOIN releases r ON r.id = s.release_id WHERE s.student_id IN (:personIds)
     ) x WHERE NOT EXISTS (
       SELECT 1 FROM class_members t WHERE t.class_id = x.class_id AND t.person_id = :teacherId AND t.role = 'teacher')`,
    { personIds, teacherId },
  );
  return new Set(found.map(f => f.id));
}

/** Whoever teaches somebody in a class that they are in now. */
export const teachesStudent = (db: Queryable, person: string, id: string) =>
  exists(
    db,
    `SELECT 1 FROM class_members m JOIN class_members t ON t.class_id = m.class_id AND t.role = 'teacher'
     WHERE m.person_id = :id AND m.role = 'student' AND t.person_id = :person`,
    person,
    id,
  );
