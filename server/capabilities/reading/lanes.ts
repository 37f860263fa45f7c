import { isBack } from '@ecoute/core/timing/sittingState';
import { calledName } from '@ecoute/core/feedback/comments';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isSilent } from '@ecoute/core/audio/peaks';
import { BriefLanes, say, type BriefView, type Field, type Said } from '@ecoute/contract/briefLanes';
import type { Lane, TalkInLane } from '@ecoute/contract/marking';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { Note } from '@ecoute/contract/notes';
import type { Queryable } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { askView, replyView } from '../replies/service';
import { asksOf, heardOf, repliesOf } from '../replies/store';
import { inPlace, ownNotesIn, sharedNotesOf } from '../notes/store';
import { studentsFrom, type StudentStanding } from '../releases/standing';
import { findRelease, timesOf, type ReleaseRow } from '../releases/store';
import { standings } from '../releases/standings.store';
import type { HeardRow } from '../recordings/store';
import { passedOf } from '../sittings/store';
import { heardTakesOf, judgementsOf, writtenOf, type TakeRow } from '../sittings/answers.store';
import { togetherOf } from '../sittings/joint.store';
import { usedIn } from '../sittings/events.store';
import { namesChangesOf } from '../releases/names.store';
import { codeNames } from '../releases/names';
import * as store from '../marks/store';
import { markView } from '../marks/view';
import { markupsIn } from '../markups/store';
import { talksOf, writtenInTalk } from './talks';
import { againOf, grouped, placedOf, usedFor } from './views';

type NameOf = Awaited<ReturnType<typeof codeNames>>;
type HeardTake = TakeRow<HeardRow>;

/** What is about the whole sitting lies on each of its lanes. */
const belongs = ({ itemId }: { itemId: string | null }, ofItem: string) =>
  itemId === null || itemId === ofItem;

/** When a sitting has its feedback automatically; null where it was, or nothing is set. */
function feedbackComesAt({ counting, standing }: StudentStanding): string | null {
  return isBack(standing.state) ? null : (counting?.feedbackAt?.toISOString() ?? null);
}

/** Things by the item that they belong to. */
type ByItem<T> = ReadonlyMap<string, readonly T[]>;

/**
 * Things by the answer that they belong to: by the sitting, then by the item. A key of both for each of thousands costs more
 * than what is looked for.
 */
function byAnswer<T extends { sittingId: string; itemId: string }>(all: readonly T[]) {
  const found = new Map<string, Map<string, T[]>>();
  for (const one of all) {
    let own = found.get(one.sittingId);
    if (!own) found.set(one.sittingId, (own = new Map<string, T[]>()));
    const there = own.get(one.itemId);
    if (there) there.push(one);
    else own.set(one.itemId, [one]);
  }
  return { of: (sittingId: string): ByItem<T> => found.get(sittingId) ?? NONE };
}

const NONE: ReadonlyMap<string, never> = new Map<string, never>();
const NOTHING: readonly never[] = [];

/** What is heard of a release, and what was noted at moments of it. */
function soundIn(db: Queryable, { id: releaseId, content }: ReleaseRow) {
  return Promise.all([
    heardTakesOf(db, { releaseId }, planOf(content) !== null),
    ownNotesIn(db, { releaseId }),
  ]);
}

/** What is heard of some sittings, and what lies at moments of it. */
async function soundingOf(
  db: Queryable,
  release: ReleaseRow,
  sat: readonly { sittingId: string; studentId: string; feedbackAt: Date | null }[],
  [all, own]: Awaited<ReturnType<typeof soundIn>>,
  nameOf: NameOf,
) {
  const ids = new Set(sat.map(s => s.sittingId));
  const takes = all.filter(t => ids.has(t.sittingId));
  const joint = takes.flatMap(t => (t.jointId === null ? [] : [t.id]));
  const notes = grouped(inPlace(own, await sharedNotesOf(db, joint)), n => n.takeId);
  const talks = await talksOf(db, release, sat, {
    notes,
    takes,
    nameOf: row => (nameOf && row.sittingId ? nameOf(row.authorId) : row.authorName),
  });
  const together = await togetherOf(db, takes, nameOf);
  return { takes, notes, talks, together };
}

