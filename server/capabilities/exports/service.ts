import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import { PDFDocument } from 'pdf-lib';
import { fileNameOf } from '@ecoute/core/formats/fileNames';
import { gradebookFiles } from '@ecoute/core/formats/gradebook';
import {
  KEPT_MS,
  type ExportKind,
  type ExportView,
  type NewExport,
  type NewTalkExport,
} from '@ecoute/contract/exports';
import type { Me } from '@ecoute/contract/people';
import { teachesClass } from '../../platform/access/store';
import { transaction, type Pool } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { invalid, notFound, Trouble } from '../../platform/trouble';
import type { Keeping } from '../keeping/service';
import { releasesOfClass } from '../results/store';
import { markbookOf } from '../results/markbook';
import type { Worker } from '../../worker';
import type { Leading } from '../discussions/lead';
import type { Recordings } from '../recordings/service';
import { stepsOf, writeTalk, writeTalkSound } from './discussion';
import * as store from './store';
import { levelsTable, measuresTable, scoresTable } from './tables';
import { gradebookOf } from './gradebook';
import { NotWanted, writeFiles, writeTables, writeWorkbook, zipped, type OnStep } from './write';

/** One person has so many made at the same time. */
const MOST_UNDER_WAY = 3;
/** So many assessments go into one. */
const MOST_RELEASES = 2_000;
const DAY_MS = 24 * 3_600_000;

const NAMES: Record<ExportKind, [words: string, ending: string]> = {
  workbook: ['results', 'xlsx'],
  tables: ['results', 'zip'],
  sheets: ['feedback sheets', 'pdf'],
  sheetFiles: ['feedback sheets', 'zip'],
  gradebook: ['gradebook', 'zip'],
  talk: ['discussion', 'zip'],
  talkSound: ['discussion as one sound', 'zip'],
};

/** What teachers take along of a class's results: made by jobs, with progress, kept for a day. */
export class Exports {
  constructor(
    private readonly pool: Pool,
    private readonly jobs: JobQueue,
    private readonly keeping: Keeping,
    private readonly folder: string,
    private readonly talks: { leading: Leading; recordings: Recordings; worker: Worker },
  ) {
    jobs.on('runExport', ({ id }: { id: string }) => this.run(id), {
      tries: 2,
      givenUp: async ({ id }: { id: string }) => {
        const problem =
          'It could not be made. Try again; if it happens twice, tell whoever runs this Ecoute.';
        await store.move(this.pool, id, ['waiting', 'running'], { state: 'failed', problem });
      },
    });
    jobs.onSweep(() => this.forgetOld());
  }

  async prepare(): Promise<void> {
    await mkdir(this.folder, { recursive: true, mode: 0o700 });
  }

  /** @throws Trouble invalid for days that end before they begin, tooMany while others are still being made */
  async make(teacher: Me, classId: string, wanted: NewExport): Promise<ExportView> {
    const { kind, from = null, to = null } = wanted;
    if (from && to && to < from)
      throw invalid('to', 'These days would end before they begin. Choose a later last day.');
    return this.ask(teacher, { classId, releaseId: null, kind, fromOn: from, toOn: to });
  }

  /** A whole discussion. @throws Trouble notFound for a release that is none, tooMany while others are still being made */
  async makeOfTalk(teacher: Me, releaseId: string, { kind }: NewTalkExport): Promise<ExportView> {
    const { classId } = await this.talks.leading.view(teacher, releaseId);
    return this.ask(teacher, { classId, releaseId, kind, fromOn: null, toOn: null });
  }

