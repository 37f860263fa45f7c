/** Lets the built page open without a network. A page that is worked on (no build) is always fetched anew. */
export function keepOffline(): void {
  if (!import.meta.env.PROD || !('serviceWorker' in navigator)) return;
  window.addEventListener('load', () => {
    void navigator.serviceWorker.register('/sw.js').catch(() => undefined);
  });
}

/** Forgets what the server said to whoever signs out: the next person of this browser must not see it. */
export async function forgetSaid(): Promise<void> {
  if (!('serviceWorker' in navigator)) return;
  const registration = await navigator.serviceWorker.getRegistration();
  registration?.active?.postMessage('forget');
}

/** Forgets one thing that was said and is true no longer: without a network it would be said once more. */
export function forgetOne(path: string): void {
  if (!('caches' in globalThis)) return;
  void caches
    .open('ecoute-said')
    .then(kept => kept.delete(path))
    .catch(() => undefined);
}

const key = (releaseId: string) => `ecoute-sitting-of-${releaseId}`;

/** Remembers which sitting of a release is open, for a visit without a network. */
export function rememberSitting(releaseId: string, sittingId: string): void {
  try {
    localStorage.setItem(key(releaseId), sittingId);
  } catch {
    // A full device: the sitting is found again when there is a network.
  }
}

export function rememberedSitting(releaseId: string): string | null {
  return localStorage.getItem(key(releaseId));
}
