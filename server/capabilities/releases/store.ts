import type { AssessmentContent } from '@ecoute/contract/assessments';
import { completed } from '@ecoute/contract/blank';
import type { Subject } from '@ecoute/contract/classes';
import { LIMITS } from '@ecoute/contract/limits';
import type { Audience, HeardBy, Outline, Reach } from '@ecoute/contract/releases';
import { type ReleaseTimes } from '@ecoute/core/timing/sittingState';
import { row, rows, execute, type Queryable } from '../../platform/database';
import { EXCEPTION, readException, type ExceptionRow, type RawException } from './participants.store';

/** A release and how it takes place; without what is sat, of which lists need the outline alone. */
export interface EntryRow {
  id: string;
  assessmentId: string;
  classId: string;
  className: string;
  subject: Subject;
  audience: Audience;
  groupId: string | null;
  groupName: string | null;
  opensAt: Date;
  dueAt: Date;
  closesAt: Date | null;
  lateAccepted: boolean;
  hidden: boolean;
  sittingsAllowed: number;
  heardBy: HeardBy;
  scoresHeld: boolean;
  notify: boolean;
  namesHidden: boolean;
  timeZone: string;
  seriesId: string | null;
  follows: boolean;
  note: string;
  outline: Outline;
}

export interface ReleaseRow extends Omit<EntryRow, 'outline'> {
  content: AssessmentContent;
}

const COLUMNS = `r.id, r.assessment_id AS assessmentId, r.class_id AS classId, c.name AS className, c.subject,
    r.audience, r.group_id AS groupId, g.name AS groupName,
    r.opens_at AS opensAt, r.due_at AS dueAt, r.closes_at AS closesAt, r.late_accepted AS lateAccepted, r.hidden,
    r.sittings_allowed AS sittingsAllowed, r.heard_by AS heardBy, r.scores_held AS scoresHeld, r.notify, r.names_hidden AS namesHidden,
    r.time_zone AS timeZone, r.series_id AS seriesId, r.follows, r.note, r.version_id AS versionId`;
const JOINS = `JOIN classes c ON c.id = r.class_id
    LEFT JOIN class_groups g ON g.id = r.group_id`;

const FLAGS = ['lateAccepted', 'hidden', 'scoresHeld', 'notify', 'namesHidden', 'follows'] as const;

/** Flags come from the database as 0 and 1. */
function withFlags<T extends Record<(typeof FLAGS)[number], unknown>>(raw: T): T {
  const read = { ...raw };
  for (const flag of FLAGS) (read as Record<string, unknown>)[flag] = Boolean(raw[flag]);
  return read;
}

type RawEntry = Omit<EntryRow, 'outline'> & { versionId: string };

/**
 * Entries with their outlines. These are fetched once for each version, and not with the rows: long texts in a list
 * that is sorted make the database sort it on disk.
 */
async function withOutlines<T extends RawEntry>(
  db: Queryable,
  raw: readonly T[],
): Promise<(Omit<T, 'versionId'> & { outline: Outline })[]> {
  const versionIds = [...new Set(raw.map(r => r.versionId))];
  if (versionIds.length === 0) return [];
  const found = await rows<{ id: string; outline: string }>(
    db,
    'SELECT id, COALESCE(outline, content) AS outline FROM assessment_versions WHERE id IN (:versionIds)',
    { versionIds },
  );
  const outlines = new Map(found.map(f => [f.id, JSON.parse(f.outline) as Outline]));
  // Those that follow their assessment were given another version between the two questions: asked in one.
  const moved = raw.filter(r => !outlines.has(r.versionId)).map(r => r.id);
  const now =
    moved.length === 0
      ? []
      : await rows<{ id: string; outline: string }>(
          db,
          `SELECT r.id, COALESCE(v.outline, v.content) AS outline FROM releases r JOIN assessment_versions v ON v.id = r.version_id
     WHERE r.id IN (:moved)`,
          { moved },
        );
  for (const { id, outline } of now) outlines.set(id, JSON.parse(outline) as Outline);
  return raw.flatMap(({ versionId, ...rest }) => {
    const outline = outlines.get(versionId) ?? outlines.get(rest.id);
    return outline ? [{ ...withFlags(rest as Omit<T, 'versionId'>), outline }] : [];
  });
}

/** A release's times as core counts them. */
export function timesOf(
  release: Pick<EntryRow, 'opensAt' | 'dueAt' | 'closesAt' | 'lateAccepted' | 'hidden'>,
): ReleaseTimes {
  return {
    opensAtMs: release.opensAt.getTime(),
    dueAtMs: release.dueAt.getTime(),
    closesAtMs: release.closesAt?.getTime() ?? null,
    lateAccepted: release.lateAccepted,
    hidden: release.hidden,
  };
}

