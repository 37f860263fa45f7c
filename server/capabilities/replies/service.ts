import { isFeedbackGiven } from '@ecoute/core/timing/sittingState';
import { isRun } from '@ecoute/core/timing/strip';
import { randomUUID } from 'node:crypto';
import type { Item } from '@ecoute/contract/assessments';
import type { Ask, NewReply, Reply, SaveAsk } from '@ecoute/contract/replies';
import { LIMITS } from '@ecoute/contract/limits';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import { transaction, type Pool, type Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import type { Recordings } from '../recordings/service';
import { situationOf, tellTeachers, type Situation } from '../sittings/situation';
import { chooseTake, insertTake, sittingOfTake, takesOfSittings } from '../sittings/answers.store';
import { alikeWith } from '../sittings/joint.store';
import { openFeedback } from '../sittings/store';
import * as store from './store';

/** What students are asked to do with feedback, and the exchange that comes of it. */
export class Replies {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
  ) {
    recordings.onSettled(async (db, recordingId) => {
      const sittingId = await store.sittingOfVoice(db, recordingId);
      if (sittingId) await this.tell(db, await situationOf(db, sittingId));
    });
  }

  /** Asks for an answer on an item or the whole, in place of what was asked there; nothing shows before the feedback. */
  async ask(teacher: Me, sittingId: string, { itemId, kind, words }: SaveAsk): Promise<Ask[]> {
    return transaction(this.pool, async db => {
      const situation = await situationOf(db, sittingId, true);
      this.itemIn(situation, itemId ?? null);
      if (kind === 'recordAgain') this.refuseWhole(itemId ?? null);
      const ask = { id: randomUUID(), sittingId, itemId: itemId ?? null, kind: kind ?? null };
      await store.putAsk(db, { ...ask, words: words.trim(), by: teacher.id });
      await store.countAsks(db, sittingId);
      // What is asked of one who answered with others is asked of them all; to record again is each one's own.
      const alike = (await alikeWith(db, sittingId)).filter(
        o => ask.itemId === null || o.itemId === ask.itemId,
      );
      if (kind !== 'recordAgain')
        for (const other of new Set(alike.map(o => o.sittingId))) {
          await store.putAsk(db, {
            ...ask,
            id: randomUUID(),
            sittingId: other,
            words: words.trim(),
            by: teacher.id,
          });
          await store.countAsks(db, other);
        }
      await this.tell(db, situation);
      return (await store.asksOf(db, [sittingId])).map(askView);
    });
  }

  /**
   * Keeps what a student or a teacher says, and settles the request that it answers.
   * @throws Trouble feedbackNotGiven before the feedback; invalid for a reply without anything in it where something is asked for
   */
  async reply(person: Me, sittingId: string, wanted: NewReply): Promise<Reply[]> {
    const words = wanted.words.trim();
    return transaction(this.pool, async db => {
      const situation = await situationOf(db, sittingId, true);
      const { sitting } = situation;
      const fromStudent = person.id === sitting.studentId;
      const isOut = isFeedbackGiven(sitting, Date.now()) || sitting.askedAgainAt !== null;
      if (!isOut) {
        if (fromStudent) throw notFound();
        throw new Trouble('feedbackNotGiven', 'Feedback is not given yet. Write a comment, then give it.');
      }
      // Whoever answers has seen what they answer.
      if (fromStudent) await openFeedback(db, [sittingId]);
      const known = await store.findReply(db, wanted.id);
      if (known && known.sittingId !== sittingId) throw notFound();
      if (!known) {
        const ask = (await store.asksOf(db, [sittingId])).find(a => a.id === wanted.askId) ?? null;
        if (wanted.askId && !ask)
          throw new Trouble('stale', 'Your teacher has changed what is asked for. Look at it again.');
        this.itemIn(situation, wanted.itemId ?? null);
        this.refuseEmpty(ask, words, wanted);
        if ((await store.repliesOf(db, [sittingId])).length >= LIMITS.repliesOfSitting)
          throw new Trouble('invalid', 'So much was said here that it is full. Talk to each other.');
        const item = fromStudent && ask ? recordedAgain(situation, ask) : null;
        if (item && ask?.answeredAt)
          throw new Trouble('stale', 'You have recorded this again already. Your teacher has it.');
        if (wanted.voice)
          await this.recordings.announce(db, {
            id: wanted.voice.recordingId,
            ownerId: person.id,
            purpose: item ? 'take' : 'reply',
            assessmentId: null,
            announcedType: wanted.voice.mediaType,
            fileName: null,
            limitMs: Math.max(LIMITS.voiceReplyMs, item?.answerLimitMs ?? 0),
          });
        if (item && ask && wanted.voice) await keepTake(db, sittingId, ask, wanted.voice.recordingId);
        await store.insertReply(db, {
          id: wanted.id,
          sittingId,
          itemId: ask ? ask.itemId : (wanted.itemId ?? null),
          askId: fromStudent ? (ask?.id ?? null) : null,
          authorId: person.id,
          words,
          voiceId: wanted.voice?.recordingId ?? null,
        });
        if (ask && fromStudent) await store.answerAsk(db, ask.id);
        await store.countAsks(db, sittingId);
        await this.tell(db, situation);
      }
      return (await store.repliesOf(db, [sittingId])).map(replyView);
    });
  }

  /** What a student said last of an answer, or of the whole, needs no answer more. */
  async settle(sittingId: string, itemId: string): Promise<Reply[]> {
    return transaction(this.pool, async db => {
      const situation = await situationOf(db, sittingId, true);
      this.itemIn(situation, itemId);
      await store.settleReplies(db, { sittingId, itemId });
      await store.countAsks(db, sittingId);
      await this.tell(db, situation);
      return (await store.repliesOf(db, [sittingId])).map(replyView);
    });
  }

  /** The student heard what came back on an item. */
  async heard(sittingId: string, itemId: string): Promise<void> {
    await transaction(this.pool, async db => {
      const situation = await situationOf(db, sittingId);
      this.itemIn(situation, itemId);
      if (!isFeedbackGiven(situation.sitting, Date.now())) throw notFound();
      if (await store.keepHeard(db, { sittingId, itemId })) await tellTeachers(db, sittingId);
    });
  }

  /** @throws Trouble notFound for an item that the assessment does not have */
  private itemIn({ release }: Situation, itemId: string | null): void {
    if (itemId !== null && !release.content.items.some(i => i.id === itemId)) throw notFound();
  }

  /** @throws Trouble invalid where nothing says what is to be recorded again */
  private refuseWhole(itemId: string | null): void {
    if (itemId === null)
      throw new Trouble('invalid', 'Say which item is to be recorded again: ask for it on its lane.', {
        fields: { kind: 'Ask for it on a lane.' },
      });
  }

  private refuseEmpty(ask: store.AskRow | null, words: string, { voice }: NewReply): void {
    if (ask?.kind === 'recordAgain' && !voice)
      throw new Trouble('invalid', 'Record it again; then send it.', {
        fields: { voice: 'Record it again.' },
      });
    if (words === '' && !voice && ask?.kind !== 'acknowledge')
      throw new Trouble('invalid', 'This reply is empty. Write or say something.', {
        fields: { words: 'Write or say something.' },
      });
  }

  private async tell(db: Queryable, { sitting }: Situation): Promise<void> {
    await tellTeachers(db, sitting.id);
    if (sitting.feedbackAt)
      await insertChange(db, {
        kind: 'feedback',
        subjectId: sitting.releaseId,
        classId: null,
        personId: sitting.studentId,
      });
  }
}

