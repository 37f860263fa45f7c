import { MoreVertical } from 'lucide-react';
import { Dialog, DropdownMenu } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { addDays, dayOf, instantOf } from '@ecoute/core/timing/wallTime';
import type { Decision, DecisionKind } from '@ecoute/contract/decisions';
import type { Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { Lane } from '@ecoute/contract/marking';
import { refusalOf } from '../../base/api';
import { serverNow } from '../../base/clock';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Tick } from '../../parts/Tick';
import { shortPrompt } from '../../parts/shortPrompt';
import { Notice } from '../../parts/Notice';
import { browserZone } from '../release/terms';
import { useDecideMutation } from './endpoints';

/** What each decision is called where it is made, and what is said once it is. */
export const DECISION_WORDS: Record<DecisionKind, { menu: string; made: string }> = {
  askAgain: { menu: 'Ask to record again …', made: 'is asked to record again' },
  setAside: { menu: 'Set this sitting aside …', made: 'is set aside' },
  acceptLate: { menu: 'Accept as in time', made: 'counts as in time' },
  another: { menu: 'Allow another sitting …', made: 'may be sat once more' },
  excuse: { menu: 'Excuse', made: 'is excused' },
  showNotes: { menu: 'Let them hear your notes now', made: 'hears your notes now' },
};

/** What is asked about before it is decided. */
type Asked = 'askAgain' | 'setAside' | 'another';

const TITLES: Record<Asked, (name: string) => string> = {
  askAgain: name => `Ask ${name} to record again`,
  setAside: name => `Set the sitting of ${name} aside`,
  another: name => `Allow ${name} another sitting`,
};
const WHAT: Record<Asked, string> = {
  askAgain: 'They read why, hear your notes, and record it once more. What is recorded now stays.',
  setAside:
    'It counts for nothing from now on; its student reads that, and why. Its recordings stay, and you can undo this.',
  another: 'They may sit all of it once more; the newer one counts once it is handed in, and this one stays.',
};
const YES: Record<Asked, string> = { askAgain: 'Ask for it', setAside: 'Set it aside', another: 'Allow it' };

/** A week from now at the end of the day, as a local date and time. */
function inAWeek(): string {
  return `${addDays(dayOf(serverNow(), browserZone()), 7)}T20:00`;
}

