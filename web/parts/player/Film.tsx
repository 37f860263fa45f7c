import { useLayoutEffect, useRef, useState } from 'react';
import { park, screen, usePlayer } from './usePlayer';

/** The place where a film is seen while it is the one that plays; before that, a still of it. */
export function Film({ id, label }: { id: string; label: string }) {
  const place = useRef<HTMLDivElement>(null);
  const { track } = usePlayer();
  const here = track?.id === id;
  /** The film whose still is not there (a rehearsal's own). */
  const [bare, setBare] = useState<string | null>(null);
  // In the layout phase: the element has to be elsewhere in the page before this box leaves it, for a browser pauses
  // what is taken out of the page.
  useLayoutEffect(() => {
    const box = place.current;
    if (!here || !box) return;
    const film = screen();
    box.appendChild(film);
    return () => {
      if (film.parentElement === box) park(film);
    };
  }, [here]);
  return (
    <div
      role="img"
      aria-label={label}
      ref={place}
      className={`aspect-video w-full max-w-2xl bg-sunk ${here ? '' : 'border border-line'}`}
    >
      {!here && bare !== id && (
        <img
          src={`/api/recordings/${id}/shown`}
          alt=""
          className="size-full bg-[#000] object-contain"
          onError={() => setBare(id)}
        />
      )}
    </div>
  );
}
