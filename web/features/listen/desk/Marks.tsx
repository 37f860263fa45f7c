import { Check } from 'lucide-react';
import {
  useEffect,
  useId,
  useImperativeHandle,
  useRef,
  useState,
  type MouseEvent,
  type ReactNode,
  type Ref,
} from 'react';
import { filledIn, putBehind } from '@ecoute/core/feedback/comments';
import { clock } from '@ecoute/core/timing/words';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { rubricScore, type Choice, type Scheme } from '@ecoute/core/scoring/scheme';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { Lane } from '@ecoute/contract/marking';
import { LIMITS } from '@ecoute/contract/limits';
import type { KeptState } from '../../../base/kept/kept';
import { Button } from '../../../parts/Button';
import { inputClass } from '../../../parts/Field';
import { player } from '../../../parts/player/usePlayer';
import type { Found } from '../bank/BankFinder';
import { useCommentUsedMutation } from '../bank/endpoints';
import { Reason } from '../Reason';
import type { Marking, MarkDraft } from '../marking';
import { useMarking } from '../useMarking';
import { RubricGrid } from './RubricGrid';
import { ScoreRow } from './ScoreRow';
import { joinedPoints, withHalf } from './typedPoints';
import { numberFinishes, setNumberFinishes, useNumberFinishes } from './numberFinishes';

const SAID: Record<KeptState, string> = {
  still: 'C: comment bank. W: write here, Escape to leave',
  changed: 'Kept on this device',
  saving: 'Saving …',
  saved: 'Saved',
  away: 'Kept on this device; sent again automatically',
  refused: 'Kept on this device',
  conflict: 'Kept on this device',
};

/** What finishes by itself where the teacher lets it. */
const FINISHES: Record<Scheme, string> = {
  points: 'a number finishes',
  rubric: 'the last criterion finishes',
  done: 'a press finishes',
  level: 'a level finishes',
  none: '',
};

/** Presses nearer to each other than this are one press of two. */
const SECOND_PRESS_MS = 400;

/** An answer that is opened this soon after another one was finished was opened by that. */
const OPENED_BY_FINISHING_MS = 3_000;
let finishedAt = -Infinity;

/** After a first digit, a second one may still make it a number of two. */
const SECOND_DIGIT_MS = 900;

export interface MarksHandle {
  /** A digit key: points, done or not done, or the level of the criterion in turn. */
  digit: (digit: string, joins: boolean) => void;
  /** Half a point more, or less again. */
  half: () => void;
  toPoints: () => void;
  toComment: () => void;
  finish: () => void;
  /** What is marked of the comment, or all of it. */
  written: () => string;
  /** Puts something of the bank behind the comment, or pins it. @returns whether it is put in */
  put: (found: Found, asNote: boolean) => Promise<boolean>;
}

