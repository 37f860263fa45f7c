import { ChevronDown } from 'lucide-react';
import { Collapsible, Switch } from 'radix-ui';
import { useMemo } from 'react';
import { contributeByMs } from '@ecoute/core/discussions/talk';
import type { DiscussionPlan } from '@ecoute/contract/assessments';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Segments } from '../../parts/Segments';
import { Tick } from '../../parts/Tick';
import { when } from '../../parts/when';
import { serverNow } from '../../base/clock';
import { browserZone, usualDueTimes, type MeantTerms, type TermsDraft } from './terms';

const SITTINGS = [1, 2, 3, 5, 0];

/** When and how a release takes place; what is seldom changed is folded. */
export function TermsFields({
  draft,
  meant,
  problem,
  isNew,
  talk = null,
  onChange,
}: {
  draft: TermsDraft;
  meant: MeantTerms;
  /** What the server says of a field. */
  problem: (name: string) => string | undefined;
  isNew: boolean;
  /** What is asked in it, where it is a discussion. */
  talk?: DiscussionPlan | null;
  onChange: (change: Partial<TermsDraft>) => void;
}) {
  const times = useMemo(() => usualDueTimes(serverNow(), browserZone()), []);
  return (
    <>
      <div>
        <p className="mb-1 text-sm font-semibold">Opens</p>
        <Segments
          label="Opens"
          value={draft.opens}
          options={[
            ...(isNew ? [{ value: 'now' as const, name: 'now' }] : []),
            { value: 'at', name: 'at a time' },
            { value: 'byHand', name: 'when I show it' },
          ]}
          onChange={opens => onChange({ opens })}
        />
        {draft.opens === 'at' && (
          <Field
            label={<span className="sr-only">Opens at</span>}
            error={meant.fields.opensAt ?? problem('opensAt')}
            className="mt-2"
          >
            {ties => (
              <input
                {...ties}
                type="datetime-local"
                className={`${inputClass} tabular max-w-72`}
                value={draft.opensWall}
                onChange={e => onChange({ opensWall: e.target.value })}
              />
            )}
          </Field>
        )}
        <p className="mt-1 text-sm text-soft">Before that it is invisible to students.</p>
      </div>
      <div>
        <Field
          label={talk ? 'Replies are due' : 'Due'}
          error={meant.fields.dueAt ?? problem('dueAt')}
          hint={meant.remark ?? (talk && contributionsWords(talk, meant)) ?? undefined}
        >
          {ties => (
            <input
              {...ties}
              type="datetime-local"
              className={`${inputClass} tabular max-w-72`}
              value={draft.dueWall}
              onChange={e => onChange({ dueWall: e.target.value })}
            />
          )}
        </Field>
        <div className="mt-2 flex flex-wrap gap-2">
          {times.map(([name, wall]) => (
            <Button
              key={name}
              aria-pressed={draft.dueWall === wall}
              className="aria-pressed:border-ink aria-pressed:bg-petrol-wash"
              onClick={() => onChange({ dueWall: wall })}
            >
              {name}
            </Button>
          ))}
        </div>
      </div>
      <label className="flex items-center gap-3">
        <Switch.Root
          checked={draft.lateAccepted}
          onCheckedChange={lateAccepted => onChange({ lateAccepted })}
          className="relative h-7 w-12 shrink-0 rounded-[3px] border-2 border-ink bg-sunk data-[state=checked]:bg-ink"
        >
          <Switch.Thumb className="block size-5 translate-x-0.5 rounded-[2px] bg-ink data-[state=checked]:translate-x-5 data-[state=checked]:bg-sheet" />
        </Switch.Root>
        {draft.lateAccepted ? 'Late work is taken, and flagged' : 'Nothing is taken after the due time'}
      </label>
      <Field label="A line for the class (optional)" error={problem('note')}>
        {ties => (
          <input
            {...ties}
            className={inputClass}
            value={draft.note}
            placeholder="D major, two octaves"
            onChange={e => onChange({ note: e.target.value })}
          />
        )}
      </Field>
      <TermsMore
        draft={draft}
        closesError={meant.fields.closesAt ?? problem('closesAt')}
        sittingsError={problem('sittingsAllowed')}
        isOpen={!isNew}
        isTalk={talk !== null}
        hasClosing
        onChange={onChange}
      />
    </>
  );
}

