/**
 * A list of people and their classes, whatever file it came in. What a file means is worked out here; what it
 * changes is worked out against what is there already.
 */

import { languageNamed, plainName } from './languages';

export type RosterRole = 'student' | 'teacher';

export interface RosterPerson {
  /** Tells the person apart within the list. */
  key: string;
  /** Row of the file, from 1. */
  row: number;
  name: string;
  signInName: string | null;
  email: string | null;
  externalId: string | null;
  role: RosterRole;
  /** Factor on time, where the list says so. */
  extraTime: number | null;
  /** Where the family is written to, each with its language by tag; null where the list does not say which. */
  families: { email: string; language: string | null }[];
}

export interface RosterClass {
  key: string;
  name: string;
  externalId: string | null;
}

export interface RosterMembership {
  personKey: string;
  /** Null where the list is for one class, chosen by whoever brings it. */
  classKey: string | null;
  role: RosterRole;
  group: string | null;
}

/** A row that is not taken, and why, in words that follow “row 7”. */
export interface RosterProblem {
  row: number;
  /** Whom it is about, as far as the row says. */
  name?: string;
  why: string;
}

export interface Roster {
  people: RosterPerson[];
  classes: RosterClass[];
  memberships: RosterMembership[];
  problems: RosterProblem[];
}

/** What a column of a plain list may hold. */
export const LIST_FIELDS = [
  'name',
  'givenName',
  'familyName',
  'signInName',
  'email',
  'externalId',
  'className',
  'group',
  'extraTime',
  'familyEmail',
  'familyLanguage',
] as const;
export type ListField = (typeof LIST_FIELDS)[number];

/** Headings by which a column is known, in the languages of the interface; letters without accents. */
const HEADINGS: Record<ListField, RegExp> = {
  familyEmail:
    /^(famil(y|ies)|parents?|guardians?|carers?|home)( s)? ?(e ?)?mails?( address(es)?)?$|^(e ?)?mails? (da familia|dos pais|de la familia|de los padres|de la famille|des parents|der familie|der eltern)$|^(correio|correo|courriel) (da familia|dos pais|de la familia|de los padres|de la famille|des parents)$|^(familien|eltern) ?(e ?)?mails?$/,
  familyLanguage:
    /^(famil(y|ies)|parents?|guardians?|home)( s)? ?languages?$|^(lingua|idioma|langue|sprache) (da familia|dos pais|de la familia|de los padres|de la famille|des parents|der familie|der eltern)$|^(familien|eltern) ?sprachen?$/,
  givenName: /^(given|first|fore) ?names?$|^(nome proprio|primeiro nome|nombre de pila|prenoms?|vorname)$/,
  familyName:
    /^(family|last|sur) ?names?$|^(apelidos?|sobrenome|apellidos?|nom de famille|nachname|familienname)$/,
  name: /^(full |display )?names?$|^(student|pupil|learner)( name)?$|^(nome( completo)?|aluno|nombre( completo)?|alumno|nom( complet)?|eleve|schuler(in)?)$/,
  signInName:
    /^(sign ?in|log ?in|user) ?(name|id)?$|^(utilizador|usuario|identifiant|benutzer(name)?|kennung)$/,
  email:
    /^(e ?)?mails?( address)?$|^(correio( eletronico)?|correo( electronico)?|courriel|adresse mail|e mail adresse)$/,
  externalId:
    /^(external|source|sourced|school|student|person) ?(id|number|nr|no)$|^(id|number|numero|matricula|nummer|matrikelnummer)$/,
  className: /^(class|course|class name)$|^(turma|curso|clase|classe|cours|klasse|kurs)$/,
  group: /^(group|set|table)$|^(grupo|groupe|gruppe)$/,
  extraTime: /^extra time$|^(time factor|tempo extra|tiempo extra|temps supplementaire|zeitzuschlag)$/,
};

export interface ListColumns {
  /** What each column holds; null for what is not read. */
  columns: (ListField | null)[];
  /** The first row names the columns. */
  hasHeader: boolean;
}

/**
 * What the columns of a table hold: by their headings, or, without any, by what is in them.
 * @param rows cells by row
 */
