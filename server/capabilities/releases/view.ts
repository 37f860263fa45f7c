/** Releases as pages see them. */
import type { ReleaseEntry } from '@ecoute/contract/releases';
import type { EntryRow } from './store';

export function entryView(row: EntryRow): ReleaseEntry {
  const { opensAt, dueAt, closesAt, outline, ...rest } = row;
  return {
    ...rest,
    title: outline.title,
    outline: { title: outline.title, items: outline.items },
    opensAt: opensAt.toISOString(),
    dueAt: dueAt.toISOString(),
    closesAt: closesAt?.toISOString() ?? null,
  };
}