/** When contributions are due, under the time that replies are due at; null while that is no time. */
function contributionsWords(talk: DiscussionPlan, { terms }: MeantTerms): string | null {
  if (!terms || talk.contributeDaysBefore === 0) return null;
  const byMs = contributeByMs(Date.parse(terms.dueAt), talk.contributeDaysBefore);
  const opensMs = terms.opensAt ? Date.parse(terms.opensAt) : serverNow();
  return byMs <= opensMs
    ? 'Contributions would be due before it opens: choose a later time, or fewer days in the discussion.'
    : `Contributions are due ${when(new Date(byMs).toISOString())}.`;
}

export type MoreTerms = Pick<
  TermsDraft,
  'sittingsAllowed' | 'lateAccepted' | 'closesWall' | 'heardBy' | 'scoresHeld' | 'notify'
>;

/** What is seldom changed of how a release takes place, folded. */
export function TermsMore({
  draft,
  closesError,
  sittingsError,
  isOpen,
  isTalk,
  hasClosing,
  onChange,
}: {
  draft: MoreTerms;
  closesError?: string | undefined;
  sittingsError?: string | undefined;
  /** It opens by itself where something of it is unusual. */
  isOpen: boolean;
  /** People talk with each other in it: it is not sat, and they hear each other. */
  isTalk: boolean;
  /** One closing time can be given; a series has none. */
  hasClosing: boolean;
  onChange: (change: Partial<MoreTerms>) => void;
}) {
  const said = [
    !isTalk &&
      draft.sittingsAllowed !== 1 &&
      (draft.sittingsAllowed === 0 ? 'any number of sittings' : `${draft.sittingsAllowed} sittings`),
    draft.closesWall && draft.lateAccepted && 'a closing time',
    !isTalk && draft.heardBy === 'class' && 'classmates may listen',
    draft.scoresHeld && 'scores held',
    draft.notify && 'told by mail',
  ].filter(Boolean);
  return (
    <Collapsible.Root defaultOpen={isOpen && said.length > 0} className="border-t border-line">
      <Collapsible.Trigger className="group flex min-h-11 w-full flex-wrap items-center gap-x-2 text-start font-semibold">
        <ChevronDown aria-hidden className="size-5 group-data-[state=closed]:-rotate-90" />
        {isTalk ? 'Scores, closing, mail' : 'Sittings, scores, listening'}
        <span className="font-normal text-soft">
          {said.length > 0
            ? said.join(', ')
            : isTalk
              ? 'scores with the feedback'
              : 'one sitting, nobody else listens'}
        </span>
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-5 pt-2">
        {!isTalk && (
          <Field label="Sittings" hint="The last one handed in counts." error={sittingsError}>
            {ties => (
              <select
                {...ties}
                className={`${inputClass} max-w-72`}
                value={draft.sittingsAllowed}
                onChange={e => onChange({ sittingsAllowed: Number(e.target.value) })}
              >
                {[...new Set([...SITTINGS, draft.sittingsAllowed])].map(n => (
                  <option key={n} value={n}>
                    {n === 0 ? 'any number' : n}
                  </option>
                ))}
              </select>
            )}
          </Field>
        )}
        {hasClosing && draft.lateAccepted && (
          <Field label="Closes for late work" hint="Empty: it never closes." error={closesError}>
            {ties => (
              <input
                {...ties}
                type="datetime-local"
                className={`${inputClass} tabular max-w-72`}
                value={draft.closesWall}
                onChange={e => onChange({ closesWall: e.target.value })}
              />
            )}
          </Field>
        )}
        {!isTalk && (
          <Segments
            label="Who else may listen"
            value={draft.heardBy}
            options={[
              { value: 'nobody', name: 'nobody else listens' },
              { value: 'class', name: 'classmates, once they have handed in' },
            ]}
            onChange={heardBy => onChange({ heardBy })}
          />
        )}
        <Segments
          label="Scores"
          value={draft.scoresHeld ? 'held' : 'given'}
          options={[
            { value: 'given', name: 'scores with the feedback' },
            { value: 'held', name: 'held until I show them' },
          ]}
          onChange={held => onChange({ scoresHeld: held === 'held' })}
        />
        <Tick checked={draft.notify} onChange={notify => onChange({ notify })}>
          Tell the students by mail when it opens
        </Tick>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
