import type { StudentLanguage } from '@ecoute/contract/languages';
import type { FeedbackView } from '@ecoute/contract/marking';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import Papa from 'papaparse';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { fileNameOf, INDEX_COLUMNS } from '@ecoute/core/formats/fileNames';
import { inkMl, inkSvg } from '@ecoute/core/takes/ink';
import { fromHundredths } from '@ecoute/core/scoring/points';
import { isBack, isFeedbackGiven } from '@ecoute/core/timing/sittingState';
import type { Peaks } from '@ecoute/core/audio/peaks';
import type { Pool } from '../../platform/database';
import { endingOf, packed as zipOf, type Packed, type Zip } from '../../platform/packing';
import { jpegOf } from '../../platform/paper/jpeg';
import { notFound, Trouble } from '../../platform/trouble';
import { codeNames } from '../releases/names';
import type { Feedback } from '../reading/feedback';
import { marksOf } from '../marks/store';
import type { Recordings } from '../recordings/service';
import { studentsFrom } from '../releases/standing';
import { findRelease, timesOf } from '../releases/store';
import { standings } from '../releases/standings.store';
import type { SpokenSheets } from '../sittings/sheets';
import { sheetOf } from '../sittings/sheets.store';
import { studentName } from '../sittings/store';
import { takesOfSittings, type TakeRow } from '../sittings/answers.store';
import { feedbackSheet } from './sheet';
import { sheetWords } from './sheetWords';

/** The ending of a file's own name; null where it has none that is plain. */
function ownEnding(fileName: string | null): string | null {
  return /\.([a-z0-9]{1,8})$/i.exec(fileName ?? '')?.[1]?.toLowerCase() ?? null;
}

