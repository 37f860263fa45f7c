import { isRun } from '@ecoute/core/timing/strip';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import type { Account } from '../useAccount';
import { BringFile } from './BringFile';
import { lazyPart } from '../../../parts/lazyPart';

const OnMyPhone = lazyPart(() => import('./OnMyPhone'));

/** Ways to an answer other than this device's microphone. */
export function OtherWays({
  sitting,
  item,
  account,
}: {
  sitting: SittingView;
  item: Item;
  account: Account;
}) {
  const brings = sitting.content.mayBring && item.answerBy === 'audio' && !isRun(item);
  return (
    <div className="flex flex-wrap gap-3 border-t border-line pt-4">
      <OnMyPhone
        sittingId={sitting.id}
        itemId={item.id}
        phoneAt={account.phoneAt}
        numberOf={id => 1 + sitting.content.items.findIndex(i => i.id === id)}
      />
      {brings && <BringFile sittingId={sitting.id} item={item} />}
    </div>
  );
}
