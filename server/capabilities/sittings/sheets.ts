import { drawnOn, type NewInk, type SheetView } from '@ecoute/contract/ink';
import { inkProblem } from '@ecoute/core/takes/ink';
import { answerFromMs } from '@ecoute/core/timing/takeClock';
import { transaction, type Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import * as answers from './answers.store';
import * as sheets from './sheets.store';
import { contentFor, situationOf, tellTeachers } from './situation';

/** A device sends what was drawn as soon as its take has arrived; a line that breaks just then is given so long. */
const WITH_ITS_TAKE_MS = 15 * 60_000;

/** What students draw while they speak. */
export class SpokenSheets {
  constructor(private readonly pool: Pool) {}

  /**
   * Keeps what was drawn while a take was recorded. It belongs to the take from then on and is not changed; it may come as late
   * as the rest of its take does (after the hand-in a quarter of an hour more), until feedback is given.
   * @throws Trouble notFound; notForThisItem where nothing is drawn; invalid for what is no ink; handedIn; feedbackGiven; stale where
   * another drawing is kept with the take
   */
  async keep(takeId: string, ink: NewInk): Promise<void> {
    const problem = inkProblem(ink);
    if (problem) throw new Trouble('invalid', problem);
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    await transaction(this.pool, async db => {
      const { sitting, release } = await situationOf(db, sittingId, true);
      const take = (await answers.takesOfSittings(db, [sittingId])).find(t => t.id === takeId);
      const item = contentFor(release.content, sitting).items.find(i => i.id === take?.itemId);
      if (!take || !item) throw notFound();
      if (!item.sheet) throw new Trouble('notForThisItem', 'Nothing is drawn with this item.');
      const plain = { height: ink.height, strokes: ink.strokes };
      const kept = await sheets.sheetOf(db, takeId);
      // An answer that was lost on the way: it is there.
      if (kept && JSON.stringify(kept) === JSON.stringify(plain)) return;
      if (kept) throw new Trouble('stale', 'Another drawing is kept with this take. It stays.');
      if (sitting.feedbackAt || sitting.askedAgainAt)
        throw new Trouble(
          'feedbackGiven',
          'Feedback on this is given already, so what belongs to it stays as it is.',
        );
      // Drawn while it was spoken: it comes with the take's sound, and not when somebody has thought again.
      const arrivedMs = take.recording.arrivedAt?.getTime();
      if (sitting.handedInAt && arrivedMs !== undefined && Date.now() - arrivedMs > WITH_ITS_TAKE_MS)
        throw new Trouble('handedIn', 'This was handed in without the drawing, which came too late.');
      await sheets.keepSheet(db, takeId, plain);
      await tellTeachers(db, sittingId);
    });
  }

  /** What was drawn with a take, and how it lies beside what is heard; null where nothing was. */
  async view(takeId: string): Promise<SheetView | null> {
    const ink = await sheets.sheetOf(this.pool, takeId);
    if (!ink) return null;
    const sittingId = await answers.sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    const { sitting, release } = await situationOf(this.pool, sittingId);
    const take = (await answers.takesOfSittings(this.pool, [sittingId])).find(t => t.id === takeId);
    const item = contentFor(release.content, sitting).items.find(i => i.id === take?.itemId);
    if (!take || !item) throw notFound();
    return {
      ink,
      fromMs: answerFromMs({ clock: take.clock, gateMs: take.recording.gateMs }),
      overId: item.sheet === 'own' ? take.pictureId : drawnOn(item),
    };
  }
}
