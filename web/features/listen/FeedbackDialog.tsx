import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { ASKS, type AskKind } from '@ecoute/contract/replies';
import type { ListenView, FeedbackResult } from '@ecoute/contract/marking';
import { addDays, dayOf, instantOf } from '@ecoute/core/timing/wallTime';
import { refusalOf } from '../../base/api';
import { serverNow } from '../../base/clock';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { Tick } from '../../parts/Tick';
import { when } from '../../parts/when';
import { browserZone } from '../release/terms';
import { ASK_WORDS } from './askWords';
import { useCallOffFeedbackMutation, useGiveFeedbackMutation } from './endpoints';
import { checkFeedback, isReady, type ToGive } from './order';

function unfinishedWords({ items, level }: ToGive): string {
  return [items.length > 0 && `item ${items.join(', ')}`, level && 'no level yet'].filter(Boolean).join('; ');
}

/** Before anything goes back: who it goes to, what is unfinished, when, and whether an answer is asked for. */
export function FeedbackDialog({
  view,
  only,
  onClose,
  onGiven,
}: {
  view: ListenView;
  /** The one sitting that it is about; null for all of them. */
  only: string | null;
  onClose: () => void;
  onGiven: (result: FeedbackResult) => void;
}) {
  const check = checkFeedback(view).filter(c => only === null || c.sittingId === only);
  const ready = check.filter(isReady);
  const timed = ready.filter(c => c.feedbackComesAt !== null);
  const [callOff, callingOff] = useCallOffFeedbackMutation();
  const unfinished = check.filter(c => !isReady(c));
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [later, setLater] = useState(false);
  const [time, setTime] = useState(() => `${addDays(dayOf(serverNow(), browserZone()), 1)}T08:00`);
  const [ask, setAsk] = useState<AskKind | ''>('');
  const [giveFeedback, returning] = useGiveFeedbackMutation();
  const chosen = ready.filter(c => !left.has(c.sittingId));
  const meant = instantOf(time, browserZone());
  const at = later && meant && meant.kind !== 'skipped' ? new Date(meant.atMs).toISOString() : null;
  const refusal = refusalOf(returning.error ?? callingOff.error);
  const send = () =>
    giveFeedback({
      releaseId: view.releaseId,
      sittingIds: chosen.map(c => c.sittingId),
      at,
      ask: ask === '' ? null : ask,
    })
      .unwrap()
      .then(onGiven, () => undefined);
  const spoken = view.content.items.filter(i => i.answerBy === 'audio');
  return (
    <Dialog.Root open onOpenChange={open => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
        <Dialog.Content className="fixed inset-x-4 top-[6vh] z-50 mx-auto grid max-h-[88vh] max-w-xl gap-4 overflow-y-auto border-2 border-ink bg-sheet p-6">
          <Dialog.Title className="text-xl">
            Give feedback to {chosen.length} {chosen.length === 1 ? 'student' : 'students'}?
          </Dialog.Title>
          <Dialog.Description className="text-soft">
            Each student hears their own recording with what you say of it. Nothing shows before.
          </Dialog.Description>
          {ready.length > 0 && (
            <ul
              aria-label="Who gets it"
              className="max-h-56 columns-2 overflow-y-auto border-y border-line py-2"
            >
              {ready.map(c => (
                <li key={c.sittingId}>
                  <Tick
                    checked={!left.has(c.sittingId)}
                    onChange={on => {
                      const next = new Set(left);
                      if (on) next.delete(c.sittingId);
                      else next.add(c.sittingId);
                      setLeft(next);
                    }}
                  >
                    {c.studentName}
                    {c.total && <span className="tabular text-sm"> {c.total}</span>}
                    {c.feedbackComesAt && (
                      <span className="text-sm text-soft"> ({when(c.feedbackComesAt)})</span>
                    )}
                  </Tick>
                </li>
              ))}
            </ul>
          )}
          {timed.length > 0 && (
            <p className="flex flex-wrap items-center gap-x-3">
              {timed.length === 1 ? 'One has' : `${timed.length} have`} a time set already.
              <Button
                look="quiet"
                disabled={callingOff.isLoading}
                onClick={() =>
                  void callOff({ releaseId: view.releaseId, sittingIds: timed.map(c => c.sittingId) })
                }
              >
                {timed.length === 1 ? 'Call it off' : `Call off all ${timed.length}`}
              </Button>
            </p>
          )}
          {unfinished.length > 0 && (
            <div>
              <h3 className="font-semibold">Unfinished, and stays with you</h3>
              <ul aria-label="Unfinished" className="mt-1 max-h-40 overflow-y-auto text-sm">
                {unfinished.map(c => (
                  <li key={c.sittingId}>
                    {c.studentName}: {unfinishedWords(c)}
                  </li>
                ))}
              </ul>
            </div>
          )}
          <fieldset className="flex flex-wrap items-center gap-x-6 gap-y-2">
            <legend className="mb-1 text-sm font-semibold">When</legend>
            {([false, true] as const).map(value => (
              <label key={String(value)} className="flex min-h-11 items-center gap-2">
                <input type="radio" name="when" checked={later === value} onChange={() => setLater(value)} />
                {value ? 'at a set time' : 'now'}
              </label>
            ))}
            {later && (
              <input
                type="datetime-local"
                aria-label="Given at"
                value={time}
                onChange={e => setTime(e.target.value)}
                className={`${inputClass} tabular !w-auto`}
              />
            )}
          </fieldset>
          {meant?.kind === 'skipped' && later && (
            <Notice kind="trouble">The clocks go forward past this time. Choose another.</Notice>
          )}
          <Field label="Ask each of them to" hint="Where you have asked for something already, that stays.">
            {ties => (
              <select
                {...ties}
                value={ask}
                onChange={e => setAsk(e.target.value as AskKind | '')}
                className={inputClass}
              >
                <option value="">nothing</option>
                {ASKS.filter(kind => kind !== 'recordAgain' || spoken.length === 1).map(kind => (
                  <option key={kind} value={kind}>
                    {ASK_WORDS[kind]}
                  </option>
                ))}
              </select>
            )}
          </Field>
          {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
          <div className="flex flex-wrap justify-end gap-3">
            <Dialog.Close asChild>
              <Button>Not yet</Button>
            </Dialog.Close>
            <Button
              look="main"
              disabled={chosen.length === 0 || returning.isLoading || (later && at === null)}
              onClick={() => void send()}
            >
              {later ? 'Give it at that time' : 'Give it now'}
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