/** What was written of a release, by students and by whoever listens: also of sittings that do not count any more. */
async function writtenIn(db: Queryable, releaseId: string) {
  const its = { releaseId };
  return {
    writtenBy: byAnswer(await writtenOf(db, its)),
    judged: byAnswer(await judgementsOf(db, its)),
    passed: await passedOf(db, releaseId),
    used: byAnswer(await usedIn(db, its)),
    marks: byAnswer(await store.marksOf(db, its)),
    marked: byAnswer(await markupsIn(db, its)),
    levels: await store.levelsOf(db, its),
    praise: byAnswer(await store.praiseOf(db, its)),
    asks: grouped(await asksOf(db, its), a => a.sittingId),
    replies: grouped(await repliesOf(db, its), r => r.sittingId),
    heard: byAnswer(await heardOf(db, its)),
    namesChanges: await namesChangesOf(db, releaseId),
  };
}

/** A sitting of which lanes are made, and what there is of it. */
type Sitting = ReturnType<typeof sittingsIn>[number];

/** All that is said of the lanes of one sitting. */
type OfSitting = Pick<
  Lane,
  | 'state'
  | 'late'
  | 'askedAgain'
  | 'excused'
  | 'sittingNumber'
  | 'isAllowed'
  | 'againFor'
  | 'overallJudgement'
  | 'feedbackComesAt'
  | 'feedbackOpened'
  | 'level'
  | 'levelRevision'
>;
/** … of what is heard on one of them … */
type OfTake = Pick<
  Lane,
  | 'again'
  | 'silent'
  | 'medium'
  | 'fileName'
  | 'placed'
  | 'source'
  | 'wholeMs'
  | 'cutShort'
  | 'holes'
  | 'lost'
  | 'saidMs'
  | 'title'
  | 'note'
  | 'pictureId'
  | 'takes'
  | 'notes'
>;
/** … and of what was said about it, by its student and by whoever listens. */
type OfAnswer = Pick<
  Lane,
  'marked' | 'judgement' | 'asks' | 'replies' | 'heardAt' | 'praise' | 'used' | 'written' | 'passed' | 'mark'
>;
// Nothing that a lane can say is left out.
true satisfies [Exclude<Field, keyof (OfSitting & OfTake & OfAnswer)>] extends [never] ? true : false;

/** The sittings that are heard, each with what belongs to it: looked up once for all of its items. */
function sittingsIn(
  students: readonly StudentStanding[],
  isHidden: (s: StudentStanding) => boolean,
  written: Awaited<ReturnType<typeof writtenIn>>,
) {
  return students.flatMap(s => {
    const { counting } = s;
    const hidden = isHidden(s);
    // While names are hidden, what is under way is not heard: the overview says by name who is recording just now.
    if (!counting || (hidden && !counting.handedInAt)) return [];
    const { id } = counting;
    // Not spread: adding to a copy of a row takes many times as long (decision 56).
    return {
      student: s,
      counting,
      standing: s.standing,
      sittingId: id,
      studentId: s.studentId,
      feedbackAt: counting.feedbackAt,
      isHidden: hidden,
      written: written.writtenBy.of(id),
      judged: written.judged.of(id),
      used: written.used.of(id),
      marks: written.marks.of(id),
      marked: written.marked.of(id),
      praise: written.praise.of(id),
      asks: written.asks.get(id) ?? NOTHING,
      replies: written.replies.get(id) ?? NOTHING,
      heard: written.heard.of(id),
      overall: written.levels.get(id),
    };
  });
}

