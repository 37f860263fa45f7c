import { Check, Download } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useImperativeHandle, useRef, useState, type Ref } from 'react';
import { filledIn, firstName, putBehind } from '@ecoute/core/feedback/comments';
import { clock } from '@ecoute/core/timing/words';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { rubricScore, type Choice } from '@ecoute/core/scoring/scheme';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { Lane } from '@ecoute/contract/marking';
import { LIMITS } from '@ecoute/contract/limits';
import type { KeptState } from '../../base/kept/kept';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { player } from '../../parts/player/usePlayer';
import { BankFinder, type Found } from './bank/BankFinder';
import { useCommentUsedMutation } from './bank/endpoints';
import { PraiseRow } from './bank/PraiseRow';
import { RubricMarks } from '../../parts/RubricMarks';
import { Reason } from './Reason';
import { ScoreHistory } from './ScoreHistory';
import type { Marking, MarkDraft } from './marking';
import { useMarking } from './useMarking';
import { WholeLevel } from './WholeLevel';

const SAID: Record<KeptState, string> = {
  still: 'C: comment bank. W: write here, Escape to leave',
  changed: 'Kept on this device',
  saving: 'Saving …',
  saved: 'Saved',
  away: 'Kept on this device; sent again automatically',
  refused: 'Kept on this device',
  conflict: 'Kept on this device',
};

export interface OpenLaneHandle {
  /** A digit key: points, done or not done, or the level of the criterion in turn. */
  digit: (digit: string, joins: boolean) => void;
  toComment: () => void;
  /** Opens the comment bank on the lane. */
  toBank: () => void;
  finish: () => void;
}

