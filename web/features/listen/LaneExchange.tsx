import { useState } from 'react';
import { ASKS, type AskKind } from '@ecoute/contract/replies';
import { LIMITS } from '@ecoute/contract/limits';
import type { Lane } from '@ecoute/contract/marking';
import { isBack } from '@ecoute/core/timing/sittingState';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Exchange } from '../../parts/Exchange';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { ReplyForm } from '../../parts/ReplyForm';
import { when } from '../../parts/when';
import { ASK_WORDS } from './askWords';
import { waitsForReply } from './laneFilters';
import { useGoOnMutation, useSaveAskMutation, useSettleRepliesMutation } from './endpoints';

/** What the student of a lane is asked to do with the feedback, what came of it, and the teacher's next word. */
export function LaneExchange({ releaseId, lane }: { releaseId: string; lane: Lane }) {
  const [save, saving] = useSaveAskMutation();
  const [goOn] = useGoOnMutation();
  const [settle] = useSettleRepliesMutation();
  const open = lane.asks.find(a => a.itemId === lane.itemId && !a.answeredAt);
  const [words, setWords] = useState(open?.words ?? '');
  const put = (kind: AskKind | null, said: string) =>
    void save({ releaseId, sittingId: lane.sittingId, itemId: lane.itemId, kind, words: said });
  const refusal = refusalOf(saving.error);
  const whole = lane.asks.find(a => a.itemId === null);
  const back = isBack(lane.state);
  const about = { itemId: lane.itemId, askId: null };
  return (
    <section aria-label={`Exchange with ${lane.studentName}`} className="grid gap-3">
      <div className="flex flex-wrap items-end gap-3">
        <Field label={`Ask ${lane.studentName} to`}>
          {ties => (
            <select
              {...ties}
              value={open?.kind ?? ''}
              onChange={e => put((e.target.value || null) as AskKind | null, words)}
              className={`${inputClass} !w-auto`}
            >
              <option value="">nothing on this item</option>
              {ASKS.map(kind => (
                <option key={kind} value={kind}>
                  {ASK_WORDS[kind]}
                </option>
              ))}
            </select>
          )}
        </Field>
        {open && (
          <Field label="In your words" className="min-w-64 flex-1">
            {ties => (
              <input
                {...ties}
                dir="auto"
                maxLength={LIMITS.remark}
                value={words}
                onChange={e => setWords(e.target.value)}
                onBlur={() => words !== open.words && put(open.kind, words)}
                className={inputClass}
              />
            )}
          </Field>
        )}
        <p className="pb-2 text-sm text-soft">
          {lane.heardAt
            ? `Heard ${when(lane.heardAt)}.`
            : back
              ? 'Not heard yet.'
              : 'Shows once feedback is given.'}
          {whole &&
            ` Asked of the whole: ${ASK_WORDS[whole.kind]}${whole.answeredAt ? ', answered' : ', not answered yet'}.`}
        </p>
      </div>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <Exchange asks={lane.asks} replies={lane.replies} studentName={lane.studentName} />
      {(back || lane.askedAgain) && (
        <ReplyForm
          key={lane.replies.length}
          label="Answer on"
          url={`/api/sittings/${lane.sittingId}/exchange`}
          about={about}
          onSend={reply => goOn({ releaseId, sittingId: lane.sittingId, ...about, ...reply }).unwrap()}
        />
      )}
      {waitsForReply(lane) && (
        <Button
          look="quiet"
          className="justify-self-start"
          onClick={() => void settle({ releaseId, sittingId: lane.sittingId, itemId: lane.itemId })}
        >
          No answer needed
        </Button>
      )}
      {back && lane.replies.length === 0 && !open && (
        <Button look="quiet" className="justify-self-start" onClick={() => put('reply', words)}>
          Ask for a reply
        </Button>
      )}
    </section>
  );
}
