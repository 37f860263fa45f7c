/** Where everybody stands with releases, as their rows say. */
import { NO_EXCEPTION } from '@ecoute/core/timing/sittingState';
import { rows, type Queryable } from '../../platform/database';
import { EXCEPTION, readException, type ExceptionRow, type RawException } from './participants.store';

/** A student of a release with one of their sittings, or none. */
export interface StandingRow extends ExceptionRow {
  releaseId: string;
  studentId: string;
  displayName: string;
  /** What comments call them, where that was set. */
  called: string | null;
  signInName: string;
  email: string | null;
  remindedAt: Date | null;
  sittingId: string | null;
  number: number | null;
  handedInAt: Date | null;
  /** When it was due before a later sitting was allowed. */
  dueWas: Date | null;
  /** Why it was recorded again; null where it was not. */
  againFor: string | null;
  feedbackAt: Date | null;
  /** 0 or 1, as the database counts them; null without a sitting. */
  setAside: number | null;
  askedAgain: number | null;
  lateAccepted: number | null;
  notesShown: number | null;
  replyWaits: number | null;
  lacksLevel: number | null;
  opened: number | null;
  asked: number | null;
  replied: number | null;
  answered: number;
  finished: number;
  waitingMs: number;
}

export const FLAGS_OF_SITTING = `s.set_aside_at IS NOT NULL AS setAside, s.asked_again_at IS NOT NULL AS askedAgain,
    s.late_accepted_at IS NOT NULL AS lateAccepted, s.notes_shown_at IS NOT NULL AS notesShown, s.asked, s.replied,
    s.reply_waits AS replyWaits, s.lacks_level AS lacksLevel, s.feedback_opened_at IS NOT NULL AS opened`;

/** Everybody a release is for, with each of their sittings (a row without one for who has none), by name. */
export async function standings(
  db: Queryable,
  releaseIds: readonly string[],
  studentId: string | null = null,
): Promise<StandingRow[]> {
  if (releaseIds.length === 0) return [];
  const found = await rows<FoundRow>(
    db,
    `SELECT p.release_id AS releaseId, p.person_id AS studentId, n.display_name AS displayName, n.called,
       n.sign_in_name AS signInName, n.email, p.reminded_at AS remindedAt, ${EXCEPTION}, s.id AS sittingId, s.number, s.handed_in_at AS handedInAt,
       s.due_was AS dueWas, s.again_for AS againFor, s.feedback_at AS feedbackAt, ${FLAGS_OF_SITTING}, COALESCE(s.answered, 0) AS answered, COALESCE(s.finished, 0) AS finished,
       COALESCE(s.waiting_ms, 0) AS waitingMs
     FROM participants p JOIN people n ON n.id = p.person_id
       LEFT JOIN sittings s FORCE INDEX (sittings_one) ON s.release_id = p.release_id AND s.student_id = p.person_id
     WHERE p.release_id IN (:releaseIds) ${studentId === null ? '' : 'AND p.person_id = :studentId'}
     ORDER BY n.display_name, n.id, s.number`,
    { releaseIds, studentId },
  );
  return found.map(asStanding);
}

type OfPeople = 'displayName' | 'called' | 'signInName' | 'email' | 'remindedAt' | 'againFor';
type FoundRow = Omit<StandingRow, 'exception'> & RawException;
type CountedRow = Omit<FoundRow, OfPeople>;

/** Written out: spreading thousands of the driver's rows takes longer than fetching them. What was not asked for is not known. */
function asStanding(f: CountedRow & Partial<Pick<StandingRow, OfPeople>>): StandingRow {
  return {
    releaseId: f.releaseId,
    studentId: f.studentId,
    displayName: f.displayName ?? '',
    called: f.called ?? null,
    signInName: f.signInName ?? '',
    email: f.email ?? null,
    remindedAt: f.remindedAt ?? null,
    sittingId: f.sittingId,
    number: f.number,
    handedInAt: f.handedInAt,
    dueWas: f.dueWas,
    againFor: f.againFor ?? null,
    feedbackAt: f.feedbackAt,
    setAside: f.setAside,
    askedAgain: f.askedAgain,
    lateAccepted: f.lateAccepted,
    notesShown: f.notesShown,
    replyWaits: f.replyWaits,
    lacksLevel: f.lacksLevel,
    opened: f.opened,
    asked: f.asked,
    replied: f.replied,
    answered: f.answered,
    finished: f.finished,
    waitingMs: f.waitingMs,
    exception:
      f.ownDueAt === null && !f.excused && f.extraSittings === 0 ? NO_EXCEPTION : readException(f).exception,
  };
}

/** The same without names, in no order: for counting many releases at once. */
export async function standingsToCount(db: Queryable, releaseIds: readonly string[]): Promise<StandingRow[]> {
  if (releaseIds.length === 0) return [];
  const found = await rows<CountedRow>(
    db,
    `SELECT p.release_id AS releaseId, p.person_id AS studentId, ${EXCEPTION}, s.id AS sittingId, s.number,
       s.handed_in_at AS handedInAt, s.due_was AS dueWas, s.feedback_at AS feedbackAt, ${FLAGS_OF_SITTING}, s.answered, s.finished, s.waiting_ms AS waitingMs
     FROM participants p LEFT JOIN sittings s FORCE INDEX (sittings_one) ON s.release_id = p.release_id AND s.student_id = p.person_id
     WHERE p.release_id IN (:releaseIds)`,
    { releaseIds },
  );
  return found.map(asStanding);
}
