import { Mic } from 'lucide-react';
import type { ReactNode } from 'react';
import { leftOf } from '@ecoute/core/timing/itemRun';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { PromptVoice } from '../../../parts/PromptWords';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { useChooseTakeMutation } from '../endpoints';
import type { Frame, Veil } from './frame';
import { OtherWays } from './OtherWays';
import { TakeList } from '../takes/TakeList';
import { takesOf, used } from '../takes/takesOf';
import type { Account } from '../useAccount';
import { t } from '../../../base/i18n';

/** An item to be spoken where this device has no microphone: by the student's phone, or with a recording brought. */
export function AnswerWithoutMicrophone({
  sitting,
  item,
  account,
  frame,
  judging,
  onCheck,
  veil,
}: {
  sitting: SittingView;
  item: Item;
  account: Account;
  frame: Frame;
  judging: ReactNode;
  /** Back to the microphone check. */
  onCheck: () => void;
  veil: Veil | null;
}): ReactNode {
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const takes = takesOf(item.id, sitting, deliveries);
  const left = leftOf(item.takesAllowed, used(takes).used);
  // A prompt that may be heard so often only is heard where the answer is recorded.
  const hearsHere = item.hearingsAllowed === 0;
  return frame({
    phase: 'withoutMicrophone',
    says: t('No microphone is open on this device.'),
    busy: false,
    done: takes.some(take => take.stands),
    position: 0,
    under: hearsHere ? <PromptVoice item={item} text={t('Hear the prompt')} /> : undefined,
    bar: veil && (
      <Button className="min-h-14" disabled={veil.isShowing} onClick={veil.show}>
        {t('See what is asked')}
      </Button>
    ),
    answer: (
      <>
        {veil?.trouble && <Notice kind="trouble">{t(veil.trouble.message)}</Notice>}
        <p className="text-lg">{t('No microphone is open on this device.')}</p>
        <TakeList
          takes={takes}
          shortestMs={item.shortestAnswerMs}
          sittingId={sitting.id}
          onChoose={id => void choose({ sittingId: sitting.id, takeId: id })}
        />
        {takes.length > 0 && judging}
        {left > 0 && (
          <>
            <Button look={takes.length === 0 ? 'main' : 'plain'} onClick={onCheck}>
              <Mic aria-hidden className="size-5" /> {t('Check the microphone here')}
            </Button>
            <OtherWays sitting={sitting} item={item} account={account} />
          </>
        )}
      </>
    ),
  });
}
