import { isBack } from '@ecoute/core/timing/sittingState';
import { calledName } from '@ecoute/core/feedback/comments';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isSilent } from '@ecoute/core/audio/peaks';
import type { Lane, ListenView } from '@ecoute/contract/marking';
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
  return {
    at: (sittingId: string, itemId: string): readonly T[] => found.get(sittingId)?.get(itemId) ?? NOTHING,
  };
}

const NOTHING: readonly never[] = [];

/** What is heard of a release, and what was noted at moments of it. */
function soundIn(db: Queryable, releaseId: string) {
  return Promise.all([heardTakesOf(db, { releaseId }), ownNotesIn(db, { releaseId })]);
}

/** What is heard of some sittings, and what lies at moments of it. */
async function soundingOf(
  db: Queryable,
  release: ReleaseRow,
  sat: readonly (StudentStanding & { sittingId: string; feedbackAt: Date | null })[],
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

/**
 * Everything the lanes of a release need: students in order of name, items in order of the assessment. What is under
 * way lies among them as far as it was recorded. Where names are hidden, nothing here tells whose a recording is
 * before its feedback is given: no name, no person's id, no file's name, no order of the alphabet.
 */
export async function lanesOf(db: Queryable, releaseId: string): Promise<ListenView> {
  const release = await findRelease(db, releaseId);
  if (!release) throw notFound();
  const nameOf = await codeNames(db, release);
  const isHidden = (s: StudentStanding) => nameOf !== null && !isBack(s.standing.state);
  const called = (s: StudentStanding) => (isHidden(s) ? nameOf!(s.studentId) : s.displayName);
  // By the release and not by its sittings: all is asked at once, what is longest on its way first.
  const [sound, written, standing] = await Promise.all([
    soundIn(db, releaseId),
    writtenIn(db, releaseId),
    standings(db, [releaseId]),
  ]);
  const students = studentsFrom(timesOf(release), standing, Date.now());
  if (nameOf) students.sort((a, b) => (called(a) < called(b) ? -1 : 1));
  // While names are hidden, what is under way is not heard: the overview says by name who is recording just now.
  const sat = students.flatMap(s =>
    s.counting && (!isHidden(s) || s.counting.handedInAt)
      ? [
          {
            ...s,
            sittingId: s.counting.id,
            feedbackAt: s.counting.feedbackAt,
            calledName: calledName(s.displayName, s.called),
          },
        ]
      : [],
  );
  const { takes, notes, talks, together } = await soundingOf(db, release, sat, sound, nameOf);
  const takesOf = byAnswer<HeardTake>(takes);
  // What some people gave as one is heard once: on the lane of the one whose device recorded it, or who began its turns.
  const led = new Set(takes.flatMap(t => (t.jointId !== null && !t.isCopy ? [t.jointId] : [])));
  const { writtenBy, judged, passed, used, marks, marked, levels, praise, asks, replies, heard } = written;
  const lanes: Lane[] = [];
  for (const item of release.content.items.filter(i => i.answerBy !== 'nothing'))
    for (const s of sat) {
      const { sittingId } = s;
      const own = takesOf.at(sittingId, item.id);
      const talk = talks?.get(s.sittingId);
      const take = talks
        ? (own.find(t => t.id === talk?.contributions.find(c => c.takeId)?.takeId) ?? null)
        : countingTake<HeardTake>(own);
      if (talks && !talk) continue;
      // Nothing is heard of an answer that is only begun.
      if (s.standing.state === 'underWay' && !take && !talk) continue;
      const joint = take && together.get(take.id);
      if (take?.isCopy && joint && led.has(joint.jointId)) continue;
      const isAlike = joint !== undefined && joint !== null && !joint.apart && joint.names.length > 0;
      const mark = marks.at(sittingId, item.id)[0];
      const fileName = take?.recording.fileName ?? null;
      const lane: Lane = {
        sittingId,
        studentId: isHidden(s) ? null : s.studentId,
        studentName: isAlike ? [called(s), ...joint.names].join(', ') : called(s),
        // A comment calls each of several by their own name once they read it.
        studentCalled: isHidden(s) || isAlike ? null : s.calledName,
        itemId: item.id,
        state: s.standing.state,
        // Late, and heard by when: the overview says that by name.
        late: s.standing.late && !isHidden(s),
        askedAgain: s.standing.askedAgain,
        excused: s.standing.excused && !isHidden(s),
        marked: [...new Set(marked.at(sittingId, item.id).map(m => m.kind))],
        again: againOf(take, own, mark?.updatedAt ?? null, notes),
        sittingNumber: isHidden(s) ? 1 : s.counting!.number,
        isAllowed:
          !isHidden(s) && release.sittingsAllowed > 0 && s.counting!.number > release.sittingsAllowed,
        againFor: isHidden(s) ? null : s.counting!.againFor,
        takeId: take?.id ?? null,
        durationMs: take?.durationMs ?? null,
        silent:
          take?.recording.medium === 'sound' &&
          take.recording.peakDbfs !== null &&
          isSilent(take.recording.peakDbfs),
        medium: take?.recording.medium ?? null,
        // People put their names into those of their files.
        fileName: isHidden(s) && fileName ? fileName.replace(/^.*?(\.[a-z0-9]{1,8})?$/i, 'file$1') : fileName,
        placed: placedOf(take),
        source: take?.source ?? null,
        wholeMs: take?.recording.wholeMs ?? null,
        cutShort: take?.recording.endedEarlyAt != null,
        holes: (take?.recording.wholeMs == null && take?.recording.details?.holes) || [],
        lost: !take && own.some(t => t.recording.problem === 'lost'),
        saidMs: take?.claimedAt ? take.claimedAt.getTime() - take.beganAt.getTime() : null,
        title: take?.title ?? '',
        note: take?.note ?? '',
        pictureId: take?.pictureId ?? null,
        judgement: judged.at(sittingId, item.id)[0]?.judgement ?? null,
        overallJudgement: judged.at(sittingId, sittingId)[0]?.judgement ?? null,
        takes: own.filter(t => t.stands).length,
        notes: take ? (notes.get(take.id) ?? []) : [],
        asks: (asks.get(s.sittingId) ?? []).filter(a => belongs(a, item.id)).map(askView),
        replies: (replies.get(s.sittingId) ?? [])
          .filter(r => belongs(r, item.id))
          .map(r => (isHidden(s) && r.fromStudent ? { ...replyView(r), authorName: '' } : replyView(r))),
        heardAt: isHidden(s) ? null : (heard.at(sittingId, item.id)[0]?.heardAt.toISOString() ?? null),
        feedbackComesAt: feedbackComesAt(s),
        feedbackOpened: s.counting!.opened,
        praise: praise.at(sittingId, item.id).map(p => p.words),
        used: usedFor(used.at(sittingId, item.id), sittingId, item.id),
        written: talk ? writtenInTalk(talk) : (writtenBy.at(sittingId, item.id)[0]?.text ?? null),
        passed: passed.has(`${sittingId} ${item.id}`),
        level: levels.get(s.sittingId)?.level ?? null,
        levelRevision: levels.get(s.sittingId)?.revision ?? 0,
        mark: mark ? markView(mark) : null,
      };
      // Put in afterwards: spread into each of thousands they cost more than all else here.
      if (joint) lane.together = joint;
      if (talk) lane.talk = talk;
      lanes.push(lane);
    }
  return {
    releaseId,
    title: release.content.title,
    className: release.className,
    dueAt: release.dueAt.toISOString(),
    content: release.content,
    lanes,
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
