import type { AssessmentContent } from '@ecoute/contract/assessments';
import { completed } from '@ecoute/contract/blank';
import type { Subject } from '@ecoute/contract/classes';
import type { ReleaseTimes, SittingFacts } from '@ecoute/core/timing/sittingState';
import { row, rows, run, type Queryable } from '../../platform/database';

export interface ReleaseRow {
  id: string;
  assessmentId: string;
  classId: string;
  className: string;
  subject: Subject;
  opensAt: Date;
  dueAt: Date;
  lateAccepted: boolean;
  note: string;
  content: AssessmentContent;
}

const SELECT = `SELECT r.id, r.assessment_id AS assessmentId, r.class_id AS classId, c.name AS className, c.subject,
    r.opens_at AS opensAt, r.due_at AS dueAt, r.late_accepted AS lateAccepted, r.note, v.content
  FROM releases r JOIN classes c ON c.id = r.class_id JOIN assessment_versions v ON v.id = r.version_id`;

type Raw = Omit<ReleaseRow, 'content' | 'lateAccepted'> & { content: string; lateAccepted: number };

const read = (raw: Raw): ReleaseRow => ({
  ...raw,
  lateAccepted: Boolean(raw.lateAccepted),
  content: completed(JSON.parse(raw.content) as AssessmentContent),
});

/** A release's times as core counts them. */
export function timesOf(release: Pick<ReleaseRow, 'opensAt' | 'dueAt' | 'lateAccepted'>): ReleaseTimes {
  return {
    opensAtMs: release.opensAt.getTime(),
    dueAtMs: release.dueAt.getTime(),
    lateAccepted: release.lateAccepted,
  };
}

export async function findRelease(db: Queryable, id: string): Promise<ReleaseRow | null> {
  const found = await row<Raw>(db, `${SELECT} WHERE r.id = :id`, { id });
  return found && read(found);
}

/** Releases to the classes of a person in one role, newest due first; for students only what has opened. */
export async function releasesOf(
  db: Queryable,
  person: { personId: string; role: 'teacher' | 'student' },
): Promise<ReleaseRow[]> {
  const found = await rows<Raw>(
    db,
    `${SELECT} JOIN class_members m ON m.class_id = r.class_id
     WHERE m.person_id = :personId AND m.role = :role AND (:role = 'teacher' OR r.opens_at <= UTC_TIMESTAMP(3))
     ORDER BY r.due_at DESC, r.id LIMIT 200`,
    person,
  );
  return found.map(read);
}

export async function insertRelease(
  db: Queryable,
  made: {
    id: string;
    assessmentId: string;
    versionId: string;
    classId: string;
    opensAt: Date;
    dueAt: Date;
    lateAccepted: boolean;
    note: string;
    releasedBy: string;
  },
): Promise<void> {
  await run(
    db,
    `INSERT INTO releases (id, assessment_id, version_id, class_id, opens_at, due_at, late_accepted, note, released_by, created_at)
     VALUES (:id, :assessmentId, :versionId, :classId, :opensAt, :dueAt, :lateAccepted, :note, :releasedBy, UTC_TIMESTAMP(3))`,
    made,
  );
}

export interface StandingRow {
  releaseId: string;
  studentId: string;
  displayName: string;
  sittingId: string | null;
  handedInAt: Date | null;
  returnedAt: Date | null;
  answered: number;
  finished: number;
}

/** Every student of the releases' classes with the facts of their sitting, in order of name. */
export async function standings(db: Queryable, releaseIds: string[]): Promise<StandingRow[]> {
  if (releaseIds.length === 0) return [];
  return rows<StandingRow>(
    db,
    `SELECT r.id AS releaseId, p.id AS studentId, p.display_name AS displayName, s.id AS sittingId,
       s.handed_in_at AS handedInAt, s.returned_at AS returnedAt,
       (SELECT COUNT(DISTINCT t.item_id) FROM takes t JOIN recordings x ON x.id = t.id AND x.state = 'stored'
          WHERE t.sitting_id = s.id)
         + (SELECT COUNT(*) FROM written_answers w WHERE w.sitting_id = s.id AND w.text <> '') AS answered,
       (SELECT COUNT(*) FROM marks k WHERE k.sitting_id = s.id AND k.in_force = 1 AND k.finished_at IS NOT NULL
          AND (EXISTS (SELECT 1 FROM takes t JOIN recordings x ON x.id = t.id AND x.state = 'stored'
                         WHERE t.sitting_id = k.sitting_id AND t.item_id = k.item_id)
            OR EXISTS (SELECT 1 FROM written_answers w
                         WHERE w.sitting_id = k.sitting_id AND w.item_id = k.item_id AND w.text <> ''))) AS finished
     FROM releases r
       JOIN class_members m ON m.class_id = r.class_id AND m.role = 'student'
       JOIN people p ON p.id = m.person_id
       LEFT JOIN sittings s ON s.release_id = r.id AND s.student_id = p.id
     WHERE r.id IN (:releaseIds) ORDER BY p.display_name, p.id`,
    { releaseIds },
  );
}

/** The facts that core decides by. */
export function factsOf(standing: StandingRow): SittingFacts | null {
  if (!standing.sittingId) return null;
  return {
    handedInAtMs: standing.handedInAt?.getTime() ?? null,
    returnedAtMs: standing.returnedAt?.getTime() ?? null,
    marked: Number(standing.finished) >= Number(standing.answered),
  };
}

/** Points given so far, in hundredths, by sitting. */
export async function pointsGiven(db: Queryable, releaseId: string): Promise<Map<string, number>> {
  const found = await rows<{ sittingId: string; given: number }>(
    db,
    `SELECT k.sitting_id AS sittingId, SUM(k.points_hundredths) AS given FROM marks k
       JOIN sittings s ON s.id = k.sitting_id
     WHERE s.release_id = :releaseId AND k.in_force = 1 AND k.finished_at IS NOT NULL AND k.points_hundredths IS NOT NULL
     GROUP BY k.sitting_id`,
    { releaseId },
  );
  return new Map(found.map(f => [f.sittingId, Number(f.given)]));
}