/** Score, comment and *Finish* of the lane in focus, side by side under its waveform. */
export function Marks({
  releaseId,
  content,
  lane,
  item,
  handle,
  onFinished,
  onPin,
  onKeepInBank,
  notices,
  extra,
}: {
  releaseId: string;
  content: AssessmentContent;
  lane: Lane;
  item: Item;
  handle: Ref<MarksHandle>;
  /** Nothing is wrong with it here: on to the next, while it is stored. */
  onFinished: (marking: Marking, sent: Promise<boolean>, words: string) => void;
  /** Pins words to the moment that is heard, with the clip of a comment of the bank. */
  onPin: (words: string, commentId: string | null) => Promise<boolean>;
  /** Keeps what is written in the comment bank. */
  onKeepInBank: () => void;
  /** What is to be known of the take before it is scored. */
  notices?: ReactNode;
  extra?: ReactNode;
}) {
  const { kind, rubric } = content.scoring;
  const carries = carriedBy(content, item);
  const { marking, draft, problem, missing, asked, state } = useMarking(releaseId, lane, {
    carries,
    scoring: content.scoring,
  });
  const second = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  // Whoever goes on to something else, or to another lane, has not finished.
  const stay = () => clearTimeout(second.current);
  useEffect(() => stay, []);
  const change = (part: Partial<MarkDraft>) => {
    stay();
    marking.change(part);
  };
  /** When it was opened by finishing another one; a page that is just here has no press before it. */
  const [openedAt] = useState(() => {
    const now = performance.now();
    return now - finishedAt < OPENED_BY_FINISHING_MS ? now : null;
  });
  /** The second press of two belongs to the answer before, which lay in the same place: by the moment, or by what the device counts. */
  const ignoresSecond = (event: MouseEvent) => {
    if (openedAt === null || (event.detail !== 2 && event.timeStamp - openedAt >= SECOND_PRESS_MS)) return;
    event.preventDefault();
    event.stopPropagation();
  };
  const toldBy = useId();
  const commentId = useId();
  const finishesByNumber = useNumberFinishes();
  const reason = useRef<HTMLInputElement>(null);
  const points = useRef<HTMLInputElement>(null);
  const comment = useRef<HTMLTextAreaElement>(null);
  const [used] = useCommentUsedMutation();
  /** The criterion that the next digit is for: the first open one, or the one that Tab went to. */
  const turn = useRef<number | null>(null);
  const { choices } = draft;
  const suggested = rubric && rubricScore(rubric, choices, toHundredths(carries));

  const done = () => {
    stay();
    const words = scoreSaid(content, carries, marking.kept.now().value);
    const sent = marking.finish();
    if (sent) {
      finishedAt = performance.now();
      onFinished(marking, sent, words);
    } else if (marking.asked(marking.kept.now().value)) setTimeout(() => reason.current?.focus());
  };
  /** Given by one press. A score that changes asks for its reason first, and nothing finishes by itself then. */
  const give = (part: Partial<MarkDraft>, afterMs = 0) => {
    change(part);
    if (!numberFinishes() || lane.mark?.finished) return;
    if (afterMs === 0) done();
    else second.current = setTimeout(done, afterMs);
  };
  const choose = (criterion: number, level: number) => {
    const chosen = rubric?.criteria[criterion];
    if (!rubric || !chosen || !rubric.levels[level]) return;
    const next: Choice[] = [
      ...choices.filter(c => c.criterionId !== chosen.id),
      { criterionId: chosen.id, level },
    ];
    const score = rubricScore(rubric, next, toHundredths(carries));
    const part = { choices: next, ...(score !== null && { points: pointsText(score) }) };
    turn.current = criterion + 1;
    // The last one that was missing: the rubric is whole.
    const isWhole = score !== null && suggested === null;
    if (isWhole) give(part);
    else change(part);
  };
  useImperativeHandle(handle, () => ({
    digit(digit, joins) {
      if (kind === 'rubric' && rubric) {
        const open = rubric.criteria.findIndex(c => !choices.some(x => x.criterionId === c.id));
        const at = turn.current ?? open;
        choose(at >= 0 && at < rubric.criteria.length ? at : Math.max(0, open), Number(digit) - 1);
      } else if (kind === 'level') {
        const level = Number(digit) - 1;
        // The level that this recording shows; 0 takes that back.
        if (level < 0) change({ choices: [] });
        else if (level < content.scoring.scale.length) give({ choices: [{ criterionId: item.id, level }] });
      } else if (kind === 'done') give({ points: digit === '0' ? '0' : '1' });
      else if (carries > 0) {
        const typed = joinedPoints(joins ? draft.points : '', digit, carries);
        give({ points: typed.points }, typed.mayGoOn ? SECOND_DIGIT_MS : 0);
      }
    },
    half() {
      if (carries > 0 && (kind === 'points' || kind === 'rubric'))
        change({ points: withHalf(draft.points, carries) });
    },
    toPoints() {
      stay();
      points.current?.select();
    },
    toComment() {
      stay();
      comment.current?.focus();
    },
    finish: done,
    written() {
      const field = comment.current;
      const marked = field?.value.slice(field.selectionStart, field.selectionEnd).trim();
      return marked || marking.kept.now().value.comment;
    },
    async put(found, asNote) {
      const isBank = 'comment' in found;
      const atMs = player.now().track?.id === lane.takeId ? player.now().positionMs : 0;
      const said = filledIn(isBank ? found.comment.words : found.words, {
        name: lane.studentCalled,
        time: clock(atMs),
      });
      const words = isBank && found.comment.link ? `${said} ${found.comment.link}` : said;
      // A clip is heard where it is pinned.
      const clipId = isBank && found.comment.voiceId ? found.comment.id : null;
      if (asNote || clipId) {
        if (!(await onPin(words, clipId))) return false;
      } else {
        const typed = marking.kept.now().value.comment;
        change({ comment: putBehind(typed, words).slice(0, LIMITS.comment) });
      }
      if (isBank) void used(found.comment.id);
      return true;
    },
  }));
  const adjusted =
    kind === 'rubric' && suggested !== null && draft.points !== pointsText(suggested ?? 0)
      ? `The rubric gives ${pointsText(suggested ?? 0)}; adjusted by hand.`
      : null;
  const isScored = kind === 'done' || kind === 'level' || carries > 0;

  // A reason that misses is said at its field.
  const said = problem && !(asked && problem.field === 'reason') ? problem.message : null;
  const told = (
    <div className={`flex min-h-10 items-center gap-3 ${kind === 'rubric' ? 'min-w-40 flex-1' : ''}`}>
      <p
        id={toldBy}
        role={said ? 'alert' : undefined}
        title={said ?? undefined}
        className={`line-clamp-2 min-w-0 flex-1 text-sm leading-5 ${said ? 'font-semibold' : 'text-soft'}`}
      >
        {said ? `▲ ${said}` : adjusted}
      </p>
      {isScored && (
        <label
          className="flex min-h-10 shrink-0 items-center gap-2 text-sm"
          title="Given by one press; Undo stays for some seconds"
        >
          <input
            type="checkbox"
            checked={finishesByNumber}
            onChange={e => setNumberFinishes(e.target.checked)}
            className="size-5 accent-ink"
          />
          {FINISHES[kind]}
        </label>
      )}
    </div>
  );

  return (
    <div className="@container flex min-h-0 min-w-0 flex-col gap-2 px-4 py-2 lg:overflow-y-auto">
      {notices}
      {kind === 'rubric' && rubric && (
        <div className="contents" onClickCapture={finishesByNumber ? ignoresSecond : undefined}>
          <RubricGrid
            rubric={rubric}
            choices={choices}
            missing={missing}
            onChoose={choose}
            onTurn={i => (turn.current = i)}
          />
        </div>
      )}
      <div className={`flex flex-wrap gap-x-3 gap-y-2 ${kind === 'rubric' ? 'items-center' : 'items-end'}`}>
        <div className="contents" onClickCapture={finishesByNumber ? ignoresSecond : undefined}>
          <ScoreRow
            content={content}
            item={item}
            carries={carries}
            draft={draft}
            toldBy={toldBy}
            isWrong={problem?.field === 'points'}
            field={points}
            onChange={change}
            onGiven={give}
          />
        </div>
        <Button
          look="main"
          onClickCapture={ignoresSecond}
          onClick={done}
          aria-label={lane.mark?.finished ? 'Finish again' : 'Finish, next unmarked'}
        >
          <Check aria-hidden className="size-5" />
          {lane.mark?.finished ? 'Finish again' : 'Finish'}
        </Button>
        {kind === 'rubric' && told}
      </div>
      {kind !== 'rubric' && told}
      {asked && (
        <Reason
          label={
            asked === 'change'
              ? 'Why the score changes'
              : `Why not the rubric’s ${pointsText(suggested ?? 0)}`
          }
          value={draft.reason ?? ''}
          onChange={value => change({ reason: value })}
          error={problem?.field === 'reason' ? problem.message : null}
          field={reason}
          isAgain={lane.again !== null}
        />
      )}
      <div className="flex min-h-18 flex-1 flex-col">
        <span className="mb-1 flex items-center gap-2">
          <label htmlFor={commentId} className="min-w-0 flex-1 truncate text-sm font-semibold">
            Comment{' '}
            <span className={`font-normal text-soft ${state === 'still' ? 'max-sm:hidden' : ''}`}>
              · <span>{SAID[state]}</span>
            </span>
          </label>
          <button
            type="button"
            onClick={onKeepInBank}
            disabled={draft.comment.trim() === ''}
            title="What is marked of the comment, or all of it"
            className="min-h-6 shrink-0 text-sm underline underline-offset-4 disabled:invisible pointer-coarse:min-h-9"
          >
            Into the bank<span className="pointer-coarse:hidden"> (A)</span>
          </button>
        </span>
        <textarea
          id={commentId}
          ref={comment}
          rows={1}
          dir="auto"
          maxLength={LIMITS.comment}
          value={draft.comment}
          onChange={e => change({ comment: e.target.value })}
          className={`${inputClass} min-h-12 flex-1 resize-none`}
        />
      </div>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">{extra}</div>
    </div>
  );
}

/** What a finished answer was given, in short. */
function scoreSaid(content: AssessmentContent, carries: number, draft: MarkDraft): string {
  const { kind, scale } = content.scoring;
  if (kind === 'level') return scale[draft.choices[0]?.level ?? -1]?.name ?? 'finished';
  if (kind === 'done') return draft.points === '1' ? 'done' : 'not done';
  return carries > 0 && draft.points !== ''
    ? `${draft.points} of ${pointsText(toHundredths(carries))}`
    : 'finished';
}
