import { useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Receipt, SittingView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../app/api';
import { Button, ButtonLink } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Notice } from '../../parts/Notice';
import { StateWord } from '../../parts/StateWord';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { Strip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { useHandInMutation } from './endpoints';
import { counting, takesOf } from './takesOf';

/** Each item's state before handing in; asks once when something is missing. */
export function HandInStage({ sitting, onBack }: { sitting: SittingView; onBack: (index: number) => void }) {
  const deliveries = useDeliveries();
  const [handIn, { error, isLoading }] = useHandInMutation();
  const [asking, setAsking] = useState(false);
  const lines = sitting.content.items.map(item => {
    const takes = takesOf(item.id, sitting, deliveries);
    return {
      item,
      take: counting(takes),
      onItsWay: takes.some(t => t.status === 'onItsWay' || t.status === 'checking'),
    };
  });
  const onItsWay = lines.filter(l => l.onItsWay).length;
  const gaps = lines.filter(l => !l.take && !l.onItsWay).length;
  const refusal = refusalOf(error);
  const go = (withGaps: boolean) => void handIn({ sittingId: sitting.id, withGaps });
  return (
    <section className="mx-auto grid w-full grid-cols-1 max-w-2xl gap-5">
      <h2 className="text-2xl">Ready to hand in?</h2>
      <ol className="grid grid-cols-1 gap-px bg-line">
        {lines.map(({ item, take, onItsWay: coming }, i) => (
          <li
            key={item.id}
            className="flex min-h-16 flex-wrap items-center gap-x-4 gap-y-1 bg-sheet px-4 py-2"
          >
            <span className="text-lg font-semibold">{i + 1}</span>
            <span className="min-w-0 flex-1 basis-40 truncate font-passage">
              {item.promptText || 'Spoken prompt'}
            </span>
            <span>
              {coming ? (
                'on its way …'
              ) : take ? (
                <>
                  answered, <span className="tabular">{clock(take.durationMs ?? 0)}</span>
                </>
              ) : (
                <strong>no answer yet</strong>
              )}
            </span>
            <Button look="quiet" onClick={() => onBack(i)}>
              {take ? 'Look at it' : 'Answer it'}
            </Button>
          </li>
        ))}
      </ol>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      {onItsWay > 0 && <Notice>Your recordings are still on their way. Handing in waits for them.</Notice>}
      <Button
        look="main"
        big
        disabled={isLoading || onItsWay > 0}
        onClick={() => (gaps > 0 ? setAsking(true) : go(false))}
      >
        Hand in
      </Button>
      <Confirm
        open={asking}
        onClose={() => setAsking(false)}
        title={gaps === 1 ? 'One item has no answer' : `${gaps} items have no answer`}
        yes="Hand in as it is"
        no="Go back and answer"
        onYes={() => go(true)}
      >
        <p>After handing in you cannot record any more.</p>
      </Confirm>
    </section>
  );
}

/** What was handed in, with the server's checksums: proof that it arrived as it was recorded. */
export function ReceiptStage({ sitting, receipt }: { sitting: SittingView; receipt: Receipt }) {
  const answered = new Set(receipt.lines.filter(l => l.takeId).map(l => l.itemId));
  return (
    <section className="mx-auto grid w-full grid-cols-1 max-w-2xl gap-5 bg-sheet p-5 sm:p-8">
      <div>
        <h2 className="text-2xl">Handed in. Everything is with your teacher.</h2>
        <p className="mt-2">
          {when(receipt.handedInAt)} <StateWord state={sitting.state} late={receipt.late} />
        </p>
      </div>
      <Strip items={sitting.content.items} answered={answered} label="What you answered" />
      <ol className="divide-y divide-line">
        {receipt.lines.map((line, i) => (
          <li key={line.itemId} className="flex flex-wrap items-baseline gap-x-4 py-2">
            <span className="font-semibold">Item {i + 1}</span>
            {line.takeId ? (
              <>
                <span className="tabular">{clock(line.durationMs ?? 0)}</span>
                <span className="text-sm text-soft">{Math.round((line.sizeBytes ?? 0) / 1024)} kB</span>
                <span className="tabular ml-auto text-sm text-soft" title={`SHA-256 ${line.sha256}`}>
                  checksum {line.sha256?.slice(0, 12)}
                </span>
              </>
            ) : (
              <span className="text-soft">no answer</span>
            )}
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-3">
        {sitting.state === 'returned' ? (
          <ButtonLink look="main" to={`/returned/${sitting.id}`}>
            Hear the feedback
          </ButtonLink>
        ) : (
          <ButtonLink look="main" to="/">
            Back to To do
          </ButtonLink>
        )}
        <ButtonLink to="/recordings">My recordings</ButtonLink>
      </div>
    </section>
  );
}
