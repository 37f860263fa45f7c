import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import yazl from 'yazl';
import { oneRosterOf, type ExportedClass } from '@ecoute/core/formats/oneRoster';
import {
  columnsOf,
  LIST_FIELDS,
  rosterOfList,
  signInKey,
  signInNameFor,
  type ListField,
  type Roster,
} from '@ecoute/core/formats/roster';
import { ORDINARY, type Arrangement } from '@ecoute/core/timing/arrangements';
import { STUDENT_LANGUAGES, studentLanguage } from '@ecoute/contract/languages';
import type { ImportChoices, ImportRow, ImportView } from '@ecoute/contract/classes';
import type { Me } from '@ecoute/contract/people';
import { managesClass } from '../../platform/access/store';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { log } from '../../platform/log';
import { notFound, Trouble } from '../../platform/trouble';
import type { Worker } from '../../worker';
import { addToGroup, findClass, insertClass, setArrangement } from '../classes/store';
import { addressesOf, insertAddresses } from '../families/store';
import { insertInvitation, knownTo } from '../invitations/store';
import { joinReleases } from '../releases/participants.store';
import { planOf, type Plan, type Step } from './plan';
import * as store from './store';

const AT_ONCE = 500;
/** What a view shows of very long lists. */
const MOST_NOTED = 1_000;
const MOST_PLAIN = 200;

class Cancelled extends Error {}

/** Lists of people in and out: plain CSV and OneRoster. */
export class Rosters {
  constructor(
    private readonly pool: Pool,
    private readonly jobs: JobQueue,
    private readonly worker: Worker,
  ) {
    jobs.on('runImport', (payload: { id: string }) => this.run(payload.id));
  }

  /**
   * Reads a list and says what it would change. Nothing is changed.
   * @param classId the class it is for; null for a list that names classes itself
   * @throws Trouble invalid for what is no list
   */
  async bring(owner: Me, classId: string | null, fileName: string, bytes: Buffer): Promise<ImportView> {
    await store.forgetOld(this.pool);
    const read = await this.worker({ kind: 'readList', bytes }).catch((error: Error) => {
      throw new Trouble('invalid', error.message);
    });
    const known = classId ? await findClass(this.pool, classId) : null;
    const found = read.kind === 'list' ? columnsOf(read.rows) : { columns: [], hasHeader: true };
    const id = randomUUID();
    await store.insertImport(this.pool, {
      id,
      ownerId: owner.id,
      classId,
      fileName: fileName.slice(0, 255),
      read,
      choices: {
        columns: found.columns.map(field => ({ field })),
        hasHeader: found.hasHeader,
        sameNames: 'leaveOut',
        subject: known?.subject ?? 'language',
      },
    });
    return this.view(id);
  }

  async view(id: string): Promise<ImportView> {
    const found = await store.findImport(this.pool, id);
    if (!found) throw notFound();
    const { kind, fileName, classId, choices, state, done, total, report } = found;
    const className = classId ? ((await findClass(this.pool, classId))?.name ?? null) : null;
    const sample = found.read.kind === 'list' ? found.read.rows.slice(0, 4) : [];
    const base = { id, kind, fileName, classId, className, choices, sample, state, done, total };
    if (report) return { ...base, ...report };
    const { rows, counts } = await this.plan(this.pool, found);
    return { ...base, counts, rows: shown(rows), classes: [] };
  }

  /** Reads the same list otherwise. */
  async choose(id: string, choices: ImportChoices): Promise<ImportView> {
    const unknown = choices.columns.find(c => c.field && !LIST_FIELDS.includes(c.field as ListField));
    if (unknown) throw new Trouble('invalid', 'A column cannot hold that. Choose from the list.');
    await store.changeChoices(this.pool, id, choices);
    return this.view(id);
  }

  /** Confirms: from here on it is done, by a job, all of it or nothing. @throws Trouble alreadyDone when it was before */
  async confirm(id: string): Promise<ImportView> {
    await transaction(this.pool, async db => {
      await this.refuseOthers(db, id);
      if (!(await store.move(db, id, ['planned'], 'waiting')))
        throw new Trouble('alreadyDone', 'This list was brought in, or let go of, already.');
      await this.jobs.add(db, 'runImport', { id }, { urgent: true });
    });
    return this.view(id);
  }

