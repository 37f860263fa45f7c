import { useCallback, useEffect, useRef, useState } from 'react';
import { fromHundredths, parsePoints, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { markProblem, reasonFor, type MarkProblem } from '@ecoute/core/scoring/changes';
import type { Scoring } from '@ecoute/core/scoring/scheme';
import type { Lane, Mark } from '@ecoute/contract/marking';
import { refusalOf } from '../../base/api';
import { useSaveMarkMutation } from './endpoints';
import { draftOf, keepDraft, type MarkDraft } from './markDrafts';
import { laneKey } from './order';

const PAUSE_MS = 900;

const shown = (mark: Mark | null): MarkDraft => ({
  points: mark?.points == null ? '' : pointsText(toHundredths(mark.points)),
  comment: mark?.comment ?? '',
  choices: mark?.choices ?? [],
  reason: '',
});

/** A mark that is on its way to the server. */
export interface Finishing {
  /** Why it was not stored; null when it was. */
  saved: Promise<string | null>;
  /** Sends it once more. */
  again: () => Promise<string | null>;
}

/** What a finished mark says; null for one that is not. */
const scoreOf = (mark: Mark | null) =>
  mark?.finished
    ? { points: mark.points === null ? null : toHundredths(mark.points), choices: mark.choices }
    : null;

/**
 * Points and comment of one lane. An unfinished mark saves itself as it is typed; a finished one changes only
 * by finishing again, so that its history stays readable.
 * @param carries points that the item carries under its scheme; 0 where none are given
 */
export function useMarking(
  releaseId: string,
  lane: Lane,
  carries: number,
  scoring: Pick<Scoring, 'kind' | 'rubric'>,
) {
  const key = laneKey(lane);
  const [draft, setDraft] = useState<MarkDraft>(() => draftOf(key) ?? shown(lane.mark));
  const [problem, setProblem] = useState<MarkProblem | null>(null);
  const [state, setState] = useState<'still' | 'saving' | 'saved' | 'kept'>(draftOf(key) ? 'kept' : 'still');
  const [save] = useSaveMarkMutation();
  const revision = useRef(lane.mark?.revision ?? 0);
  const finished = useRef(lane.mark?.finished ?? false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const latest = useRef(draft);

  /** The finished score that a new one takes the place of. */
  const [before, setBefore] = useState(() => scoreOf(lane.mark));
  const askedFor = useCallback(
    (of: MarkDraft) =>
      reasonFor(
        before,
        { points: parsePoints(of.points), choices: of.choices ?? [] },
        scoring.rubric,
        toHundredths(carries),
      ),
    [before, carries, scoring],
  );

  /** What is wrong with a draft, before anybody is asked. */
  const problemIn = useCallback(
    (sent: MarkDraft, finishes: boolean): MarkProblem | null => {
      const points = parsePoints(sent.points);
      if (points === null && sent.points.trim() !== '')
        return { field: 'points', message: 'Type points such as 4 or 2.5.' };
      const score = { points, choices: sent.choices ?? [], reason: sent.reason ?? '' };
      return markProblem(before, score, { scoring, carries: toHundredths(carries), finishes });
    },
    [before, carries, scoring],
  );

  /** @returns why it was not stored; null when it was */
  const send = useCallback(
    (finish: boolean): Promise<string | null> => {
      clearTimeout(timer.current);
      const sent = latest.current;
      const hundredths = parsePoints(sent.points);
      const wrongHere = problemIn(sent, finish);
      setProblem(wrongHere);
      if (wrongHere) return Promise.resolve(wrongHere.message);
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
            reason: sent.reason ?? '',
            finished: finish,
          }).unwrap();
          revision.current = mark.revision;
          finished.current = mark.finished;
          setBefore(scoreOf(mark));
          if (latest.current === sent) {
            keepDraft(key, null);
            if (finish) latest.current = { ...sent, reason: '' };
            setDraft(latest.current);
          }
          setState('saved');
          setProblem(null);
          return null;
        } catch (error) {
          const refused = refusalOf(error);
          const other = refused?.code === 'stale' ? (refused.current as Mark | undefined) : undefined;
          if (other) {
            revision.current = other.revision;
            finished.current = other.finished;
            setBefore(scoreOf(other));
          }
          const gave = other && other.points !== null ? ` ${other.points} points` : '';
          const message = other
            ? `${other.authorName} has marked this meanwhile:${gave} “${other.comment}”. Yours is still in the field; finish to put it in its place.`
            : (refused?.message ?? 'Not saved. Try again.');
          setProblem({ field: refused?.fields?.reason ? 'reason' : 'points', message });
          setState('kept');
          return message;
        }
      });
      queue.current = result;
      return result;
    },
    [key, lane.itemId, lane.sittingId, problemIn, releaseId, save],
  );

  const change = useCallback(
    (next: Partial<MarkDraft>) => {
      const changed = { ...latest.current, ...next };
      latest.current = changed;
      setDraft(changed);
      setState('kept');
      keepDraft(key, changed);
      setProblem(problemIn(changed, false));
      clearTimeout(timer.current);
      if (!finished.current) timer.current = setTimeout(() => void send(false), PAUSE_MS);
    },
    [key, problemIn, send],
  );

  // A colleague's mark comes in while this one stands untouched: it is shown. What is typed here is never replaced.
  const coming = lane.mark;
  useEffect(() => {
    if (!coming || coming.revision <= revision.current || draftOf(key)) return;
    revision.current = coming.revision;
    finished.current = coming.finished;
    latest.current = shown(coming);
    setBefore(scoreOf(coming));
    setDraft(latest.current);
  }, [coming, key]);

  /** A finish is on its way: what is left when the lane is left is in it already. */
  const finishing = useRef(false);
  const latestSend = useRef(send);
  useEffect(() => {
    latestSend.current = send;
  });
  /** Finishes at once where nothing is wrong; whether the server took it is known later. */
  const finish = (): Finishing | null => {
    const wrong = problemIn(latest.current, true);
    setProblem(wrong);
    if (wrong) return null;
    const attempt = () => {
      finishing.current = true;
      return send(true).finally(() => (finishing.current = false));
    };
    return { saved: attempt(), again: attempt };
  };

  // Leaving the lane sends what is left.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      if (draftOf(key) && !finished.current && !finishing.current) void latestSend.current(false);
    },
    [key],
  );

  return {
    draft,
    change,
    problem,
    /** Why the score as it stands asks for a reason. */
    asked: askedFor(draft),
    state,
    finish,
    isFinished: finished.current,
  };
}
