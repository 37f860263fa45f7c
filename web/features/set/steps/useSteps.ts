import { useCallback, useEffect, useRef, useState } from 'react';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { withPassMark } from '@ecoute/contract/assessment/points';
import { keepSteps, keptSteps } from './stepShelf';
import { canonical, withStep, type Step } from './steps';

type Change = (content: AssessmentContent) => AssessmentContent;

/** Typing is written down when it pauses; what came or went at once. */
const PAUSE_MS = 400;

/** Where keys take back what was typed there, and not a step of the whole. */
const TYPES = 'textarea, [contenteditable="true"], input:not([type="checkbox"]):not([type="radio"])';

interface History {
  done: readonly Step[];
  undone: readonly Step[];
}

/**
 * Takes back, and does again, what was done to an assessment, step by step and after a reload too.
 * @param content what it is now
 * @param apply   changes it; what it becomes is saved as any change is
 */
export function useSteps(assessmentId: string, content: AssessmentContent, apply: (next: Change) => void) {
  const [history, setHistory] = useState<History>({ done: [], undone: [] });
  /** The same as on the page, for several changes before it is drawn again. */
  const latest = useRef({ content, history });
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const enter = useCallback(
    (next: History, after: AssessmentContent, atOnce: boolean) => {
      latest.current = { content: after, history: next };
      setHistory(next);
      clearTimeout(timer.current);
      const write = () => void keepSteps(assessmentId, { steps: next.done, content: after });
      if (atOnce) write();
      else timer.current = setTimeout(write, PAUSE_MS);
    },
    [assessmentId],
  );
  useEffect(() => {
    let current = true;
    const there = canonical(latest.current.content);
    void keptSteps(assessmentId).then(kept => {
      // Steps to anything but what is here would undo what somebody else did since.
      if (!current || !kept || canonical(kept.content) !== there) return;
      const { done, undone } = latest.current.history;
      const next = { done: [...kept.steps, ...done], undone };
      latest.current.history = next;
      setHistory(next);
    });
    return () => {
      current = false;
    };
  }, [assessmentId]);

  const change = useCallback(
    (next: Change) => {
      const before = latest.current.content;
      const after = withPassMark(next(before));
      const done = withStep(latest.current.history.done, before, after, Date.now());
      if (done !== latest.current.history.done) enter({ done, undone: [] }, after, done.at(-1)!.isLarge);
      apply(() => after);
    },
    [apply, enter],
  );
  const travel = useCallback(
    (from: 'done' | 'undone') => {
      const { content: here, history: now } = latest.current;
      const step = now[from].at(-1);
      if (!step) return;
      const to = from === 'done' ? 'undone' : 'done';
      enter(
        {
          ...now,
          [from]: now[from].slice(0, -1),
          [to]: [...now[to], { ...step, before: here, at: 0 }],
        },
        step.before,
        true,
      );
      apply(() => step.before);
    },
    [apply, enter],
  );
  const undo = useCallback(() => travel('done'), [travel]);
  const redo = useCallback(() => travel('undone'), [travel]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey || event.defaultPrevented) return;
      const key = event.key.toLowerCase();
      if (key !== 'z' && key !== 'y') return;
      if (event.target instanceof Element && event.target.closest(`${TYPES}, [role="dialog"]`)) return;
      event.preventDefault();
      if (key === 'y' || event.shiftKey) redo();
      else undo();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [undo, redo]);
  return {
    change,
    undo,
    redo,
    /** What the next undo takes back, and what the next redo does again; null for nothing. */
    undoes: history.done.at(-1)?.words ?? null,
    redoes: history.undone.at(-1)?.words ?? null,
    /** Another version took the place of what is here: nothing leads back from it. */
    forget: useCallback((now: AssessmentContent) => enter({ done: [], undone: [] }, now, true), [enter]),
  };
}