  private async ask(
    teacher: Me,
    wanted: Pick<store.ExportRow, 'classId' | 'releaseId' | 'kind' | 'fromOn' | 'toOn'>,
  ): Promise<ExportView> {
    if ((await store.countUnderWay(this.pool, teacher.id)) >= MOST_UNDER_WAY)
      throw new Trouble('busy', 'Some are still being made. Wait for one of them, or cancel it.');
    const id = randomUUID();
    await transaction(this.pool, async db => {
      await store.insertExport(db, { id, ownerId: teacher.id, ...wanted });
      await this.jobs.add(db, 'runExport', { id }, { subjectId: id, ownerId: teacher.id, urgent: true });
    });
    return viewOf((await store.findExport(this.pool, id))!);
  }

  async list(teacher: Me): Promise<ExportView[]> {
    return (await store.exportsOf(this.pool, teacher.id)).map(viewOf);
  }

  /** Lets go of one: what is being made is not made on; what is made is thrown away. */
  async letGo(teacher: Me, id: string): Promise<ExportView[]> {
    if (!(await store.move(this.pool, id, ['waiting', 'running'], { state: 'cancelled' }))) {
      await store.removeExport(this.pool, id);
      await rm(this.pathOf(id), { force: true });
    }
    return this.list(teacher);
  }

  /**
   * Where the file of one lies, and its name.
   * @throws Trouble notFound before it is made, after its day, or once its class is no longer the asker's
   */
  async file(teacher: Me, id: string): Promise<{ path: string; name: string }> {
    const found = await store.findExport(this.pool, id);
    if (found?.state !== 'done' || Date.now() - found.madeAt.getTime() > KEPT_MS) throw notFound();
    if (!(await teachesClass(this.pool, teacher.id, found.classId))) throw notFound();
    return { path: this.pathOf(id), name: found.fileName! };
  }

  private pathOf(id: string): string {
    return join(this.folder, id);
  }

  /** Job: makes one. Run again after a crash it begins again from the start. */
  private async run(id: string): Promise<void> {
    if (!(await store.move(this.pool, id, ['waiting', 'running'], { state: 'running' }))) return;
    const wanted = (await store.findExport(this.pool, id))!;
    // Whoever asked may teach the class no longer.
    if (!(await teachesClass(this.pool, wanted.ownerId, wanted.classId))) {
      const problem = 'You do not teach this class any more, so nothing of it is taken along.';
      await store.move(this.pool, id, ['running'], { state: 'failed', problem });
      return;
    }
    const part = `${this.pathOf(id)}.part`;
    try {
      const nothing = await this.write(wanted, part);
      if (nothing) {
        await store.move(this.pool, id, ['running'], { state: 'failed', problem: nothing });
        return;
      }
      await rename(part, this.pathOf(id));
      const [words, ending] = NAMES[wanted.kind];
      const { size } = await stat(this.pathOf(id));
      const of = wanted.releaseId ? await this.talks.leading.titleOf(wanted.releaseId) : null;
      const fileName = fileNameOf([wanted.className, ...(of ? [of] : []), words], ending);
      // Cancelled in the last moment: then it is not there.
      if (!(await store.move(this.pool, id, ['running'], { state: 'done', fileName, sizeBytes: size })))
        await rm(this.pathOf(id), { force: true });
    } catch (error) {
      if (!(error instanceof NotWanted)) throw error;
    } finally {
      await rm(part, { force: true });
    }
  }

