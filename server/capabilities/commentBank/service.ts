import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { BANK_COLUMNS } from '@ecoute/core/feedback/comments';
import type { ChangeTopic, NewTopic, SaveBankComment, Topic } from '@ecoute/contract/commentBank';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import * as store from './store';

/** Comments that are given again and again: a teacher's own and their departments'. */
export class CommentBank {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
  ) {}

  topics(teacher: Me): Promise<Topic[]> {
    return store.topicsOf(this.pool, teacher.id);
  }

  /** Makes topics with their first comments, all or none. @throws Trouble notFound for a foreign department */
  async make(teacher: Me, wanted: readonly NewTopic[]): Promise<Topic[]> {
    await transaction(this.pool, async db => {
      for (const topic of wanted) {
        const departmentId = topic.departmentId ?? null;
        if (departmentId && !(await store.isMember(db, departmentId, teacher.id))) throw notFound();
        const id = randomUUID();
        const name = topic.name.trim();
        await store.insertTopic(db, {
          id,
          ownerId: teacher.id,
          departmentId,
          name,
          praise: topic.praise ?? false,
        });
        for (const [position, { words, link }] of topic.comments.entries()) {
          const comment = { words: words.trim(), link, voiceId: null, position, by: teacher.id };
          await store.insertComment(db, { id: randomUUID(), topicId: id, ...comment });
        }
      }
    });
    return this.topics(teacher);
  }

  /** Renames a topic and puts its comments in order; comments of other topics that are named move here. */
  async change(teacher: Me, topicId: string, { name, order }: ChangeTopic): Promise<Topic[]> {
    await transaction(this.pool, async db => {
      await store.renameTopic(db, topicId, name.trim());
      for (const [position, id] of (order ?? []).entries()) {
        if (!(await store.readableComment(db, teacher.id, id))) throw notFound();
        await store.placeComment(db, { id, topicId, position });
      }
    });
    return this.topics(teacher);
  }

  async order(teacher: Me, topicIds: readonly string[]): Promise<Topic[]> {
    const known = new Set((await this.topics(teacher)).map(t => t.id));
    if (topicIds.some(id => !known.has(id))) throw notFound();
    await transaction(this.pool, async db => {
      for (const [position, id] of topicIds.entries()) await store.placeTopic(db, id, position);
    });
    return this.topics(teacher);
  }

  async removeTopic(teacher: Me, topicId: string, removed: boolean): Promise<Topic[]> {
    await store.removeTopic(this.pool, topicId, removed);
    return this.topics(teacher);
  }

  /** Keeps a comment, new or reworded. @throws Trouble invalid when the topic is full */
  async save(teacher: Me, topicId: string, id: string, wanted: SaveBankComment): Promise<Topic[]> {
    await transaction(this.pool, async db => {
      const known = await store.findComment(db, id);
      if (known && known.topicId !== topicId) throw notFound();
      if (wanted.voice) await this.announce(db, teacher, wanted.voice);
      const kept = wanted.withoutVoice ? null : (known?.voiceId ?? null);
      const comment = {
        id,
        words: wanted.words.trim(),
        link: wanted.link,
        voiceId: wanted.voice?.recordingId ?? kept,
      };
      if (known) return store.rewordComment(db, comment);
      const position = await store.countComments(db, topicId);
      if (position >= LIMITS.topicComments)
        throw new Trouble(
          'invalid',
          `A topic holds ${LIMITS.topicComments} comments at most. Begin another one.`,
        );
      await store.insertComment(db, { ...comment, topicId, position, by: teacher.id });
    });
    return this.topics(teacher);
  }

  async removeComment(teacher: Me, topicId: string, id: string): Promise<Topic[]> {
    await transaction(this.pool, async db => {
      const known = await store.findComment(db, id);
      if (known?.topicId !== topicId) throw notFound();
      await store.removeComment(db, id);
    });
    return this.topics(teacher);
  }

  /** Counts that a comment was put in. */
  async used(teacher: Me, id: string): Promise<void> {
    if (!(await store.readableComment(this.pool, teacher.id, id))) throw notFound();
    await store.countUse(this.pool, id);
  }

  /** The teacher's topics as CSV: topic, comment, link, used. Begins with a mark so that spreadsheets read UTF-8. */
  async asCsv(teacher: Me): Promise<string> {
    const topics = await this.topics(teacher);
    const data = topics.flatMap(t => t.comments.map(c => [t.name, c.words, c.link, c.used]));
    return '\ufeff' + Papa.unparse({ fields: [...BANK_COLUMNS], data }, { escapeFormulae: true });
  }

  private async announce(
    db: Queryable,
    teacher: Me,
    { recordingId, mediaType }: NonNullable<SaveBankComment['voice']>,
  ): Promise<void> {
    await this.recordings.announce(db, {
      id: recordingId,
      ownerId: teacher.id,
      purpose: 'clip',
      assessmentId: null,
      announcedType: mediaType,
      fileName: null,
      limitMs: LIMITS.clipMs,
    });
  }
}