/** Frozen versions never change: those asked for last are kept, read and checked once. */
const versions = new Map<string, AssessmentContent>();
const MOST_VERSIONS = 200;

/** @returns null for a version that went because nothing refers to it any more */
async function contentOf(db: Queryable, versionId: string): Promise<AssessmentContent | null> {
  const known = versions.get(versionId);
  if (known) {
    // The one asked for last is forgotten last.
    versions.delete(versionId);
    versions.set(versionId, known);
    return known;
  }
  const found = await row<{ content: string }>(
    db,
    'SELECT content FROM assessment_versions WHERE id = :versionId',
    { versionId },
  );
  if (!found) return null;
  const content = frozen(completed(JSON.parse(found.content) as AssessmentContent));
  if (versions.size >= MOST_VERSIONS) versions.delete(versions.keys().next().value!);
  versions.set(versionId, content);
  return content;
}

/** Everybody is given the same object: whoever would change it is told so at once. */
function frozen<T>(value: T): T {
  if (value === null || typeof value !== 'object' || Object.isFrozen(value)) return value;
  Object.freeze(value);
  for (const inner of Object.values(value)) frozen(inner);
  return value;
}

export async function findRelease(db: Queryable, id: string): Promise<ReleaseRow | null> {
  // However the id was written, in upper or lower case: there is one at most.
  return [...(await releasesWith(db, [id])).values()][0] ?? null;
}

/** So often a release may be given another version while it is read. */
const MOST_READS = 20;

/** Releases by their ids, in one question (and one for each version that nobody asked for lately). */
export async function releasesWith(db: Queryable, ids: readonly string[]): Promise<Map<string, ReleaseRow>> {
  const whole = new Map<string, ReleaseRow>();
  let asked = [...ids];
  for (let reads = 0; asked.length > 0 && reads < MOST_READS; reads++) {
    const found = await rows<Omit<ReleaseRow, 'content'> & { versionId: string }>(
      db,
      `SELECT ${COLUMNS} FROM releases r ${JOINS} WHERE r.id IN (:asked)`,
      { asked },
    );
    asked = [];
    for (const one of found) {
      const content = await contentOf(db, one.versionId);
      if (content) whole.set(one.id, withFlags({ ...one, content }));
      // It follows its assessment, which was saved between the two questions.
      else asked.push(one.id);
    }
  }
  return whole;
}

/** Entries of some releases, in no order. */
export async function entriesOf(db: Queryable, ids: readonly string[]): Promise<EntryRow[]> {
  if (ids.length === 0) return [];
  const found = await rows<RawEntry>(db, `SELECT ${COLUMNS} FROM releases r ${JOINS} WHERE r.id IN (:ids)`, {
    ids,
  });
  return withOutlines(db, found);
}

/**
 * Releases to the classes that somebody teaches or coordinates, newest due first, a page of them.
 * @param before due before this instant and id: where the page before ended
 */
export async function releasesTaught(
  db: Queryable,
  personId: string,
  before: { dueAt: Date; id: string } | null = null,
): Promise<EntryRow[]> {
  const found = await rows<RawEntry>(
    db,
    `SELECT ${COLUMNS}
     FROM class_members m JOIN releases r ON r.class_id = m.class_id ${JOINS}
     WHERE m.person_id = :personId AND m.role IN ('teacher', 'coordinator')
       ${before ? 'AND (r.due_at < :dueAt OR (r.due_at = :dueAt AND r.id < :id))' : ''}
     ORDER BY r.due_at DESC, r.id DESC LIMIT ${LIMITS.releasesPage}`,
    { personId, ...before },
  );
  return withOutlines(db, found);
}

/** Releases of somebody's classes in which work is handed in and without feedback, however old. */
export async function releasesWithoutFeedback(db: Queryable, personId: string): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    `SELECT r.id FROM class_members m JOIN releases r ON r.class_id = m.class_id
     WHERE m.person_id = :personId AND m.role IN ('teacher', 'coordinator') AND EXISTS (
       SELECT 1 FROM sittings s WHERE s.release_id = r.id AND s.feedback_at IS NULL AND s.handed_in_at IS NOT NULL)
     LIMIT 300`,
    { personId },
  );
  return found.map(f => f.id);
}

/** Releases that touch a stretch of time, to the classes that somebody teaches; for a student, their own. */
export async function releasesBetween(
  db: Queryable,
  person: { personId: string; isTeacher: boolean; from: Date; to: Date },
): Promise<EntryRow[]> {
  const which = person.isTeacher
    ? `FROM class_members m JOIN releases r ON r.class_id = m.class_id ${JOINS}
       WHERE m.person_id = :personId AND m.role IN ('teacher', 'coordinator')`
    : `FROM participants p JOIN releases r ON r.id = p.release_id ${JOINS}
       WHERE p.person_id = :personId AND r.hidden = 0 AND r.opens_at <= UTC_TIMESTAMP(3)`;
  const found = await rows<RawEntry>(
    db,
    `SELECT ${COLUMNS} ${which}
       AND r.due_at >= :from AND r.opens_at < :to ORDER BY r.opens_at, r.id LIMIT 500`,
    person,
  );
  return withOutlines(db, found);
}

