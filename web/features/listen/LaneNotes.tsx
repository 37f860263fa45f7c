import { Pencil, Square, Trash2 } from 'lucide-react';
import { useEffect, useImperativeHandle, useRef, useState, type KeyboardEvent, type Ref } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Lane } from '@ecoute/contract/marking';
import type { Note } from '@ecoute/contract/notes';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../base/api';
import type { Refusal } from '../../base/refusal';
import { deviceShelf } from '../../base/kept/shelf';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { LevelMeter } from '../../parts/recorder/LevelMeter';
import { PinnedNotes, placeOf } from '../../parts/player/PinnedNotes';
import { trackOf } from '../../parts/player/PlayButton';
import { player } from '../../parts/player/usePlayer';
import { useRemoveNoteMutation, useSaveNoteMutation } from './endpoints';
import { useSpokenNote } from './useSpokenNote';
import { untilHere, type NoteDraft } from './noteDraft';

export interface LaneNotesHandle {
  /** Begins a note at the moment that is heard. */
  here: () => void;
  /** Begins to record a spoken note at that moment; `hush` ends it. */
  speak: () => void;
  hush: () => void;
  /** Keeps the note that is being written, as finishing does. @returns whether it is kept, and why not; null where none is */
  keep: () => Promise<string | null> | null;
  /** Pins words to that moment, with the clip of a comment of the bank. @returns whether they are kept */
  pin: (words: string, commentId: string | null) => Promise<boolean>;
}

/** Why a note is not kept, from what was refused. */
function wordsOf(refusal: Refusal | null): string {
  return refusal && refusal.status > 0
    ? refusal.message
    : 'Ecoute does not answer just now. The note is kept on this device; keep it again in a moment.';
}

/** From hearing something to pressing a key, about. */
const REACTION_MS = 600;

