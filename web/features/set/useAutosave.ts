import { useCallback, useEffect, useRef, useState } from 'react';
import { AssessmentContent, type AssessmentDraft } from '@ecoute/contract/assessments';
import { check } from '@ecoute/contract/validation';
import { refusalOf, type Refusal } from '../../base/api';
import { useSaveAssessmentMutation } from './endpoints';
import { forgetLocally, keepLocally, keptLocally } from './draft';

export type SaveState = 'saved' | 'changed' | 'saving' | 'invalid' | 'offline' | 'conflict';

const PAUSE_MS = 700;

/**
 * Saves a draft as it is typed. Until the server has a change it is kept on this device; another page's change
 * in between is a conflict that the teacher settles.
 */
export function useAutosave(stored: AssessmentDraft) {
  const [content, setContent] = useState<AssessmentContent>(() => {
    const kept = keptLocally(stored.id);
    return kept && kept.revision === stored.revision ? kept.content : stored.content;
  });
  const [state, setState] = useState<SaveState>(content === stored.content ? 'saved' : 'changed');
  const [fields, setFields] = useState<Record<string, string>>({});
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  const [save] = useSaveAssessmentMutation();
  const revision = useRef(stored.revision);
  const latest = useRef(content);
  const dirty = useRef(content !== stored.content);
  const underWay = useRef<Promise<boolean> | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const flushed = useRef<() => Promise<boolean>>(() => Promise.resolve(true));

  const attempt = useCallback(async (): Promise<boolean> => {
    const sent = latest.current;
    const checked = check(AssessmentContent, sent);
    if (checked.fields) {
      setFields(checked.fields);
      setState('invalid');
      return false;
    }
    setFields({});
    setState('saving');
    try {
      const back = await save({ id: stored.id, revision: revision.current, content: sent }).unwrap();
      revision.current = back.revision;
      dirty.current = latest.current !== sent;
      setRefusal(null);
      if (dirty.current) {
        keepLocally(stored.id, { revision: revision.current, content: latest.current });
        setState('changed');
        timer.current = setTimeout(() => void flushed.current(), PAUSE_MS);
      } else {
        forgetLocally(stored.id);
        setState('saved');
      }
      return !dirty.current;
    } catch (error) {
      const refused = refusalOf(error);
      setRefusal(refused);
      if (refused?.code === 'stale') setState('conflict');
      else if (refused?.code === 'invalid') {
        setFields(
          Object.fromEntries(
            Object.entries(refused.fields ?? {}).map(([k, v]) => [k.replace(/^content\./, ''), v]),
          ),
        );
        setState('invalid');
      } else {
        setState('offline');
        timer.current = setTimeout(() => void flushed.current(), 4_000);
      }
      return false;
    }
  }, [save, stored.id]);

  /**
   * Saves what is not saved. Whoever asks while a save is under way waits for it, and what came since is saved as well.
   * @returns whether everything is with the server
   */
  const flush = useCallback(async (): Promise<boolean> => {
    clearTimeout(timer.current);
    while (underWay.current) await underWay.current;
    if (!dirty.current) return true;
    underWay.current = attempt();
    try {
      return await underWay.current;
    } finally {
      underWay.current = null;
    }
  }, [attempt]);
  flushed.current = flush;

  const change = useCallback(
    (next: (content: AssessmentContent) => AssessmentContent) => {
      const changed = next(latest.current);
      latest.current = changed;
      dirty.current = true;
      setContent(changed);
      setState(s => (s === 'conflict' ? s : 'changed'));
      keepLocally(stored.id, { revision: revision.current, content: changed });
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), PAUSE_MS);
    },
    [flush, stored.id],
  );

  /** Settles a conflict: keep what is here, or take what was stored. */
  const settle = useCallback(
    (keep: 'here' | 'stored') => {
      const current = refusal?.current as AssessmentDraft | undefined;
      if (!current) return;
      revision.current = current.revision;
      if (keep === 'here') {
        dirty.current = true;
        void flush();
        return;
      }
      latest.current = current.content;
      dirty.current = false;
      setContent(current.content);
      setRefusal(null);
      forgetLocally(stored.id);
      setState('saved');
    },
    [flush, refusal, stored.id],
  );

  useEffect(() => {
    if (dirty.current) void flush();
    const hidden = () => void flush();
    document.addEventListener('visibilitychange', hidden);
    window.addEventListener('online', hidden);
    return () => {
      document.removeEventListener('visibilitychange', hidden);
      window.removeEventListener('online', hidden);
      // Leaving the page saves what is left; should even that fail, this device still has it.
      void flush();
    };
  }, [flush]);

  return { content, change, state, fields, refusal, settle, flush };
}
