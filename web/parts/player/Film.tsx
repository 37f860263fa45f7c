import { useEffect, useRef } from 'react';
import { playing, usePlayer } from './usePlayer';

/** The place where a film is seen while it is the one that plays. */
export function Film({ id, label }: { id: string; label: string }) {
  const place = useRef<HTMLDivElement>(null);
  const { track } = usePlayer();
  const here = track?.id === id;
  useEffect(() => {
    const box = place.current;
    if (!here || !box) return;
    box.appendChild(playing);
    return () => {
      if (playing.parentElement === box) box.removeChild(playing);
    };
  }, [here]);
  return (
    <div
      role="img"
      aria-label={label}
      ref={place}
      className={`aspect-video w-full max-w-2xl bg-sunk ${here ? '' : 'border border-line'}`}
    />
  );
}