/** What is kept outside Ecoute: feedback on paper, the recordings of a release. */
export class Keeping {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    private readonly feedback: Feedback,
    private readonly sheets: SpokenSheets,
  ) {}

  /**
   * The feedback of a sitting as PDF.
   * @param before also before the feedback, for its teacher
   * @param language of the sheet's own words; what people wrote stays as it is
   */
  async sheet(
    sittingId: string,
    before = false,
    language: StudentLanguage = 'en',
  ): Promise<{ pdf: Buffer; name: string }> {
    const { view, sitting, release } = await this.feedback.read(sittingId, before);
    // Whoever reads it knows the student as far as names are shown to them.
    const hidden =
      before && !isFeedbackGiven(sitting, Date.now()) ? await codeNames(this.pool, release) : null;
    const name = hidden ? hidden(sitting.studentId) : await studentName(this.pool, sittingId);
    const format = new Intl.DateTimeFormat(language === 'en' ? 'en-GB' : language, {
      dateStyle: 'medium',
      timeStyle: 'short',
      timeZone: release.timeZone,
    });
    const pdf = await feedbackSheet(asScored(view), {
      studentName: name,
      peaksOf: async id =>
        JSON.parse(await this.recordings.served.peaks(id).catch(() => 'null')) as Peaks | null,
      pictureOf: (id, page) => this.jpeg(id, page),
      drawnWith: id => this.sheets.view(id),
      says: sheetWords(language),
      when: iso => format.format(new Date(iso)),
    });
    return { pdf, name: fileNameOf([view.title, name], 'pdf') };
  }

  /** A picture as PDF readers know it. */
  private async jpeg(id: string, page: number | null): Promise<Buffer | null> {
    const found = await this.recordings.served.showing(id, page).catch(() => null);
    return found && jpegOf(found.path);
  }

  /** What was drawn with a take, in open formats: to look at, and with its times. Read again when its turn has come. */
  private async drawn(takeId: string, beside: string): Promise<Packed[]> {
    const ink = await sheetOf(this.pool, takeId);
    if (!ink) return [];
    const formats = { svg: inkSvg, inkml: inkMl };
    return Object.entries(formats).map(([ending, write]) => ({
      name: beside.replace(/\.[a-z0-9]+$/i, `.${ending}`),
      size: Buffer.byteLength(write(ink)),
      open: async () => Readable.from([Buffer.from(write((await sheetOf(this.pool, takeId)) ?? ink))]),
    }));
  }

  /**
   * All recordings of a release as a ZIP that is made while it is sent, with an index; memory does not grow with it.
   * @returns the bytes as they come, their number where it is known, and a name
   * @throws Trouble nothingToKeep when nothing is recorded yet
   */
  async recordingsOf(releaseId: string): Promise<Zip & { name: string }> {
    const release = await findRelease(this.pool, releaseId);
    if (!release) throw notFound();
    const nameOf = await codeNames(this.pool, release);
    const students = studentsFrom(timesOf(release), await standings(this.pool, [releaseId]), Date.now());
    const sat = students.flatMap(s => (s.counting?.handedInAt ? [{ ...s, id: s.counting.id }] : []));
    const isHidden = (s: (typeof sat)[number]) => nameOf !== null && !isBack(s.standing.state);
    const called = (s: (typeof sat)[number]) => (isHidden(s) ? nameOf!(s.studentId) : s.displayName);
    const ids = sat.map(s => s.id);
    const takes = new Map<string, TakeRow[]>();
    for (const take of await takesOfSittings(this.pool, ids))
      if (take.stands) takes.set(take.sittingId, [...(takes.get(take.sittingId) ?? []), take]);
    if (takes.size === 0)
      throw new Trouble(
        'nothingToKeep',
        'Nothing is recorded here yet. Come back once somebody has handed in.',
      );
    const marks = new Map((await marksOf(this.pool, ids)).map(m => [`${m.sittingId} ${m.itemId}`, m]));
    const playing = await this.recordings.served.playingOf([...takes.values()].flat().map(t => t.id));
    const rows: (string | number)[][] = [];
    const packed: Packed[] = [];
    const used = new Set<string>();
    for (const s of sat.sort((a, b) => called(a).localeCompare(called(b))))
      for (const [n, item] of release.content.items.entries()) {
        const own = (takes.get(s.id) ?? []).filter(t => t.itemId === item.id);
        const counting = countingTake<TakeRow>(own);
        for (const take of own) {
          const found = playing.get(take.id);
          if (!found) continue;
          const { path, type } = found;
          const size = await stat(path).then(
            f => f.size,
            () => null,
          );
          if (size === null) continue;
          const parts = [called(s), `item ${n + 1}`, ...(own.length > 1 ? [`take ${take.number}`] : [])];
          // A file that was handed in keeps its own ending, so that whoever gets it can open it.
          const ending = endingOf(type) ?? ownEnding(take.recording.fileName) ?? 'bin';
          let name = fileNameOf(parts, ending, called(s));
          for (let again = 2; used.has(name.toLowerCase()); again++)
            name = fileNameOf([...parts, `(${again})`], ending, called(s));
          used.add(name.toLowerCase());
          packed.push({ name, size, open: async () => createReadStream(path) });
          if (item.sheet) packed.push(...(await this.drawn(take.id, name)));
          const mark = marks.get(`${s.id} ${item.id}`);
          const isCounting = take.id === counting?.id;
          rows.push([
            name,
            called(s),
            n + 1,
            item.promptText,
            take.number,
            isCounting ? 'yes' : 'no',
            take.durationMs === null ? '' : (take.durationMs / 1000).toFixed(1),
            // A clock would say who it was.
            isHidden(s) ? '' : take.beganAt.toISOString(),
            s.standing.late && !isHidden(s) ? 'late' : '',
            isCounting && mark?.finishedAt && mark.pointsHundredths !== null
              ? fromHundredths(mark.pointsHundredths)
              : '',
            isCounting && mark?.finishedAt ? mark.comment : '',
          ]);
        }
      }
    const index =
      '\ufeff' + Papa.unparse({ fields: [...INDEX_COLUMNS], data: rows }, { escapeFormulae: true });
    return {
      ...zipOf([{ name: 'index.csv', text: index }], packed),
      name: fileNameOf([release.content.title, 'recordings'], 'zip'),
    };
  }
}

/** On paper stands what the score is of: what was recorded again since is heard, and scored on paper once it is scored. */
function asScored(view: FeedbackView): FeedbackView {
  const items = view.items.map(item => {
    const first = item.again?.isOfFirst ? item.again.first : null;
    return first ? { ...item, ...first } : item;
  });
  return { ...view, items };
}
