import { isBack } from '@ecoute/core/timing/sittingState';
import { calledName } from '@ecoute/core/feedback/comments';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isSilent } from '@ecoute/core/audio/peaks';
import type { Lane, ListenView } from '@ecoute/contract/marking';
import type { TogetherView } from '@ecoute/contract/together';
import type { Queryable } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { askView, replyView } from '../replies/service';
import { asksOf, heardOf, repliesOf } from '../replies/store';
import { inPlace, ownNotesIn, sharedNotesOf } from '../notes/store';
import { studentsFrom, type StudentStanding } from '../releases/standing';
import { findRelease, timesOf, type ReleaseRow } from '../releases/store';
import { standings } from '../releases/standings.store';
import { passedOf } from '../sittings/store';
import { judgementsOf, takesOfSittings, writtenOf, type TakeRow } from '../sittings/answers.store';
import { togetherOf } from '../sittings/joint.store';
import { usedIn } from '../sittings/events.store';
import { namesChangesOf } from '../releases/names.store';
import { codeNames } from '../releases/names';
import * as store from '../marks/store';
import { markView } from '../marks/view';
import { markupsIn } from '../markups/store';
import { talksOf, writtenInTalk } from './talks';
import { againOf, grouped, judgementIn, placedOf, usedFor } from './views';

type NameOf = Awaited<ReturnType<typeof codeNames>>;

/** What is about the whole sitting lies on each of its lanes. */
const belongs = ({ itemId }: { itemId: string | null }, ofItem: string) =>
  itemId === null || itemId === ofItem;

/** When a sitting has its feedback automatically; null where it was, or nothing is set. */
function feedbackComesAt({ counting, standing }: StudentStanding): string | null {
  return isBack(standing.state) ? null : (counting?.feedbackAt?.toISOString() ?? null);
}

/** Whether the lane is there of the one whose device recorded a joint answer, or who began its turns. */
function isHeardWithLead(
  joint: TogetherView | null | undefined,
  sat: readonly { sittingId: string }[],
  takes: readonly TakeRow[],
): boolean {
  const lead = takes.find(t => t.jointId === joint?.jointId && !t.isCopy);
  return lead !== undefined && sat.some(s => s.sittingId === lead.sittingId);
}

/** Things by the answer that they belong to. */
function byAnswer<T extends { sittingId: string; itemId: string }>(all: readonly T[]): Map<string, T[]> {
  return grouped(all, ({ sittingId, itemId }) => `${sittingId} ${itemId}`);
}

/** What is heard of some sittings, and what lies at moments of it. */
async function soundingOf(
  db: Queryable,
  release: ReleaseRow,
  sat: readonly (StudentStanding & { sittingId: string; feedbackAt: Date | null })[],
  nameOf: NameOf,
) {
  const ids = sat.map(s => s.sittingId);
  const [takes, own] = await Promise.all([takesOfSittings(db, ids), ownNotesIn(db, ids)]);
  const joint = takes.flatMap(t => (t.jointId === null ? [] : [t.id]));
  const notes = grouped(inPlace(own, await sharedNotesOf(db, joint)), n => n.takeId);
  const talks = await talksOf(db, release, sat, {
    notes,
    nameOf: row => (nameOf && row.sittingId ? nameOf(row.authorId) : row.authorName),
  });
  const together = await togetherOf(db, takes, nameOf);
  return { takes, notes, talks, together };
}

