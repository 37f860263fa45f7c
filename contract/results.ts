/** What all the listening adds up to, as pages are told of it. */
import 'reflect-metadata';
import { IsBoolean, IsIn } from 'class-validator';
import type { Figures } from '@ecoute/core/audio/evidence';
import { toHundredths } from '@ecoute/core/scoring/points';
import type { Scheme } from '@ecoute/core/scoring/scheme';
import type { Averaged } from '@ecoute/core/statistics/averages';
import type { ReleaseFigures } from '@ecoute/core/statistics/release';
import type { Shift } from '@ecoute/core/statistics/signedRanks';
import type { Recurring } from '@ecoute/core/statistics/recurring';
import type { PlacedTake } from '@ecoute/core/timing/takeClock';
import { isBack, type SittingState } from '@ecoute/core/timing/sittingState';
import type { StartingPoint } from '@ecoute/core/timing/startingPoints';
import type { AnswerKind } from './assessment/kinds';
import type { Subject } from './classes';
import type { RubricChoice } from './judgements';
import type { Note } from './notes';
import type { Medium } from './recordings';
import type { Outline } from './releases';
import type { Tag } from './tags';

/** How far a coordinator sees a class's figures. */
export const FIGURES_FOR = ['nobody', 'class', 'students'] as const;
export type FiguresFor = (typeof FIGURES_FOR)[number];

/** By which rule a class's figures are added up, and who else may see them. */
export class SaveResultsRule {
  /** What is missing counts as none of its points; else it is left out. */
  @IsBoolean()
  missingCounts!: boolean;

  @IsIn(FIGURES_FOR, { message: 'Choose what coordinators see.' })
  figuresFor!: FiguresFor;
}

/** A class in the list of those whose results one sees. */
export interface ResultsClass {
  id: string;
  name: string;
  subject: Subject;
  students: number;
  /** Assessments released to it that have opened. */
  releases: number;
  /** Whoever looks teaches it; a coordinator sees what its teachers let them. */
  teaches: boolean;
  figuresFor: FiguresFor;
}

/** One release, as the head of its column. */
export interface MarkbookColumn {
  releaseId: string;
  assessmentId: string;
  title: string;
  note: string;
  opensAt: string;
  dueAt: string;
  /** Kept out of sight until it is shown by hand. */
  hidden: boolean;
  startingPoint: StartingPoint;
  scheme: Scheme;
  /** Points that it carries; null where its scheme adds nothing up. */
  carries: number | null;
  /** Names of the levels, from the lowest. */
  scale: string[];
  /** Items that are answered. */
  items: number;
  /** Of the assessment and all its items. */
  tags: Tag[];
  outline: Outline;
}

/** One student and one release. */
export interface MarkbookCell {
  /** The sitting that counts; null without one, where names are hidden, and for coordinators. */
  sittingId: string | null;
  state: SittingState;
  late: boolean;
  missing: boolean;
  excused: boolean;
  askedAgain: boolean;
  /** Something is handed in, and whose it is must not be known yet. */
  namesHidden: boolean;
  /** Points of the answers that are finished; null where there are none, or the scheme adds nothing up. */
  points: number | null;
  /** Answers that are done, where the scheme says done or not done. */
  done: number | null;
  level: number | null;
  answered: number;
  finished: number;
  /** Its student does not see the score: feedback is not given yet, or scores are held. */
  unseen: boolean;
}

/** A cell as averages take it. */
export function averaged(cell: MarkbookCell, { carries }: Pick<MarkbookColumn, 'carries'>): Averaged {
  return {
    given: toHundredths(cell.points ?? 0),
    carries: carries === null ? null : toHundredths(carries),
    isMarked: !cell.namesHidden && (cell.state === 'marked' || isBack(cell.state)),
    isMissing: cell.missing,
    isExcused: cell.excused,
  };
}

export interface MarkbookStudent {
  id: string;
  displayName: string;
  groupIds: string[];
  /** In the class just now, in it before, or there by a link without an account. */
  kind: 'student' | 'left' | 'guest';
}

export interface Markbook {
  classId: string;
  className: string;
  teaches: boolean;
  missingCounts: boolean;
  figuresFor: FiguresFor;
  groups: { id: string; name: string }[];
  columns: MarkbookColumn[];
  /** Empty where a coordinator sees the class as a whole. */
  students: MarkbookStudent[];
  /** By student, then by column; null where a release is not for a student. */
  cells: (MarkbookCell | null)[][];
  /** By column: average of the class, for those who see no cells. Null where too few are marked to tell nobody's score. */
  averages: ({ given: number; most: number; count: number } | null)[] | null;
  /** Older releases than those shown here. */
  more: boolean;
}

