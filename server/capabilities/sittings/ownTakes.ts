import type { Me } from '@ecoute/contract/people';
import type { Stretch } from '@ecoute/contract/recordings';
import type { NewTakePicture, TakeView, TakeWords } from '@ecoute/contract/sittings';
import { planOf } from '@ecoute/contract/assessment/discussion';
import { isRun } from '@ecoute/core/timing/strip';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { contentFor, noteInAccount, refuseWhenOver, situationOf, takeView, tellTeachers } from './situation';
import { refuseWhatStands } from './again';
import * as store from './store';
import * as answers from './answers.store';
import { putInWhen } from './contributions.store';

/** What a student does with a take of their own once it is recorded. */
export class OwnTakes {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
  ) {}

  /**
   * Keeps what a student says of a take; also after the hand-in, until its feedback is given.
   * @throws Trouble notFound; feedbackGiven once it is
   */
  async describe(takeId: string, words: TakeWords): Promise<TakeView> {
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    await transaction(this.pool, async db => {
      await this.refuseWhenBack(db, sittingId);
      await answers.keepWords(db, takeId, { title: words.title.trim(), note: words.note.trim() });
      await tellTeachers(db, sittingId);
    });
    return this.take(sittingId, takeId);
  }

  /**
   * Makes room for a picture beside a take: the page read from, the score.
   * @throws Trouble handedIn for another picture beside what is in a discussion, and for a first one that its teacher would not see
   * before others do
   */
  async announcePicture(student: Me, takeId: string, wanted: NewTakePicture): Promise<TakeView> {
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    await transaction(this.pool, async db => {
      await this.refuseWhenBack(db, sittingId);
      const { release } = await situationOf(db, sittingId);
      const plan = planOf(release.content);
      if (plan?.pictureAllowed === false)
        throw new Trouble('notForThisItem', 'In this discussion no picture goes with what is said.');
      const take = (await answers.takesOfSittings(db, [sittingId])).find(t => t.id === takeId);
      const before = take?.pictureId ?? null;
      // The first may come after what it goes with: the two travel from the device separately. Where the teacher looks at
      // everything before others do, it comes before that.
      if (before !== wanted.recordingId) {
        const since = await putInWhen(db, takeId);
        if (since && (before || (plan?.moderated && since.letInAt))) throw pictureStays();
      }
      await this.recordings.announce(db, {
        id: wanted.recordingId,
        ownerId: student.id,
        purpose: 'take',
        wanted: 'picture',
        assessmentId: null,
        announcedType: wanted.mediaType,
        fileName: null,
        limitMs: 0,
      });
      await answers.keepPicture(db, takeId, wanted.recordingId);
      // One picture a take: what was replaced is not kept for nobody.
      if (before && before !== wanted.recordingId) await this.recordings.letGoOf(db, before);
    });
    return this.take(sittingId, takeId);
  }

  /** Takes a picture away from its take, and its file with it. @throws Trouble feedbackGiven once it is; handedIn as above */
  async removePicture(takeId: string): Promise<TakeView> {
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    await transaction(this.pool, async db => {
      await this.refuseWhenBack(db, sittingId);
      const before = (await answers.takesOfSittings(db, [sittingId])).find(t => t.id === takeId)?.pictureId;
      if (before && (await putInWhen(db, takeId))) throw pictureStays();
      await answers.keepPicture(db, takeId, null);
      if (before) await this.recordings.letGoOf(db, before);
    });
    return this.take(sittingId, takeId);
  }

  /**
   * Cuts a take to a stretch of itself, or puts it back whole, while its sitting goes on.
   * @param stretch in ms of the whole; null for the whole
   * @throws Trouble notForThisItem; hasNotes; handedIn, timeUp or releaseClosed when it is over; invalid for a stretch outside
   * the take, or shorter than the shortest answer
   */
  async trim(takeId: string, stretch: Stretch | null): Promise<TakeView> {
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    const { itemId } = await this.take(sittingId, takeId);
    const may = async (db: Queryable, lock: boolean) => {
      const situation = await situationOf(db, sittingId, lock);
      const item = contentFor(situation.release.content, situation.sitting).items.find(i => i.id === itemId);
      if (!item?.trimAllowed || isRun(item))
        throw new Trouble('notForThisItem', 'Takes of this item stay as they were recorded.');
      refuseWhatStands(situation.sitting, itemId);
      refuseWhenOver(situation, Date.now());
      // A cut would leave them at other moments than those that they are about.
      if (await answers.hasNotes(db, takeId))
        throw new Trouble(
          'hasNotes',
          'Your teacher has made notes on this take, so its ends stay. Record another one if you want it shorter.',
        );
      if (stretch && stretch.toMs - stretch.fromMs < item.shortestAnswerMs)
        throw new Trouble('invalid', 'Too little would be left for this item. Move the edges apart.');
    };
    // Asked before the work, and again when it is done: the hand-in may have come between.
    await may(this.pool, false);
    await this.recordings.cuts.trim(takeId, stretch, async db => {
      await may(db, true);
      await noteInAccount(db, sittingId, stretch ? 'takeTrimmed' : 'takeMadeWhole', itemId);
    });
    return this.take(sittingId, takeId);
  }

  /** What came back to a student, and what a teacher drew on, stays as it was heard and seen. */
  private async refuseWhenBack(db: Queryable, sittingId: string): Promise<void> {
    const sitting = await store.findSitting(db, sittingId, true);
    if (sitting?.feedbackAt || sitting?.askedAgainAt)
      throw new Trouble(
        'feedbackGiven',
        'Feedback on this is given already, so what belongs to it stays as it is.',
      );
  }

  private async take(sittingId: string, takeId: string): Promise<TakeView> {
    const found = (await answers.takesOfSittings(this.pool, [sittingId])).find(t => t.id === takeId);
    if (!found) throw notFound();
    return takeView(found);
  }
}

/** What others have heard and seen in a discussion stays as it was; a correction keeps the earlier one too. */
const pictureStays = () =>
  new Trouble(
    'handedIn',
    'This is in the discussion as it was put in, and stays so. Correct the contribution to say it with another picture.',
  );
