/**
 * A class's gradebook as the records of OneRoster's gradebook service: categories, line items and results as JSON, each put
 * under an id of its own, so that putting one twice changes nothing. Source: 1EdTech, OneRoster 1.2 gradebook service,
 * information model and REST binding (2022).
 */
import type { Gradebook } from './gradebook';

/** In the order in which they are put: each names those before it. They are removed the other way round. */
export const RECORD_KINDS = ['category', 'lineItem', 'result'] as const;
export type RecordKind = (typeof RECORD_KINDS)[number];

/** How the service calls a record's collection. */
export const COLLECTIONS: Record<RecordKind, string> = {
  category: 'categories',
  lineItem: 'lineItems',
  result: 'results',
};

type Value = string | number | { sourcedId: string; type: string } | undefined;

/** One record as it is sent, but for the instant of its last change. */
export interface GradebookRecord {
  kind: RecordKind;
  sourcedId: string;
  body: Record<string, Value>;
}

/** What has to be sent so that the other side has what is wanted. */
export interface RecordChange {
  act: 'put' | 'remove';
  kind: RecordKind;
  sourcedId: string;
  /** As it is to be; null where it is removed. */
  body: GradebookRecord['body'] | null;
  /** As it was sent last; null where it never was. */
  before: GradebookRecord['body'] | null;
}

const ref = (sourcedId: string, type: string) => ({ sourcedId, type });
const yesNo = (is: boolean) => (is ? 'true' : 'false');

/** The id of what one student has for one line item: the same for as long as both are. */
export const resultId = (lineItemId: string, studentId: string): string => `${lineItemId}-${studentId}`;

/** Among the school's other categories ours are told by their name. */
const categoryId = (id: string) => `ecoute-${id}`;

/** @returns the records of a gradebook, in the order in which they are put */
export function recordsOf(book: Gradebook): GradebookRecord[] {
  const record = (kind: RecordKind, sourcedId: string, body: GradebookRecord['body']): GradebookRecord => ({
    kind,
    sourcedId,
    // Nothing that is not there: bodies are compared as they are kept.
    body: Object.fromEntries(
      Object.entries({ sourcedId, status: 'active', ...body }).filter(([, v]) => v !== undefined && v !== ''),
    ),
  });
  return [
    ...book.categories.map(c => record('category', categoryId(c.id), { title: c.title })),
    ...book.lineItems.map(l =>
      record('lineItem', l.id, {
        title: l.title,
        description: l.description,
        assignDate: l.assignedAt.toISOString(),
        dueDate: l.dueAt.toISOString(),
        class: ref(book.classId, 'class'),
        category: ref(categoryId(l.categoryId), 'category'),
        resultValueMin: l.most === null ? undefined : 0,
        resultValueMax: l.most ?? undefined,
      }),
    ),
    ...book.results.map(r =>
      record('result', resultId(r.lineItemId, r.studentId), {
        lineItem: ref(r.lineItemId, 'lineItem'),
        student: ref(r.studentId, 'user'),
        scoreStatus: r.status,
        score: r.score ?? undefined,
        textScore: r.words,
        scoreDate: r.at?.toISOString().slice(0, 10),
        inProgress: 'false',
        incomplete: 'false',
        late: yesNo(r.isLate),
        missing: yesNo(r.status === 'not submitted'),
      }),
    ),
  ];
}

/** The same text for the same record, in whatever order its fields were kept. */
export function written(body: GradebookRecord['body']): string {
  const sorted = (value: unknown): unknown =>
    value !== null && typeof value === 'object'
      ? Object.fromEntries(
          Object.entries(value)
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([k, v]) => [k, sorted(v)]),
        )
      : value;
  return JSON.stringify(sorted(body));
}

const keyOf = (r: { kind: RecordKind; sourcedId: string }) => `${r.kind} ${r.sourcedId}`;

/**
 * What is new, changed or no longer there since something was sent. What is put names what was put before it; what is
 * removed goes results first. Categories stay: other classes may count in them.
 */
export function changesBetween(
  wanted: readonly GradebookRecord[],
  sent: readonly GradebookRecord[],
): RecordChange[] {
  const before = new Map(sent.map(r => [keyOf(r), r]));
  const stays = new Set(wanted.map(keyOf));
  const place = (r: { kind: RecordKind }) => RECORD_KINDS.indexOf(r.kind);
  const puts = wanted
    .filter(r => {
      const old = before.get(keyOf(r));
      return !old || written(old.body) !== written(r.body);
    })
    .map((r): RecordChange => ({ act: 'put', ...r, before: before.get(keyOf(r))?.body ?? null }))
    .sort((a, b) => place(a) - place(b));
  const removals = sent
    .filter(r => r.kind !== 'category' && !stays.has(keyOf(r)))
    .map((r): RecordChange => ({
      act: 'remove',
      kind: r.kind,
      sourcedId: r.sourcedId,
      body: null,
      before: r.body,
    }))
    .sort((a, b) => place(b) - place(a));
  return [...puts, ...removals];
}

/** What a person reads of a result: its score, its words, or why there is none. */
export function resultWords(body: GradebookRecord['body'] | null): string {
  if (!body) return '';
  if (body.scoreStatus === 'exempt') return 'excused';
  if (body.scoreStatus === 'not submitted') return 'missing';
  return [body.score, body.textScore].filter(v => v !== undefined && v !== '').join(', ') || 'feedback given';
}
