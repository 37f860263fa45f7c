import { fromHundredths } from '@ecoute/core/scoring/points';
import { filledIn } from '@ecoute/core/feedback/comments';
import { orderOf } from '@ecoute/core/timing/order';
import { planOf, talkOf } from '@ecoute/contract/assessment/discussion';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isFeedbackGiven, showsNotes, timesFor } from '@ecoute/core/timing/sittingState';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { forStudents, hideTimed, seenItems, withoutModels } from '@ecoute/contract/assessment/forStudents';
import type { FeedbackEntry, FeedbackItem, FeedbackView } from '@ecoute/contract/marking';
import type { Me } from '@ecoute/contract/people';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { askView, replyView } from '../replies/service';
import { asksOf, repliesOf } from '../replies/store';
import { reasonsOf } from '../decisions/store';
import type { Markup } from '@ecoute/contract/markups';
import { markupView } from '../markups/service';
import { markupsOf } from '../markups/store';
import { notesOf } from '../notes/store';
import { findRelease, releasesWith, timesOf, type ReleaseRow } from '../releases/store';
import { exceptionOf } from '../releases/participants.store';
import { eventsOf } from '../sittings/events.store';
import { findSitting, openFeedback, sittingsOf, studentCalled, type SittingRow } from '../sittings/store';
import { judgementsOf, takesOfSittings, writtenOf, type TakeRow } from '../sittings/answers.store';
import { alikeWith, togetherOf } from '../sittings/joint.store';
import * as store from '../marks/store';
import { choicesIn } from '../marks/view';
import { earlierComments } from './store';
import { talksOf, writtenInTalk } from './talks';
import { againOf, grouped, judgementIn, passedIn, placedOf, totalFor } from './views';

/** Older feedback than this is history. */
const MOST_BEFORE = 5;

/** What came back to a student: their own recordings with what their teachers said of them. */
export class Feedback {
  constructor(private readonly pool: Pool) {}

  /** What came back to a student, newest first. */
  async list(student: Me): Promise<FeedbackEntry[]> {
    const now = Date.now();
    const back = (await sittingsOf(this.pool, student.id)).filter(s => isFeedbackGiven(s, now));
    const ids = back.map(s => s.id);
    // Their points are seen here.
    await openFeedback(this.pool, ids);
    // Few questions for all of them: somebody has hundreds after some years.
    const releases = await releasesWith(this.pool, [...new Set(back.map(s => s.releaseId))]);
    const asks = grouped(await asksOf(this.pool, ids), a => a.sittingId);
    const marks = new Map(
      (await store.marksOf(this.pool, ids))
        .filter(m => m.finishedAt)
        .map(m => [`${m.sittingId} ${m.itemId}`, m.pointsHundredths]),
    );
    return back.flatMap((s): FeedbackEntry[] => {
      const release = releases.get(s.releaseId);
      if (!release) return [];
      const items = release.content.items.map(item => {
        const points = marks.get(`${s.id} ${item.id}`) ?? null;
        return { points: points === null ? null : fromHundredths(points) };
      });
      return [
        {
          sittingId: s.id,
          title: release.content.title,
          className: release.className,
          feedbackAt: s.feedbackAt!.toISOString(),
          asked: asks.get(s.id)?.filter(a => a.answeredAt === null).length ?? 0,
          total: release.scoresHeld ? null : totalFor(release.content, items),
        },
      ];
    });
  }

  /** What somebody whose sitting is not over may see: no model that opens later, and of timed items those that were shown. */
  private async underWay(
    sittingId: string,
    content: AssessmentContent,
    takes: readonly TakeRow[],
  ): Promise<AssessmentContent> {
    const seen = seenItems(await eventsOf(this.pool, sittingId), takes);
    return hideTimed(content.modelOpens === 'atOnce' ? content : withoutModels(content), seen).content;
  }

  /**
   * The feedback on one sitting as its student sees it.
   * @param before as it will be seen, before the feedback: for its teacher
   * @throws Trouble notFound before the feedback, or before the hand-in
   */
  async view(sittingId: string, before = false): Promise<FeedbackView> {
    return (await this.read(sittingId, before)).view;
  }