export function columnsOf(rows: readonly (readonly string[])[]): ListColumns {
  const width = rows.slice(0, 50).reduce((w, r) => Math.max(w, r.length), 0);
  const taken = new Set<ListField>();
  const take = (field: ListField | undefined) => {
    if (!field || taken.has(field)) return null;
    taken.add(field);
    return field;
  };
  const first = rows[0] ?? [];
  const columns = Array.from({ length: width }, (_, i) => {
    const heading = plainName(first[i] ?? '');
    return take(LIST_FIELDS.find(f => HEADINGS[f].test(heading)));
  });
  if (columns.some(c => c !== null)) return { columns, hasHeader: true };
  // No headings: a column of addresses, and the first of words.
  const filled = (i: number) => rows.map(r => (r[i] ?? '').trim()).filter(Boolean);
  const mostly = (i: number, what: RegExp) => {
    const cells = filled(i);
    return cells.length > 0 && cells.filter(c => what.test(c)).length >= cells.length * 0.8;
  };
  return {
    columns: columns.map((_, i) =>
      mostly(i, EMAIL) ? take('email') : mostly(i, /\p{L}/u) ? take('name') : null,
    ),
    hasHeader: false,
  };
}

const EMAIL = /^[^\s@]+@[^\s@]+\.[^\s@]+$/;

/** Whether something can be written to by mail, as far as its form tells. */
export function isMailAddress(text: string): boolean {
  return EMAIL.test(text);
}

const MOST = { name: 120, signInName: 120, email: 254, externalId: 120, className: 160, group: 160 } as const;

/**
 * The people of a plain list.
 * @param rows    cells by row, as a CSV reader gives them
 * @param columns what each column holds
 * @param familyLanguages tags of the languages in which families are written to
 */
export function rosterOfList(
  rows: readonly (readonly string[])[],
  { columns, hasHeader }: ListColumns,
  familyLanguages: readonly string[] = ['en'],
): Roster {
  const roster: Roster = { people: [], classes: [], memberships: [], problems: [] };
  const known = new Map<string, string>();
  const seen = new Set<string>();
  rows.forEach((cells, i) => {
    if ((i === 0 && hasHeader) || cells.every(c => !c.trim())) return;
    const row = i + 1;
    const cell = (field: ListField) => {
      const at = columns.indexOf(field);
      return at < 0 ? '' : (cells[at] ?? '').replace(/\s+/g, ' ').trim();
    };
    const name = cell('name') || fullName(cell('givenName'), cell('familyName'));
    const [signInName, email, externalId] = [cell('signInName'), cell('email'), cell('externalId')];
    const extra = factorOf(cell('extraTime'));
    const families = familiesOf(cell('familyEmail'), cell('familyLanguage'), familyLanguages);
    const why = problemOf({
      name,
      signInName,
      email,
      externalId,
      className: cell('className'),
      group: cell('group'),
    });
    if (why || extra === undefined || typeof families === 'string') {
      roster.problems.push({
        row,
        ...(name && { name: name.slice(0, MOST.name) }),
        why:
          why ??
          (typeof families === 'string' ? families : 'has an extra time that is none: write 1.25, or 25 %'),
      });
      return;
    }
    // The same person in two rows is one person in two classes.
    const marks = [
      externalId && `i ${externalId}`,
      signInName && `s ${plainKey(signInName)}`,
      email && `e ${plainKey(email)}`,
    ].filter(Boolean);
    const key = marks.map(m => known.get(m)).find(Boolean) ?? `row ${row}`;
    for (const m of marks) known.set(m, key);
    if (key === `row ${row}`)
      roster.people.push({
        key,
        row,
        name,
        signInName: signInName || null,
        email: email || null,
        externalId: externalId || null,
        role: 'student',
        extraTime: extra,
        families,
      });
    const className = cell('className');
    if (className && !roster.classes.some(c => c.key === className))
      roster.classes.push({ key: className, name: className, externalId: null });
    const place = `${key}\n${className}`;
    if (seen.has(place)) {
      roster.problems.push({ row, name, why: 'is in the list already' });
      return;
    }
    seen.add(place);
    roster.memberships.push({
      personKey: key,
      classKey: className || null,
      role: 'student',
      group: cell('group') || null,
    });
  });
  return roster;
}

