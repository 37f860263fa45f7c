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

export function useDetails(id: string | null): MediaDetails | null {
  const [loaded, setLoaded] = useState<{ id: string; details: MediaDetails | null } | null>(null);
  useEffect(() => {
    if (!id) return;
    let current = true;
    fetchDetails(id).then(
      details => current && setLoaded({ id, details }),
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [id]);
  return loaded?.id === id ? loaded.details : null;
}