  /** @returns why there is nothing to take along; null once it is written */
  private async write(wanted: store.ExportRow, path: string): Promise<string | null> {
    const between = {
      from: wanted.fromOn ? new Date(`${wanted.fromOn}T00:00:00Z`) : null,
      to: wanted.toOn ? new Date(Date.parse(`${wanted.toOn}T00:00:00Z`) + DAY_MS) : null,
    };
    let done = 0;
    const counting =
      (total: number): OnStep =>
      () =>
        store.progress(this.pool, wanted.id, ++done, total);
    if (wanted.releaseId) {
      const owner: Me = { id: wanted.ownerId, displayName: '', role: 'teacher' };
      const view = await this.talks.leading.view(owner, wanted.releaseId);
      const steps = stepsOf(view);
      if (steps === 0 && !view.contributions.some(c => c.state === 'here'))
        return 'Nobody has said anything in this discussion yet.';
      const { recordings, worker } = this.talks;
      if (wanted.kind === 'talk') await writeTalk(path, view, recordings, counting(steps));
      else if (steps === 0) return 'Nobody has spoken in this discussion yet: there is no sound to join.';
      else await writeTalkSound(path, view, recordings, worker, counting(steps + 1));
      return null;
    }
    if (wanted.kind === 'workbook' || wanted.kind === 'tables' || wanted.kind === 'gradebook') {
      const owner: Me = { id: wanted.ownerId, displayName: '', role: 'teacher' };
      const book = await markbookOf(this.pool, owner, wanted.classId, between, MOST_RELEASES);
      if (book.columns.length === 0) return 'Nothing that is due on these days has opened yet.';
      if (wanted.kind === 'gradebook') {
        await writeFiles(path, gradebookFiles(await gradebookOf(this.pool, book)));
        return null;
      }
      const tables = [scoresTable(book), levelsTable(book), measuresTable(book, this.pool)];
      const onStep = counting(tables.reduce((sum, t) => sum + t.steps, 0));
      await (wanted.kind === 'workbook' ? writeWorkbook : writeTables)(path, tables, onStep);
      return null;
    }
    const releases = await releasesOfClass(this.pool, wanted.classId, between, MOST_RELEASES);
    const sittings = await store.sittingsWithFeedback(this.pool, releases);
    if (sittings.length === 0) return 'Nobody has feedback on these days yet, so there is no sheet.';
    const onStep = counting(sittings.length);
    const next = async (id: string) => {
      const sheet = await this.keeping.sheet(id, true);
      if (!(await onStep())) throw new NotWanted();
      return sheet;
    };
    await (wanted.kind === 'sheets' ? oneDocument : manyFiles)(
      path,
      sittings.map(s => s.id),
      next,
    );
    return null;
  }

  /** Sweep: what has had its day is thrown away. */
  private async forgetOld(): Promise<void> {
    for (const id of await store.keptTooLong(this.pool, new Date(Date.now() - KEPT_MS))) {
      await rm(this.pathOf(id), { force: true });
      await store.removeExport(this.pool, id);
    }
  }
}

type NextSheet = (sittingId: string) => Promise<{ pdf: Buffer; name: string }>;

/** All sheets in one document, each beginning on a page of its own. */
async function oneDocument(path: string, sittingIds: readonly string[], next: NextSheet): Promise<void> {
  const whole = await PDFDocument.create();
  for (const id of sittingIds) {
    const sheet = await PDFDocument.load((await next(id)).pdf);
    for (const page of await whole.copyPages(sheet, sheet.getPageIndices())) whole.addPage(page);
  }
  await writeFile(path, await whole.save(), { mode: 0o600 });
}

/** One file a sheet. */
async function manyFiles(path: string, sittingIds: readonly string[], next: NextSheet): Promise<void> {
  const used = new Map<string, number>();
  await zipped(path, async zip => {
    for (const id of sittingIds) {
      const { pdf, name } = await next(id);
      const times = (used.get(name.toLowerCase()) ?? 0) + 1;
      used.set(name.toLowerCase(), times);
      zip.addBuffer(pdf, times === 1 ? name : name.replace(/\.pdf$/, ` (${times}).pdf`), { compress: false });
    }
  });
}

function viewOf(row: store.ExportRow): ExportView {
  const { id, kind, classId, className, state, done, total, fileName, sizeBytes, problem, madeAt } = row;
  return {
    id,
    kind,
    classId,
    className,
    state,
    done,
    total,
    fileName,
    sizeBytes: sizeBytes === null ? null : Number(sizeBytes),
    problem,
    madeAt: madeAt.toISOString(),
    until: state === 'done' ? new Date(madeAt.getTime() + KEPT_MS).toISOString() : null,
  };
}