function ofSitting(s: Sitting, { sittingsAllowed }: ReleaseRow): OfSitting {
  const { standing, counting, isHidden, overall } = s;
  return {
    state: standing.state,
    // Late, and heard by when: the overview says that by name.
    late: standing.late && !isHidden,
    askedAgain: standing.askedAgain,
    excused: standing.excused && !isHidden,
    sittingNumber: isHidden ? 1 : counting.number,
    isAllowed: !isHidden && sittingsAllowed > 0 && counting.number > sittingsAllowed,
    againFor: isHidden ? null : counting.againFor,
    overallJudgement: s.judged.get(s.sittingId)?.[0]?.judgement ?? null,
    feedbackComesAt: feedbackComesAt(s.student),
    feedbackOpened: counting.opened,
    level: overall?.level ?? null,
    levelRevision: overall?.revision ?? 0,
  };
}

/** @param own all takes of the answer @returns without a take, what is then not as usual */
function ofTake(
  s: Sitting,
  take: HeardTake | null,
  own: readonly HeardTake[],
  markedAt: Date | null,
  notes: ReadonlyMap<string, Note[]>,
): OfTake | Pick<OfTake, 'medium' | 'source' | 'takes' | 'lost'> {
  const takes = own.reduce((n, t) => n + Number(t.stands), 0);
  if (!take)
    return { medium: null, source: null, takes, lost: own.some(t => t.recording.problem === 'lost') };
  const { recording } = take;
  const { fileName, wholeMs } = recording;
  return {
    again: againOf(take, own, markedAt, notes),
    silent: recording.medium === 'sound' && recording.peakDbfs !== null && isSilent(recording.peakDbfs),
    medium: recording.medium,
    // People put their names into those of their files.
    fileName: s.isHidden && fileName ? fileName.replace(/^.*?(\.[a-z0-9]{1,8})?$/i, 'file$1') : fileName,
    placed: placedOf(take),
    source: take.source,
    wholeMs,
    cutShort: recording.endedEarlyAt !== null,
    holes: (wholeMs === null && recording.details?.holes) || [],
    lost: false,
    saidMs: take.claimedAt ? take.claimedAt.getTime() - take.beganAt.getTime() : null,
    title: take.title,
    note: take.note,
    pictureId: take.pictureId,
    takes,
    notes: notes.get(take.id) ?? [],
  };
}

function ofAnswer(
  s: Sitting,
  itemId: string,
  mark: store.MarkRow | undefined,
  { talk, passed }: { talk: TalkInLane | undefined; passed: ReadonlySet<string> },
): OfAnswer {
  const { sittingId, isHidden } = s;
  const marked = s.marked.get(itemId) ?? NOTHING;
  const heardAt = isHidden ? undefined : s.heard.get(itemId)?.[0]?.heardAt;
  return {
    marked: marked.length === 0 ? [] : [...new Set(marked.map(m => m.kind))],
    judgement: s.judged.get(itemId)?.[0]?.judgement ?? null,
    asks: s.asks.filter(a => belongs(a, itemId)).map(askView),
    replies: s.replies
      .filter(r => belongs(r, itemId))
      .map(r => (isHidden && r.fromStudent ? { ...replyView(r), authorName: '' } : replyView(r))),
    heardAt: heardAt?.toISOString() ?? null,
    praise: (s.praise.get(itemId) ?? NOTHING).map(p => p.words),
    used: usedFor(s.used.get(itemId) ?? NOTHING, sittingId, itemId),
    written: talk ? writtenInTalk(talk) : (s.written.get(itemId)?.[0]?.text ?? null),
    passed: passed.size > 0 && passed.has(`${sittingId} ${itemId}`),
    mark: mark ? markView(mark) : null,
  };
}

/**
 * Everything the lanes of a release need: students in order of name, items in order of the assessment. What is under
 * way lies among them as far as it was recorded. Where names are hidden, nothing here tells whose a recording is
 * before its feedback is given: no name, no person's id, no file's name, no order of the alphabet.
 */
