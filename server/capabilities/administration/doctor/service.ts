import { createHash } from 'node:crypto';
import { mkdir, readdir, rename, stat, statfs } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { GIVEN_UP_MS, QUIET_MS } from '@ecoute/core/takes/fate';
import { inWords } from '@ecoute/core/timing/words';
import type { Pool } from '../../../platform/database';
import type { FileStore } from '../../../platform/files';
import type { JobQueue } from '../../../platform/jobs/queue';
import { givenUpJobs, jobCounts, longestWaitMs, tryAgain } from '../../../platform/jobs/store';
import type { Mailer } from '../../../platform/mail/mailer';
import { heardFrom, original, pageOf, playable, shown } from '../../recordings/files';
import type { Recordings } from '../../recordings/service';
import { filesToRemove, recordingsArriving } from '../../recordings/store';
import { NOTED, putRight, wrongSums } from '../sums.store';
import * as store from './store';

/** Something that is not as it should be. */
export interface Finding {
  /** What is so, in words. */
  words: string;
  /** What mends it; null where a person must, and `words` says how. */
  mend: (() => Promise<string>) | null;
}

export interface Checked {
  name: string;
  /** What was looked at, in words. */
  looked: string;
  findings: Finding[];
}

/** What the doctor looks at, and with what. */
export interface Patient {
  pool: Pool;
  files: FileStore;
  jobs: JobQueue;
  mailer: Mailer;
  recordings: Recordings;
  dataDir: string;
}

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const PAGE = 1_000;
const GB = 1024 ** 3;
/** Less free room than this, and recordings of a class may not fit any more. */
const LEAST_FREE = 2 * GB;
/** Jobs that wait longer than this say that nobody does them. */
const LONG_WAIT_MS = 15 * 60_000;
const CLOCK_MS = 2 * 60_000;

const size = (bytes: number) =>
  bytes >= GB ? `${(bytes / GB).toFixed(1)} GB` : `${Math.ceil(bytes / 1024 ** 2)} MB`;
const many = (n: number, one: string, more = `${one}s`) => `${n} ${n === 1 ? one : more}`;

async function database({ pool }: Patient): Promise<Checked> {
  const broken = await store.brokenTables(pool);
  return {
    name: 'database',
    looked: 'every table was read',
    findings: broken.map(words => ({
      words: `The table ${words}. Stop Ecoute, keep a copy of its data folder, and bring back the last good copy.`,
      mend: null,
    })),
  };
}

async function clock({ pool }: Patient): Promise<Checked> {
  const { now, newest } = await store.clocks(pool);
  const findings: Finding[] = [];
  const apart = Math.abs(now.getTime() - Date.now());
  if (apart > CLOCK_MS)
    findings.push({
      words: `The database’s clock and this machine’s are ${Math.round(apart / 60_000)} min apart. Set this machine’s clock by a time server.`,
      mend: null,
    });
  if (newest && newest.getTime() > now.getTime() + CLOCK_MS)
    findings.push({
      words: `The newest moment that is written down, ${newest.toISOString()}, is still to come. The clock was put back; set it by a time server, as due times hold by it.`,
      mend: null,
    });
  return { name: 'clock', looked: now.toISOString(), findings };
}

async function disk({ dataDir }: Patient): Promise<Checked> {
  const room = await statfs(dataDir);
  const free = room.bavail * room.bsize;
  return {
    name: 'disk',
    looked: `${size(free)} free of ${size(room.blocks * room.bsize)}`,
    findings:
      free >= LEAST_FREE
        ? []
        : [
            {
              words: `Only ${size(free)} are free. Make room: until then, what is recorded may have to wait on its devices.`,
              mend: null,
            },
          ],
  };
}

async function mail({ mailer }: Patient): Promise<Checked> {
  if (!mailer.isSetUp)
    return { name: 'mail', looked: 'not set up (ECOUTE_SMTP_URL); nobody is written to', findings: [] };
  const why = await mailer.whyNot();
  return {
    name: 'mail',
    looked: 'the mail server was asked',
    findings: why
      ? [
          {
            words: `The mail server does not take mail: ${why}. Look at ECOUTE_SMTP_URL; what waits is tried for a day.`,
            mend: null,
          },
        ]
      : [],
  };
}