/** So many addresses a family may have. */
export const MOST_FAMILY_ADDRESSES = 8;

/**
 * Addresses of a family, one or several in one cell, with one language for all or one for each.
 * @returns them, or what is wrong in words that follow “row 7”
 */
function familiesOf(
  addresses: string,
  languages: string,
  known: readonly string[],
): RosterPerson['families'] | string {
  const emails = [
    ...new Set(
      addresses
        .split(/[\s,;|]+/)
        .filter(Boolean)
        .map(plainKey),
    ),
  ];
  const none = emails.find(e => !isMailAddress(e) || e.length > MOST.email);
  if (none) return `has a family address that is none: ${none.slice(0, 80)}`;
  if (emails.length > MOST_FAMILY_ADDRESSES)
    return `has ${emails.length} family addresses; at most ${MOST_FAMILY_ADDRESSES} are kept`;
  const said = languages
    .split(/[,;|]+/)
    .map(l => l.trim())
    .filter(Boolean);
  const tags = said.map(l => languageNamed(l, known));
  const unknown = tags.indexOf(null);
  if (unknown >= 0)
    return `has a family language that families are not written to in: ${said[unknown]!.slice(0, 40)} (write ${known.join(', ')})`;
  return emails.map((email, i) => ({ email, language: (tags.length > 1 ? tags[i] : tags[0]) ?? null }));
}

const EASTERN = /^[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}々ー]+$/u;

/** A name from its two parts: the family's first where it is written in Chinese, Japanese or Korean. */
export function fullName(given: string, family: string): string {
  const parts = EASTERN.test(given) && EASTERN.test(family) ? [family, given] : [given, family];
  return parts.filter(Boolean).join(' ');
}

/** A sign-in name as it is kept and compared: capitals, and how an accent is put together, make no difference. */
export function signInKey(text: string): string {
  return text.normalize('NFC').trim().toLowerCase();
}

const plainKey = (text: string) => text.toLowerCase();

function problemOf(cells: Record<keyof typeof MOST, string>): string | null {
  if (!/[\p{L}\p{N}]/u.test(cells.name)) return 'has no name';
  for (const [field, most] of Object.entries(MOST))
    if (cells[field as keyof typeof MOST].length > most)
      return `has more than ${most} characters in one cell`;
  if (cells.email && !EMAIL.test(cells.email)) return `has a mail address that is none: ${cells.email}`;
  if (/\s/.test(cells.signInName)) return 'has a sign-in name with spaces';
  return null;
}

/** A factor on time from what people write: 1.25, 1,25, 25 %, 125 %. Null for nothing; undefined for no factor. */
export function factorOf(text: string): number | null | undefined {
  const trimmed = text.trim();
  if (!trimmed || trimmed === '-' || trimmed === '–') return null;
  const parts = /^\+?(\d{1,3}(?:[.,]\d{1,2})?)\s*(%)?$/.exec(trimmed);
  if (!parts) return undefined;
  const value = Number(parts[1]!.replace(',', '.'));
  const factor = parts[2] ? (value >= 100 ? value / 100 : 1 + value / 100) : value;
  return factor >= 1 && factor <= 4 ? factor : undefined;
}

/**
 * A name as names are compared: case, accents, order and punctuation make no difference, in any script.
 */
export function nameKey(name: string): string {
  return plainName(name).split(' ').sort().join(' ');
}

/**
 * A sign-in name for somebody who has none, from their name.
 * @param taken whether one is taken already
 */
export function signInNameFor(name: string, taken: (candidate: string) => boolean): string {
  const base =
    plainName(name)
      .replace(/[^a-z0-9 ]/g, '')
      .trim()
      .replace(/ +/g, '.')
      .slice(0, 60) || 'student';
  for (let n = 1; ; n++) {
    const candidate = n === 1 && base !== 'student' ? base : `${base}${n}`;
    if (!taken(candidate)) return candidate;
  }
}
