import { randomUUID } from 'node:crypto';
import type {
  AssessmentContent,
  AssessmentDraft,
  AssessmentSummary,
  SaveAssessment,
} from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import type { NewPromptRecording, RecordingView } from '@ecoute/contract/recordings';
import { type Pool, type Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { promptDuration } from '../recordings/store';
import * as store from './store';

export class Assessments {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
  ) {}

  list(teacher: Me): Promise<AssessmentSummary[]> {
    return store.assessmentsOf(this.pool, teacher.id);
  }

  async find(id: string): Promise<AssessmentDraft> {
    const found = await store.findAssessment(this.pool, id);
    if (!found) throw notFound();
    return found;
  }

  async make(teacher: Me, content: AssessmentContent): Promise<AssessmentDraft> {
    const id = randomUUID();
    await store.insertAssessment(this.pool, {
      id,
      ownerId: teacher.id,
      content: await withMeasuredPrompts(this.pool, teacher, content),
    });
    return this.find(id);
  }

  /**
   * Stores a draft. @throws Trouble stale, with what is stored now, when another page saved in between;
   * invalid when two items share an id
   */
  async save(teacher: Me, id: string, { revision, content }: SaveAssessment): Promise<AssessmentDraft> {
    if (new Set(content.items.map(i => i.id)).size !== content.items.length)
      throw new Trouble(
        'invalid',
        'Two items have the same identity. Reload the page; what was saved is safe.',
      );
    const measured = await withMeasuredPrompts(this.pool, teacher, content);
    if (!(await store.saveAssessment(this.pool, { id, revision, content: measured })))
      throw new Trouble(
        'stale',
        'This assessment was changed in another window since you opened it here. Both versions are safe: choose which to keep.',
        { current: await this.find(id) },
      );
    return this.find(id);
  }

  /** Makes room for a prompt's sound. */
  async announcePrompt(
    teacher: Me,
    assessmentId: string,
    wanted: NewPromptRecording,
  ): Promise<RecordingView> {
    await this.recordings.announce(this.pool, {
      id: wanted.recordingId,
      ownerId: teacher.id,
      purpose: 'prompt',
      assessmentId,
      announcedType: wanted.mediaType,
      fileName: wanted.fileName ?? null,
      limitMs: LIMITS.promptMs,
    });
    return this.recordings.view(wanted.recordingId);
  }
}

/** A prompt's length is what the server measured, and its sound must be the teacher's own. */
async function withMeasuredPrompts(
  db: Queryable,
  teacher: Me,
  content: AssessmentContent,
): Promise<AssessmentContent> {
  const items = await Promise.all(
    content.items.map(async (item, i) => {
      if (!item.promptRecordingId) return { ...item, promptRecordingId: null, promptDurationMs: null };
      const promptDurationMs = await promptDuration(db, item.promptRecordingId, teacher.id);
      if (promptDurationMs === null) {
        const message =
          'The sound of this prompt is not here yet. Wait until it is stored, or record it again.';
        throw new Trouble('invalid', message, {
          fields: { [`content.items.${i}.promptRecordingId`]: message },
        });
      }
      return { ...item, promptDurationMs };
    }),
  );
  return { ...content, items };
}
