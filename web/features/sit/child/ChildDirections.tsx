import { ArrowRight } from 'lucide-react';
import type { SittingView } from '@ecoute/contract/sittings';
import { t } from '../../../base/i18n';
import { ChildFrame, Shape } from './ChildFrame';
import { Pictures } from './Pictures';
import { useVoice } from './useVoice';
import type { Says } from './voice';

/** What the teacher says of the whole, then the arrow. */
export function ChildDirections({
  sitting,
  trouble,
  onBegin,
  onLeave,
}: {
  sitting: SittingView;
  /** Why the items could not be had. */
  trouble: string | null;
  onBegin: () => void;
  onLeave: () => void;
}) {
  const { content } = sitting;
  const says: Says[] = [
    ...(content.directionsVoice
      ? [{ recordingId: content.directionsVoice.recordingId }]
      : content.directions
        ? [{ text: content.directions, url: `/api/sittings/${sitting.id}/spoken` }]
        : []),
    trouble ? { word: 'help' } : { word: 'begin' },
  ];
  const voice = useVoice(says, `directions ${trouble ?? ''}`, content);
  return (
    <ChildFrame
      label={sitting.title}
      voice={voice}
      onLeave={onLeave}
      actions={
        <Shape
          icon={ArrowRight}
          kind="go"
          label={t('Begin')}
          calls={!voice.isSpeaking}
          onPress={() => {
            voice.stop();
            onBegin();
          }}
        />
      }
    >
      <Pictures stimuli={content.stimuli} />
      <p dir="auto" className="mt-4 line-clamp-4 max-w-2xl text-center text-soft">
        {trouble ?? content.directions}
      </p>
    </ChildFrame>
  );
}