  /** Whoever planned a list may still plan for its class. @throws Trouble notFound */
  private async refuseOthers(db: Queryable, id: string): Promise<void> {
    const found = await store.ownerAndClassOf(db, id);
    if (!found || (found.classId && !(await managesClass(db, found.ownerId, found.classId))))
      throw notFound();
  }

  /** Lets go of a list; one that is being brought in is taken back as a whole. */
  async cancel(id: string): Promise<ImportView> {
    await store.move(this.pool, id, ['planned', 'waiting', 'running'], 'cancelled');
    return this.view(id);
  }

  /** Job: brings a list in. A job that is run again after a crash begins anew: nothing of it stood. */
  private async run(id: string): Promise<void> {
    await store.move(this.pool, id, ['waiting'], 'running');
    const found = await store.findImport(this.pool, id);
    if (found?.state !== 'running') return;
    try {
      await transaction(this.pool, async db => {
        await this.refuseOthers(db, id);
        const plan = await this.plan(db, found);
        const classes = await this.apply(db, found, plan);
        const { counts, rows } = plan;
        // Held from here on: letting go of it comes before this, or too late.
        if (!(await store.move(db, id, ['running'], 'done'))) throw new Cancelled();
        await store.keepReport(db, id, { counts, rows: shown(rows), classes });
      });
    } catch (error) {
      if (error instanceof Cancelled) return;
      log.error({ err: error, id }, 'import');
      await store.move(this.pool, id, ['running'], 'failed');
    }
  }

  private rosterOf({ read, choices }: store.ImportRecord): Roster {
    if (read.kind === 'list')
      return rosterOfList(
        read.rows,
        {
          columns: choices.columns.map(c => c.field as ListField | null),
          hasHeader: choices.hasHeader,
        },
        STUDENT_LANGUAGES,
      );
    // One that was read by an earlier Ecoute.
    if (!('roster' in read))
      throw new Trouble('invalid', 'This list was read a while ago. Choose its file once more.');
    return read.roster;
  }

  private async plan(
    db: Queryable,
    found: store.ImportRecord,
  ): Promise<Plan & { roster: Roster; classIds: Map<string | null, string>; taught: Set<string> }> {
    const roster = this.rosterOf(found);
    const some = <T>(values: (T | null)[]) => values.filter(v => v !== null);
    const people = await store.knownPeople(db, {
      externalIds: some(roster.people.map(p => p.externalId)),
      // Whoever was added with a mail address alone signs in by it.
      signInNames: some(roster.people.flatMap(p => [p.signInName, p.email])).map(signInKey),
      emails: some(roster.people.map(p => p.email)),
    });
    const classIds = new Map<string | null, string>();
    const foreign = new Set<string>();
    if (found.classId) {
      classIds.set(null, found.classId);
      // A list for one class means that class, whatever its rows call it.
      for (const m of roster.memberships) m.classKey = null;
      roster.classes = [];
    } else {
      const own = await store.classesFor(db, found.ownerId);
      const external = await store.classesByExternalId(db, some(roster.classes.map(c => c.externalId)));
      for (const c of roster.classes) {
        const id =
          (c.externalId ? external.get(c.externalId) : undefined) ??
          own.find(o => o.name.toLowerCase() === c.name.toLowerCase() && (!c.externalId || !o.externalId))
            ?.id;
        if (!id) continue;
        // An id in a file makes nobody a teacher of what it names.
        if (own.some(o => o.id === id)) classIds.set(c.key, id);
        else foreign.add(c.key);
      }
    }
    const ids = [...classIds.values()];
    const members = await store.membersIn(db, ids);
    const taught = new Set(await store.taughtOf(db, found.ownerId, ids));
    const shared = await knownTo(
      db,
      found.ownerId,
      people.map(p => p.id),
    );
    return {
      ...planOf(roster, { people, classIds, foreign, members, taught, shared }, found.choices.sameNames),
      taught,
      roster,
      classIds,
    };
  }