  /** The same, with the sitting and the release that it was read from. */
  async read(
    sittingId: string,
    before = false,
  ): Promise<{ view: FeedbackView; sitting: SittingRow; release: ReleaseRow }> {
    if (!before) await openFeedback(this.pool, [sittingId]);
    const sitting = await findSitting(this.pool, sittingId);
    const release = sitting && (await findRelease(this.pool, sitting.releaseId));
    // What is to be recorded again shows what is said of it, and no score.
    const now = Date.now();
    const askedAgain = sitting?.askedAgainAt != null && !isFeedbackGiven(sitting, now);
    const early = sitting != null && showsNotes(sitting, now) && !isFeedbackGiven(sitting, now);
    if (!sitting || !release || !(isFeedbackGiven(sitting, now) || early || before)) throw notFound();
    if (!sitting.handedInAt && !early) throw notFound();
    const scoresHeld = release.scoresHeld || early;
    // What was marked on a joint answer lies with the one whose device it was.
    const alike = await alikeWith(this.pool, sittingId);
    const markups = [
      ...(await markupsOf(this.pool, [sittingId])),
      ...(
        await markupsOf(
          this.pool,
          alike.map(o => o.sittingId),
        )
      ).filter(m => alike.some(o => o.sittingId === m.sittingId && o.itemId === m.itemId)),
    ];
    const earlier = await earlierComments(this.pool, sittingId);
    const praise = await store.praiseOf(this.pool, [sittingId]);
    // What was written while names were hidden is filled in once they show.
    const isHidden = before && release.namesHidden && !isFeedbackGiven(sitting, now);
    const called = isHidden ? '…' : await studentCalled(this.pool, sittingId);
    const own = (words: string) => filledIn(words, { name: called, time: null });
    const asks = (await asksOf(this.pool, [sittingId])).map(askView);
    const replies = (await repliesOf(this.pool, [sittingId])).map(replyView);
    const exception = await exceptionOf(this.pool, release.id, sitting.studentId);
    const { dueAtMs } = exception ? timesFor(timesOf(release), exception) : timesOf(release);
    const takes = await takesOfSittings(this.pool, [sittingId]);
    const together = await togetherOf(this.pool, takes, isHidden ? () => '…' : null);
    const written = await writtenOf(this.pool, [sittingId]);
    const judgements = await judgementsOf(this.pool, [sittingId]);
    const marks = await store.marksOf(this.pool, [sittingId]);
    const notes = await notesOf(
      this.pool,
      takes.map(t => t.id),
    );
    // What is still on its way, or was never heard, is nobody’s feedback.
    const noted = grouped(
      notes
        .filter(n => n.words !== '' || n.voiceState === 'stored')
        .map(n => ({ ...n, words: own(n.words) })),
      n => n.takeId,
    );
    const content = {
      ...release.content,
      items: orderOf(release.content.items, release.content.sections, sittingId),
    };
    const namesShown = planOf(content)?.namesShown ?? true;
    const sat = [{ sittingId, studentId: sitting.studentId, feedbackAt: sitting.feedbackAt }];
    const talks = await talksOf(this.pool, release, sat, {
      notes: noted,
      takes,
      nameOf: row => (namesShown || row.sittingId === null ? row.authorName : ''),
    });
    const talkItem = talkOf(content);
    const items: FeedbackItem[] = content.items.map(item => {
      const talk = item.id === talkItem?.id ? talks?.get(sittingId) : undefined;
      const take = talks
        ? (takes.find(t => t.id === talk?.contributions.find(c => c.takeId)?.takeId) ?? null)
        : countingTake<TakeRow>(takes.filter(t => t.itemId === item.id));
      const mark = marks.find(m => m.itemId === item.id && m.finishedAt);
      return {
        itemId: item.id,
        ...(take && together.has(take.id) && { together: together.get(take.id) }),
        takeId: take?.id ?? null,
        pictureId: take?.pictureId ?? null,
        durationMs: take?.durationMs ?? null,
        medium: take?.recording.medium ?? null,
        fileName: isHidden ? null : (take?.recording.fileName ?? null),
        placed: placedOf(take),
        judgement: judgementIn(judgements, sittingId, item.id),
        ...(talk && { talk }),
        written: talk ? writtenInTalk(talk) : (written.find(w => w.itemId === item.id)?.text ?? null),
        passed: passedIn(sitting.receipt ?? undefined, item.id),
        again: againOf(
          take,
          takes.filter(t => t.itemId === item.id),
          mark?.updatedAt ?? null,
          noted,
        ),
        stands: askedAgain && sitting.askedItems !== null && !sitting.askedItems.includes(item.id),
        points: scoresHeld || mark?.pointsHundredths == null ? null : fromHundredths(mark.pointsHundredths),
        choices: scoresHeld ? [] : choicesIn(mark),
        comment: own(mark?.comment ?? ''),
        notes: (take && noted.get(take.id)) ?? [],
        praise: praise.filter(p => p.itemId === item.id).map(p => p.words),
        markups: markups.filter(m => m.itemId === item.id).map(m => withoutRefused(markupView(m))),
        before: earlier
          .filter(b => b.itemId === item.id)
          .slice(0, MOST_BEFORE)
          .map(b => ({
            sittingId: b.sittingId,
            title: b.title,
            feedbackAt: b.feedbackAt.toISOString(),
            comment: own(b.comment),
            authorName: b.authorName,
          })),
        asks: asks.filter(a => a.itemId === item.id),
        replies: replies.filter(r => r.itemId === item.id),
        authorName: mark?.authorName ?? null,
      };
    });
    // Held scores are nobody’s before they are shown: not even the sum of none.
    const total = scoresHeld ? null : totalFor(content, items);
    const { scoring } = content;
    // A time that is still to come has given nothing.
    const given = isFeedbackGiven(sitting, Date.now()) ? sitting.feedbackAt : null;
    const level = (await store.levelsOf(this.pool, [sittingId])).get(sittingId)?.level ?? null;
    const view = {
      sittingId,
      releaseId: release.id,
      title: release.content.title,
      className: release.className,
      handedInAt: isHidden ? null : (sitting.handedInAt?.toISOString() ?? null),
      feedbackAt: (askedAgain ? sitting.askedAgainAt : given)?.toISOString() ?? null,
      askedAgainFor: askedAgain
        ? ((await reasonsOf(this.pool, 'askAgain', [sittingId])).get(sittingId) ?? '')
        : null,
      asks: asks.filter(a => a.itemId === null),
      replies: replies.filter(r => r.itemId === null),
      late:
        !isHidden &&
        (sitting.handedInAt?.getTime() ?? 0) > (sitting.dueWas?.getTime() ?? dueAtMs) &&
        sitting.lateAcceptedAt === null,
      content: forStudents(early && !before ? await this.underWay(sittingId, content, takes) : content),
      items,
      scoresHeld,
      level:
        !scoresHeld && scoring.kind === 'level' && level !== null ? (scoring.scale[level] ?? null) : null,
      enough: total && scoring.passMark !== null ? total.given >= scoring.passMark : null,
      total,
    };
    return { view, sitting, release };
  }
}

/** What a teacher did not agree with is none of the feedback. */
function withoutRefused(markup: Markup): Markup {
  if (!markup.record) return markup;
  const { refused: _, ...record } = markup.record;
  return { ...markup, record };
}
