import { ArrowRight, Coffee } from 'lucide-react';
import { useCallback, useEffect, useState } from 'react';
import { stripOf } from '@ecoute/core/timing/strip';
import type { SittingView } from '@ecoute/contract/sittings';
import { Button } from '../../parts/Button';
import { lengthWords } from '../../parts/lengthWords';
import type { Microphone } from '../../parts/recorder/microphone';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { Strip } from '../../parts/strip/Strip';
import { answeredIds } from './answered';
import { ItemStage } from './ItemStage';
import type { Account } from './useAccount';
import { t } from '../../base/i18n';

/** All items on one page, in their order. While one of them runs, the others wait: only one can record at a time. */
export function AllItems({
  sitting,
  account,
  microphone,
  first,
  onReview,
  onCheck,
  onBreak,
  upAtMs,
}: {
  sitting: SittingView;
  /** Which item to begin with. */
  first: number;
  account: Account;
  microphone: Microphone | null;
  onReview: () => void;
  onCheck: () => void;
  onBreak: (() => void) | null;
  /** When the time of the whole sitting is up; null where it has no limit. */
  upAtMs: number | null;
}) {
  const { items } = sitting.content;
  const deliveries = useDeliveries();
  const [running, setRunning] = useState<string | null>(null);
  const busy = useCallback(
    (id: string, on: boolean) => setRunning(now => (on ? id : now === id ? null : now)),
    [],
  );
  const answered = answeredIds(sitting, deliveries, account);
  const show = (id: string) => document.getElementById(`item-${id}`)?.scrollIntoView({ block: 'start' });
  useEffect(() => {
    if (first > 0) show(items[first]!.id);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the page comes up
  }, []);
  return (
    <div className="grid grid-cols-1 gap-5">
      <Strip
        items={items}
        current={running ?? undefined}
        answered={answered}
        onChoose={running ? undefined : show}
        label={t('Where you are')}
      />
      {items.map((item, index) => (
        <div
          key={item.id}
          id={`item-${item.id}`}
          inert={running !== null && running !== item.id}
          className="scroll-mt-4 transition-opacity inert:opacity-50"
        >
          <ItemStage
            sitting={sitting}
            index={index}
            account={account}
            microphone={microphone}
            onMove={to => show(items[to]!.id)}
            onReview={onReview}
            onCheck={onCheck}
            onBreak={null}
            onBusy={busy}
            upAtMs={upAtMs}
          />
        </div>
      ))}
      <div className="flex flex-wrap justify-end gap-3">
        {onBreak && (
          <Button disabled={running !== null} onClick={onBreak}>
            <Coffee aria-hidden className="size-5" /> {t('Take a break')}
          </Button>
        )}
        <Button
          look={items.every(i => answered.has(i.id)) ? 'main' : 'plain'}
          disabled={running !== null}
          onClick={onReview}
        >
          {t('To the hand-in')} <ArrowRight aria-hidden className="size-5 rtl:-scale-x-100" />
        </Button>
      </div>
      <p className="text-sm text-soft">
        {t('The whole sitting lasts {{length}}. You can leave between items; what is recorded stays.', {
          length: lengthWords(stripOf(items).lengthMs),
        })}
      </p>
    </div>
  );
}
