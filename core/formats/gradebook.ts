/**
 * A class's gradebook as OneRoster CSV 1.2: categories, line items and results. Source: 1EdTech, OneRoster CSV binding 1.2
 * (2022), gradebook files. Only what its students have seen is in it; ids are the school's own where it gave some.
 */
import { csv, manifest, type RosterFiles } from './oneRoster';

/** What an assessment counts as. */
export interface GradebookCategory {
  id: string;
  title: string;
}

/** One assessment released to the class. */
export interface GradebookLineItem {
  id: string;
  title: string;
  description: string;
  assignedAt: Date;
  dueAt: Date;
  categoryId: string;
  /** Points that it carries; null where it has none: then its results are words. */
  most: number | null;
}

/** What the standard knows of a score. */
export type ScoreStatus = 'fully graded' | 'exempt' | 'not submitted';

/** What one student has for one of them. */
export interface GradebookResult {
  id: string;
  lineItemId: string;
  studentId: string;
  status: ScoreStatus;
  /** Null where there is none, or only words. */
  score: number | null;
  /** A level, or what is done; empty where the score says it. */
  words: string;
  /** When it was given; null for what was not handed in. */
  at: Date | null;
  isLate: boolean;
}

export interface Gradebook {
  classId: string;
  /** Of the school and its period, which the format wants named. */
  schoolId: string;
  periodId: string;
  categories: readonly GradebookCategory[];
  lineItems: readonly GradebookLineItem[];
  results: readonly GradebookResult[];
}

const FILES_OF_12 = [
  ...[
    'academicSessions',
    'categories',
    'classes',
    'classResources',
    'courses',
    'courseResources',
    'demographics',
  ],
  ...['enrollments', 'lineItemLearningObjectiveIds', 'lineItems', 'lineItemScoreScales', 'orgs', 'resources'],
  ...['resultLearningObjectiveIds', 'results', 'resultScoreScales', 'roles', 'scoreScales', 'userProfiles'],
  ...['userResources', 'users'],
];
const WRITTEN = ['categories', 'lineItems', 'results'];

const day = (at: Date) => at.toISOString().slice(0, 10);
const yesNo = (is: boolean) => (is ? 'true' : 'false');

/** The files of a gradebook, with the manifest. */
export function gradebookFiles(book: Gradebook): RosterFiles {
  return {
    'manifest.csv': manifest('1.2', FILES_OF_12, WRITTEN),
    'categories.csv': csv(
      ['sourcedId', 'status', 'dateLastModified', 'title', 'weight'],
      book.categories.map(c => [c.id, '', '', c.title, '']),
    ),
    'lineItems.csv': csv(
      [
        ...['sourcedId', 'status', 'dateLastModified', 'title', 'description', 'assignDate', 'dueDate'],
        ...['classSourcedId', 'categorySourcedId', 'gradingPeriodSourcedId', 'academicSessionSourcedId'],
        ...['schoolSourcedId', 'resultValueMin', 'resultValueMax'],
      ],
      book.lineItems.map(l => [
        ...[l.id, '', '', l.title, l.description, day(l.assignedAt), day(l.dueAt)],
        ...[book.classId, l.categoryId, book.periodId, book.periodId, book.schoolId],
        ...(l.most === null ? ['', ''] : [0, l.most]),
      ]),
    ),
    'results.csv': csv(
      [
        ...[
          'sourcedId',
          'status',
          'dateLastModified',
          'lineItemSourcedId',
          'studentSourcedId',
          'classSourcedId',
        ],
        ...['scoreScaleSourcedId', 'scoreStatus', 'score', 'textScore', 'scoreDate', 'comment'],
        ...['inProgress', 'incomplete', 'late', 'missing'],
      ],
      book.results.map(r => [
        ...[r.id, '', '', r.lineItemId, r.studentId, book.classId, '', r.status],
        ...[r.score ?? '', r.words, r.at === null ? '' : day(r.at), ''],
        ...['false', 'false', yesNo(r.isLate), yesNo(r.status === 'not submitted')],
      ]),
    ),
  };
}
