import { useEffect, useRef } from 'react';

/** What the camera or the screen gives just now. Silent: nobody hears themselves. */
export function Preview({
  stream,
  mirrored,
  label,
}: {
  stream: MediaStream;
  mirrored: boolean;
  label: string;
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
      className={`aspect-video w-full bg-[#000] object-contain ${mirrored ? '-scale-x-100' : ''}`}
    />
  );
}
