/** Which contributions somebody may hear, and as what. */
import { createHmac } from 'node:crypto';
import type { Contribution, ContributionState } from '@ecoute/contract/discussions';
import type { Said } from '@ecoute/core/discussions/talk';
import type { ContributionRow } from './store';

export interface Viewer {
  personId: string;
  leads: boolean;
  /** Of a student whose discussion is shared out; null hears what is for everybody. */
  circle: number | null;
  heard: ReadonlySet<string>;
  /** What somebody is called, and the number that stands for it. */
  called: (row: ContributionRow) => { authorName: string; number: number | null };
  /** Keys for authors are worked out with it. */
  secret: Buffer;
  /** Other students are heard once one has contributed oneself. */
  isBeforeOwn: boolean;
  /** Has left the class: hears nobody but themselves. */
  hasLeft?: boolean;
  /** What is wrong with a recording, in words. */
  problemOf: (row: ContributionRow) => string | null;
}

/** What stands for a person in one discussion, and in no other. */
export function authorKey(secret: Buffer, personId: string): string {
  return createHmac('sha256', secret).update(`author ${personId}`).digest('hex').slice(0, 16);
}

/** Its sound is here, or it has none. */
export const isWhole = (row: Pick<ContributionRow, 'voiceId' | 'voiceState'>) =>
  row.voiceId === null || row.voiceState === 'stored';

/** It is in, and nobody has taken it out again in any way; its author has done their part. */
export const stands = (row: ContributionRow) =>
  row.putInAt !== null &&
  row.takenBackAt === null &&
  row.replacedAt === null &&
  row.hiddenAt === null &&
  isWhole(row);

function stateOf(row: ContributionRow): ContributionState {
  // Put in before it was looked at, and it does not stand: its author is told, and nobody waits for it.
  if (row.putInAt === null || (row.voiceState === 'refused' && !row.takenBackAt)) return 'draft';
  if (row.takenBackAt) return 'takenBack';
  if (row.hiddenAt) return 'hidden';
  if (!isWhole(row)) return 'coming';
  return row.letInAt ? 'here' : 'waiting';
}

/** What was corrected, by what stands in its place now. */
export function successors(all: readonly ContributionRow[]): (id: string) => string {
  const by = new Map(
    all.flatMap(r => (r.correctsId && r.putInAt && !r.takenBackAt ? [[r.correctsId, r.id] as const] : [])),
  );
  const replaced = new Set(all.filter(r => r.replacedAt).map(r => r.id));
  return id => {
    let now = id;
    // A correction of a correction; no chain is longer than there are corrections.
    for (let n = 0; n <= by.size && replaced.has(now) && by.has(now); n++) now = by.get(now)!;
    return now;
  };
}

/** What was said, as core counts it: what stands alone, with replies to what was corrected at what corrects it. */
export function saidIn(all: readonly ContributionRow[]): Said[] {
  const now = successors(all);
  return all.filter(stands).map(r => ({
    id: r.id,
    authorId: r.authorId,
    parentId: r.parentId && now(r.parentId),
    topicId: r.topicId,
    atMs: r.putInAt!.getTime(),
    durationMs: r.durationMs,
  }));
}

/**
 * Contributions as somebody sees them. What is heard no more leaves its place behind as long as replies hang on it.
 * @param all everything that was put in, and the drafts of whoever looks
 */
