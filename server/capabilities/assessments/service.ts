import { randomUUID } from 'node:crypto';
import type {
  AssessmentContent,
  AssessmentDraft,
  AssessmentSummary,
  Away,
  EarlierVoice,
  SaveAssessment,
} from '@ecoute/contract/assessments';
import { asMeasured } from '@ecoute/contract/assessment/asMeasured';
import { filesOf } from '@ecoute/contract/assessment/files';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import type { NewPromptRecording, RecordingView } from '@ecoute/contract/recordings';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import type { JobQueue } from '../../platform/jobs/queue';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { promptFiles } from '../recordings/store';
import * as store from './store';

/** So long what was thrown away can be put back; the shelf says so. */
export const THROWN_DAYS = 30;

export class Assessments {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
    jobs: JobQueue,
    /** What follows an assessment takes what was saved, in the same transaction. */
    private readonly afterSave: (db: Queryable, id: string) => Promise<void> = async () => undefined,
  ) {
    jobs.onSweep(() => transaction(pool, db => store.forgetThrown(db, THROWN_DAYS)));
  }

  /** @param find words of a title or a prompt; empty for all */
  list(teacher: Me, find = ''): Promise<AssessmentSummary[]> {
    return store.assessmentsOf(this.pool, teacher.id, find.trim().slice(0, LIMITS.title));
  }

  listAway(teacher: Me): Promise<AssessmentSummary[]> {
    return store.assessmentsOf(this.pool, teacher.id, '', true);
  }

  /** Sounds that this teacher made for an assessment, also those that nothing of it uses any more. */
  voices(teacher: Me, id: string): Promise<EarlierVoice[]> {
    return store.voicesFor(this.pool, id, teacher.id);
  }

  /** Puts away, throws away, or puts back. @throws Trouble inUse where something released would be thrown away */
  async putAway(id: string, away: Away | null): Promise<AssessmentDraft> {
    if (!(await transaction(this.pool, db => store.putAway(db, id, away))))
      throw new Trouble(
        'inUse',
        'This was released, so it is not thrown away: what students recorded belongs to it. Put it away instead.',
      );
    return this.find(id);
  }

  async find(id: string): Promise<AssessmentDraft> {
    const found = await store.findAssessment(this.pool, id);
    if (!found) throw notFound();
    return found;
  }

  async make(teacher: Me, content: AssessmentContent): Promise<AssessmentDraft> {
    const id = randomUUID();
    await transaction(this.pool, async db =>
      store.insertAssessment(db, {
        id,
        ownerId: teacher.id,
        content: await measured(db, teacher, content),
      }),
    );
    return this.find(id);
  }

  /** A copy of one's own, of one's own or of a colleague's on the shelf. Files are used by both. */
  async copy(teacher: Me, id: string): Promise<AssessmentDraft> {
    const { content, isTemplate } = await this.find(id);
    // What is begun from a template is no copy of something sat: it has the title that the template gives.
    const title = isTemplate
      ? content.title
      : `${content.title.trim() || 'Without a title'}, a copy`.slice(0, LIMITS.title);
    return this.make(teacher, { ...content, title });
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
    const saved = await transaction(this.pool, async db => {
      const isSaved = await store.saveAssessment(db, {
        id,
        revision,
        content: await measured(db, teacher, content),
        savedBy: teacher.id,
      });
      if (isSaved) await this.afterSave(db, id);
      return isSaved;
    });
    if (saved) return this.find(id);
    const current = await this.find(id);
    const byOther = current.savedBy !== null && current.savedBy !== teacher.displayName;
    throw new Trouble(
      'stale',
      byOther
        ? `${current.savedBy} saved this assessment since you opened it here. Both versions are safe: choose which to keep.`
        : 'This assessment was changed in another window since you opened it here. Both versions are safe: choose which to keep.',
      { current },
    );
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
      wanted: wanted.wanted ?? 'voice',
      assessmentId,
      announcedType: wanted.mediaType,
      fileName: wanted.fileName ?? null,
      limitMs: LIMITS.promptMs,
    });
    return this.recordings.view(wanted.recordingId);
  }
}

/** A file's length and kind are what the server found, it must fit its place, and the teacher must be allowed it. */
async function measured(db: Queryable, teacher: Me, content: AssessmentContent): Promise<AssessmentContent> {
  const places = filesOf(content);
  const files = await promptFiles(
    db,
    places.map(p => p.recordingId),
    teacher.id,
  );
  const message = 'This file is not here yet. Wait until it is stored, or choose it again.';
  const wrong = places.filter(p => {
    const file = files.get(p.recordingId);
    return !file || !p.media.includes(file.medium);
  });
  if (wrong.length > 0)
    throw new Trouble('invalid', message, {
      fields: Object.fromEntries(wrong.map(p => [`content.${p.path}`, message])),
    });
  return asMeasured(
    content,
    new Map([...files].map(([id, f]) => [id, { durationMs: f.durationMs, isVideo: f.medium === 'video' }])),
  );
}