/** One answer of a sitting, to be heard and read beside the markbook. */
export interface CellAnswer {
  itemId: string;
  number: number;
  prompt: string;
  takeId: string | null;
  medium: Medium | null;
  durationMs: number | null;
  placed: PlacedTake;
  written: string | null;
  passed: boolean;
  finished: boolean;
  points: number | null;
  carries: number;
  choices: RubricChoice[];
  comment: string;
  notes: Note[];
}

export interface CellAnswers {
  sittingId: string;
  releaseId: string;
  answers: CellAnswer[];
}

/** One answer in the table of a release; as short as it can be, for there are thousands. */
export interface NumbersAnswer {
  sittingId: string;
  itemId: string;
  takeId: string | null;
  durationMs: number | null;
  points: number | null;
  passed: boolean;
  written: boolean;
  /** Levels on the criteria, in their order; null where none was given. Empty without a rubric. */
  levels: (number | null)[];
  takes: number;
  hearings: number;
  handedInAt: string | null;
}

export interface ReleaseNumbers {
  releaseId: string;
  classId: string;
  className: string;
  title: string;
  dueAt: string;
  teaches: boolean;
  scheme: Scheme;
  carries: number | null;
  scale: string[];
  criteria: { id: string; name: string; levels: string[] }[];
  items: {
    id: string;
    number: number;
    prompt: string;
    carries: number;
  }[];
  figures: ReleaseFigures;
  /** Who sat it, by sitting; a number while names are hidden. Empty for coordinators. */
  sittings: { id: string; studentName: string }[];
  /** Empty for coordinators: they never hear. */
  answers: NumbersAnswer[];
}

/** What one answer shows of a can-do statement, with where it is heard. */
export interface Shown {
  releaseId: string;
  sittingId: string;
  itemId: string;
  takeId: string | null;
  durationMs: number | null;
  title: string;
  at: string;
  scheme: Scheme;
  points: number | null;
  carries: number;
  /** The level in its word, and its place in the scale. */
  level: string | null;
  levelPlace: number | null;
}

/** What recordings show by tag instead of by release. */
export interface CanDo {
  classId: string;
  className: string;
  tags: Tag[];
  students: MarkbookStudent[];
  /** By student, then by tag, oldest first. */
  shown: Shown[][][];
}

/** What one student did of one release, in their year. */
export interface YearSitting {
  sittingId: string;
  releaseId: string;
  title: string;
  className: string;
  /** When it was handed in. */
  at: string;
  /** It is not the one that counts: a later one does, or it was set aside. */
  superseded: boolean;
  late: boolean;
  feedbackGiven: boolean;
  /** Of all items; null while something is unmarked, held, or where nothing is added up. */
  points: number | null;
  carries: number | null;
  level: string | null;
  outline: Outline;
  asked: number;
  replied: number;
  answers: YearAnswer[];
}

export interface YearAnswer {
  itemId: string;
  prompt: string;
  kind: AnswerKind;
  tags: Tag[];
  takeId: string | null;
  durationMs: number | null;
  points: number | null;
  carries: number;
  /** The level that this answer shows, where each is given one. */
  shows: string | null;
  figures: Figures;
}

export interface StudentYear {
  studentId: string;
  studentName: string;
  /** Null for a student's own year: all classes. */
  classId: string | null;
  className: string | null;
  sittings: YearSitting[];
  recurring: Recurring[];
  missing: number;
  excused: number;
}

/** One student measured twice. */
export interface ComparedStudent {
  id: string;
  displayName: string;
  before: ComparedSitting;
  after: ComparedSitting;
}

export interface ComparedSitting {
  /** Place in the scale of its release. */
  level: number | null;
  points: number | null;
  isMarked: boolean;
  takes: { itemId: string; takeId: string; durationMs: number | null; figures: Figures }[];
}

export interface ComparedSide {
  title: string;
  scheme: Scheme;
  scale: string[];
  carries: number | null;
  items: { id: string; number: number; prompt: string }[];
}

export interface Compared {
  classId: string;
  before: ComparedSide;
  after: ComparedSide;
  /** Items of one and of the other that are the same task. */
  pairs: { before: string; after: string }[];
  students: ComparedStudent[];
  /** Names of those who sat only one of the two. */
  onlyBefore: string[];
  onlyAfter: string[];
  /** By level, or by the share of points; null where the two are not scored alike. */
  shift: (Shift & { by: 'levels' | 'points' }) | null;
}
