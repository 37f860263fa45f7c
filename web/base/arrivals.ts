/** Contributions that the server told this page of: a discussion that is open asks for each of them alone. */
const listeners = new Set<(id: string) => void>();

/** @returns what ends the listening */
export function onSaid(listener: (id: string) => void): () => void {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

export function tellSaid(id: string): void {
  listeners.forEach(listener => listener(id));
}
