import { useEffect, useState } from 'react';
import type { MediaDetails, RecordingView } from '@ecoute/contract/recordings';

const known = new Map<string, Promise<MediaDetails | null>>();

/** What the server knows of a file that is shown; it never changes once it stands. */
export function fetchDetails(id: string): Promise<MediaDetails | null> {
  const asked =
    known.get(id) ??
    fetch(`/api/recordings/${id}/details`).then(async response => {
      if (!response.ok) throw new Error(`HTTP ${response.status}`);
      return ((await response.json()) as RecordingView).details;
    });
  known.set(id, asked);
  asked.catch(() => known.delete(id));
  return asked;
}

/** Pages of a student's file are drawn after it stands; until the last is there, it is asked again. */
function isWhole(details: MediaDetails | null): boolean {
  return !details?.pages || (details.pagesReady ?? 0) >= details.pages;
}

const AGAIN_MS = 1_000;

export function useDetails(id: string | null): MediaDetails | null {
  const [loaded, setLoaded] = useState<{ id: string; details: MediaDetails | null } | null>(null);
  useEffect(() => {
    if (!id) return;
    let current = true;
    let timer: ReturnType<typeof setTimeout>;
    const ask = () =>
      fetchDetails(id).then(
        details => {
          if (!current) return;
          setLoaded({ id, details });
          if (isWhole(details)) return;
          known.delete(id);
          timer = setTimeout(() => void ask(), AGAIN_MS);
        },
        () => undefined,
      );
    void ask();
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [id]);
  return loaded?.id === id ? loaded.details : null;
}
