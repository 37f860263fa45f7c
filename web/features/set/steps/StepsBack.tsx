import { Redo2, Undo2 } from 'lucide-react';

const look =
  'inline-flex min-h-8 min-w-0 items-center gap-2 border-2 border-edge bg-sheet px-3 text-sm font-semibold';

/** The way back from what was done last, and forth again. It stands where there is one. */
export function StepsBack({
  steps: { undoes, redoes, undo, redo },
}: {
  steps: { undoes: string | null; redoes: string | null; undo: () => void; redo: () => void };
}) {
  if (undoes === null && redoes === null) return null;
  return (
    <span className="flex min-w-0 flex-wrap gap-2">
      {undoes !== null && (
        <button type="button" className={look} aria-keyshortcuts="Control+Z" title="Ctrl Z" onClick={undo}>
          <Undo2 aria-hidden className="size-4 shrink-0" /> <span className="truncate">Undo: {undoes}</span>
        </button>
      )}
      {redoes !== null && (
        <button
          type="button"
          className={look}
          aria-keyshortcuts="Control+Shift+Z"
          title="Ctrl Shift Z"
          onClick={redo}
        >
          <Redo2 aria-hidden className="size-4 shrink-0" /> <span className="truncate">Again: {redoes}</span>
        </button>
      )}
    </span>
  );
}
