import { ArrowRight, TabletSmartphone } from 'lucide-react';
import { useNavigate } from 'react-router';
import type { SittingView } from '@ecoute/contract/sittings';
import { t } from '../../../base/i18n';
import { ChildFrame, Shape } from './ChildFrame';
import { useVoice } from './useVoice';

/** This sitting is open somewhere else: the arrow goes on here. */
export default function ChildElsewhere({
  sitting,
  onTakeOver,
}: {
  sitting: SittingView;
  onTakeOver: () => void;
}) {
  const navigate = useNavigate();
  const voice = useVoice([{ word: 'elsewhere' }], 'elsewhere', sitting.content);
  return (
    <ChildFrame
      label={t('This sitting is open elsewhere')}
      voice={voice}
      onLeave={() => void navigate('/')}
      actions={
        <Shape
          icon={ArrowRight}
          kind="go"
          calls={!voice.isSpeaking}
          label={t('Go on here')}
          onPress={() => {
            voice.stop();
            onTakeOver();
          }}
        />
      }
    >
      <TabletSmartphone aria-hidden className="size-40 text-soft" />
    </ChildFrame>
  );
}