/** What can be decided about the sitting of a lane; whatever it is, recordings stay and it can be undone. */
export function DecisionMenu({
  releaseId,
  lane,
  items,
  isTalk,
  onMade,
}: {
  releaseId: string;
  lane: Lane;
  /** Of the assessment: one, some or all may be asked for again. */
  items: readonly Item[];
  /** What was said in a discussion: nobody is asked to say it again, and it has no other sitting. */
  isTalk: boolean;
  onMade: (decision: Decision) => void;
}) {
  const [decide, deciding] = useDecideMutation();
  const [asking, setAsking] = useState<Asked | null>(null);
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState(inAWeek);
  // Whoever asks on a lane means its item first of all.
  const [itemIds, setItemIds] = useState<readonly string[]>([lane.itemId]);
  const answered = items
    .map((item, i) => ({ item, number: i + 1 }))
    .filter(({ item }) => item.answerBy !== 'nothing');
  const refusal = refusalOf(deciding.error);
  // What is missing is where one goes on typing.
  const field = useRef<HTMLTextAreaElement>(null);
  const isMissing = refusal?.fields?.reason !== undefined;
  useEffect(() => {
    if (isMissing) field.current?.focus();
  }, [isMissing]);
  const meant = instantOf(until, browserZone());
  const make = (kind: DecisionKind, more: { reason?: string; until?: string; itemIds?: string[] } = {}) =>
    decide({ releaseId, kind, sittingId: lane.sittingId, reason: '', ...more })
      .unwrap()
      .then(
        ([made]) => {
          setAsking(null);
          setReason('');
          if (made) onMade(made);
        },
        () => undefined,
      );
  const ask = (kind: Asked) => {
    deciding.reset();
    setItemIds([lane.itemId]);
    setAsking(kind);
  };
  const entry = 'flex min-h-11 cursor-pointer items-center px-4 outline-none data-[highlighted]:bg-sunk';
  return (
    <>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger
          aria-label={`Decide about ${lane.studentName}`}
          className="grid size-11 place-items-center hover:bg-sunk"
        >
          <MoreVertical aria-hidden className="size-5" />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className="z-50 min-w-64 border-2 border-ink bg-sheet py-1">
            {!isTalk && !lane.askedAgain && lane.state !== 'underWay' && (
              <DropdownMenu.Item className={entry} onSelect={() => ask('askAgain')}>
                {DECISION_WORDS.askAgain.menu}
              </DropdownMenu.Item>
            )}
            {lane.state === 'underWay' && (
              <DropdownMenu.Item className={entry} onSelect={() => void make('showNotes')}>
                {DECISION_WORDS.showNotes.menu}
              </DropdownMenu.Item>
            )}
            {lane.late && (
              <DropdownMenu.Item className={entry} onSelect={() => void make('acceptLate')}>
                {DECISION_WORDS.acceptLate.menu}
              </DropdownMenu.Item>
            )}
            {!isTalk && (
              <>
                <DropdownMenu.Item className={entry} onSelect={() => ask('another')}>
                  {DECISION_WORDS.another.menu}
                </DropdownMenu.Item>
                <DropdownMenu.Separator className="my-1 border-t border-line" />
              </>
            )}
            <DropdownMenu.Item className={entry} onSelect={() => ask('setAside')}>
              {DECISION_WORDS.setAside.menu}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={entry} onSelect={() => void make('excuse')}>
              {DECISION_WORDS.excuse.menu}
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {refusal && !asking && <Notice kind="trouble">{refusal.message}</Notice>}
      <Dialog.Root open={asking !== null} onOpenChange={open => !open && setAsking(null)}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-50 bg-[#0b131bb0]" />
          <Dialog.Content className="fixed inset-x-4 top-[15vh] z-50 mx-auto max-w-lg border-2 border-ink bg-sheet p-6">
            <Dialog.Title className="text-xl">{asking && TITLES[asking](lane.studentName)}</Dialog.Title>
            <Dialog.Description className="mt-2 text-soft">{asking && WHAT[asking]}</Dialog.Description>
            <form
              className="mt-4 grid gap-4"
              onSubmit={event => {
                event.preventDefault();
                if (asking === 'setAside') void make('setAside', { reason });
                else if (asking && meant && meant.kind !== 'skipped')
                  void make(asking, {
                    until: new Date(meant.atMs).toISOString(),
                    ...(asking === 'askAgain' && { reason, itemIds: [...itemIds] }),
                  });
              }}
            >
              {asking !== 'another' && (
                <Field
                  label={asking === 'askAgain' ? 'What to do differently' : 'Why'}
                  error={refusal?.fields?.reason ?? null}
                >
                  {ties => (
                    <textarea
                      {...ties}
                      rows={3}
                      dir="auto"
                      ref={field}
                      autoFocus
                      maxLength={LIMITS.reason}
                      value={reason}
                      onChange={e => setReason(e.target.value)}
                      className={inputClass}
                    />
                  )}
                </Field>
              )}
              {asking !== 'setAside' && (
                <Field
                  label="Again until"
                  error={
                    refusal?.fields?.until ??
                    (meant?.kind === 'skipped'
                      ? 'The clocks go forward past this time. Choose another.'
                      : null)
                  }
                >
                  {ties => (
                    <input
                      {...ties}
                      type="datetime-local"
                      value={until}
                      onChange={e => setUntil(e.target.value)}
                      className={`${inputClass} tabular`}
                    />
                  )}
                </Field>
              )}
              {asking === 'askAgain' && answered.length > 1 && (
                <fieldset className="grid gap-1">
                  <legend className="font-semibold">To be recorded again</legend>
                  <div className="max-h-40 overflow-y-auto">
                    {answered.map(({ item, number }) => (
                      <Tick
                        key={item.id}
                        checked={itemIds.includes(item.id)}
                        onChange={on =>
                          setItemIds(on ? [...itemIds, item.id] : itemIds.filter(id => id !== item.id))
                        }
                      >
                        {number}. {shortPrompt(item)}
                      </Tick>
                    ))}
                  </div>
                  <p className="text-sm text-soft">
                    {itemIds.length === 0
                      ? 'Choose at least one item.'
                      : 'Other answers, and what you said of them, stand in the new sitting as they are.'}
                  </p>
                </fieldset>
              )}
              {refusal && !refusal.fields && <Notice kind="trouble">{refusal.message}</Notice>}
              <div className="flex flex-wrap justify-end gap-3">
                <Dialog.Close asChild>
                  <Button>Leave it as it is</Button>
                </Dialog.Close>
                <Button
                  look="main"
                  type="submit"
                  disabled={deciding.isLoading || (asking === 'askAgain' && itemIds.length === 0)}
                >
                  {asking && YES[asking]}
                </Button>
              </div>
            </form>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
