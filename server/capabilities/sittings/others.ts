import { countingTake } from '@ecoute/core/timing/itemRun';
import type { Me } from '@ecoute/contract/people';
import type { OthersView } from '@ecoute/contract/sittings';
import { transaction, type Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { studentsFrom } from '../releases/standing';
import { findRelease, timesOf } from '../releases/store';
import { standings } from '../releases/standings.store';
import type { HandIns } from './handIn';
import { togetherOf } from './joint.store';
import { noteInAccount, situationOf } from './situation';
import * as store from './store';
import * as answers from './answers.store';

/** Classmates who hear each other. */
export class Others {
  constructor(
    private readonly pool: Pool,
    private readonly handIns: HandIns,
  ) {}

  /**
   * What the others handed in, where the release lets classmates hear each other.
   * @param opens the student was told that what is handed in stays so from here on
   * @throws Trouble notHandedIn before one has handed in oneself; opensForGood where that is still to be said
   */
  async hear(student: Me, releaseId: string, opens = false): Promise<OthersView> {
    const release = await findRelease(this.pool, releaseId);
    if (release?.heardBy !== 'class') throw notFound();
    const all = studentsFrom(timesOf(release), await standings(this.pool, [releaseId]), Date.now());
    const own = all.find(s => s.studentId === student.id)?.counting;
    if (!own?.handedInAt)
      throw new Trouble('notHandedIn', 'Hand in first; then you can hear what the others recorded.');
    await transaction(this.pool, async db => {
      const situation = await situationOf(db, own.id, true);
      if (situation.sitting.othersOpenedAt) return;
      if (!opens && (await this.handIns.whyNotWithdraw(db, situation)) === null)
        throw new Trouble(
          'opensForGood',
          'Once you hear the others, what you handed in stays as it is: it cannot be taken back any more.',
        );
      if (await store.openForGood(db, own.id, 'others')) await noteInAccount(db, own.id, 'othersOpened');
    });
    const sat = all.filter(s => s.studentId !== student.id && s.counting?.handedInAt);
    const takes = await answers.takesOfSittings(
      this.pool,
      sat.map(s => s.counting!.id),
    );
    const together = await togetherOf(this.pool, takes);
    const mine = (await answers.takesOfSittings(this.pool, [own.id])).flatMap(t => t.jointId ?? []);
    return {
      title: release.content.title,
      items: release.content.items.flatMap((item, i) => {
        // What several answered as one is heard once, and one's own among it not at all.
        const heard = new Set(mine);
        const answers = sat.flatMap(s => {
          const take = countingTake<answers.TakeRow>(
            // What a teacher asked for after the feedback is between the two.
            takes.filter(t => t.sittingId === s.counting!.id && t.itemId === item.id && !t.askId),
          );
          if (!take || (take.jointId && heard.has(take.jointId))) return [];
          if (take.jointId) heard.add(take.jointId);
          const { id: takeId, durationMs, recording } = take;
          const studentName = [s.displayName, ...(together.get(takeId)?.names ?? [])].join(', ');
          return [{ takeId, studentName, durationMs, medium: recording.medium }];
        });
        return answers.length > 0 ? [{ number: i + 1, promptText: item.promptText, answers }] : [];
      }),
    };
  }
}
