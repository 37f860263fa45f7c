import { ArrowRight, Minus, Plus, Send } from 'lucide-react';
import type { HandOverLine } from '@ecoute/contract/schoolSystem';
import { refusalOf } from '../../../base/api';
import { locale } from '../../../base/i18n';
import { Button } from '../../../parts/Button';
import { counted } from '../../../parts/counted';
import { Failed, Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { useHandOverDifferenceQuery, useHandOverMutation } from './endpoints';

function Line({ line }: { line: HandOverLine }) {
  const Icon = line.act === 'remove' ? Minus : line.before === '' ? Plus : ArrowRight;
  const word = line.act === 'remove' ? 'goes' : line.before === '' ? 'new' : 'changed';
  return (
    <li className="grid grid-cols-[6.5rem_minmax(0,1fr)_minmax(0,1fr)] items-baseline gap-x-4 bg-sheet px-4 py-1.5">
      <span className="flex items-center gap-1.5 text-sm">
        <Icon aria-hidden className="size-4" /> {word}
      </span>
      <span dir="auto" className="min-w-0">
        {line.what}
      </span>
      <span className="tabular min-w-0 text-end">
        {line.before && <span className="text-soft">{line.before}</span>}
        {line.before && line.now && ' → '}
        {line.now}
      </span>
    </li>
  );
}

const dayOf = (iso: string) =>
  new Intl.DateTimeFormat(locale(), { day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(iso),
  );

/** What the school's system would be sent now, line by line, before anything is sent. */
export function Difference({ classId, isUnderWay }: { classId: string; isUnderWay: boolean }) {
  const { currentData, error, isFetching, refetch } = useHandOverDifferenceQuery(classId, {
    refetchOnMountOrArgChange: true,
  });
  const [handOver, { error: notBegun, isLoading }] = useHandOverMutation();
  if (!currentData)
    return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={60} />;
  const { groups, total, left, digest } = currentData;
  const refusal = refusalOf(notBegun);
  const begin = async () => {
    const begun = await handOver({ classId, digest });
    // Begun or not: what was looked at is not what there is to look at any more.
    if (!begun.error || refusalOf(begun.error)?.code === 'stale') void refetch();
  };
  return (
    <div className="grid gap-3">
      {left.length > 0 && (
        <Notice>Not in the school’s class: {left.join(', ')}. Nothing of theirs is handed over.</Notice>
      )}
      {total === 0 && (
        <p>
          The school’s system has all there is: each score whose student has their feedback. What is marked
          and not given yet is not sent.
        </p>
      )}
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <p className="flex flex-wrap gap-3">
        {total > 0 && (
          <Button look="main" disabled={isLoading || isFetching || isUnderWay} onClick={() => void begin()}>
            <Send aria-hidden className="size-5" /> Hand over {counted(total, 'change')}
          </Button>
        )}
        <Button disabled={isFetching} onClick={() => void refetch()}>
          Look again
        </Button>
      </p>
      {groups.map(group => (
        <section key={group.id} aria-label={group.title}>
          <h3 dir="auto" className="font-semibold">
            {group.title}{' '}
            <span className="text-sm font-normal text-soft">
              {group.dueAt && `due ${dayOf(group.dueAt)} · `}
              {counted(group.lines.length, 'change')}
            </span>
          </h3>
          <ul className="mt-1 grid max-w-4xl gap-px bg-line">
            {group.lines.map(line => (
              <Line key={`${line.act} ${line.kind} ${line.what}`} line={line} />
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
