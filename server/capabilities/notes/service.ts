import { pinnedUntil, pinProblem } from '@ecoute/core/timing/pinned';
import { writeVtt } from '@ecoute/core/formats/webvtt';
import { showsNotes } from '@ecoute/core/timing/sittingState';
import { LIMITS } from '@ecoute/contract/limits';
import type { NewSpokenNote, Note, SaveNote } from '@ecoute/contract/notes';
import type { Me } from '@ecoute/contract/people';
import { insertChange } from '../../platform/changes/store';
import { isDuplicate, transaction, type Pool, type Queryable } from '../../platform/database';
import { notFound, Trouble } from '../../platform/trouble';
import { readableComment } from '../commentBank/store';
import type { Recordings } from '../recordings/service';
import { findRecording } from '../recordings/store';
import { situationOf, tellTeachers, type Situation } from '../sittings/situation';
import { sittingOfTake } from '../sittings/answers.store';
import * as store from './store';

/** What teachers say at moments of a recording. Nothing of it shows to its student before the feedback. */
export class Notes {
  constructor(
    private readonly pool: Pool,
    private readonly recordings: Recordings,
  ) {
    recordings.onSettled(async (db, recordingId) => {
      const takeId = await store.takeOfVoice(db, recordingId);
      const sittingId = takeId && (await sittingOfTake(db, takeId));
      if (sittingId) await this.tell(db, await situationOf(db, sittingId));
    });
  }

  /**
   * Makes room for a note that is being spoken. It stands on the lane from now on, so that neither a closed page nor a
   * lost connection loses what was said.
   */
  async speak(teacher: Me, takeId: string, wanted: NewSpokenNote): Promise<Note> {
    const { noteId, recordingId, mediaType } = wanted;
    return this.change(takeId, async (db, situation) => {
      const known = await this.known(db, takeId, noteId);
      if (known) return known.note;
      const take = await findRecording(db, takeId);
      // The last moment of a recording is where its end was heard.
      const fromMs = Math.min(wanted.fromMs, take?.durationMs ?? 0);
      await this.refuseTooMany(db, takeId);
      await this.recordings.announce(db, {
        id: recordingId,
        ownerId: teacher.id,
        purpose: 'note',
        assessmentId: null,
        announcedType: mediaType,
        fileName: null,
        limitMs: LIMITS.spokenNoteMs,
      });
      const note = { id: noteId, revision: 1, takeId, fromMs, toMs: null, words: '', voiceId: recordingId };
      await store.insertNote(db, { ...note, authorId: teacher.id });
      await this.tell(db, situation);
      return (await this.known(db, takeId, noteId))!.note;
    });
  }

  /**
   * Keeps a note, new or reworded. Sending the same twice is harmless.
   * @throws Trouble stale, with the wording that holds, when somebody changed it in between; invalid without words,
   * outside the recording, or when the take has too many
   */
  async save(teacher: Me, takeId: string, id: string, wanted: SaveNote): Promise<Note> {
    const words = wanted.words.trim();
    const place = { fromMs: wanted.fromMs, toMs: wanted.toMs ?? null };
    return this.change(takeId, async (db, situation) => {
      const recording = await findRecording(db, takeId);
      const problem = pinProblem(place, recording?.durationMs ?? 0);
      if (problem) throw new Trouble('invalid', problem);
      const known = await this.known(db, takeId, id);
      const same =
        known?.note.words === words && known.note.fromMs === place.fromMs && known.note.toMs === place.toMs;
      if (known?.inForce && same) return known.note;
      refuseStale(known, wanted.revision);
      const clip = wanted.commentId ? await readableComment(db, teacher.id, wanted.commentId) : null;
      if (words === '' && !known?.note.voiceId)
        throw new Trouble('invalid', 'This note is empty. Write what is to be said, or leave it.');
      if (!known) await this.refuseTooMany(db, takeId);
      await store.supersede(db, id);
      await store.insertNote(db, {
        id,
        revision: (known?.note.revision ?? 0) + 1,
        takeId,
        ...place,
        words,
        voiceId: known?.note.voiceId ?? clip?.voiceId ?? null,
        authorId: teacher.id,
      });
      await this.tell(db, situation);
      return (await this.known(db, takeId, id))!.note;
    });
  }

  /** Takes a note away; its wording stays stored, and saving it again puts it back. @throws Trouble stale */
  async remove(takeId: string, id: string, revision: number): Promise<void> {
    await this.change(takeId, async (db, situation) => {
      const known = await this.known(db, takeId, id);
      if (!known) throw notFound();
      if (!known.inForce) return;
      refuseStale(known, revision);
      await store.supersede(db, id);
      await this.tell(db, situation);
    });
  }

  /** The notes of a take as WebVTT. A student has them once its feedback is given, and only of their own takes. */
  async asVtt(person: Me, takeId: string): Promise<string> {
    const sittingId = await sittingOfTake(this.pool, takeId);
    if (!sittingId) throw notFound();
    const { sitting, release } = await situationOf(this.pool, sittingId);
    if (person.role === 'student' && (sitting.studentId !== person.id || !showsNotes(sitting, Date.now())))
      throw notFound();
    const notes = await store.notesOf(this.pool, [takeId]);
    return writeVtt(
      release.content.title,
      notes.map(n => ({
        fromMs: n.fromMs,
        toMs: pinnedUntil(n),
        words: n.words || '(spoken note)',
        voice: n.authorName,
      })),
    );
  }

  /** Something done to a note, with the row of its sitting held. @throws Trouble notFound for what is no take */
  private async change<T>(
    takeId: string,
    within: (db: Queryable, situation: Situation) => Promise<T>,
  ): Promise<T> {
    try {
      // Before the transaction: a plain read in it, ahead of the lock, would see the notes of before the lock.
      const sittingId = await sittingOfTake(this.pool, takeId);
      if (!sittingId) throw notFound();
      return await transaction(this.pool, async db => within(db, await situationOf(db, sittingId, true)));
    } catch (error) {
      if (isDuplicate(error))
        throw new Trouble(
          'stale',
          'Somebody changed this note in the same moment. Look at it, then save again.',
        );
      throw error;
    }
  }

  private async refuseTooMany(db: Queryable, takeId: string): Promise<void> {
    if ((await store.notesOf(db, [takeId])).length >= LIMITS.notesOfTake)
      throw new Trouble('invalid', `A take holds ${LIMITS.notesOfTake} notes at most. Join some of them.`);
  }

  /** The newest wording of a note, also one that was taken away. */
  private async known(db: Queryable, takeId: string, id: string): Promise<Known | null> {
    const found = await store.newestOf(db, id);
    if (!found) return null;
    if (found.takeId !== takeId) throw notFound();
    const { inForce, ...note } = found;
    return { note, inForce: inForce === 1 };
  }

  /** Open pages learn of it; the student's only once the sitting is theirs again. */
  private async tell(db: Queryable, { sitting }: Situation): Promise<void> {
    await tellTeachers(db, sitting.id);
    if (sitting.feedbackAt || sitting.notesShownAt)
      await insertChange(db, {
        kind: 'feedback',
        subjectId: sitting.releaseId,
        classId: null,
        personId: sitting.studentId,
      });
  }
}

interface Known {
  note: Note;
  inForce: boolean;
}

/** @throws Trouble stale when another wording holds than the one that was read */
function refuseStale(known: Known | null, revision: number): void {
  if ((known?.note.revision ?? 0) !== revision)
    throw new Trouble(
      'stale',
      `${known?.note.authorName ?? 'Somebody'} changed this note meanwhile. What you wrote is still here; look at both.`,
      { current: known?.note ?? null },
    );
}
