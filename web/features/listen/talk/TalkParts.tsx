import { CornerDownRight, EyeOff, Hourglass } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { contributeByMs } from '@ecoute/core/discussions/talk';
import { clock } from '@ecoute/core/timing/words';
import { planOf, topicsOf } from '@ecoute/contract/assessment/discussion';
import type { Lane, ListenView } from '@ecoute/contract/marking';
import { Button } from '../../../parts/Button';
import { when } from '../../../parts/when';
import { partOf } from './parts';

export interface TalkPartsProps {
  view: ListenView;
  lane: Lane;
  chosen: string | undefined;
  onChoose: (id: string) => void;
  /** Plays what the shown one replies to, then it. */
  onContext: () => void;
  /** Plays everything the student said, each after what it replies to. */
  onAll: () => void;
}

/** Everything that a student said in a discussion, in a line: which one the lane shows, and what is asked against what was given. */
export function TalkParts({ view, lane, chosen, onChoose, onContext, onAll }: TalkPartsProps) {
  const plan = planOf(view.content)!;
  const talk = lane.talk!;
  const part = partOf(lane, chosen);
  const row = useRef<HTMLOListElement>(null);
  useEffect(() => {
    row.current
      ?.querySelector('[aria-pressed=true]')
      ?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [part?.id]);
  const topics = topicsOf(view.content);
  const of = (given: number, asked: number, one: string, many: string) =>
    `${given}${asked > 0 ? ` of ${asked}` : ''} ${(asked || given) === 1 ? one : many}`;
  const where = part?.topicId ? topics.findIndex(t => t.id === part.topicId) + 1 : 0;
  const dueAt = part?.to
    ? view.dueAt
    : new Date(contributeByMs(Date.parse(view.dueAt), plan.contributeDaysBefore)).toISOString();
  return (
    <div className="grid gap-1 border-t border-line px-4 py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <p className="tabular text-sm">
          {of(talk.given.contributions, plan.contributionsAsked, 'contribution', 'contributions')},{' '}
          {of(talk.given.replies, plan.repliesAsked, 'reply', 'replies')}, {clock(talk.given.spokenMs)} spoken
        </p>
        <ol ref={row} className="flex min-w-0 flex-1 gap-1 overflow-x-auto" aria-label="Contributions">
          {talk.contributions.map((c, n) => (
            <li key={c.id}>
              <button
                type="button"
                aria-pressed={c.id === part?.id}
                onClick={() => onChoose(c.id)}
                className="tabular inline-flex min-h-9 items-center gap-1.5 border-2 border-edge px-2 text-sm whitespace-nowrap aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-sheet"
              >
                <span className="font-sans font-semibold">{n + 1}</span>
                {c.to && <CornerDownRight role="img" aria-label="a reply" className="size-4" />}
                {c.hiddenFor !== null && <EyeOff role="img" aria-label="hidden" className="size-4" />}
                {c.waits && <Hourglass role="img" aria-label="waits to be let in" className="size-4" />}
                <span className="ps-1">{c.durationMs === null ? 'written' : clock(c.durationMs)}</span>
              </button>
            </li>
          ))}
        </ol>
        <Button look="quiet" className="!px-1" onClick={onAll}>
          Hear all<span className="pointer-coarse:hidden">(D)</span>
        </Button>
      </div>
      {part && (
        <p className="flex flex-wrap items-center gap-x-3 text-sm text-soft">
          <span>
            {when(part.at)}
            {part.late && `, after it was due (${when(dueAt)})`}
            {part.afterFeedback && ' · after the feedback'}
            {where > 0 && ` · at starting point ${where}`}
          </span>
          {part.to && (
            <span dir="auto" className="min-w-0 truncate">
              to {part.to.authorName || 'somebody'}
              {part.to.fromMs !== null &&
                part.to.toMs !== null &&
                `, ${clock(part.to.fromMs)}–${clock(part.to.toMs)}`}
              {part.to.words && `: “${part.to.words}”`}
            </span>
          )}
          {part.to?.takeId && (
            <Button look="quiet" className="!min-h-8 !px-1" onClick={onContext}>
              Hear what it replies to, then it<span className="pointer-coarse:hidden">(R)</span>
            </Button>
          )}
          {part.hiddenFor !== null && <span>hidden: {part.hiddenFor}</span>}
          {part.waits && <span>waits to be let in</span>}
        </p>
      )}
    </div>
  );
}
