/**
 * OneRoster CSV, versions 1.1 and 1.2, as far as classes and their people go. Source: 1EdTech, OneRoster CSV
 * binding 1.1 (2017) and 1.2 (2022): file names, headings and the manifest. Courses, terms and demographics are
 * neither read nor written, results by `gradebook`; organisations, courses and terms are written once, because the format
 * wants every class to name them.
 */
import Papa from 'papaparse';
import { fullName, type Roster, type RosterClass, type RosterPerson } from './roster';

/** Files of the format by name. */
export type RosterFiles = Record<string, string>;

const TEACHING = new Set(['teacher', 'aide', 'proctor']);

/**
 * What the files say. Rows to be deleted are left out; people without a class too.
 * @throws Error, in words for people, when this is not OneRoster
 */
export function rosterOfOneRoster(files: RosterFiles): Roster {
  const table = (name: string) => tableOf(files, name);
  const users = table('users.csv');
  const classes = table('classes.csv');
  const enrollments = table('enrollments.csv');
  for (const [name, found] of [
    ['users.csv', users],
    ['classes.csv', classes],
    ['enrollments.csv', enrollments],
  ] as const)
    if (!found)
      throw new Error(
        `This ZIP has no ${name}. Export the classes again as OneRoster CSV, with users and enrollments.`,
      );
  const roster: Roster = { people: [], classes: [], memberships: [], problems: [] };
  const people = new Map<string, RosterPerson>();
  for (const { row, of } of users!) {
    if (isDeleted(of)) continue;
    const id = of('sourcedId');
    const name = fullName(of('givenName'), of('familyName'));
    if (!id) roster.problems.push({ row, why: 'of users.csv has no sourcedId' });
    else if (!name) roster.problems.push({ row, why: 'of users.csv has no name' });
    else
      people.set(id, {
        key: id,
        row,
        name,
        signInName: of('username') || null,
        email: of('email') || null,
        externalId: id,
        role: TEACHING.has(of('role')) ? 'teacher' : 'student',
        extraTime: null,
        families: [],
      });
  }
  const known = new Map<string, RosterClass>();
  for (const { row, of } of classes!) {
    if (isDeleted(of)) continue;
    const [id, name] = [of('sourcedId'), of('title')];
    if (!id || !name) roster.problems.push({ row, why: 'of classes.csv has no sourcedId or no title' });
    else known.set(id, { key: id, name, externalId: id });
  }
  const seen = new Set<string>();
  for (const { row, of } of enrollments!) {
    if (isDeleted(of)) continue;
    const [classKey, personKey, role] = [of('classSourcedId'), of('userSourcedId'), of('role')];
    const person = people.get(personKey);
    const why = !known.has(classKey)
      ? `of enrollments.csv names a class that is not here: ${classKey || 'none'}`
      : !person
        ? `of enrollments.csv names somebody who is not here: ${personKey || 'nobody'}`
        : seen.has(`${classKey}\n${personKey}`)
          ? 'of enrollments.csv is there already'
          : null;
    if (why) {
      roster.problems.push({ row, why });
      continue;
    }
    if (role && role !== 'student' && !TEACHING.has(role)) continue;
    seen.add(`${classKey}\n${personKey}`);
    const as = TEACHING.has(role) ? ('teacher' as const) : ('student' as const);
    // In 1.2 a user's role stands elsewhere; what somebody is enrolled as says enough.
    if (as === 'teacher') person!.role = 'teacher';
    roster.memberships.push({ personKey, classKey, role: as, group: null });
  }
  const sat = new Set(roster.memberships.map(m => m.personKey));
  roster.people = [...people.values()].filter(p => sat.has(p.key));
  roster.classes = [...known.values()];
  return roster;
}

interface Line {
  row: number;
  /** A cell by its heading; empty where there is none. */
  of: (heading: string) => string;
}

function tableOf(files: RosterFiles, name: string): Line[] | null {
  const path = Object.keys(files).find(f => f.toLowerCase().split('/').pop() === name.toLowerCase());
  if (path === undefined) return null;
  const { data } = Papa.parse<string[]>(files[path]!, { skipEmptyLines: 'greedy' });
  const headings = (data[0] ?? []).map(h =>
    h
      .replace(/^\ufeff/, '')
      .trim()
      .toLowerCase(),
  );
  return data.slice(1).map((cells, i) => ({
    row: i + 2,
    of: heading => (cells[headings.indexOf(heading.toLowerCase())] ?? '').trim(),
  }));
}

/** In a delta file, rows say whether they go. */
const isDeleted = (of: Line['of']) => of('status').toLowerCase() === 'tobedeleted';

/** A table as the format has it; what would be a formula in a spreadsheet is text. */
export function csv(headings: readonly string[], rows: readonly (readonly unknown[])[]): string {
  return `${Papa.unparse([[...headings], ...rows.map(r => [...r])], { newline: '\r\n', escapeFormulae: true })}\r\n`;
}

