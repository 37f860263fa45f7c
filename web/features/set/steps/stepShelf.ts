/** Steps that can be taken back, on this device: a reload costs none of them. One database for all people of the browser. */
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { ownKey } from '../../../base/own';
import type { Step } from './steps';

/** Steps and what they led to: they hold for that content alone. */
export interface KeptSteps {
  steps: readonly Step[];
  content: AssessmentContent;
}

interface Schema extends DBSchema {
  steps: { key: string; value: KeptSteps & { at: number } };
}

/** What nobody came back to for so long goes. */
const LONGEST_MS = 30 * 86_400_000;

let opened: Promise<IDBPDatabase<Schema>> | null = null;

function database(): Promise<IDBPDatabase<Schema>> {
  opened ??= openDB<Schema>('ecoute-steps', 1, {
    upgrade: db => void db.createObjectStore('steps'),
    terminated: () => (opened = null),
  });
  return opened;
}

const keyOf = (assessmentId: string) => ownKey(`steps-${assessmentId}`);

/** @returns null where none are kept, or where the device keeps nothing */
export async function keptSteps(assessmentId: string): Promise<KeptSteps | null> {
  try {
    const db = await database();
    const old = Date.now() - LONGEST_MS;
    let cursor = await db.transaction('steps', 'readwrite').store.openCursor();
    while (cursor) {
      if (cursor.value.at < old) await cursor.delete();
      cursor = await cursor.continue();
    }
    return (await db.get('steps', keyOf(assessmentId))) ?? null;
  } catch {
    return null;
  }
}

/** A device that is full or forbids it keeps none; they last as long as the page then. */
export async function keepSteps(assessmentId: string, kept: KeptSteps): Promise<void> {
  try {
    await (await database()).put('steps', { ...kept, at: Date.now() }, keyOf(assessmentId));
  } catch {
    opened = null;
  }
}
