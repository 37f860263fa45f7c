/** What happened in sittings, as their pages told it. */
import type { Used } from '@ecoute/contract/marking';
import type { SittingEvent, SittingEventKind } from '@ecoute/contract/sittings';
import type { Heard } from '@ecoute/core/takes/claim';
import { row, rows, type Queryable } from '../../platform/database';
import { among, type WhichSittings } from './which.store';

export async function eventsOf(db: Queryable, sittingId: string): Promise<SittingEvent[]> {
  const found = await rows<{ id: string; itemId: string | null; kind: SittingEventKind; at: Date }>(
    db,
    'SELECT id, item_id AS itemId, kind, at FROM sitting_events WHERE sitting_id = :sittingId ORDER BY at, id LIMIT 5000',
    { sittingId },
  );
  return found.map(e => ({ ...e, at: instantOf(e.at) }));
}

/** What the account of a sitting says, and when each of it reached the server. */
export async function heardOf(db: Queryable, sittingId: string): Promise<Heard[]> {
  const found = await rows<{ kind: string; itemId: string | null; at: Date; receivedAt: Date }>(
    db,
    `SELECT kind, item_id AS itemId, at, received_at AS receivedAt FROM sitting_events
     WHERE sitting_id = :sittingId ORDER BY at, id LIMIT 5000`,
    { sittingId },
  );
  return found.map(({ kind, itemId, at, receivedAt }) => ({
    kind,
    itemId,
    atMs: at.getTime() || 0,
    receivedMs: receivedAt.getTime(),
  }));
}

/** An instant that an earlier Ecoute kept wrongly reads as the beginning of time: one odd row spoils no page. */
export function instantOf(at: Date | null): string {
  return at && !Number.isNaN(at.getTime()) ? at.toISOString() : new Date(0).toISOString();
}

/** The accounts of some sittings, each in order of time. */
export async function eventsOfSittings(
  db: Queryable,
  sittingIds: readonly string[],
): Promise<(SittingEvent & { sittingId: string })[]> {
  if (sittingIds.length === 0) return [];
  const found = await rows<Omit<SittingEvent, 'at'> & { sittingId: string; at: Date }>(
    db,
    `SELECT id, sitting_id AS sittingId, item_id AS itemId, kind, at FROM sitting_events
     WHERE sitting_id IN (:sittingIds) ORDER BY sitting_id, at, id LIMIT 50000`,
    { sittingIds },
  );
  return found.map(e => ({ ...e, at: instantOf(e.at) }));
}

/** Items that were passed on and not taken up again since. */
export async function passedItems(
  db: Queryable,
  sittingIds: readonly string[],
): Promise<{ sittingId: string; itemId: string }[]> {
  if (sittingIds.length === 0) return [];
  return rows(
    db,
    `SELECT DISTINCT e.sitting_id AS sittingId, e.item_id AS itemId FROM sitting_events e
     WHERE e.sitting_id IN (:sittingIds) AND e.kind = 'passed' AND e.item_id IS NOT NULL AND NOT EXISTS (
       SELECT 1 FROM sitting_events b WHERE b.sitting_id = e.sitting_id AND b.item_id = e.item_id
         AND b.kind = 'passTakenBack' AND (b.at > e.at OR (b.at = e.at AND b.id > e.id)))`,
    { sittingIds },
  );
}

export interface HearingsRow {
  sittingId: string;
  itemId: string;
  count: number;
}

/** How often something was used on the way to the answers of some sittings. */
export async function usedIn(
  db: Queryable,
  which: WhichSittings,
): Promise<(Used & { sittingId: string; itemId: string })[]> {
  const these = among('sitting_id', which);
  if (!these) return [];
  return rows(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, CAST(SUM(kind = 'promptBegan') - LEAST(1, SUM(kind = 'promptCut')) AS INT) AS hearings,
       CAST(SUM(kind = 'hintOpened') AS INT) AS hints, CAST(SUM(kind = 'readAloud') AS INT) AS readAlouds
     FROM sitting_events WHERE ${these.sql} AND kind IN ('promptBegan', 'promptCut', 'hintOpened', 'readAloud')
       AND item_id IS NOT NULL GROUP BY sitting_id, item_id`,
    these.values,
  );
}

/** How often the prompts were heard in some sittings. */
export async function hearingsOf(db: Queryable, sittingIds: readonly string[]): Promise<HearingsRow[]> {
  if (sittingIds.length === 0) return [];
  return rows<HearingsRow>(
    db,
    `SELECT sitting_id AS sittingId, item_id AS itemId, CAST(SUM(kind = 'promptBegan') - LEAST(1, SUM(kind = 'promptCut')) AS INT) AS count FROM sitting_events
     WHERE sitting_id IN (:sittingIds) AND kind IN ('promptBegan', 'promptCut') AND item_id IS NOT NULL GROUP BY sitting_id, item_id`,
    { sittingIds },
  );
}

/** Keeps events; one that is here already is left as it is. */
export async function keepEvents(
  db: Queryable,
  sittingId: string,
  events: readonly SittingEvent[],
): Promise<void> {
  if (events.length === 0) return;
  const now = new Date();
  // Not IGNORE: what does not fit is refused, never bent until it does.
  await db.query(
    'INSERT INTO sitting_events (id, sitting_id, item_id, kind, at, received_at) VALUES ? ON DUPLICATE KEY UPDATE id = VALUES(id)',
    [events.map(e => [e.id, sittingId, e.itemId ?? null, e.kind, new Date(e.at), now])],
  );
}

export async function countEvents(db: Queryable, sittingId: string): Promise<number> {
  const found = await row<{ n: number }>(
    db,
    'SELECT COUNT(*) AS n FROM sitting_events WHERE sitting_id = :sittingId',
    { sittingId },
  );
  return Number(found?.n ?? 0);
}
