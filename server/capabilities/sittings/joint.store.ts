/** Answers that some people gave as one: who is in them, and whose recording is whose. */
import type { WayTogether } from '@ecoute/core/takes/together';
import type { TogetherView } from '@ecoute/contract/together';
import { row, rows, execute, type Queryable } from '../../platform/database';

export interface JointRow {
  id: string;
  releaseId: string;
  itemId: string;
  way: WayTogether;
  leadId: string;
  turnsEach: number;
  madeAt: Date;
  endedAt: Date | null;
  joinedAt: Date | null;
  stretches: string | null;
  apart: number;
}

export interface JointPerson {
  jointId: string;
  personId: string;
  displayName: string;
  place: number;
  takeId: string | null;
  leftAt: Date | null;
  missed: 'handedIn' | 'gone' | null;
}

const JOINT = `SELECT j.id, j.release_id AS releaseId, j.item_id AS itemId, j.way, j.lead_id AS leadId, j.turns_each AS turnsEach,
    j.made_at AS madeAt, j.ended_at AS endedAt, j.joined_at AS joinedAt, j.stretches, j.apart FROM joint_answers j`;

/** @param lock holds it until the transaction ends */
export async function findJoint(db: Queryable, id: string, lock = false): Promise<JointRow | null> {
  return row<JointRow>(db, `${JOINT} WHERE j.id = :id ${lock ? 'FOR UPDATE' : ''}`, { id });
}

/** Who is in some joint answers, in the order in which they speak. */
export async function peopleIn(db: Queryable, jointIds: readonly string[]): Promise<JointPerson[]> {
  if (jointIds.length === 0) return [];
  return rows<JointPerson>(
    db,
    `SELECT p.joint_id AS jointId, p.person_id AS personId, n.display_name AS displayName, p.place, p.take_id AS takeId,
       p.left_at AS leftAt, p.missed
     FROM joint_people p JOIN people n ON n.id = p.person_id WHERE p.joint_id IN (:jointIds) ORDER BY p.joint_id, p.place`,
    { jointIds },
  );
}

/**
 * Those of some people who may be heard with somebody: whom the release is for, and who came by the same door. Whoever comes as a
 * guest is with guests of the same link alone.
 */
export async function participantsAmong(
  db: Queryable,
  { releaseId, leadId }: { releaseId: string; leadId: string },
  personIds: readonly string[],
): Promise<string[]> {
  if (personIds.length === 0) return [];
  const found = await rows<{ id: string }>(
    db,
    `SELECT p.person_id AS id FROM participants p JOIN people n ON n.id = p.person_id
       JOIN people l ON l.id = :leadId AND n.guest_link_id <=> l.guest_link_id
     WHERE p.release_id = :releaseId AND p.person_id IN (:personIds)`,
    { releaseId, leadId, personIds },
  );
  const known = new Set(found.map(f => f.id));
  // In the order in which they were named.
  return [...new Set(personIds)].filter(id => known.has(id));
}

export async function insertJoint(
  db: Queryable,
  joint: {
    id: string;
    releaseId: string;
    itemId: string;
    way: WayTogether;
    leadId: string;
    turnsEach: number;
    /** The lead first. */
    personIds: readonly string[];
  },
): Promise<void> {
  await execute(
    db,
    `INSERT INTO joint_answers (id, release_id, item_id, way, lead_id, turns_each, made_at)
     VALUES (:id, :releaseId, :itemId, :way, :leadId, :turnsEach, UTC_TIMESTAMP(3))`,
    joint,
  );
  await db.query('INSERT INTO joint_people (joint_id, person_id, place) VALUES ?', [
    joint.personIds.map((personId, place) => [joint.id, personId, place]),
  ]);
}

/** A recording is somebody's part in a joint answer. */
export async function setOwnTake(
  db: Queryable,
  at: { jointId: string; personId: string; takeId: string | null },
): Promise<void> {
  await execute(
    db,
    'UPDATE joint_people SET take_id = :takeId WHERE joint_id = :jointId AND person_id = :personId',
    at,
  );
  if (at.takeId) await execute(db, 'UPDATE takes SET joint_id = :jointId WHERE id = :takeId', at);
}

/** The joint answers that some takes are of, by take. */
export async function jointsOf(db: Queryable, takeIds: readonly string[]): Promise<Map<string, string>> {
  if (takeIds.length === 0) return new Map();
  const found = await rows<{ id: string; jointId: string }>(
    db,
    'SELECT id, joint_id AS jointId FROM takes WHERE id IN (:takeIds) AND joint_id IS NOT NULL',
    { takeIds },
  );
  return new Map(found.map(f => [f.id, f.jointId]));
}

/**
 * Sittings in which the same recording is the answer that was handed in, and is scored as one with it; none where each is scored
 * apart.
 */