async function jobsOf({ pool }: Patient): Promise<Checked> {
  const [counts, failed, waits] = [await jobCounts(pool), await givenUpJobs(pool), await longestWaitMs(pool)];
  const findings: Finding[] = failed.map(job => ({
    words: `Job ${job.id} (${job.kind}) was given up after ${many(job.failures, 'try', 'tries')}: ${job.error.split('\n')[0]!.slice(0, 160)}`,
    mend: async () => {
      await tryAgain(pool, job.id);
      return 'it is tried again';
    },
  }));
  if (waits > LONG_WAIT_MS)
    findings.push({
      words: `A job has waited for ${Math.round(waits / 60_000)} min. Is Ecoute running? It does what waits as soon as it is started.`,
      mend: null,
    });
  return {
    name: 'jobs',
    looked: `${counts.waiting ?? 0} wait, ${counts.running ?? 0} under way, ${failed.length} given up`,
    findings,
  };
}

async function takes({ pool, recordings, jobs }: Patient): Promise<Checked> {
  const arriving = await recordingsArriving(pool);
  const came = await recordings.cameOf(arriving);
  const handedIn = new Set((await store.unsettledHandedIn(pool)).map(t => t.id));
  const findings: Finding[] = [];
  for (const { id, purpose, createdAt } of arriving) {
    const { bytes = 0, lastAt = null, length = null } = came.get(id) ?? {};
    const quietMs = Date.now() - (lastAt ?? createdAt).getTime();
    if (bytes > 0 && bytes === length) {
      findings.push({
        words: `All bytes of ${purpose} ${id} are here, and nobody noticed.`,
        mend: async () => {
          await jobs.sweep();
          return 'it is looked at';
        },
      });
    } else if (quietMs > HOUR_MS || (handedIn.has(id) && quietMs > QUIET_MS)) {
      // Before its time the rest may still come from where it was recorded; after it, the next sweep would do the same.
      const isOver = handedIn.has(id) || quietMs > GIVEN_UP_MS;
      const since = inWords(quietMs);
      findings.push({
        words: `Nothing has come of ${purpose} ${id} for ${since}; ${many(bytes, 'byte')} are here${handedIn.has(id) ? ', and its sitting was handed in' : ''}.${isOver ? '' : ' Its device may still bring the rest; after a day it ends automatically.'}`,
        mend: !isOver
          ? null
          : async () => {
              const became = await recordings.endAsItCame(id);
              return became === 'lookedAt'
                ? 'it ends as far as it came; its device may still bring the rest before the hand-in'
                : 'it counts as lost, and its student may record again; its device may still bring it before the hand-in';
            },
      });
    }
  }
  const { stranded, mend } = await recordings.stranded();
  for (const words of stranded)
    findings.push({
      words,
      mend: async () => {
        await mend();
        return 'a job is made for it';
      },
    });
  return { name: 'takes', looked: `${many(arriving.length, 'recording')} on the way`, findings };
}

async function sha256(files: FileStore, key: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(files.open(key), hash);
  return hash.digest('hex');
}

/** Rows without files, and files that are not what was confirmed. @param told how far it is */
async function rowsOf({ pool, files, jobs }: Patient, told: (words: string) => void): Promise<Checked> {
  const findings: Finding[] = [];
  let looked = 0;
  const fromCopy = 'Bring its file back from a copy of the data folder.';
  for (let after: string | null = null; ;) {
    const page: store.KeptRow[] = await store.keptAfter(pool, after, PAGE);
    if (page.length === 0) break;
    for (const kept of page) {
      const what = `${kept.purpose} ${kept.id}`;
      const bytes = await files.size(original(kept.id));
      if (bytes === null) findings.push({ words: `The file of ${what} is missing. ${fromCopy}`, mend: null });
      else if (kept.sizeBytes !== null && bytes !== kept.sizeBytes)
        findings.push({
          words: `The file of ${what} has ${bytes} bytes instead of ${kept.sizeBytes}. ${fromCopy}`,
          mend: null,
        });
      else if (kept.sha256 && (await sha256(files, original(kept.id))) !== kept.sha256)
        findings.push({
          words: `The file of ${what} is not the one whose checksum was confirmed. ${fromCopy}`,
          mend: null,
        });
      if (kept.trimFromMs !== null && (await files.size(heardFrom(kept))) === null)
        findings.push({
          words: `What its student kept of ${what} is missing; the whole is there. ${fromCopy}`,
          mend: null,
        });
      if (kept.playableAt && (await files.size(playable(kept.id))) === null)
        findings.push({
          words: `The copy of ${what} that plays everywhere is missing.`,
          mend: async () => {
            await store.forgetPlayable(pool, kept.id);
            const who = { subjectId: kept.id, ownerId: kept.ownerId };
            await jobs.ensure(pool, 'makePlayable', { id: kept.id }, who);
            return 'it is made again';
          },
        });
      if (
        kept.state === 'stored' &&
        kept.medium === 'pages' &&
        (await files.size(pageOf(kept.id, 1))) === null
      )
        findings.push({ words: `The pages of ${what} are missing. ${fromCopy}`, mend: null });
      if (kept.state === 'stored' && kept.medium === 'picture' && (await files.size(shown(kept.id))) === null)
        findings.push({ words: `The picture of ${what} that is shown is missing. ${fromCopy}`, mend: null });
      looked += 1;
    }
    told(`${looked} recordings looked at`);
    after = page.at(-1)!.id;
  }
  return { name: 'rows', looked: `${many(looked, 'recording')}, each with its checksum`, findings };
}

