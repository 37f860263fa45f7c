import { Play } from 'lucide-react';
import type { ReactNode } from 'react';
import { pinnedAt } from '@ecoute/core/timing/pinned';
import { clock } from '@ecoute/core/timing/words';
import type { Note } from '@ecoute/contract/notes';
import { PlayButton, trackOf } from './PlayButton';
import type { Track } from './player';
import { playFrom, usePositionOf } from './usePlayer';
import { t } from '../../base/i18n';
import { Words } from '../Words';

/** The place of a note in words: a moment, or from where to where. */
export function placeOf({ fromMs, toMs }: Pick<Note, 'fromMs' | 'toMs'>): string {
  return toMs === null ? clock(fromMs) : `${clock(fromMs)}–${clock(toMs)}`;
}

/** A moment is heard from a little before it, so that it is not over before one listens. */
const RUN_UP_MS = 500;

/** What was said, where it can be heard; before that, why it cannot. */
function SpokenNote({ note, voiceId }: { note: Note; voiceId: string }) {
  if (note.voiceState === 'stored')
    return (
      <PlayButton
        track={trackOf(voiceId, t('Note of {{name}}', { name: note.authorName }), 'teacher', note.voiceMs)}
        label={t('the spoken note at {{time}}', { time: placeOf(note) })}
        text={note.voiceMs === null ? undefined : clock(note.voiceMs)}
      />
    );
  return (
    <span className="self-center text-sm text-soft">
      {note.voiceState === 'refused' ? t('nothing can be heard of this note') : t('on its way')}
    </span>
  );
}

/** Notes of a recording, in order. Each plays from its place; those whose time is now stand out. */
export function PinnedNotes({
  notes,
  track,
  label,
  actions,
}: {
  notes: readonly Note[];
  track: Track;
  label: string;
  /** What can be done to a note. */
  actions?: (note: Note) => ReactNode;
}) {
  const position = usePositionOf(track.id);
  const now = new Set(position === null ? [] : pinnedAt(notes, position).map(n => n.id));
  if (notes.length === 0) return null;
  const play = (note: Note) => {
    playFrom(track, Math.max(0, note.fromMs - RUN_UP_MS));
  };
  return (
    <ul aria-label={label} className="grid gap-px bg-line">
      {notes.map(note => (
        <li
          key={note.id}
          aria-current={now.has(note.id) || undefined}
          className={`flex flex-wrap items-start gap-x-3 gap-y-1 border-s-4 px-3 py-1.5 ${
            now.has(note.id) ? 'border-saffron bg-saffron-wash' : 'border-transparent bg-sheet'
          }`}
        >
          <button
            type="button"
            onClick={() => play(note)}
            aria-label={t('Play from {{time}}', { time: clock(note.fromMs) })}
            className="tabular inline-flex min-h-9 shrink-0 items-center gap-1.5 self-center px-1 text-saffron-ink underline underline-offset-4"
          >
            <Play aria-hidden className="size-4" /> {placeOf(note)}
          </button>
          {note.voiceId && <SpokenNote note={note} voiceId={note.voiceId} />}
          <Words text={note.words} className="min-w-0 flex-1 basis-40 self-center" />
          {actions?.(note) ?? <span className="self-center text-sm text-soft">{note.authorName}</span>}
        </li>
      ))}
    </ul>
  );
}
