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

/** A lane without what is as usual: of thousands that is two thirds of what would be written, sent and read. */
export type BriefLane = Omit<Lane, keyof typeof USUAL> & Partial<Lane>;
export type BriefView = Omit<ListenView, 'lanes'> & { lanes: BriefLane[] };

/** Whether two values say the same: plain ones, empty lists, and records of plain ones. */
function isAlike(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const names = Object.keys(b);
  return (
    Object.keys(a).length === names.length &&
    names.every(name => (a as Record<string, unknown>)[name] === (b as Record<string, unknown>)[name])
  );
}

function briefLane(lane: Lane): BriefLane {
  const kept: Record<string, unknown> = {};
  for (const name in lane) {
    const value = lane[name as keyof Lane];
    if (!(name in USUAL) || !isAlike(value, USUAL[name as keyof typeof USUAL])) kept[name] = value;
  }
  return kept as unknown as BriefLane;
}

/** For sending: each lane without what is as usual. */
export function brief(view: ListenView): BriefView {
  return { ...view, lanes: view.lanes.map(briefLane) };
}

/**
 * What was sent briefly, whole again. It says of each lane that it never changes: a store that goes through all that lies in
 * thousands of them to see to it takes a fifth of a second.
 */
export function whole(view: BriefView): ListenView {
  const lanes = view.lanes.map((lane): Lane => Object.freeze({ ...USUAL, ...lane }) as Lane);
  return Object.freeze({ ...view, lanes: Object.freeze(lanes) as Lane[] });
}
