import { useEffect, useState } from 'react';
import type { Drawing } from '@ecoute/core/feedback/drawing';
import type { RunningRecord } from '@ecoute/core/feedback/runningRecord';
import type { Markup, MarkupKind } from '@ecoute/contract/markups';
import { Kept } from '../../../base/kept/kept';
import { useKept } from '../../../base/kept/useKept';
import { useMarkupsQuery, useSaveMarkupMutation } from '../endpoints';

interface Content {
  record: RunningRecord;
  drawing: Drawing;
}

const PAUSE_MS = 500;
const MOST_UNDONE = 100;

/**
 * A running record or a drawing while it is made, kept and sent as `Kept` does; where a colleague changed it in between, both
 * are there until one is chosen.
 */
export function useMarkup<K extends MarkupKind>(
  at: { sittingId: string; itemId: string; targetId: string },
  kind: K,
) {
  type Value = Content[K] | null;
  const { sittingId, itemId, targetId } = at;
  const { data } = useMarkupsQuery({ sittingId, itemId });
  const [save] = useSaveMarkupMutation();
  const [past, setPast] = useState<Value[]>([]);
  const read = (markup: Markup | null | undefined) => ({
    value: (markup?.[kind] ?? null) as Value,
    revision: markup?.revision ?? 0,
  });
  const stored = data?.find(m => m.targetId === targetId && m.kind === kind);
  const [{ value, state, refusal }, kept] = useKept<Value>(
    `ecoute-${kind}-${sittingId}-${itemId}-${targetId}`,
    shelf =>
      new Kept({
        stored: read(stored),
        send: async (content, revision) => {
          const wanted = { sittingId, itemId, targetId, kind, revision, [kind]: content };
          const back = await save(wanted as Parameters<typeof save>[0]).unwrap();
          return { value: content, revision: back?.revision ?? 0 };
        },
        theirs: ({ current }) => read(current as Markup | null),
        shelf,
        pauseMs: PAUSE_MS,
      }),
  );
  useEffect(() => {
    if (stored) kept.offer({ value: stored[kind] as Value, revision: stored.revision });
  }, [kept, kind, stored]);

  return {
    shown: value,
    change: (next: Content[K]) => {
      setPast([...past.slice(-MOST_UNDONE), value]);
      kept.change(next);
    },
    undo: () => {
      if (past.length === 0) return;
      setPast(past.slice(0, -1));
      kept.change(past.at(-1) ?? null);
    },
    mayUndo: past.length > 0,
    trouble:
      state === 'conflict'
        ? (refusal?.message ?? 'A colleague has changed this meanwhile. Yours is still here.')
        : state === 'refused' || state === 'away'
          ? (refusal?.message ?? 'Not saved. It is still here and goes out again.')
          : null,
    /** Chooses one of two, where a colleague's is stored meanwhile. */
    settle: state === 'conflict' ? (keep: 'here' | 'stored') => void kept.settle(keep) : null,
    isSaving: state === 'saving',
  };
}
