import type { LiveView } from '@ecoute/contract/releases';

/** What a student does just now, in words. */
export function liveWords({ itemNumber, phase, here }: LiveView): string {
  if (!here) return itemNumber ? `away, was at item ${itemNumber}` : 'away';
  if (itemNumber === null) return 'reads the directions';
  switch (phase) {
    case 'prompt':
      return `hears the prompt of item ${itemNumber}`;
    case 'prepare':
      return `prepares item ${itemNumber}`;
    case 'record':
      return `is recording item ${itemNumber}`;
    case 'paused':
      return `pauses in item ${itemNumber}`;
    case 'review':
      return `has answered item ${itemNumber}`;
    default:
      return `is at item ${itemNumber}`;
  }
}

/** Hearings of all prompts together, and the most heard one. */
export function hearingsWords(hearings: Record<string, number>, itemIds: readonly string[]): string {
  const counts = itemIds.map(id => hearings[id] ?? 0);
  const sum = counts.reduce((a, b) => a + b, 0);
  if (sum === 0) return '–';
  const most = Math.max(...counts);
  return most > 1 ? `${sum}, item ${counts.indexOf(most) + 1} ${most} times` : String(sum);
}
