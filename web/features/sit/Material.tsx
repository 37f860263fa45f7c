import { Check } from 'lucide-react';
import type { ReactNode } from 'react';
import { phaseAt } from '@ecoute/core/timing/itemRun';
import type { Item } from '@ecoute/contract/assessments';
import { serverNow } from '../../base/clock';
import { Button } from '../../parts/Button';
import { PromptVoice } from '../../parts/PromptWords';
import type { Frame } from './answers/frame';
import type { Account } from './useAccount';
import { t } from '../../base/i18n';

/** Material to read, hear or study; ticked when gone through. */
export function Material({
  item,
  account,
  frame,
}: {
  item: Item;
  account: Account;
  frame: Frame;
}): ReactNode {
  const { studied } = phaseAt(item, account.ofItem(item.id), serverNow());
  return frame({
    phase: 'material',
    says: t('What to do now'),
    busy: false,
    done: studied,
    position: 0,
    under: <PromptVoice item={item} text={t('Hear it')} />,
    answer: studied ? (
      <p className="flex items-center gap-2 text-lg">
        <Check aria-hidden className="size-6" /> {t('You have gone through this.')}
      </p>
    ) : null,
    bar: studied ? null : (
      <Button look="main" big className="flex-1 sm:flex-none" onClick={() => account.add('studied', item.id)}>
        <Check aria-hidden className="size-6" /> {t('I have gone through this')}
      </Button>
    ),
  });
}