/** What was written of some sittings, by students and by whoever listens. */
async function writtenAbout(db: Queryable, ids: readonly string[]) {
  return {
    writtenBy: byAnswer(await writtenOf(db, ids)),
    judgements: await judgementsOf(db, ids),
    passed: await passedOf(db, ids),
    used: byAnswer(await usedIn(db, ids)),
    marks: byAnswer(await store.marksOf(db, ids)),
    marked: byAnswer(await markupsIn(db, ids)),
    levels: await store.levelsOf(db, ids),
    praise: byAnswer(await store.praiseOf(db, ids)),
    asks: await asksOf(db, ids),
    replies: await repliesOf(db, ids),
    heard: byAnswer(await heardOf(db, ids)),
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
  const students = studentsFrom(timesOf(release), await standings(db, [releaseId]), Date.now());
  if (nameOf) students.sort((a, b) => (called(a) < called(b) ? -1 : 1));
  // While names are hidden, what is under way is not heard: the overview says by name who is recording just now.
  const sat = students.flatMap(s =>
    s.counting && (!isHidden(s) || s.counting.handedInAt)
      ? [{ ...s, sittingId: s.counting.id, feedbackAt: s.counting.feedbackAt }]
      : [],
  );
  const ids = sat.map(s => s.sittingId);
  // The one half is fetched while the rows of the other are read: two processors, and two of the pool's connections.
  const [sounding, written] = await Promise.all([
    soundingOf(db, release, sat, nameOf),
    writtenAbout(db, ids),
  ]);
  const { takes, notes, talks, together } = sounding;
  const takesOf = byAnswer<TakeRow>(takes);
  const { writtenBy, judgements, passed, used, marks, marked, levels, praise, asks, replies, heard } =
    written;
  const lanes: Lane[] = [];
  for (const item of release.content.items.filter(i => i.answerBy !== 'nothing'))
    for (const s of sat) {
      const answer = `${s.sittingId} ${item.id}`;
      const own = takesOf.get(answer) ?? [];
      const talk = talks?.get(s.sittingId);
      const take = talks
        ? (own.find(t => t.id === talk?.contributions.find(c => c.takeId)?.takeId) ?? null)
        : countingTake<TakeRow>(own);
      if (talks && !talk) continue;
      // Nothing is heard of an answer that is only begun.
      if (s.standing.state === 'underWay' && !take && !talk) continue;
      // What some people gave as one is heard once: on the lane of the one whose device it was.
      const joint = take && together.get(take.id);
      if (take?.isCopy && isHeardWithLead(joint, sat, takes)) continue;
      const isAlike = joint !== undefined && joint !== null && !joint.apart && joint.names.length > 0;
      const mark = marks.get(answer)?.[0];
      const fileName = take?.recording.fileName ?? null;
      const lane: Lane = {
        sittingId: s.sittingId,
        studentId: isHidden(s) ? null : s.studentId,
        studentName: isAlike ? [called(s), ...joint.names].join(', ') : called(s),
        // A comment calls each of several by their own name once they read it.
        studentCalled: isHidden(s) || isAlike ? null : calledName(s.displayName, s.called),
        itemId: item.id,
        state: s.standing.state,
        // Late, and heard by when: the overview says that by name.
        late: s.standing.late && !isHidden(s),
        askedAgain: s.standing.askedAgain,
        excused: s.standing.excused && !isHidden(s),
        marked: [...new Set(marked.get(answer)?.map(m => m.kind))],
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
        judgement: judgementIn(judgements, s.sittingId, item.id),
        overallJudgement: judgementIn(judgements, s.sittingId, s.sittingId),
        takes: own.filter(t => t.stands).length,
        notes: take ? (notes.get(take.id) ?? []) : [],
        asks: asks.filter(a => a.sittingId === s.sittingId && belongs(a, item.id)).map(askView),
        replies: replies
          .filter(r => r.sittingId === s.sittingId && belongs(r, item.id))
          .map(r => (isHidden(s) && r.fromStudent ? { ...replyView(r), authorName: '' } : replyView(r))),
        heardAt: isHidden(s) ? null : (heard.get(answer)?.[0]?.heardAt.toISOString() ?? null),
        feedbackComesAt: feedbackComesAt(s),
        feedbackOpened: s.counting!.opened,
        praise: praise.get(answer)?.map(p => p.words) ?? [],
        used: usedFor(used.get(answer) ?? [], s.sittingId, item.id),
        written: talk ? writtenInTalk(talk) : (writtenBy.get(answer)?.[0]?.text ?? null),
        passed: passed.has(answer),
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
    namesChanges: await namesChangesOf(db, releaseId),
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