/**
 * What a package says of itself: which of all files of a version it holds.
 * @param every   names of the version's files, without their ending
 * @param written those that are there
 */
export function manifest(
  version: '1.1' | '1.2',
  every: readonly string[],
  written: readonly string[],
): string {
  return csv(
    ['propertyName', 'value'],
    [
      ['manifest.version', '1.0'],
      ['oneroster.version', version],
      ...every.map(file => [`file.${file}`, written.includes(file) ? 'bulk' : 'absent']),
      ['source.systemName', 'Ecoute'],
      ['source.systemCode', 'ecoute'],
    ],
  );
}

export interface ExportedClass {
  id: string;
  name: string;
  people: {
    id: string;
    givenName: string;
    familyName: string;
    signInName: string;
    email: string | null;
    role: 'student' | 'teacher';
  }[];
}

/**
 * Classes and their people as files of the format.
 * @param version of OneRoster
 * @param school  name of the school, which the format wants
 * @param today   `YYYY-MM-DD`
 */
export function oneRosterOf(
  classes: readonly ExportedClass[],
  { version, school, today }: { version: '1.1' | '1.2'; school: string; today: string },
): RosterFiles {
  const [org, course, term] = ['school', 'course', 'term'];
  const year = Number(today.slice(0, 4));
  const people = new Map(classes.flatMap(c => c.people).map(p => [p.id, p]));
  const is12 = version === '1.2';
  const bulk = [
    'orgs',
    'academicSessions',
    'courses',
    'classes',
    'users',
    'enrollments',
    ...(is12 ? ['roles'] : []),
  ];
  const every = [
    ...[
      'academicSessions',
      'categories',
      'classes',
      'classResources',
      'courses',
      'courseResources',
      'demographics',
    ],
    ...['enrollments', 'lineItems', 'orgs', 'resources', 'results', 'users'],
    ...(is12 ? ['roles', 'userProfiles', 'userResources'] : []),
  ];
  return {
    'manifest.csv': manifest(version, every, bulk),
    'orgs.csv': csv(
      ['sourcedId', 'status', 'dateLastModified', 'name', 'type', 'identifier', 'parentSourcedId'],
      [[org, '', '', school, 'school', '', '']],
    ),
    'academicSessions.csv': csv(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'title',
        'type',
        'startDate',
        'endDate',
        'parentSourcedId',
        'schoolYear',
      ],
      [[term, '', '', String(year), 'schoolYear', `${year}-01-01`, `${year}-12-31`, '', String(year)]],
    ),
    'courses.csv': csv(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'schoolYearSourcedId',
        'title',
        'courseCode',
        'grades',
        'orgSourcedId',
        'subjects',
        'subjectCodes',
      ],
      [[course, '', '', term, school, '', '', org, '', '']],
    ),
    'classes.csv': csv(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'title',
        'grades',
        'courseSourcedId',
        'classCode',
        'classType',
        'location',
        'schoolSourcedId',
        'termSourcedIds',
        'subjects',
        'subjectCodes',
        'periods',
      ],
      classes.map(c => [c.id, '', '', c.name, '', course, '', 'scheduled', '', org, term, '', '', '']),
    ),
    'users.csv': csv(
      [
        ...['sourcedId', 'status', 'dateLastModified', 'enabledUser'],
        ...(is12 ? [] : ['orgSourcedIds', 'role']),
        ...[
          'username',
          'userIds',
          'givenName',
          'familyName',
          'middleName',
          'identifier',
          'email',
          'sms',
          'phone',
        ],
        ...['agentSourcedIds', 'grades', 'password'],
      ],
      [...people.values()].map(p => [
        ...[p.id, '', '', 'true'],
        ...(is12 ? [] : [org, p.role]),
        ...[p.signInName, '', p.givenName, p.familyName, '', '', p.email ?? '', '', '', '', '', ''],
      ]),
    ),
    'enrollments.csv': csv(
      [
        'sourcedId',
        'status',
        'dateLastModified',
        'classSourcedId',
        'schoolSourcedId',
        'userSourcedId',
        'role',
        'primary',
        'beginDate',
        'endDate',
      ],
      classes.flatMap(c =>
        c.people.map(p => [
          `${c.id}-${p.id}`,
          '',
          '',
          c.id,
          org,
          p.id,
          p.role,
          p.role === 'teacher' ? 'true' : 'false',
          '',
          '',
        ]),
      ),
    ),
    ...(is12 && {
      'roles.csv': csv(
        [
          'sourcedId',
          'status',
          'dateLastModified',
          'userSourcedId',
          'roleType',
          'role',
          'beginDate',
          'endDate',
          'orgSourcedId',
          'userProfileSourcedId',
        ],
        [...people.values()].map(p => [`role-${p.id}`, '', '', p.id, 'primary', p.role, '', '', org, '']),
      ),
    }),
  };
}