  /** @returns the classes that people came to */
  private async apply(
    db: Queryable,
    found: store.ImportRecord,
    { steps, newClasses, roster, classIds, taught }: Awaited<ReturnType<Rosters['plan']>>,
  ): Promise<{ id: string; name: string }[]> {
    for (const key of newClasses) {
      const made = roster.classes.find(c => c.key === key)!;
      const id = randomUUID();
      await insertClass(db, {
        id,
        name: made.name,
        subject: found.choices.subject,
        externalId: made.externalId,
      });
      classIds.set(key, id);
      taught.add(id);
    }
    const taken = await store.allSignInNames(db);
    // What the list says itself goes before what is made up for others.
    for (const { person, known } of steps)
      if (!known && person.signInName) taken.add(signInKey(person.signInName));
    const ids = new Map<string, string>();
    const groups = new Map<string, string>();
    for (let at = 0; at < steps.length; at += AT_ONCE) {
      // Told by another connection, so that it is seen before this transaction ends.
      await store.progress(this.pool, found.id, at, steps.length);
      if ((await store.stateOf(this.pool, found.id)) !== 'running') throw new Cancelled();
      await this.applySteps(db, found, steps.slice(at, at + AT_ONCE), {
        classIds,
        taken,
        ids,
        groups,
        taught,
      });
    }
    await store.progress(this.pool, found.id, steps.length, steps.length);
    // Whoever makes classes by a list sees them, also those that others teach. Into a class that was here before it
    // makes nobody.
    const made = newClasses.map(key => classIds.get(key)!);
    const touched = [...new Set(steps.map(s => classIds.get(s.membership.classKey)!))];
    const teaching = new Set(
      steps.filter(s => s.membership.role === 'teacher').map(s => classIds.get(s.membership.classKey)!),
    );
    await store.insertMembers(
      db,
      made.map(classId => ({
        classId,
        personId: found.ownerId,
        role: teaching.has(classId) ? 'coordinator' : 'teacher',
      })),
    );
    for (const classId of touched)
      await insertChange(db, { kind: 'class', subjectId: classId, classId, personId: found.ownerId });
    const named = await Promise.all(touched.slice(0, 50).map(id => findClass(db, id)));
    return named.flatMap(c => (c ? [{ id: c.id, name: c.name }] : []));
  }

  /** Some of the steps of a list; many rows are one statement. */
  private async applySteps(
    db: Queryable,
    found: store.ImportRecord,
    steps: readonly Step[],
    made: {
      classIds: ReadonlyMap<string | null, string>;
      taken: Set<string>;
      ids: Map<string, string>;
      groups: Map<string, string>;
      taught: ReadonlySet<string>;
    },
  ): Promise<void> {
    const fresh: Parameters<typeof store.insertPeople>[1][number][] = [];
    for (const { person, known } of steps) {
      if (known) made.ids.set(person.key, known.id);
      if (made.ids.has(person.key)) continue;
      const free = (name: string | null) => name !== null && !made.taken.has(signInKey(name));
      const signInName =
        person.signInName ??
        (free(person.email) ? person.email! : signInNameFor(person.name, name => !free(name)));
      made.taken.add(signInKey(signInName));
      const { externalId, email, role, name } = person;
      fresh.push({ id: randomUUID(), displayName: name, signInName, email, externalId, role });
      made.ids.set(person.key, fresh.at(-1)!.id);
    }
    await store.insertPeople(db, fresh, found.ownerId);
    const all = steps.map(({ person, membership, asks }) => ({
      classId: made.classIds.get(membership.classKey)!,
      personId: made.ids.get(person.key)!,
      role: membership.role,
      asks,
    }));
    for (const { classId, personId, role } of all.filter(m => m.asks)) {
      await insertInvitation(db, { id: randomUUID(), classId, personId, role, madeBy: found.ownerId });
      await insertChange(db, { kind: 'todo', subjectId: null, classId: null, personId });
    }
    const members = all.filter(m => !m.asks);
    await store.insertMembers(db, members);
    for (const classId of new Set(members.map(m => m.classId)))
      await joinReleases(
        db,
        { classId },
        members.filter(m => m.classId === classId && m.role === 'student').map(m => m.personId),
      );
    const inGroups = new Map<string, string[]>();
    for (const [i, { person, membership, known }] of steps.entries()) {
      const { classId, personId, asks } = all[i]!;
      if (asks) continue;
      // Of somebody who is here already, only their teachers say what they need.
      if (person.extraTime !== null && person.extraTime > 1 && (!known || made.taught.has(classId)))
        await setArrangement(db, {
          personId,
          arrangement: { ...ORDINARY, extraTime: person.extraTime },
          by: found.ownerId,
        });
      if (person.families.length > 0 && (!known || made.taught.has(classId)))
        await insertAddresses(
          db,
          person.families.map(f => ({
            studentId: personId,
            email: f.email,
            name: '',
            language: studentLanguage(f.language),
          })),
          found.ownerId,
        );
      if (!membership.group) continue;
      const key = `${classId} ${membership.group.toLowerCase()}`;
      if (!made.groups.has(key))
        made.groups.set(key, await store.ensureGroup(db, randomUUID(), classId, membership.group));
      inGroups.set(key, [...(inGroups.get(key) ?? []), personId]);
    }
    for (const [key, personIds] of inGroups) {
      const groupId = made.groups.get(key)!;
      await addToGroup(db, groupId, key.split(' ')[0]!, personIds);
      await joinReleases(db, { groupId }, personIds);
    }
  }

