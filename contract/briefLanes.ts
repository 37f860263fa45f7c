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

/** What a lane says for itself, whatever it is. */
type Always = 'takeId' | 'durationMs' | 'together' | 'talk';
/** What it says where it is not as usual. */
export type Field = keyof typeof USUAL;
// A field that is new has to be named in one place or the other.
true satisfies [Exclude<keyof Lane, Field | keyof Whose | 'itemId' | Always>] extends [never] ? true : false;

export type Said = Partial<Pick<Lane, Field>>;

function isUsual(value: unknown, usual: unknown): boolean {
  if (value === usual) return true;
  if (Array.isArray(usual)) return (value as unknown[]).length === 0;
  if (usual === null || typeof usual !== 'object' || value === null) return false;
  for (const part in usual) if ((value as typeof usual)[part as never] !== usual[part as never]) return false;
  return true;
}

/** What of some fields is not as usual goes among what a lane says for itself. */
export function say(own: Said, fields: Said): void {
  for (const name in fields) {
    const value = fields[name as Field];
    if (!isUsual(value, USUAL[name as Field])) (own as Record<string, unknown>)[name] = value;
  }
}

/** Lanes that are put down for sending. */
export class BriefLanes {
  private readonly whose: Whose[] = [];
  private readonly itemIds: string[] = [];
  private readonly lanes: BriefLane[] = [];
  private readonly itemPlaces = new Map<string, number>();
  private readonly whosePlaces = new Map<string, number[]>();

  add(whose: Whose, itemId: string, own: Said & Pick<Lane, Always>): void {
    this.lanes.push([this.whoseAt(whose), this.itemAt(itemId), own]);
  }

  get all(): Pick<BriefView, 'whose' | 'itemIds' | 'lanes'> {
    const { whose, itemIds, lanes } = this;
    return { whose, itemIds, lanes };
  }

  private itemAt(id: string): number {
    const known = this.itemPlaces.get(id);
    if (known !== undefined) return known;
    this.itemPlaces.set(id, this.itemIds.length);
    return this.itemIds.push(id) - 1;
  }

  private whoseAt(one: Whose): number {
    let places = this.whosePlaces.get(one.sittingId);
    if (!places) this.whosePlaces.set(one.sittingId, (places = []));
    // An answer that several gave as one carries other names than the same student's others.
    for (const at of places) {
      const known = this.whose[at]!;
      if (known.studentName === one.studentName && known.studentCalled === one.studentCalled) return at;
    }
    places.push(this.whose.length);
    return this.whose.push(one) - 1;
  }
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
