import { useEffect, useRef } from 'react';

/** What the camera or the screen gives just now. Silent: nobody hears themselves. */
export function Preview({
  stream,
  mirrored,
  label,
  slim = false,
}: {
  stream: MediaStream;
  mirrored: boolean;
  label: string;
  /** Small enough for a bar: nothing is covered by it. */
  slim?: boolean;
}) {
  const film = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    if (!film.current) return;
    film.current.srcObject = stream;
    void film.current.play().catch(() => undefined);
  }, [stream]);
  return (
    <video
      ref={film}
      muted
      playsInline
      aria-label={label}
      className={`aspect-video bg-[#000] ${slim ? 'h-14' : 'w-full'} object-contain ${mirrored ? '-scale-x-100' : ''}`}
    />
  );
}