/** The item that an answer to a request is a take of: spoken, and no conversation, whose turns would have no place in it. */
function recordedAgain({ release }: Situation, ask: store.AskRow): Item | null {
  if (ask.kind !== 'recordAgain') return null;
  return release.content.items.find(i => i.id === ask.itemId && i.answerBy === 'audio' && !isRun(i)) ?? null;
}

/** What was recorded on request lies with the takes of its item, and counts from when it is here. */
async function keepTake(db: Queryable, sittingId: string, ask: store.AskRow, id: string): Promise<void> {
  const { itemId } = ask;
  const own = (await takesOfSittings(db, [sittingId])).filter(t => t.itemId === itemId);
  if (own.some(t => t.id === id)) return;
  // A recording is the take of one answer.
  if (await sittingOfTake(db, id)) throw notFound();
  const number = Math.max(0, ...own.map(t => t.number)) + 1;
  await insertTake(db, { id, sittingId, itemId: itemId!, number, beganAt: new Date(), askId: ask.id });
  await chooseTake(db, id);
}

export function askView({ id, itemId, kind, words, askedBy, answeredAt }: store.AskRow): Ask {
  return { id, itemId, kind, words, askedBy, answeredAt: answeredAt?.toISOString() ?? null };
}

export function replyView(row: store.ReplyRow): Reply {
  const { id, itemId, askId, authorName, words, voiceId, voiceMs, voiceState } = row;
  const fromStudent = Boolean(row.fromStudent);
  const madeAt = row.madeAt.toISOString();
  return {
    id,
    itemId,
    askId,
    fromStudent,
    authorName,
    words,
    voiceId,
    voiceMs,
    voiceState,
    madeAt,
    settled: row.settledAt !== null,
  };
}
