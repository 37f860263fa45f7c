import { blankStimulus } from '@ecoute/contract/blank';
import { t } from '../../base/i18n';
import { StimulusView } from '../../parts/stimuli/StimulusView';

/** The picture that goes with a contribution, to be looked at. */
export function BesidePicture({ id, title }: { id: string; title: string }) {
  return (
    <div className="max-w-60">
      <StimulusView
        stimulus={blankStimulus(id, 'picture', {
          recordingId: id,
          words: title || t('Picture beside it'),
        })}
      />
    </div>
  );
}