/** What is shown of room and people at once is added up as it changes; here it is held against what is there. */
async function sums({ pool }: Patient): Promise<Checked> {
  const findings: Finding[] = [];
  for (const noted of NOTED) {
    const wrong = await wrongSums(pool, noted);
    const of = noted === 'people_changes' ? 'people' : 'room';
    if (wrong > 0)
      findings.push({
        words: `${many(wrong, 'kept sum')} of ${of} ${wrong === 1 ? 'differs' : 'differ'} from what is there.`,
        mend: async () => {
          await putRight(pool, noted);
          return 'it was counted anew';
        },
      });
  }
  return { name: 'sums', looked: 'room and people were counted', findings };
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}/;
const FOLDERS = ['originals', 'playable', 'trimmed', 'peaks', 'measures', 'shown', 'pages'];

/** Files without rows: left behind by a crash, or by rows that are gone. They are moved aside, not removed. */
async function filesOf({ pool, files, dataDir }: Patient): Promise<Checked> {
  const findings: Finding[] = [];
  const going = new Set(await filesToRemove(pool, 1_000_000));
  let looked = 0;
  for (const folder of FOLDERS) {
    const names = await readdir(files.localPath(folder)).catch(() => []);
    for (let from = 0; from < names.length; from += PAGE) {
      const some = names.slice(from, from + PAGE);
      const ids = some.map(n => UUID.exec(n)?.[0]).filter(id => id !== undefined);
      const known = ids.length > 0 ? await store.knownOf(pool, ids) : new Set<string>();
      for (const name of some) {
        looked += 1;
        const key = `${folder}/${name}`;
        const id = UUID.exec(name)?.[0];
        const half = name.endsWith('.part');
        if ((id && known.has(id) && !half) || going.has(key)) continue;
        const there = await stat(files.localPath(key)).catch(() => null);
        // What is being written just now has its row in a moment.
        if (!there || Date.now() - there.mtimeMs < (half ? DAY_MS : HOUR_MS)) continue;
        findings.push({
          words: `The file ${key} (${size(there.size)}) belongs to nothing that is kept.`,
          mend: async () => {
            const aside = join(dataDir, 'set-aside', folder, basename(name));
            await mkdir(dirname(aside), { recursive: true, mode: 0o700 });
            await rename(files.localPath(key), aside);
            return `it was moved to ${aside}; remove it there when nobody misses it`;
          },
        });
      }
    }
  }
  return { name: 'files', looked: many(looked, 'file'), findings };
}

/**
 * Looks at an Ecoute from below: database, sums, clock, disk, mail, jobs, takes, rows and files.
 * @param mends true mends what can be mended without losing anything
 * @param say called with a line of the report; `told` with how far a long look is
 * @returns how many findings there were, and how many are left
 */
export async function examine(
  patient: Patient,
  mends: boolean,
  say: (line: string) => void,
  told: (words: string) => void = () => undefined,
): Promise<{ found: number; left: number }> {
  let [found, left] = [0, 0];
  const looks: ((of: Patient) => Promise<Checked>)[] = [
    database,
    sums,
    clock,
    disk,
    mail,
    jobsOf,
    takes,
    of => rowsOf(of, told),
    filesOf,
  ];
  for (const look of looks) {
    const { name, looked, findings } = await look(patient);
    say(`${name.padEnd(10)}${findings.length === 0 ? 'good' : many(findings.length, 'finding')}: ${looked}`);
    for (const { words, mend } of findings) {
      found += 1;
      say(`  · ${words}`);
      if (mend && mends)
        try {
          say(`    mended: ${await mend()}`);
          continue;
        } catch (error) {
          say(`    could not be mended: ${(error as Error).message}`);
        }
      else if (mend) say('    ./ecoute doctor --mend mends it');
      left += 1;
    }
  }
  return { found, left };
}
