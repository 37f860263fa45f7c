/** Entry of the worker threads: whatever would keep the server from answering others. */
import { measureTake, type MeasuredInBrief, type ToMeasure } from './capabilities/measures/measureTake';
import { readList, type Read } from './capabilities/rosters/read';
import { inspect, inspectMany, type Inspection, type ToInspect } from './capabilities/recordings/inspect';
import { makePage } from './capabilities/recordings/pages';
import { asPart, cut, joinParts, makePlayable } from './capabilities/recordings/sound';

/** What is asked of a worker, and what it answers, by kind. */
export interface Tasks {
  inspect: [ToInspect, Inspection];
  inspectMany: [{ tasks: readonly ToInspect[] }, Inspection[]];
  makePlayable: [{ input: string; output: string; withFilm: boolean; mostMs: number }, null];
  /** Draws a page and answers its words. */
  makePage: [{ pdf: string; number: number; folder: string }, string];
  /** Writes what is measured into a file, and answers the figures. */
  measureTake: [ToMeasure, MeasuredInBrief];
  /** Reads a list of people. */
  readList: [{ bytes: Uint8Array }, Read];
  /** Writes a sound without loss, with quiet after it, and answers how long that is, in ms. */
  asPart: [{ input: string; output: string; gapMs: number }, number];
  /** Joins such parts to one sound with chapters, twice. */
  joinParts: [{ list: string; metadata: string; output: string; matroska: string; lengthMs: number }, null];
  cut: [{ input: string; output: string; fromMs: number; toMs: number; withFilm: boolean }, null];
}
/** Has something done in another thread. */
export type Worker = <K extends keyof Tasks>(task: { kind: K } & Tasks[K][0]) => Promise<Tasks[K][1]>;
export type Task = { [K in keyof Tasks]: { kind: K } & Tasks[K][0] }[keyof Tasks];

export default async function work(task: Task): Promise<Tasks[keyof Tasks][1]> {
  switch (task.kind) {
    case 'inspect':
      return inspect(task);
    case 'inspectMany':
      return inspectMany(task.tasks);
    case 'makePlayable':
      await makePlayable(task.input, task.output, task.withFilm, task.mostMs);
      return null;
    case 'makePage':
      return makePage(task.pdf, task.number, task.folder);
    case 'measureTake':
      return measureTake(task);
    case 'readList':
      return readList(task.bytes);
    case 'asPart':
      return asPart(task.input, task.output, task.gapMs);
    case 'joinParts':
      await joinParts(task);
      return null;
    case 'cut':
      await cut(task.input, task.output, task.fromMs, task.toMs, task.withFilm);
      return null;
  }
}