export async function lanesOf(db: Queryable, releaseId: string): Promise<BriefView> {
  const release = await findRelease(db, releaseId);
  if (!release) throw notFound();
  const nameOf = await codeNames(db, release);
  const isHidden = (s: StudentStanding) => nameOf !== null && !isBack(s.standing.state);
  const called = (s: StudentStanding) => (isHidden(s) ? nameOf!(s.studentId) : s.displayName);
  // By the release and not by its sittings: all is asked at once, what is longest on its way first.
  const [sound, written, standing] = await Promise.all([
    soundIn(db, release),
    writtenIn(db, releaseId),
    standings(db, [releaseId]),
  ]);
  const students = studentsFrom(timesOf(release), standing, Date.now());
  if (nameOf) students.sort((a, b) => (called(a) < called(b) ? -1 : 1));
  const sat = sittingsIn(students, isHidden, written);
  const { takes, notes, talks, together } = await soundingOf(db, release, sat, sound, nameOf);
  const takesOf = byAnswer<HeardTake>(takes);
  // What some people gave as one is heard once: on the lane of the one whose device recorded it, or who began its turns.
  const led = new Set(takes.flatMap(t => (t.jointId !== null && !t.isCopy ? [t.jointId] : [])));
  const ofEach = sat.map(s => {
    const common: Said = {};
    say(common, ofSitting(s, release));
    const { sittingId, studentId, student } = s;
    const studentName = called(student);
    const whose = s.isHidden
      ? { sittingId, studentId: null, studentName, studentCalled: null }
      : { sittingId, studentId, studentName, studentCalled: calledName(student.displayName, student.called) };
    return {
      s,
      common: Object.entries(common),
      whose,
      takes: takesOf.of(sittingId),
      talk: talks?.get(sittingId),
    };
  });
  const lanes = new BriefLanes();
  for (const item of release.content.items.filter(i => i.answerBy !== 'nothing'))
    for (const { s, common, whose, takes: ofItems, talk } of ofEach) {
      const own = ofItems.get(item.id) ?? NOTHING;
      const take = talks
        ? (own.find(t => t.id === talk?.contributions.find(c => c.takeId)?.takeId) ?? null)
        : countingTake<HeardTake>(own);
      if (talks && !talk) continue;
      // Nothing is heard of an answer that is only begun.
      if (s.standing.state === 'underWay' && !take && !talk) continue;
      const joint = take && together.get(take.id);
      if (take?.isCopy && joint && led.has(joint.jointId)) continue;
      const isAlike = joint !== undefined && joint !== null && !joint.apart && joint.names.length > 0;
      const mark = s.marks.get(item.id)?.[0];
      const lane: Said & Pick<Lane, 'takeId' | 'durationMs' | 'together' | 'talk'> = {
        takeId: take?.id ?? null,
        durationMs: take?.durationMs ?? null,
      };
      for (const [name, value] of common) (lane as Record<string, unknown>)[name] = value;
      say(lane, ofTake(s, take, own, mark?.updatedAt ?? null, notes));
      say(lane, ofAnswer(s, item.id, mark, { talk, passed: written.passed }));
      if (joint) lane.together = joint;
      if (talk) lane.talk = talk;
      // A comment calls each of several by their own name once they read it.
      const studentName = isAlike ? [whose.studentName, ...joint.names].join(', ') : '';
      lanes.add(isAlike ? { ...whose, studentName, studentCalled: null } : whose, item.id, lane);
    }
  return {
    releaseId,
    title: release.content.title,
    className: release.className,
    dueAt: release.dueAt.toISOString(),
    content: release.content,
    ...lanes.all,
    namesHidden: release.namesHidden,
    namesChanges: written.namesChanges,
    missing: students
      // Whose voice is missing would be known once it comes: the overview says by name who has not handed in.
      .filter(s => !s.counting?.handedInAt && !s.standing.excused && nameOf === null)
      .map(s => ({
        id: s.studentId,
        displayName: s.displayName,
        setAside: s.sittings.some(x => x.setAside && x.handedInAt !== null),
      })),
  };
}