/** What a student has been given and may see: open, or over. */
export async function releasesGiven(db: Queryable, personId: string): Promise<(EntryRow & ExceptionRow)[]> {
  const found = await rows<RawEntry & RawException>(
    db,
    `SELECT ${COLUMNS}, ${EXCEPTION}
     FROM participants p JOIN releases r ON r.id = p.release_id ${JOINS}
     WHERE p.person_id = :personId AND r.hidden = 0 AND r.opens_at <= UTC_TIMESTAMP(3)
     ORDER BY r.due_at DESC, r.id LIMIT 200`,
    { personId },
  );
  return (await withOutlines(db, found)).map(f => ({ ...f, ...readException(f) }));
}

export interface ReleaseTermsRow {
  opensAt: Date;
  dueAt: Date;
  closesAt: Date | null;
  lateAccepted: boolean;
  hidden: boolean;
  sittingsAllowed: number;
  heardBy: HeardBy;
  scoresHeld: boolean;
  notify: boolean;
  timeZone: string;
  note: string;
}

/** Where a term is left out. */
const USUAL = {
  closesAt: null,
  hidden: false,
  sittingsAllowed: 1,
  heardBy: 'nobody',
  scoresHeld: false,
  notify: false,
  timeZone: 'UTC',
  audience: 'class',
  groupId: null,
  seriesId: null,
} as const;

export type NewReleaseRow = Pick<ReleaseTermsRow, 'opensAt' | 'dueAt' | 'lateAccepted' | 'note'> &
  Partial<ReleaseTermsRow> & {
    id: string;
    assessmentId: string;
    versionId: string;
    classId: string;
    releasedBy: string;
    audience?: Audience;
    groupId?: string | null;
    seriesId?: string | null;
  };

export async function insertRelease(db: Queryable, made: NewReleaseRow): Promise<void> {
  await execute(
    db,
    `INSERT INTO releases (id, assessment_id, version_id, class_id, audience, group_id, opens_at, due_at, closes_at,
       late_accepted, hidden, sittings_allowed, heard_by, scores_held, notify, time_zone, series_id, note, released_by, names_secret, follows, created_at)
     VALUES (:id, :assessmentId, :versionId, :classId, :audience, :groupId, :opensAt, :dueAt, :closesAt,
       :lateAccepted, :hidden, :sittingsAllowed, :heardBy, :scoresHeld, :notify, :timeZone, :seriesId, :note, :releasedBy, RANDOM_BYTES(32), 1, UTC_TIMESTAMP(3))`,
    { ...USUAL, ...made },
  );
}

export async function changeTerms(db: Queryable, id: string, terms: ReleaseTermsRow): Promise<void> {
  await execute(
    db,
    `UPDATE releases SET opens_at = :opensAt, due_at = :dueAt, closes_at = :closesAt, late_accepted = :lateAccepted,
       hidden = :hidden, sittings_allowed = :sittingsAllowed, heard_by = :heardBy, scores_held = :scoresHeld,
       notify = :notify, time_zone = :timeZone, note = :note WHERE id = :id`,
    { id, ...terms },
  );
}

/** Not opened, and nobody has begun it: an instant of the database's own clock decides. */
const UNOPENED = `(r.hidden = 1 OR r.opens_at > UTC_TIMESTAMP(3))
  AND NOT EXISTS (SELECT 1 FROM sittings s WHERE s.release_id = r.id)`;

export interface Follower {
  id: string;
  classId: string;
  versionId: string;
  releasedBy: string;
}

/**
 * Releases of an assessment that follow it and have not opened, held until the transaction ends.
 * @param id that one alone
 */
export async function followersOf(
  db: Queryable,
  assessmentId: string,
  id: string | null = null,
): Promise<Follower[]> {
  return rows<Follower>(
    db,
    `SELECT r.id, r.class_id AS classId, r.version_id AS versionId, r.released_by AS releasedBy FROM releases r
     WHERE r.assessment_id = :assessmentId AND r.follows = 1 AND ${UNOPENED} ${id ? 'AND r.id = :id' : ''}
     FOR UPDATE`,
    { assessmentId, id },
  );
}

export async function setVersion(db: Queryable, ids: readonly string[], versionId: string): Promise<void> {
  await execute(db, 'UPDATE releases SET version_id = :versionId WHERE id IN (:ids)', { ids, versionId });
}

