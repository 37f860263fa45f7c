import { randomUUID } from 'node:crypto';
import { drawingProblem, type Drawing } from '@ecoute/core/feedback/drawing';
import { countWords, recordProblem, wordsOf, type RunningRecord } from '@ecoute/core/feedback/runningRecord';
import { wordsOfPart } from '@ecoute/core/words/parts';
import type { Markup, SaveMarkup } from '@ecoute/contract/markups';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import { isDuplicate, transaction, type Pool } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { situationOf, tellTeachers, type Situation } from '../sittings/situation';
import { takesOfSittings } from '../sittings/answers.store';
import * as store from './store';

/** Miscues on passages; drawing and text on pictures, scores and passages. */
export class Markups {
  constructor(private readonly pool: Pool) {}

  async list(sittingId: string, itemId: string): Promise<Markup[]> {
    return (await store.markupsOf(this.pool, [sittingId])).filter(m => m.itemId === itemId).map(markupView);
  }

  /**
   * Keeps a markup, new or changed; without content it is taken away, and every version stays stored.
   * @throws Trouble stale, with what holds, when somebody changed it in between; invalid for marks beyond the passage and
   * drawings without places; notFound for what is not part of the item
   */
  async save(
    teacher: Me,
    sittingId: string,
    itemId: string,
    targetId: string,
    wanted: SaveMarkup,
  ): Promise<Markup | null> {
    try {
      return await transaction(this.pool, async db => {
        const situation = await situationOf(db, sittingId, true);
        const { sitting, release } = situation;
        const stimulus = this.stimulus(situation, itemId, targetId);
        const takes = await takesOfSittings(db, [sittingId]);
        const isPicture = takes.some(
          t => t.itemId === itemId && (t.pictureId === targetId || t.id === targetId),
        );
        if (!stimulus && !isPicture) throw notFound();
        const content = contentOf(wanted, stimulus);
        const at = { sittingId, itemId, targetId, kind: wanted.kind };
        const holding = await store.findMarkup(db, at);
        if ((holding?.revision ?? 0) !== wanted.revision)
          throw new Trouble(
            'stale',
            `${holding?.authorName ?? 'Somebody'} changed this meanwhile. Yours is still on this page; look at both.`,
            { current: holding && markupView(holding) },
          );
        const revision = wanted.revision + 1;
        await store.putMarkup(db, {
          ...at,
          id: randomUUID(),
          revision,
          content: JSON.stringify(content),
          authorId: teacher.id,
        });
        await tellTeachers(db, sittingId);
        if (sitting.feedbackAt)
          await insertChange(db, {
            kind: 'feedback',
            subjectId: release.id,
            classId: null,
            personId: sitting.studentId,
          });
        return markupView((await store.findMarkup(db, at))!);
      });
    } catch (error) {
      if (isDuplicate(error))
        throw new Trouble('stale', 'Somebody marked this in the same moment. Look at it, then save again.');
      throw error;
    }
  }

  private stimulus({ release }: Situation, itemId: string, targetId: string) {
    const item = release.content.items.find(i => i.id === itemId);
    if (!item) throw notFound();
    return item.stimuli.find(s => s.id === targetId) ?? null;
  }
}

/** @throws Trouble invalid when it is not what its kind says, or lies beyond what is marked */
function contentOf(
  { kind, record, drawing }: SaveMarkup,
  stimulus: { kind: string; text: string; language: string } | null,
): RunningRecord | Drawing | null {
  if (kind === 'record') {
    if (!record) return null;
    if (stimulus?.kind !== 'passage') throw new Trouble('invalid', 'Miscues are marked on a passage.');
    const problem = recordProblem(countWords(wordsOf(stimulus.text, stimulus.language)), record);
    if (problem) throw new Trouble('invalid', problem);
    const { text, language } = stimulus;
    if (record.part && !wordsOfPart(text, language, record.part))
      throw new Trouble('invalid', 'The passage has no such part. Reload the page to see it as it is.');
    return {
      ...record,
      lastWord: record.lastWord ?? null,
      fromMs: record.fromMs ?? null,
      toMs: record.toMs ?? null,
    };
  }
  if (!drawing) return null;
  const drawn = drawing as Drawing;
  const problem = drawingProblem(drawn);
  if (problem) throw new Trouble('invalid', problem);
  return drawn;
}

export function markupView({
  itemId,
  targetId,
  kind,
  revision,
  content,
  authorName,
}: store.MarkupRow): Markup {
  const data = JSON.parse(content) as unknown;
  return {
    itemId,
    targetId,
    kind,
    revision,
    record: kind === 'record' ? (data as RunningRecord | null) : null,
    drawing: kind === 'drawing' ? (data as Drawing | null) : null,
    authorName,
  };
}
