import { useCallback, useEffect, useRef, useState } from 'react';
import {
  fromHundredths,
  parsePoints,
  pointsText,
  scoreProblem,
  toHundredths,
} from '@ecoute/core/scoring/points';
import type { Lane, Mark } from '@ecoute/contract/marking';
import { refusalOf } from '../../app/api';
import { useSaveMarkMutation } from './endpoints';
import { draftOf, keepDraft, type MarkDraft } from './markDrafts';
import { laneKey } from './order';

const PAUSE_MS = 900;

const shown = (mark: Mark | null): MarkDraft => ({
  points: mark?.points == null ? '' : pointsText(toHundredths(mark.points)),
  comment: mark?.comment ?? '',
  choices: mark?.choices ?? [],
});

/**
 * Points and comment of one lane. An unfinished mark saves itself as it is typed; a finished one changes only
 * by finishing again, so that its history stays readable.
 */
/** @param carries points that the item carries under its scheme; 0 where none are given */
export function useMarking(releaseId: string, lane: Lane, carries: number) {
  const key = laneKey(lane);
  const [draft, setDraft] = useState<MarkDraft>(() => draftOf(key) ?? shown(lane.mark));
  const [problem, setProblem] = useState<string | null>(null);
  const [state, setState] = useState<'still' | 'saving' | 'saved' | 'kept'>(draftOf(key) ? 'kept' : 'still');
  const [save] = useSaveMarkMutation();
  const revision = useRef(lane.mark?.revision ?? 0);
  const finished = useRef(lane.mark?.finished ?? false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const latest = useRef(draft);

  const pointsOf = useCallback(
    (text: string): { hundredths: number | null; problem: string | null } => {
      if (text.trim() === '') return { hundredths: null, problem: null };
      const hundredths = parsePoints(text);
      if (hundredths === null) return { hundredths, problem: 'Type points such as 4 or 2.5.' };
      return { hundredths, problem: scoreProblem(hundredths, toHundredths(carries)) };
    },
    [carries],
  );

  const send = useCallback(
    (finish: boolean): Promise<boolean> => {
      clearTimeout(timer.current);
      const sent = latest.current;
      const { hundredths, problem: wrong } = pointsOf(sent.points);
      const missing =
        finish && carries > 0 && hundredths === null ? 'Give points before you finish this answer.' : null;
      setProblem(wrong ?? missing);
      if (wrong ?? missing) return Promise.resolve(false);
      // One at a time, so that a quick finish follows its own autosave and not a revision behind it.
      const result = queue.current.then(async () => {
        setState('saving');
        try {
          const mark = await save({
            releaseId,
            sittingId: lane.sittingId,
            itemId: lane.itemId,
            revision: revision.current,
            points: hundredths === null ? null : fromHundredths(hundredths),
            comment: sent.comment,
            choices: sent.choices ?? [],
            finished: finish,
          }).unwrap();
          revision.current = mark.revision;
          finished.current = mark.finished;
          if (latest.current === sent) keepDraft(key, null);
          setState('saved');
          setProblem(null);
          return true;
        } catch (error) {
          const refused = refusalOf(error);
          const other = refused?.code === 'stale' ? (refused.current as Mark | undefined) : undefined;
          if (other) {
            revision.current = other.revision;
            finished.current = other.finished;
            const gave = other.points === null ? '' : ` ${other.points} points`;
            setProblem(
              `${other.authorName} has marked this meanwhile:${gave} “${other.comment}”. Yours is still in the field; finish to put it in its place.`,
            );
          } else setProblem(refused?.message ?? 'Not saved. Try again.');
          setState('kept');
          return false;
        }
      });
      queue.current = result;
      return result;
    },
    [carries, key, lane.itemId, lane.sittingId, pointsOf, releaseId, save],
  );

  const change = useCallback(
    (next: Partial<MarkDraft>) => {
      const changed = { ...latest.current, ...next };
      latest.current = changed;
      setDraft(changed);
      setState('kept');
      keepDraft(key, changed);
      setProblem(pointsOf(changed.points).problem);
      clearTimeout(timer.current);
      if (!finished.current) timer.current = setTimeout(() => void send(false), PAUSE_MS);
    },
    [key, pointsOf, send],
  );

  // Leaving the lane sends what is left.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      if (draftOf(key) && !finished.current) void send(false);
    },
    [key, send],
  );

  return { draft, change, problem, state, finish: () => send(true), isFinished: finished.current };
}