export async function alikeWith(
  db: Queryable,
  ...sittingIds: readonly string[]
): Promise<{ sittingId: string; itemId: string; takeId: string }[]> {
  if (sittingIds.length === 0) return [];
  return rows(
    db,
    `SELECT o.sitting_id AS sittingId, o.item_id AS itemId, o.id AS takeId
     FROM takes t JOIN joint_answers j ON j.id = t.joint_id AND j.apart = 0
       JOIN joint_people p ON p.joint_id = j.id AND p.left_at IS NULL
       JOIN takes o ON o.id = p.take_id AND o.id <> t.id
       JOIN sittings s ON s.id = o.sitting_id AND s.handed_in_at IS NOT NULL AND s.set_aside_at IS NULL
         AND LOCATE(CAST(o.id AS CHAR(36)), s.receipt) > 0
       JOIN sittings q ON q.id = t.sitting_id AND LOCATE(CAST(t.id AS CHAR(36)), q.receipt) > 0
     WHERE t.sitting_id IN (:sittingIds)`,
    { sittingIds },
  );
}

/** Where somebody speaks in a joint recording. */
export interface SpokenStretch {
  personId: string;
  fromMs: number;
  toMs: number;
}

/**
 * Who else is heard in some takes, as their teachers and they themselves see it, by take.
 * @param nameOf what people are called while their names are hidden
 */
export async function togetherOf(
  db: Queryable,
  takes: readonly { id: string; jointId: string | null }[],
  nameOf: ((personId: string) => string) | null = null,
): Promise<Map<string, TogetherView>> {
  const ids = [...new Set(takes.flatMap(t => t.jointId ?? []))];
  if (ids.length === 0) return new Map();
  const joints = new Map(
    (await rows<JointRow>(db, `${JOINT} WHERE j.id IN (:ids)`, { ids })).map(j => [j.id, j]),
  );
  const people = new Map<string, JointPerson[]>();
  for (const p of await peopleIn(db, ids)) {
    const there = people.get(p.jointId);
    if (there) there.push(p);
    else people.set(p.jointId, [p]);
  }
  const called = (p: JointPerson) => (nameOf ? nameOf(p.personId) : p.displayName);
  const missing = (p: JointPerson): string[] => {
    if (p.leftAt) return [`${called(p)} says that they were not there`];
    if (p.missed === 'handedIn') return [`${called(p)} had handed in already`];
    return p.missed === 'gone' ? [`${called(p)} is no longer among those whom this is for`] : [];
  };
  return new Map(
    takes.flatMap(take => {
      const joint = take.jointId === null ? undefined : joints.get(take.jointId);
      const all = (joint && people.get(joint.id)) ?? [];
      const own = all.find(p => p.takeId === take.id);
      if (!joint || !own) return [];
      const others = all.filter(p => p !== own);
      const spoken = joint.stretches ? (JSON.parse(joint.stretches) as SpokenStretch[]) : [];
      const view: TogetherView = {
        jointId: joint.id,
        names: others.filter(p => !p.leftAt && !p.missed).map(called),
        leadName: called(all.find(p => p.personId === joint.leadId) ?? own),
        personIds:
          joint.leadId === own.personId && !nameOf ? others.filter(p => !p.leftAt).map(p => p.personId) : [],
        way: joint.way,
        isLead: joint.leadId === own.personId,
        apart: Boolean(joint.apart),
        without: others.flatMap(missing),
        stretches: spoken.flatMap(({ personId, fromMs, toMs }) => {
          const who = all.find(p => p.personId === personId);
          return who ? [{ name: called(who), fromMs, toMs }] : [];
        }),
      };
      return [[take.id, view] as const];
    }),
  );
}

/** What others recorded with somebody who says that they were not there. */
export async function leftBy(db: Queryable, releaseId: string, personId: string) {
  return rows<{ jointId: string; itemId: string; by: string }>(
    db,
    `SELECT j.id AS jointId, j.item_id AS itemId, n.display_name AS \`by\` FROM joint_people p
       JOIN joint_answers j ON j.id = p.joint_id JOIN people n ON n.id = j.lead_id
     WHERE j.release_id = :releaseId AND p.person_id = :personId AND p.left_at IS NOT NULL ORDER BY j.made_at`,
    { releaseId, personId },
  );
}

/** A recording is one person's alone again: nobody else has it yet. */
export async function removeJointOf(db: Queryable, takeId: string): Promise<void> {
  await execute(db, "DELETE FROM joint_answers WHERE id = :takeId AND way = 'oneDevice'", { takeId });
  await execute(db, 'UPDATE takes SET joint_id = NULL WHERE id = :takeId', { takeId });
}

export async function setApart(db: Queryable, id: string, apart: boolean): Promise<void> {
  await execute(db, 'UPDATE joint_answers SET apart = :apart WHERE id = :id', { id, apart });
}

export async function setMissed(
  db: Queryable,
  at: { jointId: string; personId: string; missed: JointPerson['missed'] },
): Promise<void> {
  await execute(
    db,
    'UPDATE joint_people SET missed = :missed WHERE joint_id = :jointId AND person_id = :personId',
    at,
  );
}

export async function setLeft(
  db: Queryable,
  at: { jointId: string; personId: string; left: boolean },
): Promise<void> {
  await execute(
    db,
    'UPDATE joint_people SET left_at = IF(:left, UTC_TIMESTAMP(3), NULL) WHERE joint_id = :jointId AND person_id = :personId',
    at,
  );
}
