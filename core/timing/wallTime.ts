/**
 * Clock times on the wall of a place, as people plan with them, and the instants they stand for. Rules of time
 * zones come from the runtime's own copy of the IANA database.
 */
import { tzOffset } from '@date-fns/tz';

const MINUTE_MS = 60_000;
const DAY_MS = 24 * 60 * MINUTE_MS;
const WALL = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2})$/;

/** How a clock time stands: usual, left out by the clocks going forward, or there twice as they go back. */
export type WallKind = 'once' | 'skipped' | 'twice';

export interface WallInstant {
  /** ms since 1970 (UTC). Of two the later one; of a skipped time the same distance after the change. */
  atMs: number;
  kind: WallKind;
}

/** Whether the runtime knows a time zone by its IANA name. */
export function isTimeZone(zone: string): boolean {
  return zone !== '' && !Number.isNaN(tzOffset(zone, new Date(0)));
}

/**
 * The instant of a clock time in a time zone.
 * @param wall `YYYY-MM-DDTHH:MM`
 * @param zone IANA name, for example Europe/Lisbon
 * @returns null for what is no clock time, or no zone
 */
export function instantOf(wall: string, zone: string): WallInstant | null {
  const parts = WALL.exec(wall)?.slice(1).map(Number);
  if (!parts) return null;
  const [year, month, day, hour, minute] = parts as [number, number, number, number, number];
  const asUtc = Date.UTC(year, month - 1, day, hour, minute);
  const back = new Date(asUtc);
  if (hour > 23 || minute > 59 || back.getUTCDate() !== day || back.getUTCMonth() !== month - 1) return null;
  // The offsets before and after any change near by; more than one change in two days does not happen.
  const before = offsetMs(zone, asUtc - DAY_MS);
  const after = offsetMs(zone, asUtc + DAY_MS);
  if (Number.isNaN(before) || Number.isNaN(after)) return null;
  const fitting = [...new Set([before, after])]
    .filter(offset => offsetMs(zone, asUtc - offset) === offset)
    .map(offset => asUtc - offset);
  if (fitting.length === 0) return { atMs: asUtc - before, kind: 'skipped' };
  return { atMs: Math.max(...fitting), kind: fitting.length > 1 ? 'twice' : 'once' };
}

/** The clock time of an instant in a zone, as `YYYY-MM-DDTHH:MM`. */
export function wallOf(atMs: number, zone: string): string {
  return new Date(atMs + offsetMs(zone, atMs)).toISOString().slice(0, 16);
}

/** The day of an instant in a zone, as `YYYY-MM-DD`. */
export function dayOf(atMs: number, zone: string): string {
  return wallOf(atMs, zone).slice(0, 10);
}

/** Moves an instant by whole days on the wall: the clock time stays, also across a change of the clocks. */
export function movedByDays(atMs: number, days: number, zone: string): number {
  const wall = wallOf(atMs, zone);
  return instantOf(`${addDays(wall.slice(0, 10), days)}T${wall.slice(11)}`, zone)!.atMs;
}

/** A calendar day some days later (earlier when negative); days as `YYYY-MM-DD`. */
export function addDays(day: string, days: number): string {
  return new Date(Date.parse(`${day}T00:00Z`) + days * DAY_MS).toISOString().slice(0, 10);
}

/** Days from one calendar day to another. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(`${to}T00:00Z`) - Date.parse(`${from}T00:00Z`)) / DAY_MS);
}

function offsetMs(zone: string, atMs: number): number {
  return tzOffset(zone, new Date(atMs)) * MINUTE_MS;
}
