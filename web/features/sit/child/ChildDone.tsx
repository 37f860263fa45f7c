import { House, Star } from 'lucide-react';
import { useEffect } from 'react';
import type { SittingView } from '@ecoute/contract/sittings';
import { t } from '../../../base/i18n';
import { handInDesk } from '../handIn/handInDesk';
import { ChildFrame, Shape } from './ChildFrame';
import { useVoice } from './useVoice';

/** It is with the teacher. */
export function ChildDone({ sitting, onLeave }: { sitting: SittingView; onLeave: () => void }) {
  useEffect(() => handInDesk.seen(), []);
  const voice = useVoice([{ word: 'done' }], 'done', sitting.content);
  return (
    <ChildFrame
      label={t('Handed in. What you answered is with your teacher.')}
      voice={voice}
      onLeave={onLeave}
      actions={<Shape icon={House} kind="go" label={t('To the first page')} onPress={onLeave} />}
    >
      <Star aria-hidden className="size-48 fill-saffron text-saffron-ink low:size-32" />
      <p dir="auto" className="mt-4 max-w-2xl text-center">
        {sitting.content.closingWords}
      </p>
    </ChildFrame>
  );
}
