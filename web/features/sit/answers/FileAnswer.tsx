import { FileUp } from 'lucide-react';
import { useRef, type ReactNode } from 'react';
import { leftOf } from '@ecoute/core/timing/itemRun';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { PromptVoice } from '../../../parts/PromptWords';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { useChooseTakeMutation } from '../endpoints';
import type { Frame } from './frame';
import { useRehearsal } from '../rehearsal/rehearsal';
import { TakeList } from '../takes/TakeList';
import { takesOf, used } from '../takes/takesOf';
import { useBringFile } from './useBringFile';
import { t } from '../../../base/i18n';

/** An answer that is a file: chosen, sent with its progress, seen or heard here, chosen again while allowed. */
export function FileAnswer({
  sitting,
  item,
  frame,
  judging,
}: {
  sitting: SittingView;
  item: Item;
  frame: Frame;
  judging: ReactNode;
}): ReactNode {
  const rehearsal = useRehearsal();
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const { bring, trouble } = useBringFile(sitting.id, item, 'recorded');
  const file = useRef<HTMLInputElement>(null);
  const takes = takesOf(item.id, sitting, deliveries);
  const left = leftOf(item.takesAllowed, used(takes).used);
  return frame({
    phase: 'file',
    says: t('What to do now'),
    busy: false,
    done: takes.length > 0,
    position: 0,
    under: <PromptVoice item={item} text={t('Hear the prompt')} />,
    answer: (
      <>
        {trouble && <Notice kind="trouble">{trouble}</Notice>}
        <TakeList
          takes={takes}
          onChoose={rehearsal ? undefined : id => void choose({ sittingId: sitting.id, takeId: id })}
        />
        {takes.length > 0 && judging}
        {left > 0 && (
          <Button
            look={takes.length === 0 ? 'main' : 'plain'}
            big={takes.length === 0}
            onClick={() => file.current?.click()}
          >
            <FileUp aria-hidden className="size-6" />{' '}
            {takes.length === 0 ? t('Choose a file') : t('Another file instead')}
          </Button>
        )}
        {takes.length === 0 && (
          <p className="text-sm text-soft">
            {t('A sound, a film, a picture, a PDF or any other file, up to 200 MB.')}
          </p>
        )}
        <input
          ref={file}
          type="file"
          aria-hidden
          aria-label={t('File to hand in')}
          className="sr-only"
          tabIndex={-1}
          onChange={e => {
            const chosen = e.target.files?.[0];
            if (chosen) void bring(chosen);
            e.target.value = '';
          }}
        />
      </>
    ),
  });
}
