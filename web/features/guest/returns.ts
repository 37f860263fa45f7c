/** How a guest comes back on the same device: the address of their own, kept by the link they came by. */

const KEY = 'ecoute-guest-returns';

function all(): Record<string, string> {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, string>;
  } catch {
    return {};
  }
}

export function keepReturn(code: string, token: string): void {
  try {
    localStorage.setItem(KEY, JSON.stringify({ ...all(), [code.toLowerCase()]: token, last: token }));
  } catch {
    // A device that keeps nothing: the address on the page is the way back.
  }
}

export function keptReturn(code: string): string | null {
  return all()[code.toLowerCase()] ?? null;
}

/** The address that the guest of this device writes down. */
export function returnAddress(): string | null {
  const { last } = all();
  return last ? `${window.location.origin}/back/${last}` : null;
}
