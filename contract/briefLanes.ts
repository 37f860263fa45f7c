import type { Lane, ListenView } from './marking';

/** What most lanes say in most of their fields: nothing. */
const USUAL = {
  state: 'handedIn',
  late: false,
  askedAgain: false,
  excused: false,
  marked: [],
  again: null,
  sittingNumber: 1,
  isAllowed: false,
  againFor: null,
  silent: false,
  medium: 'sound',
  fileName: null,
  placed: { clock: null, gateMs: null },
  source: 'recorded',
  wholeMs: null,
  cutShort: false,
  holes: [],
  lost: false,
  saidMs: null,
  title: '',
  note: '',
  pictureId: null,
  judgement: null,
  overallJudgement: null,
  takes: 1,
  notes: [],
  asks: [],
  replies: [],
  heardAt: null,
  feedbackComesAt: null,
  feedbackOpened: false,
  praise: [],
  used: { hearings: 0, hints: 0, readAlouds: 0 },
  written: null,
  passed: false,
  level: null,
  levelRevision: 0,
  mark: null,
} satisfies Partial<Lane>;

for (const value of Object.values(USUAL)) Object.freeze(value);

/** What the lanes of one student have in common. */
type Whose = Pick<Lane, 'sittingId' | 'studentId' | 'studentName' | 'studentCalled'>;

/**
 * A lane without what is as usual, or is said once for many: of thousands that is nine tenths of what would be written,
 * sent and read. Whose it is, which item it answers (both by their places in the view), and what it says for itself.
 */
export type BriefLane = [whose: number, item: number, own: Partial<Lane>];
export type BriefView = Omit<ListenView, 'lanes'> & {
  whose: Whose[];
  itemIds: string[];
  lanes: BriefLane[];
};

type Field = keyof typeof USUAL;
const fields = Object.entries(USUAL) as [Field, unknown][];
/** By what they are: fifty fields of thousands of lanes are looked at, and each in the way that takes least. */
const LISTS = fields.flatMap(([name, value]) => (Array.isArray(value) ? [name] : []));
const RECORDS = fields.flatMap(([name, value]) =>
  value !== null && typeof value === 'object' && !Array.isArray(value)
    ? [[name, Object.entries(value)] as const]
    : [],
);
const PLAIN = fields.filter(([, value]) => value === null || typeof value !== 'object');

/** What each lane says for itself, whatever it is. */
const ALWAYS = ['takeId', 'durationMs', 'together', 'talk'] as const satisfies readonly (keyof Lane)[];
// A field that is new has to be named in one place or the other.
true satisfies [Exclude<keyof Lane, Field | keyof Whose | 'itemId' | (typeof ALWAYS)[number]>] extends [never]
  ? true
  : false;

function ownOf(lane: Lane): Partial<Lane> {
  const all = lane as unknown as Record<string, unknown>;
  const own: Record<string, unknown> = {};
  for (const name of ALWAYS) if (all[name] !== undefined) own[name] = all[name];
  for (const [name, value] of PLAIN) if (all[name] !== value) own[name] = all[name];
  for (const name of LISTS) if ((all[name] as unknown[] | null)?.length !== 0) own[name] = all[name];
  for (const [name, parts] of RECORDS) {
    const record = all[name] as Record<string, unknown> | null;
    for (const [part, value] of parts)
      if (record?.[part] !== value) {
        own[name] = record;
        break;
      }
  }
  return own as Partial<Lane>;
}

/** For sending. */
export function brief(view: ListenView): BriefView {
  const whose: Whose[] = [];
  const itemIds: string[] = [];
  const itemOf = new Map<string, number>();
  const whoseOf = new Map<string, number[]>();
  const itemAt = (id: string) => {
    const known = itemOf.get(id);
    if (known !== undefined) return known;
    itemOf.set(id, itemIds.length);
    return itemIds.push(id) - 1;
  };
  const whoseAt = ({ sittingId, studentId, studentName, studentCalled }: Lane) => {
    let places = whoseOf.get(sittingId);
    if (!places) whoseOf.set(sittingId, (places = []));
    // An answer that several gave as one carries other names than the same student's others.
    for (const at of places) {
      const known = whose[at]!;
      if (
        known.studentName === studentName &&
        known.studentCalled === studentCalled &&
        known.studentId === studentId
      )
        return at;
    }
    places.push(whose.length);
    return whose.push({ sittingId, studentId, studentName, studentCalled }) - 1;
  };
  const lanes = view.lanes.map((lane): BriefLane => [whoseAt(lane), itemAt(lane.itemId), ownOf(lane)]);
  return { ...view, whose, itemIds, lanes };
}

/**
 * What was sent briefly, whole again. It says of each lane that it never changes: a store that goes through all that lies in
 * thousands of them to see to it takes a fifth of a second.
 */
export function whole({ whose, itemIds, ...view }: BriefView): ListenView {
  const lanes = view.lanes.map(
    ([of, item, own]): Lane =>
      Object.freeze({ ...USUAL, ...whose[of], itemId: itemIds[item], ...own }) as Lane,
  );
  return Object.freeze({ ...view, lanes: Object.freeze(lanes) as Lane[] });
}
