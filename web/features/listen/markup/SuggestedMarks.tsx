import { useEffect, useRef } from 'react';
import type { Suggestion } from '@ecoute/core/feedback/suggestions';
import { clock } from '@ecoute/core/timing/words';
import { Button } from '../../../parts/Button';
import { MISCUE_WORDS } from '../../../parts/markup/MarkedPassage';

/** What is asked, in words. @param text the words that it is about */
function asked({ kind, isLongTry }: Suggestion, text: string): string {
  if (kind === 'last') return `does the reading stop at “${text}”?`;
  if (isLongTry) return `a long try at “${text}”: ${MISCUE_WORDS.selfCorrection}?`;
  if (kind === 'insertion') return `something put in after “${text}”?`;
  return `“${text}” ${MISCUE_WORDS[kind]}?`;
}

/** One suggestion at a time, heard, taken or refused; nothing of it counts before. */
export function SuggestedMarks({
  open,
  wordsOf,
  onHear,
  onTake,
  onRefuse,
}: {
  open: readonly Suggestion[];
  /** The passage's words from one to another. */
  wordsOf: (from: number, to: number) => string;
  onHear: (suggestion: Suggestion) => void;
  onTake: (suggestion: Suggestion) => void;
  onRefuse: (suggestion: Suggestion) => void;
}) {
  const current = open[0];
  const latest = useRef<Record<string, () => void>>({});
  useEffect(() => {
    latest.current = current
      ? { Y: () => onTake(current), N: () => onRefuse(current), W: () => onHear(current) }
      : {};
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!event.shiftKey || event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      const isTyping =
        event.target instanceof HTMLElement &&
        event.target.closest('input, textarea, select, [contenteditable=true], [role=dialog]');
      const act = latest.current[event.key.toUpperCase()];
      if (isTyping || !act) return;
      event.preventDefault();
      event.stopPropagation();
      act();
    };
    window.addEventListener('keydown', onKey, { capture: true });
    return () => window.removeEventListener('keydown', onKey, { capture: true });
  }, []);
  if (!current) return null;
  return (
    <section
      aria-label="Suggested"
      className="sticky top-0 z-10 flex flex-wrap items-center gap-x-3 border-2 border-dashed border-edge bg-sheet px-3 py-1"
    >
      <p className="min-w-0 grow" aria-live="polite">
        <span className="text-soft">
          {open.length === 1 ? 'One suggestion' : `${open.length} suggestions`}, not counted:{' '}
        </span>
        <span className="tabular">{clock(current.atMs)}</span>{' '}
        {asked(current, wordsOf(current.from, current.to))}
      </p>
      <div className="flex flex-wrap gap-2">
        <Button look="quiet" aria-keyshortcuts="Shift+W" title="Shift W" onClick={() => onHear(current)}>
          Hear it
        </Button>
        <Button aria-keyshortcuts="Shift+Y" title="Shift Y" onClick={() => onTake(current)}>
          Take it
        </Button>
        <Button look="quiet" aria-keyshortcuts="Shift+N" title="Shift N" onClick={() => onRefuse(current)}>
          Refuse it
        </Button>
      </div>
    </section>
  );
}
