import { rows, type Queryable } from '../../platform/database';

/**
 * Comments of earlier sittings of the same student that have feedback, on the items of a sitting, newest first.
 * What somebody is to be recorded again or not returned yet is not among them.
 */
export async function earlierComments(db: Queryable, sittingId: string) {
  return rows<{
    sittingId: string;
    itemId: string;
    comment: string;
    authorName: string;
    feedbackAt: Date;
    title: string;
  }>(
    db,
    `SELECT o.id AS sittingId, k.item_id AS itemId, k.comment, p.display_name AS authorName, o.feedback_at AS feedbackAt,
       JSON_VALUE(v.content, '$.title') AS title
     FROM sittings s JOIN sittings o ON o.student_id = s.student_id AND o.id <> s.id
         AND o.feedback_at <= UTC_TIMESTAMP(3) AND o.handed_in_at < COALESCE(s.handed_in_at, UTC_TIMESTAMP(3))
       JOIN marks k ON k.sitting_id = o.id AND k.in_force = 1 AND k.finished_at IS NOT NULL AND k.comment <> ''
       JOIN people p ON p.id = k.author_id
       JOIN releases r ON r.id = o.release_id JOIN assessment_versions v ON v.id = r.version_id
     WHERE s.id = :sittingId ORDER BY o.feedback_at DESC, o.id LIMIT 200`,
    { sittingId },
  );
}

/** The sittings of the same student that were begun before and handed in, newest first. */
export async function earlierSittings(db: Queryable, sittingId: string) {
  return rows<{ id: string; releaseId: string }>(
    db,
    `SELECT o.id, o.release_id AS releaseId
     FROM sittings s JOIN sittings o ON o.student_id = s.student_id AND o.id <> s.id AND o.handed_in_at IS NOT NULL
     WHERE s.id = :sittingId AND o.began_at <= s.began_at ORDER BY o.handed_in_at DESC LIMIT 40`,
    { sittingId },
  );
}
