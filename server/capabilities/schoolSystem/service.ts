import { createHash, randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import type { Gradebook } from '@ecoute/core/formats/gradebook';
import {
  changesBetween,
  recordsOf,
  resultWords,
  written,
  type GradebookRecord,
  type RecordChange,
} from '@ecoute/core/formats/gradebookService';
import { whoIsWho } from '@ecoute/core/formats/whoIsWho';
import type { Me } from '@ecoute/contract/people';
import type {
  ClassAtSchool,
  ClassMatches,
  HandingView,
  HandOverDifference,
  HandOverLine,
  SaveSchoolMatches,
  SaveSchoolSystem,
  SchoolClassChoice,
  SchoolSystemView,
  SchoolTried,
} from '@ecoute/contract/schoolSystem';
import { teachesClass } from '../../platform/access/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { addressOf } from '../../platform/mail/mailer';
import { invalid, notFound, Trouble } from '../../platform/trouble';
import { gradebookOf } from '../exports/gradebook';
import { findPerson } from '../people/store';
import { markbookOf } from '../results/markbook';
import { SchoolClient, SchoolError, type SchoolAddress } from './client';
import { lock, unlock } from './secret';
import * as store from './store';

/** So many assessments of a class are handed over. */
const MOST_RELEASES = 2_000;
const HANDINGS_SHOWN = 20;
const TROUBLES_SHOWN = 100;
/** What is to be sent is asked again after so many steps: what was taken back meanwhile is not sent. */
const STEPS_TOGETHER = 20;
/** Waits before one step is tried again, in ms; after the last it stops, and a person goes on with it. */
const WAITS_MS = [500, 1_000, 2_000, 4_000, 8_000];

const WAITING_ROOM =
  'Nothing is lost, and nothing is there twice: go on with it when the school’s system is there again.';

/** Handing scores over to the school's own system. */
export class SchoolHandOver {
  /**
   * @param key locks the secret of the school's system
   * @param simulated where the demo's simulated system is, for as long as nobody has set up another; null outside the demo
   * @param waitsMs see above
   */
  constructor(
    private readonly pool: Pool,
    private readonly jobs: JobQueue,
    private readonly key: string,
    private readonly simulated: SchoolAddress | null,
    private readonly waitsMs: readonly number[] = WAITS_MS,
  ) {
    jobs.on('handOver', ({ id }: { id: string }) => this.run(id), {
      tries: 3,
      givenUp: async ({ id }: { id: string }) => {
        await store.moveHanding(
          this.pool,
          id,
          ['waiting', 'running'],
          'stopped',
          `It stopped by a mistake of ours. ${WAITING_ROOM}`,
        );
      },
    });
  }

  // — Where the school's system is: an administrator's

  async system(): Promise<SchoolSystemView> {
    const kept = await store.findSystem(this.pool);
    if (kept) {
      const { baseUrl, tokenUrl, clientId, changedAt } = kept;
      return {
        system: { baseUrl, tokenUrl, clientId, changedAt: changedAt.toISOString() },
        isSimulated: false,
      };
    }
    if (!this.simulated) return { system: null, isSimulated: false };
    const { baseUrl, tokenUrl, clientId } = this.simulated;
    return { system: { baseUrl, tokenUrl, clientId, changedAt: null }, isSimulated: true };
  }

  /** Another system knows nothing of what was handed over to the one before. @throws Trouble invalid without a secret */
  async keepSystem(by: Me, wanted: SaveSchoolSystem): Promise<SchoolSystemView> {
    await transaction(this.pool, async db => {
      const before = await store.findSystem(db);
      const isSame = before?.baseUrl === wanted.baseUrl && before.tokenUrl === wanted.tokenUrl;
      // A secret goes to nobody but whom it was typed for.
      if (!wanted.secret && !isSame)
        throw invalid('secret', 'Type the secret that the school’s system gave with the client id.');
      const { baseUrl, tokenUrl, clientId } = wanted;
      await store.keepSystem(db, {
        baseUrl,
        tokenUrl,
        clientId,
        secret: wanted.secret ? lock(wanted.secret, this.key) : before!.secret,
        changedBy: by.id,
      });
      if (before?.baseUrl !== baseUrl) await store.forgetRecords(db);
    });
    return this.system();
  }

  async removeSystem(): Promise<SchoolSystemView> {
    await transaction(this.pool, async db => {
      await store.removeSystem(db);
      await store.forgetRecords(db);
    });
    return this.system();
  }

  /** Whether it lets Ecoute in, and what it shows. @throws Trouble schoolAway */
  async tryIt(): Promise<SchoolTried> {
    const found = await this.asked(client => client.classes());
    return { count: found.length, classes: found.slice(0, 5).map(c => c.title) };
  }

  // — Which class, and who is who: its teachers'

  async ofClass(classId: string): Promise<ClassAtSchool> {
    const { system, isSimulated } = await this.system();
    const linked = await store.linkedClass(this.pool, classId);
    const matched = new Set((await store.matchesOf(this.pool, classId)).map(m => m.personId));
    const students = linked ? await store.studentsOf(this.pool, classId) : [];
    const handings = await store.handingsOf(this.pool, classId, HANDINGS_SHOWN);
    return {
      isSetUp: system !== null,
      isSimulated,
      linked,
      matched: students.filter(s => matched.has(s.id)).length,
      unmatched: students.filter(s => !matched.has(s.id)).map(s => s.displayName),
      handings: await Promise.all(handings.map(h => this.handingView(h))),
    };
  }

  /**
   * Classes that this teacher teaches at the school, too: nobody writes into another's.
   * @throws Trouble schoolAway; notAllowed for somebody whom the school's system does not know as a teacher
   */
  async classes(teacher: Me): Promise<SchoolClassChoice[]> {
    const person = await findPerson(this.pool, teacher.id);
    const email = person && addressOf(person);
    const externalId = await store.externalIdOf(this.pool, teacher.id);
    const found = await this.asked(client => client.classesTaughtBy({ externalId, email }));
    if (!found)
      throw new Trouble(
        'notAllowed',
        `The school’s system knows no teacher with ${email ? `the address ${email}` : 'an address of yours'}. Whoever looks after accounts here, or there, puts it right.`,
      );
    return found;
  }

  /** @throws Trouble notFound for a class that they do not teach there; inUse for one that another class is */
  async link(teacher: Me, classId: string, sourcedId: string): Promise<ClassMatches> {
    const chosen = (await this.classes(teacher)).find(c => c.sourcedId === sourcedId);
    if (!chosen) throw notFound();
    await transaction(this.pool, async db => {
      const taken = await store.classLinkedWith(db, sourcedId);
      if (taken !== null && taken !== classId)
        throw new Trouble(
          'inUse',
          `“${chosen.title}” is matched with another class here already. Choose another.`,
        );
      const before = await store.linkedClass(db, classId, true);
      if (before?.sourcedId === sourcedId) return;
      if (await store.isUnderWay(db, classId)) throw underWay();
      await store.linkClass(db, { classId, ...chosen });
      await store.replaceMatches(db, classId, []);
    });
    return this.matches(classId);
  }

  /** Who is who: what was kept, and for everybody else who it seems to be. @throws Trouble notLinked, schoolAway */
  async matches(classId: string): Promise<ClassMatches> {
    const linked = await store.linkedClass(this.pool, classId);
    if (!linked) throw notLinked();
    const school = await this.asked(client => client.students(linked.sourcedId));
    const kept = new Map((await store.matchesOf(this.pool, classId)).map(m => [m.personId, m.sourcedId]));
    const own = await store.studentsOf(this.pool, classId);
    const found = whoIsWho(
      own.map(s => ({ ...s, name: s.displayName })),
      school,
      kept,
    );
    const students = own.map(({ id, displayName }) => ({
      personId: id,
      displayName,
      sourcedId: found.get(id)?.sourcedId ?? null,
      isProposed: found.get(id)?.isProposed ?? false,
    }));
    return { students, school: school.map(({ sourcedId, name }) => ({ sourcedId, name })) };
  }

  /** @throws Trouble invalid for one of the school's for two of ours; notFound for somebody who is not there */
  async keepMatches(classId: string, { matches }: SaveSchoolMatches): Promise<ClassAtSchool> {
    const linked = await store.linkedClass(this.pool, classId);
    if (!linked) throw notLinked();
    const school = new Map(
      (await this.asked(client => client.students(linked.sourcedId))).map(s => [s.sourcedId, s.name]),
    );
    const wanted = matches.flatMap(m => (m.sourcedId ? [{ ...m, sourcedId: m.sourcedId }] : []));
    if (new Set(wanted.map(m => m.sourcedId)).size !== wanted.length)
      throw invalid(
        'matches',
        'One of the school’s students is chosen twice. Choose another for one of the two.',
      );
    if (wanted.some(m => !school.has(m.sourcedId))) throw notFound();
    await transaction(this.pool, async db => {
      const now = await store.linkedClass(db, classId, true);
      if (now?.sourcedId !== linked.sourcedId) throw notLinked();
      if (await store.isUnderWay(db, classId)) throw underWay();
      const own = new Set((await store.studentsOf(db, classId)).map(s => s.id));
      if (wanted.some(m => !own.has(m.personId))) throw notFound();
      // Who left stays who they were: what the school has of them is not taken away unasked.
      const chosen = new Set(wanted.map(m => m.sourcedId));
      const left = (await store.matchesOf(db, classId)).filter(
        m => !own.has(m.personId) && !chosen.has(m.sourcedId),
      );
      await store.replaceMatches(db, classId, [
        ...left,
        ...wanted.map(m => ({ ...m, name: school.get(m.sourcedId)! })),
      ]);
    });
    return this.ofClass(classId);
  }

  // — Handing over

  /** What would be sent now. @throws Trouble notLinked */
  async difference(teacher: Me, classId: string): Promise<HandOverDifference> {
    const { book, changes, left } = await this.looked(teacher, classId);
    const items = new Map(book.lineItems.map(l => [l.id, l]));
    const names = new Map((await store.matchesOf(this.pool, classId)).map(m => [m.sourcedId, m.name]));
    const groups = new Map<string, HandOverDifference['groups'][number]>();
    for (const change of changes) {
      const id = groupOf(change);
      const item = items.get(id);
      const group = groups.get(id) ?? {
        id,
        title: item?.title ?? (change.kind === 'category' ? 'Kinds of work' : 'No longer in the markbook'),
        dueAt: item?.dueAt.toISOString() ?? null,
        lines: [],
      };
      group.lines.push(lineOf(change, names));
      groups.set(id, group);
    }
    return { digest: digestOf(changes), groups: [...groups.values()], total: changes.length, left };
  }

  /**
   * Hands over what was looked at.
   * @throws Trouble stale where something else would be sent by now; busy while another is under way
   */
  async begin(teacher: Me, classId: string, digest: string): Promise<HandingView> {
    const { changes } = await this.looked(teacher, classId);
    if (digestOf(changes) !== digest)
      throw new Trouble('stale', 'Something changed since you looked. Look at it again, then hand it over.');
    if (changes.length === 0)
      throw new Trouble('nothingToKeep', 'The school’s system has all of it already.');
    const id = randomUUID();
    await transaction(this.pool, async db => {
      if (!(await store.linkedClass(db, classId, true))) throw notLinked();
      if (await store.isUnderWay(db, classId)) throw underWay();
      await store.insertHanding(db, { id, classId, byId: teacher.id });
      await store.insertSteps(db, id, changes);
      await this.queue(db, id, teacher.id);
    });
    return this.handing(classId, id);
  }

  async handing(classId: string, id: string): Promise<HandingView> {
    return this.handingView(await this.found(classId, id));
  }

  /** What was not sent yet is not sent. */
  async cancel(classId: string, id: string): Promise<HandingView> {
    await this.found(classId, id);
    await store.moveHanding(this.pool, id, ['waiting', 'running', 'stopped'], 'cancelled');
    return this.handing(classId, id);
  }

  /** Goes on with one that stopped. @throws Trouble busy while another is under way */
  async goOn(teacher: Me, classId: string, id: string): Promise<HandingView> {
    await this.found(classId, id);
    await transaction(this.pool, async db => {
      if (!(await store.linkedClass(db, classId, true))) throw notLinked();
      if (await store.isUnderWay(db, classId)) throw underWay();
      if (await store.moveHanding(db, id, ['stopped'], 'waiting')) await this.queue(db, id, teacher.id);
    });
    return this.handing(classId, id);
  }

  private queue(db: Queryable, id: string, ownerId: string): Promise<void> {
    return this.jobs.add(db, 'handOver', { id }, { subjectId: id, ownerId, urgent: true });
  }

  /** Job: sends what waits, in its order. After a crash it goes on: putting something twice changes nothing. */
  private async run(id: string): Promise<void> {
    if (!(await store.moveHanding(this.pool, id, ['waiting', 'running'], 'running'))) return;
    const { classId, byId } = (await store.findHanding(this.pool, id))!;
    const stop = (problem: string) => store.moveHanding(this.pool, id, ['running'], 'stopped', problem);
    const teacher: Me = { id: byId, displayName: '', role: 'teacher' };
    let client: SchoolClient;
    try {
      client = await this.client();
    } catch (error) {
      if (!(error instanceof Trouble)) throw error;
      return void (await stop(error.message));
    }
    for (;;) {
      const steps = await store.waitingSteps(this.pool, id, STEPS_TOGETHER);
      if (steps.length === 0) break;
      if ((await store.handingState(this.pool, id)) !== 'running') return;
      // A right is asked for where it takes effect.
      if (!(await teachesClass(this.pool, byId, classId)))
        return void (await stop(
          'Whoever began this does not teach the class any more. Cancel it, and hand over what is left.',
        ));
      const wanted = new Map(
        (await this.wanted(teacher, classId)).records.map(r => [keyOf(r), written(r.body)]),
      );
      for (const step of steps) {
        if ((await store.handingState(this.pool, id)) !== 'running') return;
        const now = wanted.get(keyOf(step));
        const isStill = step.act === 'put' ? now === written(step.body!) : now === undefined;
        if (!isStill) {
          const why = 'It changed since it was looked at, so it was not sent. Look again.';
          await store.settleStep(this.pool, id, step.place, 'withdrawn', why);
          continue;
        }
        try {
          await this.sent(client, step);
        } catch (error) {
          if (!(error instanceof SchoolError)) throw error;
          if (error.failure !== 'refused') return void (await stop(`${error.message} ${WAITING_ROOM}`));
          await store.settleStep(this.pool, id, step.place, 'refused', error.message);
          continue;
        }
        const { kind, sourcedId, body } = step;
        await transaction(this.pool, async db => {
          // Another system was named meanwhile: it has nothing of this.
          if (!(await store.linkedClass(db, classId, true))) return;
          if (body) await store.keepRecord(db, classId, { kind, sourcedId, body });
          else await store.removeRecord(db, classId, kind, sourcedId);
          await store.settleStep(db, id, step.place, 'taken');
        });
      }
    }
    await store.moveHanding(this.pool, id, ['running'], 'done');
  }

  /** @throws SchoolError once it was tried often enough */
  private async sent(client: SchoolClient, step: store.StepRow): Promise<void> {
    const { kind, sourcedId, body } = step;
    for (let tries = 0; ; tries++)
      try {
        return await (body ? client.put({ kind, sourcedId, body }) : client.remove(kind, sourcedId));
      } catch (error) {
        const wait = this.waitsMs[tries];
        if (!(error instanceof SchoolError) || error.failure !== 'away' || wait === undefined) throw error;
        await pause(error.waitMs ?? wait);
      }
  }

  /** What a class's gradebook is now, as records; and who has results and is nobody there. */
  private async wanted(teacher: Me, classId: string) {
    const linked = await store.linkedClass(this.pool, classId);
    if (!linked) throw notLinked();
    const matches = await store.matchesOf(this.pool, classId);
    const students = new Map(matches.map(m => [m.personId, m.sourcedId]));
    const book = await markbookOf(this.pool, teacher, classId, { from: null, to: null }, MOST_RELEASES);
    const whole = await gradebookOf(this.pool, book, { classId: linked.sourcedId, students });
    // An assessment of which nothing is told yet is not told of either.
    const told = new Set(whole.results.map(r => r.lineItemId));
    const lineItems = whole.lineItems.filter(l => told.has(l.id));
    const kinds = new Set(lineItems.map(l => l.categoryId));
    const kept: Gradebook = {
      ...whole,
      lineItems,
      categories: whole.categories.filter(c => kinds.has(c.id)),
    };
    const left = book.students.filter(
      (s, n) => !students.has(s.id) && book.cells[n]!.some(c => c?.sittingId),
    );
    return { book: kept, records: recordsOf(kept), left: left.map(s => s.displayName) };
  }

  private async looked(teacher: Me, classId: string) {
    const { book, records, left } = await this.wanted(teacher, classId);
    const changes = changesBetween(records, await store.recordsOf(this.pool, classId));
    return { book, changes, left };
  }

  private async found(classId: string, id: string): Promise<store.HandingRow> {
    const found = await store.findHanding(this.pool, id);
    if (found?.classId !== classId) throw notFound();
    return found;
  }

  private async handingView(h: store.HandingRow): Promise<HandingView> {
    const hasTroubles = h.refused + h.withdrawn > 0;
    const troubles = hasTroubles ? await store.troubledSteps(this.pool, h.id, TROUBLES_SHOWN) : [];
    const names = new Map(
      hasTroubles ? (await store.matchesOf(this.pool, h.classId)).map(m => [m.sourcedId, m.name]) : [],
    );
    return {
      id: h.id,
      byName: h.byName,
      state: h.state,
      problem: h.problem,
      madeAt: h.madeAt.toISOString(),
      endedAt: h.endedAt?.toISOString() ?? null,
      total: Number(h.total),
      taken: Number(h.taken),
      refused: Number(h.refused),
      withdrawn: Number(h.withdrawn),
      troubles: troubles.map(s => {
        const { what, now } = lineOf(s, names);
        return { what: [what, now].filter(Boolean).join(': '), why: s.problem ?? '' };
      }),
    };
  }

  /** @throws Trouble schoolAway in words for whoever asked */
  private async asked<T>(ask: (client: SchoolClient) => Promise<T>): Promise<T> {
    try {
      return await ask(await this.client());
    } catch (error) {
      if (error instanceof SchoolError) throw new Trouble('schoolAway', error.message);
      throw error;
    }
  }

  /** @throws Trouble schoolAway where nobody has set one up */
  private async client(): Promise<SchoolClient> {
    const kept = await store.findSystem(this.pool);
    if (!kept && this.simulated) return new SchoolClient(this.simulated);
    const secret = kept && unlock(kept.secret, this.key);
    if (!kept || secret === null)
      throw new Trouble(
        'schoolAway',
        kept
          ? 'The secret of the school’s system cannot be read any more. An administrator types it again.'
          : 'Nobody has told this Ecoute where the school’s system is. An administrator does, under Administration.',
      );
    return new SchoolClient({ ...kept, secret });
  }
}

const keyOf = (r: Pick<GradebookRecord, 'kind' | 'sourcedId'>) => `${r.kind} ${r.sourcedId}`;

/** The same for the same changes, in the same order. */
function digestOf(changes: readonly RecordChange[]): string {
  const lines = changes.map(c => [c.act, keyOf(c), c.body && written(c.body)]);
  return createHash('sha256').update(JSON.stringify(lines)).digest('hex');
}

type Changed = Pick<RecordChange, 'act' | 'kind' | 'body' | 'before'>;

const idIn = (body: Changed['body'], name: string): string => {
  const value = body?.[name];
  return typeof value === 'object' ? value.sourcedId : '';
};

/** The line item that a change belongs to; empty for a category. */
function groupOf({ kind, sourcedId, body, before }: RecordChange): string {
  if (kind === 'category') return '';
  return kind === 'lineItem' ? sourcedId : idIn(body ?? before, 'lineItem');
}

function lineOf({ act, kind, body, before }: Changed, names: ReadonlyMap<string, string>): HandOverLine {
  const brief = (b: Changed['body']) => {
    if (!b) return '';
    if (kind === 'result') return resultWords(b);
    if (kind === 'category') return String(b.title ?? '');
    const most = b.resultValueMax === undefined ? '' : `, up to ${String(b.resultValueMax)}`;
    return `${String(b.title ?? '')}, due ${String(b.dueDate ?? '').slice(0, 10)}${most}`;
  };
  const student = idIn(body ?? before, 'student');
  const what =
    kind === 'result'
      ? (names.get(student) ?? student)
      : kind === 'lineItem'
        ? 'The assessment'
        : String((body ?? before)?.title ?? '');
  return { act, kind, what, before: brief(before), now: brief(body) };
}

function notLinked(): Trouble {
  return new Trouble('notLinked', 'Choose first which class of the school’s system this is.');
}

function underWay(): Trouble {
  return new Trouble('busy', 'Something of this class is being handed over just now. Wait, or cancel that.');
}
