import { useCallback, useEffect, useRef, useState } from 'react';
import type { Drawing } from '@ecoute/core/feedback/drawing';
import type { RunningRecord } from '@ecoute/core/feedback/runningRecord';
import type { Markup, MarkupKind } from '@ecoute/contract/markups';
import { refusalOf } from '../../../base/api';
import { useMarkupsQuery, useSaveMarkupMutation } from '../endpoints';

interface Content {
  record: RunningRecord;
  drawing: Drawing;
}

const PAUSE_MS = 500;

/**
 * A running record or a drawing while it is made: every change goes to the server after a moment, one at a time; where a
 * colleague changed it in between, both are kept until one is chosen.
 */
export function useMarkup<K extends MarkupKind>(
  at: { sittingId: string; itemId: string; targetId: string },
  kind: K,
) {
  const { sittingId, itemId, targetId } = at;
  const { data } = useMarkupsQuery({ sittingId, itemId });
  const stored = data?.find(m => m.targetId === targetId && m.kind === kind) ?? null;
  const [own, setOwn] = useState<Content[K] | null>(null);
  const [past, setPast] = useState<(Content[K] | null)[]>([]);
  const [trouble, setTrouble] = useState<{ message: string; holding: Markup | null } | null>(null);
  const [save, saving] = useSaveMarkupMutation();
  const revision = useRef(0);
  const latest = useRef<Content[K] | null>(null);
  const isDirty = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  useEffect(() => {
    if (!isDirty.current) revision.current = stored?.revision ?? 0;
  }, [stored]);

  const send = useCallback(() => {
    clearTimeout(timer.current);
    queue.current = queue.current.then(async () => {
      const sent = latest.current;
      try {
        const kept = await save({
          sittingId,
          itemId,
          targetId,
          kind,
          revision: revision.current,
          [kind]: sent,
        } as Parameters<typeof save>[0]).unwrap();
        revision.current = kept?.revision ?? 0;
        setTrouble(null);
        if (latest.current === sent) isDirty.current = false;
      } catch (error) {
        const refusal = refusalOf(error);
        setTrouble({
          message: refusal?.message ?? 'Not saved. It is still here; change it to try again.',
          holding: refusal?.code === 'stale' ? ((refusal.current as Markup | null) ?? null) : null,
        });
      }
    });
  }, [itemId, kind, save, sittingId, targetId]);

  const shown = own ?? (stored?.[kind] as Content[K] | null | undefined) ?? null;
  const put = (next: Content[K] | null) => {
    latest.current = next;
    isDirty.current = true;
    setOwn(next);
    clearTimeout(timer.current);
    timer.current = setTimeout(send, PAUSE_MS);
  };
  const change = (next: Content[K]) => {
    setPast([...past.slice(-100), shown]);
    put(next);
  };
  const undo = () => {
    if (past.length === 0) return;
    setPast(past.slice(0, -1));
    put(past.at(-1) ?? null);
  };
  const keepMine = () => {
    revision.current = trouble?.holding?.revision ?? revision.current;
    setTrouble(null);
    send();
  };
  const last = useRef(send);
  useEffect(() => {
    last.current = send;
  });
  // Leaving the lane sends what is left.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      if (isDirty.current) last.current();
    },
    [],
  );
  return { shown, change, undo, mayUndo: past.length > 0, trouble, keepMine, isSaving: saving.isLoading };
}
