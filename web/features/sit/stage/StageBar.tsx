import { useEffect, useRef, type ReactNode } from 'react';

/**
 * The slim bar at the foot of the stage: time, level, and the one thing to press; always in sight. With each phase the focus comes
 * to it, not onto its button: a key that is held down, or a pedal, sets nothing off.
 * @param says  what goes on, for somebody who cannot see it
 * @param phase changes with what goes on
 */
export function StageBar({
  says,
  phase,
  isRecording,
  takesFocus,
  children,
}: {
  says: string;
  phase: string;
  isRecording: boolean;
  /** False where something else comes next. */
  takesFocus: boolean;
  children: ReactNode;
}) {
  const bar = useRef<HTMLDivElement>(null);
  const before = useRef(phase);
  useEffect(() => {
    if (before.current === phase) return;
    before.current = phase;
    if (takesFocus) bar.current?.focus({ preventScroll: true });
  }, [phase, takesFocus]);
  return (
    <div
      ref={bar}
      role="group"
      aria-label={says}
      tabIndex={-1}
      data-testid="stage-bar"
      className={`sticky bottom-0 z-20 grid grid-cols-1 gap-2 border-t-4 in-data-[stage=on]:low:content-end in-data-[stage=on]:low:border-s-4 in-data-[stage=on]:low:border-t-0 in-data-[stage=on]:low:px-2 bg-sheet px-4 py-2 outline-offset-[-6px] sm:px-8 sm:py-3 ${isRecording ? 'border-vermilion' : 'border-line'}`}
      style={{ paddingBottom: 'max(0.5rem, env(safe-area-inset-bottom))' }}
    >
      {children}
    </div>
  );
}