export function shownTo(viewer: Viewer, all: readonly ContributionRow[]): Contribution[] {
  const now = successors(all);
  // Looked up once for all: a long discussion has hundreds of them.
  const replaced = new Map<string, ContributionRow[]>();
  for (const row of all)
    if (row.replacedAt) {
      const by = now(row.id);
      replaced.set(by, [row, ...(replaced.get(by) ?? [])]);
    }
  const answeredBy = new Map<string, Set<string>>();
  for (const row of all)
    if (row.parentId && row.putInAt && !row.takenBackAt && !row.hiddenAt) {
      const parent = now(row.parentId);
      answeredBy.set(parent, (answeredBy.get(parent) ?? new Set()).add(row.authorId));
    }
  const hasReplies = (row: ContributionRow) =>
    [...(answeredBy.get(row.id) ?? [])].some(author => author !== row.authorId);
  const keys = new Map<string, string>();
  const keyOf = (authorId: string) => {
    const key = keys.get(authorId) ?? authorKey(viewer.secret, authorId);
    keys.set(authorId, key);
    return key;
  };
  const isMine = (row: ContributionRow) => row.authorId === viewer.personId;
  const isNear = (row: ContributionRow) =>
    viewer.leads || isMine(row) || row.circle === 0 || row.circle === viewer.circle;
  const isStudents = (row: ContributionRow) => row.sittingId !== null;
  const near = all.filter(
    r =>
      !r.replacedAt &&
      isNear(r) &&
      // A draft that was let go of is nothing any more.
      (r.putInAt !== null || (isMine(r) && !r.takenBackAt && r.voiceProblem !== 'cancelled')) &&
      !(viewer.isBeforeOwn && isStudents(r) && !isMine(r)) &&
      !(viewer.hasLeft && !isMine(r)),
  );
  const isHeard = (r: ContributionRow) => {
    const state = stateOf(r);
    if (state === 'here') return true;
    if (state === 'takenBack') return false;
    return isMine(r) || (viewer.leads && (state === 'waiting' || state === 'hidden'));
  };
  const heard = near.filter(isHeard);
  const byId = new Map(near.map(r => [r.id, r]));
  const places = new Map<string, ContributionRow>();
  for (const row of heard)
    for (
      let parent = row.parentId ? byId.get(now(row.parentId)) : undefined;
      parent && !isHeard(parent) && !places.has(parent.id);
      parent = parent.parentId ? byId.get(now(parent.parentId)) : undefined
    )
      if (stateOf(parent) !== 'draft') places.set(parent.id, parent);
  const common = (row: ContributionRow) => ({
    id: row.id,
    circle: row.circle,
    topicId: row.topicId,
    parentId: row.parentId && now(row.parentId),
    correctsId: stateOf(row) === 'draft' ? row.correctsId : null,
    at: (row.putInAt ?? row.madeAt).toISOString(),
    state: stateOf(row),
    isTeacher: !isStudents(row),
    isMine: isMine(row),
  });
  const whole = heard.map((row): Contribution => {
    const knows = viewer.leads || isMine(row);
    return {
      ...common(row),
      ...viewer.called(row),
      author: keyOf(row.authorId),
      fromMs: row.fromMs,
      toMs: row.toMs,
      voiceId: row.voiceId,
      voiceState: row.voiceState,
      problem: knows ? viewer.problemOf(row) : null,
      durationMs: row.durationMs,
      medium: row.medium,
      pictureId: row.pictureId,
      title: row.title,
      words: row.words,
      earlier: knows
        ? (replaced.get(row.id) ?? []).map(({ id, voiceId, durationMs, words }) => ({
            id,
            voiceId,
            durationMs,
            words,
          }))
        : [],
      hiddenFor: knows && row.hiddenAt ? row.hiddenFor : null,
      heard: isMine(row) || viewer.heard.has(row.id),
      mayTakeBack: isMine(row) && !hasReplies(row),
    };
  });
  const left = [...places.values()].map((row): Contribution => ({
    ...common(row),
    author: '',
    authorName: '',
    number: null,
    fromMs: null,
    toMs: null,
    voiceId: null,
    voiceState: null,
    problem: null,
    durationMs: null,
    medium: null,
    pictureId: null,
    title: '',
    words: '',
    earlier: [],
    hiddenFor: null,
    heard: true,
    mayTakeBack: false,
  }));
  // Instants as text of one form: their order is that of their letters.
  return [...whole, ...left].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : a.id < b.id ? -1 : 1));
}