/** Scoring of the lane in focus, right under its waveform, by the assessment's scheme. */
export function OpenLane({
  releaseId,
  content,
  lane,
  lanes,
  item,
  onFinished,
  handle,
  onPin,
  extra,
}: {
  releaseId: string;
  content: AssessmentContent;
  lane: Lane;
  /** All lanes of the same sitting. */
  lanes: readonly Lane[];
  item: Item;
  /** Nothing is wrong with it here: on to the next, while it is stored. */
  onFinished: (marking: Marking, sent: Promise<boolean>) => void;
  handle: Ref<OpenLaneHandle>;
  /** Pins words to the moment that is heard, with the clip of a comment of the bank. */
  onPin: (words: string, commentId: string | null) => Promise<boolean>;
  extra?: React.ReactNode;
}) {
  const { kind, rubric } = content.scoring;
  const carries = carriedBy(content, item);
  const { marking, draft, problem, asked, state } = useMarking(releaseId, lane, {
    carries,
    scoring: content.scoring,
  });
  const change = (part: Partial<MarkDraft>) => marking.change(part);
  const said = (field: 'points' | 'reason') => (problem?.field === field ? problem.message : null);
  const reason = useRef<HTMLInputElement>(null);
  const [finding, setFinding] = useState(false);
  const [used] = useCommentUsedMutation();
  const comment = useRef<HTMLTextAreaElement>(null);
  /** The criterion that the next digit is for: the first open one, or the one that Tab went to. */
  const turn = useRef<number | null>(null);
  const { choices } = draft;
  const done = () => {
    const sent = marking.finish();
    if (sent) onFinished(marking, sent);
    else reason.current?.focus();
  };

  const putIn = async (found: Found, asNote: boolean) => {
    const isBank = 'comment' in found;
    const atMs = player.now().track?.id === lane.takeId ? player.now().positionMs : 0;
    const name = lane.studentId === null ? null : firstName(lane.studentName);
    const said = filledIn(isBank ? found.comment.words : found.words, { name, time: clock(atMs) });
    const words = isBank && found.comment.link ? `${said} ${found.comment.link}` : said;
    // A clip is heard where it is pinned.
    const clipId = isBank && found.comment.voiceId ? found.comment.id : null;
    if (asNote || clipId) {
      if (!(await onPin(words, clipId))) return;
    } else change({ comment: putBehind(latestComment(), words).slice(0, LIMITS.comment) });
    if (isBank) void used(found.comment.id);
    setFinding(false);
    (document.activeElement as HTMLElement | null)?.blur();
  };
  const latestComment = () => draft.comment;

  const choose = (criterion: number, level: number) => {
    const chosen = rubric?.criteria[criterion];
    if (!rubric || !chosen || !rubric.levels[level]) return;
    const next: Choice[] = [
      ...choices.filter(c => c.criterionId !== chosen.id),
      { criterionId: chosen.id, level },
    ];
    const score = rubricScore(rubric, next, toHundredths(carries));
    change({ choices: next, ...(score !== null && { points: pointsText(score) }) });
    turn.current = criterion + 1;
  };
  useImperativeHandle(handle, () => ({
    digit: (digit, joins) => {
      if (kind === 'rubric' && rubric) {
        const open = rubric.criteria.findIndex(c => !choices.some(x => x.criterionId === c.id));
        const at = turn.current ?? open;
        choose(at >= 0 && at < rubric.criteria.length ? at : Math.max(0, open), Number(digit) - 1);
      } else if (kind === 'level') {
        const level = Number(digit) - 1;
        // The level that this recording shows; 0 takes that back.
        if (level < content.scoring.scale.length)
          change({ choices: level < 0 ? [] : [{ criterionId: item.id, level }] });
      } else if (kind === 'done') change({ points: digit === '0' ? '0' : '1' });
      else if (carries > 0) {
        const joined = joins ? `${draft.points}${digit}` : digit;
        change({ points: Number(joined) <= carries ? joined : digit });
      }
    },
    toComment: () => comment.current?.focus(),
    toBank: () => setFinding(true),
    finish: done,
  }));
  const whole = kind === 'points' && Number.isInteger(carries) && carries <= 12 ? carries : 0;
  const maximum = pointsText(toHundredths(carries));

  const points = (
    <Field label={`Points, of ${maximum}`} error={said('points')}>
      {ties => (
        <div className="flex flex-wrap items-center gap-1">
          <input
            {...ties}
            inputMode="decimal"
            value={draft.points}
            onChange={e => change({ points: e.target.value })}
            className={`${inputClass} tabular !w-20 text-lg`}
          />
          {whole > 0 &&
            Array.from({ length: whole + 1 }, (_, n) => (
              <button
                key={n}
                type="button"
                aria-label={`${n} points`}
                aria-pressed={draft.points === String(n)}
                onClick={() => change({ points: String(n) })}
                className="tabular min-h-11 min-w-9 border border-edge bg-sheet aria-pressed:bg-ink aria-pressed:text-sheet"
              >
                {n}
              </button>
            ))}
        </div>
      )}
    </Field>
  );
  const suggested = rubric && rubricScore(rubric, choices, toHundredths(carries));
  const adjusted =
    kind === 'rubric' && suggested !== null && draft.points !== pointsText(suggested ?? 0)
      ? `The rubric gives ${pointsText(suggested ?? 0)}; adjusted by hand.`
      : null;

  return (
    <div className="border-t border-line px-4 py-4">
      {kind === 'rubric' && rubric && (
        <RubricMarks rubric={rubric} choices={choices} onChoose={choose} onTurn={i => (turn.current = i)} />
      )}
      <div className="grid gap-4 lg:grid-cols-[minmax(16rem,auto)_minmax(0,1fr)_auto] lg:items-start">
        {kind === 'done' ? (
          <div>
            <p className="mb-1 text-sm font-semibold">This answer is</p>
            <ToggleGroup.Root
              type="single"
              aria-label="This answer is"
              value={draft.points}
              onValueChange={value => value && change({ points: value })}
              className="inline-flex border-2 border-edge"
            >
              {(['1', '0'] as const).map(value => (
                <ToggleGroup.Item
                  key={value}
                  value={value}
                  className="min-h-11 bg-sheet px-4 font-semibold data-[state=on]:bg-ink data-[state=on]:text-sheet"
                >
                  {value === '1' ? 'done' : 'not done'}
                </ToggleGroup.Item>
              ))}
            </ToggleGroup.Root>
            {said('points') && (
              <p role="alert" className="mt-1 text-sm font-semibold">
                ▲ {said('points')}
              </p>
            )}
          </div>
        ) : kind === 'level' ? (
          <div>
            <p id={`shows ${item.id}`} className="mb-1 text-sm font-semibold">
              This recording shows
            </p>
            <div role="group" aria-labelledby={`shows ${item.id}`} className="flex flex-wrap">
              {content.scoring.scale.map((level, n) => (
                <button
                  key={n}
                  type="button"
                  title={level.descriptor}
                  aria-pressed={choices[0]?.level === n}
                  onClick={() => change({ choices: [{ criterionId: item.id, level: n }] })}
                  className="-ms-px min-h-11 border border-edge bg-sheet px-3 first:ms-0 aria-pressed:bg-ink aria-pressed:text-sheet"
                >
                  <span className="tabular me-1 text-xs">{n + 1}</span>
                  {level.name}
                </button>
              ))}
            </div>
          </div>
        ) : carries > 0 ? (
          <div>
            {points}
            {adjusted && <p className="mt-1 text-sm text-soft">{adjusted}</p>}
          </div>
        ) : (
          <p className="text-soft">
            {problem?.message ??
              (kind === 'none' ? 'Nothing is scored here.' : 'This item carries no points.')}
          </p>
        )}
        <Field label="Comment" hint={SAID[state]}>
          {ties => (
            <textarea
              {...ties}
              ref={comment}
              rows={2}
              maxLength={LIMITS.comment}
              value={draft.comment}
              onChange={e => change({ comment: e.target.value })}
              className={inputClass}
            />
          )}
        </Field>
        <div className="flex flex-wrap items-center gap-3 lg:mt-6">
          <Button look="main" onClick={done}>
            <Check aria-hidden className="size-5" />
            {lane.mark?.finished ? 'Finish again' : 'Finish, next unmarked'}
          </Button>
          {extra}
        </div>
      </div>
      {finding && (
        <div className="mt-3">
          <BankFinder
            onPut={(found, asNote) => void putIn(found, asNote)}
            onClose={() => setFinding(false)}
          />
        </div>
      )}
      <div className="mt-3 empty:hidden">
        <PraiseRow releaseId={releaseId} lane={lane} />
      </div>
      {asked && (
        <div className="mt-3">
          <Reason
            label={
              asked === 'change'
                ? 'Why the score changes'
                : `Why not the rubric’s ${pointsText(suggested ?? 0)}`
            }
            value={draft.reason ?? ''}
            onChange={value => change({ reason: value })}
            error={said('reason')}
            field={reason}
          />
        </div>
      )}
      {kind === 'level' && (
        <div className="mt-4">
          <WholeLevel releaseId={releaseId} lane={lane} lanes={lanes} content={content} />
        </div>
      )}
      <div className="flex flex-wrap items-start gap-x-6">
        <ScoreHistory lane={lane} content={content} />
        <a
          href={`/api/sittings/${lane.sittingId}/sheet.pdf`}
          download
          className="inline-flex min-h-11 items-center gap-2 underline underline-offset-4"
        >
          <Download aria-hidden className="size-5" /> Feedback sheet (PDF)
        </a>
      </div>
    </div>
  );
}