/** Notes on the recording in focus: pinned while one listens, changed and taken away where they stand. */
export function LaneNotes({
  releaseId,
  lane,
  takeId,
  handle,
  onSpoken,
}: {
  releaseId: string;
  lane: Lane;
  takeId: string;
  handle: Ref<LaneNotesHandle>;
  /** A spoken note is on its way: what is shown of the lanes is to be asked for anew. */
  onSpoken: () => void;
}) {
  const [shelf] = useState(() => deviceShelf<NoteDraft>(`ecoute-note-${takeId}`));
  const [draft, setDraft] = useState(() => shelf.get()?.value ?? null);
  const [removed, setRemoved] = useState<Note | null>(null);
  const [save, saving] = useSaveNoteMutation();
  const [remove, removing] = useRemoveNoteMutation();
  const words = useRef<HTMLTextAreaElement>(null);
  const at = { releaseId, sittingId: lane.sittingId, itemId: lane.itemId, takeId };
  const track = trackOf(takeId, lane.studentName, 'student', lane.durationMs);
  const position = () => {
    const state = player.now();
    return Math.min(lane.durationMs ?? Infinity, state.track?.id === takeId ? state.positionMs : 0);
  };
  const change = (next: NoteDraft | null) => {
    setDraft(next);
    shelf.put(next && { value: next, revision: next.revision });
  };
  const spoken = useSpokenNote(takeId, onSpoken);
  /** Only who begins a note is taken to its field: a draft met on the way from lane to lane waits. */
  const begins = useRef(false);
  const begin = (next: NoteDraft) => {
    begins.current = true;
    change(next);
  };
  const beginHere = () => {
    // Whoever presses a key while it plays means what they heard a moment before.
    const { playing, rate, track: now } = player.now();
    const late = playing && now?.id === takeId ? REACTION_MS * rate : 0;
    const fromMs = Math.round(Math.max(0, position() - late));
    begin({ id: crypto.randomUUID(), fromMs, toMs: null, words: '', revision: 0 });
  };
  const open = draft?.id;
  useEffect(() => {
    if (open && begins.current) words.current?.focus();
    begins.current = false;
  }, [open]);
  /** @returns why it could not be kept; null where it is */
  const keep = async (): Promise<string | null> => {
    if (!draft) return null;
    const isSpoken = lane.notes.some(n => n.id === draft.id && n.voiceId !== null);
    if (draft.words.trim() === '' && !isSpoken) {
      change(null);
      return null;
    }
    try {
      await save({ ...at, noteId: draft.id, note: draft }).unwrap();
    } catch (error) {
      return wordsOf(refusalOf(error));
    }
    change(null);
    return null;
  };
  useImperativeHandle(handle, () => ({
    here() {
      if (draft) words.current?.focus();
      else beginHere();
    },
    speak: () => void spoken.start(position()),
    hush: () => void spoken.stop(),
    keep: () => (draft ? keep() : null),
    pin: (said, commentId) =>
      save({
        ...at,
        noteId: crypto.randomUUID(),
        note: { fromMs: Math.round(position()), toMs: null, words: said, revision: 0, commentId },
      })
        .unwrap()
        .then(
          () => true,
          () => false,
        ),
  }));
  // A spoken note is heard a moment after it was said.
  const coming = lane.notes.some(n => n.voiceState === 'arriving' || n.voiceState === 'checking');
  useEffect(() => {
    if (!coming || spoken.speaking) return;
    const timer = setInterval(onSpoken, 1_500);
    // One that takes longer (a colleague's device without a network) comes with the next look at the lanes.
    const enough = setTimeout(() => clearInterval(timer), 30_000);
    return () => {
      clearInterval(timer);
      clearTimeout(enough);
    };
  }, [coming, onSpoken, spoken.speaking]);
  const refusal = refusalOf(saving.error);
  const holding = refusal?.code === 'stale' ? (refusal.current as Note | null) : null;
  const trouble = saving.isError ? wordsOf(refusal) : null;
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'Enter' && !event.shiftKey) {
      // With Ctrl the answer is finished, and finishing keeps the note.
      if (event.ctrlKey || event.metaKey) return;
      event.stopPropagation();
      event.preventDefault();
      void keep();
    }
    if (event.key === 'Escape') {
      event.stopPropagation();
      if (draft?.words.trim() === '') change(null);
      else words.current?.blur();
    }
  };

  return (
    <div className="grid gap-2">
      <PinnedNotes
        notes={lane.notes}
        track={track}
        label={`Notes on the answer of ${lane.studentName}`}
        actions={note => (
          <span className="flex items-center gap-1">
            <span className="text-sm text-soft">{note.authorName}</span>
            <Button
              look="quiet"
              aria-label={`Change the note at ${placeOf(note)}`}
              disabled={draft !== null}
              onClick={() => begin({ ...note })}
            >
              <Pencil aria-hidden className="size-5" />
            </Button>
            <Button
              look="quiet"
              aria-label={`Take away the note at ${placeOf(note)}`}
              onClick={() =>
                void remove({ ...at, noteId: note.id, revision: note.revision })
                  .unwrap()
                  .then(
                    () => setRemoved(note),
                    () => undefined,
                  )
              }
            >
              <Trash2 aria-hidden className="size-5" />
            </Button>
          </span>
        )}
      />
      {lane.again?.first && lane.again.first.notes.length > 0 && (
        <>
          <h2 className="text-sm font-semibold">On the first recording</h2>
          <PinnedNotes
            notes={lane.again.first.notes}
            track={trackOf(
              lane.again.first.takeId,
              `${lane.studentName}, first recording`,
              'student',
              lane.again.first.durationMs,
            )}
            label="Notes on the first recording"
          />
        </>
      )}
      {removing.isError && (
        <Notice kind="trouble">
          {refusalOf(removing.error)?.message ?? 'The note could not be taken away just now. Try again.'}
        </Notice>
      )}
      {removed && (
        <Notice
          action={
            <Button
              onClick={() =>
                void save({ ...at, noteId: removed.id, note: removed })
                  .unwrap()
                  .then(
                    () => setRemoved(null),
                    () => undefined,
                  )
              }
            >
              Put it back
            </Button>
          }
        >
          The note at {placeOf(removed)} is taken away.
        </Notice>
      )}
      {draft ? (
        <div className="grid gap-2 border-s-4 border-saffron bg-saffron-wash p-3">
          <Field
            label={`Note at ${placeOf(draft)}`}
            hint="Enter keeps it, Shift Enter a new line"
            error={trouble}
          >
            {ties => (
              <textarea
                {...ties}
                ref={words}
                rows={2}
                dir="auto"
                maxLength={LIMITS.note}
                value={draft.words}
                onChange={e => change({ ...draft, words: e.target.value })}
                onKeyDown={onKey}
                className={inputClass}
              />
            )}
          </Field>
          {holding && (
            <p>
              <strong>{holding.authorName}:</strong> {holding.words}{' '}
              <Button look="quiet" onClick={() => change({ ...draft, revision: holding.revision })}>
                Keep mine instead
              </Button>
            </p>
          )}
          <div className="flex flex-wrap gap-2">
            <Button look="main" disabled={saving.isLoading} onClick={() => void keep()}>
              Keep the note
            </Button>
            <Button
              onClick={() => {
                change(untilHere(draft, position()));
                // Back to the words, where Enter keeps it.
                words.current?.focus();
              }}
            >
              As far as here
            </Button>
            {draft.toMs !== null && (
              <Button onClick={() => change({ ...draft, toMs: null })}>At one moment</Button>
            )}
            <Button look="quiet" onClick={() => change(null)}>
              Throw it away
            </Button>
          </div>
        </div>
      ) : spoken.speaking ? (
        <div className="grid gap-3 border-2 border-vermilion bg-vermilion-wash p-3 sm:grid-cols-[auto_minmax(0,1fr)_auto] sm:items-center">
          <p className="flex items-baseline gap-3">
            <span className="font-semibold">Speak your note</span>
            <span className="tabular text-xl">{clock(spoken.elapsedMs)}</span>
          </p>
          <LevelMeter analyser={spoken.speaking.microphone.analyser} recording />
          <Button look="record" onClick={() => void spoken.stop()}>
            <Square aria-hidden className="size-5 fill-current" /> Stop
          </Button>
        </div>
      ) : (
        lane.notes.length === 0 && (
          <p className="text-sm text-soft">
            No note yet. N begins one at the moment that is heard; sound goes on.
          </p>
        )
      )}
      {spoken.trouble && <Notice kind="trouble">{spoken.trouble}</Notice>}
    </div>
  );
}