/** Lets go of versions that no release is of any more. */
export async function removeUnusedVersions(db: Queryable, versionIds: readonly string[]): Promise<void> {
  for (const id of new Set(versionIds)) {
    if (await row(db, 'SELECT 1 FROM releases WHERE version_id = :id LIMIT 1 FOR UPDATE', { id })) continue;
    await execute(db, 'DELETE FROM version_prompts WHERE version_id = :id', { id });
    await execute(db, 'DELETE FROM assessment_versions WHERE id = :id', { id });
  }
}

/** @returns false where it has opened, or somebody has begun it: then it is held anyhow */
export async function setFollows(db: Queryable, id: string, follows: boolean): Promise<boolean> {
  return (
    (await execute(db, `UPDATE releases r SET r.follows = :follows WHERE r.id = :id AND ${UNOPENED}`, {
      id,
      follows,
    })) === 1
  );
}

/** The releases that a change of one reaches, the earliest first, held until the transaction ends. */
export async function reachedBy(
  db: Queryable,
  { id, seriesId, opensAt }: Pick<EntryRow, 'id' | 'seriesId' | 'opensAt'>,
  reach: Reach,
): Promise<string[]> {
  if (reach === 'this' || seriesId === null) return [id];
  const found = await rows<{ id: string }>(
    db,
    `SELECT id FROM releases WHERE series_id = :seriesId ${reach === 'later' ? 'AND opens_at >= :opensAt' : ''}
     ORDER BY opens_at, id FOR UPDATE`,
    { seriesId, opensAt },
  );
  return found.map(f => f.id);
}

/** Nothing begins from now on, late work neither; what is handed in and recorded stays. */
export async function closeRelease(db: Queryable, id: string): Promise<void> {
  await execute(
    db,
    `UPDATE releases SET due_at = LEAST(due_at, UTC_TIMESTAMP(3)), opens_at = LEAST(opens_at, UTC_TIMESTAMP(3)),
       late_accepted = 0, closes_at = NULL WHERE id = :id`,
    { id },
  );
}

/** Holds a release until the transaction ends. */
export async function lockRelease(db: Queryable, id: string): Promise<void> {
  await row(db, 'SELECT id FROM releases WHERE id = :id FOR UPDATE', { id });
}

/** Takes a release back that nobody has opened. False when somebody has. */
export async function removeRelease(db: Queryable, id: string): Promise<boolean> {
  const sat = await row(db, 'SELECT 1 FROM sittings WHERE release_id = :id LIMIT 1 FOR UPDATE', { id });
  if (sat) return false;
  // Guests who came and did not begin are forgotten with their link.
  const guests = 'JOIN release_links l ON l.id = p.guest_link_id WHERE l.release_id = :id';
  for (const table of ['sessions', 'calendar_feeds'])
    await execute(db, `DELETE x FROM ${table} x JOIN people p ON p.id = x.person_id ${guests}`, { id });
  await execute(db, 'DELETE FROM participants WHERE release_id = :id', { id });
  await execute(db, `DELETE p FROM people p ${guests}`, { id });
  for (const table of ['decisions', 'listeners', 'release_links'])
    await execute(db, `DELETE FROM ${table} WHERE release_id = :id`, { id });
  await execute(db, 'DELETE FROM releases WHERE id = :id', { id });
  return true;
}

/** Releases of a class that are not over. */
export async function releasesOfClass(db: Queryable, classId: string): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    'SELECT id FROM releases WHERE class_id = :classId AND due_at > UTC_TIMESTAMP(3) LIMIT 500',
    { classId },
  );
  return found.map(f => f.id);
}

/** One participant's exception; null for somebody the release is not for. */

/** False when it was announced before. */
export async function markAnnounced(db: Queryable, id: string): Promise<boolean> {
  return (
    (await execute(
      db,
      'UPDATE releases SET announced_at = UTC_TIMESTAMP(3) WHERE id = :id AND announced_at IS NULL',
      { id },
    )) === 1
  );
}

/** Whether the names of a release's students are kept from those who listen. */
export async function hideNames(db: Queryable, id: string, hidden: boolean): Promise<void> {
  await execute(db, 'UPDATE releases SET names_hidden = :hidden WHERE id = :id', { id, hidden });
}

/** What hidden names of a release are worked out with; it never leaves the server. */
export async function namesSecretOf(db: Queryable, releaseId: string): Promise<Buffer> {
  const found = await row<{ secret: Buffer | null }>(
    db,
    'SELECT names_secret AS secret FROM releases WHERE id = :releaseId',
    { releaseId },
  );
  if (!found?.secret) throw new Error('A release has no secret for its names.');
  return found.secret;
}
