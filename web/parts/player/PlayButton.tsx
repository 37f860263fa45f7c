import { Pause, Play } from 'lucide-react';
import type { Track } from './player';
import { player, usePlayed } from './usePlayer';
import { t } from '../../base/i18n';

/** Plays one sound in place. */
export function PlayButton({
  track,
  label,
  text,
  onPlay,
}: {
  track: Track;
  label: string;
  text?: string;
  /** Called when it begins from the start. */
  onPlay?: () => void;
}) {
  const playing = usePlayed(state => state.playing && state.track?.id === track.id);
  const Icon = playing ? Pause : Play;
  // What is seen on it is part of its name: whoever speaks to the machine says what they see.
  const isSaid = !text || label.toLocaleLowerCase().includes(text.toLocaleLowerCase());
  const what = isSaid ? label : `${label}, ${text}`;
  return (
    <button
      type="button"
      onClick={() => {
        const state = player.now();
        if (!playing && (state.track?.id !== track.id || state.positionMs < 100)) onPlay?.();
        void player.toggle(track);
      }}
      aria-label={playing ? t('Pause {{what}}', { what }) : t('Play {{what}}', { what })}
      className={`inline-flex min-h-11 min-w-11 items-center justify-center gap-2 border-2 px-2.5 font-semibold ${
        track.voice === 'teacher'
          ? 'border-saffron bg-saffron-wash text-saffron-ink'
          : 'border-petrol bg-petrol-wash text-petrol-ink'
      }`}
    >
      <Icon aria-hidden className="size-5" />
      {text}
    </button>
  );
}

/** The track of a stored recording. */
export function trackOf(id: string, title: string, voice: Track['voice'], durationMs: number | null): Track {
  return { id, url: `/api/recordings/${id}/sound`, title, voice, durationMs };
}
