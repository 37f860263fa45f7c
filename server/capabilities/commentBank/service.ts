import { randomUUID } from 'node:crypto';
import Papa from 'papaparse';
import { BANK_COLUMNS, cellsOf, importPlan, RECKONED, same } from '@ecoute/core/feedback/bankFile';
import type {
  BankImport,
  BankLately,
  ChangeTopic,
  KeepInBank,
  KeptInBank,
  NewTopic,
  ReadInBank,
  SaveBankComment,
  Topic,
} from '@ecoute/contract/commentBank';
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
      await roomFor(db, topicId);
      const position = await store.nextPosition(db, topicId);
      await store.insertComment(db, { ...comment, topicId, position, by: teacher.id });
    });
    return this.topics(teacher);
  }

  async removeComment(teacher: Me, topicId: string, id: string): Promise<Topic[]> {
    await transaction(this.pool, async db => {
      const known = await store.findComment(db, id);
      if (known?.topicId !== topicId) throw notFound();
      await store.removeComment(db, id, true);
    });
    return this.topics(teacher);
  }

  /** Counts that a comment was put in. */
  async used(teacher: Me, id: string): Promise<void> {
    if (!(await store.readableComment(this.pool, teacher.id, id))) throw notFound();
    await store.countUse(this.pool, id);
  }

  async putCommentBack(teacher: Me, topicId: string, id: string): Promise<Topic[]> {
    await transaction(this.pool, async db => {
      const known = await store.findComment(db, id);
      if (known?.topicId !== topicId) throw notFound();
      await roomFor(db, topicId);
      await store.removeComment(db, id, false);
    });
    return this.topics(teacher);
  }

  /** Keeps a comment that was just written under one of the teacher's own topics, or a new one; once, whatever is pressed. */
  async keep(teacher: Me, { topic: name, words, link }: KeepInBank): Promise<KeptInBank> {
    const kept = await transaction(this.pool, async db => {
      await store.lockBank(db, teacher.id);
      const row = { topic: name.trim(), words: words.trim(), link, praise: false, department: '' };
      const own = (await store.topicsOf(db, teacher.id)).filter(t => t.departmentId === null && !t.praise);
      const [part] = importPlan(own, [], [{ ...row, clip: '', used: 0 }], LIMITS.topicComments);
      for (const t of part!.known > 0 ? own : []) {
        const there = t.comments.find(c => same(c.words) === same(row.words) && c.link === link);
        if (there) return { topicId: t.id, commentId: there.id, known: true, newTopic: false };
      }
      const topicId = part!.topicId ?? randomUUID();
      if (part!.topicId) await roomFor(db, topicId);
      else
        await store.insertTopic(db, {
          id: topicId,
          ownerId: teacher.id,
          departmentId: null,
          name: row.topic,
          praise: false,
        });
      const commentId = randomUUID();
      const position = await store.nextPosition(db, topicId);
      const comment = { words: row.words, link, voiceId: null, position, by: teacher.id };
      await store.insertComment(db, { id: commentId, topicId, ...comment });
      return { topicId, commentId, known: false, newTopic: part!.topicId === null };
    });
    return { ...kept, topics: await this.topics(teacher) };
  }

  /** Reads a file into the bank, as one that can be taken out again; a trial says what that would do and stores nothing. */
  async readIn(teacher: Me, { fileName, rows, trial }: ReadInBank): Promise<BankImport> {
    return transaction(this.pool, async db => {
      await store.lockBank(db, teacher.id);
      const departments = await store.departmentsOf(db, teacher.id);
      const nameOf = (id: string | null) => departments.find(d => d.id === id)?.name ?? null;
      const topics = await store.topicsOf(db, teacher.id);
      const plan = importPlan(topics, departments, rows, LIMITS.topicComments);
      const coming = plan.flatMap(p => p.comes);
      const clips = await store.usableClips(
        db,
        teacher.id,
        coming.flatMap(c => c.clip || []),
      );
      const importId = trial || coming.length === 0 ? null : randomUUID();
      if (importId) {
        await store.insertImport(db, { id: importId, ownerId: teacher.id, fileName });
        for (const part of plan.filter(p => p.comes.length > 0)) {
          const topicId = part.topicId ?? randomUUID();
          const { name, praise, departmentId } = part;
          if (!part.topicId)
            await store.insertTopic(db, {
              id: topicId,
              ownerId: teacher.id,
              departmentId,
              name,
              praise,
              importId,
            });
          let position = await store.nextPosition(db, topicId);
          for (const { words, link, clip, used } of part.comes)
            await store.insertComment(db, {
              id: randomUUID(),
              topicId,
              words,
              link,
              voiceId: clips.has(clip) ? clip : null,
              position: position++,
              used,
              by: teacher.id,
              importId,
            });
        }
      }
      const known = new Set(departments.map(d => d.name.trim()));
      return {
        parts: plan.map(p => ({
          name: p.name,
          praise: p.praise,
          departmentName: nameOf(p.departmentId),
          isNew: p.topicId === null,
          comes: p.comes.map(c => c.words),
          known: p.known,
          over: p.over,
        })),
        clipsLost: coming.filter(c => c.clip && !clips.has(c.clip)).length,
        departmentsLost: [...new Set(rows.map(r => r.department.trim()))].filter(d => d && !known.has(d)),
        importId,
      };
    });
  }

  async undoImport(teacher: Me, importId: string): Promise<Topic[]> {
    await transaction(this.pool, async db => {
      if (!(await store.undoImport(db, teacher.id, importId))) throw notFound();
    });
    return this.topics(teacher);
  }

  lately(teacher: Me): Promise<BankLately> {
    return store.latelyOf(this.pool, teacher.id);
  }

  /**
   * The teacher's topics as CSV, so that reading it in again brings back all that is in it. Begins with a mark so that
   * spreadsheets read UTF-8.
   */
  async asCsv(teacher: Me): Promise<string> {
    const topics = await this.topics(teacher);
    const data = topics.flatMap(t =>
      t.comments.map(c =>
        cellsOf({
          topic: t.name,
          words: c.words,
          link: c.link,
          praise: t.praise,
          department: t.departmentName ?? '',
          clip: c.voiceId ?? '',
          used: c.used,
        }),
      ),
    );
    return '\ufeff' + Papa.unparse({ fields: [...BANK_COLUMNS], data }, { escapeFormulae: RECKONED });
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

/** @throws Trouble invalid when the topic is full */
async function roomFor(db: Queryable, topicId: string): Promise<void> {
  if ((await store.countComments(db, topicId)) < LIMITS.topicComments) return;
  throw new Trouble('invalid', `A topic holds ${LIMITS.topicComments} comments at most. Begin another one.`);
}
