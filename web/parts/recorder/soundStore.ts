/**
 * What this device keeps of each recording until the server has all of it: every second goes here before it
 * goes to the network. One IndexedDB database for all people of this browser; each sees their own only.
 */
import type { Ink } from '@ecoute/core/takes/ink';
import type { Place } from '@ecoute/contract/discussions';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

export interface KeptSound {
  id: string;
  personId: string;
  mediaType: string;
  /**
   * How the server is told of it before bytes come; null for what is laid aside, and in a rehearsal, whose sounds are neither kept
   * nor sent.
   */
  announce: { url: string; body: object } | null;
  /** Laid aside under this name: kept on this device until its speaker says that it goes, or throws it away. */
  aside?: string;
  /** Where it belongs, to find it again after a reload. */
  place: {
    sittingId?: string;
    itemId?: string;
    assessmentId?: string;
    notesOf?: string;
    /** Something said in a discussion, and where in it. */
    discussion?: { releaseId: string; place: Place };
  };
  beganAt: string;
  /** True once no more pieces will come. */
  ended: boolean;
  /** Why the server did not take it the last time; it is asked again with each visit. */
  refusal: string | null;
  /** Pieces are missing here, for the device had no room: what the server has may be more. */
  holes?: boolean;
  /** Its person let go of it; the server is still to be told. */
  letGo?: boolean;
  /** What was drawn while it was recorded: goes with it. */
  sheet?: Ink | null;
  /** Taken up from an earlier page; never kept as such. */
  isLeft?: boolean;
}

interface Schema extends DBSchema {
  sounds: { key: string; value: KeptSound; indexes: { person: string } };
  pieces: { key: [string, number]; value: { soundId: string; index: number; data: ArrayBuffer } };
}

let opened: Promise<IDBPDatabase<Schema>> | null = null;

function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('ecoute', 1, {
    upgrade(db) {
      db.createObjectStore('sounds', { keyPath: 'id' }).createIndex('person', 'personId');
      db.createObjectStore('pieces', { keyPath: ['soundId', 'index'] });
    },
    terminated: () => (opened = null),
  });
  return opened;
}

export async function keepSound(sound: KeptSound): Promise<void> {
  await (await database()).put('sounds', sound);
}

export async function changeSound(id: string, change: Partial<KeptSound>): Promise<void> {
  const tx = (await database()).transaction('sounds', 'readwrite');
  const sound = await tx.store.get(id);
  if (sound) await tx.store.put({ ...sound, ...change });
  await tx.done;
}

/** Resolves when the piece is on the disk. */
export async function keepPiece(soundId: string, index: number, data: ArrayBuffer): Promise<void> {
  await (await database()).put('pieces', { soundId, index, data }, undefined);
}

/** What is kept of a sound, up to the first piece that is missing. */
export async function piecesOf(soundId: string): Promise<ArrayBuffer[]> {
  const range = IDBKeyRange.bound([soundId, 0], [soundId, Number.MAX_SAFE_INTEGER]);
  const all = await (await database()).getAll('pieces', range);
  const gap = all.findIndex((p, n) => p.index !== n);
  return (gap < 0 ? all : all.slice(0, gap)).map(p => p.data);
}

export async function soundsOf(personId: string): Promise<KeptSound[]> {
  return (await database()).getAllFromIndex('sounds', 'person', personId);
}

/** Lets go of a sound; only when the server holds the same bytes, or its person throws it away. */
export async function dropSound(id: string): Promise<void> {
  const tx = (await database()).transaction(['sounds', 'pieces'], 'readwrite');
  await tx.objectStore('pieces').delete(IDBKeyRange.bound([id, 0], [id, Number.MAX_SAFE_INTEGER]));
  await tx.objectStore('sounds').delete(id);
  await tx.done;
}