  /** The list of a class as CSV, with a mark that makes spreadsheets read it as UTF-8. */
  async listOf(by: Me, classId: string): Promise<{ name: string; text: string }> {
    const teaches = (await store.taughtOf(this.pool, by.id, [classId])).length > 0;
    const people = await store.peopleOf(this.pool, [classId]);
    const found = await findClass(this.pool, classId);
    if (!found) throw notFound();
    const headings = [
      'Name',
      'Sign-in name',
      'Mail',
      'Student ID',
      'Group',
      'Extra time',
      'Family mail',
      'Family language',
    ];
    const families = teaches
      ? await addressesOf(
          this.pool,
          people.map(p => p.id),
        )
      : [];
    const rows = people
      .filter(p => p.role === 'student')
      .map(p => {
        const { extraTime } = {
          ...ORDINARY,
          ...(p.arrangement ? (JSON.parse(p.arrangement) as Arrangement) : {}),
        };
        const own = families.filter(f => f.studentId === p.id && !f.endedBy);
        const extra = extraTime === 1 || !teaches ? '' : String(extraTime);
        return [
          p.displayName,
          p.signInName,
          (teaches && p.email) || '',
          p.externalId ?? '',
          p.groups ?? '',
          extra,
          own.map(f => f.email).join('; '),
          own.map(f => f.language).join('; '),
        ];
      });
    const text = Papa.unparse([headings, ...rows], { newline: '\r\n', escapeFormulae: true });
    return { name: `${found.name}.csv`, text: `\ufeff${text}\r\n` };
  }

  /** All classes that somebody plans for, as OneRoster CSV in a ZIP. */
  async oneRoster(person: Me, version: '1.1' | '1.2'): Promise<NodeJS.ReadableStream> {
    const own = await store.classesFor(this.pool, person.id);
    const people = await store.peopleOf(
      this.pool,
      own.map(c => c.id),
    );
    const taught = new Set(
      await store.taughtOf(
        this.pool,
        person.id,
        own.map(c => c.id),
      ),
    );
    const classes = own.map((c): ExportedClass => ({
      id: c.externalId ?? c.id,
      name: c.name,
      people: people
        .filter(p => p.classId === c.id)
        .map(p => {
          const [givenName = '', ...rest] = p.displayName.split(' ');
          return {
            id: p.externalId ?? p.id,
            // A name is one field here and two there; somebody with a single name has it in both.
            givenName,
            familyName: rest.join(' ') || givenName,
            signInName: p.signInName,
            email: taught.has(c.id) ? p.email : null,
            role: p.role === 'student' ? 'student' : 'teacher',
          };
        }),
    }));
    const files = oneRosterOf(classes, {
      version,
      school: 'Ecoute',
      today: new Date().toISOString().slice(0, 10),
    });
    const zip = new yazl.ZipFile();
    for (const [name, text] of Object.entries(files)) zip.addBuffer(Buffer.from(text), name);
    zip.end();
    return zip.outputStream;
  }
}

/** Of very long lists, all rows with something to say, and some of the others. */
function shown(rows: readonly ImportRow[]): ImportRow[] {
  if (rows.length <= MOST_NOTED) return [...rows];
  const noted = rows.filter(r => r.why !== null).slice(0, MOST_NOTED);
  return [...noted, ...rows.filter(r => r.why === null).slice(0, MOST_PLAIN)].sort((a, b) => a.row - b.row);
}
