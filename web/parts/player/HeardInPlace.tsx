import type { Note } from '@ecoute/contract/notes';
import { PlayButton } from './PlayButton';
import type { Track } from './player';
import { player, usePeaks, usePositionOf } from './usePlayer';
import { Waveform } from './Waveform';

/** A recording in a line: it plays where it stands, and a press on its shape goes to that moment. */
export function HeardInPlace({
  track,
  fullMs,
  height,
  plays,
  label,
  notes,
}: {
  track: Track;
  /** The scale of all those under each other, in ms. */
  fullMs: number;
  /** Of the shape, in px. */
  height: number;
  /** What the button plays. */
  plays: string;
  /** What the shape is of. */
  label: string;
  notes?: readonly Note[];
}) {
  const peaks = usePeaks(track.id, track.durationMs);
  const position = usePositionOf(track.id);
  return (
    <span className="flex min-w-0 flex-1 items-center gap-3">
      <PlayButton track={track} label={plays} />
      <span className="min-w-0 flex-1">
        <Waveform
          peaks={peaks}
          fullMs={fullMs}
          positionMs={position}
          voice={track.voice}
          height={height}
          notes={notes}
          label={label}
          onSeek={ms => {
            player.load(track);
            player.seek(ms);
          }}
        />
      </span>
    </span>
  );
}
