import type { ReactNode } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { t } from '../../../base/i18n';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { TakeList } from '../takes/TakeList';
import { takesOf } from '../takes/takesOf';
import type { Frame } from './frame';

/** An item that is not to be recorded again: its answer is there to be heard, and nothing of it changes. */
export function StandsAsItWas({
  sitting,
  item,
  frame,
}: {
  sitting: SittingView;
  item: Item;
  frame: Frame;
}): ReactNode {
  const takes = takesOf(item.id, sitting, useDeliveries());
  const written = sitting.written.find(w => w.itemId === item.id);
  return frame({
    phase: 'stands',
    says: t('This answer stands as it was.'),
    busy: false,
    done: true,
    position: 0,
    under: null,
    answer: (
      <>
        <p className="border-s-4 border-petrol bg-petrol-wash p-4">
          {t('This answer stands as it was. Your teacher asked for other items to be recorded again.')}
        </p>
        <TakeList takes={takes} />
        {written && <p className="font-passage whitespace-pre-wrap">{written.text}</p>}
      </>
    ),
  });
}
