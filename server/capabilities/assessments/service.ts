import { randomUUID } from 'node:crypto';
import {
  soundsOf,
  withSoundLengths,
  type AssessmentContent,
  type AssessmentDraft,
  type AssessmentSummary,
  type SaveAssessment,
} from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import type { NewPromptRecording, RecordingView } from '@ecoute/contract/recordings';
import { type Pool, type Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { promptDurations } from '../recordings/store';
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
      content: await withMeasuredSounds(this.pool, teacher, content),
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
    const measured = await withMeasuredSounds(this.pool, teacher, content);
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

/** A sound's length is what the server measured, and it must be the teacher's own. */
async function withMeasuredSounds(
  db: Queryable,
  teacher: Me,
  content: AssessmentContent,
): Promise<AssessmentContent> {
  const places = soundsOf(content);
  const lengths = await promptDurations(
    db,
    places.map(p => p.recordingId),
    teacher.id,
  );
  const message = 'This sound is not here yet. Wait until it is stored, or record it again.';
  const absent = places.filter(p => !lengths.has(p.recordingId));
  if (absent.length > 0)
    throw new Trouble('invalid', message, {
      fields: Object.fromEntries(absent.map(p => [`content.${p.path}`, message])),
    });
  return withSoundLengths(content, lengths);
}
